/** A stick with two potentiometers. */
import { ANALOG, type SensorFacet } from './facet'
import type { SensorOf } from './schema'

export const twoAxis: SensorFacet<SensorOf<'two-axis'>> = {
  words: 'two-axis stick',
  lines: ({ pin, pinB }) => [
    { key: 'pin', name: 'first axis', use: ANALOG, pin },
    { key: 'pinB', name: 'second axis', use: ANALOG, pin: pinB },
  ],
  reading: {
    unit: () => '%',
    scale: () => ({ low: -100, high: 100 }),
    forms: ['tilt', 'readout'],
  },
  fields: [],
  fresh: (id, name, controllerId) => ({
    kind: 'two-axis',
    id,
    name,
    controllerId,
    pin: 0,
    pinB: 0,
    degrees: 0,
    deadZone: 40,
    repeatMs: 300,
    ways: [],
  }),
}
