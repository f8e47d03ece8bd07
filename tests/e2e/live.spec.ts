/** Live, with what is real: stand-ins, the emulated board behind ports of the browser, a run. */
import type { Page } from '@playwright/test'
import type { Design } from '../../core/design/schema'
import { fanDesign, glazeRoom, over, patient, tellingAll } from '../fixtures/designs'
import { SerialChip } from '../fixtures/serial-chip'
import { expect, pick, stored, test } from './nolvi'

const told = (): Design => patient(tellingAll(glazeRoom()))

/** In Live, every link of what runs here. */
async function connected(page: Page, id: string): Promise<void> {
  await page.goto(`/d/${id}/live`)
  await page.getByRole('button', { name: 'Connect its links' }).click()
  await expect(page.locator('[data-load=wheel-lights] td').nth(1)).toContainText('off')
}

test('a stand-in: connected, pressed, seen, measured, and its times taken over', async ({
  page,
  put,
  standIn,
}) => {
  const id = await put(told())
  const { address } = await standIn(id)
  await page.goto(`/d/${id}/live`)
  await page.getByRole('button', { name: 'Connect its links' }).click()
  const row = page.locator('[data-load=wheel-lights]')
  await expect(row).toContainText('off')
  await page.getByRole('button', { name: 'Ask for Wheel lights on' }).click()
  await expect(row.locator('td').nth(0)).toContainText('on')
  await expect(row.locator('td').nth(1)).toContainText('on')
  await expect(row.locator('td').nth(2)).toContainText('on')
  const traffic = page.locator('.traffic')
  await expect(traffic).toContainText('Asks for Wheel lights on')
  await expect(traffic).toContainText('Wheel lights is on')
  // What somebody else does is seen as it comes.
  await page.request.get(`${address}/lights/off`)
  await expect(row.locator('td').nth(1)).toContainText('off')
  await traffic.getByText(/^not understood/).click()
  await traffic.getByLabel(/^Say over/).fill('zz')
  await traffic.getByRole('button', { name: 'Say it' }).click()
  await expect(traffic.locator('tr')).toContainText(['Not in the table'])
  const times = page.getByRole('complementary', { name: 'Measured and tried' })
  const office = times.locator('section', { hasText: 'Office browser link' })
  await office.getByRole('button', { name: 'Ask 200 times' }).click()
  await expect(office).toContainText(/There and back, \d{2,} answers/)
  await office.getByRole('button', { name: 'Take these over' }).click()
  const design = await stored(page, id)
  expect(design.links[1]!.timing.p99Ms).toBeLessThan(told().links[1]!.timing.p99Ms)
  await page.goto(`/d/${id}/log`)
  await expect(page.locator('.entry').first()).toContainText('easured: Office browser link')
})

test('the panel in use shows what was said, and its keys ask the board', async ({
  page,
  put,
  standIn,
}) => {
  const id = await put(told())
  await standIn(id)
  await connected(page, id)
  const panel = page.locator('section', { hasText: 'Apron phone in use' }).locator('.np')
  const lights = panel.locator('[data-load-id=wheel-lights]').first()
  await expect(lights).toHaveAttribute('data-shown', 'off')
  await lights.getByRole('button').first().click()
  await expect(lights).toHaveAttribute('data-shown', 'on')
  await expect(page.locator('[data-load=wheel-lights] td').nth(0)).toContainText('on')
  await page.getByRole('button', { name: /^Let Apron phone link go/ }).click()
  await expect(panel).toHaveCount(0)
})

test('a capture beside the design, and played on the bench', async ({ page, put }) => {
  const id = await put(told())
  await page.goto(`/d/${id}/live`)
  await page.getByRole('button', { name: 'Read a capture' }).click()
  await page.getByLabel('Capture to read').setInputFiles({
    name: 'evening.log',
    mimeType: 'text/plain',
    buffer: Buffer.from('0.5 s > L\n0.54 s < +L\n3.0 s > l\n6 s > x'),
  })
  await page.getByText('beside the design').click()
  const rows = page.locator('.beside tbody tr')
  await expect(rows.filter({ hasText: '40 ms' })).toContainText('Wheel lights is on')
  await expect(rows.filter({ hasText: 'nothing came' })).toContainText('Wheel lights is off')
  await page.getByRole('button', { name: 'Play it on the bench' }).click()
  await expect(page).toHaveURL(/bench/)
  await expect(page.getByText('evening.log, as the design answers it')).toBeVisible()
})

/** A port of the browser whose other end is at the test. */
function portDouble(): void {
  const w = window as never as {
    toBoard: (bytes: number[]) => Promise<void>
    opened: (isUp: boolean) => Promise<void>
    fromBoard: (bytes: number[]) => void
    pull: () => void
    plug: () => void
  }
  let out: ReadableStreamDefaultController<Uint8Array> | null = null
  const listeners: (() => void)[] = []
  const port = {
    readable: null as ReadableStream<Uint8Array> | null,
    writable: null as WritableStream<Uint8Array> | null,
    isOpen: false,
    close() {
      port.isOpen = false
      return w.opened(false)
    },
    open() {
      if (port.isOpen) throw new DOMException('open already', 'InvalidStateError')
      port.isOpen = true
      port.readable = new ReadableStream({
        start(controller) {
          out = controller
        },
      })
      port.writable = new WritableStream({
        write: bytes => w.toBoard([...(bytes as Uint8Array)]),
      })
      return w.opened(true)
    },
  }
  w.fromBoard = bytes => out?.enqueue(Uint8Array.from(bytes))
  w.pull = () => {
    out?.error(new DOMException('gone', 'NetworkError'))
    out = null
    void w.opened(false)
  }
  w.plug = () => {
    for (const listener of listeners) listener()
  }
  Object.defineProperty(navigator, 'serial', {
    value: {
      requestPort: () => Promise.resolve(port),
      addEventListener: (_: string, listener: () => void) => listeners.push(listener),
    },
  })
}

/** Low-energy Bluetooth of the browser, with a board behind its two characteristics. */
function radioDouble(): void {
  const w = window as never as {
    toBoard: (bytes: number[]) => Promise<void>
    opened: (isUp: boolean) => Promise<void>
    fromBoard: (bytes: number[]) => void
    pull: () => void
  }
  class Characteristic extends EventTarget {
    value?: DataView
    startNotifications = () => Promise.resolve()
    writeValueWithResponse = (bytes: Uint8Array) => w.toBoard([...bytes])
  }
  class Device extends EventTarget {
    reachable = true
    gatt = {
      connect: async () => {
        if (!this.reachable) throw new DOMException('away', 'NetworkError')
        await w.opened(true)
        return this.gatt
      },
      getPrimaryService: () =>
        Promise.resolve({ getCharacteristic: () => Promise.resolve(characteristic) }),
    }
  }
  const characteristic = new Characteristic()
  const device = new Device()
  w.fromBoard = bytes => {
    characteristic.value = new DataView(Uint8Array.from(bytes).buffer)
    characteristic.dispatchEvent(new Event('characteristicvaluechanged'))
  }
  w.pull = () => {
    void w.opened(false)
    device.dispatchEvent(new Event('gattserverdisconnected'))
  }
  Object.defineProperty(navigator, 'bluetooth', {
    value: { requestDevice: () => Promise.resolve(device) },
  })
}

async function boardBehind(page: Page, chip: SerialChip, double: () => void): Promise<void> {
  await page.exposeFunction('toBoard', (bytes: number[]) => chip.hear(bytes))
  await page.exposeFunction('opened', (isUp: boolean) => chip.connect(isUp))
  chip.says = bytes => {
    page
      .evaluate(b => (window as never as { fromBoard: (b: number[]) => void }).fromBoard(b), bytes)
      .catch(() => undefined)
  }
  await page.addInitScript(double)
}

for (const [what, double, choice] of [
  ['a serial port', portDouble, 'a port of this browser'],
  ['low-energy Bluetooth', radioDouble, 'Bluetooth of this browser'],
] as const)
  test(`${what} of the browser: the emulated board is heard, pressed, lost and back`, async ({
    page,
    put,
  }) => {
    const wired = fanDesign()
    const link = wired.links[0]!
    const chip = new SerialChip(wired, 'statusPin' in link ? link.statusPin : null)
    try {
      const design = double === radioDouble ? over(wired, 'low-energy') : wired
      const id = await put(design)
      await boardBehind(page, chip, double)
      await page.goto(`/d/${id}/live`)
      await expect(page.locator('.way').first()).toContainText(choice)
      const connect = page.locator('.choosing').getByRole('button', { name: /^Connect / })
      await connect.click()
      const row = page.locator(`[data-load=${wired.loads[0]!.id}]`)
      await expect(row.locator('td').first()).toContainText('off')
      expect(chip.isOn(wired.loads[0]!.id)).toBe(false)
      await row.getByRole('button', { name: /on$/ }).click()
      await expect(row.locator('td').first()).toContainText('on')
      await expect.poll(() => chip.isOn(wired.loads[0]!.id)).toBe(true)
      await page.evaluate(() => (window as never as { pull: () => void }).pull())
      await expect(page.locator('.cause')).toContainText(/was lost|out of reach/)
      if (double === portDouble)
        await page.evaluate(() => (window as never as { plug: () => void }).plug())
      await expect(page.locator('.strip svg').first()).toHaveAttribute('aria-label', 'connected')
      await row.getByRole('button', { name: /off$/ }).click()
      await expect.poll(() => chip.isOn(wired.loads[0]!.id)).toBe(false)
      // Let go, the port is free, and can be had again.
      await page.locator('.strip').getByRole('button', { name: /^Let / }).click()
      await expect(page.locator('.strip')).toContainText('Nothing is connected')
      await connect.click()
      await expect(row.locator('td').nth(1)).toContainText('off')
    } finally {
      chip.stop()
    }
  })

test('the emulated board in the place of a port: pressed, and tried against the design', async ({
  page,
  put,
}) => {
  const id = await put(patient(fanDesign()))
  await page.goto(`/d/${id}/live`)
  await pick(page, 'How Phone link is reached', 'the emulated board')
  await page.getByRole('button', { name: 'Connect Phone link' }).click()
  const row = page.locator(`[data-load=${fanDesign().loads[0]!.id}]`)
  await row.getByRole('button', { name: /on$/ }).click()
  await expect(row.locator('td').first()).toContainText('on')
  await page.getByRole('button', { name: 'Try it' }).click()
  await page.getByRole('tooltip').getByRole('button', { name: 'Try it' }).click()
  await expect(page.getByText(/of \d+ messages?, .* as the design has/)).toBeVisible({
    timeout: 90_000,
  })
  // As fast as the clock it lags on a busy machine: that nothing differs is held in simulated time.
})

test('commissioning in the hand: ticks itself, asks, goes on where it was left, and is printed', async ({
  page,
  put,
  standIn,
  request,
}) => {
  const id = await put(told())
  await standIn(id)
  await connected(page, id)
  await page.setViewportSize({ width: 380, height: 760 })
  await page.goto(`/commissioning/${id}`)
  await page.getByRole('button', { name: 'Begin' }).click()
  const yes = page.getByRole('button', { name: 'Yes', exact: true })
  await expect(page.locator('.asks')).toContainText('was it written from this revision?')
  await page.keyboard.press('y')
  // Both links tick themselves.
  await page.getByRole('button', { name: 'Switch it now' }).click()
  await expect(page.locator('.heard')).toContainText(/says Booth extractor on, \d+ ms/)
  await yes.click()
  await page.getByRole('button', { name: 'Switch it now' }).click()
  await page.getByRole('button', { name: 'Another one did' }).click()
  await page.getByRole('button', { name: 'Wheel lights' }).click()
  await expect(page.getByRole('heading')).toHaveText('It differs')
  await expect(page.locator('.cause')).toContainText('Booth extractor moves Wheel lights')
  // Left, and gone on with.
  await page.goto(`/d/${id}/live`)
  await page.getByRole('link', { name: 'Go on' }).click()
  await page.getByRole('button', { name: 'Try it again' }).click()
  await page.getByRole('button', { name: 'Switch it now' }).click()
  await yes.click()
  await expect(page.locator('header')).toContainText(/[6-9] of \d+/)
  const records = (await (await request.get(`/api/designs/${id}/records`)).json()) as {
    id: number
    kind: string
  }[]
  expect(records.filter(r => r.kind === 'commissioning')).toHaveLength(1)
  const sheet = await (
    await request.get(`/api/designs/${id}/records/${records[0]!.id}/sheet`)
  ).text()
  expect(sheet).toContain('Commissioning of Glaze room')
  expect(sheet).toMatch(/says Booth extractor on after \d+ ms/)
  expect(await (await request.get(`/api/designs/${id}/as-built`)).text()).toContain('as built')
})

test('the board against the design, and a capture with what is wrong in it', async ({
  page,
  put,
  standIn,
}) => {
  const id = await put(told())
  await standIn(id)
  await connected(page, id)
  await page.getByRole('button', { name: 'Try it' }).click()
  await page.getByRole('button', { name: 'Try it', exact: true }).last().click()
  const side = page.getByRole('complementary', { name: 'Measured and tried' })
  await expect(side).toContainText(/(\d+) of \1 messages, (\d+) of \2 drills as the design has/, {
    timeout: 120_000,
  })
  await page.getByRole('button', { name: 'Read a capture' }).click()
  await page.getByLabel('Capture to read').setInputFiles({
    name: 'evening.log',
    mimeType: 'text/plain',
    buffer: Buffer.from('10:00:01.250 > E\n10:00:01.310 < +E\n10:00:02.000 > Q\n'),
  })
  const capture = page.locator('.capture')
  await expect(capture).toContainText('Unknown code: no code of this link')
  await expect(capture).toContainText('after 60 ms')
  await page.goto(`/d/${id}/log`)
  await expect(page.locator('.entry').first()).toContainText('no difference')
  await page.getByRole('button', { name: 'Write a note' }).click()
  await page.getByRole('textbox', { name: 'Note' }).fill('Its fuse is 2 A.')
  await page.getByRole('button', { name: 'Keep the note' }).click()
  await expect(page.locator('.entry').first()).toContainText('ts fuse is 2 A.')
})
