/**
 * Signed commands: a code with a counter and a keyed hash (HMAC-SHA-256, RFC 2104 and FIPS 198-1),
 * cut to `tagBytes`. The receiver takes a counter once, and only within a window; a recorded
 * command does nothing when it is played again. A counter is 32 bits: two for the device that
 * counts, thirty for its count. Each device counts by itself, so that several may share a key;
 * which of the four a page is it draws by lot, and where two drew the same the refusal that tells
 * the count puts them right.
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

/** HMAC with SHA-256 (RFC 2104, FIPS 180-4), 32 bytes. */
export function hmacSha256(key: Uint8Array, message: Uint8Array): Uint8Array {
  return hmac(sha256, key, message)
}

/** counter (4 bytes, most significant first), code, tag over both. */
export function sign(
  scheme: SigningScheme,
  key: Uint8Array,
  counter: number,
  code: Uint8Array,
): Uint8Array {
  const signed = concatBytes(counterBytes(counter), code)
  return concatBytes(signed, hmacSha256(key, signed).slice(0, scheme.tagBytes))
}

export const DEVICES = 4
const COUNT_BITS = 30
const COUNTS = 2 ** COUNT_BITS
/**
 * A count that is further ahead than this is refused: one command may not use up the counts of all
 * that follow.
 */
export const MOST_AHEAD = 4096

/** The device that a counter belongs to: its upper half. */
export function deviceOf(counter: number): number {
  return Math.floor(counter / COUNTS)
}
/** The counter from which a device counts on, before its first command. */
export function firstCounter(device: number): number {
  return device * COUNTS
}

/**
 * What a receiver keeps of a device: its highest count, and which of those before it were taken
 * (bit i: highest - i).
 */
export interface DeviceWindow {
  highest: number
  taken: number
}
export type ReplayWindow = readonly DeviceWindow[]
export const FRESH: ReplayWindow = Array.from({ length: DEVICES }, () => ({ highest: 0, taken: 0 }))

/**
 * `told`: a command that proves itself but for its count is told the counter that was taken last,
 * so that its sender can go on from there. `asks`: it is to be told the number that it has to sign.
 */
export type Opened = { ok: true; code: Uint8Array; counter: number; window: ReplayWindow } | Shut
interface Shut {
  ok: false
  why: string
  told?: number
  asks?: true
}

/** Nothing changes where it is refused. */
export function open(
  scheme: SigningScheme,
  key: Uint8Array,
  window: ReplayWindow,
  datagram: Uint8Array,
): Opened {
  if (datagram.length < 4 + scheme.tagBytes + 1)
    return { ok: false, why: 'too short to hold a counter, a code and a tag' }
  const signed = provedBy(key, datagram, scheme.tagBytes)
  if (!signed) return WRONG_TAG
  const counter = counterAt(signed)
  const device = deviceOf(counter)
  const count = counter - firstCounter(device)
  const before = window[device] as DeviceWindow
  const { highest } = before
  const behind = highest - count
  const told = firstCounter(device) + highest
  if (count === 0) return { ok: false, why: 'counters start at 1' }
  if (behind > scheme.window) return { ok: false, why: 'its counter is too old', told }
  if (wasTaken(before, count))
    return { ok: false, why: 'its counter was taken before: played again', told }
  if (-behind > MOST_AHEAD) return { ok: false, why: 'its counter is too far ahead', told }
  return {
    ok: true,
    code: signed.slice(4),
    counter,
    window: window.with(device, withTaken(before, count)),
  }
}

/**
 * A command that is signed with the time of day, s since 1970, in place of a counter. `clockS`:
 * what the receiver takes it for. With `once` a time that was taken is refused, and told the
 * newest, so that its sender goes on above it.
 */
export function openTimed(
  scheme: { tagBytes: number; toleranceS: number; once: boolean },
  key: Uint8Array,
  window: ReplayWindow,
  datagram: Uint8Array,
  clockS: number,
): Opened {
  const signed = provedBy(key, datagram, scheme.tagBytes)
  if (!signed) return WRONG_TAG
  const time = counterAt(signed)
  const off = time - clockS
  if (Math.abs(off) > scheme.toleranceS)
    return { ok: false, why: `its time is ${Math.abs(off)} s ${off < 0 ? 'behind' : 'ahead'}` }
  const opened = { ok: true as const, code: signed.slice(4), counter: time, window }
  if (!scheme.once) return opened
  const before = window[0] as DeviceWindow
  if (before.highest - time > MARKS || wasTaken(before, time))
    return { ok: false, why: 'its time was taken before: played again', told: before.highest }
  return { ...opened, window: window.with(0, withTaken(before, time)) }
}

/**
 * A command that is signed with a number which the receiver handed out: `handed`, null where none
 * is good. `asks`: its sender has to be given one.
 */
export function openAnswer(
  scheme: { tagBytes: number },
  key: Uint8Array,
  handed: number | null,
  datagram: Uint8Array,
): Shut | { ok: true } {
  // Looked at before the tag: a small board is spared the hash.
  if (handed === null || counterAt(datagram) !== handed)
    return { ok: false, why: 'it does not answer what the board asks now', asks: true }
  return provedBy(key, datagram, scheme.tagBytes) ? { ok: true } : WRONG_TAG
}

/**
 * The number that a receiver asks its senders to sign: the first four bytes of HMAC-SHA-256 over
 * what never comes twice (starts of the board, link, numbers drawn since the start), so that nobody
 * without the key knows the next one, and a board needs no source of chance.
 */
export function drawnNumber(
  key: Uint8Array,
  salt: string,
  { starts, link, drawn }: { starts: number; link: number; drawn: number },
): number {
  const told = new TextEncoder().encode(`${salt}${starts}.${link}.${drawn}`)
  // 0 is no count, and 1 is said by a sender that was given none.
  return Math.max(2, counterAt(hmacSha256(key, told)))
}

/** Four bytes, most significant first. */
export function counterBytes(counter: number): Uint8Array {
  if (!Number.isInteger(counter) || counter < 1 || counter > 0xffffffff)
    throw new RangeError('a counter is a whole number from 1 to 4,294,967,295')
  const bytes = new Uint8Array(4)
  new DataView(bytes.buffer).setUint32(0, counter)
  return bytes
}

/** The number that four bytes hold, most significant first: the reverse of `counterBytes`. */
export function counterAt(bytes: Uint8Array, at = 0): number {
  return new DataView(bytes.buffer, bytes.byteOffset + at, 4).getUint32(0)
}

const WRONG_TAG: Shut = {
  ok: false,
  why: 'the tag does not fit: another key, or changed on its way',
}

/** What a datagram says before its tag; null where the tag does not fit. */
function provedBy(key: Uint8Array, datagram: Uint8Array, tagBytes: number): Uint8Array | null {
  const signed = datagram.slice(0, -tagBytes)
  const tag = hmacSha256(key, signed).slice(0, tagBytes)
  return sameBytes(tag, datagram.slice(-tagBytes)) ? signed : null
}

/** Counts behind the highest that are told apart. */
const MARKS = 31

function wasTaken({ highest, taken }: DeviceWindow, count: number): boolean {
  const behind = highest - count
  return behind >= 0 && ((taken >>> behind) & 1) === 1
}

/** The same with a count marked as taken. */
function withTaken({ highest, taken }: DeviceWindow, count: number): DeviceWindow {
  const behind = highest - count
  if (behind >= 0) return { highest, taken: (taken | (1 << behind)) >>> 0 }
  return { highest: count, taken: ((-behind > MARKS ? 0 : taken << -behind) | 1) >>> 0 }
}

/** Takes as long for a wrong tag as for a right one. */
function sameBytes(a: Uint8Array, b: Uint8Array): boolean {
  let differs = a.length ^ b.length
  for (let i = 0; i < a.length; i++) differs |= (a[i] as number) ^ (b[i] ?? 0)
  return differs === 0
}

/**
 * Years until somebody who may try `perSecond` times a second has guessed a tag with a chance of
 * one in two.
 */
export function guessingYears(tagBytes: number, perSecond: number): number {
  return 2 ** (8 * tagBytes - 1) / perSecond / (365.25 * 86_400)
}
