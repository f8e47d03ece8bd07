import { expect, test } from './nolvi'

test('what was proved is kept: its story plays from the log, and an edit that takes its part away is told', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/proof`)
  await page.getByRole('button', { name: 'P1 of Rinse pump' }).click()
  await page.getByRole('complementary').getByRole('button', { name: 'Prove Rinse pump' }).click()
  await expect(page.getByRole('button', { name: 'P1 of Rinse pump: broken' })).toBeVisible({
    timeout: 180_000,
  })
  await expect
    .poll(
      async () =>
        ((await (await page.request.get(`/api/designs/${copy}/records`)).json()) as unknown[])
          .length,
    )
    .toBe(1)
  await page.keyboard.press('g')
  await page.getByRole('button', { name: 'promises of Rinse pump' }).click()
  const ticket = page.getByRole('complementary')
  await expect(ticket).toContainText('P1 · Rinse pump')
  await ticket.getByRole('button', { name: 'Play on bench' }).first().click()
  await expect(page).toHaveURL(/\/bench$/)
  await expect(page.getByText(/Playing: .*Rinse pump/)).toBeVisible()

  await page.keyboard.press('s')
  await page.getByRole('button', { name: 'Move or remove Apron phone' }).click()
  await page.getByRole('menuitem', { name: 'Remove Apron phone' }).click()
  await expect(page.getByRole('button', { name: 'Move or remove Apron phone' })).toBeHidden()
  await page.keyboard.press('g')
  await page.getByRole('button', { name: 'promises of Rinse pump' }).click()
  await ticket.getByRole('button', { name: 'Play on bench' }).first().click()
  await expect(ticket.getByRole('alert')).toContainText(
    'cannot be played on the design as it is now: no surface "apron-phone"',
  )
  await expect(page).toHaveURL(/\/log$/)
})

test('changes are listed in words, by keyboard; an earlier revision opens beside the one of now', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/messages`)
  await page.getByLabel('Rinse pump off').fill('2')
  await page.getByLabel('Rinse pump off').press('Enter')
  await page.getByLabel('Rinse pump off').blur()
  await page.keyboard.press('g')
  const change = page.getByRole('button', {
    name: 'Rinse pump off on Apron phone link: 10 becomes 2',
  })
  await change.focus()
  await page.keyboard.press('ArrowDown')
  const ticket = page.getByRole('complementary')
  await expect(ticket).toContainText('Revision 1,')
  await ticket.getByRole('button', { name: 'Open as a design of its own' }).click()
  await expect(page.getByRole('heading', { name: 'Glaze room (revision 1)' })).toBeVisible()
  expect(page.url()).not.toContain(`/d/${copy}/`)
  await page.keyboard.press('m')
  await expect(page.getByLabel('Rinse pump off')).toHaveValue('10')
  await page.keyboard.press('g')
  await page.getByText('Drills', { exact: true }).click()
  await expect(page.getByText('No drills run yet')).toBeVisible()
})
