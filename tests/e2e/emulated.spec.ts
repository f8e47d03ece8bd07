/** The emulated board beside the bench: machine code of the ready-made program, in the browser. */
import { glazeRoom } from '../fixtures/designs'
import { expect, test } from './nolvi'

test('from the shelf to a running board in three presses, and it does what is pressed', async ({
  page,
  put,
}) => {
  // One of its own: what others repair in the demo begins the run anew, and forgets a press.
  await put({ ...glazeRoom(), name: 'Machine room' })
  await page.goto('/')
  await page.getByRole('link', { name: 'Machine room', exact: true }).first().click()
  await page.waitForURL('**/sheet')
  await page.locator('nav').getByRole('link', { name: 'Bench' }).click()
  await page.getByRole('button', { name: 'emulated board', exact: true }).click()
  const side = page.locator('#bench-side')
  await expect(side).toContainText('None so far.')
  await expect(side).toContainText('times as fast as a board')
  const column = page.locator('.head', { hasText: 'machine code' })
  await expect(column).toContainText('off')
  await page.locator('.keys .key').first().click()
  await expect(column).toContainText('on')
  await page.getByRole('button', { name: 'cut power' }).click()
  await expect(column).toContainText('no power')
  await page.getByRole('button', { name: 'cut power' }).click()
  await expect(column).toContainText('off')
  await expect(side).toContainText('None so far.')
  await side.getByRole('button', { name: 'Take it away' }).click()
  await expect(column).toHaveCount(0)
})

test('a story of the proof is seen on machine code', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/proof`)
  await page.getByRole('button', { name: 'Prove all loads' }).click()
  const ticket = page.locator('aside.ticket')
  await ticket.getByRole('button', { name: 'and on the emulated board' }).first().click()
  const side = page.locator('#bench-side')
  await expect(side).toContainText('None so far.')
  await expect(side.getByText('What it said last')).toBeVisible()
  await expect(side.locator('ol li').first()).toBeVisible()
})

test('a design without a program says so', async ({ page }) => {
  await page.goto('/d/kiln-corridor/bench')
  await page.getByRole('button', { name: 'emulated board', exact: true }).click()
  await expect(page.locator('#bench-side')).toContainText(
    'Programs of 8-bit boards alone are emulated',
  )
})
