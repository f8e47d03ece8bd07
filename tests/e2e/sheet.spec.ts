import type { BrowserContext, Page } from '@playwright/test'
import { blankDesign } from '../../core/design/blank'
import { begin } from '../../core/start/begin'
import { drawerLoad, firstDrawer } from '../../core/start/drawer'
import { expect, pick, stored, test } from './nolvi'

const cell = (page: Page, at: string) => page.locator(`[data-at="${at}"]`)
async function choose(page: Page, button: string, item: string): Promise<void> {
  await page.getByRole('button', { name: button }).click()
  await page.getByRole('menuitem', { name: item }).click()
}

test('from nothing: name a design, a load, surfaces, codes', async ({ page }) => {
  await page.goto('/')
  await page.getByLabel('Name of the new design').fill('Damp cupboard')
  await choose(page, 'Start from a kit', 'Nothing on it yet')
  await expect(page).toHaveURL(/\/d\/damp-cupboard(-\d+)?\/sheet$/)
  await expect(page.getByText('Begin here')).toBeVisible()
  await page.getByPlaceholder('Name the first load').fill('Mister')
  await page.keyboard.press('Enter')
  await choose(page, '+ surface', 'Hand controls')
  await choose(page, '+ surface', 'Panel over HTTP')
  await page.getByRole('button', { name: 'Put Mister on Wall controls' }).click()
  await page.getByRole('button', { name: 'Put Mister on Browser' }).click()
  await expect(cell(page, '0,1')).toContainText('/mister/on | off')
  await expect(cell(page, '0,0')).toContainText('toggles')
  await expect(page.locator('.outages tr').filter({ hasText: 'Router down' })).toContainText(
    'works for none',
  )
  const id = page.url().split('/').at(-2)!
  expect(await stored(page, id)).toMatchObject({
    name: 'Damp cupboard',
    loads: [{ name: 'Mister' }],
    links: [{ kind: 'http', messages: [{ codes: { on: '/mister/on' } }] }],
  })
})

test('loads and surfaces are renamed, reordered and removed; undo and redo go both ways', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/sheet`)
  await page.getByRole('button', { name: 'Rinse pump', exact: true }).click()
  await page.getByLabel('load', { exact: true }).fill('Sink pump')
  await page.keyboard.press('Enter')
  await choose(page, 'Move or remove Sink pump', 'Move up')
  await choose(page, 'Move or remove Wall controls', 'Move right')
  await choose(page, 'Move or remove Wheel lights', 'Remove Wheel lights')
  const after = await stored(page, copy)
  expect(after.loads.map(l => l.name)).toEqual([
    'Booth extractor',
    'Sink pump',
    'Drying cupboard fan',
  ])
  expect(after.surfaces.map(s => s.id)).toEqual(['apron-phone', 'wall', 'office-browser'])
  for (let i = 0; i < 4; i++) await page.keyboard.press('Control+z')
  const back = await stored(page, copy)
  expect(back.loads.map(l => l.name)).toEqual([
    'Booth extractor',
    'Wheel lights',
    'Drying cupboard fan',
    'Rinse pump',
  ])
  await page.getByRole('button', { name: 'redo' }).click()
  expect((await stored(page, copy)).loads.map(l => l.name)).toContain('Sink pump')
})

test('a row is dragged to its new place', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/sheet`)
  const grips = page.locator('.grip')
  await grips.nth(3).hover()
  await page.mouse.down()
  const target = (await grips.nth(0).boundingBox())!
  await page.mouse.move(target.x + 4, target.y + 30, { steps: 8 })
  await page.mouse.move(target.x + 4, target.y - 2, { steps: 8 })
  await page.mouse.up()
  expect((await stored(page, copy)).loads.map(l => l.id)).toEqual([
    'rinse-pump',
    'booth-extractor',
    'wheel-lights',
    'cupboard-fan',
  ])
})

test('keyboard alone: arrows move, Enter edits a code, Alt and arrows reorder', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/sheet`)
  await cell(page, '2,1').focus()
  await page.keyboard.press('ArrowDown')
  await expect(cell(page, '3,1')).toBeFocused()
  await page.keyboard.press('Enter')
  await page.keyboard.type('R')
  await page.keyboard.press('Tab')
  await page.keyboard.type('r')
  await page.keyboard.press('Enter')
  await expect(cell(page, '3,1')).toContainText('R / r')
  await cell(page, '3,1').focus()
  await page.keyboard.press('Alt+ArrowUp')
  await expect(cell(page, '2,1')).toContainText('R / r')
  const design = await stored(page, copy)
  expect(design.loads[2]?.id).toBe('rinse-pump')
  expect(design.links[0]?.messages.find(m => m.loadId === 'rinse-pump')).toMatchObject({
    codes: { on: 'R', off: 'r' },
  })
})

test('what if: cells that stop working are struck out', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/sheet`)
  const struck = () => page.locator('td.out')
  await expect(struck()).toHaveCount(0)
  for (const [name, count] of [
    ['no internet', 0],
    ['router down', 3],
    ['phone away', 4],
    ['power cut', 10],
  ] as const) {
    await page.getByRole('radiogroup', { name: 'What if' }).getByText(name).click()
    await expect(struck(), name).toHaveCount(count)
  }
})

test('a refused change says why and leaves the design', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/sheet`)
  await page.getByRole('button', { name: 'Rinse pump', exact: true }).click()
  await page.getByLabel('load', { exact: true }).fill('<script>alert(1)</script>')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert')).toContainText('a name holds no < or >')
  expect((await stored(page, copy)).loads[3]?.name).toBe('Rinse pump')
})

test("two windows: the later one keeps its work as a copy, or takes the other's", async ({
  page,
  context,
  copy,
}) => {
  const other = await context.newPage()
  await page.goto(`/d/${copy}/sheet`)
  await other.goto(`/d/${copy}/sheet`)
  const rename = async (at: Page, from: string, to: string) => {
    await at.getByRole('heading', { level: 1 }).getByRole('button', { name: from }).click()
    await at.getByLabel('name of the design').fill(to)
    await at.keyboard.press('Enter')
  }
  await rename(page, 'Glaze room', 'First window')
  await stored(page, copy)
  await rename(other, 'Glaze room', 'Second window')
  const notice = other.getByRole('alert')
  await expect(notice).toContainText('Revision 2 was stored from another window')
  await notice.getByRole('button', { name: 'Keep mine as a copy' }).click()
  await expect(other).not.toHaveURL(new RegExp(`/d/${copy}/`))
  await expect(other.getByRole('heading', { level: 1 })).toHaveText('Second window (mine)')
  expect((await stored(page, copy)).name).toBe('First window')

  await other.goto(`/d/${copy}/sheet`)
  await expect(other.getByRole('heading', { level: 1 })).toHaveText('First window')
  await rename(page, 'First window', 'Third')
  await stored(page, copy)
  await rename(other, 'First window', 'Fourth')
  await other.getByRole('button', { name: 'Take theirs' }).click()
  await expect(other.getByRole('heading', { level: 1 })).toHaveText('Third')
})

test("a save whose answer is lost is not taken for somebody else's", async ({ page, copy }) => {
  await page.goto(`/d/${copy}/sheet`)
  let lost = 0
  await page.route(`**/api/designs/${copy}`, async route => {
    if (route.request().method() !== 'PUT' || lost > 0) return route.continue()
    lost++
    await route.fetch()
    await route.abort('connectionreset')
  })
  await page.getByRole('button', { name: 'Rinse pump', exact: true }).click()
  await page.getByLabel('load', { exact: true }).fill('Sink pump')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('banner').getByRole('status')).toContainText(
    'the server does not answer',
  )
  // Changed again before the answer is missed.
  await page.getByRole('button', { name: 'Sink pump', exact: true }).click()
  await page.getByLabel('load', { exact: true }).fill('Basin pump')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('banner').getByRole('status')).toContainText('revision 3 · saved')
  await expect(page.getByRole('alert')).toHaveCount(0)
  expect((await stored(page, copy)).loads[3]?.name).toBe('Basin pump')
})

test('a change made just before the page is closed is stored', async ({ page, context, put }) => {
  const id = await put(blankDesign('quick', 'Quick'))
  await page.goto(`/d/${id}/sheet`)
  await page.getByPlaceholder('Name the first load').fill('Lamp')
  await page.keyboard.press('Enter')
  await page.close({ runBeforeUnload: true })
  // A browser that is in haste ends a page without a word to it: then it is stored when the design
  // is opened again.
  const again = await context.newPage()
  await again.goto(`/d/${id}/sheet`)
  await expect(again.getByRole('button', { name: 'Lamp', exact: true })).toBeVisible()
  expect((await stored(again, id)).loads).toHaveLength(1)
})

/** A page that changed the design while no save arrived, and then fell over. */
async function goneWithout(context: BrowserContext, id: string, name: string) {
  const gone = await context.newPage()
  // Within the page: a save that was held back outside of it goes on by itself when the page falls
  // over, for it is one that outlives its page.
  await gone.addInitScript(() => {
    const real = window.fetch.bind(window)
    window.fetch = (to, options) =>
      options?.method === 'PUT'
        ? Promise.reject(new TypeError('connection reset'))
        : real(to, options)
  })
  await gone.goto(`/d/${id}/sheet`)
  await gone.getByRole('button', { name: 'Rinse pump', exact: true }).click()
  await gone.getByLabel('load', { exact: true }).fill(name)
  await gone.keyboard.press('Enter')
  await expect(gone.getByRole('button', { name, exact: true })).toBeVisible()
  // Closed it would say a last word, which nothing here can stop.
  const crashed = gone.waitForEvent('crash')
  const inside = await context.newCDPSession(gone)
  void inside.send('Page.crash').catch(() => null)
  await crashed
  await gone.close()
  expect((await (await context.request.get(`/api/designs/${id}`)).json()).revision).toBe(1)
}

test('what was not stored when a page ended is there again, stored, and undone as one step', async ({
  page,
  context,
  copy,
}) => {
  await goneWithout(context, copy, 'Sink pump')
  await page.goto(`/d/${copy}/sheet`)
  await expect(page.getByRole('button', { name: 'Sink pump', exact: true })).toBeVisible()
  await expect(page.getByRole('banner').getByRole('status')).toContainText('revision 2 · saved')
  expect((await stored(page, copy)).loads[3]?.name).toBe('Sink pump')
  await page.keyboard.press('Control+z')
  await expect(page.getByRole('button', { name: 'Rinse pump', exact: true })).toBeVisible()
  await expect(page.getByRole('banner').getByRole('status')).toContainText('revision 3 · saved')
  await page.reload()
  await expect(page.getByRole('button', { name: 'Rinse pump', exact: true })).toBeVisible()
  await expect(page.getByRole('banner').getByRole('status')).toContainText('revision 3 · saved')
})

test('what was not stored when a page ended meets what another stored meanwhile', async ({
  page,
  context,
  copy,
}) => {
  await goneWithout(context, copy, 'Sink pump')
  const { design, revision } = await (await page.request.get(`/api/designs/${copy}`)).json()
  await page.request.put(`/api/designs/${copy}`, {
    data: { baseRevision: revision, design: { ...design, name: 'Of another' } },
  })
  await page.goto(`/d/${copy}/sheet`)
  const notice = page.getByRole('alert')
  await expect(notice).toContainText('Revision 2 was stored from another window')
  // Closed without an answer, it is asked again.
  await page.reload()
  await expect(notice).toContainText('Revision 2 was stored from another window')
  await notice.getByRole('button', { name: 'Take theirs' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Of another')
  await page.reload()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Of another')
  await expect(page.getByRole('button', { name: 'Rinse pump', exact: true })).toBeVisible()
  await expect(notice).toHaveCount(0)
})

test('the palette goes anywhere and presses fixes', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/sheet`)
  await expect(page.getByRole('button', { name: '5 stop' })).toBeVisible()
  await page.keyboard.press('Control+k')
  await page.keyboard.type('use r')
  await page.keyboard.press('Enter')
  await expect(cell(page, '3,1')).toContainText('R / r')
  await page.keyboard.press('Control+k')
  await page.keyboard.type('bench')
  await page.keyboard.press('Enter')
  await expect(page).toHaveURL(/\/bench$/)
})

test('the shelf: a file that does not belong is refused with its places, one that does is taken', async ({
  page,
  copy,
  request,
}) => {
  await page.goto('/')
  const design = await (await request.get(`/api/designs/${copy}/build/design.json`)).json()
  const take = (name: string, text: string) =>
    page
      .getByLabel('Design file')
      .setInputFiles({ name, mimeType: 'application/json', buffer: Buffer.from(text) })
  await take('newer.json', JSON.stringify({ ...design, version: 99 }))
  await expect(page.getByRole('alert')).toContainText(
    'newer.json was not taken. Nothing was stored.',
  )
  await expect(page.getByRole('alert')).toContainText('/version')
  await take('odd.json', JSON.stringify({ ...design, colour: 'red' }))
  await expect(page.getByRole('alert')).toContainText('/colour')
  await take('noise.json', 'x'.repeat(5_000_000))
  await expect(page.getByRole('alert')).toContainText('at most')
  await take('mine.json', JSON.stringify({ ...design, id: 'mine', name: 'Mine' }))
  await expect(page).toHaveURL(/\/d\/mine(-\d+)?\/sheet$/)
  await page.goto('/')
  await page.getByRole('button', { name: 'More for Mine', exact: true }).first().click()
  await page.getByRole('menuitem', { name: 'Take off' }).click()
  await expect(page.getByText('kept for 30 days')).toBeVisible()
  await page.getByRole('button', { name: 'Put it back' }).click()
  await expect(page.getByRole('link', { name: 'Mine', exact: true }).first()).toBeVisible()
})

test('the shelf: how each design stands, sorted, searched, duplicated, dropped', async ({
  page,
  copy,
  request,
}) => {
  await page.goto('/')
  const row = page.locator('tr', { has: page.getByRole('link', { name: 'Kiln corridor' }) }).first()
  await expect(row).toContainText('2 stop')
  await expect(row).toContainText('nothing written')
  // What was found out of a revision is known when the shelf is opened again.
  let asked = 0
  await page.route('**/api/designs/kiln-corridor', route => {
    asked++
    return route.continue()
  })
  await page.reload()
  await expect(row).toContainText('2 stop')
  expect(asked).toBe(0)
  await page.getByRole('button', { name: 'Design', exact: true }).click()
  const names = await page.locator('tbody th a').allTextContents()
  expect(names).toEqual(names.toSorted((a, b) => a.localeCompare(b)))
  await page.getByRole('button', { name: 'More for Kiln corridor' }).first().click()
  await page.getByRole('menuitem', { name: 'Duplicate' }).click()
  await expect(page).toHaveURL(/\/d\/kiln-corridor-copy(-\d+)?\/sheet$/)
  await page.goto('/')
  await page.getByLabel('Find a design').fill('corridor copy')
  await expect(page.locator('tbody th a')).toHaveText([/Kiln corridor copy/])
  const design = await (await request.get(`/api/designs/${copy}/build/design.json`)).text()
  const transfer = await page.evaluateHandle(text => {
    const data = new DataTransfer()
    data.items.add(new File([text], 'dropped.json', { type: 'application/json' }))
    return data
  }, design)
  await page.dispatchEvent('main', 'drop', { dataTransfer: transfer })
  await expect(page).toHaveURL(/\/sheet$/)
})

test('from ten loads on rows are low, heads stay, and loads are looked at by room', async ({
  page,
  put,
}) => {
  const many = Array.from({ length: 24 }, (_, i) => drawerLoad('lamp', `Lamp ${i + 1}`))
  const { design } = begin('many', {
    ...firstDrawer(),
    board: 'board-linux-header',
    hand: 'none',
    loads: many,
    ways: ['browser'],
  })
  const rooms = design.loads.map((l, i) => ({ ...l, room: ['Hall', 'Yard', 'Loft'][i % 3]! }))
  const id = await put({ ...design, loads: rooms })
  await page.goto(`/d/${id}/sheet`)
  const rows = page.locator('.matrix tbody tr', { has: page.locator('.grip') })
  await expect(rows).toHaveCount(24)
  expect((await rows.nth(3).boundingBox())!.height).toBeLessThan(50)
  const head = page.getByRole('columnheader', { name: /^Browser/ })
  await rows.last().scrollIntoViewIfNeeded()
  await expect(head).toBeInViewport()
  await pick(page, 'Loads of which room', 'Yard')
  await expect(rows.filter({ visible: true })).toHaveCount(8)
  await expect(page.locator('[data-at="1,0"]')).toBeVisible()
  await expect(page.locator('[data-at="0,0"]')).toBeHidden()
})
