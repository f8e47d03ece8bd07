/**
 * What bytes are made of: checks, frames, structures. Published vectors, second implementations,
 * compilers.
 */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { bytesToHex, hexToBytes, utf8ToBytes } from '@noble/hashes/utils.js'
import fc from 'fast-check'
import { afterAll, describe, expect, it } from 'vitest'
import { crc, crcBytes, crcNamed, CRCS, type CrcParameters } from '../../../../core/bytes/crc'
import {
  cobs,
  Deframer,
  frame,
  MAX_FRAME,
  uncobs,
  type Framing,
  type Unframed,
} from '../../../../core/bytes/framing'
import {
  BadStructure,
  cHeader,
  disagreement,
  FIELD_TYPES,
  layout,
  pack,
  tightOrder,
  unpack,
  type FieldType,
  type Structure,
} from '../../../../core/bytes/structure'
import { canRun, has, run } from '../../../fixtures/tools'

/** Bit by bit, as the definition reads, in big whole numbers. */
function plainCrc(
  { bits, polynomial, init, reflected, xorOut }: CrcParameters,
  bytes: Uint8Array,
): number {
  const width = BigInt(bits)
  const mask = (1n << width) - 1n
  const turned = (value: bigint, n: number) =>
    BigInt(`0b${value.toString(2).padStart(n, '0').split('').reverse().join('')}`)
  let r = BigInt(init)
  for (const byte of bytes) {
    const read = reflected ? turned(BigInt(byte), 8) : BigInt(byte)
    for (let i = 7n; i >= 0n; i--) {
      const bit = ((r >> (width - 1n)) & 1n) ^ ((read >> i) & 1n)
      r = ((r << 1n) & mask) ^ (bit ? BigInt(polynomial) : 0n)
    }
  }
  return Number((reflected ? turned(r, bits) : r) ^ BigInt(xorOut))
}

describe('CRC', () => {
  it.each(CRCS.map(c => [c.name, c] as const))('%s: published check value', (_, parameters) => {
    expect(crc(parameters, utf8ToBytes('123456789'))).toBe(parameters.check)
  })
  it('any bytes: as the bit by bit definition', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...CRCS),
        fc.uint8Array({ maxLength: 40 }),
        (parameters, bytes) => {
          expect(crc(parameters, bytes)).toBe(plainCrc(parameters, bytes))
        },
      ),
      { numRuns: 300 },
    )
  })
  it('one, two or three wrong bits are found within the stated length', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...CRCS),
        fc.uint8Array({ minLength: 1, maxLength: 13 }),
        fc.uniqueArray(fc.nat({ max: 103 }), { minLength: 1, maxLength: 3 }),
        (parameters, bytes, flips) => {
          const wrong = Uint8Array.from(bytes)
          const within = flips.filter(f => f < bytes.length * 8)
          fc.pre(within.length > 0)
          for (const f of within) wrong[f >> 3]! ^= 1 << (f & 7)
          expect(crc(parameters, wrong)).not.toBe(crc(parameters, bytes))
        },
      ),
      { numRuns: 500 },
    )
  })
  it('bytes least significant first', () =>
    expect(bytesToHex(crcBytes(crcNamed('CRC-32/ISO-HDLC'), utf8ToBytes('123456789')))).toBe(
      '2639f4cb',
    ))
})

const FRAMINGS: [string, Framing][] = [
  ['slip', { kind: 'slip' }],
  ['cobs', { kind: 'cobs' }],
  ['length', { kind: 'length' }],
  ['line', { kind: 'terminated', terminator: [13, 10] }],
]
const feed = (deframer: Deframer, bytes: Uint8Array): Unframed[] =>
  [...bytes].flatMap(b => deframer.push(b) ?? [])

describe('frames', () => {
  it.each([
    // Worked by hand after RFC 1055: END c0 becomes db dc, ESC db becomes db dd.
    ['slip', { kind: 'slip' }, '01c002db03', '01dbdc02dbdd03c0'],
    // The examples of the published algorithm.
    ['cobs, a zero', { kind: 'cobs' }, '00', '010100'],
    ['cobs, two zeros', { kind: 'cobs' }, '0000', '01010100'],
    ['cobs, zeros around', { kind: 'cobs' }, '00110000', '010211010100'],
    ['cobs, a zero inside', { kind: 'cobs' }, '11220033', '031122023300'],
    ['cobs, none', { kind: 'cobs' }, '11223344', '051122334400'],
    ['cobs, zeros after', { kind: 'cobs' }, '11000000', '02110101010 0'.replace(' ', '')],
    ['length', { kind: 'length' }, 'aabb', '02aabb'],
  ] as [string, Framing, string, string][])('%s: %#', (_, framing, payload, wire) => {
    expect(bytesToHex(frame(framing, hexToBytes(payload)))).toBe(wire)
  })
  it('cobs: blocks of 254 and 255 bytes', () => {
    const rising = (from: number, to: number) =>
      Uint8Array.from({ length: to - from + 1 }, (_, i) => (from + i) & 0xff)
    const hex = (b: Uint8Array) => bytesToHex(b)
    expect(hex(cobs(rising(1, 254)))).toBe(`ff${hex(rising(1, 254))}`)
    expect(hex(cobs(rising(0, 254)))).toBe(`01ff${hex(rising(1, 254))}`)
    expect(hex(cobs(rising(1, 255)))).toBe(`ff${hex(rising(1, 254))}02ff`)
    expect(hex(cobs(rising(2, 256)))).toBe(`ff${hex(rising(2, 255))}0101`)
    expect(hex(cobs(rising(3, 257)))).toBe(`fe${hex(rising(3, 255))}0201`)
  })
  it.each(FRAMINGS)('%s: payloads come back, in order', (name, framing) => {
    const payload = fc
      .uint8Array({ minLength: 1, maxLength: 250 })
      .map(p => (name === 'line' ? p.map(b => (b === 13 ? 14 : b)) : p))
    fc.assert(
      fc.property(fc.array(payload, { maxLength: 5 }), payloads => {
        const wire = payloads.flatMap(p => [...frame(framing, p)])
        expect(feed(new Deframer(framing), Uint8Array.from(wire))).toEqual(
          payloads.map(p => ({ kind: 'frame', payload: p })),
        )
      }),
      { numRuns: 200 },
    )
  })
  it('cobs holds no zero and comes back, at any length', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.uint8Array({ maxLength: 700 }),
          fc.array(fc.constantFrom(0, 1, 255), { maxLength: 700 }).map(a => Uint8Array.from(a)),
          fc.integer({ min: 250, max: 515 }).map(n => new Uint8Array(n).fill(7)),
        ),
        payload => {
          const stuffed = cobs(payload)
          expect(stuffed.includes(0)).toBe(false)
          expect(stuffed.length).toBeLessThanOrEqual(
            payload.length + 1 + Math.floor(payload.length / 254),
          )
          expect(uncobs(stuffed)).toEqual(payload)
        },
      ),
      { numRuns: 400 },
    )
  })
  it.each(FRAMINGS)(
    '%s: a million random bytes, and then a frame is read again',
    (name, framing) => {
      const deframer = new Deframer(framing)
      let x = 12345
      for (let i = 0; i < 1_000_000; i++) {
        x = (Math.imul(x, 1_664_525) + 1_013_904_223) >>> 0
        deframer.push(x >>> 24)
      }
      expect(deframer.pending.length).toBeLessThanOrEqual(MAX_FRAME)
      // What is half read is ended first: by an end, or by as many bytes as a counted frame can
      // still want.
      const flush =
        name === 'length' ? new Uint8Array(300).fill(0) : frame(framing, Uint8Array.of(1))
      feed(deframer, flush)
      const heard = feed(deframer, frame(framing, Uint8Array.of(65, 66)))
      expect(heard.at(-1)).toEqual({ kind: 'frame', payload: Uint8Array.of(65, 66) })
    },
  )
  it('a frame that does not fit is refused, on both sides', () => {
    expect(() => frame({ kind: 'length' }, new Uint8Array(256))).toThrow('1 to 255')
    const heard = feed(
      new Deframer({ kind: 'slip' }),
      frame({ kind: 'slip' }, new Uint8Array(300).fill(1)),
    )
    expect(heard.map(h => (h.kind === 'lost' ? h.why : h.kind))).toEqual(['longer than 256 bytes'])
  })
})

const field = (name: string, type: FieldType) => ({ name, type })
const anyStructure: fc.Arbitrary<Structure> = fc.record({
  fields: fc
    .array(fc.constantFrom(...(Object.keys(FIELD_TYPES) as FieldType[])), {
      minLength: 1,
      maxLength: 8,
    })
    .map(types => types.map((t, i) => field(`f${i}`, t))),
  endian: fc.constantFrom('little' as const, 'big' as const),
  packed: fc.boolean(),
})

describe('structures', () => {
  // A byte, a 32-bit counter, a byte: 6 bytes packed; a 32-bit compiler puts 3 before the counter
  // and 3 after the last.
  const hidden: Structure = {
    fields: [field('load', 'u8'), field('counter', 'u32'), field('value', 'u8')],
    endian: 'little',
    packed: false,
  }
  it('hidden padding by hand', () => {
    expect(layout(hidden, false).size).toBe(6)
    expect(layout(hidden, true)).toMatchObject({ size: 12, padding: 6, paddingAfter: 3 })
    expect(layout(hidden, true).placed.map(p => [p.offset, p.paddingBefore])).toEqual([
      [0, 0],
      [4, 3],
      [8, 0],
    ])
    expect(disagreement(hidden)).toEqual({ field: 'counter', eightBit: 1, thirtyTwoBit: 4 })
    expect(disagreement({ ...hidden, packed: true })).toBeNull()
    // Largest first: nothing between, two bytes after, so only the size differs.
    expect(disagreement({ ...hidden, fields: tightOrder(hidden.fields) })).toEqual({
      field: null,
      eightBit: 6,
      thirtyTwoBit: 8,
    })
  })
  it('bytes by hand', () => {
    const s: Structure = {
      fields: [field('a', 'u16'), field('b', 'i8'), field('c', 'f32')],
      endian: 'little',
      packed: true,
    }
    expect(bytesToHex(pack(s, { a: 0x1234, b: -2, c: 1 }))).toBe('3412fe0000803f')
    expect(bytesToHex(pack({ ...s, endian: 'big' }, { a: 0x1234, b: -2, c: 1 }))).toBe(
      '1234fe3f800000',
    )
  })
  it('values come back from every structure, either compiler', () => {
    fc.assert(
      fc.property(
        anyStructure,
        fc.boolean(),
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 8, maxLength: 8 }),
        (structure, aligns, shares) => {
          const values = Object.fromEntries(
            structure.fields.map((f, i) => {
              const { min, max } = FIELD_TYPES[f.type]
              const share = shares[i] as number
              return [
                f.name,
                f.type === 'f32'
                  ? Math.fround(share * 1000)
                  : Math.floor(min + share * (max - min)),
              ]
            }),
          )
          expect(unpack(structure, pack(structure, values, aligns), aligns)).toEqual(values)
          expect(
            unpack(structure, new Uint8Array(layout(structure, aligns).size + 1), aligns),
          ).toBeNull()
        },
      ),
      { numRuns: 200 },
    )
  })
  it('a value that does not fit is refused by name', () => {
    expect(() => pack(hidden, { load: 256, counter: 0, value: 0 })).toThrow(BadStructure)
    expect(() => pack(hidden, { load: 1, counter: 0 })).toThrow('value has no value')
    expect(() => pack(hidden, { load: 1.5, counter: 0, value: 0 })).toThrow(
      'whole numbers from 0 to 255',
    )
  })

  const can = canRun('Asking compilers for the layout of structures', {
    'g++': has('g++'),
    'avr-gcc': has('avr-gcc'),
  })
  const folder = mkdtempSync(join(tmpdir(), 'nolvi-struct-'))
  afterAll(() => rmSync(folder, { recursive: true, force: true }))
  it.skipIf(!can)(
    'compilers lay them out as told: 32-bit alignment here, none on the 8-bit board',
    () => {
      const structures = fc.sample(anyStructure, { numRuns: 40, seed: 3 })
      for (const aligns of [true, false]) {
        const source = structures
          .map((s, i) =>
            [
              cHeader(`s${i}`, s).replace(/#ifdef __cplusplus[\s\S]*?#endif\n/, ''),
              `_Static_assert(sizeof(s${i}_t) == ${layout(s, aligns).size}, "size");`,
              ...layout(s, aligns).placed.map(
                p =>
                  `_Static_assert(__builtin_offsetof(s${i}_t, ${p.field.name}) == ${p.offset}, "offset");`,
              ),
            ].join('\n'),
          )
          .join('\n')
        const file = join(folder, 'layout.c')
        writeFileSync(file, source)
        run(aligns ? 'gcc' : 'avr-gcc', [
          '-std=gnu11',
          '-Wall',
          '-Werror',
          '-c',
          file,
          '-o',
          join(folder, 'layout.o'),
        ])
      }
    },
  )
  it.skipIf(!can)(
    'what the header writes are the bytes of the message, and it reads them back, whichever end they begin at',
    () => {
      const structures = fc.sample(
        fc.tuple(
          anyStructure,
          fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 8, maxLength: 8 }),
        ),
        { numRuns: 25, seed: 9 },
      )
      const body = structures.map(([s, shares], i) => {
        const values = Object.fromEntries(
          s.fields.map((f, n) => {
            const { min, max } = FIELD_TYPES[f.type]
            return [
              f.name,
              f.type === 'f32'
                ? Math.fround((shares[n % 8] ?? 0) * 1000)
                : Math.floor(min + (shares[n % 8] ?? 0) * (max - min)),
            ]
          }),
        )
        const bytes = [...pack(s, values, true)]
        const sets = s.fields
          .map(
            f =>
              `x.${f.name} = ${f.type === 'f32' ? `${(values[f.name] as number).toExponential(12)}f` : `(${FIELD_TYPES[f.type].c})(${values[f.name]}LL)`};`,
          )
          .join(' ')
        const same = s.fields.map(f => `x.${f.name} == y.${f.name}`).join(' && ')
        return `{ s${i}_t x, y; uint8_t b[sizeof x], e[] = { ${bytes.join(', ')} }; memset(b, 255, sizeof b); ${sets} s${i}_put(b, &x); if (sizeof e != sizeof b || memcmp(b, e, sizeof e)) return ${2 * i + 1}; s${i}_get(&y, e); if (!(${same})) return ${2 * i + 2}; }`
      })
      const file = join(folder, 'carry.c')
      writeFileSync(
        file,
        [
          ...structures.map(([s], i) => cHeader(`s${i}`, s)),
          'int main(void) {',
          ...body,
          'return 0; }',
        ].join('\n'),
      )
      run('gcc', ['-std=gnu11', '-Wall', '-Werror', file, '-o', join(folder, 'carry')])
      run(join(folder, 'carry'), [])
    },
  )
  it.skipIf(!can)('the header of a packed structure compiles on both, in C and C++', () => {
    writeFileSync(
      join(folder, 'knob.h'),
      cHeader('knob', {
        ...hidden,
        packed: true,
        fields: [{ name: 'state', type: 'u8', flags: ['on', 'stale'] }, ...hidden.fields],
      }),
    )
    writeFileSync(
      join(folder, 'use.c'),
      '#include "knob.h"\nint main(void) { knob_t k = { STATE_ON | STATE_STALE, 1, 2, 3 }; return k.state == 3 ? 0 : 1; }\n',
    )
    for (const compiler of ['gcc', 'avr-gcc'])
      run(compiler, [
        '-std=gnu11',
        '-Wall',
        '-Werror',
        '-c',
        join(folder, 'use.c'),
        '-o',
        join(folder, 'use.o'),
      ])
    run('g++', [
      '-std=gnu++11',
      '-Wall',
      '-Werror',
      '-x',
      'c++',
      '-c',
      join(folder, 'use.c'),
      '-o',
      join(folder, 'use.o'),
    ])
  })
})
