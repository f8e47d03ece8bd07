import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { actionWords } from '../../../../core/bench/actions'
import { Bench, runScript } from '../../../../core/bench/bench'
import { EventQueue } from '../../../../core/bench/queue'
import { scriptSchema, type Action, type BenchScript } from '../../../../core/bench/script'
import { at, differs, wrongMs, wrongStretches, type Trace } from '../../../../core/bench/trace'
import { momentOf } from '../../../../core/bench/why'
import type { Design } from '../../../../core/design/schema'
import { anySmallDesign, edited, fanDesign, glazeRoom, over } from '../../../fixtures/designs'

describe('queue', () => {
  it('gives events by time, then rank, then order of arrival: against sorting', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat({ max: 8 }), fc.nat({ max: 3 })), { maxLength: 60 }),
        fc.nat({ max: 60 }),
        (times, early) => {
          interface Item {
            t: number
            rank: number
            seq: number
          }
          const sorted = (list: Item[]) =>
            list.toSorted((a, b) => a.t - b.t || a.rank - b.rank || a.seq - b.seq)
          const queue = new EventQueue<Item>()
          const left = times.map(([t, rank], seq) => ({ t, rank, seq }))
          const out: Item[] = []
          left.slice(0, early).forEach(e => queue.push(e))
          if (queue.size) out.push(queue.pop()!)
          left.slice(early).forEach(e => queue.push(e))
          while (queue.size) out.push(queue.pop()!)
          const first = sorted(left.slice(0, early))[0]
          expect(out).toEqual(
            first ? [first, ...sorted(left.filter(e => e !== first))] : sorted(left),
          )
        },
      ),
    )
  })
})

const anyAction = (design: Design): fc.Arbitrary<Action> => {
  const controls = design.surfaces.flatMap(s =>
    s.kind === 'hand' ? s.controls.map(c => c.id) : [],
  )
  const keys = design.surfaces.flatMap(s =>
    s.kind === 'panel' ? s.keys.map(k => ({ surfaceId: s.id, loadId: k.loadId })) : [],
  )
  const links = design.links.map(l => l.id)
  return fc.oneof(
    fc.constantFrom(...controls).map(controlId => ({ do: 'press' as const, controlId })),
    fc
      .record({
        key: fc.constantFrom(...keys),
        want: fc.constantFrom('on' as const, 'off' as const, 'flip' as const),
      })
      .map(({ key, want }) => ({ do: 'key' as const, ...key, want })),
    fc.record({
      do: fc.constantFrom('linkDown' as const, 'linkUp' as const, 'loseNext' as const),
      linkId: fc.constantFrom(...links),
    }),
    fc.record({
      do: fc.constantFrom(
        'routerDown' as const,
        'routerUp' as const,
        'powerOff' as const,
        'powerOn' as const,
        'restart' as const,
      ),
    }),
  )
}
const anyScript = (design: Design): fc.Arbitrary<BenchScript> =>
  fc.record({
    seed: fc.nat({ max: 1000 }),
    steps: fc.array(fc.record({ atMs: fc.nat({ max: 15_000 }), action: anyAction(design) }), {
      maxLength: 25,
    }),
  })

describe('runs', () => {
  it('the same script gives the same trace, however it is sliced; a recording replays it', () => {
    const design = glazeRoom()
    fc.assert(
      fc.property(anyScript(design), fc.integer({ min: 1, max: 40 }), (script, slice) => {
        const whole = runScript(design, { ...script, untilMs: 20_000 })
        const sliced = new Bench(design, script.seed)
        sliced.plan(script.steps)
        for (let t = 0; t <= 20_000; t += 777)
          while (!sliced.advance(t, slice)) {
            /* on */
          }
        while (!sliced.advance(20_000, slice)) {
          /* on */
        }
        expect(sliced.trace).toEqual(whole.trace)
        expect(
          runScript(design, { seed: script.seed, steps: whole.recorded, untilMs: 20_000 }).trace
            .truth,
        ).toEqual(whole.trace.truth)
      }),
      { numRuns: 60 },
    )
  })
  it('any script on any design: times rise, messages end, and nothing is delivered on a link that is down', () => {
    fc.assert(
      fc.property(
        anySmallDesign.chain(design => fc.tuple(fc.constant(design), anyScript(design))),
        ([design, script]) => {
          const { trace } = runScript(design, { ...script, untilMs: 30_000 })
          for (const changes of Object.values(trace.truth))
            for (let i = 1; i < changes.length; i++)
              expect(changes[i]!.t).toBeGreaterThanOrEqual(changes[i - 1]!.t)
          for (const m of trace.messages) {
            expect(m.endMs).toBeGreaterThanOrEqual(m.sentMs)
            const down = trace.down[m.linkId]?.some(
              d => d.fromMs < m.endMs && (d.toMs ?? Infinity) > m.sentMs,
            )
            if (!m.lost) expect(down).toBe(false)
          }
        },
      ),
      { numRuns: 150 },
    )
  })
  it('refuses a script that names what is not there', () => {
    for (const action of [
      { do: 'press', controlId: 'x' },
      { do: 'linkDown', linkId: 'x' },
      { do: 'key', surfaceId: 'phone', loadId: 'x', want: 'on' },
      { do: 'key', surfaceId: 'x', loadId: 'fan', want: 'on' },
    ] as Action[]) {
      expect(() => runScript(fanDesign(), { seed: 1, steps: [{ atMs: 0, action }] })).toThrow(
        RangeError,
      )
    }
    expect(
      scriptSchema.safeParse({ steps: [{ atMs: -1, action: { do: 'restart' } }] }).success,
    ).toBe(false)
    expect(
      scriptSchema.safeParse({ steps: [{ atMs: 1, action: { do: 'explode' } }] }).success,
    ).toBe(false)
  })
})

describe('one run, worked out by hand', () => {
  const press: Action = { do: 'press', controlId: 'fan-button' }
  it('press at 1 s: accepted after 30 ms, reported; the phone knows one latency later', () => {
    const fixed = edited(fanDesign(), {
      type: 'setLink',
      linkId: 'phone-link',
      patch: { timing: { minMs: 20, typicalMs: 20, p99Ms: 20 } },
    })
    const { trace } = runScript(fixed, {
      seed: 1,
      steps: [{ atMs: 1000, action: press }],
      fates: {},
    })
    expect(trace.truth.fan).toEqual([
      { t: 0, value: 'off', powered: true },
      { t: 1030, value: 'on', powered: true },
    ])
    // "+f" on connect: two characters at 9600 baud round up to 3 ms, then 20 ms.
    expect(trace.beliefs.phone?.fan).toEqual([
      { t: 0, shown: 'unknown' },
      { t: 23, shown: 'off' },
      { t: 1053, shown: 'on' },
    ])
    expect(wrongMs(trace, 'phone', 'fan', 6000)).toBe(23)
    expect(trace.moves.fan).toBe(1)
  })
  it('out of reach: the report is never sent, the phone is wrong until it connects again and is told', () => {
    const fixed = edited(
      fanDesign(),
      {
        type: 'setLink',
        linkId: 'phone-link',
        patch: { timing: { minMs: 20, typicalMs: 20, p99Ms: 20 } },
      },
      { type: 'setBelief', surfaceId: 'phone', patch: { onLoss: 'keep' } },
    )
    const { trace } = runScript(fixed, {
      seed: 1,
      steps: [
        { atMs: 1000, action: { do: 'linkDown', linkId: 'phone-link' } },
        { atMs: 2000, action: press },
        { atMs: 5000, action: { do: 'linkUp', linkId: 'phone-link' } },
      ],
      untilMs: 9000,
    })
    expect(trace.down['phone-link']).toEqual([{ fromMs: 1000, toMs: 6200 }])
    expect(wrongStretches(trace, 'phone', 'fan', 9000)).toEqual([{ fromMs: 2030, toMs: 6223 }])
    expect(momentOf(fixed, trace, 'fan', 4000).surfaces[0]).toMatchObject({
      shown: 'off',
      wrongForMs: 1970,
      why: expect.stringContaining('while the link was down'),
    })
  })
  it('a message that is lost on the way is marked, and its loss is the reason told', () => {
    const { trace } = runScript(fanDesign(), {
      seed: 1,
      steps: [
        { atMs: 900, action: { do: 'loseNext', linkId: 'phone-link' } },
        { atMs: 1000, action: press },
      ],
    })
    expect(trace.messages.filter(m => m.lost).map(m => m.text)).toEqual(['+F'])
    expect(momentOf(fanDesign(), trace, 'fan', 3000).surfaces[0]?.why).toContain('"+F" was lost')
  })
  it('what is under way when the link falls arrives nowhere', () => {
    const slow = edited(fanDesign(), {
      type: 'setLink',
      linkId: 'phone-link',
      patch: { timing: { minMs: 500, typicalMs: 500, p99Ms: 500 } },
    })
    const { trace } = runScript(slow, {
      seed: 1,
      steps: [
        { atMs: 1000, action: { do: 'key', surfaceId: 'phone', loadId: 'fan', want: 'on' } },
        { atMs: 1200, action: { do: 'linkDown', linkId: 'phone-link' } },
      ],
      untilMs: 4000,
    })
    expect(trace.messages.find(m => m.dir === 'up')).toMatchObject({ lost: true, endMs: 1200 })
    expect(trace.moves.fan).toBe(0)
  })
  it('power cut: off for the cut and the start-up, links reconnect after it', () => {
    const { trace } = runScript(fanDesign(), {
      seed: 1,
      steps: [
        { atMs: 500, action: press },
        { atMs: 2000, action: { do: 'powerOff' } },
        { atMs: 3000, action: { do: 'powerOn' } },
      ],
      untilMs: 9000,
    })
    expect(trace.powerCuts).toEqual([{ fromMs: 2000, toMs: 4900 }])
    expect(at(trace.truth.fan!, 2500)).toMatchObject({ value: 'off', powered: false })
    expect(trace.down['phone-link']).toEqual([{ fromMs: 2000, toMs: 6100 }])
  })
  it('says in words what was done', () => {
    const words = (action: Action) => actionWords(glazeRoom(), action)
    expect(words({ do: 'press', controlId: 'fan-switch' })).toBe('flip Drying cupboard fan')
    expect(words({ do: 'key', surfaceId: 'apron-phone', loadId: 'wheel-lights', want: 'on' })).toBe(
      'Wheel lights on',
    )
    expect(words({ do: 'linkDown', linkId: 'apron-link' })).toBe('Apron phone out of reach')
  })
})

describe('disagreement', () => {
  it('is the sum over every millisecond, counted one by one', () => {
    const change = fc.record({
      t: fc.nat({ max: 60 }),
      v: fc.constantFrom('on', 'off', 'waiting', 'unknown', 'stale-on'),
    })
    fc.assert(
      fc.property(
        fc.array(change, { maxLength: 8 }),
        fc.array(change, { maxLength: 8 }),
        fc.nat({ max: 70 }),
        (a, b, until) => {
          const rising = <T extends { t: number }>(list: T[]) => [
            ...new Map(list.toSorted((x, y) => x.t - y.t).map(x => [x.t, x])).values(),
          ]
          const truth = rising([{ t: 0, v: 'off' }, ...a]).map(x => ({
            t: x.t,
            value: x.v === 'on' ? 'on' : 'off',
            powered: true,
          }))
          const beliefs = rising([{ t: 0, v: 'unknown' }, ...b]).map(x => ({
            t: x.t,
            shown: x.v as 'on',
          }))
          const trace = { truth: { x: truth }, beliefs: { p: { x: beliefs } } } as unknown as Trace
          let counted = 0
          for (let t = 0; t < until; t++)
            if (differs(at(beliefs, t)?.shown, at(truth, t)?.value)) counted++
          expect(wrongMs(trace, 'p', 'x', until)).toBe(counted)
        },
      ),
      { numRuns: 500 },
    )
  })
})

describe('datagrams on the bench', () => {
  const radio = () =>
    edited(
      over(
        edited(fanDesign(), {
          type: 'setLink',
          linkId: 'phone-link',
          patch: { timing: { minMs: 1, typicalMs: 200, p99Ms: 900 } },
        }),
        'udp',
      ),
      { type: 'setLink', linkId: 'phone-link', patch: { toAll: true } },
    )
  it('one that comes twice toggles twice, and sets once', () => {
    const twice = (design: Design) => {
      const bench = runScript(design, {
        seed: 3,
        steps: [
          { atMs: 400, action: { do: 'doubleNext', linkId: 'phone-link' } },
          { atMs: 500, action: { do: 'key', surfaceId: 'phone', loadId: 'fan', want: 'flip' } },
        ],
      })
      return [bench.value('fan'), bench.trace.messages.filter(m => m.dir === 'up').length]
    }
    const quiet = edited(
      radio(),
      { type: 'setBelief', surfaceId: 'phone', patch: { policy: 'assume', retries: 0 } },
      { type: 'setKeyForm', surfaceId: 'phone', keyId: 'fan', form: 'state' },
    )
    expect(twice(quiet)).toEqual(['on', 2])
    expect(
      twice(
        edited(quiet, {
          type: 'renameCode',
          linkId: 'phone-link',
          loadId: 'fan',
          which: 'toggle',
          code: 'T',
        }),
      ),
    ).toEqual(['off', 2])
  })
  it('overtake one another, where messages of a stream wait', () => {
    const arrivals = (design: Design) => {
      const steps = Array.from({ length: 30 }, (_, i) => ({
        atMs: 1000 + 40 * i,
        action: { do: 'press' as const, controlId: 'fan-button' },
      }))
      const bench = runScript(
        edited(design, {
          type: 'setControl',
          controlId: 'fan-button',
          patch: { lockoutMs: 0, debounceMs: 0 },
        }),
        { seed: 5, steps },
      )
      const ends = bench.trace.messages.filter(m => m.dir === 'down' && !m.lost).map(m => m.endMs)
      return ends.some((t, i) => i > 0 && t < (ends[i - 1] ?? 0))
    }
    expect([arrivals(radio()), arrivals(over(radio(), 'wire'))]).toEqual([true, false])
  })
})
