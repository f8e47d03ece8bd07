/** Energised for a set time by a trigger. */
import type { OutputOf } from '../../design/schema'
import { clock32 } from '../../units/clock'
import type { OutputBehaviour } from './facet'
import { isDue, type PulsedMotion } from './motion'

const AT_REST: PulsedMotion = { kind: 'pulsed', due: null }

export const pulsed: OutputBehaviour<OutputOf<'pulsed'>> = {
  rest: () => AT_REST,
  boot: (_, __, motion) => ({ value: 'off', motion }),
  wanted({ again, lengthMs }, { value, motion }, want, { now }) {
    if (want === 'off') return { value: 'off', motion: AT_REST }
    if (value === 'on' && again === 'ignore') return { value, motion }
    return { value: 'on', motion: { kind: 'pulsed', due: clock32(now + lengthMs) } }
  },
  elapsed: (_, was, now) =>
    isDue((was.motion as PulsedMotion).due, now) ? { value: 'off', motion: AT_REST } : was,
  levels: (_, { value }) => [Number(value === 'on')],
  dues: motion => [(motion as PulsedMotion).due],
  withDues: (motion, due) => ({ kind: 'pulsed', due: due((motion as PulsedMotion).due, 0) }),
  timers: ({ lengthMs }) => [{ ms: lengthMs, words: name => `the pulse of ${name} ends` }],
  longestMs: ({ lengthMs }) => lengthMs,
  standsStillMs: ({ lengthMs }) => lengthMs,
  waits: () => false,
  adopts: false,
}
