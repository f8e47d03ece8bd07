import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { compileController } from '../../../../core/controller/program'
import {
  nextDue,
  startController,
  step,
  type ControllerState,
} from '../../../../core/controller/step'
import type { Design } from '../../../../core/design/schema'
import { DIALECTS, edited, fanDesign, speaking } from '../../../fixtures/designs'

const TIMERS = { onDelayMs: 400, offDelayMs: 1000, blinkMs: 250 }
/**
 * Times and codes of the timers: "fan after", "fan for", "fan blink", each with a time of its own
 * behind it where wanted.
 */
const timed = (powerUp: 'off' | 'last' = 'off'): Design =>
  edited(
    speaking(fanDesign(), { ...DIALECTS.lines!, template: '{load} {value}' } as never),
    { type: 'setOutput', loadId: 'fan', patch: { timers: TIMERS, powerUp, saveDelayMs: 0 } },
    ...(['after', 'for', 'blink'] as const).map(which => ({
      type: 'renameCode' as const,
      linkId: 'phone-link',
      loadId: 'fan',
      which,
      code: `fan ${which}`,
    })),
  )

/**
 * Says texts at their times and tells when the output moved: "on@500". `start` moves the whole
 * along the clock.
 */
function moves(design: Design, says: [number, string][], until: number, start = 0): string[] {
  const program = compileController(design)
  let state: ControllerState = step(program, startController(program), {
    kind: 'boot',
    now: start,
    levels: [1],
  }).state
  state = step(program, state, { kind: 'linkUp', now: start, link: 0 }).state
  const seen: string[] = []
  let value = state.value[0]
  const look = (t: number) => {
    if (state.value[0] !== value) seen.push(`${state.value[0]}@${t}`)
    value = state.value[0]
  }
  for (let t = 0; t <= until; t++) {
    const now = (start + t) >>> 0
    const due = nextDue(state)
    if (due !== null && ((now - due) | 0) >= 0)
      state = step(program, state, { kind: 'tick', now }).state
    look(t)
    for (const [at, text] of says)
      if (at === t)
        state = step(program, state, { kind: 'received', now, link: 0, text: `${text}\n` }).state
    look(t)
  }
  return seen
}

describe('timers of a switched load, worked by hand', () => {
  const cases: [string, [number, string][], number, string[]][] = [
    ['on-delay: on when 400 ms have passed', [[100, 'fan after']], 900, ['on@500']],
    [
      'on-delay said again: it goes on, not anew',
      [
        [100, 'fan after'],
        [300, 'fan after'],
      ],
      900,
      ['on@500'],
    ],
    [
      'on-delay ended by off',
      [
        [100, 'fan after'],
        [499, 'fan off'],
      ],
      900,
      [],
    ],
    [
      'on-delay done, then off',
      [
        [100, 'fan after'],
        [700, 'fan off'],
      ],
      900,
      ['on@500', 'off@700'],
    ],
    ['off-delay: on at once, off a second later', [[100, 'fan for']], 1500, ['on@100', 'off@1100']],
    [
      'off-delay said again: anew',
      [
        [100, 'fan for'],
        [900, 'fan for'],
      ],
      2500,
      ['on@100', 'off@1900'],
    ],
    [
      'off-delay over steady: steady stays',
      [
        [100, 'fan on'],
        [200, 'fan for'],
      ],
      1500,
      ['on@100'],
    ],
    [
      'blink: high first, 250 ms each way',
      [[100, 'fan blink']],
      900,
      ['on@100', 'off@350', 'on@600', 'off@850'],
    ],
    [
      'blink ended at once',
      [
        [100, 'fan blink'],
        [400, 'fan off'],
      ],
      900,
      ['on@100', 'off@350'],
    ],
    [
      'all OR-ed: the off-delay bridges the gap of the blink',
      [
        [100, 'fan blink'],
        [200, 'fan for'],
      ],
      1450,
      ['on@100', 'off@1350'],
    ],
    ['a time of its own', [[100, 'fan for 300']], 900, ['on@100', 'off@400']],
    [
      'another time while it runs, from its start',
      [
        [100, 'fan after'],
        [300, 'fan after 700'],
      ],
      1200,
      ['on@800'],
    ],
    [
      'another time that has passed already: at once',
      [
        [100, 'fan after 900'],
        [300, 'fan after 100'],
      ],
      1200,
      ['on@301'],
    ],
    [
      'a time out of its limits is not understood',
      [
        [100, 'fan for 49'],
        [200, 'fan blink 60001'],
        [300, 'fan on 500'],
      ],
      900,
      [],
    ],
  ]
  it.each(cases)('%s', (_, says, until, expected) =>
    expect(moves(timed(), says, until)).toEqual(expected),
  )
  it('over the wrap of the clock the same', () => {
    for (const [, says, until, expected] of cases)
      expect(moves(timed(), says, until, 2 ** 32 - 450)).toEqual(expected)
  })
  it('after a power cut a timer is gone, and with it what was on by it alone', () => {
    const program = compileController(timed('last'))
    let state = step(program, startController(program), { kind: 'boot', now: 0, levels: [1] }).state
    state = step(program, state, { kind: 'linkUp', now: 1, link: 0 }).state
    state = step(program, state, { kind: 'received', now: 10, link: 0, text: 'fan for\n' }).state
    state = step(program, state, { kind: 'memoryDone', now: 15 }).state
    state = step(program, step(program, state, { kind: 'powerOff', now: 20 }).state, {
      kind: 'boot',
      now: 30,
      levels: [1],
    }).state
    expect([state.value[0], state.memory[0], nextDue(state)]).toEqual(['off', 'off', null])
  })
  it('whatever is said, off ends it all', () => {
    const word = fc.constantFrom(
      'fan on',
      'fan after',
      'fan for',
      'fan blink',
      'fan for 60',
      'fan blink 70',
    )
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat({ max: 1500 }), word), { maxLength: 8 }), says => {
        const seen = moves(timed(), [...says, [1600, 'fan off']], 4000)
        expect(seen.filter(s => Number(s.split('@')[1]) > 1600)).toEqual([])
        expect(seen.at(-1)?.startsWith('on') ?? false).toBe(false)
      }),
      { numRuns: 40 },
    )
  })
  it('timers taken away take their codes and wishes along', () => {
    const bare = edited(timed(), { type: 'setOutput', loadId: 'fan', patch: { timers: null } })
    expect(Object.keys(bare.links[0]!.messages[0]!.codes)).toEqual(['on', 'off', 'toggle'])
  })
})
