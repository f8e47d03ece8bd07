/**
 * Every view by day and by night, and the pages a maker takes away: nothing serious for axe-core,
 * nothing cut.
 */
import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import { expect, test } from './nolvi'

async function serious(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'])
    .analyze()
  return violations
    .filter(v => v.impact === 'serious' || v.impact === 'critical')
    .flatMap(v => v.nodes.map(n => `${v.id}: ${n.target.join(' ')}`))
}

const VIEWS = [
  '',
  'sheet',
  'wiring',
  'messages',
  'panels',
  'bench',
  'proof',
  'build',
  'live',
  'log',
]

for (const colorScheme of ['light', 'dark'] as const) {
  test.describe(`in ${colorScheme}`, () => {
    test.use({ colorScheme })
    for (const view of VIEWS) {
      test(view || 'shelf', async ({ page }) => {
        await page.goto(view ? `/d/glaze-room/${view}` : '/')
        if (view)
          await expect(
            page.getByRole('banner').getByRole('button', { name: '5 stop' }),
          ).toBeVisible()
        expect(await serious(page)).toEqual([])
        if (view === 'sheet') {
          await page.keyboard.press('i')
          await expect(page.getByRole('complementary', { name: 'Findings' })).toBeVisible()
          expect(await serious(page)).toEqual([])
          await page.keyboard.press('Control+k')
          expect(await serious(page)).toEqual([])
        }
        // Nothing is wider than the window.
        expect(
          await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth),
        ).toBeLessThanOrEqual(0)
      })
    }
    test('panel pages and the wall of a stand-in', async ({ page, lamp, standIn }) => {
      const { address } = await standIn(lamp)
      const design = (await (await page.request.get(`/api/designs/${lamp}`)).json()) as {
        design: { surfaces: { kind: string; id: string }[] }
      }
      for (const path of [
        '/_wall',
        ...design.design.surfaces.filter(s => s.kind === 'panel').map(s => `/panel/${s.id}`),
      ]) {
        await page.setViewportSize({ width: 380, height: 760 })
        await page.goto(address + path)
        if (path !== '/_wall')
          await expect(page.locator('.np-link')).toHaveAttribute('data-up', 'true')
        expect(await serious(page), path).toEqual([])
        expect(
          await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth),
        ).toBeLessThanOrEqual(0)
      }
    })
  })
}

test('the letters of the rail open the views', async ({ page }) => {
  await page.goto('/d/glaze-room/sheet')
  await expect(page.getByRole('button', { name: '5 stop' })).toBeVisible()
  for (const [key, view] of [
    ['w', 'wiring'],
    ['m', 'messages'],
    ['p', 'panels'],
    ['b', 'bench'],
    ['f', 'proof'],
    ['u', 'build'],
    ['l', 'live'],
    ['g', 'log'],
    ['s', 'sheet'],
  ] as const) {
    await page.keyboard.press(key)
    await expect(page).toHaveURL(new RegExp(`/${view}$`))
  }
})

test('a design that is not there says so and leads back', async ({ page }) => {
  await page.goto('/d/nowhere/sheet')
  await expect(page.getByRole('heading', { name: 'There is no design "nowhere"' })).toBeVisible()
  await page.getByRole('link', { name: 'All designs', exact: true }).click()
  await expect(page.getByRole('link', { name: 'Glaze room' })).toBeVisible()
})

test('what a view is for is told until it is known, and ? tells its keys', async ({
  page,
  copy,
}) => {
  await page.addInitScript(() => {
    if (location.protocol !== 'http:' || sessionStorage.getItem('begun')) return
    localStorage.removeItem('nolvi known views')
    sessionStorage.setItem('begun', 'yes')
  })
  await page.goto(`/d/${copy}/panels`)
  const purpose = page.locator('.purpose')
  await expect(purpose).toContainText('in millimetres of glass')
  await purpose.getByRole('button', { name: 'Got it' }).click()
  await expect(purpose).toHaveCount(0)
  await page.keyboard.press('?')
  const keys = page.getByRole('dialog', { name: 'Panels' })
  await expect(keys).toContainText('real size, or all at once')
  await page.keyboard.press('Escape')
  await expect(keys).toBeHidden()
  await page.keyboard.press('b')
  await expect(purpose).toContainText('The whole design plays')
})

test('in the hand: the head fits, and a view is as long as what is in it', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 })
  for (const view of ['sheet', 'live', 'log']) {
    await page.goto(`/d/glaze-room/${view}`)
    await expect(page.getByRole('banner').getByRole('button', { name: '5 stop' })).toBeVisible()
    const cut = await page.evaluate(() =>
      ['.line', '.view > .work'].filter(s => {
        const e = document.querySelector(s)!
        return e.scrollHeight > e.clientHeight + 2 || (s === '.line' && e.scrollWidth > innerWidth)
      }),
    )
    expect(cut, view).toEqual([])
  }
  await page.goto('/')
  // With what it will be beside it, which comes a little later.
  await expect(page.locator('.sentence')).toBeVisible()
  await expect(page.getByRole('region', { name: 'What it will be' })).toContainText('promises kept')
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(390)
})

/** Words that lie under something else, as what is seen of them goes. */
function covered(): string[] {
  const clipped = (el: Element): DOMRect => {
    let [left, top, right, bottom] = [0, 0, innerWidth, innerHeight]
    for (let at: Element | null = el; at && at !== document.body; at = at.parentElement) {
      const { overflowX, overflowY } = getComputedStyle(at)
      if (overflowX === 'visible' && overflowY === 'visible') continue
      const of = at.getBoundingClientRect()
      ;[left, top] = [Math.max(left, of.left), Math.max(top, of.top)]
      ;[right, bottom] = [Math.min(right, of.right), Math.min(bottom, of.bottom)]
    }
    return new DOMRect(left, top, Math.max(0, right - left), Math.max(0, bottom - top))
  }
  const found: string[] = []
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const words = node.textContent?.trim() ?? ''
    const el = node.parentElement
    if (!words || !el?.checkVisibility({ opacityProperty: true, visibilityProperty: true }))
      continue
    if (el.closest('svg, option, script, style')) continue
    const range = document.createRange()
    range.selectNodeContents(node)
    const seen = clipped(el)
    for (const r of range.getClientRects()) {
      const [x, y] = [r.left + r.width / 2, r.top + r.height / 2]
      if (r.width < 3 || x <= seen.left || x >= seen.right) continue
      if (r.height < 3 || y <= seen.top || y >= seen.bottom) continue
      const top = document.elementFromPoint(x, y)
      if (top && !el.contains(top) && !top.contains(el))
        found.push(`"${words.slice(0, 40)}" under ${top.tagName} ${top.className}`)
    }
  }
  return found
}

for (const [width, height] of [
  [1280, 800],
  [390, 844],
] as const)
  test(`no words lie under others on ${width} × ${height}`, async ({ page }) => {
    await page.setViewportSize({ width, height })
    for (const view of VIEWS) {
      await page.goto(view ? `/d/old-dairy/${view}` : '/')
      if (view) await expect(page.getByRole('banner').getByText('Old dairy')).toBeVisible()
      await expect.poll(() => page.evaluate(covered), view).toEqual([])
    }
  })
