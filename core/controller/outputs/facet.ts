/** What a controller does with a kind of output: a row each, joined in `rows.ts`. */
import type { Output } from '../../design/schema'
import type { Motion, Outcome } from './motion'

/** A timer of an output, by the slot that proofs and stories count it by. */
export interface OutputTimer {
  /** How long it runs, ms; 0 = it never does. */
  ms: number
  /** What happens when it is over, of a load of a name. */
  words(name: string): string
  /** Left out: it is soon over. What is shown while one of the others runs counts as at rest. */
  lasts?: 'for ever' | 'for hours'
}

/** Who asks for a value, and when. */
export interface Asking {
  /** ms, 32 bits */
  now: number
  /** Who holds a held output, and whether the hold ends with the finger. */
  holder: number
  byHand: boolean
}

export interface OutputBehaviour<O extends Output> {
  /** The motion at rest. `holders`: whoever can hold a held load. */
  rest(output: O, holders: number): Motion
  /** After power returned, from what was saved. */
  boot(output: O, saved: string, resting: Motion, now: number): Outcome
  /** A value is asked for. */
  wanted(output: O, was: Outcome, want: string, asking: Asking): Outcome
  /** What falls due. */
  elapsed(output: O, was: Outcome, now: number): Outcome
  /** Levels of its lines, in their order; energised = 1 whatever the active level. */
  levels(output: O, is: Outcome): number[]
  /** When each timer of a motion is due, by slot; null where it is not armed. */
  dues(motion: Motion): readonly (number | null)[]
  /** The same motion with other times of being due. */
  withDues(motion: Motion, due: (was: number | null, slot: number) => number | null): Motion
  /** Its timers, by slot. `holders` as in `rest`. */
  timers(output: O, holders: number): OutputTimer[]
  /** How long it may go on by itself, ms. */
  longestMs(output: O): number
  /** All times that begin with a command, one after another, ms: then it stands still. */
  standsStillMs(output: O): number
  /** It was asked for something that it has not come to yet. */
  waits(output: O, is: Outcome): boolean
  /** The first value after a mark of a start is taken as where it stands. */
  adopts: boolean
}
