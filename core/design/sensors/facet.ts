/** What the design knows of a kind of sensor: a row each, joined in `rows.ts`. */
import type { PinUse } from '../../boards/hazards'
import type { Unit } from '../../units/quantity'
import type { PanelPart } from '../schema'
import type { Sensor } from './schema'

export interface SensorLine {
  /** Within the sensor, as path: "pin", "floats/1/pin". */
  key: string
  name: string
  use: PinUse
  pin: number
}

export type ReadingForm = Extract<PanelPart, { sensorId: string }>['form']
/** Figures that can be typed: key in the document, words, unit. */
export type FieldWords = readonly (readonly [key: string, words: string, unit: Unit])[]

/** What it tells, and how that is shown. */
export interface SensorReading<S extends Sensor> {
  /** Unit of what it tells; "" where it has none. */
  unit(sensor: S): string
  /** The scale that it is shown on, where nobody says more. */
  scale(sensor: S): { low: number; high: number }
  /** Forms that show it, the first by default. */
  forms: readonly ReadingForm[]
  /** It jumps from one value to another, so that any movement is told. */
  jumps?: boolean
}

export interface SensorFacet<S extends Sensor> {
  words: string
  /** Its lines, in a fixed order. */
  lines(sensor: S): SensorLine[]
  /** null: it asks for things and tells nothing. */
  reading: SensorReading<S> | null
  fields: FieldWords
  /** It acts on a load, and is none without one. */
  needsLoad?: true
  /** A new one; its pins are for the caller to choose. `loadId`: what it may act on. */
  fresh(id: string, name: string, controllerId: string, loadId: string): S
}

export const CONTACT: PinUse = { as: 'contact', rests: 'either' }
/** Rests high: an output of a receiver, a line that is pulled up. */
export const SENSE_HIGH: PinUse = { as: 'sense', rests: 'high' }
export const ANALOG: PinUse = { as: 'analog' }

/** The only line of a sensor on one pin. */
export function onePin({ pin }: { pin: number }, use: PinUse): SensorLine[] {
  return [{ key: 'pin', name: '', use, pin }]
}

/** Celsius, as thermometers tell. */
export const CELSIUS: SensorReading<Sensor> = {
  unit: () => '\u00B0C',
  scale: () => ({ low: 0, high: 40 }),
  forms: ['readout', 'gauge', 'history', 'column'],
}
