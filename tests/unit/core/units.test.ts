import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { clock32, earlier, reached } from '../../../core/units/clock'
import { preferredAbove, preferredBelow, preferredNear } from '../../../core/units/e-series'
import { count, kilobytes, plural, seconds } from '../../../core/units/format'
import { first, last, nth } from '../../../core/units/lists'
import { parseQuantity, showQuantity } from '../../../core/units/quantity'
import { seededRandom } from '../../../core/units/random'

describe('32-bit controller time', () => {
  it('goes on through the wrap after 49.7 days', () => {
    const before = 0xfffffff0
    expect(clock32(before + 0x20)).toBe(0x10)
    expect(reached(clock32(before + 0x20), before)).toBe(true)
    expect(reached(before, clock32(before + 0x20))).toBe(false)
  })
  it('agrees with plain comparison of long times that lie less than 2^31 ms apart', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 2 ** 40 }),
        fc.integer({ min: -(2 ** 31) + 1, max: 2 ** 31 - 1 }),
        (t, apart) => {
          fc.pre(t + apart >= 0)
          expect(reached(clock32(t + apart), clock32(t))).toBe(apart >= 0)
        },
      ),
    )
  })
  it('takes the earlier of two times, and the one that is there', () => {
    expect(earlier(null, 7)).toBe(7)
    expect(earlier(5, null)).toBe(5)
    expect(earlier(null, null)).toBeNull()
    expect(earlier(0xffffffff, 3)).toBe(0xffffffff)
  })
})

describe('numbers with units', () => {
  it.each([
    [0, '0 ms'],
    [999.4, '999 ms'],
    [1000, '1 s'],
    [1290, '1.29 s'],
    [12_345, '12.3 s'],
    [600_000, '10 min 0 s'],
    [59_900, '59.9 s'],
    [59_960, '1 min 0 s'],
    [999.6, '1 s'],
    [9_996, '10 s'],
  ])('%d ms reads %s', (ms, words) => expect(seconds(ms)).toBe(words))
  it('never reads "60 s" after a minute', () => {
    for (let ms = 60_000; ms < 400_000; ms += 137) expect(seconds(ms)).not.toContain(' 60 s')
  })
  it('groups thousands and knows the plural', () => {
    expect(kilobytes(12_345)).toBe('12.3 kB')
    expect(count(4310)).toBe('4,310')
    expect(count(3_000_000)).toBe('3,000,000')
    expect(plural(1, 'load')).toBe('1 load')
    expect(plural(2, 'switch', 'switches')).toBe('2 switches')
  })
})

describe('seeded generator', () => {
  /** mulberry32 once more, in arbitrary-precision integers. */
  function reference(seed: bigint, n: number): number[] {
    const mask = 0xffffffffn
    const mul = (a: bigint, b: bigint) => (a * b) & mask
    let state = seed
    return Array.from({ length: n }, () => {
      state = (state + 0x6d2b79f5n) & mask
      let t = mul(state ^ (state >> 15n), state | 1n)
      t ^= (t + mul(t ^ (t >> 7n), t | 61n)) & mask
      return Number(t ^ (t >> 14n)) / 2 ** 32
    })
  }
  it('follows the published recurrence', () => {
    for (const seed of [0, 1, 42, 0xffffffff]) {
      const random = seededRandom(seed)
      expect(Array.from({ length: 50 }, () => random.next())).toEqual(reference(BigInt(seed), 50))
    }
  })
  it('is even: 100,000 draws fill ten bins within 5 %', () => {
    const random = seededRandom(7)
    const bins = Array.from({ length: 10 }, () => 0)
    for (let i = 0; i < 100_000; i++) bins[Math.floor(random.next() * 10)]!++
    for (const n of bins) expect(Math.abs(n - 10_000)).toBeLessThan(500)
  })
})

describe('preferred numbers (IEC 60063)', () => {
  it('E24 of one decade, as in the table', () => {
    const found = new Set<number>()
    for (let v = 10; v < 100; v += 0.01) found.add(preferredNear(v))
    expect([...found].filter(v => v < 100)).toEqual([
      10, 11, 12, 13, 15, 16, 18, 20, 22, 24, 27, 30, 33, 36, 39, 43, 47, 51, 56, 62, 68, 75, 82,
      91,
    ])
  })
  it('below, above and near bracket any value', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1e-12, max: 1e9, noNaN: true }),
        fc.constantFrom('E12' as const, 'E24' as const),
        (v, series) => {
          const [low, high, near] = [
            preferredBelow(v, series),
            preferredAbove(v, series),
            preferredNear(v, series),
          ]
          expect(low).toBeLessThanOrEqual(v * 1.000001)
          expect(high).toBeGreaterThanOrEqual(v * 0.999999)
          expect(high / low).toBeLessThan(1.26)
          expect([low, high]).toContain(near)
          expect(Math.abs(Math.log(near / v))).toBeLessThanOrEqual(
            Math.min(Math.abs(Math.log(low / v)), Math.abs(Math.log(high / v))) + 1e-9,
          )
        },
      ),
    )
  })
  it('a value that is one stays as it is, and zero is refused', () => {
    for (const v of [0.1, 4.7, 560, 8200, 1e6])
      expect([preferredBelow(v), preferredAbove(v), preferredNear(v)]).toEqual([v, v, v])
    expect(() => preferredNear(0)).toThrow(RangeError)
  })
})

describe('quantities', () => {
  it.each([
    ['4k7', 'Ω', 4700],
    ['2R2', 'Ω', 2.2],
    ['4n7', 'F', 4.7e-9],
    ['4.7 kΩ', 'Ω', 4700],
    ['4,7k', 'Ω', 4700],
    ['10 ohm', 'Ω', 10],
    ['120mA', 'A', 0.12],
    ['50 µA', 'A', 5e-5],
    ['12', 'V', 12],
    ['12 V', 'V', 12],
    ['1e3', 'Ω', 1000],
    ['1.5 mm2', 'mm²', 1.5],
    ['40 C', '°C', 40],
    ['-5 °C', '°C', -5],
  ] as const)('"%s" in %s', (text, unit, value) =>
    expect(parseQuantity(text, unit)).toBeCloseTo(value, 12),
  )
  it.each([
    ['12 A', 'V', /V is expected/],
    ['lots', 'A', /write it like 120 mA/],
    ['4k7', 'V', /V is expected|not the unit/],
    ['', 'Ω', /4k7/],
  ] as const)('"%s" for %s is refused', (text, unit, words) => {
    expect(() => parseQuantity(text, unit)).toThrow(words)
  })
  it.each([
    [0.0714, 'A', '71.4 mA'],
    [0.99996, 'A', '1 A'],
    [602, 'Ω', '602 Ω'],
    [4700, 'Ω', '4.7 kΩ'],
    [0.00054, 'J', '540 µJ'],
    [49.34, '°C', '49.3 °C'],
    [5.747, '%', '5.75%'],
    [0, 'V', '0 V'],
    [Infinity, 'A', 'no limit'],
  ] as const)('%d %s reads %s', (value, unit, words) =>
    expect(showQuantity(value, unit)).toBe(words),
  )
  it('what is shown reads back to three digits', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1e-11, max: 1e9, noNaN: true }),
        fc.constantFrom('V' as const, 'A' as const, 'Ω' as const, 'F' as const),
        (value, unit) => {
          expect(Math.abs(parseQuantity(showQuantity(value, unit), unit) / value - 1)).toBeLessThan(
            0.006,
          )
        },
      ),
    )
  })
})

describe('items of lists that are known to be there', () => {
  const list = ['fan', 'lamp', 'pump']
  it('the first, the last, one by its index', () => {
    expect([first(list), last(list), nth(list, 1)]).toEqual(['fan', 'pump', 'lamp'])
  })
  it('an item that is nothing is an item too', () => {
    expect(nth([null, undefined], 1)).toBeUndefined()
  })
  it.each([3, -1, NaN])('%s is none of three: told at once', index => {
    expect(() => nth(list, index)).toThrow(`a list of 3 has no item ${index}`)
  })
  it('an empty list has neither', () => {
    expect(() => first([])).toThrow(RangeError)
    expect(() => last([])).toThrow(RangeError)
  })
})
