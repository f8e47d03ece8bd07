/** Structures in frames as the engine reads them (engine/structures.h, `FrameAt` in rows.h). */
import { CRCS, mirrored } from '../../bytes/crc'
import { FIELD_TYPES } from '../../bytes/structure'
import { bytesText } from '../../bytes/text'
import { packedWire, payloadSaid, placeOf, type PackedDialect } from '../../design/dialects/packed'
import type { Direction } from '../../design/dialects/facet'
import { isSigned, structureOn } from '../../design/links/traits'
import type { Link } from '../../design/schema'

const FRAMES = { none: 0, length: 1, slip: 2, cobs: 3 } as const
const TYPES = Object.keys(FIELD_TYPES).filter(type => type !== 'f32')

/** Whether numbers or proofs stand in the structures of a link; else all are looked up whole. */
export function framesOn(link: Link, numbers: number): boolean {
  return structureOn(link) !== null && (numbers > 0 || isSigned(link.auth))
}

/** `check`: bits, whether reflected, polynomial, start value, final exclusive-or. */
export function frameRow(dialect: PackedDialect) {
  const at = placeOf(dialect, 'value')
  return {
    kind: FRAMES[dialect.framing],
    number: at?.offset ?? 0,
    type: at ? TYPES.indexOf(at.field.type) : 0,
    little: Number(dialect.endian === 'little'),
    check: checkRow(dialect.crc),
  }
}

/** Mirrored where it is reflected, else at the upper end of 32 bits, as it is counted with. */
function checkRow(name: string): [number, number, number, number, number] {
  const crc = CRCS.find(c => c.name === name)
  if (!crc) return [0, 0, 0, 0, 0]
  const { bits, reflected, polynomial, init, xorOut } = crc
  const placed = (number: number) =>
    reflected ? mirrored(number, bits) : number * 2 ** (32 - bits)
  return [bits, Number(reflected), placed(polynomial), placed(init), xorOut]
}

/**
 * The structure of a code with a place for a number, as it is said with nought in it: whatever a
 * code holds beside its fields is none of it.
 */
export function agreedIn(dialect: PackedDialect, code: string, direction: Direction): string {
  return bytesText(payloadSaid(dialect, packedWire.put(dialect, code, 0), direction))
}
