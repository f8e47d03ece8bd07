/** A receiver for infrared remotes; it asks for what its keys were taught. */
import { onePin, SENSE_HIGH, type SensorFacet } from './facet'
import type { SensorOf } from './schema'

export const infrared: SensorFacet<SensorOf<'infrared'>> = {
  words: 'infrared receiver',
  lines: sensor => onePin(sensor, SENSE_HIGH),
  reading: null,
  fields: [],
  fresh: (id, name, controllerId) => ({
    kind: 'infrared',
    id,
    name,
    controllerId,
    pin: 0,
    keys: [],
  }),
}
