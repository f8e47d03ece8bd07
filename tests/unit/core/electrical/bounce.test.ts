import { describe, expect, it } from 'vitest'
import {
  debounceFromRecording,
  edgesFromCsv,
  edgesFromVcd,
  movements,
} from '../../../../core/electrical/bounce'
import { valueOf } from '../../../../core/electrical/sum'

/** A press at 1 s that bounces for 4.2 ms, and a release at 1.4 s that bounces for 1.1 ms. */
const CSV =
  'seconds,volts\n0,5\n1.0000,0.1\n1.0007,4.9\n1.0011,0\n1.0042,5\n1.0042001,0.1\n1.4,5\n1.4006,0\n1.4011,5\n'
const VCD = `$date today $end
$timescale 100 us $end
$scope module board $end
$var wire 1 ! button $end
$var wire 1 " relay $end
$upscope $end
$enddefinitions $end
#0
1!
0"
#10000
0!
#10007
1!
1"
#10011
0!
#14000
1!
`

describe('recordings', () => {
  it('CSV with volts', () => {
    const edges = edgesFromCsv(CSV)
    expect(edges.map(e => e.level).join('')).toBe('101010101')
    expect(movements(edges).map(m => [m.atSeconds, m.edges])).toEqual([
      [1, 5],
      [1.4, 3],
    ])
  })
  it('VCD, first wire or a named one', () => {
    expect(edgesFromVcd(VCD)).toEqual([
      { seconds: 0, level: 1 },
      { seconds: expect.closeTo(1, 9), level: 0 },
      { seconds: expect.closeTo(1.0007, 9), level: 1 },
      { seconds: expect.closeTo(1.0011, 9), level: 0 },
      { seconds: expect.closeTo(1.4, 9), level: 1 },
    ])
    expect(edgesFromVcd(VCD, 'relay')).toHaveLength(2)
    expect(() => edgesFromVcd(VCD, 'lamp')).toThrow(/it has button, relay/)
    expect(() => edgesFromVcd('nothing')).toThrow(/no \$timescale/)
  })
  it('name the line that does not belong', () => {
    expect(() => edgesFromCsv('0,1\n1,high\n')).toThrow(/"1,high" is not a time/)
    expect(() => edgesFromCsv('0,1\n2,0\n1,1\n')).toThrow(/go back from 2 s to 1 s/)
  })
})

describe('debounce', () => {
  it('is half again the longest bounce: 4.2 ms gives 7 ms', () => {
    const of = debounceFromRecording(edgesFromCsv(CSV), 30)
    expect(valueOf(of, 'tb')).toBeCloseTo(0.0042, 5)
    expect(valueOf(of, 'td')).toBe(0.007)
    expect(of.ok).toBe(true)
  })
  it('says what to set when the design is too quick', () =>
    expect(debounceFromRecording(edgesFromCsv(CSV), 3).limits[0]).toMatchObject({
      ok: false,
      wayOut: 'set the debounce to 7 ms',
    }))
  it('needs a movement', () =>
    expect(() => debounceFromRecording(edgesFromCsv('0,1\n1,1\n'), 30)).toThrow(/nothing moves/))
})
