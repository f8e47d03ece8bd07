/**
 * Two directions: a reversal goes through stop and the dead time; the wanted direction is the value
 * meanwhile.
 */
import { stepMs } from '../../design/outputs/opposed'
import { hasCoils } from '../../design/outputs/traits'
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
    phase: 0,
    stepDue: null,
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
    stepped(
      output,
      turned(output, motion as OpposedMotion, value, want as 'stop' | Direction, now),
      now,
    ),
  elapsed: (output, { value, motion }, now) =>
    stepped(output, fallenDue(output, motion as OpposedMotion, value, now), now),
  levels(output, { motion }) {
    const { driven } = motion as OpposedMotion
    const moving = Number(driven !== 'stop')
    if (hasCoils(output)) return coils(output, motion as OpposedMotion)
    if (output.drive !== 'stepper')
      return [Number(driven === 'forward'), Number(driven === 'reverse')]
    const lines = [moving * output.stepHz, Number(driven === 'reverse')]
    return output.enablePin === null ? lines : [...lines, moving]
  },
  dues(motion) {
    const { rests, limit, stepDue } = motion as OpposedMotion
    return [rests?.due ?? null, limit, stepDue]
  },
  withDues(motion, due) {
    const { rests, limit, stepDue, ...rest } = motion as OpposedMotion
    return {
      ...rest,
      rests: rests && { ...rests, due: due(rests.due, 0) as number },
      limit: due(limit, 1),
      stepDue: due(stepDue, 2),
    }
  },
  timers: ({ deadTimeMs, runLimitMs }) => [
    { ms: deadTimeMs, words: name => `the dead time of ${name} is over` },
    { ms: runLimitMs, words: name => `the longest run of ${name} is over` },
  ],
  longestMs: ({ deadTimeMs, runLimitMs }) => Math.max(deadTimeMs, runLimitMs),
  standsStillMs: ({ deadTimeMs, runLimitMs }) => deadTimeMs + runLimitMs,
  waits: (_, { value, motion }) => (motion as OpposedMotion).driven !== value,
  adopts: false,
}

/** The four coils by phase, in half steps: a bit each, coil 1 lowest. */
const HALF_STEPS = [0b0001, 0b0011, 0b0010, 0b0110, 0b0100, 0b1100, 0b1000, 0b1001]

/** In full steps two coils at a time have current, in half steps one and two by turns. */
function coils(output: Opposed, { driven, phase }: OpposedMotion): number[] {
  const off = driven === 'stop' && output.atRest === 'off'
  const bits = off ? 0 : (HALF_STEPS[output.sequence === 'full' ? phase | 1 : phase] as number)
  return [0, 1, 2, 3].map(coil => (bits >> coil) & 1)
}

/**
 * Coils go on by a step whenever one is due. The first one is a step after the start of a run, so
 * that a rotor that stood between two coils is drawn to where the count begins.
 */
function stepped(output: Opposed, is: Outcome, now: number): Outcome {
  const motion = is.motion as OpposedMotion
  if (!hasCoils(output)) return is
  if (motion.driven === 'stop')
    return motion.stepDue === null ? is : { ...is, motion: { ...motion, stepDue: null } }
  if (motion.stepDue === null)
    return { ...is, motion: { ...motion, stepDue: clock32(now + stepMs(output)) } }
  if (!reached(now, motion.stepDue)) return is
  const way = (motion.driven === 'forward' ? 1 : -1) * (output.sequence === 'full' ? 2 : 1)
  const phase = (motion.phase + way + 8) % 8
  return { ...is, motion: { ...motion, phase, stepDue: clock32(motion.stepDue + stepMs(output)) } }
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
    ? stepped(output, turned(output, next, value, 'stop', now), now)
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
