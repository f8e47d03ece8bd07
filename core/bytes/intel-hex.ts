/**
 * Intel HEX (Intel, Hexadecimal Object File Format Specification, 1988): lines of a colon, a count,
 * an address of 16 bits, a type, data, and a checksum that makes the sum of all bytes zero.
 */
export interface HexImage {
  /** From address 0 to the last byte that is given; what is not given is 0xff. */
  bytes: Uint8Array
}
export type HexRead = { ok: true; image: HexImage } | { ok: false; line: number; why: string }

const DATA = 0
const END = 1
/** Types that move the place to which addresses count: by paragraphs of 16 bytes, by 64 kB. */
const SEGMENT = 2
const LINEAR = 4
/** Where a program starts: of no matter to a chip that starts at 0. */
const STARTS = [3, 5]
const MOST_BYTES = 1 << 20

/** The image that a text holds; what is wrong names its line, counted from 1. */
export function readHex(text: string): HexRead {
  const bytes: number[] = []
  let base = 0
  const lines = text.split(/\r?\n/)
  for (const [i, given] of lines.entries()) {
    const line = given.trim()
    if (line === '') continue
    const wrong = (why: string): HexRead => ({ ok: false, line: i + 1, why })
    const record = recordIn(line)
    if (typeof record === 'string') return wrong(record)
    const { address, type, data } = record
    if (type === END) return { ok: true, image: { bytes: Uint8Array.from(filled(bytes)) } }
    if (type === SEGMENT) base = data.reduce((sum, b) => sum * 256 + b, 0) * 16
    else if (type === LINEAR) base = data.reduce((sum, b) => sum * 256 + b, 0) * 65_536
    else if (type === DATA) {
      if (base + address + data.length > MOST_BYTES) return wrong('an address beyond 1 MB')
      data.forEach((b, n) => {
        bytes[base + address + n] = b
      })
    } else if (!STARTS.includes(type)) return wrong(`a record of type ${type}`)
  }
  return { ok: false, line: lines.length, why: 'the end is missing: the file was cut short' }
}

function recordIn(line: string): { address: number; type: number; data: number[] } | string {
  if (!/^:(?:[\da-f]{2}){5,}$/i.test(line)) return 'no line of Intel HEX'
  const all = (line.slice(1).match(/../g) ?? []).map(pair => Number.parseInt(pair, 16))
  const [count = 0, high = 0, low = 0, type = 0] = all
  if (all.length !== count + 5) return `it says ${count} bytes and holds ${all.length - 5}`
  if (all.reduce((sum, b) => sum + b, 0) % 256 !== 0) return 'its checksum is wrong'
  return { address: high * 256 + low, type, data: all.slice(4, -1) }
}

function filled(bytes: readonly number[]): number[] {
  return Array.from(bytes, b => b ?? 0xff)
}

const A_LINE = 16

/** Bytes from address 0 on, up to 64 kB, as Intel HEX. */
export function writeHex(bytes: Uint8Array): string {
  const lines: string[] = []
  for (let at = 0; at < bytes.length; at += A_LINE) {
    const data = [...bytes.slice(at, at + A_LINE)]
    lines.push(recordText([data.length, at >> 8, at & 0xff, DATA, ...data]))
  }
  return [...lines, recordText([0, 0, 0, END]), ''].join('\n')
}

function recordText(bytes: readonly number[]): string {
  const sum = bytes.reduce((all, b) => all + b, 0)
  const hex = [...bytes, -sum & 0xff].map(b => b.toString(16).padStart(2, '0').toUpperCase())
  return `:${hex.join('')}`
}
