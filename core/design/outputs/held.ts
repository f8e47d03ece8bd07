/** On only while somebody holds it. */
import { lineOf, ON_OFF, startOf, SWITCHES } from './facet'
import type { OutputFacet, OutputValues } from './facet'
import type { OutputOf } from './schema'

export const heldValues: OutputValues<OutputOf<'held'>> = { values: () => ON_OFF }

export const held: OutputFacet<OutputOf<'held'>> = {
  words: 'on while held',
  lines: output => [lineOf(output, 'pin', '', output.pin)],
  forms: () => ['hold'],
  asks: () => ['on'],
  // A hold has no opposite to toggle to.
  relative: false,
  drivers: () => SWITCHES,
  fresh: old => ({ kind: 'held', ...startOf(old), timeoutMs: 900 }),
}
