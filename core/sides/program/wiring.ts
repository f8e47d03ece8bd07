/** What hangs on which pin, as the board of a sketch reads it (engine/boards/sketch/wiring.h). */
import type { Program } from '../../controller/program'
import { expandersOf, handSurfaces, lampsOf } from '../../design/find'
import type { BoardProfile } from '../../boards/schema'
import { boardOf } from '../../design/pins'
import { sensorLines } from '../../design/sensors/rows'
import type { Design, Expander, Output, Sensor, SensorKind, SensorOf } from '../../design/schema'
import { isStepper } from '../../design/outputs/traits'
import { isLadder, isReceiver, isThermometer } from '../../design/sensors/traits'
import { linesOf } from '../../design/values'
import type { Carried } from './carried'

const MOST_LINES = 4
const NO_LINE = '{NO_PIN, SWITCHES}'
/** How often what is measured is read, and a stick, ms. */
const MEASURED_MS = 250
const STICK_MS = 20
/** How long floats have to rest, ms: water moves. */
const FLOATS_MS = 500
/** A digital thermometer measures for up to 0.75 s (12 bits). */
const THERMOMETER_MS = 800
/** Converters of this class count to this. */
const COUNTS = 1024

/** `floats`: pins of floats that were listed before it, to which its own are added. */
interface SensorRow {
  reads: string
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
  const factor = (board.logicVolts * 1000 * ratio) / COUNTS
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
const rowOf = (sensor: Sensor, board: BoardProfile, floats: readonly number[]) =>
  (ROWS[sensor.kind] as Row<Sensor>)(sensor, board, floats)

/** Whether the program of a sketch can read a sensor. */
export function canRead(sensor: Sensor, board: BoardProfile): boolean {
  return rowOf(sensor, board, []) !== null
}

/** The lists of wiring.h, filled. `comment`: text as a comment of a line. */
export function wiringText(
  program: Program,
  carried: readonly Carried[],
  board: BoardProfile,
  comment: (text: string) => string,
): string {
  const { loads, inputs, knobs, design } = program
  const list = (head: string, rows: readonly string[], none: string) =>
    `const ${head} PROGMEM = {\n${(rows.length ? rows : [`${none},`]).map(r => `    ${r}`).join('\n')}\n};`
  const floats: number[] = []
  const sensors = design.sensors.map(sensor => {
    const row = rowOf(sensor, board, floats) ?? NOTHING()
    if (isLadder(sensor)) floats.push(...sensor.floats.map(f => f.pin))
    const { reads, pin = 0, more = 0, pulledUp = false, ms = 0, factor = 0, beta = 0 } = row
    const figures = [pin, more, pulledUp, ms, real(factor), real(beta)].join(', ')
    return `{READS_${reads}, ${figures}},  // ${comment(sensor.name)}`
  })
  return [
    list(
      'LinePin LINE_PINS[][MOST_LINES]',
      loads.map(({ name, output }) => {
        const lines = linesOf(output).map(
          ({ pin, use }, line) => `{${pin}, ${usedAs(output, use.as, line)}}`,
        )
        const all = [...lines, ...Array<string>(MOST_LINES - lines.length).fill(NO_LINE)]
        return `{${all.join(', ')}},  // ${comment(name)}`
      }),
      `{${NO_LINE}}`,
    ),
    list(
      'uint8_t INPUT_PINS[]',
      inputs.map(({ control }) => `${control.pin},  // ${comment(control.id)}`),
      'NO_PIN',
    ),
    list(
      'uint8_t LAMP_PINS[]',
      lampsOf(design).map(({ pin, name }) => `${pin},  // ${comment(name)}`),
      'NO_PIN',
    ),
    list(
      'KnobPins KNOB_PINS[]',
      knobs.map(({ knob }) => `{${knob.pin}, ${knob.pinB}},  // ${comment(knob.name)}`),
      '{NO_PIN, NO_PIN}',
    ),
    list('SensorPins SENSOR_PINS[]', sensors, '{READS_NOTHING, 0, 0, false, 0, 0, 0}'),
    list('uint8_t FLOAT_PINS[]', floats.length ? [`${floats.join(', ')},`] : [], 'NO_PIN'),
    list(
      'LinkPins LINK_PINS[]',
      carried.map(({ link, port }) => {
        const status = 'statusPin' in link ? (link.statusPin ?? 'NO_PIN') : 'NO_PIN'
        return `{${port === 'own' ? 'OWN_PORT' : 'SOFT_PORT'}, ${status}, ${link.baud}},  // ${comment(link.name)}`
      }),
      '{OWN_PORT, NO_PIN, 9600}',
    ),
    list(
      'ExpanderPins EXPANDER_PINS[]',
      expandersOf(design).map(e => expanderRow(e, design, comment)),
      '{0, 0, 0, 0, 0, 0, 0, false}',
    ),
  ].join('\n')
}

function expanderRow(
  expander: Expander,
  design: Design,
  comment: (text: string) => string,
): string {
  const { firstPin, pins, dataPin, clockPin, name } = expander
  const registers = 'latchPin' in expander ? expander : null
  const within = (pin: number) => pin >= firstPin && pin < firstPin + pins
  const read = [
    ...handSurfaces(design).flatMap(s => s.controls.map(c => c.pin)),
    ...design.sensors.flatMap(s => sensorLines(s).map(l => l.pin)),
  ].some(within)
  const enable = registers?.enablePin ?? 'NO_PIN'
  const address = 'address' in expander ? expander.address : 0
  return `{${[firstPin, pins, dataPin, clockPin, registers?.latchPin ?? 'NO_PIN', enable, address, read].join(', ')}},  // ${comment(name)}`
}

/** Steps come out of the first line of a stepper. */
function usedAs(output: Output, as: string, line: number): string {
  if (isStepper(output) && line === 0) return 'STEPS'
  return as === 'pwm' ? 'DIMS' : 'SWITCHES'
}

/** A number as C++ reads one of four bytes. */
function real(value: number): string {
  const text = String(Math.fround(value))
  return `${text}${/[.e]/.test(text) ? '' : '.0'}f`
}

/** The number of the receiver that the program of a sketch reads; -1 = none. */
export function receiverOf(part: Design): number {
  const board = boardOf(part)
  return part.sensors.findIndex(
    s =>
      isReceiver(s)
      && s.keys.length > 0
      && board.pins.find(p => p.chip === s.pin)?.can.includes('interrupt') === true,
  )
}

/** What of the board's own code the design uses, as the compiler is told. */
export function wiringDefines(part: Design, soft: Carried | undefined): string {
  const wire = soft && 'receivePin' in soft.link ? soft.link : null
  const receiver = receiverOf(part)
  const eye = part.sensors[receiver]
  const defines: [string, number][] = [
    ['SOFT_WIRE', Number(wire !== null)],
    ...(wire
      ? ([
          ['WIRE_IN', wire.receivePin],
          ['WIRE_OUT', wire.sendPin],
        ] as [string, number][])
      : []),
    ['EXPANDERS', expandersOf(part).length],
    ['THERMOMETERS', part.sensors.filter(isThermometer).length],
    ['RECEIVER', Math.max(0, receiver)],
    ['RECEIVER_PIN', eye && 'pin' in eye ? eye.pin : -1],
  ]
  return defines.map(([name, value]) => `#define NOLVI_${name} ${value}`).join('\n')
}
