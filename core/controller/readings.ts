/**
 * What a sensor tells: its value as text, from what it gives. Integers come in: tenths of a degree,
 * millivolts at the pin or at the battery, counts where it is calibrated, 0 and 1 for a contact, a
 * bit for each float, per cent for each axis.
 */
import { calibrated } from '../electrical/calibration'
import { turnedBack } from '../electrical/axes'
import { BROKEN_FLOAT } from '../design/sensors'
import type { Sensor } from '../design/schema'

/** What a sensor gives: one number, two for a two-axis input. */
export type Raw = readonly number[]

/** "" where nothing is known yet. */
export function readingText(sensor: Sensor, raw: Raw | null): string {
  if (raw === null) return ''
  const [x = 0, y = 0] = raw
  switch (sensor.kind) {
    case 'contact':
      return x ? 'closed' : 'open'
    case 'floats':
      return ladderText(
        sensor.floats.map(f => f.level),
        x,
      )
    case 'thermometer':
    case 'thermistor':
      return decimal(x / 10, 1)
    case 'battery':
      return decimal(x / 1000, 2)
    case 'analog':
      return sensor.calibration
        ? decimal(calibrated(sensor.calibration, x), 1)
        : decimal(x / 1000, 2)
    case 'two-axis': {
      const straight = turnedBack({ degrees: sensor.degrees, x, y })
      return `${Math.round(straight.x) || 0},${Math.round(straight.y) || 0}`
    }
    default:
      return ''
  }
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

function decimal(value: number, digits: number): string {
  return String(Number(value.toFixed(digits)))
}

/**
 * How far two values lie apart; whatever cannot be counted is infinitely far from anything else.
 */
export function apart(a: string, b: string): number {
  if (a === b) return 0
  const [p, q] = [a, b].map(t => t.split(',').map(Number)) as [number[], number[]]
  return p.length === q.length && [...p, ...q].every(Number.isFinite)
    ? Math.max(...p.map((v, i) => Math.abs(v - (q[i] as number))))
    : Infinity
}

/** What a sensor gives before anybody changed it: a mild day, half full, a straight stick. */
export function restingRaw(sensor: Sensor): Raw {
  switch (sensor.kind) {
    case 'floats':
      return [1]
    case 'thermometer':
    case 'thermistor':
      return [200]
    case 'battery':
      return [Math.round((sensor.emptyVolts + sensor.maxVolts) * 500)]
    case 'analog':
      return sensor.calibration
        ? [Math.round((sensor.calibration.raw1 + sensor.calibration.raw2) / 2)]
        : [Math.round(sensor.maxVolts * 500)]
    case 'two-axis':
      return [0, 0]
    default:
      return [0]
  }
}

/** Ends of what a sensor can give, for a knob that stands for the world. */
export function rawRange(sensor: Sensor): { low: number; high: number } {
  switch (sensor.kind) {
    case 'floats':
      return { low: 0, high: 2 ** sensor.floats.length - 1 }
    case 'thermometer':
    case 'thermistor':
      return { low: -200, high: 1000 }
    case 'battery':
      return { low: 0, high: Math.round(sensor.maxVolts * 1000) }
    case 'analog':
      return sensor.calibration
        ? { low: 0, high: Math.max(1023, sensor.calibration.raw1, sensor.calibration.raw2) }
        : { low: 0, high: Math.round(sensor.maxVolts * 1000) }
    case 'two-axis':
      return { low: -100, high: 100 }
    default:
      return { low: 0, high: 1 }
  }
}
