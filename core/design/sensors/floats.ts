/** Floats in a tank, from the lowest up. */
import { CONTACT, type SensorFacet } from './facet'
import type { SensorOf } from './schema'

export const floats: SensorFacet<SensorOf<'floats'>> = {
  words: 'floats in a tank',
  lines: ({ floats, unit }) =>
    floats.map(({ pin, level }, i) => ({
      key: `floats/${i}/pin`,
      name: `float at ${level} ${unit}`.trim(),
      use: CONTACT,
      pin,
    })),
  reading: {
    unit: ({ unit }) => unit,
    scale: ({ floats }) => ({ low: 0, high: floats.at(-1)?.level ?? 100 }),
    forms: ['column', 'readout', 'history'],
    jumps: true,
  },
  fields: [['leadMeters', 'Lead', 'm']],
  fresh: (id, name, controllerId) => ({
    kind: 'floats',
    id,
    name,
    controllerId,
    floats: [
      { pin: 0, level: 20 },
      { pin: 0, level: 60 },
      { pin: 0, level: 100 },
    ],
    unit: 'l',
    leadMeters: 2,
  }),
}
