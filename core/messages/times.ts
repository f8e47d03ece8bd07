/**
 * A time that goes with a command: "fan for 5000" in lines, fan=for 5000, {"fan":"for","ms":5000}, /fan/for/5000. Codes without
 * ends and structures have no room for it: their timers run for the times of the design.
 */
import type { Link, Message } from '../design/schema'
import { TIMED } from '../design/values'

export const SHORTEST_MS = 50
export const LONGEST_MS = 86_400_000
export const LONGEST_BLINK_MS = 60_000
/** Characters that a time adds to the longest code: eight digits and what stands around them. */
export const TIME_LENGTH = 14

/** Whether a code of the link starts a timer, and its dialect has room for a time. */
export function startsTimers(link: Link): boolean {
  if (link.kind !== 'http' && (link.dialect.kind === 'codes' || link.dialect.kind === 'packed')) return false
  return (link.messages as Message[]).some(m => TIMED.some(t => (m.codes[t] ?? '') !== ''))
}

/** The code and the time behind it, ms; null where no time stands there. */
export function timeBehind(link: Link, text: string): { body: string, ms: number } | null {
  const json = link.kind !== 'http' && link.dialect.kind === 'json'
  const [, body, digits] = (link.kind === 'http' ? /^(.*)\/(\d{1,8})$/ : json ? /^(.*),"ms":(\d{1,8})\}$/ : /^(.*) (\d{1,8})$/).exec(text) ?? []
  return body === undefined || digits === undefined ? null : { body: json ? `${body}}` : body, ms: Number(digits) }
}

/** A body with a time behind it. */
export function withTime(link: Link, body: string, ms: number): string {
  if (link.kind === 'http') return `${body}/${ms}`
  return link.dialect.kind === 'json' ? `${body.slice(0, -1)},"ms":${ms}}` : `${body} ${ms}`
}
