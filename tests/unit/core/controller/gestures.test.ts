/**
 * Gestures of a push button, by hand-worked times. Debounce 30 ms, second press within 350 ms, held
 * from 700 ms.
 */
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Bench, runScript } from '../../../../core/bench/bench'
import { finger } from '../../../../core/bench/fingers'
import { check } from '../../../../core/checks/check'
import { sheet } from '../../../../core/checks/sheet'
import { compileController } from '../../../../core/controller/program'
import {
  nextDue,
  startController,
  step,
  type ControllerState,
  type Level,
} from '../../../../core/controller/step'
import { applyEdit } from '../../../../core/design/edits/edits'
import type { Control, Design, Gesture } from '../../../../core/design/schema'
import { kindEdit } from '../../../../core/messages/kinds'
import { prove } from '../../../../core/proof/prove'
import { edited, fanDesign } from '../../../fixtures/designs'

type Push = Extract<Control, { kind: 'push' }>
type Other = Exclude<Gesture, 'single'>
const LAMPS: Record<Other, string> = { double: 'two', triple: 'three', hold: 'held' }
const button = (design: Design) =>
  design.surfaces.flatMap(s => (s.kind === 'hand' ? s.controls : []))[0] as Push

/** The fan's button once for the fan; each further gesture for a lamp of its own. */
function withGestures(
  known: readonly Other[],
  patch: Partial<Pick<Push, 'debounceMs' | 'lockoutMs' | 'doubleMs' | 'holdMs'>> = {},
): Design {
  return edited(
    fanDesign(),
    ...Object.values(LAMPS).map(id => ({ type: 'addLoad' as const, name: id })),
    {
      type: 'setControl',
      controlId: 'fan-button',
      patch: {
        lockoutMs: 0,
        ...patch,
        gestures: known.map(on => ({ on, loadId: LAMPS[on], asks: 'toggle' })),
      },
    },
  )
}

/** What acts when: "380 fan". Edges as [ms, level]; every due moment gets its tick. */
function played(
  design: Design,
  edges: readonly (readonly [number, Level])[],
  untilMs = 5000,
  startMs = 0,
): string[] {
  const program = compileController(design)
  const at = (t: number) => (startMs + t) >>> 0
  let state: ControllerState = step(program, startController(program), {
    kind: 'boot',
    now: at(0),
    levels: program.inputs.map(() => 1),
  }).state
  const said: string[] = []
  const handle = (t: number, event: Parameters<typeof step>[2]) => {
    const before = state.value
    state = step(program, state, event).state
    state.value.forEach((v, i) => {
      if (v !== before[i]) said.push(`${t} ${program.loads[i]!.id}`)
    })
  }
  const ticks = (until: number) => {
    for (
      let due = nextDue(state);
      due !== null && ((at(until) - due) | 0) >= 0;
      due = nextDue(state)
    )
      handle((due - startMs) >>> 0, { kind: 'tick', now: due })
  }
  for (const [t, level] of edges) {
    ticks(t)
    handle(t, { kind: 'pin', now: at(t), input: 0, level })
  }
  ticks(untilMs)
  return said
}
const press = (t: number, ms = 100): [number, Level][] => [
  [t, 0],
  [t + ms, 1],
]

describe('gestures, to the millisecond', () => {
  const cases: [string, Other[], [number, Level][], string[]][] = [
    ['one gesture: at the press, after its debounce', [], press(100), ['130 fan']],
    [
      'once, where a second press may follow: when its time is over',
      ['double'],
      press(100),
      ['450 fan'],
    ],
    ['twice: at the second press', ['double'], [...press(100), ...press(449)], ['479 two']],
    [
      'the second press one millisecond too late: two single ones',
      ['double'],
      [...press(100), ...press(450)],
      ['450 fan', '800 fan'],
    ],
    [
      'held longer than the time between presses, without a hold: the first edge counts',
      ['double'],
      press(100, 600),
      ['450 fan'],
    ],
    [
      'twice, where a third may follow: when its time is over',
      ['double', 'triple'],
      [...press(100), ...press(300)],
      ['650 two'],
    ],
    [
      'three times: at the third press',
      ['double', 'triple'],
      [...press(100), ...press(300), ...press(500)],
      ['530 three'],
    ],
    [
      'twice, where only three times means something: nothing',
      ['triple'],
      [...press(100), ...press(300)],
      [],
    ],
    [
      'four times, where two mean something: twice two',
      ['double'],
      [...press(100), ...press(300), ...press(500), ...press(700)],
      ['330 two', '730 two'],
    ],
    ['held down: at its time, still pressed', ['hold'], press(100, 1000), ['800 held']],
    ['let go before: at the release, after its debounce', ['hold'], press(100, 200), ['330 fan']],
    [
      'let go one millisecond before the hold: no hold, though the debounce ends after it',
      ['hold'],
      press(100, 699),
      ['829 fan'],
    ],
    ['let go at the moment of the hold: held', ['hold'], press(100, 700), ['800 held']],
    [
      'a bounce over the moment of the hold: held, once it is over',
      ['hold'],
      [
        [100, 0],
        [795, 1],
        [805, 0],
        [1500, 1],
      ],
      ['805 held'],
    ],
    [
      'held down, where a second press may follow',
      ['double', 'hold'],
      press(100, 1000),
      ['800 held'],
    ],
    [
      'let go after the time for a second press, before the hold: at the release',
      ['double', 'hold'],
      press(100, 500),
      ['630 fan'],
    ],
    [
      'let go early: when the time for a second press is over',
      ['double', 'hold'],
      press(100, 100),
      ['450 fan'],
    ],
    [
      'the second press stays down: twice, and no hold',
      ['double', 'triple', 'hold'],
      [...press(100), ...press(300, 2000)],
      ['650 two'],
    ],
    [
      'a bounce at the second press: its first edge counts, the last one debounces',
      ['double'],
      [...press(100), [445, 0], [450, 1], [455, 0], [600, 1]],
      ['450 fan', '805 fan'],
    ],
    [
      'a second press that was a bounce only',
      ['double'],
      [...press(100), [440, 0], [460, 1]],
      ['460 fan'],
    ],
  ]
  it.each(cases)('%s', (_, known, edges, expected) => {
    expect(played(withGestures(known), edges)).toEqual(expected)
    expect(played(withGestures(known), edges, 5000, 2 ** 32 - 450)).toEqual(expected)
  })
  it('lock-out counts from the last press of a gesture that is complete, and not within it', () => {
    const design = withGestures(['double'], { lockoutMs: 600 })
    expect(played(design, [...press(100), ...press(300), ...press(899), ...press(1600)])).toEqual([
      '330 two',
      '1950 fan',
    ])
    expect(played(design, [...press(100), ...press(300), ...press(900)])).toEqual([
      '330 two',
      '1250 fan',
    ])
  })
  it('a cut in the middle forgets what was begun', () => {
    const program = compileController(withGestures(['double']))
    let state = step(program, startController(program), { kind: 'boot', now: 0, levels: [1] }).state
    state = step(program, state, { kind: 'pin', now: 10, input: 0, level: 0 }).state
    state = step(program, state, { kind: 'tick', now: 40 }).state
    expect(nextDue(state)).toBe(360)
    state = step(program, step(program, state, { kind: 'powerOff', now: 50 }).state, {
      kind: 'boot',
      now: 60,
      levels: [1],
    }).state
    expect(nextDue(state)).toBeNull()
  })
})

describe('gestures made by a finger on the bench', () => {
  it('act as meant, after the time told, whatever the times of the button', () => {
    const known = fc.subarray<Other>(['double', 'triple', 'hold'])
    fc.assert(
      fc.property(
        known,
        fc.constantFrom(0, 10, 30, 50),
        fc.integer({ min: 250, max: 900 }),
        fc.integer({ min: 300, max: 1500 }),
        (gestures, debounceMs, doubleMs, holdMs) => {
          const design = withGestures(gestures, { debounceMs, doubleMs, holdMs })
          for (const gesture of ['single', ...gestures] as const) {
            const { actsAfterMs } = finger(button(design), gesture)
            expect(actsAfterMs).toBeLessThan(Infinity)
            const meant = gesture === 'single' ? 'fan' : LAMPS[gesture]
            const { trace } = runScript(design, {
              seed: 1,
              steps: [{ atMs: 1000, action: { do: 'press', controlId: 'fan-button', gesture } }],
            })
            expect(Object.entries(trace.moves).filter(([, n]) => n > 0)).toEqual([[meant, 1]])
            expect(trace.truth[meant]?.at(-1)?.t).toBe(1000 + actsAfterMs)
          }
        },
      ),
      { numRuns: 60 },
    )
  })
  it('are told and marked by what they are for', () => {
    const bench = new Bench(withGestures(['double']))
    bench.act({ do: 'press', controlId: 'fan-button', gesture: 'double' })
    expect(bench.trace.marks.at(-1)).toMatchObject({
      words: 'press twice Fan for two',
      loadId: 'two',
    })
  })
})

describe('gestures in the design', () => {
  const design = withGestures(['double', 'hold'])
  it('reach their loads: in the sheet and in the findings', () => {
    expect(sheet(design, {}).map(r => r.cells[0]?.says ?? '-')).toEqual([
      'toggles',
      'press twice on Fan: toggles',
      '-',
      'hold down on Fan: toggles',
    ])
    expect(
      check(design)
        .findings.filter(f => f.code === 'load-unreached')
        .map(f => f.loadId),
    ).toEqual(['three'])
  })
  it('a load reached by a gesture is proved with it, and the story replays', () => {
    const deaf = edited(
      design,
      { type: 'addMessage', linkId: 'phone-link', loadId: 'two', codes: { on: 'T', off: 't' } },
      { type: 'setReport', linkId: 'phone-link', loadId: 'two', change: false },
    )
    const story = prove(deaf, 'two').surfaces[0]?.story
    expect(story?.steps.map(s => s.words)).toContain(
      'Somebody presses twice the button of Fan: two goes on',
    )
    expect(story?.script.steps.map(s => s.action)).toContainEqual({
      do: 'press',
      controlId: 'fan-button',
      gesture: 'double',
    })
    expect(story?.replayed).toBe(true)
  })
  it('go with their load, and where a load is on while held', () => {
    expect(
      button(edited(design, { type: 'removeLoad', loadId: 'two' })).gestures.map(g => g.on),
    ).toEqual(['hold'])
    expect(button(edited(design, kindEdit(design, 'two', 'held'))).gestures.map(g => g.on)).toEqual(
      ['hold'],
    )
    expect(button(edited(design, kindEdit(design, 'fan', 'held'))).gestures).toEqual([])
    expect(button(edited(design, kindEdit(design, 'two', 'opposed'))).gestures[0]).toMatchObject({
      asks: 'forward',
    })
  })
  it.each<[string, Push['gestures'], string]>([
    [
      'twice the same',
      [
        { on: 'double', loadId: 'two', asks: 'on' },
        { on: 'double', loadId: 'two', asks: 'off' },
      ],
      '/surfaces/0/controls/0/gestures/1/on',
    ],
    [
      'a load that is not there',
      [{ on: 'double', loadId: 'nine', asks: 'on' }],
      '/surfaces/0/controls/0/gestures/0/loadId',
    ],
    [
      'what cannot be asked for',
      [{ on: 'hold', loadId: 'two', asks: 'reverse' }],
      '/surfaces/0/controls/0/gestures/0/asks',
    ],
  ])('%s is refused with its place', (_, gestures, path) => {
    const applied = applyEdit(design, {
      type: 'setControl',
      controlId: 'fan-button',
      patch: { gestures },
    })
    expect(applied.ok ? [] : applied.problems.map(p => p.path)).toEqual([path])
  })
  it('presses that nobody can make fast enough are found, and the fix mends it', () => {
    const hasty = withGestures(['double'], { debounceMs: 100, doubleMs: 150 })
    const found = check(hasty).findings.find(f => f.code === 'gesture-hasty')
    expect(check(edited(hasty, found!.fixes[0]!.edit)).findings.map(f => f.code)).not.toContain(
      'gesture-hasty',
    )
  })
})
