/** Energised for a set time by a trigger. */
import { lineOf, ON_OFF, startOf, SWITCHES } from './facet'
import type { OutputFacet, OutputValues } from './facet'
import type { OutputOf } from './schema'

export const pulsedValues: OutputValues<OutputOf<'pulsed'>> = { values: () => ON_OFF }

export const pulsed: OutputFacet<OutputOf<'pulsed'>> = {
  words: 'a pulse',
  lines: output => [lineOf(output, 'pin', '', output.pin)],
  forms: () => ['trigger'],
  asks: () => ['on'],
  relative: false,
  drivers: () => SWITCHES,
  fresh: old => ({
    kind: 'pulsed',
    ...startOf(old),
    lengthMs: 3000,
    again: 'restart',
  }),
}
