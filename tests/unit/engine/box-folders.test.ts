/**
 * Programs of boxes as they are given away: on the emulated 8-bit board at the end of a wire, and
 * on this machine, before a stand-in of the board that is asked.
 */
import { spawnSync } from 'node:child_process'
import { connect, createServer, type AddressInfo, type Socket } from 'node:net'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { AvrBoard } from '../../../core/emulated/board'
import { hostOf, isNamed } from '../../../core/design/links/host'
import { isUdp, onNetwork } from '../../../core/design/links/traits'
import { partOf } from '../../../core/design/part'
import { isKnob } from '../../../core/design/sensors/traits'
import type { Edit } from '../../../core/design/edits/edits'
import type { Design } from '../../../core/design/schema'
import { programmed } from '../../../core/sides/program/can-program'
import { programFolder } from '../../../core/sides/program/folder'
import { FLASH_OFF, programRoom } from '../../../core/sides/program/room'
import { serviceFolder } from '../../../core/sides/program/service'
import { practiceSecret } from '../../../core/messages/sealing'
import { beforeUpload } from '../../../core/sides/wiring-sheet'
import { StandIn } from '../../../server/live/stand-in'
import { AvrToolchain } from '../../fixtures/avr-board/toolchain'
import {
  askingAt,
  BOX_LINK,
  boxedByBodies,
  boxedByRoutes,
  boxedOver,
  named,
  PATIENT,
  SIGNS,
  theBox,
  withoutBoxes,
} from '../../fixtures/boxed'
import { lies, Names } from '../../fixtures/network-board/names'
import { HostBoard } from '../../fixtures/network-board/program'
import { avrTools, canRun, has, putFiles } from '../../fixtures/tools'

const partOfBox = (design: Design): Design => {
  const part = programmed(partOf(design, theBox(design).boardId ?? ''))
  if (!part) throw new Error('no program')
  return part
}

it('the checklist of a box tells of its wire, and of no load of the other board', () => {
  const design = boxedOver('wire', 'board-8bit-5v', {
    type: 'setPins',
    pins: { 'load:fan': 1 },
  })
  const steps = beforeUpload(partOf(design, 'knob-box')).filter(s => s.startsWith('Unplug'))
  expect(steps.join('\n')).toContain('Knob box link')
  expect(steps.join('\n')).not.toContain('Fan')
  expect(beforeUpload(partOf(design, 'board')).join('\n')).toContain('Fan')
})

const avr = canRun('the program of a box on the emulated board', avrTools())
describe.skipIf(!avr)('on the 8-bit board, by a wire', () => {
  let tools: AvrToolchain
  beforeAll(() => {
    tools = new AvrToolchain()
  })
  afterAll(() => tools.dispose())

  it('asks, hears, and asks again where nobody answers', () => {
    const design = boxedOver('wire', 'board-8bit-5v', {
      type: 'setPeer',
      surfaceId: 'knob-box',
      patch: { leastMs: 100 },
    })
    const part = partOfBox(design)
    const { elf, flash, ram } = tools.build(programFolder(part, 'box'))
    console.info(`a button and a knob, by a wire: ${flash} bytes of flash, ${ram} bytes of RAM`)
    const { flash: about, memory } = programRoom(part)!
    expect(Math.abs(about - flash)).toBeLessThan(flash * FLASH_OFF)
    expect(Math.abs(memory - ram)).toBeLessThan(32)
    const board = new AvrBoard(tools.flash(elf), 9600)
    const button = theBox(design).controls[0]?.pin ?? -1
    const knob = design.sensors.find(isKnob)!
    let now = 0
    const pass = (ms: number) => board.runTo((now += ms))
    const said = () => String.fromCharCode(...board.sent.splice(0))
    const hears = (text: string) => board.hear(Buffer.from(text), now + 20)
    const press = () => {
      board.setPin(button, 0)
      pass(100)
      board.setPin(button, 1)
      pass(60)
    }
    board.boot(0)
    pass(100)
    expect(said()).toBe('')
    press()
    expect(said()).toBe('fan on\n')
    hears('+fan on\n')
    pass(3000)
    expect(said()).toBe('')
    // The next press asks for the other; nobody answers, and it is said once more.
    press()
    pass(3000)
    expect(said()).toBe('fan off\nfan off\n')
    hears('+lamp 25\n')
    pass(50)
    // Four quarters are a detent; what comes within a tenth of a second waits.
    const turn = (detents: number) => {
      for (let n = 0; n < 4 * detents; n++)
        [
          [knob.pinB, 0],
          [knob.pin, 0],
          [knob.pinB, 1],
          [knob.pin, 1],
        ]
          .slice(n % 4, (n % 4) + 1)
          .forEach(([pin = 0, level]) => {
            board.setPin(pin, level as 0 | 1)
            pass(3)
          })
    }
    turn(3)
    pass(20)
    const first = said()
    expect(['lamp up\n', 'lamp down\n']).toContain(first)
    hears('+lamp 50\n')
    pass(400)
    expect(said()).toBe(first + first)
  })

  it('lights its lamps: at what it hears, and while nobody answers', () => {
    const lamp = (shows: 'link' | 'waiting', name: string): Edit => ({
      type: 'addLamp',
      ...{ name, shows, controllerId: 'knob-box' },
    })
    const design = boxedOver(
      'wire',
      'board-8bit-5v',
      lamp('link', 'Heard'),
      lamp('waiting', 'Asks'),
    )
    const { elf } = tools.build(programFolder(partOfBox(design), 'box'))
    const board = new AvrBoard(tools.flash(elf), 9600)
    const button = theBox(design).controls[0]?.pin ?? -1
    const pins = design.controllers.flatMap(c => c.lamps.map(l => l.pin))
    const lit = () => pins.map(pin => board.level(pin, false))
    let now = 0
    const pass = (ms: number) => board.runTo((now += ms))
    board.boot(0)
    pass(200)
    expect(lit()).toEqual([0, 0])
    board.setPin(button, 0)
    pass(100)
    board.setPin(button, 1)
    pass(20)
    expect(lit()).toEqual([0, 1])
    board.hear(Buffer.from('+fan on\n'), now + 20)
    pass(40)
    expect(lit()).toEqual([1, 0])
    pass(150)
    expect(lit()).toEqual([0, 0])
  })
})

const there = canRun('the program of a box on this machine', {
  'g++': has('g++'),
  make: has('make'),
  socat: has('socat'),
})
const TOLD: Edit = { type: 'setReport', linkId: BOX_LINK, loadId: 'fan', change: true }
const TIMED: Edit = {
  type: 'setLink',
  linkId: BOX_LINK,
  patch: { auth: { kind: 'time', tagBytes: 8, toleranceS: 30, once: true } },
}
const NUMBERED: Edit = {
  type: 'setLink',
  linkId: BOX_LINK,
  patch: { numbered: { windowMs: 20_000 } },
}
const AT_KILN = named('http://kiln.local')
describe.skipIf(!there).each([
  ['datagrams, signed', () => boxedOver('udp', 'board-linux-header', PATIENT, SIGNS)],
  ['datagrams, signed with the time', () => boxedOver('udp', 'board-linux-header', PATIENT, TIMED)],
  ['a wire', () => boxedOver('wire', 'board-linux-header', PATIENT)],
  ['routes', () => boxedByRoutes('board-linux-header', PATIENT)],
  ['routes with a form', () => boxedByBodies('board-linux-header', 'form', PATIENT)],
  ['routes with an object', () => boxedByBodies('board-linux-header', 'json', PATIENT, SIGNS)],
  ['routes, told of changes', () => boxedByRoutes('board-linux-header', PATIENT, TOLD, NUMBERED)],
  ['routes of a name', () => boxedByRoutes('board-linux-header', PATIENT, TOLD, AT_KILN)],
  ['datagrams to a name', () => boxedOver('udp', 'board-linux-header', PATIENT, named('kiln'))],
])('before a stand-in, over %s', (_, make) => {
  const place = mkdtempSync(join(tmpdir(), 'nolvi-box-'))
  const design = make()
  const part = partOfBox(design)
  const isWire = part.links.some(l => l.kind === 'wire')
  const streams = design.links.some(l => l.kind === 'http' && l.messages.some(m => m.change))
  let board: HostBoard | undefined
  let now = 0
  let asked: StandIn
  let between: Between
  const names = new Names()
  names.address = null
  afterAll(async () => {
    await board?.kill()
    between?.close()
    names.close()
    await asked?.close()
    rmSync(place, { recursive: true, force: true })
    expect(board?.complaint).toBe('')
  })
  beforeAll(async () => {
    asked = new StandIn('asked', withoutBoxes(partOf(design, 'board')), 1)
    await asked.listen('127.0.0.1', [])
    const { serialPorts, datagramPorts, address } = asked.info()
    between = new Between(Number(new URL(address).port))
    const found = askingAt(part, datagramPorts[BOX_LINK] ?? 0, await between.listen())
    putFiles(place, serviceFolder(found, 'box'))
    const flags = '-O1 -g -Wconversion -Wshadow -Werror -fsanitize=address,undefined'
    const made = spawnSync('make', ['-j2', `CXXFLAGS=${flags}`], { cwd: place, encoding: 'utf8' })
    expect(made.stderr.split('\n').filter(l => /: (error|warning)/.test(l))).toEqual([])
    const serial = serialPorts[BOX_LINK]?.path
    writeFileSync(
      join(place, 'test.conf'),
      [
        ...[`tree = ${place}`, `state = ${join(place, 'state')}`],
        ...['address = 127.0.0.1', 'udp = 0'],
        ...['virtual = 1', `epoch = ${Date.now()}`],
        `names = 127.0.0.1:${await names.listen()}`,
        ...(serial ? [`serial ${BOX_LINK} = ${serial}`] : []),
        ...part.links.flatMap(l =>
          l.auth.kind === 'none' ? [] : [`secret ${l.id} = ${practiceSecret(l)}`],
        ),
        '',
      ].join('\n'),
    )
    const program = join(place, 'build/box')
    const command = () => ({ program, args: [join(place, 'test.conf')] })
    board = new HostBoard({ folder: place, command })
    await board.start(0, { http: false, udp: part.links.some(isUdp) ? 1 : 0 })
    await pass(1000)
  })

  const pin = theBox(design).controls[0]?.pin ?? -1
  const press = async () => {
    for (const level of [0, 1]) {
      await board?.told(`pin ${pin} ${level}`)
      await pass(200)
    }
  }
  /** Its clock goes on; whoever it speaks with has that of the day. */
  const pass = async (ms: number) => board?.to((now += ms))
  const comes = <T>(what: () => T) =>
    expect.poll(async () => {
      await pass(200)
      return what()
    })
  const up = () => asked.traffic.filter(t => t.dir === 'up').map(t => t.text)
  /** It is there, as far as the other side can tell: over a wire nobody can. */
  const begins = () =>
    comes(() => isWire || (streams ? asked.info().clients > 0 : up().length > 0)).toBe(true)
  // Bytes of a wire come as they come: a command may be told in pieces.
  const asks = () => {
    return (
      up()
        .join('')
        .match(/fan.(on|off|toggle)/g) ?? []
    )
  }
  const value = () => asked.info().values.fan
  it.skipIf(!part.links.some(isNamed))(
    'believes nobody who does not tell where it is',
    async () => {
      names.address = null
      names.raves = lies
      const before = names.asked.length
      await comes(() => names.asked.length).toBeGreaterThan(before + 1)
      await press()
      expect(asks()).toEqual([])
      names.address = '127.0.0.1'
      const since = names.asked.length
      await comes(() => names.asked.length).toBeGreaterThan(since)
    },
  )
  it('switches there, from what it hears', async () => {
    await begins()
    await press()
    await comes(value).toBe('on')
    await press()
    await comes(value).toBe('off')
    expect(asks().length).toBe(2)
  })
  it.skipIf(!part.links.some(isNamed))(
    'asks where that board is, and again where it is no more',
    async () => {
      expect(new Set(names.asked)).toEqual(
        new Set(part.links.map(l => (onNetwork(l) ? hostOf(l.address) : ''))),
      )
      const before = names.asked.length
      if (!part.links.some(l => l.kind === 'http')) return
      between.does('hangs up')
      await comes(() => names.asked.length).toBeGreaterThan(before)
      between.does('passes')
    },
  )
  it.skipIf(!part.links.some(l => l.kind === 'http'))(
    'is not led astray by a server that is silent, hangs up, raves or floods',
    async () => {
      for (const how of ['hangs up', 'raves', 'floods', 'silent'] as const) {
        between.does(how)
        const met = between.met
        await press()
        await comes(() => between.met).toBeGreaterThan(met)
        await pass(500)
      }
      const had = asks().length
      // What waits for whoever is silent is given up, and nothing is said late.
      await pass(6500)
      between.does('passes')
      await pass(3000)
      await begins()
      expect(asks().length).toBe(had)
      const before = value()
      await press()
      await comes(value).not.toBe(before)
    },
  )
})

/** What stands between a box and the server that it asks. */
class Between {
  /** How often it was called. */
  met = 0
  private how: 'passes' | 'hangs up' | 'raves' | 'floods' | 'silent' = 'passes'
  private readonly sockets = new Set<Socket>()
  private readonly server = createServer(socket => this.takes(socket))

  constructor(private readonly port: number) {}

  async listen(): Promise<string> {
    await new Promise<void>(done => this.server.listen(0, '127.0.0.1', done))
    return `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`
  }

  /** From now on; connections that are there are closed. */
  does(how: typeof this.how): void {
    this.how = how
    for (const socket of this.sockets) socket.destroy()
  }

  close(): void {
    this.does('hangs up')
    this.server.close()
  }

  private takes(socket: Socket): void {
    this.met++
    this.sockets.add(socket)
    socket.on('close', () => this.sockets.delete(socket)).on('error', () => undefined)
    if (this.how === 'hangs up') socket.destroy()
    if (this.how === 'raves') socket.end(Buffer.from(Array.from({ length: 700 }, (_, i) => i * 7)))
    if (this.how === 'floods')
      socket.end(`HTTP/1.1 200 OK\r\ncontent-length: 9999999\r\n\r\n${'fan=on\n'.repeat(50_000)}`)
    if (this.how !== 'passes') return
    const to = connect(this.port, '127.0.0.1')
    this.sockets.add(to)
    to.on('close', () => socket.destroy()).on('error', () => undefined)
    socket.on('close', () => to.destroy())
    socket.pipe(to).pipe(socket)
  }
}
