/** Connections of this server to what is real: ports, addresses, pages; lost and back again. */
import { spawn, type ChildProcess } from 'node:child_process'
import { existsSync, mkdtempSync, realpathSync, rmSync, symlinkSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { SerialPort } from 'serialport'
import { afterEach, describe, expect, it } from 'vitest'
import { bytesText, textBytes } from '../../../core/bytes/text'
import { fingerprint } from '../../../core/design/fingerprint'
import type { Design } from '../../../core/design/schema'
import { Twin } from '../../../core/live/twin'
import { KeyRing } from '../../../server/guard/keys'
import type { Connection } from '../../../server/live/connection'
import { Desk } from '../../../server/live/desk'
import { wayTo, type Reached, type Reaching } from '../../../server/live/desks'
import { StandIn } from '../../../server/live/stand-in'
import { openHttpWire } from '../../../server/live/wires/http-wire'
import { openSocketWire } from '../../../server/live/wires/socket-wire'
import { openDatagramWire } from '../../../server/live/wires/datagram-wire'
import { PageWire } from '../../../server/live/wires/page-wire'
import type { Wire, WireEvents } from '../../../server/live/wires/wire'
import { DIALECTS, edited, glazeRoom, over, speaking } from '../../fixtures/designs'
import { canRun, has } from '../../fixtures/tools'

const open: { close: () => unknown }[] = []
const children: ChildProcess[] = []
afterEach(async () => {
  for (const one of open.splice(0).reverse()) await one.close()
  for (const child of children.splice(0)) child.kill('SIGKILL')
  delete process.env.NOLVI_SERIAL
})

/** A port is looked for after half a second, then twice as long each time, 15 s at most. */
async function until(what: string, so: () => boolean): Promise<void> {
  for (let n = 0; n < 30_000; n++) {
    if (so()) return
    await new Promise(done => setTimeout(done, 10))
  }
  throw new Error(`in vain: ${what}`)
}
async function standIn(design: Design, ports: number[] = []): Promise<StandIn> {
  const made = new StandIn(`live-${process.pid}`, design, 1)
  await made.listen('127.0.0.1', ports)
  open.push(made)
  return made
}
let made = 0
function connect(
  design: Design,
  linkId: string,
  opens: (events: WireEvents) => Wire,
  desk = new Desk(design),
): Connection {
  if (!open.includes(desk as never)) open.push({ close: () => desk.closeAll() })
  return desk.open({
    id: `c-${++made}`,
    design,
    revision: 1,
    linkId,
    where: 'a test',
    options: {},
    opens,
  })
}
const says = ({ live }: Connection) =>
  Object.fromEntries(live.design.loads.map((l, i) => [l.id, live.says[i]?.value]))
const press = (c: Connection, loadId: string, want: string) =>
  c.does(now => c.live.press(loadId, want, now))
/** Its browser is told of changes as they come. */
const told = (): Design =>
  edited(
    glazeRoom(),
    { type: 'reportOnConnect', linkId: 'office-link', onConnect: true },
    ...glazeRoom()
      .links.find(l => l.id === 'office-link')!
      .messages.map(({ loadId }) => ({
        type: 'setReport' as const,
        linkId: 'office-link',
        loadId,
        change: true,
      })),
  )
const http = (design: Design) => design.links.find(l => l.kind === 'http')! as never

describe('over HTTP', () => {
  it('asks, presses, loses and is back by itself when the board is', async () => {
    const design = glazeRoom()
    const board = await standIn(design)
    const { address } = board.info()
    const port = Number(new URL(address).port)
    const c = connect(design, 'office-link', e => openHttpWire(http(design), () => address, e))
    await until('it is up', () => c.live.up && says(c)['wheel-lights'] === 'off')
    press(c, 'wheel-lights', 'on')
    await until('it is on', () => says(c)['wheel-lights'] === 'on')
    expect(board.info().values['wheel-lights']).toBe('on')
    expect(c.live.delays.count).toBeGreaterThanOrEqual(2)
    await board.close()
    await until('it is lost', () => !c.live.up)
    expect(c.why).toContain('refuses: the board is there, its program is not')
    expect(c.why).toContain('trying again')
    await standIn(design, [port])
    await until('it is back', () => c.live.up && c.why === '')
    expect(c.live.delays.outagesMs).toHaveLength(1)
  })

  it('hears over the stream of events what others do', async () => {
    const design = told()
    const { address } = (await standIn(design)).info()
    const c = connect(design, 'office-link', e => openHttpWire(http(design), () => address, e))
    await until('it is up', () => c.live.up && says(c)['wheel-lights'] === 'off')
    await fetch(`${address}/lights/on`)
    await until('it is told', () => says(c)['wheel-lights'] === 'on')
  })

  it('asks only the address of the design, and follows nobody elsewhere', async () => {
    const design = glazeRoom()
    const asked: string[] = []
    const real = globalThis.fetch
    globalThis.fetch = ((url: string) => {
      asked.push(url)
      const headers = { location: 'http://elsewhere.invalid/' }
      return Promise.resolve(new Response(null, { status: 302, headers }))
    }) as typeof fetch
    try {
      const way = wayTo(design, 'office-link', { by: 'address' }, new KeyRing(false))
      expect(way).toMatchObject({ where: 'http://192.168.4.1' })
      const c = connect(design, 'office-link', (way as Reaching).opens)
      await until('it asked', () => asked.length > 0)
      expect(new Set(asked)).toEqual(new Set(['http://192.168.4.1/state']))
      // What is no route would become a part of the address.
      c.wireItself.send('@elsewhere.invalid/', -1)
      await new Promise(done => setTimeout(done, 30))
      expect(asked.every(url => url.startsWith('http://192.168.4.1/'))).toBe(true)
      open.pop()
      new Desk(design).close(c.of.id)
      c.close()
    } finally {
      globalThis.fetch = real
    }
  })
})

describe('over bytes', () => {
  it('through the port of a stand-in: pressed, lost and back', async () => {
    const design = speaking(glazeRoom(), DIALECTS.lines!)
    const board = await standIn(design)
    const at = () => ({ host: '127.0.0.1', port: board.info().serialPorts['apron-link']!.port })
    const c = connect(design, 'apron-link', e => openSocketWire(at, e))
    await until('it is up', () => says(c)['booth-extractor'] === 'off')
    press(c, 'booth-extractor', 'on')
    await until('it is on', () => says(c)['booth-extractor'] === 'on')
    await fetch(`${board.info().address}/_wall`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ power: 'cut' }),
    })
    await until('it is lost', () => !c.live.up)
    expect(c.why).toContain('closed by the other end')
    await until('it is back', () => c.live.up)
  })

  it('datagrams', async () => {
    const design = over(glazeRoom(), 'udp')
    const board = await standIn(design)
    const port = board.info().datagramPorts['apron-link']!
    const c = connect(design, 'apron-link', e => openDatagramWire('127.0.0.1', port, e))
    await until('it is told', () => says(c)['wheel-lights'] === 'off')
    press(c, 'wheel-lights', 'on')
    await until('it is on', () => says(c)['wheel-lights'] === 'on')
    expect(board.info().values['wheel-lights']).toBe('on')
  })

  it('through a page: what it is to send waits for it, and it may be gone', async () => {
    const design = glazeRoom()
    const c = connect(design, 'apron-link', e => new PageWire(e))
    const wire = c.wireItself as PageWire
    await until('it waits', () => c.why.includes('not opened'))
    wire.tell({ open: true })
    expect(await wire.fetch(1000)).toEqual(['?'])
    wire.tell({ heard: '+E+l' })
    await until('it is told', () => says(c)['booth-extractor'] === 'on')
    expect(says(c)['wheel-lights']).toBe('off')
    wire.tell({ open: false, why: 'The port was lost' })
    await until('it is lost', () => !c.live.up)
    expect(c.why).toBe('The port was lost')
  })

  it('of a flood a part is read, the rest is counted, and it is still there afterwards', async () => {
    const design = glazeRoom()
    const c = connect(design, 'apron-link', e => new PageWire(e))
    const wire = c.wireItself as PageWire
    wire.tell({ open: true })
    await until('it is up', () => c.live.up)
    for (let i = 0; i < 40; i++) wire.tell({ heard: '+E'.repeat(5000) })
    expect(c.flooded).toBeGreaterThan(200_000)
    expect(c.live.crossed.length).toBeLessThanOrEqual(1000)
    await new Promise(done => setTimeout(done, 1100))
    wire.tell({ heard: '+e' })
    await until('it is told', () => says(c)['booth-extractor'] === 'off')
  })
})

/** Two terminals that are one wire; a board of the memory at one of them. */
class PtyBoard {
  private readonly folder = mkdtempSync(join(tmpdir(), 'nolvi-live-'))
  readonly near = join(this.folder, 'near')
  private readonly far = join(this.folder, 'far')
  private child: ChildProcess | null = null
  private port: SerialPort | null = null
  readonly twin: Twin
  garble = (bytes: Uint8Array): Uint8Array => bytes

  constructor(
    board: Design,
    private readonly linkId: string,
  ) {
    this.twin = new Twin(board)
    this.twin.boot(1)
    this.twin.link(linkId, true, 1)
    open.push({ close: () => this.close() })
  }

  async plug(): Promise<this> {
    const [near, far] = [this.near, this.far]
    this.child = spawn('socat', [`PTY,link=${near},raw,echo=0`, `PTY,link=${far},raw,echo=0`])
    children.push(this.child)
    await until('the terminals are there', () => existsSync(this.near) && existsSync(this.far))
    const port = new SerialPort({ path: this.far, baudRate: 9600, lock: false })
    this.port = port
    port.on('error', () => undefined)
    port.on('data', (bytes: Buffer) => {
      for (const { text } of this.twin.hears(this.linkId, bytesText(this.garble(bytes)), 2))
        port.write(Buffer.from(this.garble(textBytes(text))))
    })
    return this
  }

  async pull(): Promise<void> {
    await new Promise<void>(done => (this.port?.isOpen ? this.port.close(() => done()) : done()))
    this.child?.kill('SIGKILL')
    rmSync(this.near, { force: true })
    rmSync(this.far, { force: true })
  }

  async close(): Promise<void> {
    await this.pull()
    rmSync(this.folder, { recursive: true, force: true })
  }
}

describe.runIf(canRun('serial ports as pairs of terminals', { socat: has('socat') }))(
  'a serial port of this computer',
  () => {
    const lines = (): Design =>
      edited(speaking(glazeRoom(), { ...DIALECTS.lines!, template: '{load} {value}' } as never), {
        type: 'setLink',
        linkId: 'apron-link',
        patch: { helloCode: 'hello' },
      } as never)
    const opened = (design: Design, path: string): Connection => {
      process.env.NOLVI_SERIAL = path
      const reached: Reached = { by: 'port', path }
      const way = wayTo(design, 'apron-link', reached, new KeyRing(false))
      return connect(design, 'apron-link', (way as Reaching).opens)
    }
    const causes = (c: Connection, desk = new Desk(c.live.design)) => {
      desk.closeAll()
      return c.live
    }

    it('is opened, pressed, pulled at any moment, and opened again when it is back', async () => {
      const design = lines()
      const board = await new PtyBoard(design, 'apron-link').plug()
      const c = opened(design, board.near)
      await until('it is told', () => says(c)['booth-extractor'] === 'off')
      await until('it says who it is', () => c.live.hello !== null)
      expect(c.live.hello?.fingerprint).toBe(fingerprint(design))
      for (let round = 0; round < 3; round++) {
        const want = round % 2 ? 'off' : 'on'
        press(c, 'booth-extractor', want)
        if (round !== 1) await until('it is said', () => says(c)['booth-extractor'] === want)
        await board.pull()
        await until('it is lost', () => !c.live.up)
        expect(c.why).toMatch(/was lost|there is no port/)
        await board.plug()
        await until('it is back', () => c.live.up)
      }
      await until(
        'it is told again',
        () => says(c)['booth-extractor'] === board.twin.value('booth-extractor'),
      )
      expect(c.live.crossed.length).toBeGreaterThan(10)
      expect(causes(c).delays.outagesMs).toHaveLength(3)
    })

    it('whose name stands for another device now is lost, and opened there', async () => {
      const design = lines()
      const [first, second] = [
        await new PtyBoard(design, 'apron-link').plug(),
        await new PtyBoard(design, 'apron-link').plug(),
      ]
      const c = opened(design, first.near)
      await until('it is up', () => c.live.up)
      // Nobody hangs up: the first terminal is still there.
      rmSync(first.near)
      symlinkSync(realpathSync(second.near), first.near)
      await until('it is lost', () => !c.live.up)
      await until('it is back', () => c.live.up)
      press(c, 'booth-extractor', 'on')
      await until('it is said', () => says(c)['booth-extractor'] === 'on')
      expect(second.twin.value('booth-extractor')).toBe('on')
      expect(first.twin.value('booth-extractor')).toBe('off')
    })

    it('that another program holds is told so, and taken when it is free', async () => {
      const design = lines()
      const board = await new PtyBoard(design, 'apron-link').plug()
      const other = new SerialPort({ path: board.near, baudRate: 9600, lock: true })
      await new Promise(done => other.once('open', done))
      const c = opened(design, board.near)
      await until('it is refused', () => c.why.includes('held by another program'))
      await new Promise<void>(done => other.close(() => done()))
      await until('it is up', () => c.live.up)
    })
  },
)
