import { expect, test } from './nolvi'

test('proves in a worker with counts, tells the shortest story, and a fix turns the verdict', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/proof`)
  const row = page.locator('.proof tbody tr', { hasText: 'Wheel lights' })
  await row.getByRole('button', { name: 'Prove' }).click()
  await expect(row).toContainText('broken', { timeout: 60_000 })
  expect(Number((await row.locator('td.number').first().innerText()).replaceAll(',', ''))).toBeGreaterThan(10_000)
  const ticket = page.getByRole('complementary')
  await expect(ticket).toContainText('Apron phone shows on, Wheel lights is off.')
  await expect(ticket).toContainText('Replayed on the bench: it ends the same way.')
  await ticket.getByRole('button', { name: 'Report on connect', exact: true }).click()
  await expect(row).toContainText('holds', { timeout: 60_000 })
  await expect(ticket).toContainText('situations examined')
})

test('a long search shows its count, can be stopped, and keeps what it had', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/proof`)
  for (const words of ['changes from elsewhere', 'presses on the panel']) {
    await page.getByLabel(words).fill('8')
    await page.getByLabel(words).press('Enter')
  }
  await page.getByRole('button', { name: 'Prove all loads' }).click()
  await expect(page.getByRole('status').filter({ hasText: 'situations so far' })).toBeVisible()
  await page.getByRole('button', { name: 'Stop', exact: true }).click()
  await expect(page.getByRole('button', { name: 'Prove all loads' })).toBeVisible()
})

test('an edit marks the verdict as one from before', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/proof`)
  const row = page.locator('.proof tbody tr', { hasText: 'Rinse pump' })
  await row.getByRole('button', { name: 'Prove' }).click()
  await expect(row).toContainText('broken', { timeout: 60_000 })
  await page.keyboard.press('m')
  await page.getByLabel('Rinse pump off').fill('2')
  await page.getByLabel('Rinse pump off').press('Enter')
  await page.getByRole('link', { name: 'Proof' }).click()
  await expect(row).toContainText('before the last edit')
})
