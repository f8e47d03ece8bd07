/**
 * All sums of a design: each beside the part it belongs to, with the inputs it was given and an
 * edit where one helps.
 */
import type { BoardProfile } from '../boards/schema'
import { hasModule, hasSpeed } from '../design/links/traits'
import { boardOf, frontOf } from '../design/pins'
import type { Control, Design, Load } from '../design/schema'
import { linesOf } from '../design/values'
import { showQuantity } from '../units/quantity'
import { coilDriver } from './coil-driver'
import { LEVEL_SHIFT_DEFAULTS, levelShift } from './level-shift'
import { coilInputs, loadSums, type Counted } from './load-sums'
import { opto } from './opto'
import { pinLoad } from './pin-load'
import { PULL_UP_DEFAULTS, pullUp } from './pull-up'
import { sensorSums } from './sensor-sums'
import { BadInput, valueOf } from './sum'
import { supply, SUPPLY_DEFAULTS, type Consumer } from './supply'
import { uartClock } from './uart-clock'
import { made, strongerPull, wettingAmps, type WiringSum } from './wiring-sum'
import { isOpposed } from '../design/outputs/traits'
import { classOf } from '../boards/classes'
import { wiredControls } from '../design/wired'

/**
 * `counted`: switchings of a bench run, from which the wear of memory is reckoned; without it a
 * number is assumed.
 */
export function sumsOf(design: Design, counted: Counted | null = null): WiringSum[] {
  return [
    supplySum(design),
    pinSum(design),
    ...design.loads.flatMap((load, i) => loadSums(design, load, `/loads/${i}/wiring`, counted)),
    ...wiredControls(design).map(({ control, path }) => controlSum(design, control, path)),
    ...design.sensors.flatMap((sensor, i) => sensorSums(design, sensor, `/sensors/${i}`)),
    ...design.links.flatMap((link, i) =>
      hasSpeed(link)
        ? clockSums(`link:${link.id}`, `/links/${i}`, link.baud, [boardOf(design)])
        : [],
    ),
    ...frontSums(design),
  ]
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
        wettingAmps: wettingAmps(control.leadMeters),
      }),
    () =>
      strongerPull(ohms, board.logicVolts, pullOhms => ({
        type: 'setControl',
        controlId: control.id,
        patch: { pullOhms },
      })),
  )
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
          valueOf(coilDriver(coilInputs(driver, board), 'E24', driver.baseOhms), 'Ip'),
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
      .slice(0, isOpposed(load.output) && load.output.drive !== 'stepper' ? 1 : undefined)
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

function clockSums(
  id: string,
  path: string,
  baud: number,
  boards: readonly BoardProfile[],
): WiringSum[] {
  return boards.flatMap((board, i) => {
    const clock = classOf(board).uart
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

/** What the driver of a load takes while it is on. */
function driverConsumers({
  name,
  output,
  wiring: { driver },
}: Load): Omit<Consumer, 'count' | 'volts'>[] {
  if (driver.kind === 'coil') return [{ what: `coil of ${name}`, amps: driver.volts / driver.ohms }]
  if (driver.kind !== 'relay-module') return []
  const relays = linesOf(output).map(line => ({
    what: line.name ? `relay of ${name}, ${line.name}` : `relay of ${name}`,
    amps: driver.amps,
  }))
  // Two relays that exclude each other are never on together.
  return isOpposed(output) ? relays.slice(0, 1) : relays
}

/**
 * What the supply feeds: the board, serial modules, and what each driver takes while its load is
 * on.
 */
export function consumers(design: Design): Consumer[] {
  const { volts } = design.supply
  const board = boardOf(design)
  const drivers = design.loads.flatMap(driverConsumers)
  return [
    { what: 'board', amps: classOf(board).selfAmps, count: 1, volts },
    ...(design.front
      ? [
          {
            what: design.front.name,
            amps: classOf(frontOf(design) ?? { toolchain: 'other' }).selfAmps,
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
