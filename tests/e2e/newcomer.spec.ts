/**
 * A newcomer makes a panel: from nothing, or out of the sentence of the shelf, to a key pressed on
 * a stand-in, in few actions and two minutes.
 */
import { expect, test } from './nolvi'

const LOADS = ['Clay mixer', 'Wedging light', 'Sink pump', 'Shelf heater']

test('from nothing, by mouse: four loads in at most 20 actions', async ({ page, request }) => {
  const begun = Date.now()
  let actions = 0
  const does = async (action: () => Promise<unknown>) => {
    actions++
    await action()
  }
  await page.goto('/')
  await does(() => page.getByLabel('Name of the new design').click())
  await does(() => page.keyboard.type('Clay store'))
  await does(() => page.getByRole('button', { name: 'Start from a kit' }).click())
  await does(() => page.getByRole('menuitem', { name: 'Nothing on it yet' }).click())
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

test('out of the sentence, by mouse: three loads, begun, pressed', async ({ page, request }) => {
  const begun = Date.now()
  let actions = 0
  const does = async (action: () => Promise<unknown>) => {
    actions++
    await action()
  }
  await page.goto('/')
  const preview = page.getByRole('region', { name: 'What it will be' })
  await expect(preview).toContainText('6 of 6 promises kept')
  await does(() => page.getByRole('button', { name: 'One more load' }).click())
  await does(() => page.getByRole('menuitem', { name: 'a heater' }).click())
  await expect(page.locator('.sentence')).toContainText('but the heater stays off')
  await expect(preview).toContainText('7 of 7 promises kept')
  await expect(preview.locator('.np-box')).toHaveCount(3)
  await does(() => page.getByRole('button', { name: 'Begin with this' }).click())
  await expect(page).toHaveURL(/\/sheet$/)
  const id = page.url().split('/').at(-2)!
  await does(() => page.getByRole('link', { name: 'Panels' }).click())
  await does(() => page.getByText('On a stand-in').click())
  await does(() => page.getByRole('button', { name: 'Start a stand-in' }).first().click())
  const key = page.frameLocator('iframe').first().locator('[data-load-id=wheel-lamp]')
  await does(() => key.getByRole('button').click())
  await expect(key).toHaveAttribute('data-shown', 'on')
  expect(actions).toBeLessThanOrEqual(8)
  expect(Date.now() - begun).toBeLessThan(120_000)
  await endStandIns(request, id)
})

test('out of the sentence, by keyboard alone', async ({ page, request }) => {
  const begun = Date.now()
  let actions = 0
  const press = async (key: string) => {
    actions++
    await page.keyboard.press(key)
  }
  await page.goto('/')
  await expect(page.getByRole('table').first()).toBeVisible()
  const focused = async (label: string | RegExp) => {
    const wanted = page.getByRole('button', { name: label })
    for (let n = 0; n < 14; n++) {
      if (await wanted.evaluate(e => e === document.activeElement).catch(() => false)) return
      await press('Tab')
    }
    await expect(wanted).toBeFocused()
  }
  await focused(/^One more load/)
  await press('Enter')
  await expect(page.getByRole('menuitem', { name: 'a dimmed lamp' })).toBeVisible()
  await press('ArrowDown')
  await press('Enter')
  await expect(page.locator('.sentence')).toContainText('a dimmed lamp')
  await page.getByLabel('Name of the new design').focus()
  await page.keyboard.type('Clay attic')
  await press('Enter')
  await expect(page).toHaveURL(/\/clay-attic(-\d+)?\/sheet$/)
  const id = page.url().split('/').at(-2)!
  await press('Escape')
  await press('p')
  await expect(page).toHaveURL(/\/panels$/)
  await press('3')
  const start = page.getByRole('button', { name: 'Start a stand-in' }).first()
  await expect(start).toBeVisible()
  await start.focus()
  await press('Enter')
  const frame = page.frameLocator('iframe').last()
  await expect(frame.locator('.np-link')).toHaveAttribute('data-up', 'true')
  await frame.locator('[data-load-id=wheel-lamp] button').focus()
  await press('Enter')
  await expect(frame.locator('[data-load-id=wheel-lamp]')).toHaveAttribute('data-shown', 'on')
  expect(actions).toBeLessThanOrEqual(30)
  expect(Date.now() - begun).toBeLessThan(120_000)
  test.info().annotations.push({ type: 'actions', description: `${actions}` })
  await endStandIns(request, id)
})

test.describe('on a phone', () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true })
  test('out of the sentence, by finger: begun, and a page of the stand-in pressed', async ({
    page,
    request,
  }) => {
    const begun = Date.now()
    await page.goto('/')
    await page.getByRole('button', { name: 'One more load' }).tap()
    await page.getByRole('menuitem', { name: 'a fan' }).tap()
    await expect(page.locator('.sentence')).toContainText('a fan')
    await page.getByRole('button', { name: 'Begin with this' }).tap()
    await expect(page).toHaveURL(/\/sheet$/)
    const id = page.url().split('/').at(-2)!
    await page.getByRole('link', { name: 'Live' }).tap()
    await page.getByRole('button', { name: 'Start a stand-in' }).tap()
    const opened = page.context().waitForEvent('page')
    await page.getByRole('link', { name: 'Browser', exact: true }).tap()
    const panel = await opened
    const key = panel.locator('[data-load-id=wheel-lamp]')
    await key.getByRole('button').tap()
    await expect(key).toHaveAttribute('data-shown', 'on')
    // Nothing of it lies beside or below what is seen.
    expect(
      await panel.evaluate(() => {
        const { scrollWidth, scrollHeight } = document.documentElement
        return [scrollWidth - innerWidth, scrollHeight - innerHeight]
      }),
    ).toEqual([0, 0])
    expect(Date.now() - begun).toBeLessThan(120_000)
    await endStandIns(request, id)
  })
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
