/**
 * Two directions: a reversal goes through stop and the dead time; the wanted direction is the value
 * meanwhile.
 */
import type { OutputOf } from '../../design/schema'
import { clock32, reached } from '../../units/clock'
import type { OutputBehaviour } from './facet'
import { dueIn, isOpposedMotion, type OpposedMotion, type Outcome } from './motion'

type Opposed = OutputOf<'opposed'>
type Direction = 'forward' | 'reverse'

export const opposed: OutputBehaviour<Opposed> = {
  rest: () => ({
    kind: 'opposed',
    driven: 'stop',
    rests: null,
    limit: null,
    ends: { forward: false, reverse: false },
  }),
  // What was driven before is not known, nor how long ago: a bridge that was cut while it ran does
  // not reverse as soon as the board is back.
  boot: ({ deadTimeMs }, _, resting, now) => ({
    value: 'stop',
    motion: deadTimeMs
      ? {
          ...(resting as OpposedMotion),
          rests: { line: 'both', due: clock32(now + deadTimeMs) },
        }
      : resting,
  }),
  wanted: (output, { value, motion }, want, { now }) =>
    turned(output, motion as OpposedMotion, value, want as 'stop' | Direction, now),
  elapsed: (output, { value, motion }, now) =>
    fallenDue(output, motion as OpposedMotion, value, now),
  levels(output, { motion }) {
    const { driven } = motion as OpposedMotion
    const moving = Number(driven !== 'stop')
    if (output.drive !== 'stepper')
      return [Number(driven === 'forward'), Number(driven === 'reverse')]
    const lines = [moving * output.stepHz, Number(driven === 'reverse')]
    return output.enablePin === null ? lines : [...lines, moving]
  },
  dues(motion) {
    const { rests, limit } = motion as OpposedMotion
    return [rests?.due ?? null, limit]
  },
  withDues(motion, due) {
    const { rests, limit, ...rest } = motion as OpposedMotion
    return {
      ...rest,
      rests: rests && { ...rests, due: due(rests.due, 0) as number },
      limit: due(limit, 1),
    }
  },
  timers: ({ deadTimeMs, runLimitMs }) => [
    { ms: deadTimeMs, words: name => `the dead time of ${name} is over` },
    { ms: runLimitMs, words: name => `the longest run of ${name} is over` },
  ],
  longestMs: ({ deadTimeMs, runLimitMs }) => Math.max(deadTimeMs, runLimitMs),
  standsStillMs: ({ deadTimeMs, runLimitMs }) => deadTimeMs + runLimitMs,
  adopts: false,
}

function turned(
  output: Opposed,
  motion: OpposedMotion,
  before: string,
  want: 'stop' | Direction,
  now: number,
): Outcome {
  if (want === before) return { value: before, motion }
  if (want !== 'stop' && motion.ends[want]) return { value: before, motion, refused: true }
  let next = motion
  if (next.driven !== 'stop')
    next = {
      ...next,
      driven: 'stop',
      limit: null,
      rests: output.deadTimeMs
        ? { line: next.driven, due: clock32(now + output.deadTimeMs) }
        : null,
    }
  return { value: want, motion: want === 'stop' ? next : started(output, next, want, now) }
}

/** An end contact opens or closes: closed, it ends its direction. */
export function ended(
  output: Opposed,
  { value, motion }: Outcome,
  direction: Direction,
  closed: boolean,
  now: number,
): Outcome {
  if (!isOpposedMotion(motion) || motion.ends[direction] === closed) return { value, motion }
  const next = { ...motion, ends: { ...motion.ends, [direction]: closed } }
  return closed && value === direction
    ? turned(output, next, value, 'stop', now)
    : { value, motion: next }
}

function started(
  output: Opposed,
  motion: OpposedMotion,
  want: Direction,
  now: number,
): OpposedMotion {
  if (motion.rests && motion.rests.line !== want) return motion
  return { ...motion, driven: want, limit: dueIn(output.runLimitMs, now) }
}

function fallenDue(output: Opposed, motion: OpposedMotion, value: string, now: number): Outcome {
  let next = motion
  if (next.rests && reached(now, next.rests.due)) {
    next = { ...next, rests: null }
    if (value !== 'stop' && next.driven === 'stop')
      next = started(output, next, value as Direction, now)
  }
  if (next.limit !== null && reached(now, next.limit))
    return turned(output, next, value, 'stop', now)
  return { value, motion: next }
}
