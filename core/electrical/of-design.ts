/**
 * All sums of a design: each beside the part it belongs to, with the inputs it was given and an
 * edit where one helps.
 */
import type { BoardProfile } from '../boards/schema'
import { handSurfaces } from '../design/find'
import { hasModule, hasSpeed } from '../design/links'
import { boardOf, frontOf } from '../design/pins'
import type { Edit } from '../design/edits'
import type { Control, Design, Load, Sensor } from '../design/schema'
import { linesOf } from '../design/values'
import { preferredAbove, preferredNear } from '../units/e-series'
import { count } from '../units/format'
import { showQuantity } from '../units/quantity'
import { axes } from './axes'
import { bridge, BRIDGE_DEFAULTS } from './bridge'
import { calibration } from './calibration'
import { COIL_DRIVER_DEFAULTS, coilDriver } from './coil-driver'
import { contact } from './contact'
import { dimmer } from './dimmer'
import { divider, DIVIDER_DEFAULTS } from './divider'
import { flyback } from './flyback'
import { fuse, FUSE_DEFAULTS } from './fuse'
import { knob, KNOB_DEFAULTS } from './knob'
import { LEVEL_SHIFT_DEFAULTS, levelShift } from './level-shift'
import { mosfet, MOSFET_DEFAULTS } from './mosfet'
import { opto } from './opto'
import { pinLoad } from './pin-load'
import { PULL_UP_DEFAULTS, pullUp } from './pull-up'
import { solenoid } from './solenoid'
import { stepper } from './stepper'
import { BadInput, valueOf, type Sum } from './sum'
import { supply, SUPPLY_DEFAULTS, type Consumer } from './supply'
import { thermistor, THERMISTOR_DEFAULTS, thermistorOhms } from './thermistor'
import { uartClock } from './uart-clock'
import { DENSITY, voltageDrop, VOLTAGE_DROP_DEFAULTS } from './voltage-drop'
import { wear, WEAR_DEFAULTS } from './wear'

export interface WiringSum {
  /** "load:fan coil-driver": stable, for findings and keys. */
  id: string
  kind: string
  title: string
  /** JSON Pointer of the part. */
  path: string
  loadId: string | null
  controlId: string | null
  sensorId: string | null
  /** What it was computed from, in words. */
  given: string[]
  /** null when an input cannot be; `refused` says which. */
  sum: Sum | null
  refused: string
  fixes: { words: string; edit: Edit }[]
}

/** What a board of each toolchain takes by itself at most, A: radios at their sending peak. */
const BOARD_AMPS: Record<string, number> = {
  'avr-8bit': 0.05,
  'wifi-single-radio': 0.35,
  'dual-radio': 0.5,
  'single-core': 0.35,
  linux: 1.2,
  router: 0.6,
  other: 0.1,
}
/** Assumed for the wear of memory until the bench or the log says otherwise. */
const CHANGES_PER_DAY = 50
/** Short leads work with less wetting current than long ones. */
const LONG_LEAD_M = 3

/** How often loads were switched while somebody watched. */
export interface Counted {
  seconds: number
  moves: Record<string, number>
}

/**
 * `counted`: switchings of a bench run, from which the wear of memory is reckoned; without it a
 * number is assumed.
 */
export function sumsOf(design: Design, counted: Counted | null = null): WiringSum[] {
  return [
    supplySum(design),
    pinSum(design),
    ...design.loads.flatMap((load, i) => loadSums(design, load, `/loads/${i}/wiring`, counted)),
    ...handSurfaces(design).flatMap(s =>
      s.controls.map((c, j) =>
        controlSum(design, c, `/surfaces/${design.surfaces.indexOf(s)}/controls/${j}`),
      ),
    ),
    ...design.sensors.flatMap((sensor, i) => sensorSums(design, sensor, `/sensors/${i}`)),
    ...design.links.flatMap((link, i) =>
      hasSpeed(link)
        ? clockSums(`link:${link.id}`, `/links/${i}`, link.baud, [boardOf(design)])
        : [],
    ),
    ...frontSums(design),
  ]
}

type Part = Pick<WiringSum, 'id' | 'kind' | 'title' | 'path' | 'given'> & Partial<WiringSum>

function made(
  part: Part,
  compute: () => Sum,
  fixes: (of: Sum) => WiringSum['fixes'] = () => [],
): WiringSum {
  const base = { loadId: null, controlId: null, sensorId: null, ...part }
  try {
    const of = compute()
    return { ...base, sum: of, refused: '', fixes: of.ok ? [] : fixes(of) }
  } catch (error) {
    if (error instanceof BadInput) return { ...base, sum: null, refused: error.message, fixes: [] }
    throw error
  }
}

function loadSums(design: Design, load: Load, path: string, counted: Counted | null): WiringSum[] {
  const { driver, load: what, contact: rating, run } = load.wiring
  const board = boardOf(design)
  const of = (kind: string, title: string, given: string[]): Part => ({
    id: `load:${load.id} ${kind}`,
    kind,
    title,
    path,
    given,
    loadId: load.id,
  })
  const sums: WiringSum[] = []
  if (driver.kind === 'coil') {
    sums.push(
      made(
        of('coil-driver', 'Coil driver', [
          `coil ${showQuantity(driver.volts, 'V')}, ${showQuantity(driver.ohms, 'Ω')}`,
          `pin ${showQuantity(board.logicVolts, 'V')}, at most ${showQuantity(board.pinMaxAmps, 'A')}`,
          `gain at least ${driver.gainMin}`,
        ]),
        () =>
          coilDriver({
            ...COIL_DRIVER_DEFAULTS,
            supplyVolts: driver.volts,
            coilOhms: driver.ohms,
            pinVolts: board.logicVolts,
            pinMaxAmps: board.pinMaxAmps,
            gainMin: driver.gainMin,
            transistorMaxAmps: driver.transistorMaxAmps,
          }),
      ),
    )
    sums.push(
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
    )
  }
  if (driver.kind === 'bridge' && what) {
    sums.push(
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
    )
  }
  if (driver.kind === 'stepper' && what) {
    const stepHz = load.output.kind === 'opposed' ? load.output.stepHz : 1
    sums.push(
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
    )
  }
  if (driver.kind === 'dimmer' && what) {
    sums.push(
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
    )
  }
  if (driver.kind === 'opto') {
    sums.push(
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
    )
  }
  const { duty } = load.wiring
  if (what?.type === 'solenoid' && duty && load.output.kind === 'pulsed') {
    const onSeconds = load.output.lengthMs / 1000
    sums.push(
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
    )
  }
  if (driver.kind === 'mosfet' && what) {
    sums.push(
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
    )
  }
  if ((driver.kind === 'relay-module' || driver.kind === 'coil') && what && rating) {
    sums.push(
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
    )
  }
  if (what && run && !what.mains) {
    sums.push(
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
    )
    sums.push(
      made(
        of('fuse', 'Fuse', [
          `${showQuantity(what.amps, 'A')}`,
          `lead of ${showQuantity(run.sectionMm2, 'mm²')}, ${showQuantity(run.sectionMm2 * DENSITY, 'A')} at most`,
        ]),
        () =>
          fuse({ ...FUSE_DEFAULTS, loadAmps: what.amps, wireMaxAmps: run.sectionMm2 * DENSITY }),
      ),
    )
  }
  if ('powerUp' in load.output && load.output.powerUp === 'last') {
    const seen = counted && counted.seconds >= 60 ? (counted.moves[load.id] ?? 0) : null
    const changesPerDay = seen
      ? Math.round((seen / (counted?.seconds ?? 1)) * 86_400)
      : CHANGES_PER_DAY
    sums.push(
      made(
        of('wear', 'Memory wear', [
          seen
            ? `${count(seen)} switchings in ${count((counted?.seconds ?? 0) / 60)} minutes on the bench, as if all day: ${count(changesPerDay)} a day`
            : `${CHANGES_PER_DAY} changes a day assumed`,
          `saved after ${load.output.saveDelayMs} ms of rest, two slots of 100,000 writes`,
        ]),
        () => wear({ ...WEAR_DEFAULTS, changesPerDay }),
      ),
    )
  }
  return sums
}

function controlSum(design: Design, control: Control, path: string): WiringSum {
  const board = boardOf(design)
  const ohms = control.pullOhms ?? board.pullUpOhms
  return made(
    {
      id: `control:${control.id} pull-up`,
      kind: 'pull-up',
      title: 'Pull-up',
      path,
      controlId: control.id,
      loadId: control.loadId,
      given: [
        `${showQuantity(ohms, 'Ω')}${control.pullOhms === null ? ' in the board' : ''} to ${showQuantity(board.logicVolts, 'V')}`,
        `lead of ${showQuantity(control.leadMeters, 'm')}`,
      ],
    },
    () =>
      pullUp({
        ...PULL_UP_DEFAULTS,
        supplyVolts: board.logicVolts,
        pullOhms: ohms,
        leadMeters: control.leadMeters,
        wettingAmps:
          control.leadMeters > LONG_LEAD_M
            ? PULL_UP_DEFAULTS.wettingAmps
            : PULL_UP_DEFAULTS.wettingAmps / 20,
      }),
    () =>
      strongerPull(ohms, board.logicVolts, pullOhms => ({
        type: 'setControl',
        controlId: control.id,
        patch: { pullOhms },
      })),
  )
}

/** The next lower usual pull-up that gives the contact its wetting current. */
function strongerPull(
  ohms: number,
  volts: number,
  edit: (pullOhms: number) => Edit,
): WiringSum['fixes'] {
  return [3300, 2200, 1000]
    .filter(r => r < ohms && volts / r >= PULL_UP_DEFAULTS.wettingAmps)
    .slice(0, 1)
    .map(r => ({ words: `Pull up with ${showQuantity(r, 'Ω')}`, edit: edit(r) }))
}

/**
 * Current of one input of a relay module, of a logic input of a driver, and of a dimmer's input.
 */
const INPUT_AMPS: Record<'relay-module' | 'logic' | 'dimmer', number> = {
  'relay-module': 0.005,
  logic: 0.0005,
  dimmer: 0.002,
}

function pinSum(design: Design): WiringSum {
  const board = boardOf(design)
  const known = new Map<string, number>()
  for (const load of design.loads) {
    const { driver } = load.wiring
    try {
      if (driver.kind === 'coil')
        known.set(
          load.id,
          valueOf(
            coilDriver({
              ...COIL_DRIVER_DEFAULTS,
              supplyVolts: driver.volts,
              coilOhms: driver.ohms,
              pinVolts: board.logicVolts,
              pinMaxAmps: board.pinMaxAmps,
              gainMin: driver.gainMin,
              transistorMaxAmps: driver.transistorMaxAmps,
            }),
            'Ip',
          ),
        )
      else if (driver.kind === 'opto')
        known.set(
          load.id,
          Math.max(0, board.logicVolts - driver.lampVolts)
            / valueOf(
              opto({ ...driver, pinVolts: board.logicVolts, pinMaxAmps: board.pinMaxAmps }),
              'R',
            ),
        )
      else
        known.set(
          load.id,
          INPUT_AMPS[
            driver.kind === 'relay-module' || driver.kind === 'dimmer' ? driver.kind : 'logic'
          ],
        )
    } catch (error) {
      // What cannot be computed is told beside its own part.
      if (!(error instanceof BadInput)) throw error
    }
  }
  const consumers = design.loads.flatMap(load =>
    linesOf(load.output)
      .slice(0, load.output.kind === 'opposed' && load.output.drive !== 'stepper' ? 1 : undefined)
      .map(line => ({
        what: line.name ? `${load.name}, ${line.name}` : load.name,
        amps: known.get(load.id) ?? 0,
      })),
  )
  return made(
    {
      id: 'board pin-load',
      kind: 'pin-load',
      title: 'Pins all together',
      path: '/controllers/0',
      given: [
        `one pin ${showQuantity(board.pinMaxAmps, 'A')}, all ${showQuantity(board.totalMaxAmps, 'A')}`,
        ...consumers.map(c => `${c.what} ${showQuantity(c.amps, 'A')}`),
      ],
    },
    () => pinLoad({ pinMaxAmps: board.pinMaxAmps, totalMaxAmps: board.totalMaxAmps }, consumers),
  )
}

/**
 * Clocks by toolchain: 16 MHz in steps of 8 at double speed; 80 MHz whole, or with sixteenths.
 * Others are not known.
 */
const CLOCKS: Partial<Record<BoardProfile['toolchain'], { clockHz: number; divisorStep: number }>> =
  {
    'avr-8bit': { clockHz: 16_000_000, divisorStep: 8 },
    'wifi-single-radio': { clockHz: 80_000_000, divisorStep: 1 },
    'dual-radio': { clockHz: 80_000_000, divisorStep: 1 / 16 },
    'single-core': { clockHz: 80_000_000, divisorStep: 1 / 16 },
  }

function clockSums(
  id: string,
  path: string,
  baud: number,
  boards: readonly BoardProfile[],
): WiringSum[] {
  return boards.flatMap((board, i) => {
    const clock = CLOCKS[board.toolchain]
    if (!clock) return []
    return [
      made(
        {
          id: `${id} uart-clock${i ? ` ${i}` : ''}`,
          kind: 'uart-clock',
          title:
            boards.length > 1
              ? `Speed of the wire, ${i ? 'board in front' : 'controller'}`
              : 'Speed of the serial port',
          path,
          given: [`${baud} baud from ${showQuantity(clock.clockHz, 'Hz')}`, board.name],
        },
        () => uartClock({ ...clock, baud }),
      ),
    ]
  })
}

/** The wire to a board in front: voltages both ways, and both clocks. */
function frontSums(design: Design): WiringSum[] {
  const { front } = design
  const ahead = frontOf(design)
  if (!front || !ahead) return []
  const board = boardOf(design)
  const [higher, lower] = board.logicVolts >= ahead.logicVolts ? [board, ahead] : [ahead, board]
  const through =
    front.shift === 'divider'
      ? { upperOhms: 1000, lowerOhms: 2000 }
      : { upperOhms: 0, lowerOhms: 1e8 }
  const apart = higher.logicVolts > lower.logicVolts + 0.2
  return [
    ...clockSums('front', '/front/baud', front.baud, [board, ahead]),
    ...(apart && front.shift !== 'shifter'
      ? [
          made(
            {
              id: 'front level-shift',
              kind: 'level-shift',
              title: 'Wire between two voltages',
              path: '/front/shift',
              given: [
                `${showQuantity(higher.logicVolts, 'V')} to ${showQuantity(lower.logicVolts, 'V')}, which takes ${showQuantity(lower.inputMaxVolts, 'V')} at most`,
                front.shift === 'divider' ? 'divider of 1 kΩ and 2 kΩ' : 'nothing between',
              ],
            },
            () =>
              levelShift({
                ...LEVEL_SHIFT_DEFAULTS,
                ...through,
                highVolts: higher.logicVolts,
                lowVolts: lower.logicVolts,
                lowMaxVolts: lower.inputMaxVolts,
                baud: front.baud,
              }),
            () =>
              front.shift === 'none'
                ? [
                    {
                      words: 'Put a divider between',
                      edit: { type: 'setFront', front: { shift: 'divider' } },
                    },
                  ]
                : [
                    {
                      words: 'Put a level shifter between',
                      edit: { type: 'setFront', front: { shift: 'shifter' } },
                    },
                  ],
          ),
        ]
      : []),
  ]
}

function sensorSums(design: Design, sensor: Sensor, path: string): WiringSum[] {
  const board = boardOf(design)
  const of = (kind: string, title: string, given: string[]): Part => ({
    id: `sensor:${sensor.id} ${kind}`,
    kind,
    title,
    path,
    given,
    sensorId: sensor.id,
  })
  const pull = (ohms: number | null, leadMeters: number) =>
    made(
      of('pull-up', 'Pull-up', [
        `${showQuantity(ohms ?? board.pullUpOhms, 'Ω')}${ohms === null ? ' in the board' : ''} to ${showQuantity(board.logicVolts, 'V')}`,
        `lead of ${showQuantity(leadMeters, 'm')}`,
      ]),
      () =>
        pullUp({
          ...PULL_UP_DEFAULTS,
          supplyVolts: board.logicVolts,
          pullOhms: ohms ?? board.pullUpOhms,
          leadMeters,
          wettingAmps:
            sensor.kind === 'thermometer'
              ? 0
              : leadMeters > LONG_LEAD_M
                ? PULL_UP_DEFAULTS.wettingAmps
                : PULL_UP_DEFAULTS.wettingAmps / 20,
        }),
      () =>
        'pullOhms' in sensor
          ? strongerPull(ohms ?? board.pullUpOhms, board.logicVolts, pullOhms => ({
              type: 'setSensor',
              sensorId: sensor.id,
              patch: { pullOhms },
            }))
          : [],
    )
  const divided = (upperOhms: number, lowerOhms: number, inputMaxVolts: number) =>
    made(
      of('divider', 'Divider', [
        `up to ${showQuantity(inputMaxVolts, 'V')} through ${showQuantity(upperOhms, 'Ω')} and ${showQuantity(lowerOhms, 'Ω')}`,
        `pin ${showQuantity(board.inputMaxVolts, 'V')} at most`,
      ]),
      () =>
        divider({
          ...DIVIDER_DEFAULTS,
          inputMaxVolts,
          upperOhms,
          lowerOhms,
          pinMaxVolts: board.inputMaxVolts,
          referenceVolts: board.logicVolts,
          bits: board.analogBits,
        }),
      () => fittingDivider(sensor, inputMaxVolts, board.logicVolts),
    )
  switch (sensor.kind) {
    case 'infrared':
      return []
    case 'knob':
      return [
        made(
          of('knob', 'Knob', [
            `${sensor.detentsPerTurn} detents a turn, spun twice a second`,
            `debounce ${sensor.debounceMs} ms`,
          ]),
          () =>
            knob({
              ...KNOB_DEFAULTS,
              detentsPerTurn: sensor.detentsPerTurn,
              debounceSeconds: sensor.debounceMs / 1000,
            }),
          () => [
            {
              words: 'Take no debounce',
              edit: { type: 'setSensor', sensorId: sensor.id, patch: { debounceMs: 0 } },
            },
          ],
        ),
        pull(null, sensor.leadMeters),
      ]
    case 'contact':
      return [pull(sensor.pullOhms, sensor.leadMeters)]
    case 'floats':
      return [pull(null, sensor.leadMeters)]
    case 'thermometer':
      return [pull(sensor.pullOhms, sensor.leadMeters)]
    case 'thermistor':
      return [
        made(
          of('thermistor', 'Thermistor', [
            `${showQuantity(sensor.ohmsAt25, 'Ω')} at 25 °C, B ${sensor.beta}, at ${showQuantity(sensor.celsius, '°C')}`,
            `${showQuantity(sensor.seriesOhms, 'Ω')} to ${showQuantity(board.logicVolts, 'V')}, ${board.analogBits} bits`,
          ]),
          () =>
            thermistor({
              ...THERMISTOR_DEFAULTS,
              supplyVolts: board.logicVolts,
              seriesOhms: sensor.seriesOhms,
              ohmsAt25: sensor.ohmsAt25,
              beta: sensor.beta,
              celsius: sensor.celsius,
              bits: board.analogBits,
            }),
          () => [
            {
              words: 'Take the resistance there as series resistor',
              edit: {
                type: 'setSensor',
                sensorId: sensor.id,
                patch: {
                  seriesOhms: preferredNear(
                    thermistorOhms(sensor.ohmsAt25, sensor.beta, sensor.celsius),
                  ),
                },
              },
            },
          ],
        ),
      ]
    case 'battery':
      return [divided(sensor.upperOhms, sensor.lowerOhms, sensor.maxVolts)]
    case 'analog':
      return [
        ...(sensor.divider || sensor.maxVolts > board.inputMaxVolts
          ? [
              divided(
                sensor.divider?.upperOhms ?? 10,
                sensor.divider?.lowerOhms ?? 1e8,
                sensor.maxVolts,
              ),
            ]
          : []),
        ...(sensor.calibration
          ? [
              made(
                of('calibration', 'Calibration', [
                  `reading ${sensor.calibration.raw1} is ${sensor.calibration.value1} ${sensor.unit}`.trim(),
                  `reading ${sensor.calibration.raw2} is ${sensor.calibration.value2} ${sensor.unit}`.trim(),
                ]),
                () =>
                  calibration({
                    ...(sensor.calibration as NonNullable<typeof sensor.calibration>),
                    bits: board.analogBits,
                  }),
              ),
            ]
          : []),
      ]
    case 'two-axis':
      return sensor.degrees
        ? [
            made(
              of('axes', 'Axes turned back', [
                `mounted at ${sensor.degrees}°`,
                'for a push of 100 along its first axis',
              ]),
              () => axes({ degrees: sensor.degrees, x: 100, y: 0 }),
            ),
          ]
        : []
  }
}

/**
 * A divider whose lower resistor is kept at 10 kΩ and whose upper one brings the highest voltage to
 * 85 % of full scale.
 */
function fittingDivider(sensor: Sensor, maxVolts: number, fullScale: number): WiringSum['fixes'] {
  const lowerOhms = 10_000
  const ratio = maxVolts / (0.85 * fullScale) - 1
  if (ratio <= 0) return []
  const upperOhms = preferredAbove(lowerOhms * ratio)
  return [
    {
      words: `Take ${showQuantity(upperOhms, 'Ω')} over ${showQuantity(lowerOhms, 'Ω')}`,
      edit: {
        type: 'setSensor',
        sensorId: sensor.id,
        patch:
          sensor.kind === 'battery'
            ? { upperOhms, lowerOhms }
            : { divider: { upperOhms, lowerOhms } },
      },
    },
  ]
}

function supplySum(design: Design): WiringSum {
  const all = consumers(design)
  return made(
    {
      id: 'supply supply',
      kind: 'supply',
      title: 'Supply of board and relays',
      path: '/supply',
      given: [
        `${showQuantity(design.supply.volts, 'V')}, ${showQuantity(design.supply.amps, 'A')}`,
        ...all.map(
          c => `${c.count > 1 ? `${c.count} x ` : ''}${c.what} ${showQuantity(c.amps, 'A')}`,
        ),
        'the loads themselves are fed apart from it',
      ],
    },
    () =>
      supply(
        { ...SUPPLY_DEFAULTS, supplyVolts: design.supply.volts, supplyAmps: design.supply.amps },
        all,
      ),
    s => {
      const next = valueOf(s, 'In')
      return Number.isFinite(next)
        ? [
            {
              words: `Take a supply of ${showQuantity(next, 'A')}`,
              edit: { type: 'setSupply', patch: { amps: next } },
            },
          ]
        : []
    },
  )
}

/**
 * What the supply feeds: the board, serial modules, and what each driver takes while its load is
 * on.
 */
export function consumers(design: Design): Consumer[] {
  const { volts } = design.supply
  const board = boardOf(design)
  const drivers = design.loads.flatMap(({ name, output, wiring: { driver } }) =>
    driver.kind === 'relay-module'
      ? linesOf(output)
          .map(line => ({
            what: line.name ? `relay of ${name}, ${line.name}` : `relay of ${name}`,
            amps: driver.amps,
          }))
          .slice(0, output.kind === 'opposed' ? 1 : undefined)
      : driver.kind === 'coil'
        ? [{ what: `coil of ${name}`, amps: driver.volts / driver.ohms }]
        : [],
  )
  return [
    { what: 'board', amps: BOARD_AMPS[board.toolchain] ?? 0.1, count: 1, volts },
    ...(design.front
      ? [
          {
            what: design.front.name,
            amps: BOARD_AMPS[frontOf(design)?.toolchain ?? ''] ?? 0.1,
            count: 1,
            volts,
          },
        ]
      : []),
    ...design.links
      .filter(hasModule)
      .map(l => ({ what: `module of ${l.name}`, amps: 0.04, count: 1, volts })),
    ...drivers.map(d => ({ ...d, count: 1, volts })),
  ]
}
