/** A digital thermometer on one line. */
import { CELSIUS, onePin, SENSE_HIGH, type SensorFacet } from './facet'
import type { SensorOf } from './schema'

export const thermometer: SensorFacet<SensorOf<'thermometer'>> = {
  words: 'thermometer on one line',
  lines: sensor => onePin(sensor, SENSE_HIGH),
  reading: CELSIUS,
  fields: [
    ['pullOhms', 'Pull-up', 'Ω'],
    ['leadMeters', 'Lead', 'm'],
  ],
  fresh: (id, name, controllerId) => ({
    kind: 'thermometer',
    id,
    name,
    controllerId,
    pin: 0,
    pullOhms: 4700,
    leadMeters: 1,
  }),
}
