/** The parts list: what has to be bought and soldered, and for what (CSV, RFC 4180). */
import { EXPANDERS } from '../boards/expanders'
import { winds } from '../design/drivers'
import { expandersOf, lampsOf } from '../design/find'
import { fingerprint } from '../design/fingerprint'
import { hasSpeed, isWire } from '../design/links/traits'
import { boardOf, frontOf } from '../design/pins'
import type { Design, Driver, Expander, Load } from '../design/schema'
import { linesOf } from '../design/values'
import { sumsOf } from '../electrical/of-design'
import { GATE_OHMS } from '../electrical/mosfet'
import { valueOf } from '../electrical/sum'
import { showQuantity } from '../units/quantity'
import { csv } from './csv'
import { sensorParts } from './sensors'
import { wiredControls } from '../design/wired'
import { activeLevelOf } from '../design/outputs/traits'
import { lampOhms } from '../electrical/lamp'

export interface PartRow {
  count: number
  part: string
  value: string
  for: string
}

/** All parts of a design, equal ones on one line. */
export function partRows(design: Design): PartRow[] {
  return gathered([
    ...boardParts(design),
    ...loadParts(design),
    ...controlParts(design),
    ...design.sensors.flatMap(s =>
      sensorParts(s).map(([part, value, count]) => row(part, value, s.name, count)),
    ),
    ...frontParts(design),
  ])
}

function row(part: string, value: string, what: string, count = 1): PartRow {
  return { count, part, value, for: what }
}

function boardParts(design: Design): PartRow[] {
  const { volts, amps } = design.supply
  const feeds = `${showQuantity(volts, 'V')}, ${showQuantity(amps, 'A')}`
  return [
    row('board', boardOf(design).name, design.controllers[0]?.name ?? ''),
    row('supply', feeds, 'board and relays'),
    ...besideParts(design),
    ...design.links
      .filter(hasSpeed)
      .map(l =>
        row(
          isWire(l) ? 'serial lead of three wires' : 'serial Bluetooth module',
          `${l.baud} baud`,
          l.name,
        ),
      ),
  ]
}

/** Regulators, expanders, and lamps with their resistors. */
function besideParts(design: Design): PartRow[] {
  const { logicVolts } = boardOf(design)
  return [
    ...design.regulators.map(r =>
      row(
        `${r.kind} regulator`,
        `${showQuantity(r.volts, 'V')}, ${showQuantity(r.maxAmps, 'A')}`,
        r.name,
      ),
    ),
    ...expandersOf(design).flatMap(e =>
      e.kind === 'shift'
        ? [
            row('shift register, 8 outputs', showQuantity(logicVolts, 'V'), e.name, e.pins / 8),
            row('capacitor', '100 nF', `${e.name}, supply`, e.pins / 8),
            ...(e.enablePin === null ? [] : [row('resistor', pullOf(e), `${e.name}, enable`)]),
          ]
        : [
            row('port on a two-wire bus', `${e.pins} pins, address ${e.address}`, e.name),
            row('capacitor', '100 nF', `${e.name}, supply`),
            row('resistor', pullOf(e), `${e.name}, bus`, 2),
          ],
    ),
    ...lampsOf(design).flatMap(l => [
      row('light-emitting diode', 'indicator', l.name),
      row('resistor', showQuantity(lampOhms(logicVolts), 'Ω'), l.name),
    ]),
  ]
}

const pullOf = (e: Expander): string => showQuantity(EXPANDERS[e.kind].pullOhms, 'Ω')

/** A load, how many lines drive it, and figures of its sums by kind and symbol. */
interface At {
  load: Load
  lines: number
  figure: (kind: string, symbol: string) => number | undefined
}
type DriverOf<K extends Driver['kind']> = Extract<Driver, { kind: K }>

/** Parts of each driver; of others nothing is soldered. */
const DRIVERS: { [K in Driver['kind']]?: (driver: DriverOf<K>, at: At) => PartRow[] } = {
  'relay-module': (_, { load: { name, output }, lines }) => [
    row('relay module channel', `on when ${activeLevelOf(output)}`, name, lines),
  ],
  coil: ({ volts, ohms, gainMin, transistorMaxAmps, gate }, { load: { name }, figure }) => {
    const relay = row('relay', `coil ${showQuantity(volts, 'V')}, ${showQuantity(ohms, 'Ω')}`, name)
    if (gate) return [relay, row('diode', '1 A', name), ...mosfetParts(gate, name)]
    const base = figure('coil-driver', 'Rb')
    const gain = `gain at least ${gainMin}, ${showQuantity(transistorMaxAmps, 'A')}`
    return [
      relay,
      row('NPN transistor', gain, name),
      row('diode', '1 A', name),
      ...(base ? [row('resistor', showQuantity(base, 'Ω'), `${name}, base`)] : []),
    ]
  },
  mosfet: (driver, { load: { name, wiring } }) => [
    ...mosfetParts(driver, name),
    // What winds goes on when the switch opens: a diode takes its current.
    ...(wiring.load && winds(wiring)
      ? [row('diode', showQuantity(wiring.load.amps, 'A'), name)]
      : []),
  ],
  'four-coils': ({ coilVolts, maxAmps }, { load: { name } }) => [
    row('stepper with four coils', showQuantity(coilVolts, 'V'), name),
    row('array of switches with diodes', `four of ${showQuantity(maxAmps, 'A')}`, name),
  ],
  bridge: ({ maxAmps, peakAmps }, { load: { name } }) => [
    row('motor bridge', `${showQuantity(maxAmps, 'A')}, ${showQuantity(peakAmps, 'A')} peak`, name),
  ],
  stepper: ({ maxAmps }, { load: { name } }) => [
    row('stepper driver', showQuantity(maxAmps, 'A'), name),
  ],
  dimmer: ({ minAmps, maxAmps }, { load: { name } }) => [
    row(
      'dimmer with low-voltage input',
      `${showQuantity(minAmps, 'A')} to ${showQuantity(maxAmps, 'A')}`,
      name,
    ),
  ],
  opto: ({ transferMin }, { load: { name }, lines, figure }) => [
    row('optocoupler', `transfer at least ${showQuantity(transferMin * 100, '%')}`, name, lines),
    row('resistor', showQuantity(figure('opto', 'R') ?? 0, 'Ω'), `${name}, lamps`, lines),
  ],
}

function mosfetParts(
  { onOhms, onAtGateVolts }: { onOhms: number; onAtGateVolts: number },
  name: string,
): PartRow[] {
  return [
    row(
      'MOSFET, N-channel',
      `${showQuantity(onOhms, 'Ω')} at ${showQuantity(onAtGateVolts, 'V')}`,
      name,
    ),
    row('resistor', '220 Ω', `${name}, gate`),
    row('resistor', showQuantity(GATE_OHMS, 'Ω'), `${name}, gate to ground`),
  ]
}

function isolatorParts({ name, output, wiring }: Load, ohms: number | undefined): PartRow[] {
  if (!wiring.isolator) return []
  const lines = linesOf(output).length
  const transfer = showQuantity(wiring.isolator.transferMin * 100, '%')
  return [
    row('optocoupler', `transfer at least ${transfer}`, `${name}, isolator`, lines),
    row('resistor', showQuantity(ohms ?? 0, 'Ω'), `${name}, isolator`, lines),
  ]
}

function loadParts(design: Design): PartRow[] {
  const sums = new Map(sumsOf(design).map(s => [s.id, s.sum]))
  return design.loads.flatMap(load => {
    const { driver, run } = load.wiring
    if (driver.kind === 'none') return []
    const figure = (kind: string, symbol: string) => {
      const sum = sums.get(`load:${load.id} ${kind}`)
      return sum ? valueOf(sum, symbol) : undefined
    }
    const parts = DRIVERS[driver.kind] as ((driver: Driver, at: At) => PartRow[]) | undefined
    const rated = figure('fuse', 'In')
    const lead =
      run && `${showQuantity(run.lengthMeters, 'm')}, ${showQuantity(run.sectionMm2, 'mm²')}`
    return [
      ...isolatorParts(load, figure('isolator', 'R')),
      ...(parts?.(driver, { load, lines: linesOf(load.output).length, figure }) ?? []),
      ...(rated !== undefined && Number.isFinite(rated)
        ? [row('fuse', showQuantity(rated, 'A'), load.name)]
        : []),
      ...(lead ? [row('two-core lead', lead, load.name)] : []),
    ]
  })
}

function controlParts(design: Design): PartRow[] {
  return wiredControls(design).flatMap(({ control: c, surface, loadName }) => {
    const part = c.kind === 'push' ? 'push button' : 'latching switch'
    return [
      row(part, 'low voltage', `${surface.name}, ${loadName}`),
      ...(c.pullOhms === null
        ? []
        : [
            row(
              'resistor',
              showQuantity(c.pullOhms, 'Ω'),
              `${surface.name}, pull-up of ${loadName}`,
            ),
          ]),
    ]
  })
}

const BETWEEN = 'wire between the boards'
const SHIFTS: Partial<Record<NonNullable<Design['front']>['shift'], PartRow[]>> = {
  divider: [row('resistor', '1 kΩ', BETWEEN), row('resistor', '2 kΩ', BETWEEN)],
  shifter: [row('level shifter, two lines', 'both directions', BETWEEN)],
}

function frontParts(design: Design): PartRow[] {
  const { front } = design
  if (!front) return []
  const board = frontOf(design)?.name ?? front.board
  return [row('board', board, front.name), ...(SHIFTS[front.shift] ?? [])]
}

/** Equal parts on one line, with all they are for. */
function gathered(parts: readonly PartRow[]): PartRow[] {
  const lines = new Map<string, PartRow>()
  for (const p of parts) {
    const known = lines.get(`${p.part} ${p.value}`)
    if (known) Object.assign(known, { count: known.count + p.count, for: `${known.for}; ${p.for}` })
    else lines.set(`${p.part} ${p.value}`, { ...p })
  }
  return [...lines.values()]
}

/** The parts list as CSV, with the fingerprint below. */
export function partsCsv(design: Design): string {
  return csv(
    ['count', 'part', 'value', 'for'],
    [
      ...partRows(design).map(r => [r.count, r.part, r.value, r.for]),
      ['', 'fingerprint', fingerprint(design), ''],
    ],
  )
}
