import type { Page } from '@playwright/test'
import { SHIPPED } from '../../core/boards/boards'
import { needs } from '../../core/design/pins'
import { expect, stored, test } from './nolvi'

const need = (page: Page, id: string) => page.locator(`[data-need="${id}"]`)
const ticket = (page: Page) => page.getByRole('complementary', { name: 'Wiring of what is chosen' })
const chipOf = async (page: Page, design: string, id: string) => needs(await stored(page, design)).find(n => n.id === id)?.chip

test('a need is dragged to another pin, and moved with the arrows', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/wiring`)
  const from = (await need(page, 'load:rinse-pump').boundingBox())!
  const to = (await page.locator('[data-chip="11"]').boundingBox())!
  await page.mouse.move(from.x + 20, from.y + 12)
  await page.mouse.down()
  await page.mouse.move(to.x + 80, to.y + 10, { steps: 12 })
  await page.mouse.up()
  await expect.poll(() => chipOf(page, copy, 'load:rinse-pump')).toBe(11)
  await need(page, 'load:rinse-pump').focus()
  await page.keyboard.press('ArrowDown')
  await expect.poll(() => chipOf(page, copy, 'load:rinse-pump')).toBe(12)
  await expect(need(page, 'load:rinse-pump')).toBeFocused()
  // Up again, over taken pins and back: the keyboard reaches every free pin.
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowUp')
  await expect.poll(() => chipOf(page, copy, 'load:rinse-pump')).toBe(10)
})

test('another board keeps what fits, lists what does not, and moves only that', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/wiring`)
  await page.locator('.boards').click()
  await page.getByRole('option', { name: 'full Wi-Fi board, labels differ from chip numbers' }).click()
  const misfits = page.getByRole('status').filter({ hasText: 'not fit' })
  await expect(misfits).toContainText('Drying cupboard fan')
  await misfits.getByRole('button', { name: 'Move only these' }).click()
  await expect(ticket(page)).toContainText('Pins, assigned')
  const design = await stored(page, copy)
  expect(design.controllers[0]?.board).toBe('board-wifi-full')
  for (const n of needs(design)) if (!n.fixed) expect(SHIPPED.find(b => b.id === 'board-wifi-full')!.pins.map(p => p.chip)).toContain(n.chip)
})

test('assign for me leaves kept pins, explains each choice, and is one undo', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/wiring`)
  const before = await stored(page, copy)
  await need(page, 'load:wheel-lights').click()
  await ticket(page).getByText('Stays here when pins are assigned').click()
  await page.getByRole('button', { name: 'Assign pins for me' }).click()
  await expect(ticket(page)).toContainText('Wheel lights on D6 kept as you set it')
  await expect(ticket(page)).toContainText('free of hazards')
  expect(await chipOf(page, copy, 'load:wheel-lights')).toBe(6)
  await page.getByRole('button', { name: 'undo' }).click()
  expect((await stored(page, copy)).loads).toEqual(before.loads)
})

test('a board too small says what is without a pin and what would help', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/wiring`)
  await page.locator('.boards').click()
  await page.getByRole('option', { name: 'small Wi-Fi module' }).click()
  await page.getByRole('button', { name: 'Assign pins for me' }).click()
  await expect(ticket(page)).toContainText('has no pin:')
  await expect(ticket(page)).toContainText('take a board with more pins')
  await ticket(page).getByRole('button', { name: /^Take the .*: all find a pin there/ }).click()
  await expect(page.getByRole('status').filter({ hasText: 'not fit' })).toHaveCount(0)
})

test('sums stand beside their part, change as values are typed, and mend with a press', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/wiring`)
  await expect(page.locator('.sums tbody tr').first()).toContainText('Rinse pump')
  await need(page, 'load:rinse-pump').click()
  const lead = ticket(page).locator('.sum').filter({ has: page.getByRole('heading', { name: 'Lead' }) })
  await expect(lead).toContainText('279 %')
  await lead.getByText('Figures and source').click()
  await expect(lead).toContainText('Vd = R x I')
  await ticket(page).getByLabel('Load current').fill('750mA')
  await ticket(page).getByLabel('Load current').press('Enter')
  await expect(lead).toContainText('139 %')
  await lead.getByRole('button', { name: 'Take 0.75 mm²' }).click()
  await expect(lead).toContainText('93 %')
  await ticket(page).locator('.el-select').filter({ has: page.getByLabel('Driven by') }).click()
  await page.getByRole('option', { name: 'relay coil behind an NPN' }).click()
  await expect(ticket(page).locator('.sum', { hasText: 'Coil driver' })).toContainText('saturation')
})

test('a unit that is wrong or a value that cannot be is told, and nothing changes', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/wiring`)
  await need(page, 'load:rinse-pump').click()
  const field = ticket(page).getByLabel('Load current')
  await field.fill('12 V')
  await field.press('Enter')
  await expect(ticket(page).getByRole('alert')).toContainText('A is expected')
  await field.fill('500')
  await field.press('Enter')
  await expect(ticket(page).getByRole('alert')).toContainText('between 1 mA and 100 A')
  expect((await stored(page, copy)).loads[3]?.wiring.load?.amps).toBe(1.5)
})

test('a recorded bounce sets the debounce', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/wiring`)
  await need(page, 'control:extractor-button').click()
  const input = ticket(page).getByLabel('Recording of the bounce, CSV or VCD')
  await input.setInputFiles({ name: 'press.csv', mimeType: 'text/csv', buffer: Buffer.from('0,1\n1,0\n1.0121,1\n1.0282,0\n') })
  await expect(ticket(page)).toContainText('press.csv: longest bounce 28.2 ms in 1 movements')
  await ticket(page).getByRole('button', { name: 'Debounce 43 ms' }).click()
  await expect.poll(async () => JSON.stringify((await stored(page, copy)).surfaces[0])).toContain('"debounceMs":43')
  await input.setInputFiles({ name: 'noise.csv', mimeType: 'text/csv', buffer: Buffer.from('hello,there\nyou,too\n') })
  await expect(ticket(page).getByRole('alert')).toContainText('noise.csv')
})

test('an own board: duplicated, changed as text, refused where it cannot be, saved', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/wiring`)
  await ticket(page).getByRole('button', { name: 'Duplicate' }).click()
  const text = ticket(page).getByLabel('Board profile as JSON')
  const profile = JSON.parse(await text.inputValue())
  await text.fill(JSON.stringify({ ...profile, pins: [...profile.pins, { ...profile.pins[0] }] }))
  await ticket(page).getByRole('button', { name: 'Keep it' }).click()
  await expect(ticket(page).getByRole('alert')).toContainText('/pins/20/chip pin 0 is there already')
  await text.fill(JSON.stringify({ ...profile, name: 'bench board of the studio' }))
  await ticket(page).getByRole('button', { name: 'Keep it' }).click()
  await expect(ticket(page).getByRole('heading', { level: 2 })).toHaveText('bench board of the studio')
  expect((await stored(page, copy)).boards.map(b => b.name)).toEqual(['bench board of the studio'])
  const [download] = await Promise.all([page.waitForEvent('download'), ticket(page).getByRole('button', { name: 'Save profile' }).click()])
  expect(download.suggestedFilename()).toBe('board-8bit-5v-2.json')
  await ticket(page).getByLabel('Board profile file').setInputFiles({ name: 'x.json', mimeType: 'application/json', buffer: Buffer.from('{"format":"nolvi-board"}') })
  await expect(ticket(page).getByRole('alert')).toContainText('/')
})

test('a sum by itself: a battery that lasts longer the less it wakes', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/wiring`)
  await page.getByRole('button', { name: 'A sum by itself' }).click()
  await ticket(page).locator('.el-select').first().click()
  await page.getByRole('option', { name: 'Battery life' }).click()
  await expect(ticket(page).locator('.sum')).toContainText('86 %')
  await ticket(page).getByLabel('Period').fill('60 s')
  await ticket(page).getByLabel('Period').press('Enter')
  await expect(ticket(page).locator('.sum')).toContainText('Way out: sleep longer')
  await ticket(page).getByLabel('Capacity').fill('2400 mAh')
  await ticket(page).getByLabel('Capacity').press('Enter')
  await expect(ticket(page).getByLabel('Capacity')).toHaveValue('2.4 Ah')
})
