/**
 * What may stand behind a command, by the way a link speaks: more of a route, further members of a
 * JSON object, further words of a line. Proofs and times are put there and taken off again.
 * Structures have fields of their own for it, short codes no room.
 */
import type { Link } from '../design/schema'

/** A text for each way; or, to take it off, the source of a pattern with a group for each part. */
export interface Behind {
  route: string
  members: string
  words: string
}

/** A body with something behind it, as its dialect writes that. */
export function putBehind(link: Link, body: string, { route, members, words }: Behind): string {
  // What comes second in an address is one more parameter.
  if (link.kind === 'http') return body + (body.includes('?') ? route.replace('?', '&') : route)
  return link.dialect.kind === 'json' ? `${body.slice(0, -1)},${members}}` : `${body} ${words}`
}

/** The bare command and the parts behind it; null where the pattern does not fit. */
export function takeBehind(
  link: Link,
  text: string,
  { route, members, words }: Behind,
): { body: string; parts: string[] } | null {
  const json = link.kind !== 'http' && link.dialect.kind === 'json'
  const [, body, ...parts] =
    new RegExp(
      `^(.*)${link.kind === 'http' ? route.replace('\\?', '[?&]') : json ? `,${members}\\}` : ` ${words}`}$`,
    ).exec(text) ?? []
  return body === undefined ? null : { body: json ? `${body}}` : body, parts }
}
