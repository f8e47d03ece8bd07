/** What the board switches: drivers in full, from the pin to the load. */
import { activeLevelOf, isOpposed } from '../../design/outputs/traits'
import type { Design, Driver, Load } from '../../design/schema'
import { isUpsideDown, winds } from '../../design/drivers'
import { boardOf, needs, pinLabel, type Need } from '../../design/pins'
import { linesOf } from '../../design/values'
import { feedVolts } from '../../electrical/supply-chain'
import { GATE_OHMS } from '../../electrical/mosfet'
import { valueOf } from '../../electrical/sum'
import type { WiringSum } from '../../electrical/wiring-sum'
import { showQuantity } from '../../units/quantity'
import { GROUND, RowMaker, type Names, type Row } from './model'
import { ohms } from './pins-of'
import type { SymbolKind } from './symbols'

/** What rows are made from. */
export interface Making {
  design: Design
  names: Names
  sums: readonly WiringSum[]
}

type DriverOf<K extends Driver['kind']> = Extract<Driver, { kind: K }>

/** A line of a load: its pin, how far down it stands, and the net that its driver is driven by. */
interface Line {
  need: Need
  y: number
  net: string
}

/** A load at work: the row, its lines, figures of its sums. */
interface At extends Making {
  load: Load
  row: RowMaker
  lines: readonly Line[]
  feed: string
  figure(kind: string, symbol: string): number | null
}

/** Room between lines of one load, by driver. */
const SPACING: Record<Driver['kind'], number> = {
  none: 0,
  'relay-module': 120,
  coil: 200,
  mosfet: 150,
  opto: 110,
  bridge: 36,
  stepper: 36,
  dimmer: 36,
  'four-coils': 40,
}
/** Behind an isolator everything stands this much further right and down. */
const ISOLATED = 190

/** "+5 V": the net of a supply. */
export function supplyNet(volts: number): string {
  return `+${showQuantity(volts, 'V')}`
}

/** The supply that the pins of a board work with. */
export function logicNet(design: Design): string {
  return supplyNet(boardOf(design).logicVolts)
}

/** What a load itself is fed from: apart from the board. */
function loadNet({ wiring }: Load): string {
  return `${supplyNet(wiring.load?.volts ?? 12)} load`
}

/** A row for each load that has pins. */
export function loadRows(making: Making): Row[] {
  const all = needs(making.design)
  return making.design.loads
    .filter(l => linesOf(l.output).length > 0 && l.wiring.driver.kind !== 'none')
    .map(load => loadRow(making, load, all))
}

function loadRow(making: Making, load: Load, all: readonly Need[]): Row {
  const { design, names, sums } = making
  const { driver } = load.wiring
  const row = new RowMaker(names, load.name)
  const spacing = load.wiring.isolator ? Math.max(120, SPACING[driver.kind]) : SPACING[driver.kind]
  const lines = all
    .filter(n => n.loadId === load.id && n.line !== null)
    .map((need, i): Line => {
      const label = pinLabel(design, need.chip)
      const net = `${label} ${load.name}`
      row.pin({
        needId: need.id,
        label,
        what: need.what,
        net,
        y: i * spacing,
        does: 'drives',
        wire: 'output',
      })
      return { need, y: i * spacing, net }
    })
  const at: At = {
    ...making,
    load,
    row,
    lines,
    feed: supplyNet(feedVolts(design, load.wiring.fedBy)),
    figure(kind, symbol) {
      const sum = sums.find(s => s.id === `load:${load.id} ${kind}`)?.sum
      return sum ? valueOf(sum, symbol) : null
    },
  }
  const x = load.wiring.isolator ? ISOLATED : 0
  const behind = load.wiring.isolator ? { ...at, lines: lines.map(l => isolated(at, l)) } : at
  ;(DRIVERS[driver.kind] as (driver: Driver, at: At, x: number) => void)(driver, behind, x)
  if (isUpsideDown(load))
    row.row.hazards.push(
      `${load.name} is on when its pin is low, but this driver conducts when it is high: it would be on when it should be off. Say "on when pin is high".`,
    )
  return row.row
}

/** The lamp of an isolator at the pin, its transistor for what follows. */
function isolated(at: At, { need, y, net }: Line): Line {
  const { row, names, load, feed } = at
  const value = ohms(at.figure('isolator', 'R'))
  const high = activeLevelOf(load.output) === 'high'
  const lamp = names.net()
  row.wire(net, [0, y], [30, y])
  row.two('resistor', 'R', [30, y], [net, lamp], { value, words: 'resistor' })
  row.wire(lamp, [80, y], [100, y])
  const out = names.net()
  const logic = logicNet(at.design)
  // Where the pin is on when low, it draws the current of the lamp from the supply.
  const pulls = at.load.wiring.driver.kind === 'relay-module'
  row.part(
    high ? 'isolator' : 'isolatorBack',
    'U',
    [100, y],
    {
      a: high ? lamp : logic,
      k: high ? GROUND : lamp,
      c: pulls ? out : feed,
      e: pulls ? GROUND : out,
    },
    { words: 'optocoupler', label: '' },
  )
  if (high) row.ground([100, y + 44])
  else row.flag(logic, [100, y + 44])
  if (pulls) row.ground([176, y + 44]).wire(out, [176, y], [ISOLATED, y])
  else
    row
      .flag(feed, [176, y])
      .wire(out, [176, y + 44], [ISOLATED - 4, y + 44], [ISOLATED - 4, y], [ISOLATED, y])
  return { need, y, net: out }
}

const DRIVERS: { [K in Driver['kind']]: (driver: DriverOf<K>, at: At, x: number) => void } = {
  none: () => undefined,
  'relay-module': ({ amps }, at, x) => {
    const { row, load, feed, lines } = at
    const contacts = lines.map(({ y, net }) => {
      row.wire(net, [x, y], [x + 90, y])
      const box = {
        width: 130,
        height: 56,
        lines: [
          'relay module',
          `on when ${activeLevelOf(load.output)}, ${showQuantity(amps, 'A')}`,
        ],
        terminals: { '': [0, 28] as const, '+': [90, 0] as const, GND: [90, 56] as const },
      }
      const nets = { '': net, '+': feed, GND: GROUND }
      const ref = row.box('K', [x + 90, y - 28], box, nets, { words: 'relay module' })
      row.flag(feed, [x + 180, y - 28]).ground([x + 180, y + 28])
      return { ref, from: [x + 220, y] as const }
    })
    loadSide(at, x + 300, contacts)
  },
  coil: (driver, at, x) => {
    const contacts = at.lines.map(line => coilDriver(driver, at, line, x))
    at.row.note(...coilNotes(at))
    loadSide(at, x + 320, contacts)
  },
  mosfet: (driver, at, x) => {
    for (const line of at.lines) {
      const { drain, place } = gate(at, line, x, ohms(driver.onOhms))
      lowSide(at, drain, place)
    }
    const heat = at.figure('mosfet', 'P')
    if (heat !== null) at.row.note(`Heat ${showQuantity(heat, 'W')} in the MOSFET.`)
  },
  bridge: (driver, at, x) => {
    const motor = chip(at, x, ['motor bridge', showQuantity(driver.maxAmps, 'A')], loadNet(at.load))
    motorOn(at, motor, 'M')
  },
  stepper: (driver, at, x) => {
    const lines = ['stepper driver', `set to ${showQuantity(driver.phaseAmps, 'A')}`]
    const motor = chip(at, x, lines, loadNet(at.load))
    motorOn(at, motor, 'M')
    at.row.note('Two phases, four leads: pairs as in the sheet of the motor.')
  },
  dimmer: (driver, at, x) => {
    const [line] = at.lines
    if (!line) return
    at.row.wire(line.net, [x, line.y], [x + 90, line.y])
    const box = {
      width: 150,
      height: 60,
      lines: ['dimmer input', `up to ${showQuantity(driver.maxAmps, 'A')}`],
      terminals: { '': [0, 30] as const, GND: [75, 60] as const },
    }
    const nets = { '': line.net, GND: GROUND }
    at.row.box('U', [x + 90, line.y - 30], box, nets, { words: 'dimmer' })
    at.row.ground([x + 165, line.y + 30])
    mainsBox(at, [x + 240, line.y], x + 320)
  },
  opto: (driver, at, x) => {
    for (const { y, net } of at.lines) {
      const lamp = at.names.net()
      const value = ohms(at.figure('opto', 'R'))
      at.row.wire(net, [x, y], [x + 30, y])
      at.row.two('resistor', 'R', [x + 30, y], [net, lamp], { value, words: 'resistor' })
      at.row.wire(lamp, [x + 80, y], [x + 110, y])
      const theirs = `line of ${at.load.name} ${y}`
      const nets = { a: lamp, k: GROUND, c: theirs, e: `GND of ${at.load.name}` }
      at.row.part('isolator', 'U', [x + 110, y], nets, { words: 'optocoupler' })
      at.row.ground([x + 110, y + 44])
      at.row.wire(theirs, [x + 186, y], [x + 260, y])
      at.row.wire(`GND of ${at.load.name}`, [x + 186, y + 44], [x + 260, y + 44])
      const volts = showQuantity(driver.lineVolts, 'V')
      const box = {
        width: 170,
        height: 64,
        lines: ['the other device', `${volts}, ${ohms(driver.lineOhms)} inside`],
        terminals: { line: [0, 10] as const, 'its GND': [0, 54] as const },
      }
      const own = { line: theirs, 'its GND': `GND of ${at.load.name}` }
      at.row.box('J', [x + 260, y - 10], box, own, {
        words: 'plug',
        drives: y === 0 ? ['line', 'its GND'] : ['line'],
      })
    }
    at.row.note('The two sides share no ground.')
  },
  'four-coils': (driver, at, x) => {
    const last = at.lines.at(-1)?.y ?? 0
    const top = (at.lines[0]?.y ?? 0) - 24
    const outs = at.lines.map(() => at.names.net())
    for (const { y, net } of at.lines) at.row.wire(net, [x, y], [x + 90, y])
    const terminals = Object.fromEntries([
      ...at.lines.map(({ y }, i) => [`in ${i + 1}`, [0, y - top] as const] as const),
      ...at.lines.map(({ y }, i) => [`out ${i + 1}`, [240, y - top] as const] as const),
      ['GND', [120, last - top + 24] as const],
      ['+', [120, 0] as const],
    ])
    const box = {
      width: 240,
      height: last - top + 24,
      lines: ['switches', 'with diodes to +'],
      terminals,
    }
    const nets = Object.fromEntries([
      ...at.lines.map(({ net }, i) => [`in ${i + 1}`, net] as const),
      ...outs.map((net, i) => [`out ${i + 1}`, net] as const),
      ['GND', GROUND],
      ['+', at.feed],
    ])
    const drives = outs.map((_, i) => `out ${i + 1}`)
    at.row.box('U', [x + 90, top], box, nets, { words: 'array of switches with diodes', drives })
    at.row.flag(at.feed, [x + 210, top]).ground([x + 210, last + 24])
    at.lines.forEach(({ y }, i) => {
      const net = outs[i] ?? ''
      at.row.wire(net, [x + 330, y], [x + 380, y])
      const value = ohms(driver.coilOhms)
      at.row.two('solenoid', 'L', [x + 380, y], [net, at.feed], {
        value,
        words: 'coil of a stepper',
      })
      at.row.wire(at.feed, [x + 430, y], [x + 460, y])
    })
    at.row.wire(at.feed, [x + 460, at.lines[0]?.y ?? 0], [x + 460, last])
    at.row.wire(at.feed, [x + 460, at.lines[0]?.y ?? 0], [x + 460, top])
    at.row.flag(at.feed, [x + 460, top])
  },
}

/** A coil behind its transistor; returns where its contact hangs. */
function coilDriver(
  driver: DriverOf<'coil'>,
  at: At,
  line: Line,
  x: number,
): { ref: string; from: readonly [number, number] } {
  const { y } = line
  const low = driver.gate
    ? gate(at, line, x, ohms(driver.gate.onOhms))
    : base(at, line, x, ohms(at.figure('coil-driver', 'Rb')))
  const [cx, cy] = low.place
  const top = cy - 66
  const value = `${showQuantity(driver.volts, 'V')}, ${ohms(driver.ohms)}`
  const ref = at.row.two('coil', 'K', [cx, top], [at.feed, low.drain], {
    ...{ down: true, value, words: 'relay', side: 'left' },
  })
  at.row.wire(low.drain, [cx, top + 50], [cx, cy])
  at.row.two('diode', 'D', [cx + 56, top], [at.feed, low.drain], {
    ...{ down: true, value: '1 A', words: 'diode' },
  })
  at.row.wire(at.feed, [cx, top], [cx + 56, top])
  at.row.wire(low.drain, [cx, top + 50], [cx + 56, top + 50])
  at.row.flag(at.feed, [cx, top])
  return { ref, from: [cx + 14, y - 34 - 41] }
}

function base(at: At, { y, net }: Line, x: number, value: string) {
  const [b, drain] = [at.names.net(), at.names.net()]
  at.row.wire(net, [x, y], [x + 50, y])
  at.row.two('resistor', 'R', [x + 50, y], [net, b], { value, words: 'resistor' })
  at.row.wire(b, [x + 100, y], [x + 140, y])
  const nets = { b, c: drain, e: GROUND }
  at.row.part('npn', 'Q', [x + 140, y], nets, {
    ...{ words: 'NPN transistor', side: 'below', label: '' },
  })
  at.row.ground([x + 166, y + 34])
  return { drain, place: [x + 166, y - 34] as const }
}

function gate(at: At, { y, net }: Line, x: number, value: string) {
  const [g, drain] = [at.names.net(), at.names.net()]
  at.row.wire(net, [x, y], [x + 50, y])
  at.row.two('resistor', 'R', [x + 50, y], [net, g], { value: '220 Ω', words: 'resistor' })
  at.row.wire(g, [x + 100, y], [x + 150, y])
  at.row.wire(g, [x + 124, y], [x + 124, y + 10])
  at.row.two('resistor', 'R', [x + 124, y + 10], [g, GROUND], {
    ...{ down: true, value: ohms(GATE_OHMS), words: 'resistor', side: 'left' },
  })
  at.row.ground([x + 124, y + 60])
  const nets = { g, d: drain, s: GROUND }
  at.row.part('mosfet', 'Q', [x + 150, y], nets, { words: 'MOSFET', value, label: '' })
  at.row.wire(GROUND, [x + 176, y + 34], [x + 176, y + 60])
  at.row.ground([x + 176, y + 60])
  return { drain, place: [x + 176, y - 34] as const }
}

function coilNotes(at: At): string[] {
  const [ic, ib] = [at.figure('coil-driver', 'Ic'), at.figure('coil-driver', 'Ip')]
  return ic !== null && ib !== null
    ? [`${showQuantity(ib, 'A')} into the base for ${showQuantity(ic, 'A')} of coil.`]
    : []
}

const LOADS: Record<NonNullable<Load['wiring']['load']>['type'], SymbolKind> = {
  motor: 'motor',
  resistive: 'heater',
  'led-driver': 'lamp',
  tungsten: 'lamp',
  solenoid: 'solenoid',
}

function loadWords({ name, wiring }: Load): string {
  const { load } = wiring
  return load
    ? `${name}, ${showQuantity(load.volts, 'V')} ${showQuantity(load.amps, 'A')}`
    : `${name}, not said`
}

/** Whether a fuse of its own stands before the load. */
function fuseOf(at: At): number | null {
  const rated = at.figure('fuse', 'In')
  return rated !== null && Number.isFinite(rated) ? rated : null
}

/** The net behind the fuse of a load; its supply where there is none. */
function fusedNet(at: At): string {
  return fuseOf(at) === null ? loadNet(at.load) : `${loadNet(at.load)} ${at.load.name}`
}

/** From the supply of the load through its fuse, to the right; returns where that ends. */
function fedFrom(at: At, x: number, y: number): number {
  const supply = loadNet(at.load)
  const rated = fuseOf(at)
  at.row.flag(supply, [x, y - 20])
  if (rated === null) {
    at.row.wire(supply, [x, y - 20], [x, y], [x + 20, y])
    return x + 20
  }
  at.row.wire(supply, [x, y - 20], [x, y], [x + 14, y])
  at.row.two('fuse', 'F', [x + 14, y], [supply, fusedNet(at)], {
    ...{ value: showQuantity(rated, 'A'), words: 'fuse' },
  })
  at.row.wire(fusedNet(at), [x + 64, y], [x + 78, y])
  return x + 78
}

/** The symbol of a load across, from `x`; returns where it ends. */
function loadAcross(at: At, x: number, y: number, nets: [string, string]): number {
  const { load } = at
  const symbol = LOADS[load.wiring.load?.type ?? 'resistive']
  at.row.part(
    symbol,
    symbol === 'motor' ? 'M' : 'E',
    [x, y],
    { 1: nets[0], 2: nets[1] },
    {
      ...{ words: loadWords(load), label: loadWords(load), side: 'below' },
    },
  )
  return x + (symbol === 'solenoid' ? 50 : 60)
}

/** A load switched to ground; what winds has a diode across it. */
function lowSide(at: At, drain: string, [x, y]: readonly [number, number]): void {
  const [top, supply] = [y - 10, fusedNet(at)]
  const start = x + 110
  at.row.wire(drain, [x, y], [x, top], [start, top])
  const end = loadAcross(at, start, top, [drain, supply])
  if (winds(at.load.wiring)) {
    at.row.wire(drain, [start, top], [start, top - 40])
    at.row.two('diodeRight', 'D', [start, top - 40], [drain, supply], {
      ...{ value: showQuantity(at.load.wiring.load?.amps ?? 1, 'A'), words: 'diode' },
    })
    at.row.wire(supply, [start + 50, top - 40], [end, top - 40], [end, top])
  }
  at.row.wire(supply, [end, top], [end + 30, top])
  fedBack(at, end + 30, top)
}

/** The supply of a load at the right end of its row. */
function fedBack(at: At, x: number, y: number): void {
  const supply = loadNet(at.load)
  const rated = fuseOf(at)
  if (rated !== null)
    at.row.two('fuse', 'F', [x, y], [fusedNet(at), supply], {
      ...{ value: showQuantity(rated, 'A'), words: 'fuse' },
    })
  const end = rated === null ? x : x + 50
  at.row.wire(supply, [end, y], [end + 20, y], [end + 20, y - 20]).flag(supply, [end + 20, y - 20])
}

interface Contact {
  ref: string
  from: readonly [number, number]
}

/** What contacts switch: mains as a closed box, a motor both ways, or a load from its supply. */
function loadSide(at: At, x: number, contacts: readonly Contact[]): void {
  const [first, second] = contacts
  if (!first) return
  if (at.load.wiring.load?.mains) {
    for (const c of contacts) at.row.link(c.from, [x + 30, c.from[1]])
    mainsBox(at, first.from, x + 30)
    return
  }
  if (isOpposed(at.load.output) && second) {
    bothWays(at, x, first, second)
    return
  }
  for (const c of contacts) oneWay(at, x, c)
}

function oneWay(at: At, x: number, { ref, from: [, y] }: Contact): void {
  if (!at.load.wiring.load) {
    unsaid(at, x, ref, y)
    return
  }
  const start = fedFrom(at, x, y)
  const [hot] = [at.names.net()]
  at.row.part(
    'contact',
    `${ref}.`,
    [start, y],
    { 1: fusedNet(at), 2: hot },
    {
      ...{ words: 'contact', label: `${ref} contact`, value: '' },
    },
  )
  at.row.wire(hot, [start + 60, y], [start + 90, y])
  const end = loadAcross(at, start + 90, y, [hot, GROUND])
  const far = end + 64
  at.row.wire(GROUND, [end, y], [far, y], [far, y + 12]).ground([far, y + 12])
}

/** A contact of which nobody said what it switches. */
function unsaid(at: At, x: number, ref: string, y: number): void {
  const [a, b] = [at.names.net(), at.names.net()]
  at.row.part(
    'contact',
    `${ref}.`,
    [x, y],
    { 1: a, 2: b },
    { words: 'contact', label: `${ref} contact` },
  )
  at.row.wire(a, [x, y], [x - 20, y], [x - 20, y + 24], [x + 120, y + 24])
  at.row.wire(b, [x + 60, y], [x + 120, y])
  const box = {
    width: 200,
    height: 56,
    lines: [at.load.name, 'what it switches is not said'],
    terminals: { '': [0, 16] as const, ' ': [0, 40] as const },
  }
  const drives = ['', ' ']
  at.row.box('X', [x + 120, y - 16], box, { '': b, ' ': a }, { words: 'load', drives })
}

/** Two changeover contacts: at rest both ends of the motor are on ground. */
function bothWays(at: At, x: number, first: Contact, second: Contact): void {
  const [a, b] = [at.names.net(), at.names.net()]
  const middle = (first.from[1] + second.from[1]) / 2
  const mx = x + 200
  const ends: [Contact, string, number][] = [
    [first, a, middle - 30],
    [second, b, middle + 30],
  ]
  for (const [{ ref, from }, net, my] of ends) {
    const y = from[1]
    // Drawn from right to left: the common end looks to the motor.
    const nets = { com: net, no: fusedNet(at), nc: GROUND }
    at.row.part('changeoverBack', `${ref}.`, [x + 80, y], nets, {
      ...{ words: 'changeover contact', label: `${ref} contact` },
    })
    at.row.wire(net, [x + 140, y], [mx, y], [mx, my])
    at.row
      .wire(GROUND, [x + 80, y + 14], [x + 60, y + 14], [x + 60, y + 26])
      .ground([x + 60, y + 26])
  }
  const [y1, y2] = [first.from[1] - 14, second.from[1] - 14]
  at.row.wire(fusedNet(at), [x + 80, y1], [x + 40, y1])
  at.row.wire(fusedNet(at), [x + 80, y2], [x + 40, y2], [x + 40, y1])
  const rated = fuseOf(at)
  const supply = loadNet(at.load)
  if (rated === null) at.row.flag(supply, [x + 40, y1])
  else {
    at.row.two('fuse', 'F', [x - 24, y1], [supply, fusedNet(at)], {
      ...{ value: showQuantity(rated, 'A'), words: 'fuse' },
    })
    at.row.wire(fusedNet(at), [x + 26, y1], [x + 40, y1])
    at.row.wire(supply, [x - 24, y1], [x - 24, y1 - 20]).flag(supply, [x - 24, y1 - 20])
  }
  at.row.part(
    'motor',
    'M',
    [mx, middle - 30],
    { 1: a, 2: b },
    {
      ...{ down: true, words: loadWords(at.load), label: loadWords(at.load), side: 'right' },
    },
  )
}

function mainsBox(at: At, [fx, y]: readonly [number, number], x: number): void {
  at.row.link([fx, y], [x, y])
  const box = {
    width: 230,
    height: 64,
    lines: ['MAINS, closed box', loadWords(at.load), 'by a qualified person'],
    terminals: {},
    closed: true,
  }
  at.row.box('X', [x, y - 32], box, {}, { words: 'closed box for mains' })
}

/** A driver on a chip: a terminal for each line, two outputs 60 apart, its own supply. */
function chip(
  at: At,
  x: number,
  lines: readonly string[],
  supply: string,
): { nets: [string, string]; at: readonly [number, number] } {
  const first = at.lines[0]?.y ?? 0
  const last = at.lines.at(-1)?.y ?? 0
  const height = Math.max(84, last - first + 48)
  const top = (first + last - height) / 2
  const outs: [string, string] = [at.names.net(), at.names.net()]
  const middle = height / 2
  const named = at.lines.map(({ need, y, net }) => ({ name: need.line ?? '', y, net }))
  const words = linesOf(at.load.output)
  const inputs = named.map(({ name, y, net }) => ({
    name: words.find(w => w.key === name)?.name || 'in',
    y: y - top,
    net,
  }))
  for (const { y, net } of named) at.row.wire(net, [x, y], [x + 90, y])
  const box = {
    width: 280,
    height,
    lines,
    terminals: Object.fromEntries([
      ...inputs.map(i => [i.name, [0, i.y] as const] as const),
      ['out 1', [280, middle - 30] as const],
      ['out 2', [280, middle + 30] as const],
      ['+', [140, 0] as const],
      ['GND', [140, height] as const],
    ]),
  }
  const nets = Object.fromEntries([
    ...inputs.map(i => [i.name, i.net] as const),
    ['out 1', outs[0]],
    ['out 2', outs[1]],
    ['+', supply],
    ['GND', GROUND],
  ])
  at.row.box('U', [x + 90, top], box, nets, {
    ...{ words: lines[0] ?? '', value: lines[1] ?? '', drives: ['out 1', 'out 2'] },
  })
  at.row.flag(supply, [x + 230, top]).ground([x + 230, top + height])
  return { nets: outs, at: [x + 370, top + middle - 30] }
}

function motorOn(at: At, { nets, at: [x, y] }: ReturnType<typeof chip>, letter: string): void {
  at.row.wire(nets[0], [x, y], [x + 70, y]).wire(nets[1], [x, y + 60], [x + 70, y + 60])
  at.row.part(
    'motor',
    letter,
    [x + 70, y],
    { 1: nets[0], 2: nets[1] },
    {
      ...{ down: true, words: loadWords(at.load), label: loadWords(at.load), side: 'right' },
    },
  )
}
