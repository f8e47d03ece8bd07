/**
 * What an output does with a wanted value, by its kind: what it puts on its lines, and what it
 * still has to do in time. Pure; `step.ts` hands in the time and writes the lines. Words and rules
 * are told in docs/behaviour.md.
 */
import type { Output, OutputKind, OutputOf } from '../../design/schema'
import { earlier } from '../../units/clock'
import type { Asking, OutputBehaviour, OutputTimer } from './facet'
import { choice } from './choice'
import { follower } from './follower'
import { held } from './held'
import { level } from './level'
import type { Motion, Outcome } from './motion'
import { opposed } from './opposed'
import { pulsed } from './pulsed'
import { switched } from './switched'

const BEHAVIOURS: { [K in OutputKind]: OutputBehaviour<OutputOf<K>> } = {
  switched,
  pulsed,
  held,
  opposed,
  level,
  follower,
  choice,
}
const behaviourOf = ({ kind }: Output): OutputBehaviour<Output> => BEHAVIOURS[kind]
/** Motions have the kind of their output, but those of switched outputs with timers. */
const moving = ({ kind }: NonNullable<Motion>): OutputBehaviour<Output> =>
  BEHAVIOURS[kind === 'timed' ? 'switched' : kind]

/** The motion of an output at rest. `holders`: whoever can hold a held load. */
export function restingMotion(output: Output, holders: number): Motion {
  return behaviourOf(output).rest(output, holders)
}

/** After power returned, from what was saved. */
export function bootOutcome(output: Output, saved: string, holders: number, now: number): Outcome {
  return behaviourOf(output).boot(output, saved, restingMotion(output, holders), now)
}

/** A value is asked for. */
export function wanted(output: Output, was: Outcome, want: string, asking: Asking): Outcome {
  return behaviourOf(output).wanted(output, was, want, asking)
}

/** What falls due at `now`. */
export function elapsed(output: Output, was: Outcome, now: number): Outcome {
  return behaviourOf(output).elapsed(output, was, now)
}

/** When the output wants to be asked again. */
export function motionDue(motion: Motion): number | null {
  return duesOf(motion).reduce<number | null>(earlier, null)
}

/** When each timer of a motion is due, by slot; null where it is not armed. */
export function duesOf(motion: Motion): readonly (number | null)[] {
  return motion ? moving(motion).dues(motion) : []
}

/** The same motion with other times of being due. A hold by hand is not due. */
export function withDues(
  motion: Motion,
  due: (was: number | null, slot: number) => number | null,
): Motion {
  return motion && moving(motion).withDues(motion, due)
}

/** Levels of the lines of `linesOf`, in its order; energised = 1 whatever the active level. */
export function lineLevels(output: Output, is: Outcome): number[] {
  return behaviourOf(output).levels(output, is)
}

/**
 * Takes the first value after a mark of a start as where it stands: set-points do, commands that
 * switch do not.
 */
export function adopts(output: Output): boolean {
  return behaviourOf(output).adopts
}

/** Whether it is not yet where it was asked to be. */
export function waits(output: Output, is: Outcome): boolean {
  return behaviourOf(output).waits(output, is)
}

/** The timers of an output, by slot. `holders`: whoever can hold a held load. */
export function outputTimers(output: Output, holders: number): OutputTimer[] {
  return behaviourOf(output).timers(output, holders)
}

/** How long a timer of an output runs, ms; 0 = it has none in that slot. */
export function timerMs(output: Output, slot: number): number {
  return outputTimers(output, slot + 1)[slot]?.ms ?? 0
}

/** How long an output may go on by itself, ms. */
export function longestMs(output: Output): number {
  return behaviourOf(output).longestMs(output)
}

/** All times that begin with a command, one after another, ms: then the output stands still. */
export function standsStillMs(output: Output): number {
  return behaviourOf(output).standsStillMs(output)
}
