/**
 * A knob with two lines a quarter turn apart. Of the sixteen pairs of readings, four turn it one
 * way, four the other, four are no change; the last four change both lines at once, which no
 * turning does: they are counted and turn nothing.
 */
import { clock32 } from '../units/clock'
import type { Level, KnobState } from './state'

/** By former and new reading, `a` first: 0 to 1 of a turn either way; 2 where no turning leads. */
const TURNS: readonly (readonly number[])[] = [
  // to 00 01 10 11
  [0, -1, 1, 2], // from 00
  [1, 0, 2, -1], // from 01
  [-1, 2, 0, 1], // from 10
  [2, 1, -1, 0], // from 11
]
/**
 * A detent that comes this soon after the one before counts twice, where the knob is accelerated.
 */
export const FAST_MS = 40

/** `detents`: passed by this reading, up positive. */
export function turned(
  knob: KnobState,
  a: Level,
  b: Level,
  countsPerDetent: number,
  accelerated: boolean,
  now: number,
): { state: KnobState; detents: number } {
  const lines = a * 2 + b
  const turn = TURNS[knob.lines]?.[lines] as number
  if (turn === 0) return { state: knob, detents: 0 }
  if (turn === 2) return { state: { ...knob, lines, invalid: knob.invalid + 1 }, detents: 0 }
  const count = knob.count + turn
  if (Math.abs(count) < countsPerDetent) return { state: { ...knob, lines, count }, detents: 0 }
  const fast = accelerated && knob.fastUntil !== null ? 2 : 1
  return {
    state: { ...knob, lines, count: 0, fastUntil: accelerated ? clock32(now + FAST_MS) : null },
    detents: Math.sign(count) * fast,
  }
}

/** Readings of the two lines of a knob, `a` first, in the order of turning up. */
const RISING: readonly number[] = [3, 1, 0, 2]

/** The reading that follows another when the knob is turned on by one count. */
export function linesAfter(lines: number, up: boolean): number {
  return RISING[(RISING.indexOf(lines) + (up ? 1 : 3)) % 4] as number
}
