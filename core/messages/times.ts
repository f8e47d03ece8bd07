/**
 * A time that goes with a command: "fan for 5000" in lines, fan=for 5000, {"fan":"for","ms":5000},
 * /fan/for/5000. Codes without ends and structures have no room for it: their timers run for the
 * times of the design.
 */
import type { Link, Message } from '../design/schema'
import { hasRoomBehind } from '../design/links/traits'
import { TIMED } from '../design/outputs/timed'
import { putBehind, takeBehind } from './dialects/behind'
import type { Behind } from './dialects/facet'

export const SHORTEST_MS = 50
export const LONGEST_MS = 86_400_000
export const LONGEST_BLINK_MS = 60_000
/** Characters that a time adds to the longest code: eight digits and what stands around them. */
export const TIME_LENGTH = 14

/** Whether a code of the link starts a timer, and its dialect has room for a time. */
export function startsTimers(link: Link): boolean {
  return (
    hasRoomBehind(link)
    && (link.messages as Message[]).some(m => TIMED.some(t => (m.codes[t] ?? '') !== ''))
  )
}

const TIME: Behind = { route: '/(\\d{1,8})', members: '"ms":(\\d{1,8})', words: '(\\d{1,8})' }

/** The code and the time behind it, ms; null where no time stands there. */
export function timeBehind(link: Link, text: string): { body: string; ms: number } | null {
  const taken = takeBehind(link, text, TIME)
  return taken && { body: taken.body, ms: Number(taken.parts[0]) }
}

/** A body with a time behind it. */
export function withTime(link: Link, body: string, ms: number): string {
  return putBehind(link, body, { route: `/${ms}`, members: `"ms":${ms}`, words: String(ms) })
}
