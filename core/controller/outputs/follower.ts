/**
 * Clicks of an imitated knob. The first value after a start is adopted: the device stands there
 * already, as far as anybody knows.
 */
import type { OutputOf } from '../../design/schema'
import { clock32 } from '../../units/clock'
import type { OutputBehaviour } from './facet'
import { isDue, type FollowerMotion, type Outcome } from './motion'

type Follower = OutputOf<'follower'>

export const follower: OutputBehaviour<Follower> = {
  rest: () => ({ kind: 'follower', own: null, pulse: null, due: null }),
  boot: (_, __, motion) => ({ value: '0', motion }),
  wanted(output, was, want, { now }) {
    const motion = was.motion as FollowerMotion
    if (motion.own === null) return { value: want, motion: { ...motion, own: Number(want) } }
    return {
      value: want,
      motion: motion.due === null ? nextPulse(output, motion.own, want, now) : motion,
    }
  },
  elapsed(output, was, now) {
    const motion = was.motion as FollowerMotion
    return isDue(motion.due, now)
      ? { value: was.value, motion: pulseEnds(output, motion, was.value, now) }
      : was
  },
  levels(_, { motion }) {
    const { pulse } = motion as FollowerMotion
    return [Number(pulse === 'up'), Number(pulse === 'down')]
  },
  dues: motion => [(motion as FollowerMotion).due],
  withDues(motion, due) {
    const was = motion as FollowerMotion
    return { ...was, due: due(was.due, 0) }
  },
  timers: () => [],
  longestMs: ({ positions, pulseMs, gapMs }) => positions * (pulseMs + gapMs),
  standsStillMs: () => 0,
  waits: (_, { motion }) => (motion as FollowerMotion).due !== null,
  adopts: true,
}

/** The position of the followed device is taken as it is told: nothing moves. */
export function adopted({ motion }: Outcome, value: string): Outcome {
  return motion?.kind === 'follower'
    ? { value, motion: { ...motion, own: Number(value), pulse: null, due: null } }
    : { value, motion }
}

function nextPulse(output: Follower, own: number, value: string, now: number): FollowerMotion {
  const { positions } = output
  const straight = Number(value) - own
  // A knob without ends turns the shorter way; half-way round it turns up.
  const half = Math.floor((positions - 1) / 2)
  const difference = output.round ? ((straight + positions + half) % positions) - half : straight
  if (difference === 0) return { kind: 'follower', own, pulse: null, due: null }
  return {
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
function pulseEnds(
  output: Follower,
  motion: FollowerMotion,
  value: string,
  now: number,
): FollowerMotion {
  const own = motion.own ?? 0
  if (!motion.pulse) return nextPulse(output, own, value, now)
  const moved = own + (motion.pulse === 'up' ? 1 : -1)
  return {
    kind: 'follower',
    own: output.round ? (moved + output.positions) % output.positions : moved,
    pulse: null,
    due: clock32(now + output.gapMs),
  }
}
