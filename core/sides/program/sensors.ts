/** Rows of sensors as the engine reads them (engine/rows.h): what follows from the kind. */
import type { Sensor, SensorKind, SensorOf } from '../../design/schema'

const KIND = { silent: 0, contact: 1, floats: 2, celsius: 3, calibrated: 4, volts: 5, axes: 6 }

/**
 * `measured`: by the converter of the chip; `levels` of floats; `reals`: a straight line through
 * two readings, or cosine and sine.
 */
export interface EngineSensor {
  kind: number
  measured?: boolean
  levels?: readonly number[]
  reals?: readonly number[]
}

const ROWS: { [K in SensorKind]: (sensor: SensorOf<K>) => EngineSensor } = {
  infrared: () => ({ kind: KIND.silent }),
  knob: () => ({ kind: KIND.silent }),
  contact: () => ({ kind: KIND.contact }),
  floats: ({ floats }) => ({ kind: KIND.floats, levels: floats.map(f => f.level) }),
  thermometer: () => ({ kind: KIND.celsius }),
  thermistor: () => ({ kind: KIND.celsius, measured: true }),
  analog: ({ calibration: c }) =>
    c
      ? { kind: KIND.calibrated, measured: true, reals: [c.raw1, c.value1, c.raw2, c.value2] }
      : { kind: KIND.volts, measured: true },
  battery: () => ({ kind: KIND.volts, measured: true }),
  'two-axis': ({ degrees }) => {
    const angle = (degrees * Math.PI) / 180
    return { kind: KIND.axes, measured: true, reals: [Math.cos(angle), Math.sin(angle)] }
  },
}

/** The row of a sensor. */
export function engineSensor(sensor: Sensor): EngineSensor {
  const row = ROWS[sensor.kind] as (sensor: Sensor) => EngineSensor
  return row(sensor)
}

/** A value as text, as the engine compares it: form, and one or two numbers in hundredths. */
export type EngineReading = readonly [form: number, first: number, second: number]
const FORM = { number: 0, pair: 1, word: 2 }
const WORDS = ['open', 'closed', 'broken']

/** What a reading of a text would be; null where no sensor ever gives that. */
export function engineReading(text: string): EngineReading | null {
  const word = WORDS.indexOf(text)
  if (word >= 0) return [FORM.word, word, 0]
  const parts = text.split(',')
  const numbers = parts.map(part => Math.round(Number(part) * 100))
  if (parts.length > 2 || parts.some((part, i) => String((numbers[i] as number) / 100) !== part))
    return null
  return [parts.length === 2 ? FORM.pair : FORM.number, numbers[0] as number, numbers[1] ?? 0]
}
