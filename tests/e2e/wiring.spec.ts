import type { Page } from '@playwright/test'
import { SHIPPED } from '../../core/boards/boards'
import { needs } from '../../core/design/pins'
import { expect, stored, test, pick } from './nolvi'

const need = (page: Page, id: string) => page.locator(`[data-need="${id}"]`)
const ticket = (page: Page) => page.getByRole('complementary', { name: 'Wiring of what is chosen' })
const chipOf = async (page: Page, design: string, id: string) =>
  needs(await stored(page, design)).find(n => n.id === id)?.chip

test('a need is dragged to another pin, and moved with the arrows', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/wiring`)
  const from = (await need(page, 'load:rinse-pump').boundingBox())!
  const to = (await page.locator('[data-chip="12"]').boundingBox())!
  await page.mouse.move(from.x + 20, from.y + 12)
  await page.mouse.down()
  await page.mouse.move(to.x + 80, to.y + 10, { steps: 12 })
  await page.mouse.up()
  await expect.poll(() => chipOf(page, copy, 'load:rinse-pump')).toBe(12)
  await need(page, 'load:rinse-pump').focus()
  await page.keyboard.press('ArrowDown')
  await expect.poll(() => chipOf(page, copy, 'load:rinse-pump')).toBe(13)
  await expect(need(page, 'load:rinse-pump')).toBeFocused()
  // Up again, over taken pins and back: the keyboard reaches every free pin.
  await page.keyboard.press('ArrowUp')
  await page.keyboard.press('ArrowUp')
  await expect.poll(() => chipOf(page, copy, 'load:rinse-pump')).toBe(8)
})

test('another board keeps what fits, lists what does not, and moves only that', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/wiring`)
  await page.locator('.boards').click()
  await page
    .getByRole('option', { name: 'full Wi-Fi board, labels differ from chip numbers' })
    .click()
  const misfits = page.getByRole('status').filter({ hasText: 'not fit' })
  await expect(misfits).toContainText('Drying cupboard fan')
  await misfits.getByRole('button', { name: 'Move only these' }).click()
  await expect(ticket(page)).toContainText('Pins, assigned')
  const design = await stored(page, copy)
  expect(design.controllers[0]?.board).toBe('board-wifi-full')
  for (const n of needs(design))
    if (!n.fixed)
      expect(SHIPPED.find(b => b.id === 'board-wifi-full')!.pins.map(p => p.chip)).toContain(n.chip)
})

test('assign for me leaves kept pins, explains each choice, and is one undo', async ({
  page,
  copy,
}) => {
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
  await ticket(page)
    .getByRole('button', { name: /^Take the .*: all find a pin there/ })
    .click()
  await expect(page.getByRole('status').filter({ hasText: 'not fit' })).toHaveCount(0)
})

test('sums stand beside their part, change as values are typed, and mend with a press', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/wiring`)
  await expect(page.locator('.sums tbody tr').first()).toContainText('Rinse pump')
  await need(page, 'load:rinse-pump').click()
  const lead = ticket(page)
    .locator('.sum')
    .filter({ has: page.getByRole('heading', { name: 'Lead' }) })
  await expect(lead).toContainText('279 %')
  await lead.getByText('Figures and source').click()
  await expect(lead).toContainText('Vd = R x I')
  await ticket(page).getByLabel('Load current').fill('750mA')
  await ticket(page).getByLabel('Load current').press('Enter')
  await expect(lead).toContainText('139 %')
  await lead.getByRole('button', { name: 'Take 0.75 mm²' }).click()
  await expect(lead).toContainText('93 %')
  await ticket(page)
    .locator('.el-select')
    .filter({ has: page.getByLabel('Driven by') })
    .click()
  await page.getByRole('option', { name: 'relay coil behind a transistor' }).click()
  await expect(ticket(page).locator('.sum', { hasText: 'Coil driver' })).toContainText('saturation')
})

test('a unit that is wrong or a value that cannot be is told, and nothing changes', async ({
  page,
  copy,
}) => {
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
  await input.setInputFiles({
    name: 'press.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('0,1\n1,0\n1.0121,1\n1.0282,0\n'),
  })
  await expect(ticket(page)).toContainText('press.csv: longest bounce 28.2 ms in 1 movements')
  await ticket(page).getByRole('button', { name: 'Debounce 43 ms' }).click()
  await expect
    .poll(async () => JSON.stringify((await stored(page, copy)).surfaces[0]))
    .toContain('"debounceMs":43')
  await input.setInputFiles({
    name: 'noise.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('hello,there\nyou,too\n'),
  })
  await expect(ticket(page).getByRole('alert')).toContainText('noise.csv')
})

test('an own board: duplicated, changed as text, refused where it cannot be, saved', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/wiring`)
  await ticket(page).getByRole('button', { name: 'Duplicate' }).click()
  const text = ticket(page).getByLabel('Board profile as JSON')
  const profile = JSON.parse(await text.inputValue())
  await text.fill(JSON.stringify({ ...profile, pins: [...profile.pins, { ...profile.pins[0] }] }))
  await ticket(page).getByRole('button', { name: 'Keep it' }).click()
  await expect(ticket(page).getByRole('alert')).toContainText(
    '/pins/20/chip pin 0 is there already',
  )
  await text.fill(JSON.stringify({ ...profile, name: 'bench board of the studio' }))
  await ticket(page).getByRole('button', { name: 'Keep it' }).click()
  await expect(ticket(page).getByRole('heading', { level: 2 })).toHaveText(
    'bench board of the studio',
  )
  expect((await stored(page, copy)).boards.map(b => b.name)).toEqual(['bench board of the studio'])
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    ticket(page).getByRole('button', { name: 'Save profile' }).click(),
  ])
  expect(download.suggestedFilename()).toBe('board-8bit-5v-2.json')
  await ticket(page)
    .getByLabel('Board profile file')
    .setInputFiles({
      name: 'x.json',
      mimeType: 'application/json',
      buffer: Buffer.from('{"format":"nolvi-board"}'),
    })
  await expect(ticket(page).getByRole('alert')).toContainText('/')
})

test('a sum by itself: a battery that lasts longer the less it wakes', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/wiring`)
  await page.getByRole('button', { name: 'A sum', exact: true }).click()
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

test('a sensor is added, typed, kept, and taken away again', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/wiring`)
  await page.getByRole('button', { name: 'Add a part' }).click()
  await page.getByRole('menuitem', { name: 'floats in a tank' }).click()
  await expect(ticket(page)).toContainText('4 levels can be read. The other 4 of 8 readings')
  await ticket(page).getByRole('button', { name: 'Another float' }).click()
  await expect(ticket(page)).toContainText('5 levels can be read. The other 11 of 16 readings')
  await ticket(page).getByLabel('Level of float 4').fill('95')
  await ticket(page).getByLabel('Level of float 4').press('Enter')
  // A float below the one before cannot be: it is told, and nothing changes.
  await expect(page.getByText('floats go up')).toBeVisible()
  await ticket(page).getByLabel('Name of the sensor').fill('Water butt')
  await ticket(page).getByLabel('Name of the sensor').press('Enter')
  await expect
    .poll(async () => (await stored(page, copy)).sensors.map(s => s.name))
    .toEqual(['Water butt'])
  const floats = (await stored(page, copy)).sensors.flatMap(s =>
    s.kind === 'floats' ? s.floats : [],
  )
  expect(new Set(floats.map(f => f.pin)).size).toBe(4)
  expect(floats.map(f => f.level)).toEqual([20, 60, 100, 110])
  await ticket(page).getByLabel('Name of the sensor').blur()
  await ticket(page).getByRole('button', { name: 'Remove Water butt' }).click()
  await expect.poll(async () => (await stored(page, copy)).sensors).toEqual([])
})

test('keys of an infrared remote: codes in hexadecimal, what each asks for', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/wiring`)
  await page.getByRole('button', { name: 'Add a part' }).click()
  await page.getByRole('menuitem', { name: 'infrared receiver' }).click()
  await ticket(page).getByRole('button', { name: 'Another key' }).click()
  await ticket(page).getByLabel('Code of key 1, hexadecimal').fill('0x1F')
  await ticket(page).getByLabel('Code of key 1, hexadecimal').press('Enter')
  await ticket(page)
    .locator('.el-select')
    .filter({ has: page.getByLabel('What key 1 asks for') })
    .click()
  await page.getByRole('option', { name: 'Rinse pump: off' }).click()
  await expect
    .poll(async () => JSON.stringify((await stored(page, copy)).sensors[0]))
    .toContain('"command":31,"loadId":"rinse-pump","asks":"off"')
  await ticket(page).getByLabel('Address of key 1, hexadecimal').fill('zz')
  await ticket(page).getByLabel('Address of key 1, hexadecimal').press('Enter')
  await expect(ticket(page).getByRole('alert')).toContainText('hexadecimal')
})

test('a board in front: its voltages, its speed, taken away and put back', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/wiring`)
  await need(page, 'front:receive').click()
  await expect(
    ticket(page).getByRole('heading', { name: 'Wire between two voltages' }),
  ).toBeVisible()
  await ticket(page)
    .locator('.el-select')
    .filter({ has: page.getByLabel('Between the voltages') })
    .click()
  await page.getByRole('option', { name: 'nothing' }).click()
  await expect(
    ticket(page).locator('.sum', { hasText: 'Wire between two voltages' }),
  ).toContainText('Way out')
  await ticket(page).getByRole('button', { name: 'Put a divider between' }).click()
  await expect.poll(async () => (await stored(page, copy)).front?.shift).toBe('divider')
  await ticket(page).getByRole('button', { name: 'Take it away' }).click()
  await expect(need(page, 'front:receive')).toHaveCount(0)
  await page.locator('.strip').getByRole('button', { name: 'Board' }).click()
  await ticket(page).getByRole('button', { name: 'Put a network board in front' }).click()
  await expect(need(page, 'front:receive')).toHaveCount(1)
})

test('a motor that turns both ways gets a bridge, its sums, and its caution', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/sheet`)
  await page.getByRole('rowheader', { name: /Rinse pump/ }).click()
  await page
    .locator('.ticket .el-select')
    .filter({ has: page.getByLabel('Kind of output') })
    .click()
  await page.getByRole('option', { name: 'forward and reverse' }).click()
  await expect.poll(async () => (await stored(page, copy)).loads[3]?.output.kind).toBe('opposed')
  await page.goto(`/d/${copy}/wiring`)
  await need(page, 'load:rinse-pump').click()
  await ticket(page).getByText('motion').click()
  await expect(ticket(page)).toContainText('What moves can crush or cut')
})

test('by keyboard alone: find a part, move it, change its driver and its figures, add a sensor, assign, undo', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/wiring`)
  await need(page, 'load:rinse-pump').waitFor()
  const key = (...names: string[]) =>
    names.reduce((before, name) => before.then(() => page.keyboard.press(name)), Promise.resolve())
  const focusedOn = (text: string | RegExp) =>
    expect(page.locator(':focus')).toHaveAccessibleName(text)
  /** Tabs until what has the focus is called so. */
  const tabTo = async (name: RegExp) => {
    for (let i = 0; i < 90; i++) {
      await page.keyboard.press('Tab')
      const is = await page.evaluate(() => {
        const e = document.activeElement as HTMLElement | null
        return `${e?.getAttribute('aria-label') ?? ''} ${e?.textContent?.trim().slice(0, 60) ?? ''}`
      })
      if (name.test(is)) return
    }
    throw new Error(`no way to ${name} by Tab`)
  }
  await tabTo(/^ ?Rinse pump/)
  await key('Enter', 'ArrowDown')
  await expect.poll(() => chipOf(page, copy, 'load:rinse-pump')).toBe(12)
  await tabTo(/^Driven by/)
  await key('Enter', 'ArrowDown', 'Enter')
  await expect
    .poll(
      async () =>
        (await stored(page, copy)).loads.find(l => l.id === 'rinse-pump')?.wiring.driver.kind,
    )
    .toBe('coil')
  await tabTo(/^Load current/)
  await page.keyboard.type('')
  await key('Control+a')
  await page.keyboard.type('400 mA')
  await key('Enter')
  await expect
    .poll(
      async () =>
        (await stored(page, copy)).loads.find(l => l.id === 'rinse-pump')?.wiring.load?.amps,
    )
    .toBe(0.4)
  await focusedOn('Load current')
  // Shift and Tab lead back to the strip above.
  await page.getByRole('button', { name: 'Add a part' }).focus()
  await key('Enter')
  await page.getByRole('menuitem', { name: 'infrared receiver' }).waitFor()
  // The menu takes the focus a moment after it opens.
  await expect(async () => {
    await key('ArrowDown')
    await expect(page.locator('[role=menuitem]:focus')).toHaveCount(1, { timeout: 200 })
  }).toPass()
  await key('Enter')
  await expect.poll(async () => (await stored(page, copy)).sensors.length).toBe(1)
  await page.getByRole('button', { name: 'Assign pins for me' }).focus()
  await key('Enter')
  await expect(ticket(page)).toContainText('Pins, assigned')
  await key('Control+z', 'Control+z')
  await expect.poll(async () => (await stored(page, copy)).sensors.length).toBe(0)
})

test('the circuit: a press on a part opens its sums, a lamp and an expander are drawn', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/wiring`)
  for (const part of ['lamp of a link', 'shift registers']) {
    await page.getByRole('button', { name: 'Add a part' }).click()
    await page.getByRole('menuitem', { name: part }).click()
  }
  await expect(ticket(page)).toContainText('a change reaches its pins within 0.1 ms')
  await page.getByText('Circuit', { exact: true }).click()
  const sheets = page.locator('.sheets figure')
  await expect(sheets).toHaveCount(4)
  await sheets.nth(0).locator('[data-ref="Q1"]').click()
  await expect(ticket(page)).toContainText('On-resistance')
  await expect(sheets.nth(2)).toContainText('Shift registers')
  await sheets.nth(2).locator('[data-ref^="H"]').first().click()
  await expect(ticket(page)).toContainText('It is on while the link is connected')
})

test('regulators stand in the chain of supply, each with its sum', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/wiring`)
  await ticket(page).getByLabel('Supply voltage').fill('12 V')
  await ticket(page).getByLabel('Supply voltage').press('Enter')
  await ticket(page).getByRole('button', { name: 'Add a regulator' }).click()
  await expect(ticket(page)).toContainText('12 V from the supply to 5 V')
  await pick(page, 'What feeds the board', '5 V rail, 5 V')
  await expect(ticket(page)).toContainText('board 50 mA')
})
