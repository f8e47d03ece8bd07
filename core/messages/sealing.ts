/**
 * Commands with a proof: a fixed word or PIN, or a counter with a keyed hash over counter and
 * command. The proof stands behind the command, in the way of its dialect. Only commands and scenes
 * carry one; questions are free.
 */
import { concatBytes } from '@noble/hashes/utils.js'
import {
  counterAt,
  counterBytes,
  deviceOf,
  firstCounter,
  FRESH,
  open,
  openAnswer,
  drawnNumber,
  openTimed,
  sign,
  type ReplayWindow,
} from '../bytes/signing'
import type { Link } from '../design/schema'
import { endOf, bodyOf } from '../design/wire'
import { bytesHex, hexBytes, textBytes } from '../bytes/text'
import { framed, unframed } from '../design/dialects/packed'
import { wireRow } from '../design/dialects/rows'
import { putBehind, takeBehind } from './dialects/behind'
import type { Behind } from './dialects/facet'
import { markOf, speechOf } from './dialects/rows'
import { isAnswered, isSigned, structureOn } from '../design/links/traits'

/** Word, PIN or key as text. Keys are taken as their UTF-8 bytes. */
export type Secret = string

/**
 * Stands for the secret wherever none is at hand: bench, try-box, and stand-ins before one is set.
 * It protects nothing.
 */
export function practiceSecret(link: Link): Secret {
  return link.auth.kind === 'pin'
    ? '0123456789'.repeat(2).slice(0, link.auth.digits)
    : `practice-${link.id}`
}

/** The time of day at the start of a bench, s since 1970: an autumn evening. */
export const PRACTICE_TIME_S = 1_795_896_000

/** What a sender counts with next: a counter goes on, a time is that of its clock or above. */
export function nextCount({ auth }: Link, last: number, clockS: number): number {
  if (auth.kind === 'counter') return last + 1
  // A sender that was given no number yet says one that is nobody's, and is told.
  if (isAnswered(auth)) return last || 1
  if (auth.kind !== 'time') return last
  return auth.once ? Math.max(clockS, last + 1) : clockS
}

/** A count for examples. */
export function exampleCount(link: Link): number {
  const { auth } = link
  if (isAnswered(auth)) return drawn(practiceSecret(link), '', { starts: 1, link: 0, drawn: 1 })
  return auth.kind === 'time' ? PRACTICE_TIME_S : 1
}

/** The number that a board asks to be signed; see `drawnNumber`. */
export function drawn(secret: Secret, salt: string, at: Parameters<typeof drawnNumber>[2]): number {
  return drawnNumber(keyBytes(secret), salt, at)
}

export interface Sealer {
  secret: Secret
  counter: number
}

/**
 * The body of a code with its proof. `counter` counts from 1, or is the time, s since 1970; fixed
 * words do not look at it.
 */
export function sealedBody(link: Link, code: string, { secret, counter }: Sealer): string {
  const body = bodyOf(link, code, 'command')
  const { auth } = link
  if (auth.kind === 'none' || body === '') return body
  if (!isSigned(auth))
    return putBehind(link, body, {
      route: `?key=${secret}`,
      members: `"key":"${secret}"`,
      words: secret,
    })
  const structure = structureOn(link)
  if (structure) {
    const bare = hexBytes(code)
    return framed(
      structure,
      concatBytes(bare, counterBytes(counter), tag(secret, counter, bare, auth.tagBytes)),
    )
  }
  const hex = tagOf(secret, counter, body, auth.tagBytes)
  return putBehind(link, body, {
    route: `?n=${counter}&tag=${hex}`,
    members: `"n":${counter},"tag":"${hex}"`,
    words: `${counter}.${hex}`,
  })
}

/** A code as it goes over the wire: signed or with its word, and its end; "" where it has none. */
export function sealedText(link: Link, code: string, sealer: Sealer): string {
  const body = sealedBody(link, code, sealer)
  return body === '' ? '' : body + endOf(link)
}

/**
 * A command as long as it can get: with the practice secret and a counter of ten digits. For bytes
 * and times.
 */
export function longestText(link: Link, code: string): string {
  return sealedText(link, code, { secret: practiceSecret(link), counter: 0xffffffff })
}

export type Unsealed =
  | { ok: true; body: string; window: ReplayWindow }
  | { ok: false; why: string; told?: number; asks?: true }

/**
 * The bare body of a command that proves itself, and what was taken by then. `handed`: the number
 * that was handed out and is still good.
 */
export function unsealed(
  link: Link,
  secret: Secret,
  window: ReplayWindow,
  text: string,
  clockS = PRACTICE_TIME_S,
  handed: number | null = null,
): Unsealed {
  const { auth } = link
  if (auth.kind === 'none') return { ok: true, body: text, window }
  if (!isSigned(auth)) {
    const taken = takeBehind(link, text, WORD)
    return taken?.parts[0] === secret
      ? { ok: true, body: taken.body, window }
      : { ok: false, why: 'the word is missing or wrong' }
  }
  const parts = splitSignature(link, text)
  if (!parts) return { ok: false, why: `it carries no ${SIGNED_BY[auth.kind]} and tag` }
  const datagram = concatBytes(counterBytes(parts.counter), parts.signed, parts.tag)
  if (isAnswered(auth)) {
    const answer = openAnswer(auth, keyBytes(secret), handed, datagram)
    return answer.ok ? { ok: true, body: parts.body, window } : answer
  }
  const opened =
    auth.kind === 'time'
      ? openTimed(auth, keyBytes(secret), window, datagram, clockS)
      : open(auth, keyBytes(secret), window, datagram)
  return opened.ok ? { ok: true, body: parts.body, window: opened.window } : opened
}

/**
 * The bare command of a text with a proof, whoever made it: for showing what crossed. null where
 * none stands there.
 */
export function bareOf(link: Link, text: string): string | null {
  if (link.auth.kind === 'none') return null
  return (
    (isSigned(link.auth) ? splitSignature(link, text) : takeBehind(link, text, WORD))?.body ?? null
  )
}

/** Bytes that a proof adds to the longest command. */
export function signatureBytes(link: Link): number {
  const { auth } = link
  const structure = structureOn(link)
  switch (auth.kind) {
    case 'none':
      return 0
    case 'word':
      return LONGEST_WORD + WORD_AROUND
    case 'pin':
      return auth.digits + WORD_AROUND
    // A counter of ten digits, a tag in hexadecimal, and what stands around them; structures are
    // stuffed besides.
    case 'counter':
    case 'time':
    case 'challenge':
      return structure
        ? 2 * (4 + auth.tagBytes) + wireRow(structure).checks(structure)
        : 10 + 2 * auth.tagBytes + 16
  }
}
export const LONGEST_WORD = 40
/** What stands beside the tag of a signed command. */
const SIGNED_BY = { counter: 'counter', time: 'time', challenge: 'number' } as const
const WORD_AROUND = 10

/**
 * How a refusal tells the counter that was taken last: behind the reason over HTTP, as a message of
 * its own elsewhere. "" where a dialect has no words. No load can be called so.
 */
export function toldCounter(link: Link, counter: number): string {
  return speechOf(link).counter(markOf(link), counter)
}

/** The counter that a refusal tells; null where it is none. */
export function counterIn(link: Link, body: string): number | null {
  if (!isSigned(link.auth)) return null
  const mark = markOf(link)
  const [, told] =
    speechOf(link).counterPattern.exec(body.startsWith(mark) ? body.slice(mark.length) : '') ?? []
  return told === undefined || Number(told) > 0xffffffff ? null : Number(told)
}

export { deviceOf, firstCounter, FRESH, type ReplayWindow }

const WORD: Behind = { route: '\\?key=([^?&]*)', members: '"key":"([^"]*)"', words: '(\\S+)' }
const SIGNATURE: Behind = {
  route: '\\?n=(\\d{1,10})&tag=([0-9A-F]+)',
  members: '"n":(\\d{1,10}),"tag":"([0-9A-F]+)"',
  words: '(\\d{1,10})\\.([0-9A-F]+)',
}

interface Proof {
  body: string
  signed: Uint8Array
  counter: number
  tag: Uint8Array
}

function splitSignature(link: Link, text: string): Proof | null {
  const { auth } = link
  if (!isSigned(auth)) return null
  const structure = structureOn(link)
  if (structure) {
    const payload = unframed(structure, text)
    const at = payload ? payload.length - 4 - auth.tagBytes : 0
    if (!payload || at <= 0) return null
    const bare = payload.slice(0, at)
    const counter = counterAt(payload, at)
    return isCount(counter)
      ? { body: framed(structure, bare), signed: bare, counter, tag: payload.slice(at + 4) }
      : null
  }
  const taken = takeBehind(link, text, SIGNATURE)
  const [counter = '', tag = ''] = taken?.parts ?? []
  if (!taken || tag.length !== 2 * auth.tagBytes || !isCount(Number(counter))) return null
  return {
    body: taken.body,
    signed: textBytes(taken.body),
    counter: Number(counter),
    tag: hexBytes(tag),
  }
}

/** Nothing counts from 0, and four bytes hold no more. */
function isCount(number: number): boolean {
  return number >= 1 && number <= 0xffffffff
}

function keyBytes(secret: Secret): Uint8Array {
  return new TextEncoder().encode(secret)
}

function tag(secret: Secret, counter: number, signed: Uint8Array, tagBytes: number): Uint8Array {
  return sign({ tagBytes, window: 0 }, keyBytes(secret), counter, signed).slice(-tagBytes)
}

/** The tag of a command in hexadecimal. */
export function tagOf(secret: Secret, counter: number, body: string, tagBytes: number): string {
  return bytesHex(tag(secret, counter, textBytes(body), tagBytes))
}
