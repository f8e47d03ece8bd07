/**
 * Bytes of a table, most significant first: rows that are filled later, and texts and lists beside
 * them that are kept once.
 */
import { textBytes } from '../../bytes/text'

export class TooLarge extends Error {}

const MOST_BYTES = 0xffff

export class TableWriter {
  private readonly bytes: number[] = []
  private readonly kept = new Map<string, number>()
  /** What stands where, in words. */
  readonly notes = new Map<number, string>()

  /** Where the next byte stands. */
  get at(): number {
    return this.bytes.length
  }

  /** The table so far. */
  done(): Uint8Array {
    if (this.bytes.length > MOST_BYTES)
      throw new TooLarge(`the table is ${this.bytes.length} bytes, more than ${MOST_BYTES}`)
    return Uint8Array.from(this.bytes)
  }

  /** Room for so many bytes, to be filled; returns where it is. */
  room(size: number): number {
    const { at } = this
    for (let i = 0; i < size; i++) this.bytes.push(0)
    return at
  }

  /** Fills `size` bytes with a whole number, signed or not. */
  put(at: number, size: 1 | 2 | 4, value: number): void {
    const least = size === 4 ? -(2 ** 31) : -(2 ** (8 * size - 1))
    if (!Number.isInteger(value) || value < least || value >= 2 ** (8 * size))
      throw new TooLarge(`${value} does not fit ${size} bytes`)
    for (let i = 0; i < size; i++) this.bytes[at + i] = (value >>> (8 * (size - 1 - i))) & 0xff
  }

  /** Fills rows one after another from `at`; a part is a size and a value. */
  fill(at: number, parts: readonly (readonly [1 | 2 | 4, number])[]): void {
    let place = at
    for (const [size, value] of parts) {
      this.put(place, size, value)
      place += size
    }
  }

  /**
   * Appends parts; returns where they stand. Equal lists stand once. `note`: what they are, in
   * words.
   */
  list(parts: readonly (readonly [1 | 2 | 4, number])[], note = ''): number {
    if (!parts.length) return 0
    return this.once(JSON.stringify(parts), () => {
      const at = this.room(parts.reduce((sum, [size]) => sum + size, 0))
      if (note) this.notes.set(at, note)
      this.fill(at, parts)
      return at
    })
  }

  /** A text with its length before it; 0 for none. Equal texts stand once. */
  text(text: string): number {
    if (text === '') return 0
    if (text.length > 255) throw new TooLarge(`a text of ${text.length} characters`)
    return this.once(`"${text}`, () => {
      const at = this.room(1 + text.length)
      this.notes.set(at, JSON.stringify(text))
      this.put(at, 1, text.length)
      textBytes(text).forEach((byte, i) => this.put(at + 1 + i, 1, byte))
      return at
    })
  }

  /** Numbers of eight bytes (IEEE 754). */
  reals(values: readonly number[]): number {
    if (!values.length) return 0
    return this.once(`reals ${values.join()}`, () => {
      const at = this.room(8 * values.length)
      const view = new DataView(new ArrayBuffer(8))
      values.forEach((value, i) => {
        view.setFloat64(0, value)
        for (let n = 0; n < 8; n++) this.put(at + 8 * i + n, 1, view.getUint8(n))
      })
      return at
    })
  }

  private once(key: string, write: () => number): number {
    const known = this.kept.get(key)
    if (known !== undefined) return known
    const at = write()
    this.kept.set(key, at)
    return at
  }
}
