/** Switched on and off, perhaps by timers, perhaps with limits of how often. */
import { TIMED } from './timed'
import { lineOf, ON_OFF, rememberedOf, SWITCHES, startOf } from './facet'
import type { OutputFacet, OutputValues } from './facet'
import type { OutputOf } from './schema'

export const switchedValues: OutputValues<OutputOf<'switched'>> = { values: () => ON_OFF }

export const switched: OutputFacet<OutputOf<'switched'>> = {
  words: 'switched on and off',
  lines: output => [lineOf(output, 'pin', '', output.pin)],
  forms: ({ timers }) => (timers ? ['state', 'pair', 'timer'] : ['state', 'pair']),
  asks: ({ timers }, control) => [
    'toggle',
    'on',
    'off',
    ...(timers && control === 'push' ? TIMED : []),
  ],
  relative: true,
  drivers: () => SWITCHES,
  fresh: old => ({
    kind: 'switched',
    ...startOf(old),
    ...rememberedOf(old),
    timers: null,
    limits: null,
  }),
}
