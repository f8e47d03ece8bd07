/**
 * What stands in an address, taken only where it can be what it should be: anything else names
 * nothing that is here.
 */
import type { H3Event } from 'h3'

const SLUG = /^[a-z][a-z0-9-]{0,63}$/
const MOST_NUMBER = 2 ** 31 - 1

/** An id; '' where it cannot be one. */
export function slugParam(event: H3Event, name: string): string {
  const text = getRouterParam(event, name) ?? ''
  return SLUG.test(text) ? text : ''
}

/** The id of a design, or a refusal. */
export function designParam(event: H3Event): string {
  const id = slugParam(event, 'id')
  if (!id) throw notFound(printable(getRouterParam(event, 'id') ?? ''))
  return id
}

/** A number that counts from 1; null where it is none. */
export function numberParam(text: unknown): number | null {
  return typeof text === 'string' && /^[1-9]\d{0,9}$/.test(text) && Number(text) <= MOST_NUMBER
    ? Number(text)
    : null
}

// eslint-disable-next-line no-control-regex
const UNPRINTABLE = /[\u0000-\u001F\u007F<>]/g

/** What was asked for, as it may be said back. */
export function printable(text: string): string {
  return text.toWellFormed().replaceAll(UNPRINTABLE, '?').slice(0, 60)
}

/** Text of a person as the database takes it. */
export function isPlain(text: string): boolean {
  return text.isWellFormed() && !text.includes('\u0000')
}
