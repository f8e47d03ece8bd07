/** Times of outputs by the slots that the search gives them. */
import type { Output } from '../design/schema'

/** How long a timer of an output runs, ms. */
export function timerMs(output: Output, slot: number): number {
  switch (output.kind) {
    case 'pulsed':
      return output.lengthMs
    case 'held':
      return output.timeoutMs
    case 'opposed':
      return slot === 0 ? output.deadTimeMs : output.runLimitMs
    case 'switched':
      return (
        [
          output.timers?.onDelayMs,
          output.timers?.offDelayMs,
          output.timers?.blinkMs,
          Math.max(output.limits?.minOnMs ?? 0, output.limits?.minOffMs ?? 0),
          output.limits?.longestOnMs,
        ][slot] ?? 0
      )
    default:
      return 0
  }
}

/** How many timers an output has. `holders`: whoever can hold a held load. */
export function slotsOf(output: Output, holders: number): number {
  const slots: Record<Output['kind'], number> = {
    switched: output.kind === 'switched' && output.limits ? 5 : 3,
    level: 0,
    follower: 0,
    pulsed: 1,
    opposed: 2,
    held: holders,
  }
  return slots[output.kind]
}
