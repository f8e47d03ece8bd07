import { expect, stored, test } from './nolvi'

test('codes are changed where they stand; a clash is told at once and goes when it is mended', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/messages`)
  await expect(page.getByText('"1" is the start of "10"')).toBeVisible()
  const off = page.getByLabel('Rinse pump off')
  await off.fill('2')
  await off.press('Enter')
  await expect(page.getByText('"1" is the start of')).toHaveCount(0)
  const lights = page.getByLabel('Wheel lights on')
  await lights.fill('E')
  await lights.press('Enter')
  await expect(page.getByText('"E" says both Booth extractor on and Wheel lights on').first()).toBeVisible()
  await page.getByRole('button', { name: 'undo' }).click()
  await expect(page.getByText('says both')).toHaveCount(0)
  expect((await stored(page, copy)).links[0]?.messages[3]).toMatchObject({ codes: { on: '1', off: '2' } })
})

test('a code that cannot be is put back, with the reason', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/messages`)
  const on = page.getByLabel('Wheel lights on')
  await on.fill('a b')
  await on.press('Enter')
  await expect(page.getByRole('alert').filter({ hasText: 'Not done' })).toContainText('visible ASCII')
  await expect(on).toHaveValue('L')
})

test('all codes are assigned at once, in either school', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/messages`)
  for (const [school, expected] of [[/digit/i, '1 2 3 4 5 6 7 8'], [/letter/i, 'B b W w D d R r']] as const) {
    await page.getByRole('button', { name: 'Assign all codes' }).click()
    await page.getByRole('menuitem', { name: school }).click()
    await expect.poll(async () => (await page.locator('input.code').evaluateAll(list => list.map(i => (i as HTMLInputElement).value))).join(' ')).toBe(expected)
  }
})

test('the try-box decodes bytes and routes and tells what the board does', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/messages`)
  const box = page.getByRole('complementary', { name: 'Try it' })
  await box.getByLabel('What arrives at the board').fill('e10')
  await expect(box.locator('.bytes tr')).toHaveText([/e\s*65\s*"e" = Booth extractor off/, /1\s*31\s*"1" = Rinse pump on/, /0\s*30\s*"0" is no code/])
  await expect(box).toContainText('Rinse pump switches on: pin 8 goes low')
  await box.getByText('Booth extractor', { exact: true }).first().click()
  await expect(box).toContainText('Booth extractor switches off: pin 5 goes high')
  await page.getByRole('radiogroup', { name: 'Link' }).getByText('Office browser').click()
  await box.getByLabel('What arrives at the board').fill('/Lights/on')
  await expect(box).toContainText('differs in letter case')
  await expect(box).toContainText('status 404')
  await box.getByLabel('What arrives at the board').fill('/lights/on')
  await expect(box).toContainText('wheel-lights=1')
})

test('reports and connect are ticked here, and the sheet follows', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/messages`)
  await page.getByText('Whole state on connect').click()
  await page.locator('tr', { hasText: 'Booth extractor' }).locator('label.el-checkbox').nth(1).click()
  await page.keyboard.press('Escape')
  expect((await stored(page, copy)).links[0]).toMatchObject({ onConnect: true, messages: [{ loadId: 'booth-extractor', change: true }, {}, {}, {}] })
  await page.getByRole('link', { name: 'Sheet' }).click()
  await expect(page.locator('[data-at="0,1"]')).toContainText('on change, answer, on connect')
  await expect(page.locator('[data-at="0,1"]').getByRole('img', { name: /in step/i })).toBeVisible()
})
