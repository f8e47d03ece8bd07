/**
 * What a controller does: `step(program, state, event)` handles one event and returns the new state
 * and effects. Integer milliseconds of the controller's own 32-bit clock are handed in; nothing
 * here reads a clock or does I/O. Bench, proof, stand-ins and the generated code are all held
 * against this one definition (docs/behaviour.md).
 */
import { clock32 } from '../units/clock'
import { Machine } from './machine'
import type { Program } from './program'
import { workingCopy, type ControllerEvent, type ControllerState, type Effect } from './state'

export { nextDue, startController } from './state'
export type {
  ControllerEvent,
  ControllerState,
  Effect,
  InputState,
  Level,
  LinkState,
  ToldState,
} from './state'

export interface Stepped {
  state: ControllerState
  effects: Effect[]
}

/** The controller after one event, and what it does. Pure: the state given stays as it was. */
export function step(program: Program, state: ControllerState, event: ControllerEvent): Stepped {
  const machine = new Machine(program, workingCopy(state, clock32(event.now)))
  const effects = machine.handle(event)
  return { state: machine.state, effects }
}
