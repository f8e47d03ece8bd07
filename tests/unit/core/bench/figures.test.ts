import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Bench, runScript } from '../../../../core/bench/bench'
import { bounces, LONGEST_BOUNCE_MS } from '../../../../core/bench/bounce'
import { busySteps } from '../../../../core/bench/busy'
import { Histogram } from '../../../../core/bench/histogram'
import { newProfile, ProfileRun, DAY_MS } from '../../../../core/bench/profile'
import type { Action } from '../../../../core/bench/script'
import { at, isDefinite, wrongMs, wrongStretches } from '../../../../core/bench/trace'
import { loadOf, farSurfaces } from '../../../../core/design/find'
import type { Design } from '../../../../core/design/schema'
import { seededRandom, streamSeed } from '../../../../core/units/random'
import { estimate, t95 } from '../../../../core/units/student'
import {
  anySmallDesign,
  edited,
  fanDesign,
  glazeRoom,
  kilnCorridor,
  over,
  showroom,
  twoPanelDesign,
} from '../../../fixtures/designs'
import { partOf } from '../../../../core/design/part'

const steps = (design: Design, until = 60_000) => busySteps(design, 3, until)

describe('figures of a run, against the trace that is counted through', () => {
  it.each([
    ['glaze room', glazeRoom()],
    ['kiln corridor', kilnCorridor()],
    ['two panels', twoPanelDesign()],
  ] as const)('%s: wrong and unsure times, the longest, delays, messages, moves', (_, design) => {
    const until = 120_000
    const { trace, figures } = runScript(design, {
      seed: 9,
      steps: steps(design, until - 5000),
      untilMs: until,
    })
    farSurfaces(design).forEach((s, i) =>
      design.loads.forEach((l, load) => {
        const stretches = wrongStretches(trace, s.id, l.id, until)
        expect(figures.wrongMs(i, load, until)).toBeCloseTo(wrongMs(trace, s.id, l.id, until), 6)
        expect(figures.longestWrongMs(i, load, until)).toBeCloseTo(
          Math.max(0, ...stretches.map(x => x.toMs - x.fromMs)),
          6,
        )
        if (!design.links.find(x => x.id === s.linkId)?.messages.some(m => m.loadId === l.id))
          return
        const beliefs = trace.beliefs[s.id]?.[l.id] ?? []
        let unsure = 0
        beliefs.forEach((b, n) => {
          if (!isDefinite(b.shown)) unsure += (beliefs[n + 1]?.t ?? until) - b.t
        })
        expect(figures.unsureMs(i, load, until)).toBeCloseTo(unsure, 6)
        // Delays anew, from the changes of both.
        const delays: number[] = []
        let behind: number | null = null
        const moments = [
          ...new Set([...(trace.truth[l.id] ?? []).map(c => c.t), ...beliefs.map(c => c.t)]),
        ].sort((a, b) => a - b)
        let told: string | undefined
        for (const t of moments) {
          const truth = at(trace.truth[l.id] ?? [], t)?.value
          if (truth !== told) behind ??= t
          told = truth
          if (behind !== null && at(beliefs, t)?.shown === truth) {
            delays.push(t - behind)
            behind = null
          }
        }
        const { delays: counted } = figures.cells[i]![load]!
        expect(counted.count).toBe(delays.length)
        expect(counted.longest).toBeCloseTo(Math.max(0, ...delays), 6)
      }),
    )
    const kept = trace.messages
    expect(figures.traffic.reduce((n, t) => n + t.up.messages + t.down.messages, 0)).toBe(
      kept.length,
    )
    expect(figures.traffic.reduce((n, t) => n + t.up.lost + t.down.lost, 0)).toBe(
      kept.filter(m => m.lost).length,
    )
    expect(figures.traffic.reduce((n, t) => n + t.up.bytes + t.down.bytes, 0)).toBe(
      kept.reduce((n, m) => n + m.text.length, 0),
    )
    expect(figures.moves).toEqual(design.loads.map(l => trace.moves[l.id]))
    expect(figures.memoryWrites).toBe(trace.saves.length)
  })
  it('without a trace they are the same', () => {
    fc.assert(
      fc.property(anySmallDesign, fc.nat({ max: 99 }), (design, seed) => {
        const run = (tracing: boolean) => {
          const bench = new Bench(design, seed, undefined, tracing)
          bench.plan(busySteps(design, seed, 20_000))
          bench.advance(30_000)
          return bench
        }
        const [kept, lean] = [run(true), run(false)]
        expect(JSON.stringify(lean.figures)).toBe(JSON.stringify(kept.figures))
        expect(lean.trace.messages).toEqual([])
      }),
      { numRuns: 60 },
    )
  })
  it('a command that came twice and toggled twice is doubled; one that came nowhere is missed; with numbers it is neither', () => {
    const radio = over(
      edited(
        fanDesign(),
        { type: 'setBelief', surfaceId: 'phone', patch: { policy: 'assume' } },
        { type: 'renameCode', linkId: 'phone-link', loadId: 'fan', which: 'toggle', code: 'T' },
      ),
      'udp',
    )
    const key: Action = { do: 'key', surfaceId: 'phone', loadId: 'fan', want: 'flip' }
    const twice = runScript(radio, {
      seed: 1,
      steps: [
        { atMs: 900, action: { do: 'doubleNext', linkId: 'phone-link' } },
        { atMs: 1000, action: key },
      ],
      untilMs: 4000,
    })
    expect([twice.figures.commands[0], twice.missed('phone')]).toEqual([
      { pressed: 1, missed: 0, doubled: 1 },
      0,
    ])
    const lost = runScript(radio, {
      seed: 1,
      steps: [
        { atMs: 900, action: { do: 'loseNext', linkId: 'phone-link' } },
        { atMs: 1000, action: key },
        { atMs: 2000, action: key },
      ],
      untilMs: 4000,
    })
    expect([lost.figures.commands[0]?.pressed, lost.missed('phone')]).toEqual([2, 1])
    const lines = edited(radio, {
      type: 'setLink',
      linkId: 'phone-link',
      patch: { dialect: { kind: 'pairs', terminator: 'lf' }, numbered: { windowMs: 5000 } },
    })
    const numbered = runScript(lines, {
      seed: 1,
      steps: [
        { atMs: 900, action: { do: 'doubleNext', linkId: 'phone-link' } },
        { atMs: 1000, action: key },
      ],
      untilMs: 4000,
    })
    expect([numbered.value('fan'), numbered.figures.commands[0]]).toEqual([
      'on',
      { pressed: 1, missed: 0, doubled: 0 },
    ])
  })
  it('a command that is confirmed only by its repeat is neither missed nor doubled', () => {
    const lost = runScript(fanDesign(), {
      seed: 1,
      steps: [
        { atMs: 900, action: { do: 'loseNext', linkId: 'phone-link' } },
        { atMs: 1000, action: { do: 'key', surfaceId: 'phone', loadId: 'fan', want: 'on' } },
      ],
      untilMs: 9000,
    })
    expect([lost.value('fan'), lost.missed('phone'), lost.figures.commands[0]?.doubled]).toEqual([
      'on',
      0,
      0,
    ])
  })
})

describe('percentiles in bounded space', () => {
  it('are exact up to 64 ms, and at most 2 % too high beyond: against sorting', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.nat({ max: 64 }), fc.nat({ max: 5_000_000 })), {
          minLength: 1,
          maxLength: 200,
        }),
        fc.double({ min: 0.01, max: 1, noNaN: true }),
        (values, share) => {
          const h = new Histogram()
          for (const v of values) h.add(v)
          const exact = values.toSorted((a, b) => a - b)[
            Math.max(1, Math.ceil(share * values.length)) - 1
          ]!
          const found = h.percentile(share)!
          expect(found).toBeGreaterThanOrEqual(exact - 1e-6)
          expect(found).toBeLessThanOrEqual(exact <= 64 ? exact : exact * 1.0201 + 1)
          expect(h.bars().reduce((n, b) => n + b.count, 0)).toBe(values.length)
        },
      ),
    )
    expect(new Histogram().percentile(0.5)).toBeNull()
  })
})

describe('intervals', () => {
  it("use Student's t, as published", () => {
    // Two-sided 95 % points of the usual tables.
    const published: [number, number][] = [
      [1, 12.706],
      [2, 4.303],
      [5, 2.571],
      [6, 2.447],
      [10, 2.228],
      [20, 2.086],
      [27, 2.052],
      [30, 2.042],
      [60, 2.0],
      [120, 1.98],
    ]
    for (const [degrees, t] of published) expect(Math.abs(t95(degrees) - t)).toBeLessThan(0.004)
  })
  it('of 4, 6, 8 by hand: 6 and 4.303 x 2 / root 3', () => {
    expect(estimate([4, 6, 8])).toEqual({
      mean: 6,
      plusMinus: expect.closeTo((4.303 * 2) / Math.sqrt(3), 6) as number,
    })
    expect(estimate([3])).toEqual({ mean: 3, plusMinus: null })
  })
  it('cover the true mean about 95 times in a hundred', () => {
    const random = seededRandom(7)
    let covered = 0
    for (let n = 0; n < 2000; n++) {
      const { mean, plusMinus } = estimate(
        Array.from({ length: 12 }, () => random.next() + random.next() + random.next()),
      )
      if (Math.abs(mean - 1.5) <= plusMinus!) covered++
    }
    expect(covered / 2000).toBeGreaterThan(0.93)
    expect(covered / 2000).toBeLessThan(0.97)
  })
})

describe('random streams', () => {
  it('a surface that is added does not move what happens to the others', () => {
    const before = edited(fanDesign(), {
      type: 'setLink',
      linkId: 'phone-link',
      patch: { timing: { lossPerMille: 100 } },
    })
    const after = edited(
      before,
      { type: 'addPanel', name: 'Tablet', over: 'udp' },
      {
        type: 'addMessage',
        linkId: 'tablet-link',
        loadId: 'fan',
        codes: { on: 'fan on', off: 'fan off' },
      },
    )
    const script = { seed: 5, steps: steps(before, 40_000), untilMs: 60_000 }
    const seen = (design: Design) =>
      runScript(design, script)
        .trace.messages.filter(m => m.linkId === 'phone-link')
        .map(({ sentMs, endMs, lost, text }) => ({ sentMs, endMs, lost, text }))
    expect(seen(before).some(m => m.lost)).toBe(true)
    expect(seen(after)).toEqual(seen(before))
  })
  it('the same seed gives the same trace, byte for byte; another seed another', () => {
    const run = (seed: number) =>
      JSON.stringify(runScript(glazeRoom(), { seed, steps: steps(glazeRoom(), 40_000) }).trace)
    expect(run(4)).toBe(run(4))
    expect(run(5)).not.toBe(run(4))
  })
  it('names make different streams of one seed', () => {
    expect(new Set(['a', 'b', 'link a', 'link b', ''].map(n => streamSeed(1, n))).size).toBe(5)
    expect(streamSeed(1, 'a')).not.toBe(streamSeed(2, 'a'))
  })
})

describe('contacts that bounce', () => {
  it('settle within 5 ms at the level that they were brought to, with edges in rising order', () => {
    const random = seededRandom(3)
    for (let n = 0; n < 500; n++) {
      const edges = bounces(random, 0)
      expect(edges.length % 2).toBe(0)
      edges.forEach((e, i) => {
        expect(e.afterMs).toBeGreaterThan(edges[i - 1]?.afterMs ?? 0)
        expect(e.afterMs).toBeLessThanOrEqual(LONGEST_BOUNCE_MS)
      })
      if (edges.length) expect(edges.at(-1)?.level).toBe(0)
    }
  })
  it('press once where they are debounced, and several times where they are not', () => {
    const moves = (debounceMs: number) =>
      runScript(
        edited(fanDesign(), {
          type: 'setControl',
          controlId: 'fan-button',
          patch: { debounceMs, lockoutMs: 0 },
        }),
        {
          seed: 2,
          steps: [
            { atMs: 0, action: { do: 'contacts', bounce: true } },
            ...Array.from({ length: 20 }, (_, i) => ({
              atMs: 1000 * (i + 1),
              action: { do: 'press' as const, controlId: 'fan-button' },
            })),
          ],
          untilMs: 30_000,
        },
      ).trace.moves.fan
    expect(moves(30)).toBe(20)
    expect(moves(0)).toBeGreaterThan(25)
  })
})

describe('faults beyond links and power', () => {
  it('a box that starts anew knows nothing, says so, and moves nothing', () => {
    const lines = over(
      edited(fanDesign(), {
        type: 'setLink',
        linkId: 'phone-link',
        patch: { dialect: { kind: 'pairs', terminator: 'lf' }, restartMark: 'fresh' },
      }),
      'peer',
    )
    const design = {
      ...lines,
      links: lines.links.map(l => (l.kind === 'peer' ? { ...l, restartMark: 'fresh' } : l)),
    }
    const bench = runScript(design, {
      seed: 1,
      steps: [
        { atMs: 1000, action: { do: 'press', controlId: 'fan-button' } },
        { atMs: 3000, action: { do: 'restartBox', surfaceId: 'phone' } },
      ],
      untilMs: 3400,
    })
    expect(bench.shown('phone', 'fan')).toBe('unknown')
    bench.advance(9000)
    expect(
      bench.trace.messages.filter(m => m.dir === 'up' && m.sentMs > 3000).map(m => m.shown),
    ).toContain('fresh\\n')
    expect(bench.trace.moves.fan).toBe(1)
  })
  it('what it hears after that counts, though it is the same as before', () => {
    const design = edited(twoPanelDesign(), { type: 'setPoll', surfaceId: 'browser', pollMs: 1000 })
    const bench = runScript(design, {
      seed: 1,
      steps: [{ atMs: 3500, action: { do: 'restartBox', surfaceId: 'browser' } }],
      untilMs: 9000,
    })
    expect([bench.shown('browser', 'fan'), bench.value('fan')]).toEqual(['off', 'off'])
  })
  it('a link that somebody else holds is refused until they leave; while our phone holds it they are', () => {
    const bench = new Bench(fanDesign(), 1)
    bench.act({ do: 'strangerOn', linkId: 'phone-link' })
    expect([bench.linkState('phone-link').taken, bench.figures.traffic[0]?.refused]).toEqual([
      false,
      1,
    ])
    for (const [t, action] of [
      [1000, { do: 'linkDown', linkId: 'phone-link' }],
      [2000, { do: 'strangerOn', linkId: 'phone-link' }],
      [3000, { do: 'linkUp', linkId: 'phone-link' }],
    ] as const) {
      bench.advance(t)
      bench.act(action)
    }
    bench.advance(10_000)
    expect(bench.linkState('phone-link')).toMatchObject({ up: false, taken: true })
    bench.act({ do: 'strangerOff', linkId: 'phone-link' })
    bench.advance(12_000)
    expect(bench.linkState('phone-link')).toMatchObject({ up: true, taken: false })
  })
  it('a board in front that stops takes the network links with it, and no other', () => {
    const bench = new Bench(twoPanelDesign(), 1)
    bench.act({ do: 'frontDown' })
    expect([
      bench.linkState('phone-link').up,
      bench.linkState('browser-link').up,
      bench.frontDown,
    ]).toEqual([true, false, true])
    bench.act({ do: 'frontUp' })
    bench.advance(5000)
    expect(bench.linkState('browser-link').up).toBe(true)
  })
  it('a knob that is turned, and a remote whose key is held', () => {
    const room = showroom()
    const dimmer = room.loads.find(l => l.output.kind === 'level')!
    const whole = edited(
      room,
      { type: 'addSensor', kind: 'knob', name: 'Dial', loadId: dimmer.id },
      { type: 'addSensor', kind: 'infrared', name: 'Eye' },
      {
        type: 'setSensor',
        sensorId: 'eye',
        patch: { keys: [{ address: 1, command: 2, loadId: dimmer.id, asks: 'up' }] },
      },
    )
    const withKnob = partOf(whole, room.controllers[0]!.id)
    const values = loadOf(withKnob, dimmer.id).output
    const bench = new Bench(withKnob, 1)
    bench.act({ do: 'turn', sensorId: 'dial', detents: 2 })
    bench.advance(1000)
    expect(bench.value(dimmer.id)).toBe(values.kind === 'level' ? String(values.stops[2]) : '')
    bench.act({ do: 'turn', sensorId: 'dial', detents: -1 })
    bench.advance(2000)
    expect(bench.value(dimmer.id)).toBe(values.kind === 'level' ? String(values.stops[1]) : '')
    bench.act({ do: 'remote', sensorId: 'eye', key: 0, repeats: 1 })
    bench.advance(3000)
    expect(bench.value(dimmer.id)).toBe(values.kind === 'level' ? String(values.stops[3]) : '')
  })
  it('power that goes during a write of memory leaves the value before it', () => {
    const design = edited(fanDesign(), {
      type: 'setOutput',
      loadId: 'fan',
      patch: { powerUp: 'last', saveDelayMs: 1000 },
    })
    const after = (cutMs: number) => {
      const bench = runScript(design, {
        seed: 1,
        steps: [
          { atMs: 1000, action: { do: 'press', controlId: 'fan-button' } },
          { atMs: cutMs, action: { do: 'powerOff' } },
          { atMs: cutMs + 100, action: { do: 'powerOn' } },
        ],
        untilMs: 9000,
      })
      return bench.value('fan')
    }
    // Pressed at 1000, on at 1030, the write begins at 2030 and takes 20 ms.
    expect([after(2029), after(2049), after(2051)]).toEqual(['off', 'off', 'on'])
  })
  it('lines are not driven without power, and rest at what their pin does until the program drives them', () => {
    const { trace } = runScript(fanDesign(), {
      seed: 1,
      steps: [
        { atMs: 1000, action: { do: 'powerOff' } },
        { atMs: 2000, action: { do: 'powerOn' } },
      ],
      untilMs: 9000,
    })
    expect(trace.lines.fan?.[0]?.map(c => [c.t, c.level])).toEqual([
      [0, 1],
      [1000, null],
      [3900, 1],
    ])
  })
})

describe('weeks of use', () => {
  const profile = { ...newProfile(glazeRoom()), days: 4 }
  it('the same profile gives the same report, however it is sliced, and keeps no trace', () => {
    const whole = new ProfileRun(glazeRoom(), profile)
    while (!whole.run(1_000_000)) {
      /* on */
    }
    const sliced = new ProfileRun(glazeRoom(), profile)
    while (!sliced.run(997)) {
      /* on */
    }
    expect(sliced.report()).toEqual(whole.report())
    expect(
      whole.bench.trace.messages.length
        + whole.bench.trace.marks.length
        + whole.bench.recorded.length,
    ).toBe(0)
  })
  it('days sum up to the run, and presses come as often as asked for', () => {
    const run = new ProfileRun(glazeRoom(), { ...profile, days: 20 })
    while (!run.run(100_000)) {
      /* on */
    }
    const { surfaces, loads, memoryWritesADay } = run.report()
    const { figures } = run.bench
    expect(memoryWritesADay.mean * 20).toBeCloseTo(figures.memoryWrites, 6)
    loads.forEach((l, i) => expect(l.movesADay.mean * 20).toBeCloseTo(figures.moves[i]!, 6))
    surfaces.forEach((s, i) =>
      expect(s.wrongSecondsADay.mean * 20).toBeCloseTo(
        glazeRoom().loads.reduce((sum, _, load) => sum + figures.wrongMs(i, load, 20 * DAY_MS), 0)
          / 1000,
        3,
      ),
    )
    // Twenty a day asked for; a key does nothing while its panel knows that it is not connected.
    for (const s of surfaces) {
      expect(s.pressesADay.mean).toBeLessThan(25)
      expect(s.pressesADay.mean).toBeGreaterThan(13)
    }
  })
  it('nobody presses and nothing fails: nothing is wrong', () => {
    const run = new ProfileRun(twoPanelDesign(), {
      ...newProfile(twoPanelDesign()),
      days: 2,
      pressesADay: {},
      outagesAWeek: 0,
      powerCutsAMonth: 0,
    })
    while (!run.run(100_000)) {
      /* on */
    }
    expect(run.report().surfaces.map(s => s.pressesADay.mean)).toEqual([0, 0])
    expect(run.report().loads[0]).toMatchObject({ cyclesADay: { mean: 0 }, movesADay: { mean: 0 } })
  })
})
