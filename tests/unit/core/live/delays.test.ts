/** Times there and back: measured, and as times of a link that would give them. */
import { describe, expect, it } from 'vitest'
import { latencyMs } from '../../../../core/links/timing'
import { bothWays, Delays, fitted, thereAndBack } from '../../../../core/live/delays'

const TIMING = {
  minMs: 8,
  typicalMs: 25,
  p99Ms: 90,
  lossPerMille: 0,
  dropDetectMs: 2000,
  reconnectMs: 1200,
}
/** Park and Miller's minimal standard generator, so that every run draws alike. */
function draws(seed: number): () => number {
  let x = seed
  return () => (x = (x * 48_271) % 2_147_483_647) / 2_147_483_647
}

describe('delays', () => {
  it('nearest ranks of what was measured', () => {
    const delays = new Delays()
    expect(delays.measured()).toBeNull()
    for (let i = 1; i <= 200; i++) delays.add(i)
    delays.lost = 3
    expect(delays.measured()).toEqual({
      count: 200,
      lost: 3,
      leastMs: 1,
      typicalMs: 100,
      p99Ms: 198,
    })
    expect(delays.bars(20).reduce((n, b) => n + b.count, 0)).toBe(200)
    expect(delays.bars(20)).toHaveLength(20)
    expect(delays.bars(20, 400).at(-1)).toEqual({ fromMs: 399, toMs: 420, count: 0 })
  })

  it('there and back: twice the least, and sums of two draws', () => {
    const { leastMs, typicalMs, p99Ms } = thereAndBack(TIMING, 4)
    expect(leastMs).toBe(20)
    const draw = draws(7)
    const sums = Array.from(
      { length: 40_000 },
      () => latencyMs(TIMING, draw()) + latencyMs(TIMING, draw()) + 4,
    ).sort((a, b) => a - b)
    expect(Math.abs(typicalMs - sums[20_000]!)).toBeLessThanOrEqual(1)
    expect(Math.abs(p99Ms - sums[39_600]!)).toBeLessThanOrEqual(3)
  })

  it('counts sums as if each of them were listed', () => {
    const draw = draws(3)
    for (let n = 0; n < 40; n++) {
      const minMs = Math.floor(draw() * 50)
      const typicalMs = minMs + Math.floor(draw() * 80)
      const timing = { ...TIMING, minMs, typicalMs, p99Ms: typicalMs + Math.floor(draw() * 400) }
      const one = Array.from({ length: 160 }, (_, i) => latencyMs(timing, (i + 0.5) / 160))
      const all = one.flatMap(a => one.map(b => a + b)).sort((a, b) => a - b)
      for (const share of [0.01, 0.5, 0.9, 0.99, 1])
        expect(bothWays(timing, share)).toBe(all[Math.ceil(share * all.length) - 1])
    }
  })

  it.each([
    [TIMING, 4],
    [{ ...TIMING, minMs: 2, typicalMs: 8, p99Ms: 60 }, 0],
    [{ ...TIMING, minMs: 10, typicalMs: 10, p99Ms: 10 }, 7],
  ])('the times that were drawn from are found again: %o', (timing, wireMs) => {
    const [delays, draw] = [new Delays(), draws(11)]
    for (let i = 0; i < 4000; i++)
      delays.add(latencyMs(timing, draw()) + latencyMs(timing, draw()) + wireMs)
    const found = fitted(TIMING, delays.measured()!, wireMs, false)
    expect(Math.abs(found.minMs - timing.minMs)).toBeLessThanOrEqual(1)
    expect(Math.abs(found.typicalMs - timing.typicalMs)).toBeLessThanOrEqual(2)
    expect(Math.abs(found.p99Ms - timing.p99Ms)).toBeLessThanOrEqual(0.1 * timing.p99Ms + 2)
    expect(found.lossPerMille).toBe(0)
  })

  it('of datagrams a question is lost with either way', () => {
    const delays = new Delays()
    for (let i = 0; i < 9801; i++) if (i < 5000) delays.add(20)
    const measured = { count: 9801, lost: 199, leastMs: 20, typicalMs: 20, p99Ms: 20 }
    // 0.99 of 0.99: a hundredth on each way.
    expect(fitted(TIMING, measured, 0, true).lossPerMille).toBe(10)
    expect(fitted(TIMING, measured, 0, false).lossPerMille).toBe(0)
  })
})
