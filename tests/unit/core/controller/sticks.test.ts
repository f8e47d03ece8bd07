import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Machine } from '../../../../core/controller/machine'
import { compileController } from '../../../../core/controller/program'
import { startWorking } from '../../../../core/controller/state'
import { rawOf, wayOf, type StickWay } from '../../../../core/controller/sticks'
import { edited, fanDesign, valid } from '../../../fixtures/designs'
import type { Design } from '../../../../core/design/schema'

const WAYS: readonly StickWay[] = ['right', 'left', 'up', 'down']
const STRAIGHT = { degrees: 0, deadZone: 40 }

describe('which way a stick points', () => {
  it.each([
    [[0, 0], 'rest'],
    [[39, 0], 'rest'],
    [[40, 0], 'right'],
    [[-40, 39], 'left'],
    [[30, 41], 'up'],
    [[-10, -90], 'down'],
  ] as const)('%j is %s from rest', (raw, way) => {
    expect(wayOf(STRAIGHT, raw, 'rest')).toBe(way)
  })

  it('is kept until it is back by five per cent, or another side is ahead by as much', () => {
    expect(wayOf(STRAIGHT, [36, 0], 'right')).toBe('right')
    expect(wayOf(STRAIGHT, [34, 0], 'right')).toBe('rest')
    expect(wayOf(STRAIGHT, [60, 63], 'right')).toBe('right')
    expect(wayOf(STRAIGHT, [60, 65], 'right')).toBe('up')
  })

  it('does not depend on the angle at which it is mounted', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -180, max: 180 }),
        fc.constantFrom(...WAYS),
        fc.constantFrom<StickWay | null>(null, 'rest', ...WAYS),
        (degrees, way, before) => {
          expect(wayOf({ degrees, deadZone: 60 }, rawOf({ degrees }, way), before)).toBe(way)
        },
      ),
    )
  })
})

/** The fan with a stick: up on, down off, right toggles, let go nothing. */
function withStick(patch: object = {}): Design {
  const design = structuredClone(
    edited(fanDesign(), { type: 'addSensor', kind: 'two-axis', name: 'Stick' }),
  )
  Object.assign(design.sensors[0]!, {
    ways: [
      { on: 'up', loadId: 'fan', asks: 'on' },
      { on: 'down', loadId: 'fan', asks: 'off' },
      { on: 'right', loadId: 'fan', asks: 'toggle' },
    ],
    ...patch,
  })
  return valid(design)
}

function running(design: Design) {
  const program = compileController(design)
  const machine = new Machine(program, startWorking(program))
  machine.handle({ kind: 'boot', now: 0, levels: program.inputs.map(() => 1 as const) })
  let now = 0
  return {
    machine,
    at: (t: number) => machine.handle({ kind: 'tick', now: (now = t) }),
    push(way: StickWay) {
      const [stick] = design.sensors
      if (stick?.kind !== 'two-axis') throw new Error('no stick')
      machine.handle({ kind: 'sample', now, sensor: 0, raw: rawOf(stick, way) })
      return machine.state.value[0]
    },
  }
}

describe('a stick on a board', () => {
  it('asks by the side it is pushed to, once', () => {
    const { push } = running(withStick())
    expect(
      ['rest', 'up', 'up', 'rest', 'down', 'rest', 'right', 'rest', 'right'].map(w =>
        push(w as StickWay),
      ),
    ).toEqual(['off', 'on', 'on', 'on', 'off', 'off', 'on', 'on', 'off'])
  })

  it('asks nothing by where it stands at a start', () => {
    const { push } = running(withStick())
    expect([push('up'), push('rest'), push('up')]).toEqual(['off', 'off', 'on'])
  })

  it('asks for a step again while it is held to a side, and stops when it is let go', () => {
    const design = structuredClone(
      edited(withStick({ ways: [] }), { type: 'setKind', loadId: 'fan', kind: 'level' }),
    )
    Object.assign(design.sensors[0]!, {
      repeatMs: 200,
      ways: [{ on: 'up', loadId: 'fan', asks: 'up' }],
    })
    const { machine, at, push } = running(valid(design))
    push('rest')
    expect(push('up')).toBe('25')
    at(199)
    expect(machine.state.value[0]).toBe('25')
    at(200)
    expect(machine.state.value[0]).toBe('50')
    push('rest')
    at(1000)
    expect(machine.state.value[0]).toBe('50')
    expect(machine.state.sticks[0]).toEqual({ way: 'rest', due: null })
  })

  it('keeps on what is held as long as it points there', () => {
    const design = structuredClone(
      edited(withStick({ ways: [] }), { type: 'setKind', loadId: 'fan', kind: 'held' }),
    )
    Object.assign(design.sensors[0]!, { ways: [{ on: 'left', loadId: 'fan', asks: 'on' }] })
    const { at, push, machine } = running(valid(design))
    push('rest')
    expect(push('left')).toBe('on')
    at(60_000)
    expect(machine.state.value[0]).toBe('on')
    expect(push('rest')).toBe('off')
  })
})
