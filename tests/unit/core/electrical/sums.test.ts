/**
 * Hand-worked cases, each to 1 %. "By hand" means worked on paper from the formula named beside the
 * sum; published tables (IEC 60228, ASTM B258, IEC 60063) are named where they are the source.
 */
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { axes, turnedBack } from '../../../../core/electrical/axes'
import { battery, BATTERY_DEFAULTS } from '../../../../core/electrical/battery'
import { bridge, BRIDGE_DEFAULTS, type BridgeInputs } from '../../../../core/electrical/bridge'
import {
  calibrated,
  calibration,
  type CalibrationInputs,
} from '../../../../core/electrical/calibration'
import { CATALOGUE } from '../../../../core/electrical/catalogue'
import { COIL_DRIVER_DEFAULTS, coilDriver } from '../../../../core/electrical/coil-driver'
import { contact } from '../../../../core/electrical/contact'
import { dimmer } from '../../../../core/electrical/dimmer'
import { divider, DIVIDER_DEFAULTS } from '../../../../core/electrical/divider'
import { flyback } from '../../../../core/electrical/flyback'
import { fuse, FUSE_DEFAULTS } from '../../../../core/electrical/fuse'
import { knob, KNOB_DEFAULTS } from '../../../../core/electrical/knob'
import {
  LEVEL_SHIFT_DEFAULTS,
  levelShift,
  type LevelShiftInputs,
} from '../../../../core/electrical/level-shift'
import { mosfet, MOSFET_DEFAULTS } from '../../../../core/electrical/mosfet'
import { opto, OPTO_DEFAULTS, type OptoInputs } from '../../../../core/electrical/opto'
import { pinLoad } from '../../../../core/electrical/pin-load'
import { PULL_UP_DEFAULTS, pullUp } from '../../../../core/electrical/pull-up'
import { regulator, REGULATOR_DEFAULTS } from '../../../../core/electrical/regulator'
import { solenoid } from '../../../../core/electrical/solenoid'
import { stepper, type StepperInputs } from '../../../../core/electrical/stepper'
import {
  thermistor,
  THERMISTOR_DEFAULTS,
  type ThermistorInputs,
} from '../../../../core/electrical/thermistor'
import { uartClock } from '../../../../core/electrical/uart-clock'
import { BadInput, valueOf, type Sum } from '../../../../core/electrical/sum'
import { supply, SUPPLY_DEFAULTS } from '../../../../core/electrical/supply'
import {
  gaugeAbove,
  gaugeMm2,
  voltageDrop,
  VOLTAGE_DROP_DEFAULTS,
} from '../../../../core/electrical/voltage-drop'
import { wear, WEAR_DEFAULTS } from '../../../../core/electrical/wear'

const coil = (p: object = {}, ownOhms = 0) =>
  coilDriver(
    {
      ...COIL_DRIVER_DEFAULTS,
      supplyVolts: 5,
      coilOhms: 70,
      pinVolts: 5,
      pinMaxAmps: 0.02,
      gainMin: 100,
      transistorMaxAmps: 0.6,
      ...p,
    },
    'E24',
    ownOhms,
  )
const back = (p: object = {}) =>
  flyback({
    supplyVolts: 12,
    coilOhms: 400,
    coilHenries: 1.2,
    clampVolts: 0.7,
    diodeMaxAmps: 1,
    switchMaxVolts: 40,
    ...p,
  })
const fet = (p: object = {}) =>
  mosfet({
    ...MOSFET_DEFAULTS,
    loadAmps: 2,
    gateVolts: 5,
    onOhms: 0.025,
    onAtGateVolts: 4.5,
    maxAmps: 20,
    ...p,
  })
const div = (p: object = {}) =>
  divider({
    ...DIVIDER_DEFAULTS,
    inputMaxVolts: 15,
    upperOhms: 22_000,
    lowerOhms: 10_000,
    pinMaxVolts: 5,
    referenceVolts: 5,
    ...p,
  })
const pull = (p: object = {}) =>
  pullUp({ ...PULL_UP_DEFAULTS, supplyVolts: 5, pullOhms: 4700, leadMeters: 10, ...p })
const reg = (p: object = {}) =>
  regulator({ ...REGULATOR_DEFAULTS, inputVolts: 12, outputVolts: 5, amps: 0.1, ...p })
const drop = (p: object = {}) =>
  voltageDrop({
    ...VOLTAGE_DROP_DEFAULTS,
    supplyVolts: 12,
    amps: 3,
    lengthMeters: 10,
    sectionMm2: 1.5,
    conductorCelsius: 20,
    ...p,
  })
const cell = (p: object = {}) =>
  battery({
    ...BATTERY_DEFAULTS,
    selfDischargePerMonth: 0,
    capacityAmpHours: 2.4,
    activeAmps: 0.08,
    activeSeconds: 2,
    periodSeconds: 600,
    sleepAmps: 50e-6,
    ...p,
  })
const strike = (p: object = {}) =>
  solenoid({
    onSeconds: 5,
    periodSeconds: 60,
    ratedDuty: 0.15,
    maxOnSeconds: 30,
    volts: 12,
    ohms: 24,
    ...p,
  })

const shift = (patch: Partial<LevelShiftInputs> = {}) =>
  levelShift({
    ...LEVEL_SHIFT_DEFAULTS,
    highVolts: 5,
    lowVolts: 3.3,
    lowMaxVolts: 3.6,
    baud: 9600,
    ...patch,
  })
const coupler = (patch: Partial<OptoInputs> = {}) =>
  opto({ ...OPTO_DEFAULTS, pinVolts: 5, pinMaxAmps: 0.02, ...patch })
const motor = (patch: Partial<BridgeInputs> = {}) =>
  bridge({
    ...BRIDGE_DEFAULTS,
    motorVolts: 12,
    runAmps: 1,
    windingOhms: 4,
    onOhms: 0.3,
    maxAmps: 2,
    peakAmps: 4,
    ...patch,
  })
const step = (patch: Partial<StepperInputs> = {}) =>
  stepper({
    supplyVolts: 12,
    phaseOhms: 2.4,
    phaseHenries: 0.005,
    phaseAmps: 0.8,
    driverMaxAmps: 1.5,
    stepHz: 400,
    stepsPerTurn: 200,
    ...patch,
  })
const line = (patch: Partial<CalibrationInputs> = {}) =>
  calibration({ raw1: 102, value1: 0, raw2: 921, value2: 100, bits: 10, ...patch })
const bead = (patch: Partial<ThermistorInputs> = {}) =>
  thermistor({ ...THERMISTOR_DEFAULTS, supplyVolts: 3.3, ...patch })
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
  // (5 - 0.7) V through the resistor that is there.
  ['a base resistor from the drawer', coil({}, 1000), 'Rb', 1000],
  ['pin current through 1 kΩ', coil({}, 1000), 'Ip', 0.0043],
  ['12 V, 360 Ω coil: 33.3 mA', coil({ supplyVolts: 12, coilOhms: 360 }), 'Ic', 0.0333],
  [
    'its base resistor: 4.3 V / 3.33 mA = 1290 Ω',
    coil({ supplyVolts: 12, coilOhms: 360 }),
    'Rb',
    1200,
  ],
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
  ['copper at 40 °C is 7.86 % worse', drop({ conductorCelsius: 40 }), 'R', 0.248],
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
  [
    'fuse for 1.8 A: at least 2.4 A',
    fuse({ ...FUSE_DEFAULTS, loadAmps: 1.8, wireMaxAmps: 5 }),
    'Im',
    2.4,
  ],
  ['next fuse (IEC 60127)', fuse({ ...FUSE_DEFAULTS, loadAmps: 1.8, wireMaxAmps: 5 }), 'In', 2.5],
  [
    'contact of 10 A for a motor',
    contact({ loadAmps: 1, ratedAmps: 10, ratedInrushAmps: 30 }, 'motor'),
    'Iu',
    2,
  ],
  [
    'inrush of a 0.4 A LED driver',
    contact({ loadAmps: 0.4, ratedAmps: 10, ratedInrushAmps: 30 }, 'led-driver'),
    'Ii',
    8,
  ],
  // Published table of 8-bit controllers at 16 MHz, double speed: 9600 +0.2 %, 57600 -0.8 %, 115200
  // +2.1 %.
  [
    '9600 baud from 16 MHz (data sheet table)',
    uartClock({ clockHz: 16e6, divisorStep: 8, baud: 9600 }),
    'e',
    0.16026,
  ],
  [
    '57600 baud from 16 MHz (data sheet table)',
    uartClock({ clockHz: 16e6, divisorStep: 8, baud: 57_600 }),
    'e',
    -0.79365,
  ],
  [
    '115200 baud from 16 MHz (data sheet table)',
    uartClock({ clockHz: 16e6, divisorStep: 8, baud: 115_200 }),
    'e',
    2.1242,
  ],
  [
    '115200 baud at single speed: divisor 144',
    uartClock({ clockHz: 16e6, divisorStep: 16, baud: 115_200 }),
    'e',
    -3.5494,
  ],
  [
    'four relay inputs of 4 mA and a base of 7 mA',
    pinLoad({ pinMaxAmps: 0.02, totalMaxAmps: 0.2 }, [
      ...[1, 2, 3, 4].map(n => ({ what: `relay ${n}`, amps: 0.004 })),
      { what: 'base', amps: 0.007 },
    ]),
    'I',
    0.023,
  ],
  // 5 V x 2 / 3.
  ['5 V through 1 kΩ and 2 kΩ', shift(), 'Vd', 3.3333],
  // 2.2 x 666.7 Ω x 100 pF.
  ['its edge', shift(), 'te', 1.4667e-7],
  // (5 - 1.2) / 5 mA = 760 Ω; E24 below: 750 Ω; 3.8 / 750 = 5.067 mA, half of it 2.533 mA.
  ['lamp of an optocoupler', coupler(), 'R', 750],
  ['what its transistor pulls', coupler(), 'Ic', 2.5333e-3],
  // 12 V / (4 + 0.3) Ω; 1² x 0.3; 40 + 0.3 x 40.
  ['motor that stands', motor(), 'Is', 2.7907],
  ['junction of its bridge', motor(), 'Tj', 52],
  // 12 / (2 x 0.005 x 0.8).
  ['rate that a stepper follows', step(), 'fm', 1500],
  ['its heat: 2 x 0.64 x 2.4', step(), 'P', 3.072],
  ['230 V x 0.2 A', dimmer({ volts: 230, loadAmps: 0.2, maxAmps: 1, minAmps: 0.05 }), 'P', 46],
  // (100 - 0) / (921 - 102) and 0 - 102 x that.
  ['slope through two readings', line(), 'm', 0.1221],
  ['value at reading 0', line(), 'b', -12.454],
  // R50 = 10 kΩ x exp(3950 x (1/323.15 - 1/298.15)) = 10 kΩ x exp(-1.02495).
  ['thermistor at 50 °C', bead({ celsius: 50 }), 'Rt', 3588],
  ['its pin at 3.3 V: 3.3 x 3588 / 13588', bead({ celsius: 50 }), 'Vt', 0.8714],
  // At 25 °C: 3.3 / 1024 / (1.65 x 0.5 x 3950 / 298.15²) = 3.2227 mV / 36.66 mV.
  ['one step at 25 °C', bead(), 'dT', 0.08791],
  // 24 x 4 x 2 = 192 edges a second.
  [
    'edges of a spun knob',
    knob({ ...KNOB_DEFAULTS, detentsPerTurn: 24, debounceSeconds: 0 }),
    'te',
    0.0052083,
  ],
  // 100 x cos 30.
  ['axis turned back by 30 degrees', axes({ degrees: 30, x: 100, y: 0 }), 'xs', 86.603],
  ['and the other', axes({ degrees: 30, x: 100, y: 0 }), 'ys', -50],
  [
    'supply: board 50 mA, four relays of 72 mA',
    supply({ ...SUPPLY_DEFAULTS, supplyVolts: 5, supplyAmps: 0.5 }, [
      { what: 'board', amps: 0.05, count: 1, volts: 5 },
      { what: 'relay', amps: 0.072, count: 4, volts: 5 },
    ]),
    'I',
    0.338,
  ],
  [
    'its next common rating: 0.338 / 0.8 = 0.42',
    supply({ ...SUPPLY_DEFAULTS, supplyVolts: 5, supplyAmps: 0.5 }, [
      { what: 'all', amps: 0.338, count: 1, volts: 5 },
    ]),
    'In',
    0.5,
  ],
]
describe('hand-worked', () => {
  it.each(cases)('%s', (_, of, symbol, expected) => {
    expect(Math.abs(valueOf(of, symbol) / expected - 1)).toBeLessThan(0.01)
  })
  it('are forty at least', () => expect(cases.length).toBeGreaterThanOrEqual(40))
})

describe('wire gauges (table of ASTM B258)', () => {
  it.each([
    [10, 5.261],
    [14, 2.081],
    [18, 0.823],
    [22, 0.3255],
    [24, 0.2047],
    [28, 0.081],
  ])('%d: %d mm²', (gauge, mm2) => expect(Math.abs(gaugeMm2(gauge) / mm2 - 1)).toBeLessThan(0.001))
  it('the thinnest that is thick enough', () =>
    expect([gaugeAbove(0.8), gaugeAbove(0.83), gaugeAbove(2.0)]).toEqual([18, 17, 14]))
})

describe('limits', () => {
  const broken = (of: Sum) => of.limits.filter(l => !l.ok).map(l => l.words)
  const provoked: [string, Sum, Sum, string][] = [
    ['a 12 mA pin', coil(), coil({ pinMaxAmps: 0.007 }), 'pin current, resistor at its lowest'],
    // 43 mA from a pin for 20; 0.43 mA at a gain of 100 are 43 mA of the 71 that are wanted.
    ['100 Ω from the drawer', coil({}, 1000), coil({}, 100), 'pin current, resistor at its lowest'],
    [
      '10 kΩ from the drawer',
      coil({}, 1000),
      coil({}, 10_000),
      'saturation, resistor at its highest',
    ],
    ['a weak transistor', coil(), coil({ transistorMaxAmps: 0.05 }), 'transistor current'],
    ['too little gain', coil(), coil({ gainMin: 9 }), 'saturation, resistor at its highest'],
    ['a switch for 10 V', back(), back({ switchMaxVolts: 10 }), 'voltage at the switch'],
    ['a small diode', back(), back({ diodeMaxAmps: 0.02 }), 'diode current'],
    ['3.3 V on a part for 4.5 V', fet(), fet({ gateVolts: 3.3 }), 'gate drive'],
    ['12 A without a heat sink', fet(), fet({ loadAmps: 12 }), 'junction temperature'],
    ['resistors at their worst', div({ inputMaxVolts: 14 }), div(), 'pin voltage at the worst'],
    [
      'a divider of megohms',
      div({ inputMaxVolts: 14 }),
      div({ inputMaxVolts: 14, upperOhms: 2_200_000, lowerOhms: 1_000_000 }),
      'source resistance',
    ],
    ['the built-in pull-up alone', pull(), pull({ pullOhms: 35_000 }), 'wetting current'],
    ['a corroded contact', pull(), pull({ closedOhms: 3000 }), 'low level'],
    ['300 mA through a small regulator', reg(), reg({ amps: 0.3 }), 'junction temperature'],
    ['6 V in for 5 V out', reg(), reg({ inputVolts: 6 }), 'headroom'],
    ['1.5 mm² over 10 m', drop({ sectionMm2: 2.5 }), drop(), 'voltage drop'],
    [
      '10 A through 1.5 mm²',
      drop({ sectionMm2: 2.5 }),
      drop({ amps: 10, lengthMeters: 0.5 }),
      'current density',
    ],
    [
      'a tungsten lamp of 2 A on 10 A',
      contact({ loadAmps: 0.9, ratedAmps: 10, ratedInrushAmps: 30 }, 'tungsten'),
      contact({ loadAmps: 2, ratedAmps: 10, ratedInrushAmps: 30 }, 'tungsten'),
      'running current',
    ],
    [
      'LED drivers that weld',
      contact({ loadAmps: 1, ratedAmps: 10, ratedInrushAmps: 30 }, 'led-driver'),
      contact({ loadAmps: 1.6, ratedAmps: 20, ratedInrushAmps: 30 }, 'led-driver'),
      'inrush',
    ],
    [
      'saving a hundred times a day',
      wear({ ...WEAR_DEFAULTS, changesPerDay: 20 }),
      wear({ ...WEAR_DEFAULTS, changesPerDay: 100 }),
      'wear',
    ],
    ['a knob that wakes each minute', cell(), cell({ periodSeconds: 60 }), 'life'],
    [
      'a strike held for a minute',
      strike(),
      strike({ onSeconds: 60, periodSeconds: 3600 }),
      'on time',
    ],
    [
      '115200 baud on an 8-bit board',
      uartClock({ clockHz: 16e6, divisorStep: 8, baud: 38_400 }),
      uartClock({ clockHz: 16e6, divisorStep: 8, baud: 115_200 }),
      'error of the speed',
    ],
    [
      'twelve lamps on one board',
      pinLoad({ pinMaxAmps: 0.02, totalMaxAmps: 0.2 }, [{ what: 'lamp', amps: 0.015 }]),
      pinLoad(
        { pinMaxAmps: 0.02, totalMaxAmps: 0.2 },
        Array.from({ length: 14 }, () => ({ what: 'lamp', amps: 0.015 })),
      ),
      'all pins together',
    ],
    [
      'a relay coil straight on a pin',
      pinLoad({ pinMaxAmps: 0.02, totalMaxAmps: 0.2 }, [{ what: 'base', amps: 0.007 }]),
      pinLoad({ pinMaxAmps: 0.02, totalMaxAmps: 0.2 }, [{ what: 'coil', amps: 0.07 }]),
      'one pin',
    ],
    ['5 V straight into 3.3 V', shift(), shift({ upperOhms: 0 }), 'lower side, highest voltage'],
    ['a divider that takes too much', shift(), shift({ lowerOhms: 680 }), 'lower side, high level'],
    ['2.5 V into a 5 V board', shift(), shift({ lowVolts: 2.5 }), 'higher side, high level'],
    [
      '100 kΩ at 115200 baud',
      shift(),
      shift({ upperOhms: 100_000, lowerOhms: 200_000, baud: 115_200 }),
      'edge, a tenth of a bit',
    ],
    [
      'a coupler of little transfer',
      coupler(),
      coupler({ transferMin: 0.1 }),
      'pull on the line, with a factor of two for age',
    ],
    ['a lamp of 30 mA', coupler(), coupler({ lampAmps: 0.03 }), 'pin current'],
    [
      'a blue lamp on 3.3 V',
      coupler(),
      coupler({ pinVolts: 3.3, lampVolts: 3.1 }),
      'voltage left for the resistor',
    ],
    ['a motor of 1 Ω', motor(), motor({ windingOhms: 1 }), 'starting current'],
    ['3 A on a bridge for 2 A', motor(), motor({ runAmps: 3 }), 'running current'],
    ['a hot bridge', motor(), motor({ onOhms: 3.3 }), 'junction temperature'],
    ['5000 steps a second', step(), step({ stepHz: 5000 }), 'steps a second'],
    ['2 A from a driver for 1.5 A', step(), step({ phaseAmps: 2 }), 'driver current'],
    ['a phase that 12 V cannot feed', step(), step({ phaseOhms: 30 }), 'current at standstill'],
    [
      'one small lamp on a dimmer',
      dimmer({ volts: 230, loadAmps: 0.2, maxAmps: 1, minAmps: 0.05 }),
      dimmer({ volts: 230, loadAmps: 0.02, maxAmps: 1, minAmps: 0.05 }),
      'least load',
    ],
    [
      '2 A on a dimmer for 1 A',
      dimmer({ volts: 230, loadAmps: 0.2, maxAmps: 1, minAmps: 0.05 }),
      dimmer({ volts: 230, loadAmps: 2, maxAmps: 1, minAmps: 0.05 }),
      'load current',
    ],
    ['two readings side by side', line(), line({ raw2: 140 }), 'readings far enough apart'],
    ['a reading of 2000 with ten bits', line(), line({ raw2: 2000 }), 'readings within the scale'],
    ['a thermistor read at 150 °C', bead(), bead({ celsius: 150 }), 'fine enough, half a degree'],
    [
      'a bead of 1 kΩ at 5 V',
      bead(),
      bead({ supplyVolts: 5, ohmsAt25: 1000, seriesOhms: 1000 }),
      'self-heating, half a degree',
    ],
    [
      'a knob debounced by 10 ms',
      knob({ ...KNOB_DEFAULTS, detentsPerTurn: 24, debounceSeconds: 0 }),
      knob({ ...KNOB_DEFAULTS, detentsPerTurn: 24, debounceSeconds: 0.01 }),
      'debounce below the time between edges',
    ],
    [
      'a knob read every 20 ms',
      knob({ ...KNOB_DEFAULTS, detentsPerTurn: 24, debounceSeconds: 0 }),
      knob({ ...KNOB_DEFAULTS, detentsPerTurn: 24, debounceSeconds: 0, pollSeconds: 0.02 }),
      'read often enough',
    ],
    [
      'a fuse above the wire',
      fuse({ ...FUSE_DEFAULTS, loadAmps: 1.8, wireMaxAmps: 5 }),
      fuse({ ...FUSE_DEFAULTS, loadAmps: 1.8, wireMaxAmps: 2 }),
      'fuse protects the wire',
    ],
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
    [
      () => coil({ coilOhms: 0 }),
      'coilOhms',
      /Coil resistance: 0 Ω cannot be; it lies between 1 Ω and 100 kΩ/,
    ],
    [() => coil({ pinVolts: Number.NaN }), 'pinVolts', /a number in V is needed/],
    [() => fet({ loadAmps: -1 }), 'loadAmps', /Load current/],
    [() => line({ raw2: 102 }), 'raw2', /two readings are equal/],
    [
      () => pinLoad({ pinMaxAmps: 0.02, totalMaxAmps: 0.2 }, [{ what: 'fan', amps: -1 }]),
      'consumers/0/amps',
      /fan: a current/,
    ],
    [() => drop({ lengthMeters: 1e9 }), 'lengthMeters', /one way/],
    [
      () =>
        supply({ ...SUPPLY_DEFAULTS, supplyVolts: 5, supplyAmps: 1 }, [
          { what: 'fan', amps: -1, count: 1, volts: 12 },
        ]),
      'consumers/0/amps',
      /fan: a current/,
    ],
    [
      () =>
        supply({ ...SUPPLY_DEFAULTS, supplyVolts: 5, supplyAmps: 1 }, [
          { what: 'fan', amps: 1, count: 1.5, volts: 12 },
        ]),
      'consumers/0/count',
      /whole number/,
    ],
  ])('%#', (run, path, words) => {
    try {
      run()
      expect.unreachable()
    } catch (error) {
      expect(error).toBeInstanceOf(BadInput)
      expect((error as BadInput).path).toBe(path)
      expect((error as BadInput).message).toMatch(words)
    }
  })
})

describe('what holds for any values', () => {
  it('more current never makes a run, a MOSFET or a regulator better', () => {
    const amps = fc.double({ min: 0.01, max: 5, noNaN: true })
    fc.assert(
      fc.property(amps, amps, (a, b) => {
        const [less, more] = [Math.min(a, b), Math.max(a, b)]
        for (const make of [
          (x: number) => drop({ amps: x }),
          (x: number) => fet({ loadAmps: x }),
          (x: number) => reg({ amps: x }),
        ]) {
          make(less).limits.forEach((l, i) =>
            expect(l.used).toBeLessThanOrEqual(make(more).limits[i]!.used + 1e-12),
          )
        }
      }),
    )
  })
  it('the conductor named makes the drop fit', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.05, max: 8, noNaN: true }),
        fc.double({ min: 0.5, max: 25, noNaN: true }),
        (amps, lengthMeters) => {
          const section = valueOf(drop({ amps, lengthMeters }), 'An')
          fc.pre(Number.isFinite(section))
          expect(drop({ amps, lengthMeters, sectionMm2: section }).ok).toBe(true)
        },
      ),
    )
  })
  it('the release time is that of the circuit stepped through in time', () => {
    for (const clampVolts of [0.7, 5, 24]) {
      const [ohms, henries] = [400, 1.2]
      let current = 12 / ohms
      let t = 0
      const dt = 1e-7
      while (current > 0) {
        current -= ((current * ohms + clampVolts) / henries) * dt
        t += dt
      }
      expect(Math.abs(valueOf(back({ clampVolts }), 'tr') / t - 1)).toBeLessThan(0.001)
    }
  })
})

describe('readings', () => {
  it('a calibration gives back its two points, and what lies between', () => {
    const points = { raw1: 102, value1: 0, raw2: 921, value2: 100 }
    expect([calibrated(points, 102), calibrated(points, 921), calibrated(points, 511.5)]).toEqual([
      0, 100, 50,
    ])
  })
  it('axes turned back keep their length, and undo the mount', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -180, max: 180 }),
        fc.integer({ min: -1000, max: 1000 }),
        fc.integer({ min: -1000, max: 1000 }),
        (degrees, x, y) => {
          const a = (degrees * Math.PI) / 180
          const mounted = {
            x: x * Math.cos(a) - y * Math.sin(a),
            y: x * Math.sin(a) + y * Math.cos(a),
          }
          const back = turnedBack({ degrees, ...mounted })
          expect(back.x).toBeCloseTo(x, 6)
          expect(back.y).toBeCloseTo(y, 6)
        },
      ),
    )
  })
})

describe('the catalogue', () => {
  it.each(CATALOGUE.map(e => [e.title, e] as const))(
    '%s: starts in order, with a range for every input',
    (_, e) => {
      expect(Object.keys(e.start).toSorted()).toEqual(Object.keys(e.ranges).toSorted())
      expect(e.compute(e.start).ok).toBe(true)
      for (const [key, r] of Object.entries(e.ranges))
        expect(() => e.compute({ ...e.start, [key]: r.max * 10 + 1 }), key).toThrow(BadInput)
    },
  )
})
