/**
 * Where one message ends and the next begins on a byte stream. Encoders take a payload of bytes;
 * decoders take one byte at a time and never throw: what is no frame is given back as lost, and the
 * next frame start is found again.
 */
export type Framing =
  /** Until one of these bytes; the payload must not hold it. */
  | { kind: 'terminated'; terminator: readonly number[] }
  /** RFC 1055: END at the end, END and ESC inside are escaped. */
  | { kind: 'slip' }
  /**
   * Consistent-overhead byte stuffing (Cheshire and Baker 1999): no zero inside, zero at the end.
   */
  | { kind: 'cobs' }
  /** One byte of length before the payload, 1 to 255. */
  | { kind: 'length' }

export const SLIP = { END: 0xc0, ESC: 0xdb, ESC_END: 0xdc, ESC_ESC: 0xdd } as const
/** What stands for bytes that have a meaning of their own (RFC 1055). */
const STUFFED: ReadonlyMap<number, readonly number[]> = new Map([
  [SLIP.END, [SLIP.ESC, SLIP.ESC_END]],
  [SLIP.ESC, [SLIP.ESC, SLIP.ESC_ESC]],
])

/** A payload in its frame: with an end, SLIP (RFC 1055), COBS, or behind its length. */
export function frame(framing: Framing, payload: Uint8Array): Uint8Array {
  switch (framing.kind) {
    case 'terminated':
      return Uint8Array.from([...payload, ...framing.terminator])
    case 'slip':
      return Uint8Array.from([...[...payload].flatMap(b => STUFFED.get(b) ?? [b]), SLIP.END])
    case 'cobs':
      return Uint8Array.from([...cobs(payload), 0])
    case 'length':
      if (payload.length < 1 || payload.length > 255)
        throw new RangeError(`a frame of ${payload.length} bytes; 1 to 255 fit one byte of length`)
      return Uint8Array.from([payload.length, ...payload])
  }
}

/** Each zero is replaced by the distance to the next one; no zero is left. */
export function cobs(payload: Uint8Array): Uint8Array {
  const out: number[] = [0]
  let codeAt = 0
  let code = 1
  payload.forEach((byte, i) => {
    if (byte !== 0) {
      out.push(byte)
      code++
    }
    if (byte !== 0 && code < 255) return
    out[codeAt] = code
    code = 1
    codeAt = out.length
    // A full block at the very end needs no empty one after it.
    if (byte === 0 || i < payload.length - 1) out.push(0)
  })
  if (codeAt < out.length) out[codeAt] = code
  return Uint8Array.from(out)
}

/** The payload, or null where the bytes are no such code. */
export function uncobs(stuffed: Uint8Array): Uint8Array | null {
  const out: number[] = []
  for (let i = 0; i < stuffed.length;) {
    const code = stuffed[i] as number
    if (code === 0 || i + code > stuffed.length) return null
    for (let j = 1; j < code; j++) out.push(stuffed[i + j] as number)
    i += code
    if (code < 255 && i < stuffed.length) out.push(0)
  }
  return Uint8Array.from(out)
}

export type Unframed =
  { kind: 'frame'; payload: Uint8Array } | { kind: 'lost'; bytes: Uint8Array; why: string }

/**
 * Longest frame that a decoder keeps; more is given up, as on a board with a buffer of this size.
 */
export const MAX_FRAME = 256

/** Reads frames out of a stream, byte by byte. */
export class Deframer {
  private held: number[] = []
  private tooLong = false
  constructor(
    private readonly framing: Framing,
    private readonly limit = MAX_FRAME,
  ) {}

  /** Bytes that wait for the rest of their frame. */
  get pending(): Uint8Array {
    return Uint8Array.from(this.held)
  }

  push(byte: number): Unframed | null {
    const { framing } = this
    this.held.push(byte)
    if (framing.kind === 'length') return this.counted()
    if (!this.ended()) {
      if (this.held.length > this.limit) {
        this.tooLong = true
        this.held.shift()
      }
      return null
    }
    const bytes = Uint8Array.from(this.held)
    this.held = []
    if (this.tooLong) {
      this.tooLong = false
      return lost(bytes, `longer than ${this.limit} bytes`)
    }
    return this.payloadOf(bytes)
  }

  private ended(): boolean {
    const { framing, held } = this
    const last = held.at(-1)
    if (framing.kind === 'slip') return last === SLIP.END
    if (framing.kind === 'cobs') return last === 0
    if (framing.kind !== 'terminated') return false
    const { terminator } = framing
    return terminator.every((b, i) => held[held.length - terminator.length + i] === b)
  }

  private counted(): Unframed | null {
    const length = this.held[0] as number
    if (length === 0) {
      this.held = []
      return lost(Uint8Array.of(0), 'no frame is 0 bytes long')
    }
    if (this.held.length <= length) return null
    const payload = Uint8Array.from(this.held.slice(1))
    this.held = []
    return { kind: 'frame', payload }
  }

  private payloadOf(bytes: Uint8Array): Unframed | null {
    const { framing } = this
    if (framing.kind === 'terminated') {
      const payload = bytes.slice(0, -framing.terminator.length)
      return payload.length ? { kind: 'frame', payload } : null
    }
    const inside = bytes.slice(0, -1)
    // An empty frame is a line that was idle, or the end that a careful sender puts first.
    if (inside.length === 0) return null
    if (framing.kind === 'cobs') {
      const payload = uncobs(inside)
      return payload ? { kind: 'frame', payload } : lost(bytes, 'not stuffed as agreed')
    }
    const payload: number[] = []
    for (let i = 0; i < inside.length; i++) {
      const byte = inside[i] as number
      if (byte !== SLIP.ESC) payload.push(byte)
      else {
        const next = inside[++i]
        if (next !== SLIP.ESC_END && next !== SLIP.ESC_ESC)
          return lost(bytes, 'an escape that means nothing')
        payload.push(next === SLIP.ESC_END ? SLIP.END : SLIP.ESC)
      }
    }
    return { kind: 'frame', payload: Uint8Array.from(payload) }
  }
}

function lost(bytes: Uint8Array, why: string): Unframed {
  return { kind: 'lost', bytes, why }
}
