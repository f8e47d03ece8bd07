import { describe, expect, it } from 'vitest'
import { respond } from '../../../../core/controller/respond'
import { apart, rawRange, readingText, restingRaw } from '../../../../core/controller/readings'
import { compileController } from '../../../../core/controller/program'
import {
  nextDue,
  startController,
  step,
  type ControllerState,
  type Effect,
} from '../../../../core/controller/step'
import { hasReading } from '../../../../core/design/items'
import type { Edit } from '../../../../core/design/edits/edits'
import { SENSORS, newSensor } from '../../../../core/design/sensors/rows'
import { ladderReadings } from '../../../../core/design/sensors/ladder'
import type { SensorKind } from '../../../../core/design/sensors/schema'
import type { Design, Sensor } from '../../../../core/design/schema'
import { edited, fanDesign, kilnCorridor } from '../../../fixtures/designs'

const sensor = (kind: SensorKind, more: object = {}) =>
  ({ ...newSensor(kind, 's', 'S', 'board', 'fan'), ...more }) as Sensor

describe('values of sensors', () => {
  it.each([
    ['thermometer, tenths of a degree', sensor('thermometer'), [235], '23.5'],
    ['below zero', sensor('thermometer'), [-5], '-0.5'],
    ['battery, millivolts', sensor('battery'), [12_640], '12.64'],
    ['analog without calibration, millivolts', sensor('analog'), [1650], '1.65'],
    // (612 - 204) / (819 - 204) of 0 to 100 is 66.3.
    [
      'analog by two points',
      sensor('analog', { calibration: { raw1: 204, value1: 0, raw2: 819, value2: 100 } }),
      [612],
      '66.3',
    ],
    ['contact', sensor('contact'), [1], 'closed'],
    ['contact open', sensor('contact'), [0], 'open'],
    ['stick mounted straight', sensor('two-axis'), [40, -30], '40,-30'],
    // Turned by a quarter: what it gives as x is y.
    ['stick mounted at 90 degrees', sensor('two-axis', { degrees: 90 }), [100, 0], '0,-100'],
    ['nothing known', sensor('thermometer'), null, ''],
  ])('%s', (_, s, raw, text) => expect(readingText(s, raw)).toBe(text))
  it('floats: the highest wet one, and a wet one over a dry one is broken, for every ladder of five', () => {
    for (let n = 1; n <= 5; n++) {
      const levels = Array.from({ length: n }, (_, i) => 10 * (i + 1))
      const s = sensor('floats', { floats: levels.map(level => ({ pin: 2, level })) })
      // The list of the wiring view is made another way: an oracle.
      ladderReadings(n).forEach(({ wet, broken }, bits) =>
        expect(readingText(s, [bits])).toBe(
          broken ? 'broken' : String(wet.lastIndexOf(true) < 0 ? 0 : levels[wet.lastIndexOf(true)]),
        ),
      )
    }
  })
  it('what a sensor rests at lies within what it can give, and says something', () => {
    for (const kind of Object.keys(SENSORS) as SensorKind[]) {
      const s = sensor(kind)
      const { low, high } = rawRange(s)
      for (const raw of restingRaw(s)) expect(raw >= low && raw <= high, kind).toBe(true)
      expect(readingText(s, restingRaw(s)) !== '', kind).toBe(hasReading(s))
    }
  })
  it('apart: numbers by their distance, pairs by the larger one, words always', () => {
    expect([
      apart('20', '20.5'),
      apart('3,4', '0,8'),
      apart('20', 'broken'),
      apart('open', 'open'),
      apart('', '5'),
    ]).toEqual([0.5, 4, Infinity, 0, 5])
  })
})

/** A fan with a thermometer that is told on the phone's link. */
function told(patch: Extract<Edit, { type: 'setReading' }>['patch']): Design {
  return edited(
    fanDesign(),
    { type: 'addSensor', kind: 'thermometer', name: 'Room' },
    {
      type: 'setReading',
      linkId: 'phone-link',
      sensorId: 'room',
      patch: { code: 'T', deadBand: 0.5, leastMs: 1000, everyMs: 0, ...patch },
    },
  )
}
class Board {
  private readonly program
  state: ControllerState
  constructor(design: Design) {
    this.program = compileController(design)
    this.state = step(this.program, startController(this.program), {
      kind: 'boot',
      now: 0,
      levels: [1],
    }).state
    this.state = step(this.program, this.state, { kind: 'linkUp', now: 0, link: 0 }).state
  }

  private sent(effects: Effect[]): string[] {
    return effects.flatMap(e => (e.kind === 'send' ? [e.text] : []))
  }
  sample(now: number, tenths: number): string[] {
    const { state, effects } = step(this.program, this.state, {
      kind: 'sample',
      now,
      sensor: 0,
      raw: [tenths],
    })
    this.state = state
    return this.sent(effects)
  }

  tick(now: number): string[] {
    const { state, effects } = step(this.program, this.state, { kind: 'tick', now })
    this.state = state
    return this.sent(effects)
  }

  get due() {
    return nextDue(this.state)
  }
}

describe('when a reading is told', () => {
  it('the first value at once; then when it moved by the dead band, not more often than allowed, the newest last', () => {
    const board = new Board(told({}))
    expect(board.sample(100, 200)).toEqual(['+T20;'])
    expect(board.sample(5000, 204)).toEqual([])
    expect(board.sample(6000, 205)).toEqual(['+T20.5;'])
    expect(board.sample(6200, 230)).toEqual([])
    expect(board.due).toBe(7000)
    expect(board.sample(6900, 260)).toEqual([])
    expect(board.tick(7000)).toEqual(['+T26;'])
    // Until then it may not be told again; what is over is forgotten.
    expect(board.due).toBe(8000)
    expect([board.tick(8000), board.due]).toEqual([[], null])
  })
  it('periodically as well, counted from the last time', () => {
    const board = new Board(told({ everyMs: 10_000 }))
    board.sample(100, 200)
    expect([board.tick(1100), board.due]).toEqual([[], 10_100])
    expect(board.sample(4000, 250)).toEqual(['+T25;'])
    expect([board.tick(5000), board.due]).toEqual([[], 14_000])
    expect(board.tick(14_000)).toEqual(['+T25;'])
    expect([board.tick(15_000), board.due]).toEqual([[], 24_000])
  })
  it('a dead band of nothing tells every change; after a power cut nothing is known until it is sampled', () => {
    const board = new Board(told({ deadBand: 0, leastMs: 0 }))
    expect([board.sample(10, 200), board.sample(20, 201), board.sample(30, 201)]).toEqual([
      ['+T20;'],
      ['+T20.1;'],
      [],
    ])
    expect(board.state.samples).toEqual([[201]])
  })
  it('crosses the wrap of the clock', () => {
    const board = new Board(told({ everyMs: 10_000 }))
    board.sample(0xffffffff - 100, 200)
    expect([board.tick(0xffffffff + 900), board.due]).toEqual([[], 9899])
    expect(board.tick(0x100000000 + 9899)).toEqual(['+T20;'])
  })
  it('who asks for the state is told all that is known', () => {
    const program = compileController(kilnCorridor())
    let { state } = step(program, startController(program), { kind: 'boot', now: 0, levels: [1] })
    for (const [sensor, raw] of [
      [0, [215]],
      [2, [3]],
    ] as const)
      state = step(program, state, { kind: 'sample', now: 1, sensor, raw }).state
    const [reply] = step(program, state, {
      kind: 'received',
      now: 2,
      link: 0,
      text: '/state',
    }).effects
    expect(reply).toMatchObject({
      kind: 'reply',
      text: 'corridor-lights=0\nhumidifier=0\nroof-vent=stop\nstore-strike=0\nkiln-room=21.5\nwater-butt=60',
    })
    expect(respond(kilnCorridor(), 'corridor-phone-link', '/state').answers[0]?.text).not.toContain(
      'kiln-room',
    )
  })
})
