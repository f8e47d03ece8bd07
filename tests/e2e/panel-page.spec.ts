/**
 * The page that is given away, in a real browser: the same beliefs as on the bench, guards, faders,
 * readings, links that fail.
 */
import { createServer, type Server, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'
import fc from 'fast-check'
import { panelPage } from '../../core/sides/panel-page'
import { siteFiles } from '../../core/sides/panel-site'
import { panelOf } from '../../core/design/find'
import { layOut } from '../../core/panels/auto'
import { firstKey } from '../../core/panels/layout'
import type { Design, HttpLink, LinkOf, Message } from '../../core/design/schema'
import { spokenValues } from '../../core/design/values'
import { reportText } from '../../core/messages/table'
import { readingWire } from '../../core/messages/readings'
import {
  compileSurface,
  surfaceStep,
  shown,
  startSurface,
  type SurfaceState,
} from '../../core/surfaces/surface'
import { edited, kilnCorridor, showroom, starter } from '../fixtures/designs'
import { expect, test } from './nolvi'

/** A server that has one page and no board behind it. */
async function served(html: string): Promise<{ at: string; close: () => void }> {
  const server = createServer(
    (_, response) =>
      void response.writeHead(200, { 'content-type': 'text/html; charset=utf-8' }).end(html),
  )
  await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve))
  return {
    at: `http://127.0.0.1:${(server.address() as AddressInfo).port}/`,
    close: () => server.close(),
  }
}

/** A controller that says what it is told to say, and keeps what it was asked. */
class Puppet {
  readonly asked: string[] = []
  private readonly streams = new Set<ServerResponse>()
  private readonly server: Server
  private readonly pulse: ReturnType<typeof setInterval>
  refuse = false
  /** It hangs: connections stay open, and nothing comes on them any more. */
  stalled = false
  /** What the next command is answered: status and text. */
  answer: [number, string] | null = null
  /** `routes`: what certain routes answer. */
  constructor(design: Design, surfaceId: string, routes: Record<string, string> = {}) {
    const page = panelPage(design, surfaceId)
    const link = design.links.find(l => l.id === panelOf(design, surfaceId).linkId) as HttpLink
    this.server = createServer((request, response) => {
      const path = request.url ?? ''
      if (path === '/page')
        return void response
          .writeHead(200, { 'content-type': 'text/html; charset=utf-8' })
          .end(page)
      if (this.refuse) return void response.destroy()
      if (this.stalled) return
      if (path === link.eventsRoute) {
        response.writeHead(200, { 'content-type': 'text/event-stream' }).write(': open\n\n')
        this.streams.add(response)
        return
      }
      this.asked.push(path)
      if (this.answer && path !== link.askRoute && path !== link.helloRoute) {
        const [status, text] = this.answer
        this.answer = null
        return void response.writeHead(status).end(text)
      }
      response.end(routes[path] ?? '')
    })
    this.pulse = setInterval(() => {
      if (!this.stalled) for (const s of this.streams) s.write('event: alive\ndata:\n\n')
    }, 300)
  }

  async listen(): Promise<string> {
    await new Promise<void>(resolve => this.server.listen(0, '127.0.0.1', resolve))
    return `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`
  }

  say(text: string): void {
    for (const s of this.streams)
      s.write(
        text
          .split('\n')
          .map(line => `data: ${line}\n`)
          .join('') + '\n',
      )
  }

  drop(): void {
    for (const s of this.streams) s.destroy()
    this.streams.clear()
  }

  close(): void {
    clearInterval(this.pulse)
    this.server.closeAllConnections()
    this.server.close()
  }
}

test('given the same messages, page and bench end in the same shown state', async ({ page }) => {
  const design = kilnCorridor()
  const link = design.links[0] as HttpLink
  const program = compileSurface(design, 'corridor-phone')
  const puppet = new Puppet(design, 'corridor-phone')
  await page.goto(`${await puppet.listen()}/page`)
  await expect(page.locator('.np-link')).toHaveAttribute('data-up', 'true')
  const texts = [
    ...link.messages.flatMap(m =>
      spokenValues(design.loads.find(l => l.id === m.loadId)!.output).map(v =>
        reportText(
          link,
          design.loads.find(l => l.id === m.loadId)!,
          m,
          v,
        ),
      ),
    ),
    ...link.readings.flatMap(r => ['21.5', '-3', 'broken', '60'].map(v => readingWire(link, r, v))),
    'nonsense',
    'corridor-lights=7',
    'humidifier=1\nroof-vent=reverse',
  ]
  let state: SurfaceState = surfaceStep(program, startSurface(program), {
    kind: 'linkUp',
    now: 0,
  }).state
  for (const said of fc.sample(
    fc.array(fc.constantFrom(...texts), { minLength: 1, maxLength: 6 }),
    { numRuns: 25, seed: 5 },
  )) {
    for (const text of said) {
      puppet.say(text)
      state = surfaceStep(program, state, { kind: 'received', now: 1, via: 'stream', text }).state
    }
    const wanted = {
      ...Object.fromEntries(design.loads.map((l, i) => [l.id, shown(state.beliefs[i]!)])),
      ...Object.fromEntries(design.sensors.map((s, i) => [s.id, state.readings[i]!.text])),
    }
    await expect
      .poll(() =>
        page.evaluate(() => ({
          ...Object.fromEntries(
            [...document.querySelectorAll<HTMLElement>('[data-load-id]')].map(b => [
              b.dataset.loadId,
              b.dataset.shown,
            ]),
          ),
          ...Object.fromEntries(
            [...document.querySelectorAll<HTMLElement>('[data-sensor]')].map(b => [
              b.dataset.sensor,
              b.dataset.shown === 'unknown' ? '' : b.querySelector('.np-value')?.textContent,
            ]),
          ),
        })),
      )
      .toEqual(wanted)
  }
  puppet.close()
})

test('a lock that is slid frees its keys for a while; ending needs no guard; by keyboard as well', async ({
  page,
}) => {
  const puppet = new Puppet(kilnCorridor(), 'office-window')
  await page.goto(`${await puppet.listen()}/page`)
  const vent = page.locator('[data-load-id=roof-vent]')
  await expect(page.locator('.np-link')).toHaveAttribute('data-up', 'true')
  await vent.getByRole('button', { name: 'Roof vent forward' }).click()
  await vent.getByRole('button', { name: 'Roof vent stop' }).click()
  await expect.poll(() => puppet.asked.filter(a => a.startsWith('/roof'))).toEqual(['/roof/stop'])
  await page.getByLabel('Slide to free Roof vent').focus()
  await page.keyboard.press('End')
  await expect(vent).toHaveAttribute('data-open', 'true')
  await vent.getByRole('button', { name: 'Roof vent forward' }).click()
  await expect
    .poll(() => puppet.asked.filter(a => a.startsWith('/roof')))
    .toEqual(['/roof/stop', '/roof/forward'])
  await expect(vent).not.toHaveAttribute('data-open', 'true')
  // By finger: drawn half way it goes back.
  const lock = (await page.getByLabel('Slide to free Roof vent').boundingBox())!
  await page.mouse.move(lock.x + 15, lock.y + lock.height / 2)
  await page.mouse.down()
  await page.mouse.move(lock.x + lock.width / 2, lock.y + lock.height / 2, { steps: 4 })
  await page.mouse.up()
  await expect(page.getByLabel('Slide to free Roof vent')).toHaveValue('0')
  await page.mouse.move(lock.x + 15, lock.y + lock.height / 2)
  await page.mouse.down()
  await page.mouse.move(lock.x + lock.width - 5, lock.y + lock.height / 2, { steps: 8 })
  await page.mouse.up()
  await expect(vent).toHaveAttribute('data-open', 'true')
  puppet.close()
})

test('hold to confirm, PIN, fader, typed number, timer, scene', async ({ page }) => {
  const changed = edited(
    kilnCorridor(),
    { type: 'setKeyForm', surfaceId: 'corridor-phone', keyId: 'corridor-lights', form: 'timer' },
    { type: 'setItem', surfaceId: 'corridor-phone', keyId: 'humidifier', patch: { guard: 'hold' } },
    {
      type: 'setItem',
      surfaceId: 'corridor-phone',
      keyId: 'store-strike',
      patch: { guard: 'pin' },
    },
    { type: 'setBelief', surfaceId: 'corridor-phone', patch: { retries: 0 } },
  )
  const design = edited(changed, {
    type: 'setLayout',
    surfaceId: 'corridor-phone',
    ...layOut(changed, panelOf(changed, 'corridor-phone')),
  })
  const puppet = new Puppet(design, 'corridor-phone')
  const at = await puppet.listen()
  const show = (id: string) => page.goto(`${at}/page#${id}`)
  await page.goto(`${at}/page`)
  await expect(page.locator('.np-link')).toHaveAttribute('data-up', 'true')
  const asked = (start: string) => puppet.asked.filter(a => a.startsWith(start))
  await show('humidifier')
  const moist = page.locator('[data-load-id=humidifier] button')
  await moist.click()
  expect(asked('/humidifier')).toEqual([])
  await moist.hover()
  await page.mouse.down()
  await expect.poll(() => asked('/humidifier')).toEqual(['/humidifier/on'])
  await page.mouse.up()
  await show('store-strike')
  const pin = page.getByLabel('PIN for Store-room strike')
  await pin.fill('2468')
  await pin.press('Enter')
  await page.locator('[data-load-id=store-strike] button').click()
  await expect.poll(() => asked('/store')).toEqual(['/store/on'])
  await pin.fill('1111')
  await pin.press('Enter')
  await page.locator('[data-load-id=store-strike] button').click()
  await expect(pin).toHaveAttribute('placeholder', 'not this PIN')
  expect(asked('/store')).toEqual(['/store/on'])
  await show('corridor-lights')
  await page.getByLabel('Corridor lights, time in seconds').fill('90')
  await page.getByRole('button', { name: 'Corridor lights on for' }).click()
  await expect.poll(() => asked('/corridor/')).toEqual(['/corridor/for/90000'])
  await show('all-off')
  await page.getByRole('button', { name: 'All off' }).click()
  await expect.poll(() => asked('/all-off')).toEqual(['/all-off'])
  puppet.close()

  const room = showroom()
  const board = room.controllers[0]!.id
  const tablet = edited(
    room,
    { type: 'setKeyForm', surfaceId: 'till-tablet', keyId: 'shelf-lamps', form: 'fader' },
    { type: 'setBelief', surfaceId: 'till-tablet', patch: { policy: 'assume' } },
  )
  expect(tablet.links.find(l => l.id === 'till-tablet-link')?.controllerId).toBe(board)
  const second = new Puppet(tablet, 'till-tablet')
  await page.goto(`${await second.listen()}/page`)
  await expect(page.locator('.np-link')).toHaveAttribute('data-up', 'true')
  const fader = page.getByLabel('Shelf lamps')
  const track = (await fader.boundingBox())!
  await page.mouse.move(track.x + 10, track.y + track.height / 2)
  await page.mouse.down()
  for (const part of [0.2, 0.4, 0.6, 0.8, 0.98])
    await page.mouse.move(track.x + track.width * part, track.y + track.height / 2, { steps: 3 })
  await page.mouse.up()
  await expect(page.locator('[data-load-id=shelf-lamps]')).toHaveAttribute('data-shown', '100')
  await expect
    .poll(() => second.asked.filter(a => a.startsWith('/shelf')).at(-1))
    .toBe('/shelf/100')
  await page.keyboard.press('ArrowLeft')
  await expect.poll(() => second.asked.filter(a => a.startsWith('/shelf')).at(-1)).toBe('/shelf/75')
  second.close()
})

test('a fader and a typed number go over all numbers, and end on the exact one', async ({
  page,
}) => {
  const named = { 0: '', 25: '', 50: '', 75: '', 100: '' }
  const fine = edited(
    showroom(),
    { type: 'setOutput', loadId: 'shelf-lamps', patch: { step: 1 } },
    {
      type: 'assignCodes',
      linkId: 'till-tablet-link',
      codes: { 'shelf-lamps': { ...named, number: '/shelf/{value}' } },
    },
    { type: 'setBelief', surfaceId: 'till-tablet', patch: { policy: 'assume' } },
  )
  const formed = (form: 'fader' | 'number') =>
    edited(fine, { type: 'setKeyForm', surfaceId: 'till-tablet', keyId: 'shelf-lamps', form })
  const first = new Puppet(formed('fader'), 'till-tablet')
  const asked = (puppet: Puppet) => puppet.asked.filter(a => a.startsWith('/shelf'))
  await page.goto(`${await first.listen()}/page`)
  await expect(page.locator('.np-link')).toHaveAttribute('data-up', 'true')
  const fader = page.getByLabel('Shelf lamps')
  const track = (await fader.boundingBox())!
  await page.mouse.move(track.x + 10, track.y + track.height / 2)
  await page.mouse.down()
  await page.mouse.move(track.x + track.width * 0.7, track.y + track.height / 2, { steps: 30 })
  await page.mouse.up()
  const end = await fader.inputValue()
  expect(Number(end) % 25).not.toBe(0)
  await expect.poll(() => asked(first).at(-1)).toBe(`/shelf/${end}`)
  // Thirty values in far less than three seconds: not each of them was sent.
  expect(asked(first).length).toBeLessThan(30)
  await page.keyboard.press('ArrowRight')
  await expect.poll(() => asked(first).at(-1)).toBe(`/shelf/${Number(end) + 1}`)
  first.say('{"shelf-lamps":42}')
  await expect(fader).toHaveValue('42')
  await expect(page.locator('[data-load-id=shelf-lamps]')).toContainText('42 %')
  first.close()

  const second = new Puppet(formed('number'), 'till-tablet')
  await page.goto(`${await second.listen()}/page`)
  await expect(page.locator('.np-link')).toHaveAttribute('data-up', 'true')
  for (const [typed, route] of [
    ['37', '/shelf/37'],
    ['250', '/shelf/100'],
  ] as const) {
    await page.getByLabel('Shelf lamps, number').fill(typed)
    await page.getByRole('button', { name: 'Shelf lamps set' }).click()
    await expect.poll(() => asked(second).at(-1)).toBe(route)
  }
  second.close()
})

test('held long enough it acts once, however long the finger or the key stays', async ({
  page,
  put,
  standIn,
}) => {
  const { address } = await standIn(
    await put(
      edited(kilnCorridor(), {
        type: 'setItem',
        surfaceId: 'corridor-phone',
        keyId: 'humidifier',
        patch: { guard: 'hold' },
      }),
    ),
  )
  await page.goto(`${address}/panel/corridor-phone`)
  const box = page.locator('[data-load-id=humidifier]')
  const key = box.getByRole('button')
  await expect(page.locator('.np-link')).toHaveAttribute('data-up', 'true')
  await key.hover()
  await page.mouse.down()
  await expect(box).toHaveAttribute('data-shown', 'on')
  await page.waitForTimeout(300)
  await page.mouse.up()
  await page.waitForTimeout(300)
  await expect(box).toHaveAttribute('data-shown', 'on')
  // Ending it needs no holding.
  await key.click()
  await expect(box).toHaveAttribute('data-shown', 'off')
  await key.focus()
  await page.keyboard.down('Enter')
  for (let i = 0; i < 16; i++) {
    await page.waitForTimeout(100)
    await page.keyboard.down('Enter')
  }
  await expect(box).toHaveAttribute('data-shown', 'on')
  await page.keyboard.up('Enter')
  await page.waitForTimeout(200)
  await expect(box).toHaveAttribute('data-shown', 'on')
})

test('a link that fails says why, comes back by itself, and shows what it knew as not sure', async ({
  page,
}) => {
  const puppet = new Puppet(kilnCorridor(), 'corridor-phone')
  await page.goto(`${await puppet.listen()}/page`)
  const line = page.locator('.np-link')
  await expect(line).toHaveAttribute('data-up', 'true')
  puppet.say('corridor-lights=1\nkiln-room=21.5')
  await expect(page.locator('[data-load-id=corridor-lights]')).toHaveAttribute('data-shown', 'on')
  puppet.refuse = true
  puppet.drop()
  await expect(line).toContainText('does not answer. Trying again in')
  await expect(page.locator('[data-load-id=corridor-lights]')).toHaveAttribute(
    'data-shown',
    'stale-on',
  )
  await expect(page.locator('[data-sensor=kiln-room]')).toHaveAttribute('data-shown', 'stale')
  await expect(page.locator('[data-load-id=corridor-lights] button')).toBeDisabled()
  puppet.refuse = false
  await expect(line).toHaveAttribute('data-up', 'true')
  await expect(page.locator('[data-load-id=corridor-lights] button')).toBeEnabled()
  puppet.close()
})

/** The corridor, whose phone takes its link for lost after so many ms. */
function corridorLostAfter(dropDetectMs: number): Design {
  const design = kilnCorridor()
  return edited(design, {
    type: 'setLink',
    linkId: panelOf(design, 'corridor-phone').linkId,
    patch: { timing: { ...design.links[0]!.timing, dropDetectMs } },
  })
}

/** The page of a puppet, connected, and told how its lights are. */
async function opened(page: Page, puppet: Puppet, lights: 'on' | 'off') {
  await page.goto(`${await puppet.listen()}/page`)
  const found = {
    line: page.locator('.np-link'),
    lights: page.locator('[data-load-id=corridor-lights]'),
  }
  await expect(found.line).toHaveAttribute('data-up', 'true')
  puppet.say(`corridor-lights=${lights === 'on' ? 1 : 0}`)
  await expect(found.lights).toHaveAttribute('data-shown', lights)
  return found
}

test('a board that hangs breaks no connection: the page notices the silence, marks what it knew, and knows again when the board is back', async ({
  page,
}) => {
  const design = corridorLostAfter(1200)
  const puppet = new Puppet(design, 'corridor-phone', { '/state': 'corridor-lights=0' })
  const { line, lights } = await opened(page, puppet, 'on')
  puppet.stalled = true
  // Nobody presses anything: it is the silence alone.
  await expect(line).toContainText('fell silent. Trying again in')
  await expect(lights).toHaveAttribute('data-shown', 'stale-on')
  await page.waitForTimeout(3000)
  await expect(line).toHaveAttribute('data-up', 'false')
  puppet.stalled = false
  await expect(line).toHaveAttribute('data-up', 'true')
  puppet.say('corridor-lights=0')
  await expect(lights).toHaveAttribute('data-shown', 'off')
  await expect(lights.getByRole('button')).toBeEnabled()
  puppet.close()
})

test('a command that takes too long opens everything anew, and the page lives on', async ({
  page,
}) => {
  const design = corridorLostAfter(1000)
  const puppet = new Puppet(design, 'corridor-phone')
  const { line, lights } = await opened(page, puppet, 'off')
  puppet.stalled = true
  await lights.getByRole('button').click()
  await expect(line).toHaveAttribute('data-up', 'false')
  puppet.stalled = false
  await expect(line).toHaveAttribute('data-up', 'true')
  puppet.say('corridor-lights=1')
  await expect(lights).toHaveAttribute('data-shown', 'on')
  puppet.close()
})

test('a refusal is told with its reason, and what was believed before stands', async ({ page }) => {
  const puppet = new Puppet(kilnCorridor(), 'corridor-phone')
  const { line, lights } = await opened(page, puppet, 'off')
  puppet.answer = [403, 'the word is missing or wrong']
  await lights.getByRole('button').click()
  await expect(line).toHaveText(/refused: the word is missing or wrong/)
  await expect(line).toHaveAttribute('data-refused', 'true')
  await expect(lights).toHaveAttribute('data-shown', 'off')
  puppet.answer = [405, 'commands are asked for by POST']
  await lights.getByRole('button').click()
  await expect(line).toHaveText(/commands are asked for by POST/)
  // A while later the connection is told again.
  await expect(line).toHaveText('connected')
  puppet.close()
})

test('a page of another table says so, and a page of the same does not', async ({ page }) => {
  const design = kilnCorridor()
  const print = /nolvi-fingerprint" content="(\w+)"/.exec(panelPage(design, 'corridor-phone'))![1]!
  for (const [theirs, hidden] of [
    [print, true],
    ['ABC123', false],
  ] as const) {
    const puppet = new Puppet(design, 'corridor-phone', {
      '/hello': `hello=nolvi/5\nfingerprint=${theirs}\nstarts=3`,
    })
    await page.goto(`${await puppet.listen()}/page`)
    await expect.poll(() => puppet.asked).toContain('/hello')
    if (hidden) await expect(page.locator('.np-stale')).toBeHidden()
    else
      await expect(page.getByRole('alert')).toContainText(
        `made for table ${print}, the controller speaks ABC123`,
      )
    puppet.close()
  }
})

test('its address opens the page and the key of a wall card', async ({ page }) => {
  const puppet = new Puppet(kilnCorridor(), 'corridor-phone')
  const at = await puppet.listen()
  await page.goto(`${at}/page#store-strike`)
  await expect(page.locator('[data-load-id=store-strike]')).toBeVisible()
  await expect(page.locator('[data-load-id=corridor-lights]')).toBeHidden()
  await page.getByRole('button', { name: 'Main' }).click()
  await expect(page.locator('[data-load-id=corridor-lights]')).toBeVisible()
  puppet.close()
})

for (const colorScheme of ['light', 'dark'] as const) {
  test(`nothing serious for axe-core on a page with readings, locks and pages, in ${colorScheme}`, async ({
    browser,
  }) => {
    const context = await browser.newContext({ colorScheme, viewport: { width: 390, height: 844 } })
    const page = await context.newPage()
    const puppet = new Puppet(kilnCorridor(), 'corridor-phone')
    await page.goto(`${await puppet.listen()}/page`)
    await expect(page.locator('.np-link')).toHaveAttribute('data-up', 'true')
    puppet.say('corridor-lights=1\nkiln-room=21.5\nwater-butt=broken')
    await expect(page.locator('[data-sensor=water-butt]')).toHaveAttribute('data-broken', 'true')
    for (const tab of ['Main', 'Page 2']) {
      await page.getByRole('button', { name: tab }).click()
      const { violations } = await new AxeBuilder({ page }).analyze()
      expect(
        violations
          .filter(v => v.impact === 'serious' || v.impact === 'critical')
          .map(v => `${v.id} ${v.nodes.map(n => n.target.join(' ')).join(', ')}`),
      ).toEqual([])
    }
    puppet.close()
    await context.close()
  })
}

test('the site is kept by its worker: it opens without its server, and has what an installation asks for', async ({
  browser,
}) => {
  const files = new Map(siteFiles(kilnCorridor()).map(f => [`/${f.name}`, f]))
  const server = createServer((request, response) => {
    const file = files.get(request.url === '/' ? '/index.html' : (request.url?.split('?')[0] ?? ''))
    if (!file) return void response.writeHead(404).end()
    response.writeHead(200, { 'content-type': `${file.type}; charset=utf-8` }).end(file.text)
  })
  await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve))
  const at = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  const context = await browser.newContext()
  const page = await context.newPage()
  const refused: string[] = []
  page.on('console', message => {
    if (/Content Security Policy/i.test(message.text())) refused.push(message.text())
  })
  await page.goto(`${at}/panel-corridor-phone.html`)
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready
  })
  await expect.poll(() => page.evaluate(async () => (await caches.keys()).length)).toBe(1)
  const manifest = await page.evaluate(
    async () =>
      (
        await fetch(document.querySelector<HTMLLinkElement>('link[rel=manifest]')!.href)
      ).json() as Promise<{ icons: { src: string }[] }>,
  )
  expect(files.has(`/${manifest.icons[0]!.src}`)).toBe(true)
  server.closeAllConnections()
  await new Promise(resolve => server.close(resolve))
  await page.reload()
  await expect(page.locator('[data-load-id=corridor-lights]')).toBeVisible()
  await expect(page.locator('.np-link')).toContainText('Trying again')
  await expect(page.getByLabel('Address of the controller')).toHaveValue('http://192.168.4.1')
  expect(refused).toEqual([])
  await context.close()
})

test('settings of the page: the key is asked for, kept on the device, and forgotten', async ({
  page,
}) => {
  const design = edited(showroom(), {
    type: 'setLink',
    linkId: 'till-tablet-link',
    patch: { auth: { kind: 'word' } },
  })
  const puppet = new Puppet(design, 'till-tablet')
  const at = `${await puppet.listen()}/page`
  const asked = () => puppet.asked.filter(a => a.startsWith('/window')).at(-1)
  await page.setViewportSize({ width: 380, height: 760 })
  await page.goto(at)
  const key = page.getByLabel('Key of this panel')
  await expect(key).toBeVisible()
  await key.fill('kiln-song')
  await key.press('Enter')
  await expect(page.locator('.np-link')).toHaveAttribute('data-up', 'true')
  // Kept: it is not asked for again, and stands behind each command.
  await expect(key).toBeHidden()
  await page.locator('[data-load-id=window-display] button').click()
  await expect.poll(asked).toMatch(/^\/window\/(on|off)\?key=kiln-song$/)
  await page.reload()
  await expect(page.locator('.np-link')).toHaveAttribute('data-up', 'true')
  await expect(key).toBeHidden()
  await page.getByText('Settings', { exact: true }).click()
  await expect(key).toHaveValue('kiln-song')
  await page.getByRole('button', { name: 'Forget what this device keeps' }).click()
  await expect(key).toBeVisible()
  await expect(key).toHaveValue('')
  puppet.close()
})

test('a kitchen timer of the page, and what the device tells of itself', async ({ page }) => {
  const panel = starter().surfaces.find(s => s.kind === 'panel')!
  const on = { page: 0, xMm: 3, widthMm: 58 }
  const design = edited(
    starter(),
    {
      type: 'placePart',
      surfaceId: panel.id,
      part: { id: 'eggs', form: 'countdown', minutes: 5, ...on, yMm: 60, heightMm: 20 },
    },
    {
      type: 'placePart',
      surfaceId: panel.id,
      part: { id: 'cell', form: 'device', reads: 'battery', ...on, yMm: 82, heightMm: 16 },
    },
    {
      type: 'placePart',
      surfaceId: panel.id,
      part: { id: 'lean', form: 'device', reads: 'tilt', ...on, yMm: 100, heightMm: 16 },
    },
  )
  await page.clock.install({ time: new Date('2026-03-01T08:00:00') })
  // A battery that is said to be at 42 %, and a device that counts its shakes.
  await page.addInitScript(() => {
    const w = window as unknown as { shakes: number; battery: EventTarget & { level: number } }
    w.shakes = 0
    w.battery = Object.assign(new EventTarget(), { level: 0.42 })
    Object.defineProperty(navigator, 'getBattery', { value: () => Promise.resolve(w.battery) })
    // A press is felt too, for a moment.
    Object.defineProperty(navigator, 'vibrate', {
      value: (ms: number) => ms < 50 || ++w.shakes,
    })
  })
  const server = await served(panelPage(design, panel.id))
  await page.goto(server.at)
  // From here on its clock goes on by what is said below, and not by itself.
  await page.clock.pauseAt(new Date('2026-03-01T08:05:00'))
  const eggs = page.locator('[data-id=eggs]')
  const left = eggs.getByRole('timer')
  const press = (name: string) => eggs.getByRole('button', { name }).click()
  await expect(left).toHaveText('5:00')
  await press('A minute more')
  await press('A minute less')
  await press('A minute less')
  await expect(left).toHaveText('4:00')
  await press('Start')
  await expect(eggs).toHaveAttribute('data-running', 'true')
  await page.clock.runFor(61_000)
  await expect(left).toHaveText('2:59')
  await press('A minute more')
  await expect(left).toHaveText('3:59')
  // A page that slept is right when it wakes.
  await page.clock.fastForward(238_000)
  await page.clock.runFor(1000)
  await expect(eggs).toHaveAttribute('data-over', 'true')
  await expect(left).toHaveText('0:00')
  await page.clock.runFor(3000)
  expect(await page.evaluate(() => (window as unknown as { shakes: number }).shakes)).toBe(4)
  await press('Over')
  await expect(eggs).toHaveAttribute('data-over', 'false')
  await expect(left).toHaveText('5:00')
  const cell = page.locator('[data-id=cell]')
  await expect(cell.locator('.np-value')).toHaveText('42')
  await page.evaluate(() => {
    const { battery } = window as unknown as { battery: EventTarget & { level: number } }
    battery.level = 0.4
    battery.dispatchEvent(new Event('levelchange'))
  })
  await expect(cell.locator('.np-value')).toHaveText('40')
  const lean = page.locator('[data-id=lean]')
  await expect(lean).toHaveAttribute('data-shown', 'unknown')
  await page.evaluate(() =>
    dispatchEvent(new DeviceOrientationEvent('deviceorientation', { beta: 12.4, gamma: -3 })),
  )
  await expect(lean.locator('.np-value')).toHaveText('12, -3')
  server.close()
})

test('over low-energy Bluetooth of the browser: packets of real bytes both ways, and by itself back after a loss', async ({
  page,
}) => {
  const given = starter()
  const blank = edited(
    given,
    { type: 'removeSurface', surfaceId: given.surfaces.find(s => s.kind === 'panel')!.id },
    { type: 'addPanel', name: 'Low', over: 'low-energy' },
  )
  const panel = blank.surfaces.find(s => s.kind === 'panel')!
  const link = blank.links.find(l => l.id === panel.linkId)!
  const [load] = blank.loads
  const long = `${load!.id} on, and this is longer than one packet`
  const design = edited(
    blank,
    {
      type: 'addMessage',
      linkId: link.id,
      loadId: load!.id,
      codes: { on: long, off: `${load!.id} off` },
    },
    { type: 'placeKey', surfaceId: panel.id, key: firstKey(panel, load!) },
  )
  const spoken = design.links.find(l => l.id === link.id)!
  // A board that is chosen only at the second try, keeps each packet, says what it is told to say,
  // and can go out of reach.
  await page.addInitScript(() => {
    const w = window as unknown as {
      asked: unknown[]
      packets: number[][]
      say: (bytes: number[]) => void
      gone: () => void
    }
    w.asked = []
    w.packets = []
    let tries = 0
    const notifies = Object.assign(new EventTarget(), {
      value: undefined as DataView | undefined,
      startNotifications: () => Promise.resolve(),
      writeValueWithResponse: () => Promise.reject(new Error('nobody writes here')),
    })
    const writes = Object.assign(new EventTarget(), {
      startNotifications: () => Promise.reject(new Error('nobody hears here')),
      writeValueWithResponse: (bytes: Uint8Array) => {
        if (bytes.length > 20) return Promise.reject(new Error('too long for a packet'))
        w.packets.push([...bytes])
        return Promise.resolve()
      },
    })
    w.say = bytes => {
      notifies.value = new DataView(Uint8Array.from(bytes).buffer)
      notifies.dispatchEvent(new Event('characteristicvaluechanged'))
    }
    const gatt = {
      connect: () => Promise.resolve(gatt),
      getPrimaryService: (service: string) => {
        w.asked.push(service)
        return Promise.resolve({
          getCharacteristic: (uuid: string) => {
            w.asked.push(uuid)
            return Promise.resolve(uuid.includes('-0003-') ? notifies : writes)
          },
        })
      },
    }
    const device = Object.assign(new EventTarget(), { gatt })
    w.gone = () => device.dispatchEvent(new Event('gattserverdisconnected'))
    Object.defineProperty(navigator, 'bluetooth', {
      value: {
        requestDevice: (options: unknown) => {
          w.asked.push(options)
          return tries++
            ? Promise.resolve(device)
            : Promise.reject(new DOMException('none', 'NotFoundError'))
        },
      },
    })
  })
  const server = await served(panelPage(design, panel.id))
  await page.goto(server.at)
  const line = page.locator('.np-link')
  await expect(line).toContainText('Press Connect and choose the board.')
  await page.getByRole('button', { name: 'Connect' }).click()
  await expect(line).toContainText('No board was chosen')
  await page.getByRole('button', { name: 'Connect' }).click()
  await expect(line).toHaveAttribute('data-up', 'true')
  const { service, writeTo, notifyFrom } = spoken as LinkOf<'low-energy'>
  expect(await page.evaluate(() => (window as unknown as { asked: unknown[] }).asked)).toEqual([
    { filters: [{ services: [service] }] },
    { filters: [{ services: [service] }] },
    service,
    notifyFrom,
    writeTo,
  ])
  const say = (text: string) =>
    page.evaluate(
      bytes => (window as unknown as { say: (bytes: number[]) => void }).say(bytes),
      [...text].map(c => c.charCodeAt(0)),
    )
  const written = () =>
    page.evaluate(() =>
      (window as unknown as { packets: number[][] }).packets.map(p => String.fromCharCode(...p)),
    )
  // A report in two packets, cut in the middle.
  const message = (spoken.messages as Message[])[0]!
  const off = reportText(spoken, load!, message, 'off')
  const key = page.locator(`[data-load-id=${load!.id}]`)
  await say(off.slice(0, 4))
  await say(off.slice(4))
  await expect(key).toHaveAttribute('data-shown', 'off')
  const before = (await written()).length
  await key.getByRole('button').first().click()
  await expect.poll(async () => (await written()).slice(before).join('')).toBe(`${long}\n`)
  expect((await written()).slice(before).map(p => p.length)).toEqual([20, 20, long.length + 1 - 40])
  await page.evaluate(() => (window as unknown as { gone: () => void }).gone())
  await expect(line).toContainText('out of reach')
  await expect(key.getByRole('button').first()).toBeDisabled()
  await expect(line).toHaveAttribute('data-up', 'true')
  server.close()
})

test('over a serial port of the browser: connected by a press, bytes both ways, and it says why when the port goes', async ({
  page,
}) => {
  const design = starter()
  const panel = design.surfaces.find(s => s.kind === 'panel')!
  const link = design.links.find(l => l.id === panel.linkId)!
  const message = link.messages[0]!
  // A port that is chosen only at the second try, keeps what is written, and says what it is told
  // to say.
  await page.addInitScript(() => {
    const w = window as unknown as {
      written: number[]
      say: (text: string) => void
      gone: () => void
    }
    w.written = []
    let tries = 0
    const readable = new ReadableStream<Uint8Array>({
      start(c) {
        w.say = text => c.enqueue(new TextEncoder().encode(text))
        w.gone = () => c.close()
      },
    })
    const writable = new WritableStream<Uint8Array>({
      write(bytes) {
        w.written.push(...bytes)
      },
    })
    Object.defineProperty(navigator, 'serial', {
      value: {
        requestPort: () =>
          tries++
            ? Promise.resolve({ open: () => Promise.resolve(), readable, writable })
            : Promise.reject(new DOMException('none', 'NotFoundError')),
      },
    })
  })
  const server = await served(panelPage(design, panel.id))
  await page.goto(server.at)
  const line = page.locator('.np-link')
  await expect(line).toContainText('Press Connect and choose the port.')
  await page.getByRole('button', { name: 'Connect' }).click()
  await expect(line).toContainText('No port was chosen')
  await page.getByRole('button', { name: 'Connect' }).click()
  await expect(line).toHaveAttribute('data-up', 'true')
  const key = page.locator(`[data-load-id=${message.loadId}]`)
  await page.evaluate(
    text => (window as unknown as { say: (text: string) => void }).say(text),
    reportText(link, design.loads[0]!, message, 'off'),
  )
  await expect(key).toHaveAttribute('data-shown', 'off')
  await key.getByRole('button').first().click()
  await expect
    .poll(() =>
      page.evaluate(() =>
        String.fromCharCode(...(window as unknown as { written: number[] }).written),
      ),
    )
    .toBe((message.codes as Record<string, string>).on)
  await page.evaluate(() => (window as unknown as { gone: () => void }).gone())
  await expect(line).toContainText('The port was closed. Press Connect again.')
  await expect(key.getByRole('button').first()).toBeDisabled()
  server.close()
})
