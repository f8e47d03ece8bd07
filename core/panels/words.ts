/**
 * How a key words what it believes. The same words in the built page, its preview and the bench.
 */
import { restOf, valueWords, isValue } from '../design/values'
import type { Output } from '../design/schema'
import type { Shown } from '../surfaces/surface'
import { isFollower } from '../design/outputs/traits'

/** What a key says of its load: "asked for on". */
export function shownLabel(
  output: Output,
  shown: Shown,
  asked: string | null,
  connected: boolean,
): string {
  if (shown === 'waiting')
    return asked === null ? 'asked' : `asked for ${valueWords(output, asked)}`
  if (shown === 'unknown') return connected ? 'not known' : 'no link'
  return shown.startsWith('stale-')
    ? `was ${valueWords(output, shown.slice(6))}`
    : valueWords(output, shown)
}

/** What a key says that asks for a value: "On", "Forward", "50 %", "+". */
export function wantLabel(output: Output, want: string): string {
  if (want === 'up') return '+'
  if (want === 'down') return '\u2212'
  const words = isFollower(output) ? want : valueWords(output, want)
  return words.charAt(0).toUpperCase() + words.slice(1)
}

/** A key is inked where it shows for certain that its load is not at rest. */
export function isLit(output: Output, shown: Shown): boolean {
  return shown !== restOf(output) && isValue(output, shown)
}
