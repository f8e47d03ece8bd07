/** Sums of a load: its driver, what it drives, its contact, its lead, the memory it wears. */
import type { BoardProfile } from '../boards/schema'
import { boardOf } from '../design/pins'
import type { Design, Driver, Load } from '../design/schema'
import { count } from '../units/format'
import { showQuantity } from '../units/quantity'
import { bridge, BRIDGE_DEFAULTS } from './bridge'
import { COIL_DRIVER_DEFAULTS, coilDriver, type CoilDriverInputs } from './coil-driver'
import { contact } from './contact'
import { dimmer } from './dimmer'
import { flyback } from './flyback'
import { fuse, FUSE_DEFAULTS } from './fuse'
import { mosfet, MOSFET_DEFAULTS } from './mosfet'
import { opto } from './opto'
import { solenoid } from './solenoid'
import { stepper } from './stepper'
import { valueOf } from './sum'
import { DENSITY, voltageDrop, VOLTAGE_DROP_DEFAULTS } from './voltage-drop'
import { wear, WEAR_DEFAULTS } from './wear'
import { made, type Part, type WiringSum } from './wiring-sum'
import { isOpposed, isPulse } from '../design/outputs/traits'

/** Assumed for the wear of memory until the bench or the log says otherwise. */
const CHANGES_PER_DAY = 50
/** How often loads were switched while somebody watched. */
export interface Counted {
  seconds: number
  moves: Record<string, number>
}

/** A load, what it drives (null = not said), and the board that drives it. */
interface At {
  load: Load
  what: Load['wiring']['load']
  board: BoardProfile
  of: (kind: string, title: string, given: string[]) => Part
}

/** All sums of a load; `path`: JSON Pointer of its wiring. `counted`: as for `sumsOf`. */
export function loadSums(
  design: Design,
  load: Load,
  path: string,
  counted: Counted | null,
): WiringSum[] {
  const at: At = {
    load,
    what: load.wiring.load,
    board: boardOf(design),
    of: (kind, title, given) => ({
      id: `load:${load.id} ${kind}`,
      kind,
      title,
      path,
      given,
      loadId: load.id,
    }),
  }
  return [
    ...driverSums(at),
    ...solenoidSums(at),
    ...contactSums(at),
    ...leadSums(at),
    ...wearSums(at, counted),
  ]
}

type DriverOf<K extends Driver['kind']> = Extract<Driver, { kind: K }>
const DRIVERS: { [K in Driver['kind']]?: (driver: DriverOf<K>, at: At) => WiringSum[] } = {
  coil: (driver, { board, of }) => [
    made(
      of('coil-driver', 'Coil driver', [
        `coil ${showQuantity(driver.volts, 'V')}, ${showQuantity(driver.ohms, 'Ω')}`,
        `pin ${showQuantity(board.logicVolts, 'V')}, at most ${showQuantity(board.pinMaxAmps, 'A')}`,
        `gain at least ${driver.gainMin}`,
        ...(driver.baseOhms ? [`base resistor ${showQuantity(driver.baseOhms, 'Ω')}`] : []),
      ]),
      () => coilDriver(coilInputs(driver, board), 'E24', driver.baseOhms),
    ),
    made(
      of('flyback', 'Flyback diode', [
        `coil ${showQuantity(driver.henries, 'H')}`,
        'silicon diode of 1 A, transistor for 40 V',
      ]),
      () =>
        flyback({
          supplyVolts: driver.volts,
          coilOhms: driver.ohms,
          coilHenries: driver.henries,
          clampVolts: 0.7,
          diodeMaxAmps: 1,
          switchMaxVolts: 40,
        }),
    ),
  ],
  bridge: (driver, { what, of }) => {
    if (!what) return []
    return [
      made(
        of('bridge', 'Motor bridge', [
          `${showQuantity(what.amps, 'A')} at ${showQuantity(what.volts, 'V')}, winding ${showQuantity(driver.windingOhms, 'Ω')}`,
          `bridge ${showQuantity(driver.onOhms, 'Ω')}, ${showQuantity(driver.maxAmps, 'A')} lasting, ${showQuantity(driver.peakAmps, 'A')} peak`,
        ]),
        () =>
          bridge({
            ...BRIDGE_DEFAULTS,
            motorVolts: what.volts,
            runAmps: what.amps,
            windingOhms: driver.windingOhms,
            onOhms: driver.onOhms,
            maxAmps: driver.maxAmps,
            peakAmps: driver.peakAmps,
          }),
      ),
    ]
  },
  stepper: (driver, { load, what, of }) => {
    if (!what) return []
    const stepHz = isOpposed(load.output) ? load.output.stepHz : 1
    return [
      made(
        of('stepper', 'Stepper drive', [
          `${showQuantity(driver.phaseAmps, 'A')} in ${showQuantity(driver.phaseOhms, 'Ω')} and ${showQuantity(driver.phaseHenries, 'H')} at ${showQuantity(what.volts, 'V')}`,
          `${stepHz} steps a second, ${driver.stepsPerTurn} a turn`,
        ]),
        () =>
          stepper({
            supplyVolts: what.volts,
            phaseOhms: driver.phaseOhms,
            phaseHenries: driver.phaseHenries,
            phaseAmps: driver.phaseAmps,
            driverMaxAmps: driver.maxAmps,
            stepHz,
            stepsPerTurn: driver.stepsPerTurn,
          }),
      ),
    ]
  },
  dimmer: (driver, { what, of }) => {
    if (!what) return []
    return [
      made(
        of('dimmer', 'Dimmer', [
          `${showQuantity(what.amps, 'A')} at ${showQuantity(what.volts, 'V')}`,
          `dimmer ${showQuantity(driver.minAmps, 'A')} to ${showQuantity(driver.maxAmps, 'A')}`,
        ]),
        () =>
          dimmer({
            volts: what.volts,
            loadAmps: what.amps,
            maxAmps: driver.maxAmps,
            minAmps: driver.minAmps,
          }),
      ),
    ]
  },
  opto: (driver, { board, of }) => [
    made(
      of('opto', 'Optocoupler', [
        `pin ${showQuantity(board.logicVolts, 'V')}, lamp ${showQuantity(driver.lampAmps, 'A')}`,
        `line ${showQuantity(driver.lineVolts, 'V')} with ${showQuantity(driver.lineOhms, 'Ω')}`,
      ]),
      () =>
        opto({
          pinVolts: board.logicVolts,
          pinMaxAmps: board.pinMaxAmps,
          lampVolts: driver.lampVolts,
          lampAmps: driver.lampAmps,
          transferMin: driver.transferMin,
          lineVolts: driver.lineVolts,
          lineOhms: driver.lineOhms,
        }),
    ),
  ],
  mosfet: (driver, { what, board, of }) => {
    if (!what) return []
    return [
      made(
        of('mosfet', 'MOSFET', [
          `${showQuantity(what.amps, 'A')} through ${showQuantity(driver.onOhms, 'Ω')} at ${showQuantity(driver.onAtGateVolts, 'V')}`,
          `gate at ${showQuantity(board.logicVolts, 'V')}, no heat sink`,
        ]),
        () =>
          mosfet({
            ...MOSFET_DEFAULTS,
            loadAmps: what.amps,
            gateVolts: board.logicVolts,
            onOhms: driver.onOhms,
            onAtGateVolts: driver.onAtGateVolts,
            maxAmps: driver.maxAmps,
          }),
      ),
    ]
  },
}

/** What is known of the driver of a coil. */
export function coilInputs(driver: DriverOf<'coil'>, board: BoardProfile): CoilDriverInputs {
  return {
    ...COIL_DRIVER_DEFAULTS,
    supplyVolts: driver.volts,
    coilOhms: driver.ohms,
    pinVolts: board.logicVolts,
    pinMaxAmps: board.pinMaxAmps,
    gainMin: driver.gainMin,
    transistorMaxAmps: driver.transistorMaxAmps,
  }
}

function driverSums(at: At): WiringSum[] {
  const { driver } = at.load.wiring
  const sums = DRIVERS[driver.kind] as ((driver: Driver, at: At) => WiringSum[]) | undefined
  return sums?.(driver, at) ?? []
}

function solenoidSums({ load, what, of }: At): WiringSum[] {
  const { duty } = load.wiring
  if (what?.type !== 'solenoid' || !duty || !isPulse(load.output)) return []
  const onSeconds = load.output.lengthMs / 1000
  return [
    made(
      of('solenoid', 'Solenoid duty', [
        `on for ${showQuantity(onSeconds, 's')}, asked for every ${showQuantity(duty.periodSeconds, 's')}`,
        `rated for ${showQuantity(duty.ratedShare * 100, '%')}, ${showQuantity(duty.maxOnSeconds, 's')} at most`,
      ]),
      () =>
        solenoid({
          onSeconds,
          periodSeconds: duty.periodSeconds,
          ratedDuty: duty.ratedShare,
          maxOnSeconds: duty.maxOnSeconds,
          volts: what.volts,
          ohms: what.volts / what.amps,
        }),
    ),
  ]
}

function contactSums({ load, what, of }: At): WiringSum[] {
  const { driver, contact: rating } = load.wiring
  const switches = driver.kind === 'relay-module' || driver.kind === 'coil'
  if (!switches || !what || !rating) return []
  return [
    made(
      of('contact', 'Contact', [
        `${showQuantity(what.amps, 'A')} at ${showQuantity(what.volts, 'V')}`,
        `contact ${showQuantity(rating.ratedAmps, 'A')}, inrush ${showQuantity(rating.inrushAmps, 'A')}`,
      ]),
      () =>
        contact(
          {
            loadAmps: what.amps,
            ratedAmps: rating.ratedAmps,
            ratedInrushAmps: rating.inrushAmps,
          },
          what.type,
          what.mains,
        ),
    ),
  ]
}

function leadSums({ load, what, of }: At): WiringSum[] {
  const { run } = load.wiring
  if (!what || !run || what.mains) return []
  return [
    made(
      of('voltage-drop', 'Lead', [
        `${showQuantity(what.amps, 'A')} at ${showQuantity(what.volts, 'V')}`,
        `${showQuantity(run.lengthMeters, 'm')} of ${showQuantity(run.sectionMm2, 'mm²')}, copper at 40 °C`,
      ]),
      () =>
        voltageDrop({
          ...VOLTAGE_DROP_DEFAULTS,
          supplyVolts: what.volts,
          amps: what.amps,
          lengthMeters: run.lengthMeters,
          sectionMm2: run.sectionMm2,
        }),
      s => {
        const next = valueOf(s, 'An')
        return Number.isFinite(next) && next > run.sectionMm2
          ? [
              {
                words: `Take ${showQuantity(next, 'mm²')}`,
                edit: {
                  type: 'setWiring',
                  loadId: load.id,
                  patch: { run: { ...run, sectionMm2: next } },
                },
              },
            ]
          : []
      },
    ),
    made(
      of('fuse', 'Fuse', [
        `${showQuantity(what.amps, 'A')}`,
        `lead of ${showQuantity(run.sectionMm2, 'mm²')}, ${showQuantity(run.sectionMm2 * DENSITY, 'A')} at most`,
      ]),
      () => fuse({ ...FUSE_DEFAULTS, loadAmps: what.amps, wireMaxAmps: run.sectionMm2 * DENSITY }),
    ),
  ]
}

function wearSums({ load, of }: At, counted: Counted | null): WiringSum[] {
  if (!('powerUp' in load.output) || load.output.powerUp !== 'last') return []
  const seen = counted && counted.seconds >= 60 ? (counted.moves[load.id] ?? 0) : null
  const changesPerDay = seen
    ? Math.round((seen / (counted?.seconds ?? 1)) * 86_400)
    : CHANGES_PER_DAY
  return [
    made(
      of('wear', 'Memory wear', [
        seen
          ? `${count(seen)} switchings in ${count((counted?.seconds ?? 0) / 60)} minutes on the bench, as if all day: ${count(changesPerDay)} a day`
          : `${CHANGES_PER_DAY} changes a day assumed`,
        `saved after ${load.output.saveDelayMs} ms of rest, two slots of 100,000 writes`,
      ]),
      () => wear({ ...WEAR_DEFAULTS, changesPerDay }),
    ),
  ]
}
