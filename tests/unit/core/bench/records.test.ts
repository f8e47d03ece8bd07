import fc from 'fast-check'
import Papa from 'papaparse'
import { describe, expect, it } from 'vitest'
import { runScript } from '../../../../core/bench/bench'
import { drillsFor, judged, runDrill } from '../../../../core/bench/drills'
import { traceCsv, traceVcd } from '../../../../core/bench/export'
import {
  expectedWires,
  guessRoles,
  readRecording,
  study,
  BadRecording,
} from '../../../../core/bench/recording'
import {
  scriptSchema,
  type Action,
  type BenchScript,
  type Expectation,
} from '../../../../core/bench/script'
import { BadScript, readScript, scriptText } from '../../../../core/bench/script-text'
import { busySteps } from '../../../../core/bench/busy'
import { partOf } from '../../../../core/design/part'
import type { Design } from '../../../../core/design/schema'
import {
  anySmallDesign,
  edited,
  fanDesign,
  glazeRoom,
  kilnCorridor,
  showroom,
  starter,
  twoPanelDesign,
} from '../../../fixtures/designs'

const id = fc.constantFrom('fan', 'wheel-lights', 'apron-phone', 'x2')
const anyAction: fc.Arbitrary<Action> = fc.oneof(
  fc.record({ do: fc.constant('press' as const), controlId: id }),
  fc.record({
    do: fc.constant('press' as const),
    controlId: id,
    gesture: fc.constantFrom('double' as const, 'triple' as const, 'hold' as const),
  }),
  fc.record({ do: fc.constantFrom('hold' as const, 'letGo' as const), controlId: id }),
  fc
    .record({
      do: fc.constantFrom('key' as const, 'slide' as const),
      surfaceId: id,
      loadId: id,
      want: fc.constantFrom('on', 'flip', '50', 'for:5000'),
    })
    .map(a => (a.do === 'slide' ? { ...a, want: '50' } : a)),
  fc.record({ do: fc.constant('scene' as const), surfaceId: id, sceneId: id }),
  fc.record({
    do: fc.constant('sense' as const),
    sensorId: id,
    raw: fc.array(fc.integer({ min: -100, max: 9000 }), { minLength: 1, maxLength: 2 }),
  }),
  fc.record({
    do: fc.constant('turn' as const),
    sensorId: id,
    detents: fc.integer({ min: -100, max: 100 }),
  }),
  fc.record({
    do: fc.constant('remote' as const),
    sensorId: id,
    key: fc.nat({ max: 59 }),
    repeats: fc.nat({ max: 9 }),
  }),
  fc.record({
    do: fc.constantFrom(
      'linkDown' as const,
      'linkUp' as const,
      'loseNext' as const,
      'doubleNext' as const,
      'replay' as const,
      'strangerOn' as const,
      'strangerOff' as const,
    ),
    linkId: id,
  }),
  fc.record({ do: fc.constant('restartBox' as const), surfaceId: id }),
  fc.record({ do: fc.constant('contacts' as const), bounce: fc.boolean() }),
  fc.record({
    do: fc.constantFrom(
      'routerDown' as const,
      'routerUp' as const,
      'powerOff' as const,
      'powerOn' as const,
      'restart' as const,
      'frontDown' as const,
      'frontUp' as const,
    ),
  }),
)
const ms = fc.nat({ max: 60_000 })
const anyExpectation: fc.Arbitrary<Expectation> = fc.oneof(
  fc.record({
    kind: fc.constant('shows' as const),
    atMs: ms,
    withinMs: ms,
    surfaces: fc.uniqueArray(id, { maxLength: 3 }),
    loadId: id,
    value: fc.constantFrom('on', 'truth', '50'),
  }),
  fc.record({
    kind: fc.constant('is' as const),
    atMs: ms,
    withinMs: ms,
    loadId: id,
    value: fc.constantFrom('on', 'off'),
  }),
  fc.record({ kind: fc.constant('stays' as const), fromMs: ms, toMs: ms, loadId: id }),
)
const when = (e: Expectation) => (e.kind === 'stays' ? e.fromMs : e.atMs)
const anyScript: fc.Arbitrary<BenchScript> = fc
  .record({
    seed: fc.nat(),
    steps: fc
      .array(fc.record({ atMs: ms, action: anyAction }), { maxLength: 20 })
      .map(list => list.toSorted((a, b) => a.atMs - b.atMs)),
  })
  .chain(base =>
    fc
      .record({
        untilMs: fc.option(ms, { nil: undefined }),
        expects: fc.option(
          fc
            .array(anyExpectation, { minLength: 1, maxLength: 6 })
            .map(list => list.toSorted((a, b) => when(a) - when(b))),
          { nil: undefined },
        ),
        fates: fc.option(
          fc.dictionary(
            fc.constantFrom('apron-link up 3', 'x down 0'),
            fc.oneof(
              fc.constant('lost' as const),
              ms,
              fc.array(ms, { minLength: 2, maxLength: 4 }),
            ),
            { minKeys: 1 },
          ),
          { nil: undefined },
        ),
      })
      .map(more => JSON.parse(JSON.stringify({ ...base, ...more })) as BenchScript),
  )

describe('scripts as plain text', () => {
  it('what is written is read back equal, whatever it is', () => {
    fc.assert(
      fc.property(anyScript, script => {
        expect(readScript(scriptText(script, 'an evening'))).toEqual(scriptSchema.parse(script))
      }),
      { numRuns: 400 },
    )
  })
  it('reads as a person would tell it', () => {
    const script: BenchScript = {
      seed: 7,
      steps: [
        { atMs: 1000, action: { do: 'press', controlId: 'fan-button' } },
        { atMs: 2500, action: { do: 'linkDown', linkId: 'phone-link' } },
      ],
      expects: [
        { kind: 'shows', atMs: 1000, withinMs: 300, surfaces: [], loadId: 'fan', value: 'on' },
      ],
      untilMs: 9000,
    }
    expect(scriptText(script, 'Phone away')).toBe(
      '# Phone away\nseed 7\nat 1 s press fan-button\nat 1 s within 300 ms everybody shows fan on\nat 2.5 s link phone-link down\nuntil 9 s\n',
    )
  })
  it.each([
    ['at noon press x', /line 1: a line is/],
    ['seed 1\nat 1 s dance', /line 2: "dance" is nothing that can be done/],
    ['at 1 s link a sideways', /nothing that can be done/],
    ['until later s', /no time in seconds/],
    ['at 1 s press x quadruple', /line 1/],
    ['at 1.23456 s power off', /a line is/],
    ['at 99999 s power off', /86400000|small|<=/i],
  ])('%j is refused with its line', (text, words) => {
    expect(() => readScript(text)).toThrow(BadScript)
    expect(() => readScript(text)).toThrow(words)
  })
  it('a stranger plays an earlier command: written, read back, and sent', () => {
    const design = edited(fanDesign(), {
      type: 'setLink',
      linkId: 'phone-link',
      patch: { timing: { minMs: 20, typicalMs: 20, p99Ms: 20 } },
    })
    const key = (atMs: number): BenchScript['steps'][number] => ({
      atMs,
      action: { do: 'key', surfaceId: 'phone', loadId: 'fan', want: 'flip' },
    })
    const script = (back?: number): BenchScript => ({
      seed: 1,
      steps: [
        key(1000),
        key(3000),
        { atMs: 6000, action: { do: 'replay', linkId: 'phone-link', ...(back ? { back } : {}) } },
      ],
      untilMs: 8000,
    })
    expect(scriptText(script(1))).toContain('at 6 s link phone-link replays 1 back\n')
    for (const back of [undefined, 1]) {
      expect(readScript(scriptText(script(back)))).toEqual(script(back))
      // On, off, and then once more what was said last, or what was said before it.
      expect(runScript(design, script(back)).value('fan'), String(back)).toBe(back ? 'on' : 'off')
    }
  })
  it('a recorded session replays exactly, through text', () => {
    const design = glazeRoom()
    const first = runScript(design, {
      seed: 4,
      steps: busySteps(design, 4, 20_000),
      untilMs: 30_000,
    })
    const again = runScript(
      design,
      readScript(scriptText({ seed: 4, steps: first.recorded, untilMs: 30_000 })),
    )
    expect(JSON.stringify(again.trace)).toBe(JSON.stringify(first.trace))
  })
})

describe('expectations', () => {
  const run = (expects: Expectation[]) => {
    const design = edited(fanDesign(), {
      type: 'setLink',
      linkId: 'phone-link',
      patch: { timing: { minMs: 20, typicalMs: 20, p99Ms: 20 } },
    })
    const { trace } = runScript(design, {
      seed: 1,
      steps: [{ atMs: 1000, action: { do: 'press', controlId: 'fan-button' } }],
      untilMs: 4000,
    })
    return expects.map(e => judged(design, trace, e))
  }
  it('are judged at their moment, by hand: pressed at 1000, on at 1030, shown at 1053', () => {
    const shows = (withinMs: number, value = 'on'): Expectation => ({
      kind: 'shows',
      atMs: 1000,
      withinMs,
      surfaces: [],
      loadId: 'fan',
      value,
    })
    expect(
      run([shows(52), shows(53), shows(53, 'truth'), shows(29, 'truth'), shows(53, 'off')]).map(
        h => h.held,
      ),
    ).toEqual([false, true, true, true, false])
    expect(
      run([
        { kind: 'is', atMs: 1000, withinMs: 29, loadId: 'fan', value: 'on' },
        { kind: 'is', atMs: 1000, withinMs: 30, loadId: 'fan', value: 'on' },
      ]).map(h => h.held),
    ).toEqual([false, true])
    expect(
      run([
        { kind: 'stays', fromMs: 0, toMs: 1029, loadId: 'fan' },
        { kind: 'stays', fromMs: 0, toMs: 1030, loadId: 'fan' },
        { kind: 'stays', fromMs: 1030, toMs: 4000, loadId: 'fan' },
      ]).map(h => h.held),
    ).toEqual([true, false, true])
  })
  it('say what was found instead', () => {
    const [held] = run([
      { kind: 'shows', atMs: 1000, withinMs: 40, surfaces: [], loadId: 'fan', value: 'on' },
    ])
    expect(held).toMatchObject({
      held: false,
      unsure: false,
      words: 'Everybody shows on for Fan at 1.04 s',
      found: 'Phone shows off; it is on',
    })
  })
})

describe('drills', () => {
  it.each([
    ['glaze room', glazeRoom()],
    ['starter', starter()],
    ['kiln corridor', kilnCorridor()],
    ['two panels', twoPanelDesign()],
    ['showroom', partOf(showroom(), showroom().controllers[0]!.id)],
  ] as const)('%s: there are some for every load, each a valid script that plays', (_, design) => {
    for (const load of design.loads) {
      const drills = drillsFor(design, load.id)
      expect(drills.length).toBeGreaterThanOrEqual(4)
      expect(new Set(drills.map(d => d.id)).size).toBe(drills.length)
      for (const drill of drills) {
        expect(scriptSchema.safeParse(drill.script).success).toBe(true)
        expect(readScript(scriptText(drill.script))).toEqual(scriptSchema.parse(drill.script))
        const { record } = runDrill(design, drill)
        expect(record.held.length).toBeGreaterThan(0)
      }
    }
  })
  it('find what the design gets wrong, and hold where it is right', () => {
    const keeps = (d: Design) =>
      edited(d, { type: 'setBelief', surfaceId: 'phone', patch: { onLoss: 'keep' } })
    const good = keeps(fanDesign())
    const silent = edited(good, { type: 'reportOnConnect', linkId: 'phone-link', onConnect: false })
    const away = (design: Design) =>
      runDrill(
        design,
        drillsFor(design, 'fan').find(d => d.id === 'away-phone')!,
      ).record
    expect(away(good).passed).toBe(true)
    expect(away(silent)).toMatchObject({
      passed: false,
      unsure: true,
      held: [{ held: false, unsure: true, found: 'Phone shows unknown; it is on' }],
    })
    const lost = runDrill(
      edited(good, { type: 'setPoll', surfaceId: 'phone', pollMs: 0 }),
      drillsFor(good, 'fan').find(d => d.id === 'lost-phone')!,
    ).record
    expect([lost.passed, lost.unsure]).toEqual([false, false])
  })
  it('any small design: the same drill gives the same record', () => {
    fc.assert(
      fc.property(anySmallDesign, design => {
        for (const drill of drillsFor(design, 'one').slice(0, 4))
          expect(runDrill(design, drill).record).toEqual(runDrill(design, drill).record)
      }),
      { numRuns: 25 },
    )
  })
})

describe('a run written down', () => {
  it('as a table: every change, message and action, by time', () => {
    const { trace } = runScript(fanDesign(), {
      seed: 1,
      steps: [{ atMs: 1000, action: { do: 'press', controlId: 'fan-button' } }],
    })
    const { data } = Papa.parse<Record<string, string>>(traceCsv(fanDesign(), trace).trim(), {
      header: true,
    })
    expect(data.map(r => Number(r.ms))).toEqual(
      data.map(r => Number(r.ms)).toSorted((a, b) => a - b),
    )
    expect(data.filter(r => r.what === 'contact').map(r => [r.ms, r.value])).toEqual([
      ['1000', 'closed'],
      ['1150', 'open'],
    ])
    expect(data.find(r => r.what === 'done')).toMatchObject({ ms: '1000', value: 'press Fan' })
    expect(data.filter(r => r.what === 'truth').map(r => [r.ms, r.value])).toEqual([
      ['0', 'off'],
      ['1030', 'on'],
    ])
  })
})

/**
 * Probe: a button that bounces at 1 s, a spike at 2 s, a press within the lock-out; the relay; the
 * serial lines.
 */
const PROBE = [
  'time,fan-button,fan,rx,tx',
  '0,1,1,1,1',
  '1,0,1,1,1',
  '1.0008,1,1,1,1',
  '1.0012,0,1,1,1',
  '1.032,0,0,1,1',
  '1.2,1,0,1,1',
  '1.25,0,0,1,1',
  '1.3,1,0,1,1',
  '2,0,0,1,1',
  '2.002,1,0,1,1',
  '3,1,0,0,1',
  '3.001,1,0,1,1',
  '3.03,1,0,1,0',
  '3.031,1,0,1,1',
  '4,1,0,0,1',
  '4.001,1,0,1,1',
  '6,1,1,1,1',
].join('\n')

describe('a recording of the real thing', () => {
  const design = edited(fanDesign(), {
    type: 'setControl',
    controlId: 'fan-button',
    patch: { debounceMs: 30, lockoutMs: 400 },
  })
  const recording = readRecording('probe.csv', PROBE)
  const roles = guessRoles(design, recording.wires)
  it('wires are known by their names', () => {
    expect(roles).toEqual([
      { is: 'contact', controlId: 'fan-button' },
      { is: 'line', loadId: 'fan', line: 0 },
      { is: 'toBoard', linkId: 'phone-link' },
      { is: 'fromBoard', linkId: 'phone-link' },
    ])
    expect(expectedWires(design)).toEqual(['fan-button', 'fan', 'rx', 'tx'])
  })
  it('finds bounces, ghost presses, a press in the lock-out, a line that moved by itself, a command without an answer: all put there by hand', () => {
    const { contacts, found } = study(design, recording, roles)
    expect(contacts).toEqual([
      {
        wire: 'fan-button',
        controlId: 'fan-button',
        presses: 1,
        longestBounceMs: expect.closeTo(1.2, 6) as number,
        debounceMs: 30,
        covers: true,
      },
    ])
    expect(found.map(f => [f.what, f.atSeconds])).toEqual([
      ['press ignored', 1.25],
      ['ghost press', 2],
      ['no answer', 4],
      ['moved by itself', 6],
    ])
    expect(found.find(f => f.what === 'ghost press')?.words).toBe(
      'closed for 2 ms, below the debounce of 30 ms',
    )
  })
  it('what the bench writes down has nothing odd in it', () => {
    const { trace } = runScript(design, {
      seed: 2,
      steps: [
        { atMs: 0, action: { do: 'contacts', bounce: true } },
        ...[1000, 2000, 3000].map(atMs => ({
          atMs,
          action: { do: 'press' as const, controlId: 'fan-button' },
        })),
      ],
      untilMs: 6000,
    })
    const own = readRecording('bench.vcd', traceVcd(design, trace, 6000))
    const { contacts, found } = study(design, own, guessRoles(design, own.wires))
    expect(contacts[0]).toMatchObject({ presses: 3, covers: true })
    expect(found.filter(f => f.what !== 'moved by itself')).toEqual([])
  })
  it.each([
    ['time\n0\n', /in each further column/],
    ['0,1\n1,x\n', /not a time in seconds and 1 levels/],
    ['0,1\n2,0\n1,1\n', /go back/],
    ['0,1\n1,1\n', /nothing moves/],
    ['$enddefinitions $end', /no \$timescale/],
  ])('%j is refused', (text, words) => {
    expect(() => readRecording('x', text)).toThrow(BadRecording)
    expect(() => readRecording('x', text)).toThrow(words)
  })
})
