/**
 * How a contact bounces when it closes or opens: it settles within a few milliseconds after a
 * random number of brief interruptions. Six at most, within 5 ms, each 10 us or longer: the order
 * of what relay and switch makers state for small contacts (docs/bench.md).
 */
import type { Level } from '../controller/step'
import type { Random } from '../units/random'

export const LONGEST_BOUNCE_MS = 5
const MOST_BOUNCES = 6
const SHORTEST_MS = 0.01

/**
 * Edges after the first touch, which is the edge to `level` itself: in whole 10 us, ending at
 * `level`.
 */
export function bounces(random: Random, level: Level): { afterMs: number; level: Level }[] {
  const times = Array.from({ length: 2 * Math.floor(random.next() * (MOST_BOUNCES + 1)) }, () =>
    Math.max(
      SHORTEST_MS,
      Math.round(random.next() * random.next() * LONGEST_BOUNCE_MS * 100) / 100,
    ),
  )
  const apart = [...new Set(times)].toSorted((a, b) => a - b)
  // Interruptions come in pairs: open and closed again.
  if (apart.length % 2) apart.pop()
  return apart.map((afterMs, i) => ({ afterMs, level: (i % 2 === 0 ? 1 - level : level) as Level }))
}
