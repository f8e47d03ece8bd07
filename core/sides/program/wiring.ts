/** What hangs on which pin, as a board reads it (engine/boards/wiring.h). */
import type { Program } from '../../controller/program'
import { expandersOf, handSurfaces, lampsOf } from '../../design/find'
import { classOf } from '../../boards/classes'
import type { BoardProfile } from '../../boards/schema'
import { boardOf } from '../../design/pins'
import { sensorLines } from '../../design/sensors/rows'
import type { Design, Expander, Output, Sensor, SensorKind, SensorOf } from '../../design/schema'
import { isStepper } from '../../design/outputs/traits'
import { isLadder, isReceiver, isThermometer } from '../../design/sensors/traits'
import { linesOf, numbersOf, valuesOf } from '../../design/values'
import { crc, crcNamed } from '../../bytes/crc'
import type { Port } from './carried'
import { networkRow, ownName, PORT_KINDS } from './network'
import { wiredLoads } from './box'
import { isInFront } from './front'
import type { TableWriter } from './writer'

const MOST_LINES = 4
const NO_PIN = 255
const USES = { switches: 0, dims: 1, steps: 2 }
const READS = {
  NOTHING: 0,
  CONTACT: 1,
  FLOATS: 2,
  COUNTS: 3,
  MILLIVOLTS: 4,
  THERMISTOR: 5,
  AXES: 6,
  THERMOMETER: 7,
}
/** How often what is measured is read, and a stick, ms. */
const MEASURED_MS = 250
const STICK_MS = 20
/** How long floats have to rest, ms: water moves. */
const FLOATS_MS = 500
/** A digital thermometer measures for up to 0.75 s (12 bits). */
const THERMOMETER_MS = 800

/** `floats`: pins of floats that were listed before it, to which its own are added. */
interface SensorRow {
  reads: keyof typeof READS
  pin?: number
  more?: number
  pulledUp?: boolean
  ms?: number
  factor?: number
  beta?: number
}

const NOTHING = (): SensorRow => ({ reads: 'NOTHING' })
const millivolts = (
  board: BoardProfile,
  pin: number,
  divider: { upperOhms: number; lowerOhms: number } | null,
): SensorRow => {
  const ratio = divider ? (divider.upperOhms + divider.lowerOhms) / divider.lowerOhms : 1
  const factor = (board.logicVolts * 1000 * ratio) / 2 ** board.analogBits
  return { reads: 'MILLIVOLTS', pin, ms: MEASURED_MS, factor }
}

/** null: the program cannot read it. */
type Row<S extends Sensor> = (
  sensor: S,
  board: BoardProfile,
  floats: readonly number[],
) => SensorRow | null

const ROWS: { [K in SensorKind]: Row<SensorOf<K>> } = {
  infrared: NOTHING,
  knob: NOTHING,
  contact: ({ pin, debounceMs, pullOhms }) => ({
    reads: 'CONTACT',
    pin,
    ms: debounceMs,
    pulledUp: pullOhms === null,
  }),
  floats: (sensor, _, floats) => ({
    reads: 'FLOATS',
    pin: floats.length,
    more: sensor.floats.length,
    ms: FLOATS_MS,
    pulledUp: true,
  }),
  thermometer: ({ pin }) => ({ reads: 'THERMOMETER', pin, ms: THERMOMETER_MS }),
  thermistor: ({ pin, ohmsAt25, seriesOhms, beta }) => ({
    reads: 'THERMISTOR',
    pin,
    ms: MEASURED_MS,
    factor: seriesOhms / ohmsAt25,
    beta,
  }),
  analog: ({ pin, calibration, divider }, board) =>
    calibration ? { reads: 'COUNTS', pin, ms: MEASURED_MS } : millivolts(board, pin, divider),
  battery: (sensor, board) => millivolts(board, sensor.pin, sensor),
  'two-axis': ({ pin, pinB }) => ({ reads: 'AXES', pin, more: pinB, ms: STICK_MS }),
}
/** What a computer reads, too. */
const BY_LEVELS: readonly SensorRow['reads'][] = ['NOTHING', 'CONTACT', 'FLOATS']
function rowOf(sensor: Sensor, board: BoardProfile, floats: readonly number[]): SensorRow | null {
  const row = (ROWS[sensor.kind] as Row<Sensor>)(sensor, board, floats)
  const reads = classOf(board).program !== 'linux' || !row || BY_LEVELS.includes(row.reads)
  return reads ? row : null
}

/** Whether the program of a board can read a sensor: a computer has neither converter nor time. */
export function canRead(sensor: Sensor, board: BoardProfile): boolean {
  return rowOf(sensor, board, []) !== null
}

type Part = readonly [1 | 2 | 4, number]

/** Rows of a kind; returns where they stand. */
function rows(to: TableWriter, named: readonly (readonly [string, readonly Part[]])[]): number {
  const at = to.at
  for (const [name, parts] of named) {
    const row = to.room(parts.reduce((sum, [size]) => sum + size, 0))
    to.fill(row, parts)
    to.notes.set(row, name)
  }
  return at
}

/** The board's own part of the table, behind the rest; returns where it begins. */
export function wiringTable(
  to: TableWriter,
  program: Program,
  carried: readonly Port[],
  board: BoardProfile,
): number {
  const { inputs, knobs, design } = program
  const { floats, sensors } = sensorRows(design, board)
  const places = [
    rows(to, loadRows(program)),
    rows(
      to,
      inputs.map(({ control }) => pinRow('hand control', control.id, control.pin)),
    ),
    rows(
      to,
      // Lamps of a board in front are lines of the one behind.
      isInFront(design) ? [] : lampsOf(design).map(lamp => pinRow('lamp', lamp.name, lamp.pin)),
    ),
    rows(
      to,
      knobs.map(({ knob }) => [
        `pins of knob ${knob.name}`,
        [
          [1, knob.pin],
          [1, knob.pinB],
        ],
      ]),
    ),
    rows(to, sensors),
    rows(
      to,
      floats.map(float => ['pin of a float', [[1, float]]]),
    ),
    rows(to, carried.map(portRow)),
    rows(
      to,
      expandersOf(design).map(e => [`pins of expander ${e.name}`, expanderRow(e, design)]),
    ),
  ]
  const network = rows(
    to,
    classOf(board).network
      ? program.links.map(link => [
          `${link.link.name} on the network`,
          networkRow(to, program, link),
        ])
      : [],
  )
  const receiver = receiverOf(design)
  const eye = design.sensors[receiver]
  return rows(to, [
    [
      'what hangs on which pin: where each kind of row begins',
      [
        ...places.map((place): Part => [2, place]),
        [1, expandersOf(design).length],
        [1, Math.max(0, receiver)],
        [1, eye && 'pin' in eye ? eye.pin : NO_PIN],
        [2, keptKey(program)],
        [2, network],
        [2, to.text(ownName(program))],
      ],
    ],
  ])
}

/** What a row is for, and what stands in it. */
type Named = [string, Part[]]

function pinRow(what: string, name: string, chip: number): Named {
  return [`pin of ${what} ${name}`, [[1, chip]]]
}

/** `floats`: pins of the floats of all ladders, in order. */
function sensorRows(design: Design, board: BoardProfile): { floats: number[]; sensors: Named[] } {
  const floats: number[] = []
  // Those of the board behind are told by it.
  const behind = isInFront(design)
  const sensors = design.sensors.map((sensor): Named => {
    const row = (behind ? null : rowOf(sensor, board, floats)) ?? NOTHING()
    if (isLadder(sensor) && !behind) floats.push(...sensor.floats.map(f => f.pin))
    const { reads, pin = 0, more = 0, pulledUp = false, ms = 0, factor = 0, beta = 0 } = row
    return [
      `pins of sensor ${sensor.name}`,
      [
        [1, READS[reads]],
        [1, pin],
        [1, more],
        [1, Number(pulledUp)],
        [2, ms],
        [4, realBits(factor)],
        [4, realBits(beta)],
      ],
    ]
  })
  return { floats, sensors }
}

function loadRows({ loads, design }: Program): Named[] {
  const wired = new Set(wiredLoads(design).map(l => l.id))
  return loads.map(({ id, name, output }) => {
    const lines = (wired.has(id) ? linesOf(output) : []).map((l, i): Part[] => [
      [1, l.pin],
      [1, USES[usedAs(output, l.use.as, i)]],
    ])
    const all = [...lines, ...Array<Part[]>(MOST_LINES - lines.length).fill(NO_LINE)]
    return [`pins of load ${name}, and how each is driven`, all.flat()]
  })
}

type PortPins = Partial<Record<'statusPin' | 'receivePin' | 'sendPin', number | null>>

function portRow({ link, port }: Port): Named {
  const { statusPin, receivePin, sendPin, baud = 0 } = link as PortPins & { baud?: number }
  return [
    `port of link ${link.name}: its own or not, status, in and out, baud`,
    [
      [1, PORT_KINDS[port]],
      [1, statusPin ?? NO_PIN],
      [1, receivePin ?? NO_PIN],
      [1, sendPin ?? NO_PIN],
      [4, baud],
    ],
  ]
}

const NO_LINE: Part[] = [
  [1, NO_PIN],
  [1, USES.switches],
]

function expanderRow(expander: Expander, design: Design): Part[] {
  const { firstPin, pins, dataPin, clockPin } = expander
  const registers = 'latchPin' in expander ? expander : null
  const within = (pin: number) => pin >= firstPin && pin < firstPin + pins
  const read = [
    ...handSurfaces(design).flatMap(s => s.controls.map(c => c.pin)),
    ...design.sensors.flatMap(s => sensorLines(s).map(l => l.pin)),
  ].some(within)
  const address = 'address' in expander ? expander.address : 0
  return [
    firstPin,
    pins,
    dataPin,
    clockPin,
    registers?.latchPin ?? NO_PIN,
    registers?.enablePin ?? NO_PIN,
    address,
    Number(read),
  ].map((value): Part => [1, value])
}

/** Steps come out of the first line of a stepper. */
function usedAs(output: Output, as: string, line: number): keyof typeof USES {
  if (isStepper(output) && line === 0) return 'steps'
  return as === 'pwm' ? 'dims' : 'switches'
}

/** A number of four bytes (IEEE 754). */
function realBits(value: number): number {
  const view = new DataView(new ArrayBuffer(4))
  view.setFloat32(0, value)
  return view.getUint32(0)
}

/** Of what values are kept: those of other loads are not found again after a cut. */
function keptKey({ loads }: Program): number {
  const words = loads.map(({ id, output }) => [
    id,
    output.kind,
    valuesOf(output),
    numbersOf(output),
  ])
  return crc(crcNamed('CRC-16/IBM-3740'), new TextEncoder().encode(JSON.stringify(words)))
}

/** The number of the receiver that the program reads: one, and none on a computer; -1 = none. */
export function receiverOf(part: Design): number {
  const board = boardOf(part)
  return part.sensors.findIndex(
    s =>
      classOf(board).program !== 'linux'
      && isReceiver(s)
      && s.keys.length > 0
      && board.pins.find(p => p.chip === s.pin)?.can.includes('interrupt') === true,
  )
}

/** What of the board's own code a design uses (`sizes.h`); numbers, or 0 and 1. */
export type BoardUses = ReturnType<typeof boardUses>

/** `alone`: without the packaged core, with a clock of its own. */
export function boardUses(part: Design, carried: readonly Port[], alone = false) {
  const lines = wiredLoads(part).flatMap(({ output }) =>
    linesOf(output).map((l, i) => usedAs(output, l.use.as, i)),
  )
  const has = (port: Port['port']) => Number(carried.some(c => c.port === port))
  return {
    ALONE: Number(alone),
    OWN_PORT: has('own'),
    SOFT_WIRE: has('soft'),
    EXPANDERS: expandersOf(part).length,
    THERMOMETERS: Number(
      !isInFront(part) && part.sensors.some(s => isThermometer(s) && canRead(s, boardOf(part))),
    ),
    RECEIVER: Number(receiverOf(part) >= 0),
    PEER: has('peer'),
    BLUETOOTH: has('bluetooth'),
    LOW_ENERGY: has('low-energy'),
    DIMS: Number(lines.includes('dims')),
    STEPS: Number(lines.includes('steps')),
  }
}

/** The same as the compiler is told. */
export function boardDefines(uses: BoardUses): string {
  return Object.entries(uses)
    .map(([name, value]) => `#define NOLVI_${name} ${value}`)
    .join('\n')
}
