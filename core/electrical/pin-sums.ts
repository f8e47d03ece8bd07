/** What pins give all together: those of the board, and those of each expander. */
import { expandersOf, lampsOf } from '../design/find'
import { EXPANDERS } from '../boards/expanders'
import { hasCoils, linesExclude } from '../design/outputs/traits'
import { boardOf } from '../design/pins'
import type { Design, Load, Output } from '../design/schema'
import { linesOf } from '../design/values'
import { showQuantity } from '../units/quantity'
import type { BoardProfile } from '../boards/schema'
import { coilDriver } from './coil-driver'
import { driveOf, isolatorSum } from './isolator'
import { lampAmps } from './lamp'
import { coilInputs } from './load-sums'
import { opto } from './opto'
import { pinLoad } from './pin-load'
import { BadInput, valueOf } from './sum'
import { made, type WiringSum } from './wiring-sum'

/**
 * Current of one input of a relay module, of a logic input of a driver, and of a dimmer's input.
 */
const INPUT_AMPS: Record<'relay-module' | 'logic' | 'dimmer', number> = {
  'relay-module': 0.005,
  logic: 0.0005,
  dimmer: 0.002,
}

/** How many lines of an output are on at the same time, at most. */
function atOnce(output: Output): number {
  if (hasCoils(output)) return 2
  return linesExclude(output) ? 1 : linesOf(output).length
}

/** Current that a pin gives to the driver of a load, A. */
function pinAmps(design: Design, load: Load, board: BoardProfile): number {
  const { driver, isolator } = load.wiring
  try {
    if (isolator) return valueOf(isolatorSum(design, load, board), 'If')
    if (driver.kind === 'coil' && !driver.gate)
      return valueOf(
        coilDriver(coilInputs(driver, driveOf(design, load, board)), 'E24', driver.baseOhms),
        'Ip',
      )
    if (driver.kind === 'opto')
      return (
        Math.max(0, board.logicVolts - driver.lampVolts)
        / valueOf(
          opto({ ...driver, pinVolts: board.logicVolts, pinMaxAmps: board.pinMaxAmps }),
          'R',
        )
      )
  } catch (error) {
    // What cannot be computed is told beside its own part.
    if (!(error instanceof BadInput)) throw error
    return 0
  }
  return INPUT_AMPS[
    driver.kind === 'relay-module' || driver.kind === 'dimmer' ? driver.kind : 'logic'
  ]
}

interface Giver {
  what: string
  amps: number
  pin: number
}

/** All pins together, of the board and of each expander. */
export function pinSums(design: Design): WiringSum[] {
  const board = boardOf(design)
  const all: Giver[] = [
    ...design.loads.flatMap(load =>
      linesOf(load.output)
        .slice(0, atOnce(load.output))
        .map(line => ({
          what: line.name ? `${load.name}, ${line.name}` : load.name,
          amps: pinAmps(design, load, board),
          pin: line.pin,
        })),
    ),
    ...lampsOf(design).map(l => ({
      what: l.name,
      amps: lampAmps(board.logicVolts),
      pin: l.pin,
    })),
  ]
  const expanders = expandersOf(design)
  const on = (first: number, count: number) =>
    all.filter(g => g.pin >= first && g.pin < first + count)
  const behind = new Set(expanders.flatMap(e => on(e.firstPin, e.pins)))
  return [
    together(
      'board pin-load',
      'Pins all together',
      '/controllers/0',
      board,
      all.filter(g => !behind.has(g)),
    ),
    ...expanders.map((e, i) =>
      together(
        `expander:${e.id} pin-load`,
        `Pins of ${e.name}`,
        `/controllers/0/expanders/${i}`,
        EXPANDERS[e.kind],
        on(e.firstPin, e.pins),
      ),
    ),
  ]
}

function together(
  id: string,
  title: string,
  path: string,
  { pinMaxAmps, totalMaxAmps }: { pinMaxAmps: number; totalMaxAmps: number },
  givers: readonly Giver[],
): WiringSum {
  return made(
    {
      id,
      kind: 'pin-load',
      title,
      path,
      given: [
        `one pin ${showQuantity(pinMaxAmps, 'A')}, all ${showQuantity(totalMaxAmps, 'A')}`,
        ...givers.map(c => `${c.what} ${showQuantity(c.amps, 'A')}`),
      ],
    },
    () => pinLoad({ pinMaxAmps, totalMaxAmps }, givers),
  )
}
