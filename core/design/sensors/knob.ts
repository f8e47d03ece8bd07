/** A knob with detents; it turns a load. */
import { CONTACT, type SensorFacet } from './facet'
import type { SensorOf } from './schema'

export const knob: SensorFacet<SensorOf<'knob'>> = {
  words: 'knob with detents',
  lines: ({ pin, pinB }) => [
    { key: 'pin', name: 'line A', use: CONTACT, pin },
    { key: 'pinB', name: 'line B', use: CONTACT, pin: pinB },
  ],
  needsLoad: true,
  reading: null,
  fields: [
    ['detentsPerTurn', 'Detents a turn', ''],
    ['leadMeters', 'Lead', 'm'],
  ],
  fresh: (id, name, controllerId, loadId) => ({
    kind: 'knob',
    id,
    name,
    controllerId,
    pin: 0,
    pinB: 0,
    loadId,
    detentsPerTurn: 24,
    countsPerDetent: 4,
    accelerated: false,
    debounceMs: 0,
    leadMeters: 0.3,
  }),
}
