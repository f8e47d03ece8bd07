/** Packed structures in frames. Codes are hexadecimal digits of the structure. */
import { crcBytes, crcNamed, CRCS } from '../../bytes/crc'
import { Deframer, frame, SLIP } from '../../bytes/framing'
import {
  BadStructure,
  FIELD_TYPES,
  layout,
  pack,
  unpack,
  type Placed,
  type Structure,
} from '../../bytes/structure'
import { bytesHex, bytesText, hexBytes, hexText, textBytes } from '../../bytes/text'
import { mediumOf } from '../links/media'
import type { ByteLink, Design } from '../schema'
import { NUMBER, numbersOf, valuesOf } from '../values'
import type { DialectFacet, DialectProblem, DialectWire, Direction } from './facet'
import type { DialectOf } from './schema'

export type PackedDialect = DialectOf<'packed'>

/** What the field that tells the kind of message holds. */
export const KINDS = { command: 1, report: 2, ask: 3 } as const

const ENDS: Partial<Record<PackedDialect['framing'], string>> = {
  slip: String.fromCharCode(SLIP.END),
  cobs: '\0',
}

export const packedWire: DialectWire<PackedDialect> = {
  bare: false,
  roomBehind: false,
  readable: false,
  tells: false,
  looseSpaces: false,
  end: ({ framing }) => ENDS[framing] ?? '',
  body(dialect, code, direction) {
    if (code === '') return ''
    return framed(dialect, payloadSaid(dialect, code, direction))
  },
  put(dialect, code, number) {
    const at = numberField(dialect)
    const held = at && unpack(structureOf(dialect), hexBytes(code), true)
    return held ? bytesHex(pack(structureOf(dialect), { ...held, [at.name]: number }, true)) : ''
  },
  number(dialect, place, body) {
    const at = numberField(dialect)
    const [held, said] = [place, body].map(b => {
      const payload = payloadOf(dialect, b)
      return payload && unpack(structureOf(dialect), payload, true)
    })
    if (!at || !held || !said) return null
    const number = said[at.name] as number
    // Whatever else is not as it should be, the check included, makes it another message.
    return framed(dialect, pack(structureOf(dialect), { ...held, [at.name]: number }, true))
      === body
      ? number
      : null
  },
  started(dialect, code) {
    const at = startedField(dialect)
    const held = at && code !== '' && unpack(structureOf(dialect), hexBytes(code), true)
    return held ? bytesHex(pack(structureOf(dialect), { ...held, [at.name]: 1 }, true)) : ''
  },
  checks: ({ crc }) => (CRCS.find(c => c.name === crc)?.bits ?? 0) / 8,
  sized(dialect, place) {
    const at = placeOf(dialect, 'value')?.offset
    if (isStuffed(dialect) || at === undefined) return null
    return {
      head: place.slice(0, at + (dialect.framing === 'length' ? 1 : 0)),
      length: place.length,
    }
  },
}

function startedField({ fields }: PackedDialect): PackedDialect['fields'][number] | undefined {
  return fields.find(f => f.is === 'started')
}

function numberField({ fields }: PackedDialect): PackedDialect['fields'][number] | undefined {
  return fields.find(f => f.is === 'value')
}

/** Where the field stands that holds something. */
export function placeOf(
  dialect: PackedDialect,
  is: PackedDialect['fields'][number]['is'],
): Placed | undefined {
  const { placed } = layout(structureOf(dialect), true)
  return placed[dialect.fields.findIndex(f => f.is === is)]
}

/** What a frame holds, its check not looked at; null where it is none. `body`: without the end. */
function payloadOf(dialect: PackedDialect, body: string): Uint8Array | null {
  if (isStuffed(dialect)) return unframed(dialect, body)
  const whole = textBytes(dialect.framing === 'length' ? body.slice(1) : body)
  return whole.slice(0, packedSize(dialect))
}

export const packed: DialectFacet<PackedDialect> = {
  words: 'packed structures in frames',
  name: 'packed structures',
  short: 'structures',
  marked: false,
  shown: hexText,
  trouble: (dialect, code) =>
    /^([0-9A-F]{2})+$/.test(code) && code.length === 2 * packedSize(dialect)
      ? ''
      : `a packed code is ${packedSize(dialect)} bytes in capital hexadecimal`,
  // A structure has no words to hand out a number with.
  proves: (dialect, auth) =>
    auth.kind === 'none' || ('tagBytes' in auth && isStuffed(dialect) && auth.kind !== 'challenge'),
  problems: (dialect, link, design) => [
    ...onLink(dialect, link),
    ...ofChecks(dialect),
    ...ofFields(dialect, link, design),
  ],
  agreed: ({ framing, crc, endian, packed: tight, fields }) =>
    ` packed ${framing} ${crc} ${endian} ${tight} ${fields.map(f => `${f.name}:${f.type}:${f.is}`).join()}`,
  fresh: {
    kind: 'packed',
    framing: 'cobs',
    crc: 'CRC-8/SMBUS',
    endian: 'little',
    packed: true,
    fields: [
      { name: 'kind', type: 'u8', is: 'kind' },
      { name: 'load', type: 'u8', is: 'load' },
      { name: 'value', type: 'u8', is: 'value' },
    ],
  },
}

/** Whether each frame has an end that cannot stand within it. */
function isStuffed({ framing }: PackedDialect): boolean {
  return framing === 'slip' || framing === 'cobs'
}

function onLink(dialect: PackedDialect, link: ByteLink): DialectProblem[] {
  const found: DialectProblem[] = []
  if (!packed.proves(dialect, link.auth))
    found.push([
      ['auth', 'kind'],
      'structures take a counter or the time and a keyed hash, in frames with an end (slip or cobs)',
    ])
  if (dialect.framing === 'none' && !mediumOf(link).datagrams)
    found.push([
      ['dialect', 'framing'],
      'on a stream of bytes frames have to be told apart; take slip, cobs or length',
    ])
  if (link.reportMark !== '') found.push([['reportMark'], 'this dialect takes no report mark'])
  return found
}

function ofChecks({ crc }: PackedDialect): DialectProblem[] {
  if (crc === '' || CRCS.some(c => c.name === crc)) return []
  return [[['dialect', 'crc'], `no CRC "${crc}"; there are ${CRCS.map(c => c.name).join(', ')}`]]
}

function ofFields(dialect: PackedDialect, link: ByteLink, design: Design): DialectProblem[] {
  const found: DialectProblem[] = []
  // A load that is not there is told elsewhere.
  const values = link.messages.map(m => {
    const load = design.loads.find(l => l.id === m.loadId)
    const numbers = load && NUMBER in m.codes ? numbersOf(load.output) : null
    return numbers?.high ?? (load ? valuesOf(load.output).length - 1 : 1)
  })
  const trouble = packedTrouble(dialect, Math.max(1, design.loads.length), Math.max(1, ...values))
  if (trouble) found.push([['dialect', 'fields'], trouble])
  if (dialect.fields.filter(f => f.is === 'started').length > 1)
    found.push([['dialect', 'fields'], 'one field tells a start; take the others away'])
  const names = dialect.fields.map(f => f.name)
  const twice = names.findIndex((n, i) => names.indexOf(n) !== i)
  if (twice >= 0)
    found.push([['dialect', 'fields', twice, 'name'], `two fields are called ${names[twice]}`])
  return found
}

/** The structure that a packed dialect sends. */
export function structureOf(dialect: PackedDialect): Structure {
  return {
    fields: dialect.fields.map(({ name, type }) => ({ name, type })),
    endian: dialect.endian,
    packed: dialect.packed,
  }
}

/** Hexadecimal of a command for the load of a number and a value; all else holds 0. */
export function packedCode(
  dialect: PackedDialect,
  load: number,
  value: number,
  kind: number = KINDS.command,
): string {
  const held = { load, value, kind, started: 0, spare: 0 }
  const values = Object.fromEntries(dialect.fields.map(f => [f.name, held[f.is]]))
  // As a board lays it out that aligns: the sender with the most padding.
  return bytesHex(pack(structureOf(dialect), values, true))
}

/** Bytes of a code of this dialect. */
function packedSize(dialect: PackedDialect): number {
  return layout(structureOf(dialect), true).size
}

/** Why a packed dialect cannot hold numbers up to these, or "". */
function packedTrouble(dialect: PackedDialect, loads: number, value: number): string {
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

/** The structure of a code as it is said in a direction: reports tell that they are. */
export function payloadSaid(
  dialect: PackedDialect,
  code: string,
  direction: Direction,
): Uint8Array {
  const payload = hexBytes(code)
  const place = direction === 'report' ? placeOf(dialect, 'kind') : undefined
  if (place)
    payload[
      place.offset + (dialect.endian === 'little' ? 0 : FIELD_TYPES[place.field.type].bytes - 1)
    ] = KINDS.report
  return payload
}
