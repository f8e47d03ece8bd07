/**
 * What a sensor tells: its value as text, from what it gives. Integers come in: tenths of a degree,
 * millivolts at the pin or at the battery, counts where it is calibrated, 0 and 1 for a contact, a
 * bit for each float, per cent for each axis.
 */
import { calibrated } from '../electrical/calibration'
import { turnedBack } from '../electrical/axes'
import { BROKEN_FLOAT } from '../design/sensors/ladder'
import type { Sensor, SensorKind, SensorOf } from '../design/schema'

/** What a sensor gives: one number, two for a two-axis input. */
export type Raw = readonly number[]

/** How a kind of sensor that tells something does so. */
interface Telling<S extends Sensor> {
  text(sensor: S, raw: readonly [number, number]): string
  /** What it gives before anybody changed it: a mild day, half full, a straight stick. */
  rests(sensor: S): Raw
  /** Ends of what it can give, for a knob that stands for the world. */
  range(sensor: S): { low: number; high: number }
}

/** Of what tells nothing. */
const SILENT: Telling<Sensor> = {
  text: () => '',
  rests: () => [0],
  range: () => ({ low: 0, high: 1 }),
}
const CELSIUS: Telling<Sensor> = {
  text: (_, [tenths]) => decimal(tenths / 10, 1),
  rests: () => [200],
  range: () => ({ low: -200, high: 1000 }),
}

const TELLINGS: { [K in SensorKind]: Telling<SensorOf<K>> } = {
  infrared: SILENT,
  knob: SILENT,
  contact: {
    text: (_, [closed]) => (closed ? 'closed' : 'open'),
    rests: () => [0],
    range: () => ({ low: 0, high: 1 }),
  },
  floats: {
    text: ({ floats }, [bits]) =>
      ladderText(
        floats.map(f => f.level),
        bits,
      ),
    rests: () => [1],
    range: ({ floats }) => ({ low: 0, high: 2 ** floats.length - 1 }),
  },
  thermometer: CELSIUS,
  thermistor: CELSIUS,
  analog: {
    text: ({ calibration }, [x]) =>
      calibration ? decimal(calibrated(calibration, x), 1) : volts(x),
    rests: ({ calibration, maxVolts }) => [
      calibration
        ? Math.round((calibration.raw1 + calibration.raw2) / 2)
        : Math.round(maxVolts * 500),
    ],
    range: ({ calibration, maxVolts }) => ({
      low: 0,
      high: calibration
        ? Math.max(1023, calibration.raw1, calibration.raw2)
        : Math.round(maxVolts * 1000),
    }),
  },
  battery: {
    text: (_, [millivolts]) => volts(millivolts),
    rests: ({ emptyVolts, maxVolts }) => [Math.round((emptyVolts + maxVolts) * 500)],
    range: ({ maxVolts }) => ({ low: 0, high: Math.round(maxVolts * 1000) }),
  },
  'two-axis': {
    text({ degrees }, [x, y]) {
      const straight = turnedBack({ degrees, x, y })
      return `${Math.round(straight.x) || 0},${Math.round(straight.y) || 0}`
    },
    rests: () => [0, 0],
    range: () => ({ low: -100, high: 100 }),
  },
}
const tellingOf = ({ kind }: Sensor): Telling<Sensor> => TELLINGS[kind]

/** "" where nothing is known yet. */
export function readingText(sensor: Sensor, raw: Raw | null): string {
  return raw === null ? '' : tellingOf(sensor).text(sensor, [raw[0] ?? 0, raw[1] ?? 0])
}

/** What a sensor gives before anybody changed it: a mild day, half full, a straight stick. */
export function restingRaw(sensor: Sensor): Raw {
  return tellingOf(sensor).rests(sensor)
}

/** Ends of what a sensor can give, for a knob that stands for the world. */
export function rawRange(sensor: Sensor): { low: number; high: number } {
  return tellingOf(sensor).range(sensor)
}

/**
 * The highest float that is wet; a wet one above a dry one is a broken float, and no level can be
 * told.
 */
function ladderText(levels: readonly number[], bits: number): string {
  const wet = levels.filter((_, i) => (bits >> i) & 1).length
  if (bits !== 2 ** wet - 1) return BROKEN_FLOAT
  return wet === 0 ? '0' : String(levels[wet - 1])
}

/** Rounded half up, so that a board comes to the same with whole numbers. */
function decimal(value: number, digits: number): string {
  return String(Math.round(value * 10 ** digits) / 10 ** digits)
}

/** Hundredths of a volt. Divided by ten a half stays a half; by a thousand it would not. */
function volts(millivolts: number): string {
  return String(Math.round(millivolts / 10) / 100)
}

/**
 * A difference of decimals as it is on paper: 20.3 - 20.1 is 0.2, and not a little less. Readings
 * have two decimals at most.
 */
export function exact(difference: number): number {
  return Math.round(difference * 1e6) / 1e6
}

/**
 * How far two values lie apart; whatever cannot be counted is infinitely far from anything else.
 */
export function apart(a: string, b: string): number {
  if (a === b) return 0
  const [p, q] = [a, b].map(t => t.split(',').map(Number)) as [number[], number[]]
  return p.length === q.length && [...p, ...q].every(Number.isFinite)
    ? Math.max(...p.map((v, i) => exact(Math.abs(v - (q[i] as number)))))
    : Infinity
}
