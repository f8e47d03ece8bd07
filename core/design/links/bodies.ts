/**
 * Requests whose parameters stand in a body: as a form (URL Standard, x-www-form-urlencoded) or as
 * a JSON object. The table writes them as a route with parameters, "/set?pin=5&value=1", in either
 * case; their order is kept, for a proof covers it.
 */
import type { HttpLink } from '../schema'

export interface Request {
  path: string
  method: string
  headers?: Record<string, string>
  body?: string
}

const TYPES = { form: 'application/x-www-form-urlencoded', json: 'application/json' } as const

/** A route as it is asked for. */
export function requestOf(
  { bodies }: Pick<HttpLink, 'bodies'>,
  method: string,
  route: string,
): Request {
  const [path = '', asked] = route.split('?')
  // A page leaves out what says nothing.
  if (method !== 'POST' || !bodies || bodies === 'none' || asked === undefined)
    return { path: route, method }
  return {
    path,
    method,
    headers: { 'content-type': TYPES[bodies] },
    body: bodies === 'form' ? asked : jsonOf(asked),
  }
}

/** {"pin":5,"value":"on"}: digits without a leading zero are numbers. */
function jsonOf(asked: string): string {
  const members = asked.split('&').map(p => {
    const at = p.indexOf('=')
    const value = p.slice(at + 1)
    const bare = /^(0|[1-9]\d{0,14})$/.test(value)
    return `"${p.slice(0, at)}":${bare ? value : `"${value}"`}`
  })
  return `{${members.join()}}`
}

/** Whether a media type is one of those. */
export function holdsParameters(type: string): boolean {
  return Object.values(TYPES).some(t => type.startsWith(t))
}

/**
 * The route of a request with a body, parameters behind it as the table has them; null where it is
 * none of those.
 */
export function routeWith(path: string, type: string, body: string): string | null {
  if (type.startsWith(TYPES.form)) return body === '' ? path : `${path}${joint(path)}${body}`
  const asked = type.startsWith(TYPES.json) ? flatObject(body) : null
  if (asked === null) return null
  return asked.length ? `${path}${joint(path)}${asked.join('&')}` : path
}

/**
 * The members of a JSON object as "name=value", in their order: texts without other escapes than of
 * quote, backslash and slash, whole numbers as they are written, true and false. It is what a board
 * reads; null for anything else.
 */
function flatObject(text: string): string[] | null {
  const members: string[] = []
  let rest = /^[ \t\r\n]*\{[ \t\r\n]*(.*)\}[ \t\r\n]*$/s.exec(text)?.[1]
  if (rest === undefined) return null
  while (rest !== '') {
    const [whole, name, words, bare] = MEMBER.exec(rest) ?? []
    if (whole === undefined || name === undefined) return null
    members.push(`${plain(name)}=${words === undefined ? (bare ?? '') : plain(words)}`)
    rest = rest.slice(whole.length)
    if (rest === '') break
    const comma = /^,[ \t\r\n]*(?=")/.exec(rest)
    if (!comma) return null
    rest = rest.slice(comma[0].length)
  }
  return members
}
const WORDS = String.raw`"((?:[^"\\\0-\x1f]|\\["\\/])*)"`
const SPACE = String.raw`[ \t\r\n]*`
const MEMBER = new RegExp(
  `^${WORDS}${SPACE}:${SPACE}(?:${WORDS}|(-?(?:0|[1-9]\\d*)|true|false))${SPACE}`,
)
const plain = (words: string) => words.replace(/\\(.)/gs, '$1')

function joint(path: string): string {
  return path.includes('?') ? '&' : '?'
}
