/** A choice that pages show: it drives nothing, and may be remembered. */
import type { OutputOf } from '../../design/schema'
import { fullOf, restOf } from '../../design/values'
import type { OutputBehaviour } from './facet'

export const choice: OutputBehaviour<OutputOf<'choice'>> = {
  rest: () => null,
  boot(output, saved) {
    const starts = { off: restOf(output), on: fullOf(output), last: saved }
    return { value: starts[output.powerUp], motion: null }
  },
  wanted: (_, __, value) => ({ value, motion: null }),
  elapsed: (_, was) => was,
  levels: () => [],
  dues: () => [],
  withDues: motion => motion,
  timers: () => [],
  longestMs: () => 0,
  standsStillMs: ({ saveDelayMs }) => saveDelayMs,
  waits: () => false,
  adopts: true,
}
