/**
 * Commands with a proof: a fixed word or PIN, or a counter with a keyed hash over counter and command. The proof stands
 * behind the command, in the way of its dialect. Only commands and scenes carry one; questions are free.
 */
import { FRESH, hmacSha256, open, sign, type ReplayWindow } from '../bytes/signing'
import type { Link } from '../design/schema'
import { bytesHex, bytesText, endOf, framed, hexBytes, textBytes, unframed, bodyOf } from '../design/wire'

/** Word, PIN or key as text. Keys are taken as their UTF-8 bytes. */
export type Secret = string

/** Stands for the secret wherever none is at hand: bench, try-box, and stand-ins before one is set. It protects nothing. */
export function practiceSecret(link: Link): Secret {
  return link.auth.kind === 'pin' ? '0123456789'.repeat(2).slice(0, link.auth.digits) : `practice-${link.id}`
}

export interface Sealer { secret: Secret, counter: number }

/** The body of a code with its proof. `counter` counts from 1; fixed words do not look at it. */
export function sealedBody(link: Link, code: string, { secret, counter }: Sealer): string {
  const body = bodyOf(link, code, 'command')
  const { auth } = link
  if (auth.kind === 'none' || body === '') return body
  if (auth.kind !== 'counter') return withWord(link, body, secret)
  const key = keyBytes(secret)
  const scheme = { tagBytes: auth.tagBytes, window: auth.window }
  if (link.kind !== 'http' && link.dialect.kind === 'packed') return framed(link.dialect, concat(hexBytes(code), tailOf(sign(scheme, key, counter, hexBytes(code)), hexBytes(code).length)))
  const tag = bytesHex(sign(scheme, key, counter, textBytes(body)).slice(-auth.tagBytes))
  if (link.kind === 'http') return `${body}?n=${counter}&tag=${tag}`
  return link.dialect.kind === 'json' ? `${body.slice(0, -1)},"n":${counter},"tag":"${tag}"}` : `${body} ${counter}.${tag}`
}

export function sealedText(link: Link, code: string, sealer: Sealer): string {
  const body = sealedBody(link, code, sealer)
  return body === '' ? '' : body + endOf(link)
}

/** A command as long as it can get: with the practice secret and a counter of ten digits. For bytes and times. */
export function longestText(link: Link, code: string): string {
  return sealedText(link, code, { secret: practiceSecret(link), counter: 0xFFFFFFFF })
}

export type Unsealed = { ok: true, body: string, window: ReplayWindow } | { ok: false, why: string }

/** The bare body of a command that proves itself, and what was taken by then. */
export function unsealed(link: Link, secret: Secret, window: ReplayWindow, text: string): Unsealed {
  const { auth } = link
  if (auth.kind === 'none') return { ok: true, body: text, window }
  if (auth.kind !== 'counter') {
    const body = withoutWord(link, text, secret)
    return body === null ? { ok: false, why: 'the word is missing or wrong' } : { ok: true, body, window }
  }
  const parts = splitProof(link, text)
  if (!parts) return { ok: false, why: 'it carries no counter and tag' }
  const opened = open({ tagBytes: auth.tagBytes, window: auth.window }, keyBytes(secret), window, concat(counterBytes(parts.counter), parts.signed, parts.tag))
  return opened.ok ? { ok: true, body: parts.body, window: opened.window } : opened
}

/** The bare command of a text with a proof, whoever made it: for showing what crossed. null where none stands there. */
export function bareOf(link: Link, text: string): string | null {
  if (link.auth.kind === 'none') return null
  if (link.auth.kind === 'counter') return splitProof(link, text)?.body ?? null
  const json = link.kind !== 'http' && link.dialect.kind === 'json'
  const [, start] = (link.kind === 'http' ? /^(.*)\?key=[^?]*$/ : json ? /^(.*),"key":"[^"]*"\}$/ : /^(.*) \S+$/).exec(text) ?? []
  return start === undefined ? null : json ? `${start}}` : start
}

/** Bytes that a proof adds to the longest command. */
export function proofBytes(link: Link): number {
  const { auth } = link
  switch (auth.kind) {
    case 'none': return 0
    case 'word': return LONGEST_WORD + WORD_AROUND
    case 'pin': return auth.digits + WORD_AROUND
    // A counter of ten digits, a tag in hexadecimal, and what stands around them; structures are stuffed besides.
    case 'counter': return link.kind !== 'http' && link.dialect.kind === 'packed' ? 2 * (4 + auth.tagBytes) : 10 + 2 * auth.tagBytes + 16
  }
}
export const LONGEST_WORD = 40
const WORD_AROUND = 10

export { FRESH, type ReplayWindow }

function withWord(link: Link, body: string, word: Secret): string {
  if (link.kind === 'http') return `${body}?key=${word}`
  const text = bytesText(new TextEncoder().encode(word))
  return link.dialect.kind === 'json' ? `${body.slice(0, -1)},"key":"${text}"}` : `${body} ${text}`
}

function withoutWord(link: Link, text: string, word: Secret): string | null {
  const proof = withWord(link, '}', word).slice(link.kind !== 'http' && link.dialect.kind === 'json' ? 0 : 1)
  if (!text.endsWith(proof)) return null
  return text.slice(0, -proof.length) + (link.kind !== 'http' && link.dialect.kind === 'json' ? '}' : '')
}

interface Proof { body: string, signed: Uint8Array, counter: number, tag: Uint8Array }

function splitProof(link: Link, text: string): Proof | null {
  const { auth } = link
  if (auth.kind !== 'counter') return null
  if (link.kind !== 'http' && link.dialect.kind === 'packed') {
    const payload = unframed(link.dialect, text)
    const at = payload ? payload.length - 4 - auth.tagBytes : 0
    if (!payload || at <= 0) return null
    const bare = payload.slice(0, at)
    return { body: framed(link.dialect, bare), signed: bare, counter: new DataView(payload.buffer, payload.byteOffset + at, 4).getUint32(0), tag: payload.slice(at + 4) }
  }
  const shape = link.kind === 'http' ? /^(.*)\?n=(\d{1,10})&tag=([0-9A-F]+)$/ : link.dialect.kind === 'json' ? /^(.*),"n":(\d{1,10}),"tag":"([0-9A-F]+)"\}$/ : /^(.*) (\d{1,10})\.([0-9A-F]+)$/
  const [, start, counter, tag] = shape.exec(text) ?? []
  if (start === undefined || counter === undefined || tag === undefined || tag.length !== 2 * auth.tagBytes || Number(counter) > 0xFFFFFFFF) return null
  const body = link.kind !== 'http' && link.dialect.kind === 'json' ? `${start}}` : start
  return { body, signed: textBytes(body), counter: Number(counter), tag: hexBytes(tag) }
}

function keyBytes(secret: Secret): Uint8Array { return new TextEncoder().encode(secret) }

/** What `sign` puts around the code, put behind it: counter and tag. */
function tailOf(signed: Uint8Array, codeLength: number): Uint8Array {
  return concat(signed.slice(0, 4), signed.slice(4 + codeLength))
}

function counterBytes(counter: number): Uint8Array {
  const bytes = new Uint8Array(4)
  new DataView(bytes.buffer).setUint32(0, counter)
  return bytes
}

function concat(...parts: Uint8Array[]): Uint8Array {
  return Uint8Array.from(parts.flatMap(p => [...p]))
}

/** HMAC-SHA-256 of a text with a secret, for sheets and vectors. */
export function tagOf(secret: Secret, counter: number, body: string, tagBytes: number): string {
  return bytesHex(hmacSha256(keyBytes(secret), concat(counterBytes(counter), textBytes(body))).slice(0, tagBytes))
}
