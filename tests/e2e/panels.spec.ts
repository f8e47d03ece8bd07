import type { Page } from '@playwright/test'
import { panelOf } from '../../core/design/find'
import { kilnCorridor, showroom } from '../fixtures/designs'
import { expect, stored, test } from './nolvi'

async function pick(page: Page, label: string, option: string): Promise<void> {
  await page.locator('.el-select', { has: page.getByRole('combobox', { name: label }) }).click()
  await page.getByRole('option', { name: option }).click()
}
async function atRealSize(page: Page): Promise<void> {
  const glass = page.locator('[data-panel=apron-phone]')
  await expect(glass).toBeVisible()
  await page.keyboard.press('0')
  await expect
    .poll(async () => Number(await glass.getAttribute('data-px-per-mm')))
    .toBeGreaterThan(3)
}
const phoneOf = async (page: Page, id: string) => panelOf(await stored(page, id), 'apron-phone')

test('a load is dragged onto the glass, and lands on the millimetre grid with codes of its own', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/panels`)
  await atRealSize(page)
  const glass = page.locator('[data-panel=office-browser]')
  const row = page.locator('[data-load=rinse-pump]')
  const from = (await row.getByText('Rinse pump', { exact: true }).boundingBox())!
  const to = (await glass.boundingBox())!
  await page.mouse.move(from.x + 10, from.y + 8)
  await page.mouse.down()
  await page.mouse.move(to.x + 60, to.y + 300, { steps: 5 })
  await page.mouse.move(to.x + 130, to.y + 420, { steps: 8 })
  await page.mouse.up()
  await expect(glass.locator('[data-load-id=rinse-pump]')).toBeVisible()
  const design = await stored(page, copy)
  const panel = design.surfaces.find(s => s.id === 'office-browser')
  const key = panel?.kind === 'panel' ? panel.keys.find(k => k.loadId === 'rinse-pump') : undefined
  const pxPerMm = Number(await glass.getAttribute('data-px-per-mm'))
  // The middle of the key is under the pointer, to the nearest millimetre.
  expect(Math.abs(key!.xMm + key!.widthMm / 2 - 130 / pxPerMm)).toBeLessThanOrEqual(1)
  expect(Math.abs(key!.yMm + key!.heightMm / 2 - 420 / pxPerMm)).toBeLessThanOrEqual(1)
  expect(Number.isInteger(key!.xMm) && Number.isInteger(key!.yMm)).toBe(true)
  expect(
    design.links.find(l => l.id === 'office-link')?.messages.find(m => m.loadId === 'rinse-pump'),
  ).toMatchObject({ codes: { on: '/rinse/on', off: '/rinse/off' } })
})

test('a placed key is moved by hand and by keys, sized, changed in form, taken off', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/panels`)
  await atRealSize(page)
  const key = page.locator('[data-panel=apron-phone] [data-load-id=wheel-lights]')
  const box = (await key.boundingBox())!
  await page.mouse.move(box.x + 40, box.y + 30)
  await page.mouse.down()
  await page.mouse.move(box.x + 40, box.y + 200, { steps: 10 })
  await page.mouse.up()
  const keyNow = async () => {
    const panel = (await stored(page, copy)).surfaces.find(s => s.id === 'apron-phone')
    return panel?.kind === 'panel' ? panel.keys.find(k => k.loadId === 'wheel-lights') : undefined
  }
  await expect
    .poll(async () => (await keyNow())?.yMm)
    .toBe(
      40
        + Math.round(
          170
            / Number(await page.locator('[data-panel=apron-phone]').getAttribute('data-px-per-mm')),
        ),
    )
  const moved = (await keyNow())!
  await key.focus()
  await page.keyboard.press('ArrowDown')
  await page.keyboard.press('Shift+ArrowRight')
  await expect.poll(keyNow).toMatchObject({ yMm: moved.yMm + 1, widthMm: moved.widthMm + 1 })
  const ticket = page.getByRole('complementary', { name: 'Chosen part' })
  await ticket.getByText('pair of keys').click()
  await expect.poll(async () => (await keyNow())?.form).toBe('pair')
  await ticket.getByRole('button', { name: 'Take it off' }).click()
  await expect.poll(keyNow).toBeUndefined()
})

test('seen all at once a load is dragged as well, and lands under the pointer', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/panels`)
  const glass = page.locator('[data-panel=office-browser]')
  const from = (await page
    .locator('[data-load=rinse-pump]')
    .getByText('Rinse pump', { exact: true })
    .boundingBox())!
  const to = (await glass.boundingBox())!
  const pxPerMm = Number(await glass.getAttribute('data-px-per-mm'))
  expect(pxPerMm).toBeLessThan(3)
  await page.mouse.move(from.x + 10, from.y + 8)
  await page.mouse.down()
  await page.mouse.move(to.x + 60 * pxPerMm, to.y + 80 * pxPerMm, { steps: 5 })
  await page.mouse.move(to.x + 120 * pxPerMm, to.y + 100 * pxPerMm, { steps: 8 })
  await page.mouse.up()
  await expect(glass.locator('[data-load-id=rinse-pump]')).toBeVisible()
  const key = panelOf(await stored(page, copy), 'office-browser').keys.find(
    k => k.loadId === 'rinse-pump',
  )!
  expect(Math.abs(key.xMm + key.widthMm / 2 - 120)).toBeLessThanOrEqual(1)
  expect(Math.abs(key.yMm + key.heightMm / 2 - 100)).toBeLessThanOrEqual(1)
})

test('real size: a millimetre of the design is the measured millimetre of the screen', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/panels`)
  const glass = page.locator('[data-panel=apron-phone]')
  await expect(glass.locator('[data-load-id]').first()).toBeVisible()
  // All at once at first: both panels are seen whole.
  for (const panel of await page.locator('[data-panel]').all()) {
    const box = (await panel.boundingBox())!
    expect(box.x + box.width).toBeLessThan(1280 - 288)
    expect(box.y + box.height).toBeLessThan(800)
  }
  await page.keyboard.press('0')
  await expect.poll(async () => (await glass.boundingBox())!.width).toBeCloseTo((64 * 96) / 25.4, 0)
  await page.evaluate(() => localStorage.setItem('nolvi px per mm', '5'))
  await page.reload()
  expect((await glass.boundingBox())!.width).toBeCloseTo(320, 0)
  await page
    .locator('.el-select', { has: page.getByRole('combobox', { name: 'Size on screen' }) })
    .click()
  await page.getByRole('option', { name: '1.5 ×' }).click()
  await expect.poll(async () => (await glass.boundingBox())!.width).toBeCloseTo(480, 0)
})

test('a key too small for a thumb is told beside it and made large enough', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/panels`)
  await page.locator('[data-panel=apron-phone] [data-load-id=rinse-pump]').focus()
  const ticket = page.getByRole('complementary', { name: 'Chosen part' })
  await expect(ticket).toContainText('Rinse pump is too small for a thumb')
  await ticket.getByRole('button', { name: 'Make it large enough' }).click()
  await expect(ticket).not.toContainText('too small')
})

test('tried on the bench: the phone switches, the wall is not told to it', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/panels`)
  await page.getByText('On the bench').click()
  const phone = page.locator('[data-panel=apron-phone] [data-load-id=booth-extractor]')
  const room = page.locator('tr', { hasText: 'Booth extractor' })
  await phone.getByRole('button', { name: 'Booth extractor on' }).click()
  await expect(room).toContainText('on')
  await expect(phone).toHaveAttribute('data-shown', 'on')
  await room.getByRole('button', { name: 'press' }).click()
  await expect(room).toContainText('off')
  await expect(phone).toHaveAttribute('data-shown', 'on')
})

test('tried on a stand-in: the page in the frame is the built one', async ({
  page,
  copy,
  request,
}) => {
  await page.goto(`/d/${copy}/panels`)
  await page.getByText('On a stand-in').click()
  await page.getByRole('button', { name: 'Start a stand-in' }).first().click()
  const frame = page.frameLocator('iframe[title="Office browser on the stand-in"]')
  await frame.locator('[data-load-id=wheel-lights]').getByRole('button').click()
  await expect(frame.locator('[data-load-id=wheel-lights]')).toHaveAttribute('data-shown', 'on')
  const [standIn] = (await (await request.get(`/api/designs/${copy}/stand-ins`)).json()) as {
    id: string
    values: object
  }[]
  expect(standIn?.values).toMatchObject({ 'wheel-lights': 'on' })
  await request.delete(`/api/designs/${copy}/stand-ins/${standIn?.id}`)
})

test('several at once: chosen by a rectangle and by Shift, aligned, spread, copied, moved together, undone as one', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/panels`)
  const glass = page.locator('[data-panel=apron-phone]')
  const box = (await glass.boundingBox())!
  const mm = Number(await glass.getAttribute('data-px-per-mm'))
  await page.mouse.move(box.x + 1 * mm, box.y + 38 * mm)
  await page.mouse.down()
  await page.mouse.move(box.x + 60 * mm, box.y + 50 * mm, { steps: 4 })
  await page.mouse.up()
  const group = page.getByRole('complementary', { name: 'Chosen parts' })
  await expect(group).toContainText('2 parts')
  await glass.locator('[data-id=rinse-pump]').click({ modifiers: ['Shift'] })
  await expect(group).toContainText('3 parts')
  await group.getByRole('button', { name: 'left' }).click()
  await expect
    .poll(async () => (await phoneOf(page, copy)).keys.slice(1).map(k => k.xMm))
    .toEqual([3, 3, 3])
  await page.keyboard.press('Control+z')
  await expect
    .poll(async () => (await phoneOf(page, copy)).keys.slice(1).map(k => k.xMm))
    .toEqual([3, 33, 3])
  const before = (await phoneOf(page, copy)).keys
  await glass.locator('[data-id=wheel-lights]').focus()
  await page.keyboard.press('Control+ArrowDown')
  await expect
    .poll(async () =>
      (await phoneOf(page, copy)).keys.slice(1).map((k, i) => k.yMm - before[i + 1]!.yMm),
    )
    .toEqual([5, 5, 5])
  await page.keyboard.press('Control+d')
  await expect.poll(async () => (await phoneOf(page, copy)).keys.length).toBe(7)
  await expect(group).toContainText('3 parts')
  await page.keyboard.press('Control+z')
  await expect.poll(async () => (await phoneOf(page, copy)).keys.length).toBe(4)
})

test('pages by keyboard: a part goes to another page, the page turns with it; removing the page takes it along', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/panels`)
  const ticket = page.getByRole('complementary', { name: 'Look and pages of Apron phone' })
  await ticket.getByRole('button', { name: 'Another page' }).click()
  await ticket.getByRole('button', { name: 'show' }).click()
  await page.locator('[data-panel=apron-phone] [data-id=rinse-pump]').focus()
  await page.keyboard.press('PageDown')
  await expect(page.locator('[data-panel=apron-phone] .np-box')).toHaveCount(1)
  expect((await phoneOf(page, copy)).keys.map(k => k.page)).toEqual([0, 0, 0, 1])
  await page.locator('[data-panel=apron-phone] [data-id=rinse-pump]').focus()
  await page.keyboard.press('Escape')
  await ticket.getByRole('button', { name: 'Remove page Page 2' }).click()
  await expect.poll(async () => (await phoneOf(page, copy)).keys.length).toBe(3)
  await page.keyboard.press('Control+z')
  await expect.poll(async () => (await phoneOf(page, copy)).keys.length).toBe(4)
})

test('a look of its own, a picture behind, another glass: kept with the design, shown on the page', async ({
  page,
  copy,
  request,
}) => {
  await page.goto(`/d/${copy}/panels`)
  const ticket = page.getByRole('complementary', { name: 'Look and pages of Apron phone' })
  await ticket.getByRole('button', { name: 'cobalt' }).click()
  const picture = await page.evaluate(() => {
    const canvas = Object.assign(document.createElement('canvas'), { width: 2400, height: 3200 })
    const pen = canvas.getContext('2d')!
    for (let i = 0; i < 4000; i++) {
      pen.fillStyle = `hsl(${(i * 37) % 360} 60% 50%)`
      pen.fillRect((i * 71) % 2400, (i * 131) % 3200, 90, 90)
    }
    return canvas.toDataURL('image/jpeg', 0.9).split(',')[1]!
  })
  await ticket.getByLabel('Picture behind the keys').setInputFiles({
    name: 'room.jpg',
    mimeType: 'image/jpeg',
    buffer: Buffer.from(picture, 'base64'),
  })
  await expect(page.locator('[data-panel=apron-phone] img.np-behind')).toBeVisible()
  await ticket
    .getByLabel('Picture behind the keys')
    .setInputFiles({ name: 'notes.txt', mimeType: 'text/plain', buffer: Buffer.from('no picture') })
  await expect(ticket).toContainText('notes.txt is no picture that this browser can read.')
  await pick(page, 'Size of Apron phone', 'large phone')
  await page.getByRole('button', { name: 'Turn Apron phone' }).click()
  await expect
    .poll(async () => phoneOf(page, copy))
    .toMatchObject({ device: 'phone-large', landscape: true, theme: { ink: '#182a45' } })
  const panel = await phoneOf(page, copy)
  expect(panel.pages[0]!.picture!.length).toBeLessThanOrEqual(60_000)
  expect(panel.keys.every(k => k.yMm + k.heightMm <= 71 - 3 + 3)).toBe(true)
  const built = await (
    await request.get(`/api/designs/${copy}/build/panel-apron-phone.html`)
  ).text()
  expect(built).toContain('class="np-behind"')
  expect(built).toContain('#182a45')
})

test('a reading and a scene are placed, change their form by Enter, and show what the world gives on the bench', async ({
  page,
  put,
}) => {
  const id = await put(kilnCorridor())
  await page.goto(`/d/${id}/panels`)
  const glass = page.locator('[data-panel=office-window]')
  await page.getByRole('button', { name: ': place Last answer' }).nth(1).click()
  await glass.locator('[data-id=kiln-room]').focus()
  await page.keyboard.press('Enter')
  await expect(glass.locator('[data-id=kiln-room]')).toHaveAttribute('data-form', 'gauge')
  await glass.locator('[data-id=kiln-room]').focus()
  await page.keyboard.press('Enter')
  await expect(glass.locator('[data-id=kiln-room] svg path')).toHaveAttribute('d', /^M/)
  await page.keyboard.press('2')
  const world = page.getByRole('complementary')
  await world.getByText('wet at 100').click()
  await expect(glass.locator('[data-id=water-butt]')).toHaveAttribute('data-broken', 'true')
  await world.getByText('wet at 60').click()
  await expect(glass.locator('[data-id=water-butt] .np-value')).toHaveText('100')
  await glass.locator('[data-load-id=corridor-lights]').getByRole('button').click()
  await expect(glass.locator('[data-form=answers]')).toContainText('Corridor lights is on')
})

test('the world of a stand-in is turned at its wall, and its panels hear it', async ({
  page,
  put,
  standIn,
}) => {
  const { address } = await standIn(await put(kilnCorridor()))
  await page.goto(`${address}/panel/corridor-phone`)
  await expect(page.locator('[data-sensor=kiln-room] .np-value')).toHaveText('20')
  await page.request.post(`${address}/_wall/press`, { data: { sensorId: 'kiln-room', raw: [315] } })
  await expect(page.locator('[data-sensor=kiln-room] .np-value')).toHaveText('31.5')
  expect(
    (
      await page.request.post(`${address}/_wall/press`, {
        data: { sensorId: 'kiln-room', raw: 'hot' },
      })
    ).status(),
  ).toBe(404)
})

test('missed taps are counted on each key, and fewer where it is made larger', async ({
  page,
  copy,
}) => {
  await page.goto(`/d/${copy}/panels`)
  await page.getByRole('button', { name: 'Missed taps' }).click()
  await page.getByText('Count missed taps on each key').click()
  await page.keyboard.press('Escape')
  await page.locator('[data-panel=apron-phone] [data-id=rinse-pump]').focus()
  const ticket = page.getByRole('complementary', { name: 'Chosen part' })
  const missed = ticket.locator('dt:text-is("Missed taps") + dd')
  await expect(missed).toContainText('%')
  const before = Number.parseFloat(await missed.innerText())
  expect(before).toBeGreaterThan(3)
  await ticket.getByRole('button', { name: 'Make it large enough' }).click()
  await expect
    .poll(async () => Number.parseFloat(await missed.innerText()))
    .toBeLessThan(before / 1.5)
})

test('one layout on another panel, wall cards to print', async ({ page, put }) => {
  const id = await put(kilnCorridor())
  await page.goto(`/d/${id}/panels`)
  const ticket = page.getByRole('complementary', { name: 'Look and pages of Corridor phone' })
  await ticket.getByRole('button', { name: 'Office window' }).click()
  await expect
    .poll(async () => panelOf(await stored(page, id), 'office-window').keys.map(k => k.loadId))
    .toEqual(['corridor-lights', 'humidifier', 'roof-vent'])
  await page.evaluate(() => {
    window.print = () => undefined
  })
  await ticket.getByRole('button', { name: 'Print wall cards' }).click()
  const cards = page.frameLocator('iframe[title="Wall cards of Corridor phone"]')
  await expect(cards.getByRole('heading', { level: 2 })).toHaveText([
    'Corridor lights',
    'Humidifier',
    'Roof vent',
    'Store-room strike',
  ])
  await expect(cards.getByRole('img').first()).toHaveAttribute(
    'aria-label',
    'Square that opens http://192.168.4.1/#corridor-lights',
  )
})

test('a fader by finger on a touch screen', async ({ browser, put, standIn }) => {
  const room = showroom()
  const { address } = await standIn(
    await put({
      ...room,
      surfaces: room.surfaces.map(s =>
        s.kind === 'panel'
          ? {
              ...s,
              keys: s.keys.map(k =>
                k.loadId === 'shelf-lamps' ? { ...k, form: 'fader' as const } : k,
              ),
            }
          : s,
      ),
    }),
  )
  const context = await browser.newContext({
    hasTouch: true,
    viewport: { width: 800, height: 1100 },
  })
  const page = await context.newPage()
  await page.goto(`${address}/panel/till-tablet`)
  await expect(page.locator('.np-link')).toHaveAttribute('data-up', 'true')
  const track = (await page.getByLabel('Shelf lamps').boundingBox())!
  await page.touchscreen.tap(track.x + track.width * 0.75, track.y + track.height / 2)
  await expect(page.locator('[data-load-id=shelf-lamps]')).toHaveAttribute('data-shown', '75')
  await context.close()
})

test('an icon beside the name: by what the load is, another by choice, or none', async ({
  page,
  put,
}) => {
  const id = await put({ ...kilnCorridor(), id: 'icons' })
  await page.goto(`/d/${id}/panels`)
  const key = page.locator('.np-box[data-load-id="corridor-lights"]').first()
  await expect(key.locator('svg.np-icon')).toHaveCount(1)
  await key.click()
  const chosen = async () =>
    panelOf(await stored(page, id), 'corridor-phone').keys.find(k => k.loadId === 'corridor-lights')
      ?.icon
  await pick(page, 'Icon', 'fan')
  await expect.poll(chosen).toBe('fan')
  await expect(key.locator('svg.np-icon path').first()).toHaveAttribute('d', /^M10\.827/)
  await pick(page, 'Icon', 'no icon')
  await expect.poll(chosen).toBe('none')
  await expect(key.locator('svg.np-icon')).toHaveCount(0)
  await page.getByRole('button', { name: 'undo' }).click()
  await expect(key.locator('svg.np-icon')).toHaveCount(1)
})
