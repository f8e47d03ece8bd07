/** The voltage of a battery through a divider. */
import { ANALOG, onePin, type SensorFacet } from './facet'
import type { SensorOf } from './schema'

export const battery: SensorFacet<SensorOf<'battery'>> = {
  words: 'battery voltage',
  lines: sensor => onePin(sensor, ANALOG),
  reading: {
    unit: () => 'V',
    scale: ({ emptyVolts, maxVolts }) => ({ low: emptyVolts, high: maxVolts }),
    forms: ['readout', 'gauge', 'history', 'column'],
  },
  fields: [
    ['maxVolts', 'Full', 'V'],
    ['emptyVolts', 'Empty', 'V'],
    ['upperOhms', 'To the battery', 'Ω'],
    ['lowerOhms', 'To ground', 'Ω'],
  ],
  fresh: (id, name, controllerId) => ({
    kind: 'battery',
    id,
    name,
    controllerId,
    pin: 0,
    maxVolts: 14.4,
    emptyVolts: 11,
    upperOhms: 47_000,
    lowerOhms: 10_000,
  }),
}
