/**
 * Sensors and remote inputs of a design: what each kind is called, the pins it needs, and what a
 * new one starts with.
 */
import type { PinUse } from '../boards/hazards'
import type { Sensor } from './schema'

export type SensorKind = Sensor['kind']
export const SENSOR_WORDS: Record<SensorKind, string> = {
  infrared: 'infrared receiver',
  knob: 'knob with detents',
  contact: 'contact (door, tilt, limit)',
  floats: 'floats in a tank',
  thermometer: 'thermometer on one line',
  thermistor: 'thermistor',
  analog: 'analog value',
  battery: 'battery voltage',
  'two-axis': 'two-axis stick',
}

export interface SensorLine {
  /** Within the sensor, as path: "pin", "floats/1/pin". */
  key: string
  name: string
  use: PinUse
  pin: number
}

const CONTACT: PinUse = { as: 'contact', rests: 'either' }

/** In a fixed order. */
export function sensorLines(sensor: Sensor): SensorLine[] {
  const line = (
    name: string,
    use: PinUse,
    key = 'pin',
    pin = (sensor as { pin: number }).pin,
  ): SensorLine => ({ key, name, use, pin })
  switch (sensor.kind) {
    // A receiver for remotes rests high, a thermometer's line is pulled up.
    case 'infrared':
      return [line('', { as: 'sense', rests: 'high' })]
    case 'knob':
      return [line('line A', CONTACT), line('line B', CONTACT, 'pinB', sensor.pinB)]
    case 'contact':
      return [line('', CONTACT)]
    case 'floats':
      return sensor.floats.map((f, i) =>
        line(`float at ${f.level} ${sensor.unit}`.trim(), CONTACT, `floats/${i}/pin`, f.pin),
      )
    case 'thermometer':
      return [line('', { as: 'sense', rests: 'high' })]
    case 'two-axis':
      return [
        line('first axis', { as: 'analog' }),
        line('second axis', { as: 'analog' }, 'pinB', sensor.pinB),
      ]
    default:
      return [line('', { as: 'analog' })]
  }
}

/** A new sensor; its pins are for the caller to choose. */
export function newSensor(
  kind: SensorKind,
  id: string,
  name: string,
  controllerId: string,
  loadId: string,
): Sensor {
  const base = { id, name, controllerId, pin: 0 }
  switch (kind) {
    case 'infrared':
      return { kind, ...base, keys: [] }
    case 'knob':
      return {
        kind,
        ...base,
        pinB: 0,
        loadId,
        detentsPerTurn: 24,
        countsPerDetent: 4,
        accelerated: false,
        debounceMs: 0,
        leadMeters: 0.3,
      }
    case 'contact':
      return { kind, ...base, debounceMs: 30, pullOhms: null, leadMeters: 1 }
    case 'floats':
      return {
        kind,
        id,
        name,
        controllerId,
        floats: [
          { pin: 0, level: 20 },
          { pin: 0, level: 60 },
          { pin: 0, level: 100 },
        ],
        unit: 'l',
        leadMeters: 2,
      }
    case 'thermometer':
      return { kind, ...base, pullOhms: 4700, leadMeters: 1 }
    case 'thermistor':
      return { kind, ...base, ohmsAt25: 10_000, beta: 3950, seriesOhms: 10_000, celsius: 25 }
    case 'analog':
      return { kind, ...base, maxVolts: 3.3, divider: null, unit: '', calibration: null }
    case 'battery':
      return { kind, ...base, maxVolts: 14.4, emptyVolts: 11, upperOhms: 47_000, lowerOhms: 10_000 }
    case 'two-axis':
      return { kind, ...base, pinB: 0, degrees: 0 }
  }
}

/**
 * Which wet floats make sense: one above another, from the lowest. A higher wet one over a dry one
 * is a broken float.
 */
export function ladderReadings(floats: number): { wet: boolean[]; broken: boolean }[] {
  return Array.from({ length: 2 ** floats }, (_, bits) => {
    const wet = Array.from({ length: floats }, (_, i) => ((bits >> i) & 1) === 1)
    return { wet, broken: wet.some((w, i) => w && i > 0 && !wet[i - 1]) }
  })
}

/** What a ladder of floats tells instead of a level, when a float is broken. */
export const BROKEN_FLOAT = 'broken'
