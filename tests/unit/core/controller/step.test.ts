import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { compileController, type Program } from '../../../../core/controller/program'
import { respond } from '../../../../core/controller/respond'
import {
  nextDue,
  startController,
  step,
  type ControllerEvent,
  type ControllerState,
  type Effect,
  type Level,
} from '../../../../core/controller/step'
import { activeLevelOf, linesExclude } from '../../../../core/design/outputs/traits'
import type { Edit } from '../../../../core/design/edits/edits'
import type { Design } from '../../../../core/design/schema'
import { reportWord, valuesOf } from '../../../../core/design/values'
import {
  anySmallDesign,
  edited,
  fanDesign,
  glazeRoom,
  twoPanelDesign,
} from '../../../fixtures/designs'

/** A controller in the hand: events in, effects out, the clock set by the test. */
class Rig {
  readonly program: Program
  state: ControllerState
  constructor(
    readonly design: Design,
    public now = 0,
    levels: Level[] = [],
  ) {
    this.program = compileController(design)
    this.state = startController(this.program)
    this.boot(levels)
  }

  boot(levels: Level[] = []): Effect[] {
    return this.do({ kind: 'boot', now: this.now, levels })
  }
  do(event: ControllerEvent): Effect[] {
    const { state, effects } = step(this.program, this.state, event)
    this.state = state
    if (effects.some(e => e.kind === 'save')) this.do({ kind: 'memoryDone', now: event.now })
    return effects
  }

  /** Let time pass, ticking when the controller wants to. */
  wait(ms: number): Effect[] {
    const effects: Effect[] = []
    const end = this.now + ms
    for (
      let due = nextDue(this.state);
      due !== null && due - (this.now >>> 0) <= ms;
      due = nextDue(this.state)
    ) {
      const passed = (due - (this.now >>> 0)) >>> 0
      if (this.now + passed > end) break
      this.now += passed
      effects.push(...this.do({ kind: 'tick', now: this.now }))
    }
    this.now = end
    return effects
  }

  pin(level: Level, input = 0): Effect[] {
    return this.do({ kind: 'pin', now: this.now, input, level })
  }
  press(input = 0): Effect[] {
    return [...this.pin(0, input), ...this.wait(100), ...this.pin(1, input), ...this.wait(100)]
  }
  hear(text: string, link = 0): Effect[] {
    return this.do({ kind: 'received', now: this.now, link, text })
  }
  up(link = 0): Effect[] {
    return this.do({ kind: 'linkUp', now: this.now, link })
  }
  get on(): boolean {
    return this.state.value[0] === 'on'
  }
}
const sends = (effects: Effect[]) =>
  effects.flatMap(e =>
    e.kind === 'send' ? [e.text] : e.kind === 'reply' ? [`${e.status} ${e.text}`] : [],
  )
const fan = (...edits: Edit[]) => edited(fanDesign(), ...edits)

describe('push button', () => {
  it('toggles once it was stable for the debounce time', () => {
    const rig = new Rig(fan())
    rig.pin(0)
    expect(rig.wait(29)).toEqual([])
    expect(rig.wait(1)).toContainEqual({ kind: 'pin', load: 0, line: 0, level: 0 })
    expect(rig.on).toBe(true)
  })
  it('counts one press however the contact bounces', () => {
    const rig = new Rig(fan())
    for (const level of [0, 1, 0, 1, 0] as const) {
      rig.pin(level)
      rig.wait(7)
    }
    rig.wait(200)
    expect(rig.on).toBe(true)
    for (const level of [1, 0, 1, 0, 1] as const) {
      rig.pin(level)
      rig.wait(7)
    }
    rig.wait(400)
    expect(rig.on).toBe(true)
  })
  it('is deaf during the lock-out, counted from the first edge of the accepted press', () => {
    const rig = new Rig(fan())
    rig.press()
    rig.wait(50)
    rig.press()
    expect(rig.on).toBe(true)
    rig.wait(60)
    rig.press()
    expect(rig.on).toBe(false)
  })
  it('a touch shorter than the debounce is nothing', () => {
    const rig = new Rig(fan())
    rig.pin(0)
    rig.wait(20)
    rig.pin(1)
    rig.wait(500)
    expect(rig.on).toBe(false)
  })
  it('works across the wrap of the 32-bit clock', () => {
    const rig = new Rig(fan(), 2 ** 32 - 15)
    rig.press()
    expect(rig.on).toBe(true)
  })
})

describe('latching switch', () => {
  const latching = (acts: 'position' | 'movement') =>
    fan(
      { type: 'removeControl', controlId: 'fan-button' },
      { type: 'addControl', surfaceId: 'wall', loadId: 'fan', kind: 'latching' },
      { type: 'setControl', controlId: 'fan-switch', patch: { acts } },
    )
  it('movement: each flip toggles, either way', () => {
    const rig = new Rig(latching('movement'))
    rig.pin(0)
    rig.wait(30)
    expect(rig.on).toBe(true)
    rig.hear('f')
    rig.pin(1)
    rig.wait(30)
    expect(rig.on).toBe(true)
  })
  it('position: closed is on, and a flip to what is already so does nothing', () => {
    const rig = new Rig(latching('position'))
    rig.hear('F')
    rig.pin(0)
    expect(rig.wait(30)).toEqual([])
    expect(rig.on).toBe(true)
    rig.pin(1)
    rig.wait(30)
    expect(rig.on).toBe(false)
  })
  it('a switch that is closed at the start moves nothing by itself', () => {
    for (const acts of ['position', 'movement'] as const) {
      const rig = new Rig(latching(acts), 0, [0])
      expect(rig.wait(1000)).toEqual([])
      expect(rig.on).toBe(false)
    }
  })
})

describe('reports', () => {
  it('a command is answered once, by the report of the change, with the state after it', () => {
    const rig = new Rig(fan())
    rig.up()
    expect(sends(rig.hear('F'))).toEqual(['+F'])
    expect(sends(rig.hear('F'))).toEqual(['+F'])
    expect(sends(rig.hear('f'))).toEqual(['+f'])
  })
  it('without an acknowledgement a command that changes nothing hears nothing', () => {
    const rig = new Rig(fan({ type: 'setReport', linkId: 'phone-link', loadId: 'fan', ack: false }))
    rig.up()
    expect(sends(rig.hear('F'))).toEqual(['+F'])
    expect(sends(rig.hear('F'))).toEqual([])
  })
  it('without report on change the wall button is not told', () => {
    const rig = new Rig(
      fan({ type: 'setReport', linkId: 'phone-link', loadId: 'fan', change: false }),
    )
    rig.up()
    expect(sends(rig.press())).toEqual([])
    expect(sends(rig.hear('F'))).toEqual(['+F'])
  })
  it('on connect: the whole state once; nothing where it is not designed or cannot be sensed', () => {
    expect(sends(new Rig(fan()).up())).toEqual(['+f'])
    expect(
      sends(new Rig(fan({ type: 'reportOnConnect', linkId: 'phone-link', onConnect: false })).up()),
    ).toEqual([])
    expect(
      sends(
        new Rig(fan({ type: 'setLink', linkId: 'phone-link', patch: { statusPin: null } })).up(),
      ),
    ).toEqual([])
  })
  it('a link that is down and knows it sends nothing; one that cannot know sends into the air', () => {
    expect(sends(new Rig(fan()).press())).toEqual([])
    expect(
      sends(
        new Rig(fan({ type: 'setLink', linkId: 'phone-link', patch: { statusPin: null } })).press(),
      ),
    ).toEqual(['+F'])
  })
  it('the question is answered with the whole state, a half code is forgotten with the link', () => {
    const rig = new Rig(glazeRoom())
    rig.up()
    expect(sends(rig.hear('E'))).toEqual(['+E'])
    expect(sends(rig.hear('?'))).toEqual(['+E+l+f+10'])
    const waits = new Rig(
      fan({ type: 'assignCodes', linkId: 'phone-link', codes: { fan: { on: '11', off: '10' } } }),
    )
    waits.up()
    waits.hear('1')
    waits.do({ kind: 'linkDown', now: 0, link: 0 })
    waits.up()
    waits.hear('1')
    expect(waits.on).toBe(false)
    waits.hear('1')
    expect(waits.on).toBe(true)
  })
  it('every panel hears of a change made by another', () => {
    const rig = new Rig(twoPanelDesign())
    rig.up(0)
    rig.up(1)
    const effects = rig.hear('F')
    expect(effects.filter(e => e.kind === 'send')).toEqual(
      [
        { kind: 'send', link: 1, text: 'fan=1' },
        { kind: 'send', link: 0, text: '+F' },
      ].sort((a, b) => a.link - b.link),
    )
  })
})

describe('HTTP', () => {
  it('answers a command with its report or a bare ok, the question with all, and anything else with 404', () => {
    const rig = new Rig(glazeRoom())
    expect(sends(rig.hear('/extractor/on', 1))).toEqual(['200 booth-extractor=1'])
    expect(sends(rig.hear('/state', 1))).toEqual([
      '200 booth-extractor=1\nwheel-lights=0\ncupboard-fan=0',
    ])
    expect(sends(rig.hear('/extractor', 1))).toEqual(['404 no such route'])
    const quiet = new Rig(
      edited(glazeRoom(), {
        type: 'setReport',
        linkId: 'office-link',
        loadId: 'booth-extractor',
        ack: false,
      }),
    )
    expect(sends(quiet.hear('/extractor/on', 1))).toEqual(['200 ok'])
  })
})

describe('power', () => {
  it.each([
    ['off', false],
    ['on', true],
  ] as const)('comes back %s', (powerUp, on) => {
    const rig = new Rig(fan({ type: 'setOutput', loadId: 'fan', patch: { powerUp } }))
    expect(rig.on).toBe(on)
    rig.hear(on ? 'f' : 'F')
    rig.do({ kind: 'powerOff', now: 10 })
    expect(rig.on).toBe(false)
    expect(rig.hear('F')).toEqual([])
    rig.boot()
    expect(rig.on).toBe(on)
  })
  it('comes back as it was, once the value had been still for the save delay', () => {
    const rig = new Rig(
      fan({ type: 'setOutput', loadId: 'fan', patch: { powerUp: 'last', saveDelayMs: 2000 } }),
    )
    rig.hear('F')
    expect(rig.wait(1999)).toEqual([])
    rig.do({ kind: 'powerOff', now: rig.now })
    rig.boot()
    expect(rig.on).toBe(false)
    rig.hear('F')
    expect(rig.wait(2000)).toEqual([{ kind: 'save', load: 0, value: 'on' }])
    rig.do({ kind: 'powerOff', now: rig.now })
    rig.boot()
    expect(rig.on).toBe(true)
  })
  it('writes nothing when the value went there and back, and at once without a delay', () => {
    const rig = new Rig(
      fan({ type: 'setOutput', loadId: 'fan', patch: { powerUp: 'last', saveDelayMs: 2000 } }),
    )
    rig.hear('Ff')
    expect(rig.wait(5000)).toEqual([])
    const now = new Rig(
      fan({ type: 'setOutput', loadId: 'fan', patch: { powerUp: 'last', saveDelayMs: 0 } }),
    )
    expect(now.hear('F')).toContainEqual({ kind: 'save', load: 0, value: 'on' })
  })
  it('drives an output to its resting level at the start, whichever level is active', () => {
    expect(new Rig(fan()).boot()).toEqual([{ kind: 'pin', load: 0, line: 0, level: 1 }])
    expect(
      new Rig(fan({ type: 'setOutput', loadId: 'fan', patch: { activeLevel: 'high' } })).boot(),
    ).toEqual([{ kind: 'pin', load: 0, line: 0, level: 0 }])
  })
})

describe('any design, any events', () => {
  const anyEvent = fc.oneof(
    fc.record({
      kind: fc.constant('pin' as const),
      input: fc.constant(0),
      level: fc.constantFrom(0 as Level, 1 as Level),
    }),
    fc.record({
      kind: fc.constant('received' as const),
      link: fc.constant(0),
      text: fc.constantFrom(
        'A',
        'a',
        'B',
        'b',
        '1',
        '10',
        '2',
        '20',
        '11',
        '12',
        '?',
        'x',
        '/one/on',
        '/one/off',
        '/one/forward',
        '/one/reverse',
        '/one/30',
        '/one/3',
        'y0',
        'y1',
        'y2',
        '/state',
        '/x',
      ),
    }),
    fc.record({
      kind: fc.constantFrom('linkUp' as const, 'linkDown' as const),
      link: fc.constant(0),
    }),
    fc.constantFrom(
      { kind: 'powerOff' as const },
      { kind: 'boot' as const, levels: [1, 1] as Level[] },
      { kind: 'tick' as const },
    ),
  )
  const anyRun = fc.array(fc.tuple(anyEvent, fc.nat({ max: 3000 })), { maxLength: 40 })
  it('the pins always show the state, reports are true, and the state before is left alone', () => {
    fc.assert(
      fc.property(anySmallDesign, anyRun, (design, run) => {
        const program = compileController(design)
        let state = startController(program)
        const pins = new Map<string, number>()
        let now = 0
        for (const [event, ms] of [
          [{ kind: 'boot' as const, levels: [1, 1] as Level[] }, 0] as const,
          ...run,
        ]) {
          now += ms
          const frozen = JSON.stringify(state)
          const { state: next, effects } = step(program, state, {
            ...event,
            now,
          } as ControllerEvent)
          expect(JSON.stringify(state)).toBe(frozen)
          state = next
          for (const e of effects) {
            if (e.kind !== 'pin') continue
            pins.set(`${e.load} ${e.line}`, e.level)
            const { output } = design.loads[e.load]!
            const energised = (line: number) =>
              pins.get(`${e.load} ${line}`) === (activeLevelOf(output) === 'high' ? 1 : 0)
            if (output.kind === 'follower' || linesExclude(output))
              expect(energised(0) && energised(1)).toBe(false)
          }
          if (!state.running) continue
          design.loads.forEach(({ output }, i) => {
            expect(valuesOf(output)).toContain(state.value[i])
            if (output.kind === 'switched' || output.kind === 'pulsed' || output.kind === 'held')
              expect(pins.get(`${i} 0`)).toBe(
                (state.value[i] === 'on') === (output.activeLevel === 'high') ? 1 : 0,
              )
          })
          const last = effects.filter(e => e.kind === 'send').at(-1)
          if (
            design.loads.length === 1
            && last?.kind === 'send'
            && design.links[0]?.kind === 'http'
          )
            expect(last.text).toBe(`one=${reportWord(design.loads[0]!.output, state.value[0]!)}`)
        }
      }),
      { numRuns: 400 },
    )
  })
  it('the same events give the same state and effects', () => {
    fc.assert(
      fc.property(anySmallDesign, anyRun, (design, run) => {
        const once = () => {
          const program = compileController(design)
          let state = startController(program)
          const all: unknown[] = []
          run.forEach(([event, ms], i) => {
            const stepped = step(program, state, { ...event, now: i * 10 + ms } as ControllerEvent)
            state = stepped.state
            all.push(stepped.effects)
          })
          return JSON.stringify([state, all])
        }
        expect(once()).toBe(once())
      }),
      { numRuns: 60 },
    )
  })
})

describe('the try-box', () => {
  it('tells pins and answers', () => {
    expect(respond(glazeRoom(), 'apron-link', 'e10', ['booth-extractor'])).toEqual({
      does: [
        'Booth extractor switches off: pin 5 goes high',
        'Rinse pump switches on: pin 8 goes low',
      ],
      answers: [
        { linkId: 'apron-link', text: '+e' },
        { linkId: 'apron-link', text: '+1' },
      ],
    })
    expect(respond(glazeRoom(), 'apron-link', '?').answers).toEqual([
      { linkId: 'apron-link', text: '+e+l+f+10' },
    ])
    expect(respond(glazeRoom(), 'office-link', '/state', ['wheel-lights']).answers).toEqual([
      {
        linkId: 'office-link',
        text: 'booth-extractor=0\nwheel-lights=1\ncupboard-fan=0',
        status: 200,
      },
    ])
    expect(respond(glazeRoom(), 'office-link', '/nowhere').answers).toEqual([
      { linkId: 'office-link', text: 'no such route', status: 404 },
    ])
  })
})
