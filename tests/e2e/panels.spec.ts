import { expect, stored, test } from './nolvi'

test('a load is dragged onto the glass, and lands on the millimetre grid with codes of its own', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/panels`)
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
  expect(design.links.find(l => l.id === 'office-link')?.messages.find(m => m.loadId === 'rinse-pump')).toMatchObject({ codes: { on: '/rinse/on', off: '/rinse/off' } })
})

test('a placed key is moved by hand and by keys, sized, changed in form, taken off', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/panels`)
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
  await expect.poll(async () => (await keyNow())?.yMm).toBe(40 + Math.round(170 / Number(await page.locator('[data-panel=apron-phone]').getAttribute('data-px-per-mm'))))
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

test('real size: a millimetre of the design is the measured millimetre of the screen', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/panels`)
  const glass = page.locator('[data-panel=apron-phone]')
  expect((await glass.boundingBox())!.width).toBeCloseTo(64 * 96 / 25.4, 0)
  await page.evaluate(() => localStorage.setItem('nolvi px per mm', '5'))
  await page.reload()
  expect((await glass.boundingBox())!.width).toBeCloseTo(320, 0)
  await page.locator('.el-select', { has: page.getByRole('combobox', { name: 'Size on screen' }) }).click()
  await page.getByRole('option', { name: '1.5 ×' }).click()
  await expect.poll(async () => (await glass.boundingBox())!.width).toBeCloseTo(480, 0)
})

test('a key too small for a thumb is told beside it and made large enough', async ({ page, copy }) => {
  await page.goto(`/d/${copy}/panels`)
  await page.locator('[data-panel=apron-phone] [data-load-id=rinse-pump]').focus()
  const ticket = page.getByRole('complementary', { name: 'Chosen part' })
  await expect(ticket).toContainText('Rinse pump is too small for a thumb')
  await ticket.getByRole('button', { name: 'Make it large enough' }).click()
  await expect(ticket).not.toContainText('too small')
})

test('tried on the bench: the phone switches, the wall is not told to it', async ({ page, copy }) => {
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

test('tried on a stand-in: the page in the frame is the built one', async ({ page, copy, request }) => {
  await page.goto(`/d/${copy}/panels`)
  await page.getByText('On a stand-in').click()
  await page.getByRole('button', { name: 'Start a stand-in' }).first().click()
  const frame = page.frameLocator('iframe[title="Office browser on the stand-in"]')
  await frame.locator('[data-load-id=wheel-lights]').getByRole('button').click()
  await expect(frame.locator('[data-load-id=wheel-lights]')).toHaveAttribute('data-shown', 'on')
  const [standIn] = await (await request.get(`/api/designs/${copy}/stand-ins`)).json() as { id: string, values: object }[]
  expect(standIn?.values).toMatchObject({ 'wheel-lights': 'on' })
  await request.delete(`/api/designs/${copy}/stand-ins/${standIn?.id}`)
})
