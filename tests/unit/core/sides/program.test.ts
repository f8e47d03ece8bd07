/**
 * The program of an 8-bit board as it is given away: it is made of the engine that is tested, it
 * compiles without a warning and fits, and what hangs on the pins of the board is read.
 */
import { spawnSync } from 'node:child_process'
import { resolve } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { check } from '../../../../core/checks/check'
import type { Edit } from '../../../../core/design/edits/edits'
import type { Design } from '../../../../core/design/schema'
import { kindEdit } from '../../../../core/messages/kinds'
import { practiceSecret, sealedText } from '../../../../core/messages/sealing'
import { buildFiles } from '../../../../core/sides/files'
import { carriedLinks, onSerialPort } from '../../../../core/sides/program/carried'
import { canProgram } from '../../../../core/sides/program/can-program'
import { programFolder } from '../../../../core/sides/program/folder'
import { programImage } from '../../../../core/sides/program/image'
import { imageFit } from '../../../../core/sides/program/image-fit'
import { lampLine } from '../../../../core/sides/program/front'
import { lampsOf } from '../../../../core/design/find'
import { programLacks } from '../../../../core/sides/program/lacks'
import { frontWire } from '../../../../core/sides/front-wire'
import { FLASH_OFF, programRoom } from '../../../../core/sides/program/room'
import { AvrBoard, flashOf } from '../../../../core/emulated/board'
import {
  BusPort,
  LineThermometer,
  repeatKey,
  sendKey,
  ShiftRegisters,
} from '../../../../core/emulated/parts'
import { AvrToolchain } from '../../../fixtures/avr-board/toolchain'
import {
  DIALECTS,
  edited,
  fanDesign,
  fanRule,
  glazeRoom,
  over,
  speaking,
  starter,
} from '../../../fixtures/designs'
import { avrTools, canRun } from '../../../fixtures/tools'

const can = canRun('Compiling programs for the board', avrTools())
let tools: AvrToolchain
beforeAll(() => {
  if (can) tools = new AvrToolchain()
})
afterAll(() => tools?.dispose())

/** Names and codes that would break a text of a program, were they not escaped. */
const nasty = () =>
  edited(
    glazeRoom(),
    { type: 'renameLoad', loadId: 'rinse-pump', name: '"Pump" */ ??/ \\' },
    {
      type: 'assignCodes',
      linkId: 'apron-link',
      codes: { 'rinse-pump': { on: '"\\n%s', off: '??/"' } },
    },
    { type: 'renameSurface', surfaceId: 'apron-phone', name: 'Küche 照明 \\' },
    { type: 'renameDesign', name: 'Design \\' },
  )
const everyKind = () =>
  (['pulsed', 'held', 'opposed', 'level', 'follower', 'choice'] as const).reduce((design, kind) => {
    const added = edited(
      design,
      { type: 'addLoad', name: kind },
      {
        type: 'addMessage',
        linkId: 'phone-link',
        loadId: kind,
        codes: { on: kind.toUpperCase(), off: kind },
      },
    )
    return edited(added, kindEdit(added, kind, kind))
  }, fanDesign())
const signed = (design: Design) =>
  edited(design, {
    type: 'setLink',
    linkId: 'phone-link',
    patch: { auth: { kind: 'counter', tagBytes: 8, window: 4 } },
  })
const linesFan = () => speaking(fanDesign(), DIALECTS.lines!)

describe('the folder', () => {
  it('holds the engine as it stands', () => {
    const made = spawnSync(process.execPath, [resolve('scripts/engine-text.mjs'), '--check'])
    expect(made.stderr.toString()).toBe('')
    expect(made.status).toBe(0)
  })
  it.skipIf(!can)('and ready-made programs are made of it', () => {
    const made = spawnSync(process.execPath, [resolve('scripts/images.mjs'), '--check'])
    expect(made.stderr.toString()).toBe('')
    expect(made.status).toBe(0)
  })
  it('is the same for the same design, and another for another one', () => {
    expect(programFolder(glazeRoom(), 'a')).toEqual(programFolder(glazeRoom(), 'a'))
    const other = edited(glazeRoom(), {
      type: 'assignCodes',
      linkId: 'apron-link',
      codes: { 'rinse-pump': { on: 'Q', off: 'q' } },
    })
    const differs = programFolder(other, 'a').flatMap(({ path, text }) =>
      programFolder(glazeRoom(), 'a').some(f => f.path === path && f.text === text) ? [] : [path],
    )
    expect(differs).toEqual(['a.ino', 'src/design.cpp'])
  })
  it('holds a secret only where it is asked for, in a file of its own', () => {
    const design = signed(linesFan())
    const [secret = ''] = ['open sesame 123']
    const without = buildFiles(design)
    expect(without.some(f => f.text.includes(secret))).toBe(false)
    const holding = buildFiles(design, { 'phone-link': secret }).filter(
      f => f.text.includes(secret) && f.type !== 'text/html',
    )
    expect(holding.map(f => f.inZip)).toEqual(['fan-design/secrets.h'])
  })
  it('says what is not done by it, as a finding that stops', () => {
    const design = edited(fanDesign(), { type: 'addPanel', name: 'Office', over: 'http' })
    expect(canProgram(design)).toBe(true)
    expect(programLacks(design).map(l => l.words)).toEqual(['HTTP on Office link'])
    const found = check(design).findings.find(f => f.code === 'program-lacks')
    expect(found).toMatchObject({ severity: 'stop' })
    expect(programFolder(design, 'a')[0]?.text).toContain(
      '// Not done by it yet: HTTP on Office link.',
    )
  })
})

describe.skipIf(!can)('compiled for the board', () => {
  it.each([
    ['glaze room', glazeRoom],
    ['starter', starter],
    ['nasty names', nasty],
    ['structures with a CRC', () => speaking(glazeRoom(), DIALECTS.cobs!)],
    ['structures with a proof', () => signed(speaking(fanDesign(), DIALECTS.slip!))],
    [
      'a wire on ordinary pins, with who is there and errors',
      () =>
        over(
          edited(speaking(glazeRoom(), DIALECTS.lines!), {
            type: 'setLink',
            linkId: 'apron-link',
            patch: { helloCode: 'hello', errorText: 'what' },
          }),
          'wire',
        ),
    ],
    ['a load of each kind', everyKind],
    ['no link', () => edited(fanDesign(), { type: 'removeSurface', surfaceId: 'phone' })],
  ] as const)('%s: without a warning, and it fits', (_, make) => {
    const { flash, ram } = tools.build(programFolder(make(), 'program'))
    console.info(`${make().name}: ${flash} bytes of flash, ${ram} bytes of RAM`)
    const room = programRoom(make())!
    expect(flash).toBeLessThan(room.has.flash)
    expect(ram).toBeLessThan(room.has.memory)
    // What is told before it is compiled.
    expect(Math.abs(room.flash - flash)).toBeLessThan(flash * FLASH_OFF)
    expect(Math.abs(room.memory - ram)).toBeLessThan(32)
  })
  it('a signed link is no program without its secret, and takes it from its file', () => {
    const design = signed(linesFan())
    const folder = programFolder(design, 'program').map(f => ({
      ...f,
      // Programs for tests are practice builds; this one is not.
      text: f.path === 'src/design.cpp' ? `#undef PRACTICE\n${f.text}` : f.text,
    }))
    expect(() => tools.build(folder)).toThrow('No secret')
    const secrets = buildFiles(design, { 'phone-link': 'mine' }).find(f => f.name === 'secrets.h')
    const { elf } = tools.build([...folder, { path: 'secrets.h', text: secrets?.text ?? '' }])
    const board = new AvrBoard(tools.flash(elf), 9600)
    board.boot(0)
    const say = (secret: string, counter: number, at: number) => {
      board.hear(
        Buffer.from(sealedText(design.links[0]!, onOf(design), { secret, counter }), 'latin1'),
        at,
      )
      board.runTo(at + 400)
      return board.level(pinOf(design, 'fan'), false)
    }
    board.runTo(100)
    expect(say(practiceSecret(design.links[0]!), 1, 300)).toBe(1)
    expect(say('mine', 2, 900)).toBe(0)
  })
})

/** What switches the fan on over its first link. */
function onOf(design: Design): string {
  return (design.links[0]!.messages[0]!.codes as { on: string }).on
}

function pinOf(design: Design, loadId: string): number {
  const output = design.loads.find(l => l.id === loadId)?.output
  return output && 'pin' in output ? output.pin : -1
}

/** What the flash of a board holds: the folder compiled, or the image that is made beforehand. */
const FLASHES = {
  folder: (design: Design) => {
    expect(programLacks(design)).toEqual([])
    return tools.flash(tools.build(programFolder(design, 'program')).elf)
  },
  image: (design: Design) => {
    expect(imageFit(design).lacks).toEqual([])
    return flashOf(programImage(design)!)
  },
}

const moved = (design: Design, pins: Record<string, number>) =>
  edited(design, { type: 'setPins', pins })
const buttonPin = (design: Design, controlId: string): number =>
  design.surfaces.flatMap(x => (x.kind === 'hand' ? x.controls : [])).find(c => c.id === controlId)
    ?.pin ?? -1
const added = (...edits: Edit[]) => edited(fanDesign(), ...edits)
const wired = (design: Design, sensorId: string, patch: object) =>
  edited(design, { type: 'setSensor', sensorId, patch } as Edit)

describe.skipIf(!can).each(Object.entries(FLASHES))(
  'a lamp behind a board in front, %s',
  (_, flash) => {
    it('is as it is told over the wire, and dark when nothing is told', () => {
      const bare = edited(fanDesign(), { type: 'removeSurface', surfaceId: 'phone' })
      const design = edited(
        bare,
        { type: 'addPanel', name: 'Office', over: 'http' },
        { type: 'setFront', front: { receivePin: 0, sendPin: 1 } },
        { type: 'addLamp', name: 'Office on', shows: 'link', linkId: 'office-link' },
        { type: 'addLamp', name: 'In the net', shows: 'network' },
      )
      const wire = frontWire(design)!
      expect(onSerialPort(design, wire)).toBe(true)
      const [office, net] = lampsOf(design)
      const board = new AvrBoard(flash(design), wire.baud)
      board.boot(0)
      let now = 200
      board.runTo(now)
      const lit = () =>
        [office, net].map(l => board.level(l!.pin, false) === Number(l!.activeLevel === 'high'))
      const hears = (line: string) => {
        board.hear(Buffer.from(`${line}\n`, 'latin1'), now + 100)
        board.runTo((now += 200))
        return lit()
      }
      expect(lit()).toEqual([false, false])
      expect(hears(lampLine(net!, true))).toEqual([false, true])
      expect(hears(lampLine(office!, true))).toEqual([true, true])
      expect(hears('!nothing 1')).toEqual([true, true])
      expect(hears(lampLine(net!, false))).toEqual([true, false])
      // Told each second it stays; three seconds without a word are too long.
      for (let n = 0; n < 4; n++) {
        board.runTo((now += 800))
        expect(hears(lampLine(office!, true))).toEqual([true, false])
      }
      board.runTo((now += 2500))
      expect(lit()).toEqual([true, false])
      board.runTo((now += 700))
      expect(lit()).toEqual([false, false])
      expect(String.fromCharCode(...board.sent).split('no\n')).toHaveLength(2)
    })
  },
)

describe.skipIf(!can).each(['folder', 'image'] as const)('%s on the emulated board', as => {
  /** A board with the program of a design; switched on, or started. */
  const switchedOn = (design: Design): AvrBoard => {
    const baud = carriedLinks(design).find(c => c.port === 'own')?.link.baud ?? 9600
    const board = new AvrBoard(FLASHES[as](design), baud)
    board.boot(0)
    return board
  }
  const started = (design: Design): AvrBoard => {
    const board = switchedOn(design)
    board.runTo(50)
    return board
  }

  it('a contact is read when it has come to rest, and its rule acts', () => {
    const plain = added(
      { type: 'addSensor', kind: 'contact', name: 'Sensor' },
      fanRule('is', 'closed', 0),
    )
    const design = wired(plain, 'sensor', { pin: 7, debounceMs: 40 })
    const board = started(design)
    const fan = () => board.level(pinOf(design, 'fan'), false)
    expect(fan()).toBe(1)
    board.setPin(7, 0)
    board.runTo(60)
    board.setPin(7, 1)
    board.runTo(150)
    expect(fan()).toBe(1)
    board.setPin(7, 0)
    board.runTo(300)
    expect(fan()).toBe(0)
  })
  it('volts behind a divider are those before it', () => {
    const plain = added(
      { type: 'addSensor', kind: 'battery', name: 'Sensor' },
      fanRule('above', '', 12),
    )
    // 12 V behind 20 kΩ and 10 kΩ are 4 V.
    const design = wired(plain, 'sensor', {
      pin: 14,
      upperOhms: 20_000,
      lowerOhms: 10_000,
      maxVolts: 15,
      emptyVolts: 11,
    })
    const board = started(design)
    const fan = () => board.level(pinOf(design, 'fan'), false)
    board.measure(0, 3.95)
    board.runTo(600)
    expect(fan()).toBe(1)
    board.measure(0, 4.05)
    board.runTo(1200)
    expect(fan()).toBe(0)
  })
  it('a thermistor tells degrees, as the B equation has it', () => {
    const plain = edited(
      linesFan(),
      { type: 'addSensor', kind: 'thermistor', name: 'Sensor' },
      {
        type: 'setReading',
        linkId: 'phone-link',
        sensorId: 'sensor',
        patch: { code: 'T', deadBand: 0, leastMs: 0, everyMs: 0 },
      },
    )
    const design = wired(plain, 'sensor', {
      pin: 15,
      ohmsAt25: 10_000,
      beta: 3950,
      seriesOhms: 10_000,
    })
    const status = (design.links[0] as { statusPin: number | null }).statusPin
    const board = started(design)
    if (status !== null) board.setPin(status, 1)
    const told = () => {
      const text = Buffer.from(board.sent).toString('latin1')
      board.sent = []
      return text
    }
    board.runTo(300)
    told()
    // Half of 5 V: as much as the resistor, 25 °C. 3265 Ω are 53.3 °C by the same equation.
    board.measure(1, 2.5)
    board.runTo(700)
    expect(told()).toContain('+T 25\n')
    board.measure(1, (5 * 3265) / (10_000 + 3265))
    board.runTo(1200)
    const degrees = Number(/T ([\d.]+)/.exec(told())?.[1])
    const exact = 1 / (1 / 298.15 + Math.log(0.3265) / 3950) - 273.15
    expect(Math.abs(degrees - exact)).toBeLessThan(0.3)
  })
  it('a cut while memory is written leaves what was there, or what was to be there', () => {
    const plain = edited(
      fanDesign(),
      { type: 'setKind', loadId: 'fan', kind: 'level' },
      { type: 'setPins', pins: { 'load:fan': 5 } },
      {
        type: 'setOutput',
        loadId: 'fan',
        patch: { powerUp: 'last', saveDelayMs: 0, rampMs: 0, activeLevel: 'high' },
      },
      {
        type: 'assignCodes',
        linkId: 'phone-link',
        codes: { fan: { 0: 'a', 25: 'b', 50: 'c', 75: 'd', 100: 'e' } },
      },
    )
    const board = started(plain)
    const share = () => Math.round(board.level(5, true) / 2.55)
    let now = 100
    const say = (text: string) => {
      board.hear(Buffer.from(text), now + 5)
      board.runTo((now += 5))
    }
    const after = new Map<number, number>()
    for (let cutMs = 0; cutMs < 45; cutMs++) {
      say('d')
      board.runTo((now += 200))
      expect(share()).toBe(75)
      say('b')
      board.runTo((now += cutMs))
      board.off()
      board.boot((now += 100))
      board.runTo((now += 50))
      after.set(share(), (after.get(share()) ?? 0) + 1)
    }
    expect([...after.keys()].toSorted((a, b) => a - b)).toEqual([25, 75])
  })
  it('a knob dims by detents, either way', () => {
    const plain = edited(
      fanDesign(),
      { type: 'setKind', loadId: 'fan', kind: 'level' },
      { type: 'setPins', pins: { 'load:fan': 5 } },
      { type: 'addSensor', kind: 'knob', name: 'Sensor', loadId: 'fan' },
    )
    const design = wired(plain, 'sensor', {
      pin: 7,
      pinB: 8,
      countsPerDetent: 4,
      accelerated: false,
    })
    const board = started(design)
    const share = () => {
      const level = board.level(5, true)
      const { activeLevel } = design.loads[0]!.output as { activeLevel: string }
      return Math.round((activeLevel === 'high' ? level : 255 - level) / 2.55)
    }
    let now = 100
    const turn = (lines: readonly (readonly [0 | 1, 0 | 1])[]) => {
      for (const [a, b] of lines) {
        board.setPin(7, a)
        board.setPin(8, b)
        board.runTo((now += 5))
      }
      // Until it has dimmed.
      board.runTo((now += 3000))
    }
    // The second line first is up (engine/hands.cpp, core/controller/knobs.ts).
    const up = [
      [0, 1],
      [0, 0],
      [1, 0],
      [1, 1],
    ] as const
    const down = [
      [1, 0],
      [0, 0],
      [0, 1],
      [1, 1],
    ] as const
    const before = share()
    turn(up)
    turn(up)
    const twice = share()
    turn(down)
    const once = share()
    expect(before).toBe(0)
    expect(once).toBeGreaterThan(0)
    expect(twice).toBeGreaterThan(once)
  })
  it('a wire on ordinary pins speaks and hears, bit by bit', () => {
    const design = over(linesFan(), 'wire')
    const { link, port } = carriedLinks(design)[0]!
    expect(port).toBe('soft')
    const { receivePin, sendPin, baud } = link as {
      receivePin: number
      sendPin: number
      baud: number
    }
    const board = started(design)
    const said = board.listenBits(sendPin, baud)
    board.hearBits(receivePin, Buffer.from(`${onOf(design)}\n`), baud)
    board.runTo(200)
    expect(board.level(pinOf(design, 'fan'), false)).toBe(0)
    expect(Buffer.from(said).toString('utf8')).toBe(`+${onOf(design)}\n`)
  })

  it.each([9600, 19_200])(
    'such a wire keeps its time at %i baud, and hears one that does not quite',
    baud => {
      const wire = over(linesFan(), 'wire')
      const design = edited(wire, {
        type: 'setLink',
        linkId: wire.links[0]!.id,
        patch: { baud } as object,
      })
      const { receivePin, sendPin } = carriedLinks(design)[0]!.link as {
        receivePin: number
        sendPin: number
      }
      const heard = [0.965, 1, 1.035].map(off => {
        const board = started(design)
        const said = board.listenBits(sendPin, baud)
        const edges: number[] = []
        board.watch(sendPin, () => edges.push(board.us))
        board.hearBits(receivePin, Buffer.from(`${onOf(design)}\n`), baud * off)
        board.runTo(200)
        expect(Buffer.from(said).toString('utf8')).toBe(`+${onOf(design)}\n`)
        // Between two edges lie whole bits; interrupts take some us of one.
        const bits = edges.slice(1).map((us, i) => ((us - edges[i]!) * baud) / 1e6)
        const off2 = bits.map(b => b - Math.round(b)).toSorted((x, y) => x - y)
        return Math.abs(off2[Math.floor(off2.length / 2)]!)
      })
      expect(Math.max(...heard)).toBeLessThan(0.02)
    },
  )
  it('a remote: a frame acts, its repeats do not toggle, noise does nothing', () => {
    const plain = added({ type: 'addSensor', kind: 'infrared', name: 'Sensor' })
    const design = wired(plain, 'sensor', {
      pin: 3,
      keys: [
        { address: 0x12, command: 0x34, loadId: 'fan', asks: 'toggle' },
        { address: 0x1234, command: 7, loadId: 'fan', asks: 'off' },
      ],
    })
    const board = started(moved(design, { 'control:fan-button': 2 }))
    const fan = () => board.level(pinOf(design, 'fan'), false)
    let now = 60
    const pass = (ms: number) => board.runTo((now += ms))
    sendKey(board, 3, 0x12, 0x34)
    pass(100)
    expect(fan()).toBe(0)
    for (let n = 0; n < 3; n++) {
      repeatKey(board, 3)
      pass(108)
    }
    expect(fan()).toBe(0)
    sendKey(board, 3, 0x13, 0x34)
    pass(100)
    expect(fan()).toBe(0)
    sendKey(board, 3, 0x1234, 7)
    pass(100)
    expect(fan()).toBe(1)
    for (const us of [900, 4100, 300, 9000, 700]) {
      board.after(us, () => board.setPin(3, 0))
      board.after(us + 200, () => board.setPin(3, 1))
    }
    pass(50)
    expect(fan()).toBe(1)
  })
  it('a digital thermometer is told, below nought too, and not while it does not answer', () => {
    const plain = edited(
      linesFan(),
      { type: 'addSensor', kind: 'thermometer', name: 'Sensor' },
      {
        type: 'setReading',
        linkId: 'phone-link',
        sensorId: 'sensor',
        patch: { code: 'T', deadBand: 0, leastMs: 0, everyMs: 0 },
      },
    )
    const design = wired(plain, 'sensor', { pin: 7 })
    const board = started(design)
    const { statusPin } = design.links[0] as { statusPin: number | null }
    if (statusPin !== null) board.setPin(statusPin, 1)
    board.runTo(1000)
    expect(Buffer.from(board.sent).toString('latin1')).not.toContain('T')
    const part = new LineThermometer(board, 7)
    part.sixteenths = 345
    board.runTo(4000)
    expect(Buffer.from(board.sent).toString('latin1')).toContain('+T 21.6\n')
    part.sixteenths = -20
    board.runTo(7000)
    expect(Buffer.from(board.sent).toString('latin1')).toContain('+T -1.2\n')
  })
  it('shift registers are held off until all their pins are written', () => {
    const design = edited(
      fanDesign(),
      { type: 'addExpander', name: 'More', kind: 'shift' },
      { type: 'addLoad', name: 'Lamp' },
      { type: 'setPins', pins: { 'load:fan': 100, 'load:lamp': 105 } },
    )
    const more = design.controllers[0]!.expanders[0] as ConstructorParameters<
      typeof ShiftRegisters
    >[1]
    const board = switchedOn(design)
    const registers = new ShiftRegisters(board, more)
    const seen = new Set<string>()
    for (let at = 0.05; at < 40; at += 0.05) {
      board.runTo(at)
      seen.add(`${registers.level(0)} ${registers.level(5)}`)
    }
    // Both rest high: active low.
    expect([...seen]).toEqual(['null null', '1 1'])
    const press = buttonPin(design, 'fan-button')
    board.setPin(press, 0)
    board.runTo(200)
    expect([registers.level(0), registers.level(5)]).toEqual([0, 1])
  })
  it('a port on a two-wire bus switches a load and hears a button', () => {
    const design = edited(
      fanDesign(),
      { type: 'addExpander', name: 'More', kind: 'two-wire' },
      { type: 'setPins', pins: { 'load:fan': 100, 'control:fan-button': 103 } },
    )
    const more = design.controllers[0]!.expanders[0] as {
      dataPin: number
      clockPin: number
      address: number
    }
    const board = switchedOn(design)
    const port = new BusPort(board, more.dataPin, more.clockPin, more.address)
    board.runTo(100)
    expect(port.written).toBe(0xff)
    port.pulledDown = 0b1000
    board.runTo(300)
    expect(port.written).toBe(0xfe)
    port.pulledDown = 0
    board.runTo(700)
    port.pulledDown = 0b1000
    board.runTo(900)
    expect(port.written).toBe(0xff)
  })
})
