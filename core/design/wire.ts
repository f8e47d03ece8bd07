/**
 * From the codes of the table to what crosses the wire, and back. On serial links a text holds one
 * character a byte (0 to 255); UTF-8 is bytes by then. A *body* is a message without its end; codes
 * without ends follow one another.
 */
import { crcBytes, crcNamed, CRCS } from '../bytes/crc'
import { Deframer, frame, SLIP } from '../bytes/framing'
import { BadStructure, FIELD_TYPES, layout, pack, type Structure } from '../bytes/structure'
import { parseTemplate, visible } from '../bytes/template'
import { isDatagram } from './links'
import type { ByteLink, Design, Link } from './schema'
import { valuesOf } from './values'

export type Dialect = ByteLink['dialect']
export type PackedDialect = Extract<Dialect, { kind: 'packed' }>
export type Direction = 'command' | 'report'

/** How messages of each dialect look. */
export const DIALECT_WORDS: Record<Dialect['kind'], string> = {
  codes: 'codes follow one another without separators',
  lines: 'lines of text',
  pairs: 'lines of load=value',
  json: 'a JSON object a line',
  packed: 'packed structures in frames',
}

const TERMINATORS = { lf: '\n', crlf: '\r\n', cr: '\r', semicolon: ';' } as const
/** What the field that tells the kind of message holds. */
export const KINDS = { command: 1, report: 2, ask: 3 } as const

/**
 * What ends each message of a link; "" where codes or frames of known length follow one another,
 * and on HTTP, where they come whole.
 */
export function endOf(link: Link): string {
  if (link.kind === 'http' || link.dialect.kind === 'codes') return ''
  const { dialect } = link
  if (dialect.kind !== 'packed') return TERMINATORS[dialect.terminator]
  return dialect.framing === 'slip'
    ? String.fromCharCode(SLIP.END)
    : dialect.framing === 'cobs'
      ? '\0'
      : ''
}

/**
 * Whether people can read its messages and each has an end: only then is there room for "who is
 * there" and errors.
 */
export function speaksWords(link: ByteLink): boolean {
  return (
    link.dialect.kind === 'lines' || link.dialect.kind === 'pairs' || link.dialect.kind === 'json'
  )
}

/** The body of a code. An empty code has none. */
export function bodyOf(link: Link, code: string, direction: Direction): string {
  if (link.kind === 'http') return code
  const { dialect } = link
  if (dialect.kind === 'codes') return direction === 'report' ? link.reportMark + code : code
  if (code === '') return ''
  if (dialect.kind !== 'packed')
    return (
      (direction === 'report' ? link.reportMark : '') + bytesText(new TextEncoder().encode(code))
    )
  const payload = hexBytes(code)
  if (direction === 'report') setKind(dialect, payload, KINDS.report)
  return framed(dialect, payload)
}

/** The body with its end. */
export function wireOf(link: Link, code: string, direction: Direction): string {
  const body = bodyOf(link, code, direction)
  return body === '' ? '' : body + endOf(link)
}

/** A message without its end; a text of several messages as it is. */
export function bodyIn(link: Link, text: string): string {
  const end = endOf(link)
  return end !== '' && text.endsWith(end) ? text.slice(0, -end.length) : text
}

/**
 * A text of the wire as people read it: escapes for what cannot be seen, bytes of structures in
 * hexadecimal.
 */
export function shownWire(link: Link, text: string): string {
  if (link.kind === 'http' || link.dialect.kind === 'codes') return text
  if (link.dialect.kind === 'packed') return hexText(text)
  return visible(new TextDecoder().decode(textBytes(text)))
}

/** "05 02 C0" of a text of the wire. */
export function hexText(text: string): string {
  return Array.from(text, c => hexByte(c.charCodeAt(0))).join(' ')
}

function hexByte(byte: number): string {
  return byte.toString(16).toUpperCase().padStart(2, '0')
}

/** Text as bytes, a character each (Latin-1). */
export function textBytes(text: string): Uint8Array {
  return Uint8Array.from(text, c => c.charCodeAt(0))
}

/** Bytes as text, a character each (Latin-1). */
export function bytesText(bytes: Uint8Array): string {
  return Array.from(bytes, b => String.fromCharCode(b)).join('')
}

/** The structure that a packed dialect sends. */
export function structureOf(dialect: PackedDialect): Structure {
  return {
    fields: dialect.fields.map(({ name, type }) => ({ name, type })),
    endian: dialect.endian,
    packed: dialect.packed,
  }
}

/** Hexadecimal of a command for the load of a number and a value; fields that are spare hold 0. */
export function packedCode(
  dialect: PackedDialect,
  load: number,
  value: number,
  kind: number = KINDS.command,
): string {
  const values = Object.fromEntries(
    dialect.fields.map(f => [
      f.name,
      f.is === 'load' ? load : f.is === 'value' ? value : f.is === 'kind' ? kind : 0,
    ]),
  )
  // As a board lays it out that aligns: the sender with the most padding.
  return bytesHex(pack(structureOf(dialect), values, true))
}

/** Bytes of a code of this dialect. */
export function packedSize(dialect: PackedDialect): number {
  return layout(structureOf(dialect), true).size
}

/** What is wrong with a code of a dialect, or "". */
export function codeTrouble(link: Link, code: string): string {
  if (link.kind === 'http' || code === '') return ''
  const { dialect } = link
  switch (dialect.kind) {
    case 'codes':
      return !/^[!-~]*$/.test(code)
        ? 'a code is made of visible ASCII characters without spaces'
        : code.length > 8
          ? 'a code is at most 8 characters long'
          : ''
    case 'packed':
      return /^([0-9A-F]{2})+$/.test(code) && code.length === 2 * packedSize(dialect)
        ? ''
        : `a packed code is ${packedSize(dialect)} bytes in capital hexadecimal`
    default:
      if ([...code].some(c => c < ' ' || c === '\u007F'))
        return 'a line holds no control characters'
      if (dialect.terminator === 'semicolon' && code.includes(';'))
        return 'the end of a line, ;, cannot stand within it'
      return code !== code.trim() ? 'a line neither starts nor ends with a space' : ''
  }
}

/**
 * What is wrong with the dialect of a link and what belongs to it: place within the link, and
 * words.
 */
export function dialectProblems(design: Design, link: ByteLink): [PropertyKey[], string][] {
  const { dialect, reportMark, askCode } = link
  const found: [PropertyKey[], string][] = []
  const ask = codeTrouble(link, askCode)
  if (ask) found.push([['askCode'], ask])
  for (const key of ['helloCode', 'errorText'] as const)
    if (link[key] !== '' && !speaksWords(link))
      found.push([
        [key],
        'this dialect has no room for it; lines of text, load=value and JSON have',
      ])
  if (speaksWords(link)) {
    const hello = codeTrouble(link, link.helloCode)
    if (hello) found.push([['helloCode'], hello])
  }
  for (const [sceneId, code] of Object.entries(link.scenes)) {
    const trouble = codeTrouble(link, code)
    if (trouble) found.push([['scenes', sceneId], trouble])
  }
  if (
    link.auth.kind !== 'none'
    && (dialect.kind === 'codes'
      || (dialect.kind === 'packed'
        && (link.auth.kind !== 'counter'
          || (dialect.framing !== 'slip' && dialect.framing !== 'cobs'))))
  ) {
    found.push([
      ['auth', 'kind'],
      dialect.kind === 'codes'
        ? 'codes that follow one another have no room for a proof; take lines of text, load=value, JSON or structures'
        : 'structures take a counter and a keyed hash, in frames with an end (slip or cobs)',
    ])
  }
  if (dialect.kind === 'packed' && dialect.framing === 'none' && !isDatagram(link))
    found.push([
      ['dialect', 'framing'],
      'on a stream of bytes frames have to be told apart; take slip, cobs or length',
    ])
  if (dialect.kind === 'codes' && reportMark === '')
    found.push([['reportMark'], 'codes without ends need a mark before each report'])
  if ((dialect.kind === 'json' || dialect.kind === 'packed') && reportMark !== '')
    found.push([['reportMark'], 'this dialect takes no report mark'])
  if (dialect.kind === 'lines') {
    const parsed = parseTemplate(dialect.template)
    if (!parsed.ok) found.push([['dialect', 'template'], parsed.message])
  }
  if (dialect.kind !== 'packed') return found
  if (dialect.crc !== '' && !CRCS.some(c => c.name === dialect.crc))
    found.push([
      ['dialect', 'crc'],
      `no CRC "${dialect.crc}"; there are ${CRCS.map(c => c.name).join(', ')}`,
    ])
  const values = link.messages.map(
    m => valuesOf(design.loads.find(l => l.id === m.loadId)?.output ?? NO_OUTPUT).length - 1,
  )
  const trouble = packedTrouble(dialect, Math.max(1, design.loads.length), Math.max(1, ...values))
  if (trouble) found.push([['dialect', 'fields'], trouble])
  const names = dialect.fields.map(f => f.name)
  const twice = names.findIndex((n, i) => names.indexOf(n) !== i)
  if (twice >= 0)
    found.push([['dialect', 'fields', twice, 'name'], `two fields are called ${names[twice]}`])
  return found
}
const NO_OUTPUT = {
  kind: 'switched',
  pin: 0,
  activeLevel: 'low',
  powerUp: 'off',
  saveDelayMs: 0,
  timers: null,
  limits: null,
} as const

/** Why a packed dialect cannot hold numbers up to these, or "". */
export function packedTrouble(dialect: PackedDialect, loads: number, value: number): string {
  for (const is of ['load', 'value'] as const) {
    const times = dialect.fields.filter(f => f.is === is).length
    if (times !== 1) return `one field tells the ${is}; there are ${times}`
  }
  try {
    packedCode(dialect, loads, value)
  } catch (error) {
    if (error instanceof BadStructure) return error.message
    throw error
  }
  return ''
}

/** A payload as it crosses the wire, without its end. */
export function framed(dialect: PackedDialect, payload: Uint8Array): string {
  const whole =
    dialect.crc === ''
      ? payload
      : Uint8Array.from([...payload, ...crcBytes(crcNamed(dialect.crc), payload)])
  const { framing } = dialect
  if (framing === 'none') return bytesText(whole)
  const text = bytesText(frame({ kind: framing }, whole))
  // The last character of a stuffed frame is its end.
  return framing === 'length' ? text : text.slice(0, -1)
}

/** What a frame holds, its check proved; null where it is none. `body`: without the end. */
export function unframed(dialect: PackedDialect, body: string): Uint8Array | null {
  if (dialect.framing !== 'slip' && dialect.framing !== 'cobs') return null
  const deframer = new Deframer({ kind: dialect.framing })
  let whole: Uint8Array | null = null
  for (const byte of [...textBytes(body), dialect.framing === 'slip' ? SLIP.END : 0]) {
    const got = deframer.push(byte)
    if (got) whole = got.kind === 'frame' ? got.payload : null
  }
  if (!whole || dialect.crc === '') return whole
  const crc = crcNamed(dialect.crc)
  const payload = whole.slice(0, -crc.bits / 8)
  return whole.length > crc.bits / 8
    && bytesText(crcBytes(crc, payload)) === bytesText(whole.slice(-crc.bits / 8))
    ? payload
    : null
}

function setKind(dialect: PackedDialect, payload: Uint8Array, kind: number): void {
  const at = dialect.fields.findIndex(f => f.is === 'kind')
  const place = layout(structureOf(dialect), true).placed[at]
  if (place)
    payload[
      place.offset + (dialect.endian === 'little' ? 0 : FIELD_TYPES[place.field.type].bytes - 1)
    ] = kind
}

/** Hexadecimal digits as bytes. */
export function hexBytes(hex: string): Uint8Array {
  return Uint8Array.from(hex.match(/../g) ?? [], h => parseInt(h, 16))
}

/** Bytes as hexadecimal digits. */
export function bytesHex(bytes: Uint8Array): string {
  return Array.from(bytes, hexByte).join('')
}
