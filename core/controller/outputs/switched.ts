/**
 * On and off. With timers or limits it has a motion: IEC 61131-3 timers as commands (the input of a
 * TON goes true, that of a TOF true and false again; on and off clear all), least times on and off,
 * a longest time on.
 */
import type { Timed } from '../../design/outputs/timed'
import type { OutputOf } from '../../design/schema'
import { clock32, reached } from '../../units/clock'
import type { OutputBehaviour, OutputTimer } from './facet'
import { dueIn, isDue, isTimedMotion, type Outcome, type TimedMotion } from './motion'

type Switched = OutputOf<'switched'>

export const switched: OutputBehaviour<Switched> = {
  rest: ({ timers, limits }) =>
    timers || limits
      ? {
          ...QUIET,
          ...AT_REST,
          times: {
            after: timers?.onDelayMs ?? 0,
            for: timers?.offDelayMs ?? 0,
            blink: timers?.blinkMs ?? 0,
          },
        }
      : null,
  // How long it was off nobody knows: the least time off begins anew, so that what may not start
  // often does not start twice by a short power cut.
  boot(output, saved, resting, now) {
    const starts = { off: 'off', on: 'on', last: saved }
    const value = starts[output.powerUp]
    if (!resting) return { value, motion: null }
    const freeAt = dueIn(output.limits?.minOffMs ?? 0, now)
    const motion = { ...(resting as TimedMotion), steady: value === 'on', freeAt }
    return energised(output, motion, now)
  },
  wanted: (output, { value, motion }, want, { now }) =>
    motion ? timed(output, motion as TimedMotion, value, want, now) : { value: want, motion },
  elapsed: (output, was, now) =>
    was.motion ? fallenDue(output, was.motion as TimedMotion, now) : was,
  levels: (_, { value }) => [Number(value === 'on')],
  dues(motion) {
    if (!motion) return []
    const { onDue, offDue, blinkDue, freeAt, trip } = motion as TimedMotion
    return [onDue, offDue, blinkDue, freeAt, trip]
  },
  withDues(motion, due) {
    if (!motion) return motion
    const was = motion as TimedMotion
    return {
      ...was,
      onDue: due(was.onDue, 0),
      offDue: due(was.offDue, 1),
      blinkDue: due(was.blinkDue, 2),
      freeAt: due(was.freeAt, 3),
      trip: due(was.trip, 4),
    }
  },
  timers({ timers, limits }) {
    const list: OutputTimer[] = [
      { ms: timers?.onDelayMs ?? 0, words: name => `the delay of ${name} is over` },
      { ms: timers?.offDelayMs ?? 0, words: name => `the time of ${name} is over` },
      { ms: timers?.blinkMs ?? 0, words: name => `${name} blinks`, lasts: 'for ever' },
    ]
    if (!limits) return list
    return [
      ...list,
      {
        ms: Math.max(limits.minOnMs, limits.minOffMs),
        words: name => `the least time of ${name} is over`,
      },
      {
        ms: limits.longestOnMs,
        words: name => `the longest time of ${name} is over`,
        lasts: 'for hours',
      },
    ]
  },
  longestMs: ({ timers, limits }) =>
    Math.max(
      timers?.onDelayMs ?? 0,
      timers?.offDelayMs ?? 0,
      limits?.longestOnMs ?? 0,
      limits?.minOffMs ?? 0,
    ),
  standsStillMs: ({ saveDelayMs, limits }) =>
    saveDelayMs + (limits ? limits.minOnMs + limits.minOffMs + limits.longestOnMs : 0),
  waits(_, { motion }) {
    if (!motion) return false
    const was = motion as TimedMotion
    return was.onDue !== null || wants(was) !== was.is
  },
  adopts: false,
}

/**
 * What is saved, where the last state is: what the output would come to if its timers ended now.
 * "On for five seconds" is no state that a power cut may make last for ever, and blinking is none
 * that is written to memory at each beat.
 */
export function lasting({ value, motion }: Outcome): string {
  return isTimedMotion(motion) && value === 'on' && !motion.steady && !motion.onDone ? 'off' : value
}

/** Sources of a switched output when none asks for anything. */
const QUIET: Omit<TimedMotion, 'times' | keyof typeof AT_REST> = {
  kind: 'timed',
  steady: false,
  onDue: null,
  onDone: false,
  offDue: null,
  blinkDue: null,
  high: false,
}

const AT_REST: Pick<TimedMotion, 'is' | 'freeAt' | 'trip'> = { is: false, freeAt: null, trip: null }

function wants(motion: TimedMotion): boolean {
  return motion.steady || motion.onDone || motion.offDue !== null || motion.high
}

/**
 * What the output comes to: what its sources want, as soon as the least time since its last change
 * is over.
 */
function energised({ limits }: Switched, motion: TimedMotion, now: number): Outcome {
  const want = wants(motion)
  if (want === motion.is || motion.freeAt !== null)
    return { value: motion.is ? 'on' : 'off', motion }
  const least = (want ? limits?.minOnMs : limits?.minOffMs) ?? 0
  const longest = (want && limits?.longestOnMs) || 0
  return {
    value: want ? 'on' : 'off',
    motion: { ...motion, is: want, freeAt: dueIn(least, now), trip: dueIn(longest, now) },
  }
}

function timed(
  output: Switched,
  motion: TimedMotion,
  value: string,
  want: string,
  now: number,
): Outcome {
  const next = sourcesAfter(motion, want, now)
  if (motion.freeAt !== null && output.limits?.tooSoon === 'refuse' && wants(next) !== motion.is)
    return { value, motion, refused: true }
  return energised(output, next, now)
}

function sourcesAfter(motion: TimedMotion, want: string, now: number): TimedMotion {
  const [asks = '', given] = want.split(':')
  if (asks === 'on' || asks === 'off') return { ...motion, ...QUIET, steady: asks === 'on' }
  const times = given === undefined ? motion.times : { ...motion.times, [asks]: Number(given) }
  // Another time applies to a timer that runs from its start.
  const due = (was: number | null, key: Timed) =>
    was === null ? clock32(now + times[key]) : clock32(was - motion.times[key] + times[key])
  switch (asks) {
    // Said again, it is still true: it goes on.
    case 'after':
      return { ...motion, times, onDue: motion.onDone ? null : due(motion.onDue, 'after') }
    case 'for':
      return { ...motion, times, offDue: clock32(now + times.for) }
    case 'blink':
      return {
        ...motion,
        times,
        high: motion.blinkDue === null ? true : motion.high,
        blinkDue: due(motion.blinkDue, 'blink'),
      }
    default:
      return motion
  }
}

function fallenDue(output: Switched, motion: TimedMotion, now: number): Outcome {
  let next = motion
  if (isDue(next.freeAt, now)) next = { ...next, freeAt: null }
  if (isDue(next.onDue, now)) next = { ...next, onDue: null, onDone: true }
  if (isDue(next.offDue, now)) next = { ...next, offDue: null }
  if (next.blinkDue !== null && reached(now, next.blinkDue))
    next = { ...next, high: !next.high, blinkDue: clock32(next.blinkDue + next.times.blink) }
  const tripped = isDue(next.trip, now)
  // Off until somebody asks for it again; a timer that would switch it on is over too.
  if (tripped) next = { ...next, ...QUIET, trip: null }
  const outcome = energised(output, next, now)
  return tripped ? { ...outcome, tripped } : outcome
}
