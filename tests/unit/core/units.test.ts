import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { clock32, earlier, reached } from '../../../core/units/clock'
import { count, plural, seconds } from '../../../core/units/format'
import { seededRandom } from '../../../core/units/random'

describe('32-bit controller time', () => {
  it('goes on through the wrap after 49.7 days', () => {
    const before = 0xFFFFFFF0
    expect(clock32(before + 0x20)).toBe(0x10)
    expect(reached(clock32(before + 0x20), before)).toBe(true)
    expect(reached(before, clock32(before + 0x20))).toBe(false)
  })
  it('agrees with plain comparison of long times that lie less than 2^31 ms apart', () => {
    fc.assert(fc.property(fc.integer({ min: 0, max: 2 ** 40 }), fc.integer({ min: -(2 ** 31) + 1, max: 2 ** 31 - 1 }), (t, apart) => {
      fc.pre(t + apart >= 0)
      expect(reached(clock32(t + apart), clock32(t))).toBe(apart >= 0)
    }))
  })
  it('takes the earlier of two times, and the one that is there', () => {
    expect(earlier(null, 7)).toBe(7)
    expect(earlier(5, null)).toBe(5)
    expect(earlier(null, null)).toBeNull()
    expect(earlier(0xFFFFFFFF, 3)).toBe(0xFFFFFFFF)
  })
})

describe('numbers with units', () => {
  it.each([[0, '0 ms'], [999.4, '999 ms'], [1000, '1 s'], [1290, '1.29 s'], [12_345, '12.3 s'], [600_000, '10 min 0 s'], [59_900, '59.9 s'], [59_960, '1 min 0 s'], [999.6, '1 s'], [9_996, '10 s']])('%d ms reads %s', (ms, words) => expect(seconds(ms)).toBe(words))
  it('never reads "60 s" after a minute', () => {
    for (let ms = 60_000; ms < 400_000; ms += 137) expect(seconds(ms)).not.toContain(' 60 s')
  })
  it('groups thousands and knows the plural', () => {
    expect(count(4310)).toBe('4,310')
    expect(count(3_000_000)).toBe('3,000,000')
    expect(plural(1, 'load')).toBe('1 load')
    expect(plural(2, 'switch', 'switches')).toBe('2 switches')
  })
})

describe('seeded generator', () => {
  /** mulberry32 once more, in arbitrary-precision integers. */
  function reference(seed: bigint, n: number): number[] {
    const mask = 0xFFFFFFFFn
    const mul = (a: bigint, b: bigint) => (a * b) & mask
    let state = seed
    return Array.from({ length: n }, () => {
      state = (state + 0x6D2B79F5n) & mask
      let t = mul(state ^ (state >> 15n), state | 1n)
      t ^= (t + mul(t ^ (t >> 7n), t | 61n)) & mask
      return Number(t ^ (t >> 14n)) / 2 ** 32
    })
  }
  it('follows the published recurrence', () => {
    for (const seed of [0, 1, 42, 0xFFFFFFFF]) {
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
