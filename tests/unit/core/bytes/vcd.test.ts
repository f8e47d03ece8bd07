import fc from 'fast-check'
import vcdParser from 'vcd-parser'
import { describe, expect, it } from 'vitest'
import { BadDump, readVcd, vcdName, vcdText, type Signal } from '../../../../core/bytes/vcd'
import { runScript } from '../../../../core/bench/bench'
import { busySteps } from '../../../../core/bench/busy'
import { signalsOf, traceVcd } from '../../../../core/bench/export'
import { glazeRoom, kilnCorridor } from '../../../fixtures/designs'

/**
 * As the standard writes it: a head as other tools make it, values without leading digits, reals,
 * events.
 */
const FOREIGN = `$date today $end
$version some simulator $end
$comment two wires and a bus $end
$timescale 1 ns $end
$scope module top $end
$var wire 1 ! clk $end
$var reg 8 " bus [7:0] $end
$scope module inner $end
$var real 64 # volts $end
$var event 1 $ tick $end
$upscope $end
$upscope $end
$enddefinitions $end
#0
$dumpvars
x!
bx "
r0.5 #
$end
#5
1!
b101 "
#10
0!
bz "
1$
r1.25e1 #
#12
1$
`

describe('value change dumps', () => {
  it('reads what others write: scopes, buses with digits left out, reals, events', () => {
    const { stepSeconds, signals } = readVcd(FOREIGN)
    expect(stepSeconds).toBe(1e-9)
    expect(signals.map(s => [s.scope.join('.'), s.name, s.width, s.kind])).toEqual([
      ['top', 'clk', 1, 'wire'],
      ['top', 'bus', 8, 'wire'],
      ['top.inner', 'volts', 64, 'real'],
      ['top.inner', 'tick', 1, 'event'],
    ])
    expect(signals.map(s => s.changes.map(c => `${c.t} ${c.value}`))).toEqual([
      ['0 x', '5 1', '10 0'],
      ['0 xxxxxxxx', '5 00000101', '10 zzzzzzzz'],
      ['0 0.5', '10 1.25e1'],
      ['10 1', '12 1'],
    ])
  })
  const anySignals = fc
    .array(
      fc.record({
        scope: fc.array(fc.constantFrom('a', 'b', 'long-name'), { maxLength: 2 }),
        width: fc.constantFrom(1, 1, 3, 8),
        steps: fc.array(
          fc.record({
            gap: fc.integer({ min: 1, max: 1000 }),
            digits: fc.array(fc.constantFrom('0', '1', 'x', 'z'), { minLength: 8, maxLength: 8 }),
          }),
          { maxLength: 12 },
        ),
      }),
      { minLength: 1, maxLength: 120 },
    )
    .map(list =>
      list.map(({ scope, width, steps }, i): Signal => {
        let t = 0
        let last = 'x'.repeat(width)
        const changes = [{ t: 0, value: last }]
        for (const { gap, digits } of steps) {
          t += gap
          const value = digits.slice(0, width).join('')
          if (value !== last) changes.push({ t, value })
          last = value
        }
        return { scope, name: `s${i}`, width, kind: 'wire', changes }
      }),
    )
  it('what is written is read back equal, whatever it is', () => {
    fc.assert(
      fc.property(anySignals, signals => {
        const sorted = signals.toSorted((a, b) => (a.scope.join('/') < b.scope.join('/') ? -1 : 1))
        expect(readVcd(vcdText(sorted, '10 us', 'test', 0)).signals).toEqual(sorted)
      }),
      { numRuns: 150 },
    )
  })
  it('a run of the bench reads back equal', () => {
    for (const design of [glazeRoom(), kilnCorridor()]) {
      const { trace } = runScript(design, {
        seed: 3,
        steps: [
          { atMs: 0, action: { do: 'contacts', bounce: true } },
          ...busySteps(design, 3, 40_000),
        ],
        untilMs: 60_000,
      })
      const text = traceVcd(design, trace, 60_000)
      const back = readVcd(text)
      expect(back.stepSeconds).toBeCloseTo(1e-5, 12)
      const sent = signalsOf(design, trace)
      expect(back.signals.map(s => [s.name, s.width])).toEqual(
        sent.map(s => [vcdName(s.name), s.width]),
      )
      back.signals.forEach((s, i) =>
        expect(s.changes).toEqual(
          sent[i]!.changes[0]?.t === 0 || s.kind === 'event'
            ? sent[i]!.changes
            : [{ t: 0, value: 'x'.repeat(s.width) }, ...sent[i]!.changes],
        ),
      )
      expect(back.signals.reduce((n, s) => n + s.changes.length, 0)).toBeGreaterThan(300)
    }
  })
  it('and opens in a reader of somebody else, with the same wires and the same changes', async () => {
    const design = glazeRoom()
    const { trace } = runScript(design, {
      seed: 3,
      steps: busySteps(design, 3, 40_000),
      untilMs: 60_000,
    })
    const signals = signalsOf(design, trace)
    const parsed = (await vcdParser.parse(traceVcd(design, trace, 60_000), {
      compressed: false,
    })) as { timescale: string; signal: { name: string; wave: [string | number, string][] }[] }
    const theirs = new Map(parsed.signal.map(s => [s.name, s]))
    let compared = 0
    for (const s of signals) {
      const found = [...theirs.values()].find(
        x =>
          x.name.endsWith(vcdName(s.name))
          && x.wave.length > 0
          && s.kind === 'wire'
          && s.width === 1
          && x.wave.map(w => `${Number(w[0])} ${w[1]}`).join()
            === (s.changes[0]?.t === 0 ? s.changes : [{ t: 0, value: 'x' }, ...s.changes])
              .map(c => `${c.t} ${c.value}`)
              .join(),
      )
      if (s.kind === 'wire' && s.width === 1) {
        expect([s.scope.join('/'), s.name, found !== undefined]).toEqual([
          s.scope.join('/'),
          s.name,
          true,
        ])
        compared += s.changes.length
      }
    }
    expect(compared).toBeGreaterThan(100)
  })
  it.each([
    ['$timescale 1 ns $end\n#5\n1!', /no \$var tells of/],
    ['$timescale 3 weeks $end', /\$timescale is a number/],
    ['$timescale 1 ns $end\n$enddefinitions $end\n#5\n#4', /go back/],
    ['$timescale 1 ns', /no \$end/],
    ['$enddefinitions $end', /no \$timescale/],
    ['$timescale 1 ns $end $var wire 1 ! $end', /a kind, a width, a code and a name/],
    ['$timescale 1 ns $end $nonsense $end', /no section/],
    ['$timescale 1 ns $end $var wire 2 ! a $end\n#1\nb2 !', /"2" is no value of a/],
  ])('%j is refused with its line', (text, words) => {
    expect(() => readVcd(text)).toThrow(BadDump)
    expect(() => readVcd(text)).toThrow(words)
  })
})
