/** The kinds of sensors, a row each. */
import type { SensorFacet, SensorLine } from './facet'
import { analog } from './analog'
import { battery } from './battery'
import { contact } from './contact'
import { floats } from './floats'
import { infrared } from './infrared'
import { knob } from './knob'
import { thermistor } from './thermistor'
import { thermometer } from './thermometer'
import { twoAxis } from './two-axis'
import type { Sensor, SensorKind, SensorOf } from './schema'

export const SENSORS: { [K in SensorKind]: SensorFacet<SensorOf<K>> } = {
  infrared,
  knob,
  contact,
  floats,
  thermometer,
  thermistor,
  analog,
  battery,
  'two-axis': twoAxis,
}

/** The row of a sensor. */
export function sensorRow({ kind }: Sensor): SensorFacet<Sensor> {
  return SENSORS[kind]
}

/** Its lines, in a fixed order. */
export function sensorLines(sensor: Sensor): SensorLine[] {
  return sensorRow(sensor).lines(sensor)
}

/** A new sensor; its pins are for the caller to choose. */
export function newSensor(
  kind: SensorKind,
  id: string,
  name: string,
  controllerId: string,
  loadId: string,
): Sensor {
  return SENSORS[kind].fresh(id, name, controllerId, loadId)
}
