/** The kinds of outputs, a row each. */
import { choice, choiceValues } from './choice'
import { follower, followerValues } from './follower'
import { held, heldValues } from './held'
import { level, levelValues } from './level'
import { opposed, opposedValues } from './opposed'
import { pulsed, pulsedValues } from './pulsed'
import { switched, switchedValues } from './switched'
import type { OutputFacet, OutputValues } from './facet'
import type { Output, OutputKind, OutputOf } from './schema'

type Rows = { [K in OutputKind]: OutputFacet<OutputOf<K>> }
type Values = { [K in OutputKind]: OutputValues<OutputOf<K>> }

export const OUTPUTS: Rows = { switched, pulsed, held, opposed, level, follower, choice }

const VALUES: Values = {
  switched: switchedValues,
  pulsed: pulsedValues,
  held: heldValues,
  opposed: opposedValues,
  level: levelValues,
  follower: followerValues,
  choice: choiceValues,
}

/** The row of an output. */
export function outputRow({ kind }: Output): OutputFacet<Output> {
  return OUTPUTS[kind]
}

/** The row of its values. */
export function valuesRow({ kind }: Output): OutputValues<Output> {
  return VALUES[kind]
}
