/**
 * Packed structures: fields in order with C types, byte order and packing; where a compiler puts
 * each field, which padding it adds, and the bytes on the wire. A "32-bit compiler" aligns each
 * field to its own size and the whole to the largest, as the ABIs of 32-bit boards do; an 8-bit one
 * aligns nothing.
 */
export const FIELD_TYPES = {
  u8: { bytes: 1, c: 'uint8_t', min: 0, max: 0xff },
  i8: { bytes: 1, c: 'int8_t', min: -0x80, max: 0x7f },
  u16: { bytes: 2, c: 'uint16_t', min: 0, max: 0xffff },
  i16: { bytes: 2, c: 'int16_t', min: -0x8000, max: 0x7fff },
  u32: { bytes: 4, c: 'uint32_t', min: 0, max: 0xffffffff },
  i32: { bytes: 4, c: 'int32_t', min: -0x80000000, max: 0x7fffffff },
  f32: { bytes: 4, c: 'float', min: -3.4028234663852886e38, max: 3.4028234663852886e38 },
} as const
export type FieldType = keyof typeof FIELD_TYPES

export interface StructField {
  name: string
  type: FieldType
  /** Names of single bits, the least significant first; for unsigned types. */
  flags?: readonly string[]
}
export interface Structure {
  fields: readonly StructField[]
  endian: 'little' | 'big'
  /** Packed by attribute: no padding anywhere. */
  packed: boolean
}
export interface Placed {
  field: StructField
  offset: number
  paddingBefore: number
}
export interface Layout {
  placed: Placed[]
  size: number
  paddingAfter: number
  padding: number
}

/** `aligns`: whether the compiler aligns fields to their size. */
export function layout(structure: Structure, aligns: boolean): Layout {
  const alignment = (type: FieldType) => (structure.packed || !aligns ? 1 : FIELD_TYPES[type].bytes)
  let at = 0
  const placed = structure.fields.map(field => {
    const offset = Math.ceil(at / alignment(field.type)) * alignment(field.type)
    const paddingBefore = offset - at
    at = offset + FIELD_TYPES[field.type].bytes
    return { field, offset, paddingBefore }
  })
  const whole = Math.max(1, ...structure.fields.map(f => alignment(f.type)))
  const size = Math.ceil(at / whole) * whole
  return {
    placed,
    size,
    paddingAfter: size - at,
    padding: size - structure.fields.reduce((n, f) => n + FIELD_TYPES[f.type].bytes, 0),
  }
}

/**
 * Where two compilers disagree about the structure: the first field that moves, or the size alone.
 * Null where they agree.
 */
export function disagreement(
  structure: Structure,
): { field: string | null; eightBit: number; thirtyTwoBit: number } | null {
  const small = layout(structure, false)
  const large = layout(structure, true)
  const moved = small.placed.findIndex((p, i) => p.offset !== large.placed[i]?.offset)
  if (moved >= 0)
    return {
      field: structure.fields[moved]?.name ?? null,
      eightBit: small.placed[moved]?.offset ?? 0,
      thirtyTwoBit: large.placed[moved]?.offset ?? 0,
    }
  return small.size === large.size
    ? null
    : { field: null, eightBit: small.size, thirtyTwoBit: large.size }
}

/** An order of the fields, largest first, in which no compiler pads between them. */
export function tightOrder(fields: readonly StructField[]): StructField[] {
  return fields.toSorted((a, b) => FIELD_TYPES[b.type].bytes - FIELD_TYPES[a.type].bytes)
}

export class BadStructure extends Error {}

/**
 * Bytes of the values, padding as zero. A value out of the range of its field is refused by name.
 */
export function pack(
  structure: Structure,
  values: Record<string, number>,
  aligns = false,
): Uint8Array {
  const { placed, size } = layout(structure, aligns)
  const bytes = new Uint8Array(size)
  const view = new DataView(bytes.buffer)
  for (const {
    field: { name, type },
    offset,
  } of placed) {
    const value = values[name]
    const { min, max } = FIELD_TYPES[type]
    if (value === undefined) throw new BadStructure(`${name} has no value`)
    if (
      Number.isNaN(value)
      || value < min
      || value > max
      || (type !== 'f32' && !Number.isInteger(value))
    )
      throw new BadStructure(
        `${name} is ${value}; ${FIELD_TYPES[type].c} takes ${type === 'f32' ? 'a number' : `whole numbers from ${min} to ${max}`}`,
      )
    SET[type](view, offset, value, structure.endian === 'little')
  }
  return bytes
}

/** The values, or null where the length is not that of the structure. */
export function unpack(
  structure: Structure,
  bytes: Uint8Array,
  aligns = false,
): Record<string, number> | null {
  const { placed, size } = layout(structure, aligns)
  if (bytes.length !== size) return null
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length)
  return Object.fromEntries(
    placed.map(({ field, offset }) => [
      field.name,
      GET[field.type](view, offset, structure.endian === 'little'),
    ]),
  )
}

const SET: Record<FieldType, (view: DataView, at: number, value: number, little: boolean) => void> =
  {
    u8: (v, at, x) => v.setUint8(at, x),
    i8: (v, at, x) => v.setInt8(at, x),
    u16: (v, at, x, l) => v.setUint16(at, x, l),
    i16: (v, at, x, l) => v.setInt16(at, x, l),
    u32: (v, at, x, l) => v.setUint32(at, x, l),
    i32: (v, at, x, l) => v.setInt32(at, x, l),
    f32: (v, at, x, l) => v.setFloat32(at, x, l),
  }
const GET: Record<FieldType, (view: DataView, at: number, little: boolean) => number> = {
  u8: (v, at) => v.getUint8(at),
  i8: (v, at) => v.getInt8(at),
  u16: (v, at, l) => v.getUint16(at, l),
  i16: (v, at, l) => v.getInt16(at, l),
  u32: (v, at, l) => v.getUint32(at, l),
  i32: (v, at, l) => v.getInt32(at, l),
  f32: (v, at, l) => v.getFloat32(at, l),
}

/** A C header with the structure, its size asserted at compile time, and names for its flags. */
export function cHeader(name: string, structure: Structure): string {
  const guard = `${name.toUpperCase()}_H`
  const type = `${name}_t`
  const laid = layout(structure, true)
  const { size } = laid
  const flags = structure.fields.flatMap(f =>
    (f.flags ?? []).map(
      (flag, bit) => `#define ${f.name.toUpperCase()}_${flag.toUpperCase()} ${1 << bit}u`,
    ),
  )
  return [
    `#ifndef ${guard}`,
    `#define ${guard}`,
    '#include <stdint.h>',
    '#include <string.h>',
    '',
    `// ${structure.endian === 'little' ? 'Least' : 'Most'} significant byte first${structure.packed ? '; packed, so every compiler lays it out alike' : ''}.`,
    ...flags,
    ...(flags.length ? [''] : []),
    'typedef struct {',
    ...structure.fields.map(f => `  ${FIELD_TYPES[f.type].c} ${f.name};`),
    `}${structure.packed ? ' __attribute__((packed))' : ''} ${type};`,
    '',
    '#ifdef __cplusplus',
    `static_assert(sizeof(${type}) == ${size}, "laid out differently");`,
    '#else',
    `_Static_assert(sizeof(${type}) == ${size}, "laid out differently");`,
    '#endif',
    '',
    ...carriers(name, type, structure, laid),
    '#endif',
    '',
  ].join('\n')
}

/**
 * Functions that write and read the bytes of a message one by one: the same on every processor,
 * whichever end its own numbers begin at. What stands in memory is that only where the processor's
 * order is the stated one.
 */
function carriers(
  name: string,
  type: string,
  { endian }: Structure,
  { placed, size }: Layout,
): string[] {
  const filled = new Set(
    placed.flatMap(({ field, offset }) =>
      Array.from({ length: FIELD_TYPES[field.type].bytes }, (_, i) => offset + i),
    ),
  )
  const gaps = Array.from({ length: size }, (_, i) => i).filter(i => !filled.has(i))
  const shift = (bytes: number, i: number) => 8 * (endian === 'little' ? i : bytes - 1 - i)
  const bytesOf = (f: StructField) => Array.from({ length: FIELD_TYPES[f.type].bytes }, (_, i) => i)
  const wide = (f: StructField) => `uint${8 * FIELD_TYPES[f.type].bytes}_t`
  return [
    `// To and from the bytes on the wire, ${endian === 'little' ? 'least' : 'most'} significant first, on any processor.`,
    `static inline void ${name}_put(uint8_t *to, const ${type} *from) {`,
    ...placed.flatMap(({ field, offset }) => [
      ...(field.type === 'f32'
        ? [`  uint32_t ${field.name};`, `  memcpy(&${field.name}, &from->${field.name}, 4);`]
        : []),
      ...bytesOf(field).map(
        i =>
          `  to[${offset + i}] = (uint8_t)(${field.type === 'f32' ? field.name : `(${wide(field)})from->${field.name}`} >> ${shift(FIELD_TYPES[field.type].bytes, i)});`,
      ),
    ]),
    ...gaps.map(at => `  to[${at}] = 0;`),
    '}',
    '',
    `static inline void ${name}_get(${type} *to, const uint8_t *from) {`,
    ...placed.flatMap(({ field, offset }) => {
      const whole = bytesOf(field)
        .map(
          i =>
            `(${wide(field)})((${wide(field)})from[${offset + i}] << ${shift(FIELD_TYPES[field.type].bytes, i)})`,
        )
        .join(' | ')
      return field.type === 'f32'
        ? [
            `  uint32_t ${field.name} = ${whole};`,
            `  memcpy(&to->${field.name}, &${field.name}, 4);`,
          ]
        : [`  to->${field.name} = (${FIELD_TYPES[field.type].c})(${whole});`]
    }),
    '}',
    '',
  ]
}
