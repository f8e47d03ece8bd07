/** A door, tilt or limit contact to ground. */
import { CONTACT, onePin, type SensorFacet } from './facet'
import type { SensorOf } from './schema'

export const contact: SensorFacet<SensorOf<'contact'>> = {
  words: 'contact (door, tilt, limit)',
  lines: sensor => onePin(sensor, CONTACT),
  reading: {
    unit: () => '',
    scale: () => ({ low: 0, high: 1 }),
    forms: ['readout'],
    jumps: true,
  },
  fields: [['leadMeters', 'Lead', 'm']],
  fresh: (id, name, controllerId) => ({
    kind: 'contact',
    id,
    name,
    controllerId,
    pin: 0,
    debounceMs: 30,
    pullOhms: null,
    leadMeters: 1,
  }),
}
