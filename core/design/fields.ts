/**
 * What can be typed of a driver and of a sensor: words and units stand here, the ranges come from
 * the schema, so that a field never takes what the document refuses.
 */
import type { z } from 'zod'
import type { Unit } from '../units/quantity'
import { driverSchema, type Driver } from './schema'
import type { FieldWords } from './sensors/facet'
import { SENSORS } from './sensors/rows'
import { sensorSchema, type Sensor } from './sensors/schema'

export interface Field {
  key: string
  words: string
  unit: Unit
  min: number
  max: number
  whole: boolean
}

const DRIVERS: Record<Driver['kind'], FieldWords> = {
  none: [],
  'four-coils': [
    ['coilVolts', 'Coil voltage', 'V'],
    ['coilOhms', 'Coil resistance', 'Ω'],
    ['maxAmps', 'Switch limit', 'A'],
    ['lossVolts', 'Lost in a switch', 'V'],
    ['stepsPerTurn', 'Full steps a turn', ''],
  ],
  'relay-module': [['amps', 'Module takes', 'A']],
  coil: [
    ['volts', 'Coil voltage', 'V'],
    ['ohms', 'Coil resistance', 'Ω'],
    ['henries', 'Coil inductance', 'H'],
    ['transistorMaxAmps', 'Transistor limit', 'A'],
    ['gainMin', 'Gain at least', ''],
    ['baseOhms', 'Base resistor, 0 = by the sum', 'Ω'],
  ],
  mosfet: [
    ['onOhms', 'On-resistance', 'Ω'],
    ['onAtGateVolts', 'stated at gate', 'V'],
    ['maxAmps', 'Drain limit', 'A'],
  ],
  bridge: [
    ['windingOhms', 'Winding', 'Ω'],
    ['onOhms', 'Bridge on-resistance', 'Ω'],
    ['maxAmps', 'Bridge, lasting', 'A'],
    ['peakAmps', 'Bridge, peak', 'A'],
  ],
  stepper: [
    ['phaseAmps', 'Phase current', 'A'],
    ['phaseOhms', 'Phase resistance', 'Ω'],
    ['phaseHenries', 'Phase inductance', 'H'],
    ['maxAmps', 'Driver limit', 'A'],
    ['stepsPerTurn', 'Steps a turn', ''],
  ],
  dimmer: [
    ['minAmps', 'Least load', 'A'],
    ['maxAmps', 'Most', 'A'],
  ],
  opto: [
    ['lampVolts', 'Lamp voltage', 'V'],
    ['lampAmps', 'Lamp current', 'A'],
    ['transferMin', 'Transfer at least', '×'],
    ['lineVolts', 'Line voltage', 'V'],
    ['lineOhms', 'Line pull-up', 'Ω'],
  ],
}

/** The figures of a kind of driver, as fields of a form. */
export function driverFields(kind: Driver['kind']): Field[] {
  return fields(driverSchema.options, kind, DRIVERS[kind])
}

/** The figures of a kind of sensor, as fields of a form. */
export function sensorFields(kind: Sensor['kind']): Field[] {
  return fields(sensorSchema.options, kind, SENSORS[kind].fields)
}

type Option = z.ZodObject<z.ZodRawShape>
function fields(options: readonly unknown[], kind: string, words: FieldWords): Field[] {
  const option = (options as Option[]).find(
    o => (o.shape['kind'] as unknown as z.ZodLiteral<string>).value === kind,
  ) as Option
  return words.map(([key, text, unit]) => {
    const number = option.shape[key] as unknown as z.ZodNumber
    return {
      key,
      words: text,
      unit,
      min: number.minValue ?? -Infinity,
      max: number.maxValue ?? Infinity,
      whole: number.format === 'safeint',
    }
  })
}
