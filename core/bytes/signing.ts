/**
 * Signed commands: a code with a counter and a keyed hash (HMAC-SHA-256, RFC 2104 and FIPS 198-1), cut to `tagBytes`. The
 * receiver takes a counter once, and only within a window; a recorded command does nothing when it is played again.
 */
import { hmac } from '@noble/hashes/hmac.js'
import { sha256 } from '@noble/hashes/sha2.js'
import { concatBytes } from '@noble/hashes/utils.js'

export interface SigningScheme {
  /** Bytes of the tag that are sent, 4 to 32. */
  tagBytes: number
  /** Counters that may come late, 0 = strictly rising. At most 32. */
  window: number
}

export function hmacSha256(key: Uint8Array, message: Uint8Array): Uint8Array {
  return hmac(sha256, key, message)
}

/** counter (4 bytes, most significant first), code, tag over both. */
export function sign(scheme: SigningScheme, key: Uint8Array, counter: number, code: Uint8Array): Uint8Array {
  const signed = concatBytes(counterBytes(counter), code)
  return concatBytes(signed, hmacSha256(key, signed).slice(0, scheme.tagBytes))
}

/** What a receiver keeps: the highest counter, and which of those before it were taken (bit i: highest - i). */
export interface ReplayWindow { highest: number, taken: number }
export const FRESH: ReplayWindow = { highest: 0, taken: 0 }

export type Opened = { ok: true, code: Uint8Array, counter: number, window: ReplayWindow } | { ok: false, why: string }

/** Nothing changes where it is refused. */
export function open(scheme: SigningScheme, key: Uint8Array, window: ReplayWindow, datagram: Uint8Array): Opened {
  if (datagram.length < 4 + scheme.tagBytes + 1) return { ok: false, why: 'too short to hold a counter, a code and a tag' }
  const signed = datagram.slice(0, -scheme.tagBytes)
  if (!sameBytes(hmacSha256(key, signed).slice(0, scheme.tagBytes), datagram.slice(-scheme.tagBytes))) return { ok: false, why: 'the tag does not fit: another key, or changed on its way' }
  const counter = new DataView(signed.buffer, signed.byteOffset, 4).getUint32(0)
  const behind = window.highest - counter
  if (counter === 0) return { ok: false, why: 'counters start at 1' }
  if (behind >= 0 && (behind > scheme.window || (window.taken >>> behind & 1) === 1)) return { ok: false, why: behind > scheme.window ? 'its counter is too old' : 'its counter was taken before: played again' }
  const next = behind >= 0
    ? { highest: window.highest, taken: (window.taken | 1 << behind) >>> 0 }
    : { highest: counter, taken: ((-behind > 31 ? 0 : window.taken << -behind) | 1) >>> 0 }
  return { ok: true, code: signed.slice(4), counter, window: next }
}

/** Four bytes, most significant first. */
export function counterBytes(counter: number): Uint8Array {
  if (!Number.isInteger(counter) || counter < 1 || counter > 0xFFFFFFFF) throw new RangeError('a counter is a whole number from 1 to 4,294,967,295')
  const bytes = new Uint8Array(4)
  new DataView(bytes.buffer).setUint32(0, counter)
  return bytes
}

/** Takes as long for a wrong tag as for a right one. */
function sameBytes(a: Uint8Array, b: Uint8Array): boolean {
  let differs = a.length ^ b.length
  for (let i = 0; i < a.length; i++) differs |= (a[i] as number) ^ (b[i] ?? 0)
  return differs === 0
}

/** Years until somebody who may try `perSecond` times a second has guessed a tag with a chance of one in two. */
export function guessingYears(tagBytes: number, perSecond: number): number {
  return 2 ** (8 * tagBytes - 1) / perSecond / (365.25 * 86_400)
}
