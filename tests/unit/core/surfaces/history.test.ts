import { describe, expect, it } from 'vitest'
import { History } from '../../../../core/surfaces/history'

describe('values over time', () => {
  it('hold until the next one, up to now, on a field of 100 by 100', () => {
    const history = new History(1000)
    history.add(0, 0)
    history.add(500, 10)
    expect(history.path(1000, 0, 10)).toBe('M0 100H50V0H100')
  })
  it('what is older than the stretch leaves, but the value that still held at its start stays', () => {
    const history = new History(1000)
    for (const [at, value] of [
      [0, 0],
      [100, 5],
      [1500, 10],
    ] as const)
      history.add(at, value)
    expect(history.path(1500, 0, 10)).toBe('M0 50H100V0H100')
  })
  it('keeps a bounded number of points, whatever comes', () => {
    const history = new History(60_000)
    for (let t = 0; t < 600_000; t += 7) history.add(t, t % 13)
    expect(history.path(600_000, 0, 13).match(/[MH]/g)!.length).toBeLessThan(250)
  })
  it('what is no number is no point, and beyond the scale is at its end', () => {
    const history = new History(1000)
    history.add(0, NaN)
    expect(history.path(10, 0, 1)).toBe('')
    history.add(0, 99)
    expect(history.path(1000, 0, 10)).toBe('M0 0H100')
  })
})
