import { wordsByKind } from '../words'
import type { Output, OutputKind } from './schema'
import { OUTPUTS } from './rows'

/** What a load of each kind is. */
export const KIND_WORDS = wordsByKind(OUTPUTS)

/**
 * An output of another kind with what can be kept of the old one. `pins` are free ones for further
 * lines.
 */
export function outputOfKind(kind: OutputKind, old: Output, pins: readonly number[]): Output {
  return OUTPUTS[kind].fresh(old, 'reversePin' in old ? old.reversePin : (pins[0] ?? 0))
}
