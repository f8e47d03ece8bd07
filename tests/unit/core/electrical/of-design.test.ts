import { describe, expect, it } from 'vitest'
import { check } from '../../../../core/checks/check'
import type { Counted } from '../../../../core/electrical/load-sums'
import { sumsOf } from '../../../../core/electrical/of-design'
import { consumers } from '../../../../core/electrical/supply-chain'
import { valueOf } from '../../../../core/electrical/sum'
import type { Edit } from '../../../../core/design/edits/edits'
import type { SensorKind } from '../../../../core/design/sensors/schema'
import type { Design } from '../../../../core/design/schema'
import { partsCsv } from '../../../../core/sides/parts-list'
import { edited, fanDesign, glazeRoom } from '../../../fixtures/designs'

const coil: Edit = {
  type: 'setWiring',
  loadId: 'fan',
  patch: {
    driver: {
      kind: 'coil',
      volts: 5,
      ohms: 70,
      henries: 0.1,
      gainMin: 100,
      baseOhms: 0,
      gate: null,
      transistorMaxAmps: 0.6,
    },
    load: { type: 'motor', volts: 12, amps: 1, mains: false },
    contact: { ratedAmps: 10, inrushAmps: 30 },
    run: { lengthMeters: 4, sectionMm2: 1 },
  },
}
const ids = (design: Design) => sumsOf(design).map(s => s.id)
const broken = (design: Design) =>
  check(design)
    .findings.filter(f => f.code.startsWith('sum-'))
    .map(f => `${f.severity} ${f.code}`)

describe('sums of a design', () => {
  it('take the base resistor that is there', () => {
    const own = structuredClone(coil)
    if (own.type !== 'setWiring' || own.patch.driver?.kind !== 'coil') throw new Error('no coil')
    own.patch.driver.baseOhms = 10_000
    const design = edited(fanDesign(), own)
    const sum = sumsOf(design).find(s => s.id.endsWith('coil-driver'))
    expect(sum?.sum?.figures.find(f => f.symbol === 'Rb')?.value).toBe(10_000)
    expect(broken(design)).toContain('stop sum-coil-driver')
    expect(broken(edited(fanDesign(), coil))).not.toContain('stop sum-coil-driver')
    expect(partsCsv(design)).toContain('10 k\u03A9')
  })
  it('are those that its parts call for', () => {
    expect(ids(fanDesign())).toEqual([
      'supply supply',
      'board pin-load',
      'control:fan-button pull-up',
      'link:phone-link uart-clock',
    ])
    expect(ids(edited(fanDesign(), coil))).toEqual([
      'supply supply',
      'load:fan coil-feed',
      'board pin-load',
      'load:fan coil-driver',
      'load:fan flyback',
      'load:fan contact',
      'load:fan voltage-drop',
      'load:fan fuse',
      'control:fan-button pull-up',
      'link:phone-link uart-clock',
    ])
    const mosfet = edited(
      fanDesign(),
      coil,
      {
        type: 'setWiring',
        loadId: 'fan',
        patch: { driver: { kind: 'mosfet', onOhms: 0.03, onAtGateVolts: 4.5, maxAmps: 10 } },
      },
      { type: 'setOutput', loadId: 'fan', patch: { powerUp: 'last' } },
    )
    expect(ids(mosfet)).toEqual([
      'supply supply',
      'board pin-load',
      'load:fan mosfet',
      'load:fan voltage-drop',
      'load:fan fuse',
      'load:fan wear',
      'control:fan-button pull-up',
      'link:phone-link uart-clock',
    ])
  })
  it('take board and supply from the design', () => {
    const driver = sumsOf(edited(fanDesign(), coil)).find(s => s.kind === 'coil-driver')?.sum
    expect(valueOf(driver!, 'Rb')).toBe(560)
    const onRadio = sumsOf(
      edited(fanDesign(), { type: 'setBoard', board: 'board-dual-radio' }, coil),
    ).find(s => s.kind === 'coil-driver')?.sum
    expect(valueOf(onRadio!, 'Rb')).toBe(360)
    expect(consumers(edited(fanDesign(), coil)).map(c => `${c.what} ${c.amps.toFixed(3)}`)).toEqual(
      ['board 0.050', 'module of Phone link 0.040', 'coil of Fan 0.071'],
    )
  })
  it('reckon the wear of memory from what the bench counted', () => {
    const last = edited(fanDesign(), {
      type: 'setOutput',
      loadId: 'fan',
      patch: { powerUp: 'last' },
    })
    const wearOf = (counted?: Counted) => sumsOf(last, counted).find(s => s.kind === 'wear')!
    expect(wearOf().given[0]).toBe('50 changes a day assumed')
    // 10 in 10 minutes are 1,440 a day: 200,000 writes last 139 days.
    const busy = wearOf({ seconds: 600, moves: { fan: 10 } })
    expect(busy.given[0]).toContain('1,440 a day')
    expect(valueOf(busy.sum!, 'Y')).toBeCloseTo(0.3803, 3)
    expect(wearOf({ seconds: 5, moves: { fan: 3 } }).given[0]).toContain('assumed')
  })
  it('a mains load gets no low-voltage lead, and a caution that stays', () => {
    const design = glazeRoom()
    expect(ids(design)).not.toContain('load:booth-extractor voltage-drop')
    expect(
      check(design).findings.some(
        f => f.code === 'caution-mains' && f.loadId === 'booth-extractor',
      ),
    ).toBe(true)
  })
})

describe('sums as findings', () => {
  const provoked: [string, Edit[], string][] = [
    [
      'a pin of 20 mA on a coil of 20 Ω',
      [
        coil,
        {
          type: 'setWiring',
          loadId: 'fan',
          patch: {
            driver: {
              kind: 'coil',
              volts: 5,
              ohms: 20,
              henries: 0.1,
              gainMin: 100,
              baseOhms: 0,
              gate: null,
              transistorMaxAmps: 0.6,
            },
          },
        },
      ],
      'stop sum-coil-driver',
    ],
    [
      'a MOSFET for 10 V gates on 3.3 V',
      [
        { type: 'setBoard', board: 'board-dual-radio' },
        coil,
        {
          type: 'setWiring',
          loadId: 'fan',
          patch: { driver: { kind: 'mosfet', onOhms: 0.03, onAtGateVolts: 10, maxAmps: 10 } },
        },
      ],
      'stop sum-mosfet',
    ],
    [
      'a motor of 3 A on a 10 A contact',
      [
        coil,
        {
          type: 'setWiring',
          loadId: 'fan',
          patch: { load: { type: 'motor', volts: 12, amps: 3, mains: false } },
        },
      ],
      'stop sum-contact',
    ],
    [
      '30 m of 0.34 mm²',
      [
        coil,
        {
          type: 'setWiring',
          loadId: 'fan',
          patch: { run: { lengthMeters: 30, sectionMm2: 0.34 } },
        },
      ],
      'stop sum-voltage-drop',
    ],
    [
      'a button 20 m away on the built-in pull-up',
      [{ type: 'setControl', controlId: 'fan-button', patch: { leadMeters: 20 } }],
      'stop sum-pull-up',
    ],
    [
      'a motor that stalls at more than its bridge',
      [
        { type: 'setKind', loadId: 'fan', kind: 'opposed' },
        { type: 'setOutput', loadId: 'fan', patch: { drive: 'bridge' } },
        {
          type: 'setWiring',
          loadId: 'fan',
          patch: {
            driver: { kind: 'bridge', windingOhms: 1, onOhms: 0.3, maxAmps: 2, peakAmps: 4 },
            load: { type: 'motor', volts: 12, amps: 1, mains: false },
          },
        },
      ],
      'stop sum-bridge',
    ],
    [
      'a stepper asked for more current than its driver gives',
      [
        { type: 'setKind', loadId: 'fan', kind: 'opposed' },
        { type: 'setOutput', loadId: 'fan', patch: { drive: 'stepper' } },
        {
          type: 'setWiring',
          loadId: 'fan',
          patch: {
            driver: {
              kind: 'stepper',
              phaseOhms: 2.4,
              phaseHenries: 0.005,
              phaseAmps: 3,
              maxAmps: 1.5,
              stepsPerTurn: 200,
            },
            load: { type: 'motor', volts: 12, amps: 1, mains: false },
          },
        },
      ],
      'stop sum-stepper',
    ],
    [
      'more on a dimmer than it stands',
      [
        { type: 'setKind', loadId: 'fan', kind: 'level' },
        { type: 'setOutput', loadId: 'fan', patch: { drive: 'dimmer' } },
        {
          type: 'setWiring',
          loadId: 'fan',
          patch: {
            driver: { kind: 'dimmer', maxAmps: 1, minAmps: 0.05 },
            load: { type: 'tungsten', volts: 230, amps: 2, mains: true },
          },
        },
      ],
      'stop sum-dimmer',
    ],
    [
      'an optocoupler that does not pull its line down',
      [
        { type: 'setKind', loadId: 'fan', kind: 'follower' },
        {
          type: 'setWiring',
          loadId: 'fan',
          patch: {
            driver: {
              kind: 'opto',
              lampVolts: 1.2,
              lampAmps: 0.005,
              transferMin: 0.05,
              lineVolts: 5,
              lineOhms: 1000,
            },
          },
        },
      ],
      'stop sum-opto',
    ],
    [
      'a solenoid on too long',
      [
        { type: 'setKind', loadId: 'fan', kind: 'pulsed' },
        { type: 'setOutput', loadId: 'fan', patch: { lengthMs: 20_000 } },
        {
          type: 'setWiring',
          loadId: 'fan',
          patch: {
            load: { type: 'solenoid', volts: 12, amps: 0.5, mains: false },
            duty: { ratedShare: 0.25, maxOnSeconds: 5, periodSeconds: 60 },
          },
        },
      ],
      'stop sum-solenoid',
    ],
    ['a supply of 100 mA', [{ type: 'setSupply', patch: { amps: 0.1 } }], 'stop sum-supply'],
  ]
  it.each(provoked)('%s', (_, edits, expected) => {
    expect(broken(edited(fanDesign(), coil))).toEqual([])
    expect(broken(edited(fanDesign(), ...edits))).toContain(expected)
  })
  it.each(
    provoked.filter(([, , code]) =>
      ['stop sum-voltage-drop', 'stop sum-pull-up', 'stop sum-supply'].includes(code),
    ),
  )('%s: the fix offered mends it', (_, edits, expected) => {
    const design = edited(fanDesign(), ...edits)
    const found = check(design).findings.find(f => `${f.severity} ${f.code}` === expected)
    expect(found?.fixes.length).toBe(1)
    expect(broken(edited(design, found!.fixes[0]!.edit))).not.toContain(expected)
  })
})

describe('sums of sensors', () => {
  const sensor = (kind: SensorKind, patch: Record<string, unknown> = {}, board = 'board-8bit-5v') =>
    edited(
      fanDesign(),
      { type: 'setBoard', board },
      { type: 'addSensor', kind, name: 'Sensor' },
      { type: 'setSensor', sensorId: 'sensor', patch },
    )
  const of = (design: Design) =>
    sumsOf(design)
      .filter(s => s.sensorId === 'sensor')
      .map(s => s.kind)
  it.each<[SensorKind, string[]]>([
    ['infrared', []],
    ['knob', ['knob', 'pull-up']],
    ['contact', ['pull-up']],
    ['floats', ['pull-up']],
    ['thermometer', ['pull-up']],
    ['thermistor', ['thermistor']],
    ['analog', []],
    ['battery', ['divider']],
    ['two-axis', []],
  ])('a new %s has those it calls for, and none of them is passed', (kind, expected) => {
    expect(of(sensor(kind))).toEqual(expected)
    expect(sumsOf(sensor(kind)).filter(s => s.sensorId && !s.sum?.ok)).toEqual([])
  })
  it('an analog one gets a divider once it gives more than the pin stands, a calibration once two points are known', () => {
    expect(of(sensor('analog', { maxVolts: 12 }))).toEqual(['divider'])
    const known = sensor('analog', {
      unit: 'l',
      calibration: { raw1: 102, value1: 0, raw2: 921, value2: 60 },
    })
    expect(of(known)).toEqual(['calibration'])
    // 819 counts are 60 l, so one count is 0.0733 l.
    expect(valueOf(sumsOf(known).find(s => s.kind === 'calibration')!.sum!, 'm')).toBeCloseTo(
      60 / 819,
      6,
    )
    expect(of(sensor('two-axis', { degrees: 90 }))).toEqual(['axes'])
  })
  it.each<[string, SensorKind, Record<string, unknown>, string]>([
    ['12 V straight into a pin', 'analog', { maxVolts: 12 }, 'sum-divider'],
    ['a battery divider for half the voltage', 'battery', { maxVolts: 28.8 }, 'sum-divider'],
    ['a knob whose debounce eats its steps', 'knob', { debounceMs: 50 }, 'sum-knob'],
    [
      'a thermistor far from its series resistor',
      'thermistor',
      { seriesOhms: 1_000_000 },
      'sum-thermistor',
    ],
    ['a door contact 40 m away', 'contact', { leadMeters: 40 }, 'sum-pull-up'],
  ])('%s: found, and the fix offered mends it', (_, kind, patch, code) => {
    const design = sensor(kind, patch)
    const found = check(design).findings.find(f => f.code === code)
    expect(found?.title).toContain('Sensor')
    expect(found?.fixes.length).toBe(1)
    expect(check(edited(design, found!.fixes[0]!.edit)).findings.map(f => f.code)).not.toContain(
      code,
    )
  })
})

describe('two boards', () => {
  it('the wire between them has its clocks, and its voltages where those differ', () => {
    expect(
      ids(edited(fanDesign(), { type: 'setFront', front: {} })).filter(id =>
        id.startsWith('front'),
      ),
    ).toEqual(['front uart-clock', 'front uart-clock 1', 'front level-shift'])
    expect(
      ids(edited(fanDesign(), { type: 'setFront', front: { shift: 'shifter' } })),
    ).not.toContain('front level-shift')
    expect(
      ids(
        edited(
          fanDesign(),
          { type: 'setBoard', board: 'board-dual-radio' },
          { type: 'setFront', front: { shift: 'none' } },
        ),
      ),
    ).not.toContain('front level-shift')
  })
  it('the supply feeds both', () => {
    expect(
      consumers(edited(fanDesign(), { type: 'setFront', front: { name: 'Shelf board' } })).map(
        c => c.what,
      ),
    ).toEqual(['board', 'Shelf board', 'module of Phone link', 'relay of Fan'])
  })
})
