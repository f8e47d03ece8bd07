/** A sensor as it stands in the document: one of its kinds. */
import { z } from 'zod'
import { analogSchema } from './analog.schema'
import { batterySchema } from './battery.schema'
import { contactSchema } from './contact.schema'
import { floatsSchema } from './floats.schema'
import { infraredSchema } from './infrared.schema'
import { knobSchema } from './knob.schema'
import { thermistorSchema } from './thermistor.schema'
import { thermometerSchema } from './thermometer.schema'
import { twoAxisSchema } from './two-axis.schema'

export const sensorSchema = z.discriminatedUnion('kind', [
  infraredSchema,
  knobSchema,
  contactSchema,
  floatsSchema,
  thermometerSchema,
  thermistorSchema,
  analogSchema,
  batterySchema,
  twoAxisSchema,
])
export type Sensor = z.infer<typeof sensorSchema>
export type SensorKind = Sensor['kind']
export type SensorOf<K extends SensorKind> = Extract<Sensor, { kind: K }>
