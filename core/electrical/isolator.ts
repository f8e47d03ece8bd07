/** A light isolator between a pin and a driver: what is left to drive with behind it. */
import type { BoardProfile } from '../boards/schema'
import type { Design, Load } from '../design/schema'
import { showQuantity } from '../units/quantity'
import { GATE_OHMS } from './mosfet'
import { opto } from './opto'
import { feedVolts } from './supply-chain'
import { BadInput, valueOf, type Sum } from './sum'

/** What drives the input of a driver: a pin, or the transistor of an isolator. */
export interface Drive {
  volts: number
  maxAmps: number
}

/** Collector to emitter of a saturated phototransistor, V. */
const LOST_VOLTS = 0.3

/** What is left to drive with: the pin itself, or half of what an isolator passes, for its age. */
export function driveOf(design: Design, load: Load, board: BoardProfile): Drive {
  const { isolator, fedBy } = load.wiring
  const pin = { volts: board.logicVolts, maxAmps: board.pinMaxAmps }
  if (!isolator) return pin
  try {
    const passes = valueOf(isolatorSum(design, load, board), 'Ic')
    return { volts: feedVolts(design, fedBy) - LOST_VOLTS, maxAmps: passes / 2 }
  } catch (error) {
    if (error instanceof BadInput) return pin
    throw error
  }
}

/** What the input of a driver takes, A. */
function wantedAmps(load: Load, volts: number): number {
  const { driver } = load.wiring
  if (driver.kind === 'coil' && driver.gate === null) return driver.volts / driver.ohms / 10
  return driver.kind === 'relay-module' ? 0.005 : volts / GATE_OHMS
}

/** The resistor of its lamp, and whether its transistor passes enough. Throws `BadInput`. */
export function isolatorSum(design: Design, load: Load, board: BoardProfile): Sum {
  const { isolator, fedBy } = load.wiring
  if (!isolator) throw new BadInput('isolator', 'there is no isolator')
  const volts = feedVolts(design, fedBy)
  return opto({
    ...isolator,
    pinVolts: board.logicVolts,
    pinMaxAmps: board.pinMaxAmps,
    lineVolts: volts,
    lineOhms: Math.min(1e7, Math.max(100, volts / wantedAmps(load, volts))),
  })
}

/** What it was reckoned with, in words. */
export function isolatorGiven(design: Design, load: Load, board: BoardProfile): string[] {
  const { isolator, fedBy } = load.wiring
  const volts = feedVolts(design, fedBy)
  return [
    `pin ${showQuantity(board.logicVolts, 'V')}, lamp ${showQuantity(isolator?.lampAmps ?? 0, 'A')}`,
    `the driver takes ${showQuantity(wantedAmps(load, volts), 'A')} at ${showQuantity(volts, 'V')}`,
  ]
}
