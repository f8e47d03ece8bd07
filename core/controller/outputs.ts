/**
 * What an output does with a wanted value, by its kind: what it puts on its lines, and what it
 * still has to do in time. Pure; `step.ts` hands in the time and writes the lines. Words and rules
 * are told in docs/behaviour.md.
 */
import { fullOf, restOf, valuesOf, type Timed } from '../design/values'
import type { Output } from '../design/schema'
import { clock32, earlier, reached } from '../units/clock'

/** A hold without end: a finger on a wired button. */
export const BY_HAND = -1

type Switched = Extract<Output, { kind: 'switched' }>
type Opposed = Extract<Output, { kind: 'opposed' }>
type Level = Extract<Output, { kind: 'level' }>
type Follower = Extract<Output, { kind: 'follower' }>

/** What an output has under way; null where its kind has nothing of the sort. */
export type Motion =
  /**
   * Sources of a switched output with timers, OR-ed: steady, on-delay done, off-delay holding,
   * blink high. Times as last given, ms.
   */
  | TimedMotion
  | { kind: 'pulsed'; due: number | null }
  /** By holder: when the hold ends, BY_HAND, or null. */
  | { kind: 'held'; holds: readonly (number | null)[] }
  | {
      kind: 'opposed'
      /** The line that is energised now. */
      driven: 'stop' | 'forward' | 'reverse'
      /**
       * The line that fell last, and until when the other one has to wait; after a start nobody
       * knows which it was, and both wait.
       */
      rests: { line: 'forward' | 'reverse' | 'both'; due: number } | null
      limit: number | null
      /** Its end contact is closed: that direction is forbidden. */
      ends: { forward: boolean; reverse: boolean }
    }
  /** `duty`: what is put out now, %. */
  | { kind: 'level'; duty: number; due: number | null }
  /**
   * `own`: the position that the followed device is believed to have; null until the first value is
   * adopted.
   */
  | { kind: 'follower'; own: number | null; pulse: 'up' | 'down' | null; due: number | null }
  | null

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

/**
 * Energised lines are 1; a dimmed line is 0 to 255; the step line of a stepper is its frequency in
 * Hz.
 */
export type LineLevel = number

/** The motion of an output at rest. `holders`: whoever can hold a held load. */
export function restingMotion(output: Output, holders: number): Motion {
  switch (output.kind) {
    case 'pulsed':
      return { kind: 'pulsed', due: null }
    case 'held':
      return { kind: 'held', holds: Array.from({ length: holders }, () => null) }
    case 'opposed':
      return {
        kind: 'opposed',
        driven: 'stop',
        rests: null,
        limit: null,
        ends: { forward: false, reverse: false },
      }
    case 'level':
      return { kind: 'level', duty: 0, due: null }
    case 'follower':
      return { kind: 'follower', own: null, pulse: null, due: null }
    case 'switched':
      return output.timers || output.limits
        ? {
            ...QUIET,
            ...AT_REST,
            times: {
              after: output.timers?.onDelayMs ?? 0,
              for: output.timers?.offDelayMs ?? 0,
              blink: output.timers?.blinkMs ?? 0,
            },
          }
        : null
  }
}

/**
 * After power returned, from what was saved. A dimmed load starts at its level without a ramp. What
 * was driven before is not known, nor how long ago: the least time off begins anew, and so does the
 * dead time, for both directions. What may not start often does not start twice by a short power
 * cut, and a bridge that was cut while it ran does not reverse as soon as the board is back.
 */
export function bootOutcome(output: Output, saved: string, holders: number, now: number): Outcome {
  const resting = restingMotion(output, holders)
  const rest = restOf(output)
  if (output.kind === 'opposed' && resting?.kind === 'opposed' && output.deadTimeMs)
    return {
      value: rest,
      motion: { ...resting, rests: { line: 'both', due: clock32(now + output.deadTimeMs) } },
    }
  if (output.kind !== 'switched' && output.kind !== 'level') return { value: rest, motion: resting }
  const value = output.powerUp === 'on' ? fullOf(output) : output.powerUp === 'last' ? saved : rest
  if (output.kind === 'level')
    return { value, motion: { kind: 'level', duty: dutyOf(output, value), due: null } }
  if (resting?.kind !== 'timed') return { value, motion: null }
  const minOffMs = output.limits?.minOffMs ?? 0
  return energised(
    output,
    { ...resting, steady: value === 'on', freeAt: minOffMs ? clock32(now + minOffMs) : null },
    now,
  )
}

/**
 * What is saved, where the last state is: what the output would come to if its timers ended now.
 * "On for five seconds" is no state that a power cut may make last for ever, and blinking is none
 * that is written to memory at each beat.
 */
export function lasting({ value, motion }: Outcome): string {
  return motion?.kind === 'timed' && value === 'on' && !motion.steady && !motion.onDone
    ? 'off'
    : value
}

/**
 * Takes the first value after a mark of a start as where it stands: set-points do, commands that
 * switch do not.
 */
export function adopts(output: Output): boolean {
  return output.kind === 'follower' || output.kind === 'level'
}

/**
 * A value is asked for at `now`. `holder` says who holds a held output; `byHand` that the hold ends
 * with the finger.
 */
export function wanted(
  output: Output,
  { value, motion }: Outcome,
  want: string,
  now: number,
  holder: number,
  byHand: boolean,
): Outcome {
  switch (output.kind) {
    case 'switched':
      return motion?.kind === 'timed'
        ? timed(output, motion, value, want, now)
        : { value: want, motion }
    case 'pulsed': {
      if (want === 'off') return { value: 'off', motion: { kind: 'pulsed', due: null } }
      if (value === 'on' && output.again === 'ignore') return { value, motion }
      return { value: 'on', motion: { kind: 'pulsed', due: clock32(now + output.lengthMs) } }
    }
    case 'held': {
      const { holds } = motion as Extract<Motion, { kind: 'held' }>
      return held(
        holds.with(
          holder,
          want === 'off' ? null : byHand ? BY_HAND : clock32(now + output.timeoutMs),
        ),
      )
    }
    case 'opposed':
      return turned(
        output,
        motion as Extract<Motion, { kind: 'opposed' }>,
        value,
        want as 'stop' | 'forward' | 'reverse',
        now,
      )
    case 'level':
      return ramped(output, motion as Extract<Motion, { kind: 'level' }>, want, now)
    case 'follower':
      return followed(output, motion as Extract<Motion, { kind: 'follower' }>, want, now)
  }
}

/** What falls due at `now`. */
export function elapsed(output: Output, { value, motion }: Outcome, now: number): Outcome {
  if (!motion) return { value, motion }
  switch (motion.kind) {
    case 'pulsed':
      return isDue(motion.due, now)
        ? { value: 'off', motion: { kind: 'pulsed', due: null } }
        : { value, motion }
    case 'timed':
      return timedDue(output as Switched, motion, now)
    case 'held':
      return motion.holds.some(h => h !== null && h !== BY_HAND && reached(now, h))
        ? held(motion.holds.map(h => (h !== null && h !== BY_HAND && reached(now, h) ? null : h)))
        : { value, motion }
    case 'opposed':
      return opposedDue(output as Opposed, motion, value, now)
    case 'level':
      return isDue(motion.due, now)
        ? { value, motion: rampStep(output as Level, motion.duty, value, now) }
        : { value, motion }
    case 'follower':
      return isDue(motion.due, now)
        ? { value, motion: followDue(output as Follower, motion, value, now) }
        : { value, motion }
  }
}

/** When the output wants to be asked again. */
export function motionDue(motion: Motion): number | null {
  if (!motion) return null
  switch (motion.kind) {
    case 'held':
      return motion.holds.reduce<number | null>(
        (due, h) => (h === BY_HAND ? due : earlier(due, h)),
        null,
      )
    case 'opposed':
      return earlier(motion.rests?.due ?? null, motion.limit)
    case 'timed':
      return earlier(
        earlier(earlier(motion.onDue, motion.offDue), earlier(motion.blinkDue, motion.freeAt)),
        motion.trip,
      )
    default:
      return motion.due
  }
}

/** Levels of the lines of `linesOf`, in its order; energised = 1 whatever the active level. */
export function lineLevels(output: Output, { value, motion }: Outcome): LineLevel[] {
  switch (motion?.kind) {
    case 'opposed': {
      const { driven } = motion
      const moving = Number(driven !== 'stop')
      if ((output as Opposed).drive !== 'stepper')
        return [Number(driven === 'forward'), Number(driven === 'reverse')]
      const lines = [moving * (output as Opposed).stepHz, Number(driven === 'reverse')]
      return (output as Opposed).enablePin === null ? lines : [...lines, moving]
    }
    case 'level':
      return [Math.floor((motion.duty * 255 + 50) / 100)]
    case 'follower':
      return [Number(motion.pulse === 'up'), Number(motion.pulse === 'down')]
    default:
      return [Number(value === 'on')]
  }
}

function held(holds: readonly (number | null)[]): Outcome {
  return { value: holds.some(h => h !== null) ? 'on' : 'off', motion: { kind: 'held', holds } }
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
    motion: {
      ...motion,
      is: want,
      freeAt: least ? clock32(now + least) : null,
      trip: longest ? clock32(now + longest) : null,
    },
  }
}

/**
 * IEC 61131-3 timers as commands: the input of a TON goes true, that of a TOF true and false again;
 * on and off clear all.
 */
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

function timedDue(output: Switched, motion: TimedMotion, now: number): Outcome {
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

/** A reversal goes through stop and the dead time; the wanted direction is the value meanwhile. */
function turned(
  output: Opposed,
  motion: Extract<Motion, { kind: 'opposed' }>,
  before: string,
  want: 'stop' | 'forward' | 'reverse',
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
  direction: 'forward' | 'reverse',
  closed: boolean,
  now: number,
): Outcome {
  if (motion?.kind !== 'opposed' || motion.ends[direction] === closed) return { value, motion }
  const next = { ...motion, ends: { ...motion.ends, [direction]: closed } }
  return closed && value === direction
    ? turned(output, next, value, 'stop', now)
    : { value, motion: next }
}

function started(
  output: Opposed,
  motion: Extract<Motion, { kind: 'opposed' }>,
  want: 'forward' | 'reverse',
  now: number,
): Motion {
  if (motion.rests && motion.rests.line !== want) return motion
  return {
    ...motion,
    driven: want,
    limit: output.runLimitMs ? clock32(now + output.runLimitMs) : null,
  }
}

function opposedDue(
  output: Opposed,
  motion: Extract<Motion, { kind: 'opposed' }>,
  value: string,
  now: number,
): Outcome {
  let next = motion
  if (next.rests && reached(now, next.rests.due)) {
    next = { ...next, rests: null }
    if (value !== 'stop' && next.driven === 'stop')
      next = started(output, next, value as 'forward' | 'reverse', now) as typeof motion
  }
  if (next.limit !== null && reached(now, next.limit))
    return turned(output, next, value, 'stop', now)
  return { value, motion: next }
}

/** The duty that a level ends at: levels below the minimum count as off or as the minimum. */
function dutyOf(output: Level, value: string): number {
  const level = Number(value)
  return level > 0 && level < output.minimum ? (output.below === 'off' ? 0 : output.minimum) : level
}

function ramped(
  output: Level,
  motion: Extract<Motion, { kind: 'level' }>,
  want: string,
  now: number,
): Outcome {
  const goal = dutyOf(output, want)
  if (output.rampMs === 0) return { value: want, motion: { kind: 'level', duty: goal, due: null } }
  // A ramp under way keeps its beat and turns towards the new goal.
  return {
    value: want,
    motion: {
      ...motion,
      due: motion.duty === goal ? null : (motion.due ?? clock32(now + output.rampMs)),
    },
  }
}

function rampStep(output: Level, duty: number, value: string, now: number): Motion {
  const goal = dutyOf(output, value)
  const next = duty + Math.sign(goal - duty)
  return { kind: 'level', duty: next, due: next === goal ? null : clock32(now + output.rampMs) }
}

/**
 * The first value after a start is adopted: the device stands there already, as far as anybody
 * knows.
 */
function followed(
  output: Follower,
  motion: Extract<Motion, { kind: 'follower' }>,
  want: string,
  now: number,
): Outcome {
  if (motion.own === null) return { value: want, motion: { ...motion, own: Number(want) } }
  return {
    value: want,
    motion: motion.due === null ? nextPulse(output, motion.own, want, now) : motion,
  }
}

function nextPulse(output: Follower, own: number, value: string, now: number): Motion {
  const { positions } = output
  const straight = Number(value) - own
  // A knob without ends turns the shorter way; half-way round it turns up.
  const difference = output.round
    ? ((straight + positions + Math.floor((positions - 1) / 2)) % positions)
      - Math.floor((positions - 1) / 2)
    : straight
  return difference === 0
    ? { kind: 'follower', own, pulse: null, due: null }
    : {
        kind: 'follower',
        own,
        pulse: difference > 0 ? 'up' : 'down',
        due: clock32(now + output.pulseMs),
      }
}

/**
 * A pulse ends: the device has moved by one, both lines rest for the gap. A gap ends: the next
 * pulse, if any.
 */
function followDue(
  output: Follower,
  motion: Extract<Motion, { kind: 'follower' }>,
  value: string,
  now: number,
): Motion {
  const own = motion.own ?? 0
  const moved = own + (motion.pulse === 'up' ? 1 : -1)
  if (motion.pulse)
    return {
      kind: 'follower',
      own: output.round ? (moved + output.positions) % output.positions : moved,
      pulse: null,
      due: clock32(now + output.gapMs),
    }
  return nextPulse(output, own, value, now)
}

function isDue(due: number | null, now: number): boolean {
  return due !== null && reached(now, due)
}

/** The position of the followed device is taken as it is told: nothing moves. */
export function adopted({ motion }: Outcome, value: string): Outcome {
  return motion?.kind === 'follower'
    ? { value, motion: { ...motion, own: Number(value), pulse: null, due: null } }
    : { value, motion }
}

/** Is this a value of the output: what memory holds may come from an older program. */
export function isValue(output: Output, value: string): boolean {
  return valuesOf(output).includes(value)
}
