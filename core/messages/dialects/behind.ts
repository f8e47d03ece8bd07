/**
 * What stands behind a command, by the way a link speaks: more of a route, further members of a
 * JSON object, further words of a line. Proofs and times are put there and taken off again.
 * Structures have fields of their own for it, short codes no room.
 */
import type { Link } from '../../design/schema'
import type { Behind } from './facet'
import { speechOf } from './rows'

/** A body with something behind it, as its dialect writes that. */
export function putBehind(link: Link, body: string, behind: Behind): string {
  return speechOf(link).put(body, behind)
}

/** The bare command and the parts behind it; null where the pattern does not fit. */
export function takeBehind(
  link: Link,
  text: string,
  behind: Behind,
): { body: string; parts: string[] } | null {
  const { pattern, closing } = speechOf(link)
  const [, body, ...parts] = new RegExp(`^(.*)${pattern(behind)}$`).exec(text) ?? []
  return body === undefined ? null : { body: body + closing, parts }
}
