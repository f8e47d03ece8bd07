import { spawn, spawnSync } from 'node:child_process'
import { createSocket } from 'node:dgram'
import { existsSync, mkdtempSync, rmSync } from 'node:fs'
import { connect, type Socket } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, describe, expect, it } from 'vitest'
import type { Edit } from '../../../core/design/edits/edits'
import type { Design } from '../../../core/design/schema'
import { partOf } from '../../../core/design/part'
import { wireOf } from '../../../core/design/wire'
import { textBytes } from '../../../core/bytes/text'
import { sealedText } from '../../../core/messages/sealing'
import { countersIn } from '../../../server/live/counters'
import { StandIn } from '../../../server/live/stand-in'
import {
  DIALECTS,
  edited,
  fanDesign,
  glazeRoom,
  over,
  speaking,
  twoPanelDesign,
} from '../../fixtures/designs'

/** Lines of an event stream as they come. */
class Stream {
  readonly lines: string[] = []
  private readonly control = new AbortController()
  readonly done: Promise<void>
  private waiting: (() => void)[] = []
  constructor(url: string) {
    this.done = this.read(url).catch(() => undefined)
  }
  private async read(url: string): Promise<void> {
    const response = await fetch(url, { signal: this.control.signal })
    let rest = ''
    for await (const piece of response.body!.pipeThrough(
      new TextDecoderStream(),
    ) as unknown as AsyncIterable<string>) {
      const parts = (rest + piece).split('\n\n')
      rest = parts.pop() ?? ''
      this.lines.push(
        ...parts.filter(p => p.startsWith('data:')).map(p => p.replaceAll(/^data: /gm, '')),
      )
      for (const wake of this.waiting.splice(0)) wake()
    }
  }

  async until(test: (lines: string[]) => boolean): Promise<string[]> {
    while (!test(this.lines)) await new Promise<void>(resolve => this.waiting.push(resolve))
    return this.lines
  }

  close(): void {
    this.control.abort()
  }
}

const open: { close: () => unknown }[] = []
afterEach(async () => {
  for (const x of open.splice(0).reverse()) await x.close()
})

async function start(design: Design): Promise<{
  standIn: StandIn
  at: string
  get: (path: string) => Promise<string>
  post: (path: string, body: unknown) => Promise<number>
}> {
  const standIn = new StandIn('s', design, 1)
  await standIn.listen('127.0.0.1', [])
  open.push(standIn)
  const at = standIn.info().address
  return {
    standIn,
    at,
    get: async path => {
      const response = await fetch(at + path)
      return `${response.status} ${(await response.text()).trim()}`
    },
    post: async (path, body) =>
      (
        await fetch(at + path, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify(body),
        })
      ).status,
  }
}
function listen(url: string): Stream {
  const stream = new Stream(url)
  open.push(stream)
  return stream
}

describe("the design's own routes", () => {
  it('switch and answer as the message table says', async () => {
    const { get } = await start(glazeRoom())
    expect(await get('/extractor/on')).toBe('200 booth-extractor=1')
    expect(await get('/extractor/on?from=shelf')).toBe('200 booth-extractor=1')
    expect(await get('/state')).toBe('200 booth-extractor=1\nwheel-lights=0\ncupboard-fan=0')
    expect(await get('/extractor')).toBe('404 no such route')
  })
  it('take their parameters in any order, and pass over those of the browser', async () => {
    const codes = {
      on: '/set?pin=5&value=1',
      off: '/set?pin=5&value=0',
    }
    const design = edited(
      glazeRoom(),
      ...Object.entries(codes).map(([which, code]) => ({
        type: 'renameCode' as const,
        linkId: glazeRoom().links.find(l => l.kind === 'http')!.id,
        loadId: 'booth-extractor',
        which,
        code,
      })),
    )
    const { get } = await start(design)
    expect(await get('/set?pin=5&value=1')).toBe('200 booth-extractor=1')
    expect(await get('/set?value=0&pin=5')).toBe('200 booth-extractor=0')
    expect(await get('/set?value=2&pin=5')).toBe('404 no such route')
    expect(await get('/set')).toBe('404 no such route')
    expect(await get('/lights/on?_=17')).toBe('200 wheel-lights=1')
  })
  it('take GET and POST, and let pages from elsewhere ask', async () => {
    const { at } = await start(glazeRoom())
    expect((await fetch(`${at}/lights/on`, { method: 'POST' })).status).toBe(200)
    expect((await fetch(`${at}/lights/on`, { method: 'DELETE' })).status).toBe(405)
    const before = await fetch(`${at}/lights/on`, { method: 'OPTIONS' })
    expect([
      before.status,
      before.headers.get('access-control-allow-origin'),
      before.headers.get('access-control-allow-private-network'),
    ]).toEqual([204, '*', 'true'])
  })
})

describe('reports', () => {
  it("go to every connected surface by the design's policy, whoever switched", async () => {
    const { at, get, post } = await start(twoPanelDesign())
    const browser = listen(`${at}/events`)
    const phone = listen(`${at}/_wire/phone-link`)
    expect(await browser.until(l => l.length === 1)).toEqual(['fan=0'])
    expect(await phone.until(l => l.length === 1)).toEqual(['"+f"'])
    await get('/fan/on')
    expect(await browser.until(l => l.length === 2)).toEqual(['fan=0', 'fan=1'])
    expect(await phone.until(l => l.length === 2)).toEqual(['"+f"', '"+F"'])
    expect(await post('/_wire/phone-link', { text: 'f?' })).toBe(204)
    expect(await phone.until(l => l.length === 4)).toEqual(['"+f"', '"+F"', '"+f"', '"+f"'])
    expect(await post('/_wall/press', { controlId: 'fan-button' })).toBe(204)
    expect((await browser.until(l => l.length === 4)).at(-1)).toBe('fan=1')
  })
  it('a surface that comes later is told the state as it is', async () => {
    const { at, get } = await start(twoPanelDesign())
    await get('/fan/on')
    expect(await listen(`${at}/events`).until(l => l.length === 1)).toEqual(['fan=1'])
  })
})

describe('wall and power', () => {
  it('lamps follow; a latching switch stays where it was put', async () => {
    const { at, post } = await start(glazeRoom())
    const wall = listen(`${at}/_wall/events`)
    await wall.until(l => l.length > 0)
    await post('/_wall/press', { controlId: 'fan-switch' })
    const [state] = (await wall.until(l => JSON.parse(l.at(-1)!).loads['cupboard-fan'].lit)).slice(
      -1,
    )
    expect(JSON.parse(state!)).toMatchObject({ running: true, closed: { 'fan-switch': true } })
    await post('/_wall/press', { controlId: 'fan-switch' })
    await wall.until(l => !JSON.parse(l.at(-1)!).loads['cupboard-fan'].lit)
  })
  it('a cut ends the connections; afterwards outputs are as the policy says', async () => {
    const { at, get, post, standIn } = await start(
      edited(twoPanelDesign(), { type: 'setOutput', loadId: 'fan', patch: { powerUp: 'on' } }),
    )
    expect(standIn.info().values.fan).toBe('on')
    await get('/fan/off')
    const browser = listen(`${at}/events`)
    await browser.until(l => l.length > 0)
    await post('/_wall/press', { power: 'cut' })
    await browser.done
    expect(standIn.info().values.fan).toBe('off')
    await post('/_wall/press', { power: 'back' })
    expect(standIn.info().values.fan).toBe('on')
  })
  it('has the knobs and remotes of the design on its wall', async () => {
    const design = edited(
      glazeRoom(),
      { type: 'setKind', loadId: 'wheel-lights', kind: 'level' },
      { type: 'addSensor', kind: 'knob', name: 'Dial', loadId: 'wheel-lights' },
      { type: 'addSensor', kind: 'infrared', name: 'Eye' },
      { type: 'addScene', name: 'Closing', sets: [{ loadId: 'wheel-lights', value: '0' }] },
      {
        type: 'setSensor',
        sensorId: 'eye',
        patch: {
          keys: [
            { address: 1, command: 2, loadId: 'cupboard-fan', asks: 'toggle' },
            { address: 1, command: 3, sceneId: 'closing' },
          ],
        },
      },
    )
    const { at, get, post } = await start(design)
    const page = await get('/_wall')
    expect(page).toContain('Turn Dial up')
    expect(page).toContain('Drying cupboard fan toggle')
    expect(page).toContain('scene Closing')
    const wall = listen(`${at}/_wall/events`)
    const lit = (id: string, is: boolean) =>
      wall.until(l => l.length > 0 && JSON.parse(l.at(-1)!).loads[id].lit === is)
    expect(await post('/_wall/press', { sensorId: 'dial', detents: 2 })).toBe(204)
    await lit('wheel-lights', true)
    expect(await post('/_wall/press', { sensorId: 'eye', key: 0 })).toBe(204)
    await lit('cupboard-fan', true)
    // Held down it does not toggle again.
    expect(await post('/_wall/press', { sensorId: 'eye', key: 0, repeat: true })).toBe(204)
    expect(await post('/_wall/press', { sensorId: 'eye', key: 1 })).toBe(204)
    await lit('wheel-lights', false)
    await lit('cupboard-fan', true)
    for (const body of [
      { sensorId: 'dial', detents: 0 },
      { sensorId: 'dial', detents: 1e9 },
      { sensorId: 'dial', detents: 'up' },
      { sensorId: 'eye', detents: 1 },
      { sensorId: 'eye', key: 2 },
      { sensorId: 'eye', key: '__proto__' },
      { sensorId: 'dial', key: 0 },
    ])
      expect(await post('/_wall/press', body), JSON.stringify(body)).toBe(404)
  })
  it('has a page for the wall and one for each panel', async () => {
    const { get } = await start(glazeRoom())
    expect(await get('/_wall')).toContain('Wall of Glaze room')
    expect(await get('/panel/apron-phone')).toContain('<meta name="nolvi-wire"')
    expect(await get('/panel/office-browser')).not.toContain('<meta name="nolvi-wire"')
    expect(await get('/panel/wall')).toBe('404 no such panel')
  })
})

describe('boxes that are boards of the design', () => {
  const boxed = (...more: Edit[]) =>
    partOf(
      edited(
        fanDesign(),
        { type: 'addLoad', name: 'Lamp' },
        { type: 'setKind', loadId: 'lamp', kind: 'level' },
        { type: 'addPeer', name: 'Knob box', over: 'udp' },
        {
          type: 'addMessage',
          linkId: 'knob-box-link',
          loadId: 'fan',
          codes: { on: 'fan on', off: 'fan off', toggle: 'fan flip' },
        },
        {
          type: 'addMessage',
          linkId: 'knob-box-link',
          loadId: 'lamp',
          codes: {
            0: 'l 0',
            25: 'l 25',
            50: 'l 50',
            75: 'l 75',
            100: 'l 100',
            up: 'up',
            down: 'dn',
          },
        },
        { type: 'setBoxBoard', surfaceId: 'knob-box', board: 'board-wifi-full' },
        { type: 'addControl', surfaceId: 'knob-box', loadId: 'fan', kind: 'push' },
        {
          type: 'addSensor',
          kind: 'knob',
          name: 'Knob',
          loadId: 'lamp',
          controllerId: 'knob-box',
        },
        ...more,
      ),
      'board',
    )
  /** Real time passes: a contact is debounced, a knob turns a count every few ms. */
  const until = async (test: () => boolean) => {
    for (let n = 0; n < 15_000 && !test(); n++)
      await new Promise(resolve => setTimeout(resolve, 20))
    expect(test()).toBe(true)
  }

  it('hang on the wall, and what they say goes over their link', async () => {
    const { standIn, get, post } = await start(boxed())
    expect(await get('/_wall')).toContain('Press Fan on Knob box')
    const values = () => standIn.info().values
    expect(await post('/_wall/press', { controlId: 'fan-button-2' })).toBe(204)
    await until(() => values().fan === 'on')
    expect(await post('/_wall/press', { sensorId: 'knob', detents: 2 })).toBe(204)
    await until(() => values().lamp === '50')
    expect(standIn.traffic.filter(t => t.dir === 'up').map(t => t.text.trim())).toEqual(
      expect.arrayContaining(['fan flip', 'up']),
    )
  })

  it('have lamps on the wall: of their link, and of what they wait for', async () => {
    const lamp = (shows: 'link' | 'network' | 'waiting'): Edit => ({
      type: 'addLamp',
      name: `Box ${shows}`,
      shows,
      controllerId: 'knob-box',
    })
    const { at, get, post } = await start(boxed(lamp('link'), lamp('network'), lamp('waiting')))
    expect(await get('/_wall')).toContain('Box waiting')
    const wall = listen(`${at}/_wall/events`)
    const shows = (lamps: Record<string, boolean>) => (l: string[]) =>
      Object.entries(lamps).every(([id, lit]) => JSON.parse(l.at(-1)!).lamps[id] === lit)
    await wall.until(l => l.length > 0)
    await wall.until(shows({ 'box-link': true, 'box-network': true, 'box-waiting': false }))
    await post('/_wall/press', { power: 'cut' })
    await wall.until(shows({ 'box-link': false }))
    await post('/_wall/press', { power: 'back' })
    await wall.until(shows({ 'box-link': true, 'box-waiting': false }))
  })

  it('ask nothing of a board without power, and go on when it is back', async () => {
    const { standIn, post } = await start(boxed())
    await post('/_wall/press', { power: 'cut' })
    await post('/_wall/press', { controlId: 'fan-button-2' })
    await new Promise(resolve => setTimeout(resolve, 300))
    await post('/_wall/press', { power: 'back' })
    expect(standIn.info().values.fan).toBe('off')
    await post('/_wall/press', { controlId: 'fan-button-2' })
    await until(() => standIn.info().values.fan === 'on')
  })
})

describe('a UDP link', () => {
  /** Sends a text and waits for the first answer. */
  const ask = (port: number, text: string): Promise<string> =>
    new Promise(resolve => {
      const socket = createSocket('udp4')
      socket.on('message', bytes => {
        resolve(bytes.toString())
        socket.close()
      })
      socket.send(textBytes(text), port, '127.0.0.1')
    })
  const lines = () =>
    over(
      edited(speaking(fanDesign(), DIALECTS.lines!), {
        type: 'setLink',
        linkId: 'phone-link',
        patch: { helloCode: 'hello', errorText: 'what' },
      }),
      'udp',
    )
  it('takes real datagrams and answers who asked', async () => {
    const { standIn } = await start(lines())
    const port = standIn.info().datagramPorts['phone-link']!
    const on = wireOf(lines().links[0]!, lines().links[0]!.messages[0]!.codes.on!, 'command')
    expect(await ask(port, on)).toMatch(/^\+/)
    expect(standIn.info().values.fan).toBe('on')
    expect(await ask(port, 'hello\n')).toMatch(/^\+hello nolvi\/5 [0-9A-F]{6} 1\n$/)
    expect(await ask(port, 'no such thing\n')).toBe('+what\n')
  })
  it('half a message in one datagram is no start of the next', async () => {
    const { standIn } = await start(lines())
    const port = standIn.info().datagramPorts['phone-link']!
    const socket = createSocket('udp4')
    await new Promise(resolve => socket.send('hel', port, '127.0.0.1', resolve))
    socket.close()
    expect(await ask(port, 'lo\n')).toBe('+what\n')
  })
})

describe('serial links as ports of their own', () => {
  const heardOn = (socket: Socket) => {
    const heard: string[] = []
    socket.on('data', bytes => heard.push(bytes.toString()))
    return heard
  }
  const opened = async (port: number) => {
    const socket = connect(port, '127.0.0.1')
    open.push({ close: () => socket.destroy() })
    await new Promise(resolve => socket.once('connect', resolve))
    return socket
  }
  it('speaks bytes over TCP, to one at a time, and comes back', async () => {
    const { standIn, post } = await start(glazeRoom())
    const { port } = standIn.info().serialPorts['apron-link']!
    const first = await opened(port)
    const heard = heardOn(first)
    first.write('E')
    await expect.poll(() => heard.join('')).toContain('+E')
    expect(standIn.info().values['booth-extractor']).toBe('on')
    const second = await opened(port)
    await new Promise(resolve => second.once('close', resolve))
    await post('/_wall/press', { power: 'cut' })
    await new Promise(resolve => first.once('close', resolve))
    await post('/_wall/press', { power: 'back' })
    const again = await opened(port)
    const state = heardOn(again)
    again.write('?')
    await expect.poll(() => state.join('')).toContain('+e')
  })
  it('holds a console for each session, all told what is so', async () => {
    const console = edited(over(speaking(fanDesign(), DIALECTS.lines!), 'shell'), {
      type: 'assignCodes',
      linkId: 'phone-link',
      codes: { fan: { on: 'fan on', off: 'fan off' } },
    })
    const { standIn, post } = await start(console)
    const { port } = standIn.info().serialPorts['phone-link']!
    const sessions = await Promise.all([1, 2, 3, 4].map(() => opened(port)))
    const heard = sessions.map(heardOn)
    sessions[0]!.write('fan on\n')
    for (const h of heard) await expect.poll(() => h.join('')).toContain('+fan on')
    const fifth = await opened(port)
    await new Promise(resolve => fifth.once('close', resolve))
    sessions[1]!.destroy()
    sessions[2]!.write('fan off\n')
    await expect.poll(() => heard[3]!.join('')).toContain('+fan off')
    // They end with the board they were opened on.
    await post('/_wall/press', { power: 'cut' })
    await new Promise(resolve => sessions[3]!.once('close', resolve))
  })
  const socat = spawnSync('socat', ['-V']).status === 0
  it.skipIf(!socat)('is a terminal that is opened, let go and opened again', async () => {
    const { standIn } = await start(glazeRoom())
    const path = standIn.info().serialPorts['apron-link']?.path ?? ''
    for (const [code, answer] of [
      ['L', '+L'],
      ['l', '+l'],
    ] as const) {
      await expect.poll(() => existsSync(path)).toBe(true)
      const program = spawn('socat', ['-', `FILE:${path},raw,echo=0`])
      open.push({ close: () => program.kill() })
      let heard = ''
      program.stdout.on('data', (bytes: Buffer) => (heard += bytes.toString()))
      program.stdin.write(code)
      await expect.poll(() => heard).toContain(answer)
      program.kill()
      await new Promise(resolve => program.once('exit', resolve))
      await expect.poll(() => existsSync(path)).toBe(false)
    }
  })
})

describe('commands by POST, answers as JSON or a page', () => {
  const browser = (patch: object) =>
    edited(twoPanelDesign(), { type: 'setLink', linkId: 'browser-link', patch })
  it('a look changes nothing', async () => {
    const { at, standIn, get } = await start(browser({ method: 'post', answers: 'json' }))
    expect(await get('/fan/on')).toContain('405')
    expect(standIn.info().values.fan).toBe('off')
    const answer = await fetch(`${at}/fan/on`, { method: 'POST' })
    expect([answer.headers.get('content-type'), (await answer.text()).trim()]).toEqual([
      'application/json; charset=utf-8',
      '{"fan":1}',
    ])
    expect(await get('/state')).toContain('{"fan":1}')
  })
  it('a page is a page', async () => {
    const { get } = await start(browser({ answers: 'page' }))
    expect(await get('/state')).toContain('<b id="fan">0</b>')
  })
})

describe('what a board does, a stand-in does', () => {
  it('a route with a time behind it switches for that time', async () => {
    let design = edited(twoPanelDesign(), {
      type: 'setOutput',
      loadId: 'fan',
      patch: { timers: { onDelayMs: 1000, offDelayMs: 1000, blinkMs: 500 } },
    })
    design = edited(design, {
      type: 'renameCode',
      linkId: 'browser-link',
      loadId: 'fan',
      which: 'for',
      code: '/fan/for',
    })
    const { get, standIn } = await start(design)
    expect(await get('/fan/for/200')).toBe('200 fan=1')
    await expect.poll(() => standIn.info().values.fan).toBe('off')
    // Out of its limits it is no such route, as on the board.
    expect(await get('/fan/for/1')).toBe('404 no such route')
  })
  it('what is not there can be read from elsewhere too, or a page would take the board for gone', async () => {
    const { at } = await start(glazeRoom())
    const answer = await fetch(`${at}/nowhere`)
    expect([answer.status, answer.headers.get('access-control-allow-origin')]).toEqual([404, '*'])
  })
  it('an open stream gives a sign of life, and none without power', async () => {
    const design = edited(twoPanelDesign(), {
      type: 'setLink',
      linkId: 'browser-link',
      patch: { timing: { ...twoPanelDesign().links[1]!.timing, dropDetectMs: 600 } },
    })
    const { at } = await start(design)
    const control = new AbortController()
    const response = await fetch(`${at}/events`, { signal: control.signal })
    let text = ''
    for await (const piece of response.body!.pipeThrough(
      new TextDecoderStream(),
    ) as unknown as AsyncIterable<string>) {
      text += piece
      if (text.split('event: alive').length > 2) break
    }
    control.abort()
    expect(text).toContain('event: alive\ndata:')
  })
  it('forgets who asked over datagrams when its power is cut, and is not turned round by nonsense', async () => {
    const design = over(
      edited(speaking(fanDesign(), DIALECTS.lines!), {
        type: 'setLink',
        linkId: 'phone-link',
        patch: { errorText: 'what' },
      }),
      'udp',
    )
    const { standIn, post } = await start(design)
    const port = standIn.info().datagramPorts['phone-link']!
    const [mine, other] = [createSocket('udp4'), createSocket('udp4')]
    const heard: string[] = []
    mine.on('message', bytes => heard.push(`mine ${bytes.toString().trim()}`))
    other.on('message', bytes => heard.push(`other ${bytes.toString().trim()}`))
    const say = (socket: typeof mine, text: string) =>
      new Promise(resolve => socket.send(textBytes(text), port, '127.0.0.1', resolve))
    await say(mine, '?\n')
    await expect.poll(() => heard.length).toBe(1)
    await say(other, 'nonsense\n')
    await expect.poll(() => heard.length).toBe(2)
    expect(heard[1]).toBe('other +what')
    await post('/_wall/press', { controlId: 'fan-button' })
    await expect.poll(() => heard.length).toBe(3)
    expect(heard[2]).toMatch(/^mine \+/)
    await post('/_wall/press', { power: 'cut' })
    await post('/_wall/press', { power: 'back' })
    await new Promise(resolve => setTimeout(resolve, 300))
    await post('/_wall/press', { controlId: 'fan-button' })
    await expect.poll(() => standIn.info().values.fan).toBe('on')
    await new Promise(resolve => setTimeout(resolve, 100))
    expect(heard).toHaveLength(3)
    mine.close()
    other.close()
  })
  it('counters that were taken outlive it; another key begins anew', async () => {
    const design = edited(twoPanelDesign(), {
      type: 'setLink',
      linkId: 'browser-link',
      patch: { auth: { kind: 'counter', tagBytes: 8, window: 4 } },
    })
    const folder = mkdtempSync(join(tmpdir(), 'nolvi-counters-'))
    const ask = async (secret: string, counter: number) => {
      const standIn = new StandIn('s', design, 1, { 'browser-link': secret }, countersIn(folder))
      await standIn.listen('127.0.0.1', [])
      const answer = await fetch(
        standIn.info().address + sealedText(design.links[1]!, '/fan/on', { secret, counter }),
      )
      await standIn.close()
      return `${answer.status} ${(await answer.text()).trim()}`
    }
    expect(await ask('key', 5)).toBe('200 fan=1')
    expect(await ask('key', 5)).toBe('403 its counter was taken before: played again (n=5)')
    expect(await ask('key', 6)).toBe('200 fan=1')
    expect(await ask('other', 5)).toBe('200 fan=1')
    rmSync(folder, { recursive: true })
  })
})

describe('what does not belong', () => {
  it('is refused, and the stand-in lives on', async () => {
    const { at, post, get } = await start(glazeRoom())
    expect(await post('/_wall/press', { controlId: 'nothing' })).toBe(404)
    expect(await post('/_wire/apron-link', {})).toBe(400)
    expect(await post('/_wire/office-link', { text: 'x' })).toBe(404)
    const send = async (body: string, type = 'application/json') =>
      (
        await fetch(`${at}/_wire/apron-link`, {
          method: 'POST',
          headers: { 'content-type': type },
          body,
        })
      ).status
    expect(await send('{"text"')).toBe(400)
    expect(await send('text=E', 'application/x-www-form-urlencoded')).toBe(415)
    expect(await send(JSON.stringify({ text: 'x'.repeat(20_000) }))).toBe(400)
    expect(await get('/state')).toContain('200')
  })
  it('stops within its port and frees it', async () => {
    const { standIn, at } = await start(glazeRoom())
    open.pop()
    await standIn.close()
    await expect(fetch(`${at}/state`)).rejects.toThrow()
  })
})
