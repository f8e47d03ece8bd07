/** The nine promises, in the words in which they are asked and answered. */
import type { Load } from '../design/schema'
import { endsItself, isOpposed } from '../design/outputs/traits'

export const PROMISE_IDS = ['P1', 'P2', 'P3', 'P4', 'P5', 'P6', 'P7', 'P8', 'P9'] as const
export type PromiseId = (typeof PROMISE_IDS)[number]

export const PROMISES: Readonly<Record<PromiseId, { short: string; words: string }>> = {
  P1: {
    short: 'shows the truth',
    words: 'At rest, every surface that shows the load shows the truth',
  },
  P2: { short: 'acts once', words: 'No command acts twice, and none vanishes without a sign' },
  P3: { short: 'no dead press', words: 'A hand control always does something' },
  P4: {
    short: 'after a power cut',
    words:
      'When power returns the load is as its policy says, and nothing moves while the board starts',
  },
  P5: {
    short: 'never both ways',
    words: 'Opposed directions are never on together, and rest in between',
  },
  P6: { short: 'always ends', words: 'What runs for a time, or while it is held, always ends' },
  P7: { short: 'a start moves nothing', words: 'A surface that starts anew moves nothing' },
  P8: {
    short: 'no stranger',
    words: 'A command that a stranger recorded and sends again opens nothing',
  },
  P9: { short: 'works in an outage', words: 'In each outage at least one surface still works' },
}

/** What makes a replayed command dangerous. */
const GUARDED = ['lock', 'gas', 'heat', 'motion'] as const

/** Why a promise is not asked of a load; "" where it is. */
export function notAsked(load: Load, promise: PromiseId): string {
  const { output } = load
  switch (promise) {
    case 'P5':
      return isOpposed(output) ? '' : 'It has one direction only.'
    case 'P6':
      return endsItself(output) ? '' : 'It is neither a pulse nor held.'
    case 'P8':
      return load.wiring.dangers.some(d => (GUARDED as readonly string[]).includes(d))
        ? ''
        : 'Nothing is marked that could hurt or open: say under Wiring if it is a lock, heat, gas or motion.'
    default:
      return ''
  }
}
