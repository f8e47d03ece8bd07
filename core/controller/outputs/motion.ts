/** What an output has under way, by its kind. */
import type { Timed } from '../../design/outputs/timed'
import { clock32, reached } from '../../units/clock'

/** A hold without end: a finger on a wired button. */
export const BY_HAND = -1

/** What an output has under way; null where its kind has nothing of the sort. */
export type Motion =
  TimedMotion | PulsedMotion | HeldMotion | OpposedMotion | LevelMotion | FollowerMotion | null

/**
 * Sources of a switched output with timers, OR-ed: steady, on-delay done, off-delay holding, blink
 * high. Times as last given, ms.
 */
export interface TimedMotion {
  kind: 'timed'
  steady: boolean
  onDue: number | null
  onDone: boolean
  offDue: number | null
  blinkDue: number | null
  high: boolean
  times: Readonly<Record<Timed, number>>
  /** What the output does; it differs from what its sources want while a least time is not over. */
  is: boolean
  /** Until then it may not change; null = it may. */
  freeAt: number | null
  /** It switches itself off then. */
  trip: number | null
}

export interface PulsedMotion {
  kind: 'pulsed'
  due: number | null
}

/** By holder: when the hold ends, BY_HAND, or null. */
export interface HeldMotion {
  kind: 'held'
  holds: readonly (number | null)[]
}

export interface OpposedMotion {
  kind: 'opposed'
  /** The line that is energised now. */
  driven: 'stop' | 'forward' | 'reverse'
  /**
   * The line that fell last, and until when the other one has to wait; after a start nobody knows
   * which it was, and both wait.
   */
  rests: { line: 'forward' | 'reverse' | 'both'; due: number } | null
  limit: number | null
  /** Its end contact is closed: that direction is forbidden. */
  ends: { forward: boolean; reverse: boolean }
  /** Coils: where in their turn they stand, 0 to 7 in half steps, and when the next step is. */
  phase: number
  stepDue: number | null
}

/** `duty`: what is put out now, %. */
export interface LevelMotion {
  kind: 'level'
  duty: number
  due: number | null
}

/**
 * `own`: the position that the followed device is believed to have; null until the first value is
 * adopted.
 */
export interface FollowerMotion {
  kind: 'follower'
  own: number | null
  pulse: 'up' | 'down' | null
  due: number | null
}

/**
 * `refused`: what was asked for is not allowed now, and nothing changed. `tripped`: switched off by
 * its longest time.
 */
export interface Outcome {
  value: string
  motion: Motion
  refused?: boolean
  tripped?: boolean
}

/** Whether something that falls due at `due` does so at `now`; ms, 32 bits. */
export function isDue(due: number | null, now: number): boolean {
  return due !== null && reached(now, due)
}

/** `ms` from `now`; null where there is no time. */
export function dueIn(ms: number, now: number): number | null {
  return ms ? clock32(now + ms) : null
}

/** Motion of a switched output with timers or limits. */
export function isTimedMotion(motion: Motion | undefined): motion is TimedMotion {
  return motion?.kind === 'timed'
}

/** Motion of a pulse. */
export function isPulsedMotion(motion: Motion | undefined): motion is PulsedMotion {
  return motion?.kind === 'pulsed'
}

/** Motion of a held output. */
export function isHeldMotion(motion: Motion | undefined): motion is HeldMotion {
  return motion?.kind === 'held'
}

/** Motion of two directions. */
export function isOpposedMotion(motion: Motion | undefined): motion is OpposedMotion {
  return motion?.kind === 'opposed'
}
