import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { exactWireMs, latencyMs, wireMs } from '../../../../core/links/timing'
import { glazeRoom, linkOn } from '../../../fixtures/designs'

const timing = {
  minMs: 8,
  typicalMs: 25,
  p99Ms: 90,
  lossPerMille: 0,
  dropDetectMs: 2000,
  reconnectMs: 1200,
}

describe('latency quantiles', () => {
  it.each([
    [0, 8],
    [0.5, 25],
    [0.99, 90],
    [1, 135],
    [0.25, 17],
    [0.745, 58],
  ])('at %d: %d ms, worked out by hand', (u, ms) => expect(latencyMs(timing, u)).toBe(ms))
  it('never fall as the draw rises', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (a, b) => latencyMs(timing, Math.min(a, b)) <= latencyMs(timing, Math.max(a, b)),
      ),
    )
  })
})

describe('time on the wire', () => {
  const design = glazeRoom()
  const serial = linkOn(design, 'bluetooth-serial')
  it('one character at 9600 baud is 10 bits: 1.0417 ms', () =>
    expect(exactWireMs(design, serial, 'E')).toBeCloseTo(1.0416667, 6))
  it('twelve characters at 115200 baud: 1.0417 ms', () =>
    expect(
      exactWireMs(design, { ...serial, baud: 115200 } as typeof serial, 'x'.repeat(12)),
    ).toBeCloseTo(120_000 / 115_200, 9))
  it('is rounded up for the bench', () =>
    expect([
      wireMs(design, serial, ''),
      wireMs(design, serial, 'E'),
      wireMs(design, serial, 'x'.repeat(96)),
    ]).toEqual([0, 2, 100]))
  it('HTTP has it in its latency, but for the wire to a board in front: 7 characters and a line feed at 9600 baud', () => {
    expect(wireMs({ ...design, front: null }, linkOn(design, 'http'), '/fan/on')).toBe(0)
    expect(exactWireMs(design, linkOn(design, 'http'), '/fan/on')).toBeCloseTo(8.3333, 4)
  })
})
