/** A level: it ramps towards its goal, one per cent at a time. */
import type { OutputOf } from '../../design/schema'
import { fullOf, restOf } from '../../design/values'
import { clock32 } from '../../units/clock'
import type { OutputBehaviour } from './facet'
import { isDue, type LevelMotion } from './motion'

type Level = OutputOf<'level'>

export const level: OutputBehaviour<Level> = {
  rest: () => ({ kind: 'level', duty: 0, due: null }),
  // A dimmed load starts at its level without a ramp.
  boot(output, saved) {
    const starts = { off: restOf(output), on: fullOf(output), last: saved }
    const value = starts[output.powerUp]
    return { value, motion: { kind: 'level', duty: dutyOf(output, value), due: null } }
  },
  wanted(output, was, want, { now }) {
    const motion = was.motion as LevelMotion
    const goal = dutyOf(output, want)
    if (output.rampMs === 0)
      return { value: want, motion: { kind: 'level', duty: goal, due: null } }
    // A ramp under way keeps its beat and turns towards the new goal.
    const due = motion.duty === goal ? null : (motion.due ?? clock32(now + output.rampMs))
    return { value: want, motion: { ...motion, due } }
  },
  elapsed(output, was, now) {
    const { duty, due } = was.motion as LevelMotion
    return isDue(due, now)
      ? { value: was.value, motion: rampStep(output, duty, was.value, now) }
      : was
  },
  levels: (_, { motion }) => [Math.floor(((motion as LevelMotion).duty * 255 + 50) / 100)],
  dues: motion => [(motion as LevelMotion).due],
  withDues(motion, due) {
    const was = motion as LevelMotion
    return { ...was, due: due(was.due, 0) }
  },
  timers: () => [],
  longestMs: ({ rampMs }) => rampMs * 100,
  standsStillMs: () => 0,
  waits: (_, { motion }) => (motion as LevelMotion).due !== null,
  adopts: true,
}

/** The duty that a level ends at, %: levels below the minimum count as off or as the minimum. */
function dutyOf({ minimum, below }: Level, value: string): number {
  const wanted = Number(value)
  if (wanted <= 0 || wanted >= minimum) return wanted
  return below === 'off' ? 0 : minimum
}

function rampStep(output: Level, duty: number, value: string, now: number): LevelMotion {
  const goal = dutyOf(output, value)
  const next = duty + Math.sign(goal - duty)
  return { kind: 'level', duty: next, due: next === goal ? null : clock32(now + output.rampMs) }
}
