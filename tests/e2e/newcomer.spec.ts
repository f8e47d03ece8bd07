/**
 * A newcomer makes a panel of four loads: from nothing to a stand-in, in at most 20 actions and two
 * minutes.
 */
import { expect, test } from './nolvi'

const LOADS = ['Clay mixer', 'Wedging light', 'Sink pump', 'Shelf heater']

test('by mouse', async ({ page, request }) => {
  const begun = Date.now()
  let actions = 0
  const does = async (action: () => Promise<unknown>) => {
    actions++
    await action()
  }
  await page.goto('/')
  await does(() => page.getByLabel('Name of the new design').click())
  await does(() => page.keyboard.type('Clay store'))
  await does(() => page.getByRole('button', { name: 'Start it' }).click())
  await expect(page).toHaveURL(/\/sheet$/)
  const id = page.url().split('/').at(-2)!
  for (const name of LOADS) {
    await does(() => page.getByLabel('Name of a new load').fill(name))
    await does(() => page.getByRole('button', { name: 'Add it' }).click())
  }
  await does(() => page.getByRole('link', { name: 'Panels' }).click())
  await does(() => page.getByRole('button', { name: 'Over the network (HTTP)' }).click())
  await does(() => page.getByRole('button', { name: 'Lay out Phone for me' }).click())
  await expect(page.locator('[data-panel=phone] .np-box')).toHaveCount(4)
  await does(() => page.getByText('On a stand-in').click())
  await does(() => page.getByRole('button', { name: 'Start a stand-in' }).click())
  const key = page.frameLocator('iframe').locator('[data-load-id=sink-pump]')
  await does(() => key.getByRole('button').click())
  await expect(key).toHaveAttribute('data-shown', 'on')
  expect(actions).toBeLessThanOrEqual(20)
  expect(Date.now() - begun).toBeLessThan(120_000)
  test.info().annotations.push({ type: 'actions', description: `${actions}` })
  await endStandIns(request, id)
})

test('by keyboard alone', async ({ page, request }) => {
  const begun = Date.now()
  let actions = 0
  const press = async (key: string) => {
    actions++
    await page.keyboard.press(key)
  }
  const type = async (text: string) => {
    actions++
    await page.keyboard.type(text)
  }
  await page.goto('/')
  await expect(page.getByRole('table')).toBeVisible()
  await press('Tab')
  await type('Clay attic')
  await press('Enter')
  await expect(page).toHaveURL(/\/sheet$/)
  const id = page.url().split('/').at(-2)!
  await expect(page.getByLabel('Name of a new load')).toBeFocused()
  for (const [i, name] of LOADS.entries()) {
    await type(name)
    await press('Enter')
    await expect(page.locator('tr.row, tbody tr').filter({ hasText: name })).not.toHaveCount(0)
    expect(i).toBeLessThan(4)
  }
  await press('Escape')
  await press('p')
  await expect(page.getByRole('button', { name: 'Over the network (HTTP)' })).toBeFocused()
  await press('Enter')
  await expect(page.getByRole('button', { name: 'Lay out Phone for me' })).toBeFocused()
  await press('Enter')
  await expect(page.locator('[data-panel=phone] .np-box')).toHaveCount(4)
  await press('3')
  await expect(page.getByRole('button', { name: 'Start a stand-in' })).toBeFocused()
  await press('Enter')
  const frame = page.frameLocator('iframe')
  await expect(frame.locator('.np-link')).toHaveAttribute('data-up', 'true')
  await press('Tab')
  await expect(frame.locator('[data-load-id=clay-mixer] button')).toBeFocused()
  await press('Enter')
  await expect(frame.locator('[data-load-id=clay-mixer]')).toHaveAttribute('data-shown', 'on')
  expect(actions).toBeLessThanOrEqual(20)
  expect(Date.now() - begun).toBeLessThan(120_000)
  test.info().annotations.push({ type: 'actions', description: `${actions}` })
  await endStandIns(request, id)
})

async function endStandIns(
  request: import('@playwright/test').APIRequestContext,
  id: string,
): Promise<void> {
  for (const { id: standIn } of (await (
    await request.get(`/api/designs/${id}/stand-ins`)
  ).json()) as { id: string }[])
    await request.delete(`/api/designs/${id}/stand-ins/${standIn}`)
}
