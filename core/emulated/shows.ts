/** What the lines of a load show, from what stands on them. */
import { activeLevelOf, isLevel, isOpposed } from '../design/outputs/traits'
import type { Output } from '../design/schema'

/** Of each line: 0 at rest to 1, as far as it is driven. */
export function drivenShares(output: Output, levels: readonly (number | null)[]): number[] {
  const high = activeLevelOf(output) === 'high'
  return levels.map(level => {
    if (level === null) return 0
    const of = Math.min(1, level / (isLevel(output) ? 255 : 1))
    return high ? of : 1 - of
  })
}

/** In words: "on", "30 %", "forward". */
export function linesWords(output: Output, levels: readonly (number | null)[]): string {
  const shares = drivenShares(output, levels)
  const [first = 0, second = 0] = shares
  if (isOpposed(output)) {
    if (first) return 'forward'
    return second ? 'reverse' : 'stop'
  }
  if (isLevel(output)) return `${Math.round(first * 100)} %`
  if (levels.length === 1) return first ? 'on' : 'off'
  const on = shares.flatMap((share, i) => (share ? [i + 1] : []))
  return on.length ? `line ${on.join(' and ')}` : 'off'
}
