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
import { driveOf, isolatorGiven, isolatorSum, type Drive } from './isolator'
import { stepMs } from '../design/outputs/opposed'
import { coils } from './coils'

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
  /** What its driver is driven with. */
  drive: Drive
  of: (kind: string, title: string, given: string[]) => Part
}

/** All sums of a load; `path`: JSON Pointer of its wiring. `counted`: as for `sumsOf`. */
export function loadSums(
  design: Design,
  load: Load,
  path: string,
  counted: Counted | null,
): WiringSum[] {
  const board = boardOf(design)
  const at: At = {
    load,
    what: load.wiring.load,
    board,
    drive: driveOf(design, load, board),
    of: (kind, title, given) => ({
      id: `load:${load.id} ${kind}`,
      kind,
      title,
      path,
      given,
      loadId: load.id,
    }),
  }
  // Nothing is wired, whatever was said of it before.
  if (load.wiring.driver.kind === 'none') return wearSums(at, counted)
  return [
    ...isolatorSums(design, at),
    ...driverSums(at),
    ...solenoidSums(at),
    ...contactSums(at),
    ...leadSums(at),
    ...wearSums(at, counted),
  ]
}

type DriverOf<K extends Driver['kind']> = Extract<Driver, { kind: K }>
const DRIVERS: { [K in Driver['kind']]?: (driver: DriverOf<K>, at: At) => WiringSum[] } = {
  coil: (driver, at) => [
    driver.gate ? coilGate(driver, driver.gate, at) : coilBase(driver, at),
    made(
      at.of('flyback', 'Flyback diode', [
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
  'four-coils': (driver, { load, of }) => {
    if (!isOpposed(load.output)) return []
    const { output } = load
    const step = stepMs(output)
    return [
      made(
        of('coils', 'Coils of a stepper', [
          `${showQuantity(driver.coilOhms, 'Ω')} at ${showQuantity(driver.coilVolts, 'V')}, ${showQuantity(driver.lossVolts, 'V')} lost`,
          `${output.sequence === 'full' ? 'full' : 'half'} steps of ${step} ms, ${driver.stepsPerTurn} full ones a turn`,
        ]),
        () =>
          coils({
            coilVolts: driver.coilVolts,
            coilOhms: driver.coilOhms,
            lossVolts: driver.lossVolts,
            maxAmps: driver.maxAmps,
            stepSeconds: step / 1000,
            stepsPerTurn: driver.stepsPerTurn,
            stepsEach: output.sequence === 'full' ? 1 : 2,
            runSeconds: output.runLimitMs / 1000,
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
  mosfet: (driver, { what, drive, of }) => {
    if (!what) return []
    return [
      made(
        of('mosfet', 'MOSFET', [
          `${showQuantity(what.amps, 'A')} through ${showQuantity(driver.onOhms, 'Ω')} at ${showQuantity(driver.onAtGateVolts, 'V')}`,
          `gate at ${showQuantity(drive.volts, 'V')}, no heat sink`,
        ]),
        () =>
          mosfet({
            ...MOSFET_DEFAULTS,
            loadAmps: what.amps,
            gateVolts: drive.volts,
            onOhms: driver.onOhms,
            onAtGateVolts: driver.onAtGateVolts,
            maxAmps: driver.maxAmps,
          }),
      ),
    ]
  },
}

function coilBase(driver: DriverOf<'coil'>, { drive, of }: At): WiringSum {
  return made(
    of('coil-driver', 'Coil driver', [
      `coil ${showQuantity(driver.volts, 'V')}, ${showQuantity(driver.ohms, 'Ω')}`,
      `pin ${showQuantity(drive.volts, 'V')}, at most ${showQuantity(drive.maxAmps, 'A')}`,
      `gain at least ${driver.gainMin}`,
      ...(driver.baseOhms ? [`base resistor ${showQuantity(driver.baseOhms, 'Ω')}`] : []),
    ]),
    () => coilDriver(coilInputs(driver, drive), 'E24', driver.baseOhms),
  )
}

/** The coil is what the MOSFET carries. */
function coilGate(
  driver: DriverOf<'coil'>,
  gate: NonNullable<DriverOf<'coil'>['gate']>,
  { drive, of }: At,
): WiringSum {
  return made(
    of('mosfet', 'MOSFET of the coil', [
      `coil ${showQuantity(driver.volts, 'V')}, ${showQuantity(driver.ohms, 'Ω')}`,
      `${showQuantity(gate.onOhms, 'Ω')} at ${showQuantity(gate.onAtGateVolts, 'V')}, gate at ${showQuantity(drive.volts, 'V')}`,
    ]),
    () =>
      mosfet({
        ...MOSFET_DEFAULTS,
        ...gate,
        loadAmps: driver.volts / driver.ohms,
        gateVolts: drive.volts,
      }),
  )
}

function isolatorSums(design: Design, { load, board, of }: At): WiringSum[] {
  if (!load.wiring.isolator) return []
  return [
    made(of('isolator', 'Light isolator', isolatorGiven(design, load, board)), () =>
      isolatorSum(design, load, board),
    ),
  ]
}

/** What is known of the driver of a coil. */
export function coilInputs(driver: DriverOf<'coil'>, drive: Drive): CoilDriverInputs {
  return {
    ...COIL_DRIVER_DEFAULTS,
    supplyVolts: driver.volts,
    coilOhms: driver.ohms,
    pinVolts: drive.volts,
    pinMaxAmps: drive.maxAmps,
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
