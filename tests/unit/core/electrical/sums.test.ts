/**
 * Hand-worked cases, each to 1 %. "By hand" means worked on paper from the formula named beside the sum; published tables
 * (IEC 60228, ASTM B258, IEC 60063) are named where they are the source.
 */
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { battery, BATTERY_DEFAULTS } from '../../../../core/electrical/battery'
import { CATALOGUE } from '../../../../core/electrical/catalogue'
import { COIL_DRIVER_DEFAULTS, coilDriver } from '../../../../core/electrical/coil-driver'
import { contact } from '../../../../core/electrical/contact'
import { divider, DIVIDER_DEFAULTS } from '../../../../core/electrical/divider'
import { flyback } from '../../../../core/electrical/flyback'
import { fuse, FUSE_DEFAULTS } from '../../../../core/electrical/fuse'
import { mosfet, MOSFET_DEFAULTS } from '../../../../core/electrical/mosfet'
import { PULL_UP_DEFAULTS, pullUp } from '../../../../core/electrical/pull-up'
import { regulator, REGULATOR_DEFAULTS } from '../../../../core/electrical/regulator'
import { solenoid } from '../../../../core/electrical/solenoid'
import { BadInput, valueOf, type Sum } from '../../../../core/electrical/sum'
import { supply, SUPPLY_DEFAULTS } from '../../../../core/electrical/supply'
import { gaugeAbove, gaugeMm2, voltageDrop, VOLTAGE_DROP_DEFAULTS } from '../../../../core/electrical/voltage-drop'
import { wear, WEAR_DEFAULTS } from '../../../../core/electrical/wear'

const coil = (p: object = {}) => coilDriver({ ...COIL_DRIVER_DEFAULTS, supplyVolts: 5, coilOhms: 70, pinVolts: 5, pinMaxAmps: 0.02, gainMin: 100, transistorMaxAmps: 0.6, ...p })
const back = (p: object = {}) => flyback({ supplyVolts: 12, coilOhms: 400, coilHenries: 1.2, clampVolts: 0.7, diodeMaxAmps: 1, switchMaxVolts: 40, ...p })
const fet = (p: object = {}) => mosfet({ ...MOSFET_DEFAULTS, loadAmps: 2, gateVolts: 5, onOhms: 0.025, onAtGateVolts: 4.5, maxAmps: 20, ...p })
const div = (p: object = {}) => divider({ ...DIVIDER_DEFAULTS, inputMaxVolts: 15, upperOhms: 22_000, lowerOhms: 10_000, pinMaxVolts: 5, referenceVolts: 5, ...p })
const pull = (p: object = {}) => pullUp({ ...PULL_UP_DEFAULTS, supplyVolts: 5, pullOhms: 4700, leadMeters: 10, ...p })
const reg = (p: object = {}) => regulator({ ...REGULATOR_DEFAULTS, inputVolts: 12, outputVolts: 5, amps: 0.1, ...p })
const drop = (p: object = {}) => voltageDrop({ ...VOLTAGE_DROP_DEFAULTS, supplyVolts: 12, amps: 3, lengthMeters: 10, sectionMm2: 1.5, conductorCelsius: 20, ...p })
const cell = (p: object = {}) => battery({ ...BATTERY_DEFAULTS, selfDischargePerMonth: 0, capacityAmpHours: 2.4, activeAmps: 0.08, activeSeconds: 2, periodSeconds: 600, sleepAmps: 50e-6, ...p })
const strike = (p: object = {}) => solenoid({ onSeconds: 5, periodSeconds: 60, ratedDuty: 0.15, maxOnSeconds: 30, volts: 12, ohms: 24, ...p })

const cases: [string, Sum, string, number][] = [
  // Coil 5 V, 70 Ω: 71.4 mA; a tenth of it through the base; (5 - 0.7) V / 7.14 mA = 602 Ω.
  ['coil current of a 5 V, 70 Ω relay', coil(), 'Ic', 0.0714],
  ['base current at forced beta 10', coil(), 'Ib', 0.00714],
  ['exact base resistor', coil(), 'R', 602],
  ['next lower E24 value (IEC 60063)', coil(), 'Rb', 560],
  ['pin current through 560 Ω', coil(), 'Ip', 0.00768],
  ['heat in the base resistor', coil(), 'P', 0.033],
  // From a 3.3 V pin: 2.6 V / 7.14 mA = 364 Ω.
  ['base resistor from a 3.3 V pin', coil({ pinVolts: 3.3 }), 'Rb', 360],
  ['12 V, 360 Ω coil: 33.3 mA', coil({ supplyVolts: 12, coilOhms: 360 }), 'Ic', 0.0333],
  ['its base resistor: 4.3 V / 3.33 mA = 1290 Ω', coil({ supplyVolts: 12, coilOhms: 360 }), 'Rb', 1200],
  // 12 V / 400 Ω = 30 mA; 1.2 H x 0.03² / 2 = 0.54 mJ; t = 3 ms x ln(1 + 12 / 0.7) = 3 ms x 2.899.
  ['energy in a 1.2 H coil at 30 mA', back(), 'E', 0.00054],
  ['release with a plain diode', back(), 'tr', 0.0087],
  ['release with 24 V clamp: 3 ms x ln 1.5', back({ clampVolts: 24 }), 'tr', 0.001216],
  ['voltage at the switch', back({ clampVolts: 24 }), 'Vs', 36],
  // 25 mΩ x 1.5 = 37.5 mΩ; 2² x 0.0375 = 0.15 W; 40 + 0.15 x 62 = 49.3 °C.
  ['on-resistance when hot', fet(), 'Rh', 0.0375],
  ['heat of a MOSFET at 2 A', fet(), 'P', 0.15],
  ['its junction', fet(), 'Tj', 49.3],
  ['at 5 A: 0.9375 W, 98 °C', fet({ loadAmps: 5 }), 'Tj', 98.1],
  // 15 V x 10 / 32 = 4.6875 V; worst 15 x 10.5 / (20.9 + 10.5) = 5.016 V; 22k || 10k = 6875 Ω.
  ['divider 22k / 10k from 15 V', div(), 'Vo', 4.6875],
  ['the same at 5 % resistors', div(), 'Vw', 5.016],
  ['its source resistance', div(), 'Rs', 6875],
  ['one step of 10 bits: 4.883 mV x 3.2', div(), 'd', 0.015625],
  ['current through it', div(), 'I', 0.000469],
  // 5 V / 4710 Ω; 1 nF at 10 m; 4700 x 1 nF x -ln 0.4 = 4.31 µs.
  ['pull-up current', pull(), 'Ic', 0.001062],
  ['level when closed', pull(), 'Vl', 0.01062],
  ['rise on 10 m of lead', pull(), 'tr', 4.307e-6],
  ['built-in 35 kΩ: 0.143 mA', pull({ pullOhms: 35_000 }), 'Ic', 0.0001428],
  // (12 - 5) V x 0.1 A = 0.7 W; 40 + 0.7 x 90 = 103 °C; 85 K / 90 / 7 V = 135 mA.
  ['heat of a regulator 12 to 5 V at 100 mA', reg(), 'P', 0.7],
  ['its junction', reg(), 'Tj', 103],
  ['current at which it is too hot', reg(), 'Im', 0.1349],
  ['efficiency', reg(), 'n', 41.67],
  // 2 x 10 m / 58 / 1.5 mm² = 0.2299 Ω; x 3 A = 0.690 V = 5.75 %.
  ['loop resistance of 10 m of 1.5 mm²', drop(), 'R', 0.2299],
  ['its voltage drop at 3 A', drop(), 'Vd', 0.6897],
  ['in percent of 12 V', drop(), 'p', 5.747],
  ['cross-section for 5 %: 1.724 mm²', drop(), 'A', 1.724],
  ['next conductor (IEC 60228)', drop(), 'An', 2.5],
  ['copper at 40 °C is 7.86 % worse', drop({ conductorCelsius: 40 }), 'R', 0.2480],
  // 2 s in 600 s = 0.333 %; 0.267 mA + 0.0498 mA = 0.3165 mA; 1.92 Ah / 0.3165 mA = 6066 h.
  ['average current of a sleeping knob', cell(), 'Ia', 0.0003165],
  ['its days', cell(), 'T', 252.8],
  ['self-discharge of 2 % a month: 65.7 µA', cell({ selfDischargePerMonth: 0.02 }), 'Is', 6.571e-5],
  // 100,000 x 2 / 20 a day = 10,000 days.
  ['wear at 20 changes a day', wear({ ...WEAR_DEFAULTS, changesPerDay: 20 }), 'Y', 27.38],
  ['changes a day for ten years', wear({ ...WEAR_DEFAULTS, changesPerDay: 20 }), 'Dm', 54.76],
  ['solenoid 5 s of 60 s', strike(), 'D', 8.333],
  ['its power: 144 / 24', strike(), 'P', 6],
  ['shortest period at 15 % duty', strike(), 'Tp', 33.33],
  ['fuse for 1.8 A: at least 2.4 A', fuse({ ...FUSE_DEFAULTS, loadAmps: 1.8, wireMaxAmps: 5 }), 'Im', 2.4],
  ['next fuse (IEC 60127)', fuse({ ...FUSE_DEFAULTS, loadAmps: 1.8, wireMaxAmps: 5 }), 'In', 2.5],
  ['contact of 10 A for a motor', contact({ loadAmps: 1, ratedAmps: 10, ratedInrushAmps: 30 }, 'motor'), 'Iu', 2],
  ['inrush of a 0.4 A LED driver', contact({ loadAmps: 0.4, ratedAmps: 10, ratedInrushAmps: 30 }, 'led-driver'), 'Ii', 8],
  ['supply: board 50 mA, four relays of 72 mA', supply({ ...SUPPLY_DEFAULTS, supplyVolts: 5, supplyAmps: 0.5 }, [{ what: 'board', amps: 0.05, count: 1, volts: 5 }, { what: 'relay', amps: 0.072, count: 4, volts: 5 }]), 'I', 0.338],
  ['its next common rating: 0.338 / 0.8 = 0.42', supply({ ...SUPPLY_DEFAULTS, supplyVolts: 5, supplyAmps: 0.5 }, [{ what: 'all', amps: 0.338, count: 1, volts: 5 }]), 'In', 0.5],
]
describe('hand-worked', () => {
  it.each(cases)('%s', (_, of, symbol, expected) => {
    expect(Math.abs(valueOf(of, symbol) / expected - 1)).toBeLessThan(0.01)
  })
  it('are forty at least', () => expect(cases.length).toBeGreaterThanOrEqual(40))
})

describe('wire gauges (table of ASTM B258)', () => {
  it.each([[10, 5.261], [14, 2.081], [18, 0.8230], [22, 0.3255], [24, 0.2047], [28, 0.0810]])('%d: %d mm²', (gauge, mm2) => expect(Math.abs(gaugeMm2(gauge) / mm2 - 1)).toBeLessThan(0.001))
  it('the thinnest that is thick enough', () => expect([gaugeAbove(0.8), gaugeAbove(0.83), gaugeAbove(2.0)]).toEqual([18, 17, 14]))
})

describe('limits', () => {
  const broken = (of: Sum) => of.limits.filter(l => !l.ok).map(l => l.words)
  const provoked: [string, Sum, Sum, string][] = [
    ['a 12 mA pin', coil(), coil({ pinMaxAmps: 0.007 }), 'pin current, resistor at its lowest'],
    ['a weak transistor', coil(), coil({ transistorMaxAmps: 0.05 }), 'transistor current'],
    ['too little gain', coil(), coil({ gainMin: 9 }), 'saturation, resistor at its highest'],
    ['a switch for 10 V', back(), back({ switchMaxVolts: 10 }), 'voltage at the switch'],
    ['a small diode', back(), back({ diodeMaxAmps: 0.02 }), 'diode current'],
    ['3.3 V on a part for 4.5 V', fet(), fet({ gateVolts: 3.3 }), 'gate drive'],
    ['12 A without a heat sink', fet(), fet({ loadAmps: 12 }), 'junction temperature'],
    ['resistors at their worst', div({ inputMaxVolts: 14 }), div(), 'pin voltage at the worst'],
    ['a divider of megohms', div({ inputMaxVolts: 14 }), div({ inputMaxVolts: 14, upperOhms: 2_200_000, lowerOhms: 1_000_000 }), 'source resistance'],
    ['the built-in pull-up alone', pull(), pull({ pullOhms: 35_000 }), 'wetting current'],
    ['a corroded contact', pull(), pull({ closedOhms: 3000 }), 'low level'],
    ['300 mA through a small regulator', reg(), reg({ amps: 0.3 }), 'junction temperature'],
    ['6 V in for 5 V out', reg(), reg({ inputVolts: 6 }), 'headroom'],
    ['1.5 mm² over 10 m', drop({ sectionMm2: 2.5 }), drop(), 'voltage drop'],
    ['10 A through 1.5 mm²', drop({ sectionMm2: 2.5 }), drop({ amps: 10, lengthMeters: 0.5 }), 'current density'],
    ['a tungsten lamp of 2 A on 10 A', contact({ loadAmps: 0.9, ratedAmps: 10, ratedInrushAmps: 30 }, 'tungsten'), contact({ loadAmps: 2, ratedAmps: 10, ratedInrushAmps: 30 }, 'tungsten'), 'running current'],
    ['LED drivers that weld', contact({ loadAmps: 1, ratedAmps: 10, ratedInrushAmps: 30 }, 'led-driver'), contact({ loadAmps: 1.6, ratedAmps: 20, ratedInrushAmps: 30 }, 'led-driver'), 'inrush'],
    ['saving a hundred times a day', wear({ ...WEAR_DEFAULTS, changesPerDay: 20 }), wear({ ...WEAR_DEFAULTS, changesPerDay: 100 }), 'wear'],
    ['a knob that wakes each minute', cell(), cell({ periodSeconds: 60 }), 'life'],
    ['a strike held for a minute', strike(), strike({ onSeconds: 60, periodSeconds: 3600 }), 'on time'],
    ['a fuse above the wire', fuse({ ...FUSE_DEFAULTS, loadAmps: 1.8, wireMaxAmps: 5 }), fuse({ ...FUSE_DEFAULTS, loadAmps: 1.8, wireMaxAmps: 2 }), 'fuse protects the wire'],
  ]
  it.each(provoked)('%s', (_, good, bad, words) => {
    expect(broken(good)).not.toContain(words)
    expect(broken(bad)).toContain(words)
    expect(bad.ok).toBe(false)
    for (const l of bad.limits) expect(l.wayOut.length).toBeGreaterThan(10)
  })
})

describe('values that cannot be', () => {
  it.each([
    [() => coil({ coilOhms: 0 }), 'coilOhms', /Coil resistance: 0 Ω cannot be; it lies between 1 Ω and 100 kΩ/],
    [() => coil({ pinVolts: Number.NaN }), 'pinVolts', /a number in V is needed/],
    [() => fet({ loadAmps: -1 }), 'loadAmps', /Load current/],
    [() => drop({ lengthMeters: 1e9 }), 'lengthMeters', /one way/],
    [() => supply({ ...SUPPLY_DEFAULTS, supplyVolts: 5, supplyAmps: 1 }, [{ what: 'fan', amps: -1, count: 1, volts: 12 }]), 'consumers/0/amps', /fan: a current/],
    [() => supply({ ...SUPPLY_DEFAULTS, supplyVolts: 5, supplyAmps: 1 }, [{ what: 'fan', amps: 1, count: 1.5, volts: 12 }]), 'consumers/0/count', /whole number/],
  ])('%#', (run, path, words) => {
    try {
      run()
      expect.unreachable()
    }
    catch (error) {
      expect(error).toBeInstanceOf(BadInput)
      expect((error as BadInput).path).toBe(path)
      expect((error as BadInput).message).toMatch(words)
    }
  })
})

describe('what holds for any values', () => {
  it('more current never makes a run, a MOSFET or a regulator better', () => {
    const amps = fc.double({ min: 0.01, max: 5, noNaN: true })
    fc.assert(fc.property(amps, amps, (a, b) => {
      const [less, more] = [Math.min(a, b), Math.max(a, b)]
      for (const make of [(x: number) => drop({ amps: x }), (x: number) => fet({ loadAmps: x }), (x: number) => reg({ amps: x })]) {
        make(less).limits.forEach((l, i) => expect(l.used).toBeLessThanOrEqual(make(more).limits[i]!.used + 1e-12))
      }
    }))
  })
  it('the conductor named makes the drop fit', () => {
    fc.assert(fc.property(fc.double({ min: 0.05, max: 8, noNaN: true }), fc.double({ min: 0.5, max: 25, noNaN: true }), (amps, lengthMeters) => {
      const section = valueOf(drop({ amps, lengthMeters }), 'An')
      fc.pre(Number.isFinite(section))
      expect(drop({ amps, lengthMeters, sectionMm2: section }).ok).toBe(true)
    }))
  })
  it('the release time is that of the circuit stepped through in time', () => {
    for (const clampVolts of [0.7, 5, 24]) {
      const [ohms, henries] = [400, 1.2]
      let current = 12 / ohms
      let t = 0
      const dt = 1e-7
      while (current > 0) {
        current -= (current * ohms + clampVolts) / henries * dt
        t += dt
      }
      expect(Math.abs(valueOf(back({ clampVolts }), 'tr') / t - 1)).toBeLessThan(0.001)
    }
  })
})

describe('the catalogue', () => {
  it.each(CATALOGUE.map(e => [e.title, e] as const))('%s: starts in order, with a range for every input', (_, e) => {
    expect(Object.keys(e.start).toSorted()).toEqual(Object.keys(e.ranges).toSorted())
    expect(e.compute(e.start).ok).toBe(true)
    for (const [key, r] of Object.entries(e.ranges)) expect(() => e.compute({ ...e.start, [key]: r.max * 10 + 1 }), key).toThrow(BadInput)
  })
})
