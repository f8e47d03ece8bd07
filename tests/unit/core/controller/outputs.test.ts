/** Time lines of each kind of output, worked out by hand from docs/behaviour.md. */
import { describe, expect, it } from 'vitest'
import { compileController, type Program } from '../../../../core/controller/program'
import {
  nextDue,
  startController,
  step,
  type ControllerEvent,
  type ControllerState,
} from '../../../../core/controller/step'
import type { Edit } from '../../../../core/design/edits/edits'
import type { OutputPatch } from '../../../../core/design/edits/loads'
import type { Design, Output } from '../../../../core/design/schema'
import {
  asked,
  asksOf,
  formsOf,
  fullOf,
  linesOf,
  reportWord,
  restOf,
  shareOf,
  spokenValues,
  valuesOf,
  valueWords,
  wantsOf,
} from '../../../../core/design/values'
import { outputOfKind } from '../../../../core/design/outputs/kinds'
import { kindEdit, outputEdit } from '../../../../core/messages/kinds'
import { edited, twoPanelDesign } from '../../../fixtures/designs'

const SERIAL = 0
const HTTP = 1

function design(kind: Output['kind'], patch: OutputPatch = {}, ...more: Edit[]): Design {
  const start = twoPanelDesign()
  const changed = edited(start, kindEdit(start, 'fan', kind))
  return edited(edited(changed, outputEdit(changed, 'fan', patch)), ...more)
}

/**
 * Everything that happened, as "ms what": lines as "0=1", reports on the serial link as their text.
 */
class Rig {
  readonly program: Program
  state: ControllerState
  constructor(of: Design) {
    this.program = compileController(of)
    this.state = startController(this.program)
    this.fire({ kind: 'boot', now: 0, levels: [1] })
    this.fire({ kind: 'linkUp', now: 0, link: SERIAL })
    this.log.length = 0
  }

  readonly log: string[] = []
  private fire(event: ControllerEvent): void {
    const { state, effects } = step(this.program, this.state, event)
    this.state = state
    for (const e of effects) {
      if (e.kind === 'pin') this.log.push(`${event.now} ${e.line}=${e.level}`)
      if (e.kind === 'send' && e.link === SERIAL) this.log.push(`${event.now} ${e.text}`)
      if (e.kind === 'save') this.log.push(`${event.now} saves ${e.value}`)
    }
    if (effects.some(e => e.kind === 'save')) this.fire({ kind: 'memoryDone', now: event.now })
  }

  /** Events at their times; timers in between. */
  play(
    ...steps: [number, Partial<ControllerEvent> & { kind: ControllerEvent['kind'] }][]
  ): string[] {
    for (const [at, event] of steps) {
      this.pass(at)
      this.fire({ ...event, now: at } as ControllerEvent)
    }
    return this.log
  }

  pass(until: number): string[] {
    for (let due = nextDue(this.state); due !== null && due <= until; due = nextDue(this.state))
      this.fire({ kind: 'tick', now: due })
    return this.log
  }

  get value(): string {
    return this.state.value[0]!
  }
  code(value: string): Partial<ControllerEvent> & { kind: 'received' } {
    return {
      kind: 'received',
      link: SERIAL,
      text: this.program.links[SERIAL]!.link.messages[0]!.codes[value]!,
    }
  }

  route(value: string): Partial<ControllerEvent> & { kind: 'received' } {
    return {
      kind: 'received',
      link: HTTP,
      text: this.program.links[HTTP]!.link.messages[0]!.codes[value]!,
    }
  }
}
const press = { kind: 'pin', input: 0, level: 0 } as const
const release = { kind: 'pin', input: 0, level: 1 } as const

describe('pulsed', () => {
  it('is on at the trigger and off after its length, both told', () => {
    const rig = new Rig(design('pulsed', { lengthMs: 3000 }))
    rig.play([100, rig.code('on')])
    expect(rig.pass(9000)).toEqual(['100 0=0', '100 +F', '3100 0=1', '3100 +f'])
  })
  it('a second trigger restarts it, or is ignored and only acknowledged', () => {
    const restart = new Rig(design('pulsed', { lengthMs: 3000, again: 'restart' }))
    restart.play([100, restart.code('on')], [2100, restart.code('on')])
    expect(restart.pass(9000)).toEqual(['100 0=0', '100 +F', '2100 +F', '5100 0=1', '5100 +f'])
    const ignore = new Rig(design('pulsed', { lengthMs: 3000, again: 'ignore' }))
    ignore.play([100, ignore.code('on')], [2100, ignore.code('on')])
    expect(ignore.pass(9000)).toEqual(['100 0=0', '100 +F', '2100 +F', '3100 0=1', '3100 +f'])
  })
  it('off ends it at once, and a power cut for good', () => {
    const rig = new Rig(design('pulsed', { lengthMs: 3000 }))
    rig.play([100, rig.code('on')], [500, rig.code('off')])
    expect(rig.pass(9000)).toEqual(['100 0=0', '100 +F', '500 0=1', '500 +f'])
    rig.play(
      [9100, rig.code('on')],
      [9200, { kind: 'powerOff' }],
      [9300, { kind: 'boot', levels: [1] }],
    )
    expect(rig.value).toBe('off')
    expect(nextDue(rig.state)).toBeNull()
  })
  it('a button triggers it', () => {
    const rig = new Rig(design('pulsed', { lengthMs: 1000 }))
    rig.play([100, press], [200, release])
    expect(rig.pass(5000)).toEqual(['130 0=0', '130 +F', '1130 0=1', '1130 +f'])
  })
})

describe('held', () => {
  it('lives by keep-alives and ends when one is missed', () => {
    const rig = new Rig(design('held', { timeoutMs: 900 }))
    rig.play([0, rig.code('on')], [300, rig.code('on')], [600, rig.code('on')])
    expect(rig.pass(5000).filter(l => l.includes('='))).toEqual(['0 0=0', '1500 0=1'])
  })
  it('ends at once with its link', () => {
    const rig = new Rig(design('held', { timeoutMs: 900 }))
    rig.play([0, rig.code('on')], [200, { kind: 'linkDown', link: SERIAL }])
    expect(rig.pass(5000)).toEqual(['0 0=0', '0 +F', '200 0=1'])
  })
  it('two holders: on while either holds', () => {
    const rig = new Rig(design('held', { timeoutMs: 900 }))
    rig.play(
      [0, rig.code('on')],
      [100, rig.route('on')],
      [400, rig.code('off')],
      [500, { kind: 'pin', input: 0, level: 0 }],
    )
    expect(rig.value).toBe('on')
    rig.pass(4000)
    expect(rig.value).toBe('on')
    rig.play([5000, release])
    expect(rig.pass(6000).filter(l => l.includes('='))).toEqual(['0 0=0', '5030 0=1'])
  })
})

describe('opposed', () => {
  it('reverses through stop and the dead time; the wanted direction is told at once', () => {
    const rig = new Rig(design('opposed', { deadTimeMs: 500, runLimitMs: 0 }))
    const [stop, forward, reverse] = ['stop', 'forward', 'reverse'].map(
      v => rig.program.links[SERIAL]!.link.messages[0]!.codes[v],
    )
    rig.play(
      [600, rig.code('forward')],
      [1000, rig.code('reverse')],
      [1200, rig.code('forward')],
      [3000, rig.code('stop')],
    )
    // At 1200 the forward line has rested only since 1000; only the other line has to wait for it,
    // so forward starts at once.
    expect(rig.pass(9000)).toEqual([
      '600 0=0',
      `600 +${forward}`,
      '1000 0=1',
      `1000 +${reverse}`,
      '1200 0=0',
      `1200 +${forward}`,
      '3000 0=1',
      `3000 +${stop}`,
    ])
  })
  it('the other direction starts when the dead time is over', () => {
    const rig = new Rig(design('opposed', { deadTimeMs: 500, runLimitMs: 0 }))
    rig.play([600, rig.code('forward')], [1000, rig.code('reverse')])
    expect(rig.pass(9000).filter(l => l.includes('='))).toEqual(['600 0=0', '1000 0=1', '1500 1=0'])
    // Stopped long ago: nothing has to rest any more.
    rig.play([10_000, rig.code('stop')], [20_000, rig.code('forward')])
    expect(
      rig
        .pass(30_000)
        .filter(l => l.includes('='))
        .slice(3),
    ).toEqual(['10000 1=1', '20000 0=0'])
  })
  it('a run ends at its limit and is told', () => {
    const rig = new Rig(design('opposed', { deadTimeMs: 500, runLimitMs: 2000 }))
    rig.play([600, rig.code('reverse')])
    expect(rig.pass(9000).filter(l => l.includes('='))).toEqual(['600 1=0', '2600 1=1'])
    expect(rig.value).toBe('stop')
  })
  it('without a dead time the falling line is written before the rising one', () => {
    const rig = new Rig(design('opposed', { deadTimeMs: 0, runLimitMs: 0 }))
    rig.play([100, rig.code('reverse')], [200, rig.code('forward')], [300, rig.code('reverse')])
    expect(rig.log.filter(l => l.includes('='))).toEqual([
      '100 1=0',
      '200 1=1',
      '200 0=0',
      '300 0=1',
      '300 1=0',
    ])
  })
  it('a second press of the button for the running direction stops', () => {
    const rig = new Rig(design('opposed', { runLimitMs: 0 }))
    rig.play([600, press], [700, release], [1500, press], [1600, release])
    expect(rig.pass(3000).filter(l => l.includes('='))).toEqual(['630 0=0', '1530 0=1'])
  })
  it('a stepper has a step line at its rate, a direction and an enable line that is low when it runs', () => {
    const rig = new Rig(
      design('opposed', {
        drive: 'stepper',
        enablePin: 6,
        stepHz: 800,
        deadTimeMs: 0,
        runLimitMs: 0,
      }),
    )
    rig.play([100, rig.code('reverse')], [500, rig.code('stop')])
    expect(rig.log.filter(l => l.includes('='))).toEqual([
      '100 0=800',
      '100 1=1',
      '100 2=0',
      '500 0=0',
      '500 1=0',
      '500 2=1',
    ])
  })
})

describe('level', () => {
  it('ramps by one per cent a beat; what is told is the target', () => {
    const rig = new Rig(design('level', { stops: [0, 3, 100], rampMs: 10 }))
    rig.play([100, rig.code('3')])
    // Duty of 1, 2 and 3 %: (duty x 255 + 50) / 100, whole.
    expect(rig.pass(9000).filter(l => l.includes('='))).toEqual(['110 0=3', '120 0=5', '130 0=8'])
    expect(rig.value).toBe('3')
    expect(rig.log[0]).toMatch(/^100 \+/)
  })
  it('without a ramp it is there at once, inverted where low is on', () => {
    const rig = new Rig(design('level', { rampMs: 0, activeLevel: 'low' }))
    rig.play([100, rig.code('50')], [200, rig.code('100')])
    expect(rig.log.filter(l => l.includes('='))).toEqual(['100 0=127', '200 0=0'])
  })
  it.each([
    ['off', 0],
    ['minimum', 51],
  ] as const)('a level below the minimum counts as %s', (below, level) => {
    const rig = new Rig(design('level', { stops: [0, 10, 100], rampMs: 0, minimum: 20, below }))
    rig.play([50, rig.code('100')], [100, rig.code('10')])
    expect(rig.log.filter(l => l.includes('=')).at(-1)).toBe(`100 0=${level}`)
    expect(rig.value).toBe('10')
  })
  it('turns in the middle of a ramp', () => {
    const rig = new Rig(design('level', { stops: [0, 2, 100], rampMs: 100 }))
    rig.play([0, rig.code('100')], [350, rig.code('2')])
    // 1, 2 and 3 % at 100, 200 and 300; back to 2 % at 400.
    expect(rig.pass(9000).filter(l => l.includes('='))).toEqual([
      '100 0=3',
      '200 0=5',
      '300 0=8',
      '400 0=5',
    ])
  })
  it('is saved as its value, and starts there without a ramp', () => {
    const rig = new Rig(design('level', { powerUp: 'last', saveDelayMs: 100, rampMs: 10 }))
    rig.play([0, rig.code('25')])
    expect(rig.pass(2000)).toContain('100 saves 25')
    rig.log.length = 0
    rig.play([3000, { kind: 'powerOff' }], [3100, { kind: 'boot', levels: [1] }])
    expect(rig.log).toEqual(['3100 0=64'])
  })
  it('a button goes to the next level, and from the last one to the first', () => {
    const rig = new Rig(design('level', { rampMs: 0 }))
    const values = [1, 2, 3, 4, 5].map(n => {
      rig.play([n * 1000, press], [n * 1000 + 100, release])
      return rig.value
    })
    expect(values).toEqual(['25', '50', '75', '100', '0'])
  })
})

describe('follower', () => {
  it('adopts the first value without a click', () => {
    const rig = new Rig(design('follower'))
    rig.play([100, rig.code('4')])
    expect(rig.pass(9000).filter(l => l.includes('='))).toEqual([])
    expect(rig.value).toBe('4')
  })
  it('clicks the difference, one line or the other, and rests both', () => {
    const rig = new Rig(design('follower', { pulseMs: 40, gapMs: 60 }))
    rig.play([100, rig.code('4')], [1000, rig.code('6')], [2000, rig.code('5')])
    expect(rig.pass(9000).filter(l => l.includes('='))).toEqual([
      '1000 0=1',
      '1040 0=0',
      '1100 0=1',
      '1140 0=0',
      '2000 1=1',
      '2040 1=0',
    ])
  })
  it('a new target during a click turns after it', () => {
    const rig = new Rig(design('follower', { pulseMs: 40, gapMs: 60 }))
    rig.play([0, rig.code('4')], [1000, rig.code('9')], [1020, rig.code('4')])
    expect(rig.pass(9000).filter(l => l.includes('='))).toEqual([
      '1000 0=1',
      '1040 0=0',
      '1100 1=1',
      '1140 1=0',
    ])
  })
})

describe('values of a load', () => {
  const kinds = ['switched', 'pulsed', 'held', 'opposed', 'level', 'follower'] as const
  const outputs = kinds.map(kind => outputOfKind(kind, twoPanelDesign().loads[0]!.output, [9]))
  it('rest first; the same ones are spoken; each form and hand control asks only for them', () => {
    for (const output of outputs) {
      const values = valuesOf(output)
      expect(restOf(output)).toBe(values[0])
      expect([...spokenValues(output)].sort()).toEqual([...values].sort())
      for (const form of formsOf(output))
        for (const want of wantsOf(output, form))
          for (const current of ['', ...values])
            expect(values).toContain(asked(output, current, want))
      for (const kind of ['push', 'latching'] as const)
        for (const asks of asksOf(output, kind))
          for (const current of values) expect(values).toContain(asked(output, current, asks))
      expect(values).toContain(fullOf(output))
      expect(shareOf(output, restOf(output))).toBe(0)
      expect(new Set(values.map(v => reportWord(output, v))).size).toBe(values.length)
      expect(new Set(linesOf(output).map(l => l.key)).size).toBe(linesOf(output).length)
    }
  })
  it('in words', () => {
    expect(valueWords(outputs[4]!, '25')).toBe('25 %')
    expect(valueWords(outputs[5]!, '3')).toBe('position 3')
    expect(valueWords(outputs[3]!, 'reverse')).toBe('reverse')
    expect(asked(outputs[4]!, '100', 'up')).toBe('100')
    expect(asked(outputs[4]!, '100', 'next')).toBe('0')
    expect(asked(outputs[4]!, '', 'down')).toBe('0')
  })
})

describe('another kind', () => {
  it('brings codes, keys and hand controls along on every link, all different', () => {
    const before = twoPanelDesign()
    for (const kind of ['pulsed', 'held', 'opposed', 'level', 'follower'] as const) {
      const after = edited(before, kindEdit(before, 'fan', kind))
      const values = spokenValues(after.loads[0]!.output)
      for (const link of after.links) {
        const { codes } = link.messages[0]!
        expect(Object.keys(codes)).toEqual(values)
        expect(new Set(Object.values(codes)).size).toBe(values.length)
        expect(Object.values(codes)).not.toContain('')
      }
      const back = edited(after, kindEdit(after, 'fan', 'switched'))
      expect(valuesOf(back.loads[0]!.output)).toEqual(['off', 'on'])
      expect(
        back.surfaces.flatMap(s => (s.kind === 'panel' ? s.keys.map(k => k.form) : [])),
      ).toEqual(['state'])
    }
  })
  it('keeps the codes of values that stay', () => {
    const before = twoPanelDesign()
    const pulsed = edited(before, kindEdit(before, 'fan', 'pulsed'))
    expect(pulsed.links[0]!.messages[0]!.codes).toEqual({ on: 'F', off: 'f' })
  })
})
