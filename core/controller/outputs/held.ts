/** On while somebody holds it: each holder by itself, kept alive or by a finger. */
import type { OutputOf } from '../../design/schema'
import { clock32, reached } from '../../units/clock'
import type { OutputBehaviour } from './facet'
import { BY_HAND, type HeldMotion, type Outcome } from './motion'

export const held: OutputBehaviour<OutputOf<'held'>> = {
  rest: (_, holders) => ({ kind: 'held', holds: Array.from({ length: holders }, () => null) }),
  boot: (_, __, motion) => ({ value: 'off', motion }),
  wanted({ timeoutMs }, { motion }, want, { now, holder, byHand }) {
    const hold = byHand ? BY_HAND : clock32(now + timeoutMs)
    return outcome((motion as HeldMotion).holds.with(holder, want === 'off' ? null : hold))
  },
  elapsed(_, was, now) {
    const { holds } = was.motion as HeldMotion
    const over = (hold: number | null) => hold !== null && hold !== BY_HAND && reached(now, hold)
    return holds.some(over) ? outcome(holds.map(h => (over(h) ? null : h))) : was
  },
  levels: (_, { value }) => [Number(value === 'on')],
  dues: motion => (motion as HeldMotion).holds.map(h => (h === BY_HAND ? null : h)),
  withDues: (motion, due) => ({
    kind: 'held',
    holds: (motion as HeldMotion).holds.map((h, i) => (h === BY_HAND ? h : due(h, i))),
  }),
  timers: ({ timeoutMs }, holders) =>
    Array.from({ length: holders }, () => ({
      ms: timeoutMs,
      words: (name: string) => `no keep-alive came for ${name} in time`,
    })),
  longestMs: ({ timeoutMs }) => timeoutMs,
  standsStillMs: ({ timeoutMs }) => timeoutMs,
  waits: () => false,
  adopts: false,
}

function outcome(holds: readonly (number | null)[]): Outcome {
  return { value: holds.some(h => h !== null) ? 'on' : 'off', motion: { kind: 'held', holds } }
}
