/** Codes in a row, templates of lines, signed commands. */
import { bytesToHex, concatBytes, hexToBytes, utf8ToBytes } from '@noble/hashes/utils.js'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ambiguity } from '../../../../core/messages/decodability'
import {
  firstCounter,
  FRESH,
  guessingYears,
  hmacSha256,
  MOST_AHEAD,
  open,
  sign,
  type ReplayWindow,
} from '../../../../core/bytes/signing'
import {
  fill,
  literal,
  parseTemplate,
  readings,
  unsound,
  visible,
  type Part,
} from '../../../../core/bytes/template'

/**
 * Shortest text with two readings among all of at most `longest` characters, by trying every row of
 * codes.
 */
function plainAmbiguity(codes: readonly string[], longest: number): number | null {
  const readingsOf = new Map<string, Set<string>>()
  const grow = (text: string, reading: string) => {
    for (const code of new Set(codes)) {
      const next = text + code
      if (next.length > longest) continue
      const path = `${reading}|${code}`
      if (readingsOf.get(next)?.has(path)) continue
      readingsOf.set(next, (readingsOf.get(next) ?? new Set()).add(path))
      grow(next, path)
    }
  }
  grow('', '')
  const twice = [...readingsOf].filter(([, set]) => set.size > 1).map(([text]) => text.length)
  return twice.length ? Math.min(...twice) : null
}

describe('codes in a row', () => {
  it.each([
    // Published examples of the test of Sardinas and Patterson. Of the second, 011101110011 is told
    // as ambiguous; 1110 1 1 = 1 1 1 011 is shorter.
    [['a', 'c', 'ad', 'abb', 'bad', 'deb', 'bbcde'], 'abbcdebad'],
    [['1', '011', '01110', '1110', '10011'], '111011'],
    [['0', '01', '11'], null],
    [['0', '10', '11'], null],
    [['1', '10', '0'], '10'],
    [['L', 'l', 'LL'], 'LL'],
  ] as [string[], string | null][])('%s: %s', (codes, text) => {
    const found = ambiguity(codes)
    expect(found?.text ?? null).toBe(text)
    if (found) for (const reading of found.readings) expect(reading.join('')).toBe(text)
  })
  it('against trying every row of codes up to eight characters', () => {
    let both = 0
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.string({ unit: fc.constantFrom('a', 'b'), minLength: 1, maxLength: 4 }), {
          minLength: 1,
          maxLength: 4,
        }),
        codes => {
          const found = ambiguity(codes)
          const shortest = plainAmbiguity(codes, 8)
          if (shortest !== null) both++
          expect(found && found.text.length <= 8 ? found.text.length : null).toBe(shortest)
          if (!found) return
          expect(found.readings[0]).not.toEqual(found.readings[1])
          for (const reading of found.readings) {
            expect(reading.join('')).toBe(found.text)
            expect(reading.every(c => codes.includes(c))).toBe(true)
          }
        },
      ),
      { numRuns: 400 },
    )
    expect(both).toBeGreaterThan(40)
  })
})

const parts = (template: string): Part[] => {
  const parsed = parseTemplate(template)
  if (!parsed.ok) throw new Error(parsed.message)
  return parsed.parts
}

describe('templates', () => {
  it('make lines, with escapes', () => {
    expect(fill(parts('{load} = {value}'), { load: 'fan', value: 'on' })).toBe('fan = on')
    expect(fill(parts('\\{"{load}":"{value}"\\}\\t\\x41\\\\'), { load: 'fan', value: '1' })).toBe(
      '{"fan":"1"}\tA\\',
    )
  })
  it.each([
    ['{load} {valu}', 7, 'a place is'],
    ['{load} {value} \\q', 15, '"\\q" is no escape'],
    ['{load}', 0, '{value} belongs into it once'],
    ['{load} {load} {value}', 0, '{load} belongs into it once; it is there 2 times'],
    ['a } {load}{value}', 2, 'plain brace'],
  ])('%s is refused at %i', (template, at, words) => {
    const parsed = parseTemplate(template)
    expect(parsed).toMatchObject({ ok: false, at })
    expect(!parsed.ok && parsed.message).toContain(words)
  })
  it('a line that can be read in two ways is found, and a sign between mends it', () => {
    const words = new Map([
      ['fan', ['1', '12']],
      ['fan1', ['2']],
    ])
    expect(unsound(parts('{load}{value}'), words)).toEqual({
      line: 'fan12',
      readings: [
        { load: 'fan', value: '12' },
        { load: 'fan1', value: '2' },
      ],
    })
    expect(unsound(parts('{load} {value}'), words)).toBeNull()
  })
  it('sound exactly where every line has one reading', () => {
    const word = fc.string({ unit: fc.constantFrom('a', 'b', ' '), minLength: 1, maxLength: 3 })
    fc.assert(
      fc.property(
        fc.uniqueArray(word, { minLength: 1, maxLength: 4 }),
        fc.uniqueArray(word, { minLength: 1, maxLength: 3 }),
        fc.constantFrom('{load}{value}', '{value}{load}', '{load} {value}', '{load}={value}'),
        (loads, values, template) => {
          const words = new Map(loads.map(l => [l, values]))
          const p = parts(template)
          const two = loads.some(load =>
            values.some(value => readings(p, words, fill(p, { load, value })).length > 1),
          )
          expect(unsound(p, words) !== null).toBe(two)
        },
      ),
    )
  })
  it('what cannot be seen is written as escapes, and read again', () => {
    expect(visible('a\r\n\u0001\\é')).toBe('a\\r\\n\\x01\\\\é')
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 20 }), text => {
        expect(literal(visible(text))).toEqual({ ok: true, text })
      }),
    )
    expect(literal('a\\q')).toMatchObject({ ok: false, at: 1 })
  })
})

describe('signed commands', () => {
  it.each([
    // RFC 4231, test cases 1 to 4, 6 and 7.
    [
      '0b'.repeat(20),
      bytesToHex(utf8ToBytes('Hi There')),
      'b0344c61d8db38535ca8afceaf0bf12b881dc200c9833da726e9376c2e32cff7',
    ],
    [
      bytesToHex(utf8ToBytes('Jefe')),
      bytesToHex(utf8ToBytes('what do ya want for nothing?')),
      '5bdcc146bf60754e6a042426089575c75a003f089d2739839dec58b964ec3843',
    ],
    [
      'aa'.repeat(20),
      'dd'.repeat(50),
      '773ea91e36800e46854db8ebd09181a72959098b3ef8c122d9635514ced565fe',
    ],
    [
      '0102030405060708090a0b0c0d0e0f10111213141516171819',
      'cd'.repeat(50),
      '82558a389a443c0ea4cc819899f2083a85f0faa3e578f8077a2e3ff46729665b',
    ],
    [
      'aa'.repeat(131),
      bytesToHex(utf8ToBytes('Test Using Larger Than Block-Size Key - Hash Key First')),
      '60e431591ee0b67f0d8a26aacbf5b77f8e0bc6213728c5140546040f0ee37f54',
    ],
    [
      'aa'.repeat(131),
      bytesToHex(
        utf8ToBytes(
          'This is a test using a larger than block-size key and a larger than block-size data. The key needs to be hashed before being used by the HMAC algorithm.',
        ),
      ),
      '9b09ffa71b942fcb27635fbcd5b0e944bfdc63644f0713938a7f51535c3a35e2',
    ],
  ])('RFC 4231: %#', (key, data, expected) =>
    expect(bytesToHex(hmacSha256(hexToBytes(key), hexToBytes(data)))).toBe(expected),
  )

  const key = utf8ToBytes('only for this test')
  const scheme = { tagBytes: 8, window: 4 }
  it('a recorded command does nothing when it is played again; late ones within the window act once', () => {
    let window: ReplayWindow = FRESH
    const take = (counter: number) => {
      const opened = open(scheme, key, window, sign(scheme, key, counter, utf8ToBytes('U')))
      if (opened.ok) window = opened.window
      return opened.ok ? 'acts' : opened.why
    }
    expect([1, 1, 3, 2, 2, 10, 6, 5, 6, 100].map(take)).toEqual([
      'acts',
      'its counter was taken before: played again',
      'acts',
      'acts',
      'its counter was taken before: played again',
      'acts',
      'acts',
      'its counter is too old',
      'its counter was taken before: played again',
      'acts',
    ])
  })
  it('counts are taken by device, and none jumps further than stated', () => {
    let window: ReplayWindow = FRESH
    const take = (device: number, count: number) => {
      const opened = open(
        scheme,
        key,
        window,
        sign(scheme, key, firstCounter(device) + count, utf8ToBytes('U')),
      )
      if (opened.ok) window = opened.window
      return opened.ok ? 'acts' : opened.told
    }
    expect([
      take(0, 1),
      take(3, 1),
      take(0, 2),
      take(0, 2),
      take(3, 4097),
      take(3, 4097 + 4097),
      take(1, MOST_AHEAD + 1),
      take(1, MOST_AHEAD),
    ]).toEqual(['acts', 'acts', 'acts', 2, 'acts', firstCounter(3) + 4097, firstCounter(1), 'acts'])
  })
  it('against a plain set of taken counters', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 32 }).map(window => Math.min(window, 31)),
        fc.array(fc.integer({ min: 1, max: 60 }), { maxLength: 40 }),
        (size, counters) => {
          let window: ReplayWindow = FRESH
          const taken = new Set<number>()
          for (const counter of counters) {
            const opened = open(
              { tagBytes: 4, window: size },
              key,
              window,
              sign({ tagBytes: 4, window: size }, key, counter, Uint8Array.of(1)),
            )
            const highest = Math.max(0, ...taken)
            expect(opened.ok).toBe(!taken.has(counter) && counter >= highest - size)
            if (opened.ok) {
              window = opened.window
              taken.add(counter)
            }
          }
        },
      ),
      { numRuns: 150 },
    )
  })
  it('anything changed on its way, another key, or random bytes are refused', () => {
    const good = sign(scheme, key, 7, utf8ToBytes('open'))
    expect(open(scheme, key, FRESH, good)).toMatchObject({ ok: true, counter: 7 })
    for (let bit = 0; bit < good.length * 8; bit++) {
      const bad = Uint8Array.from(good)
      bad[bit >> 3]! ^= 1 << (bit & 7)
      expect(open(scheme, key, FRESH, bad).ok).toBe(false)
    }
    expect(open(scheme, utf8ToBytes('another'), FRESH, good).ok).toBe(false)
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 40 }), bytes => {
        expect(open(scheme, key, FRESH, bytes).ok).toBe(false)
      }),
    )
    expect(open(scheme, key, FRESH, concatBytes(good, Uint8Array.of(0))).ok).toBe(false)
  })
  it('guessing a tag of four bytes at ten tries a second takes 6.8 years for an even chance', () => {
    // 2^31 / 10 / 31,557,600 s = 6.805.
    expect(guessingYears(4, 10)).toBeCloseTo(6.805, 2)
  })
})
