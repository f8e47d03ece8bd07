/** How a finger makes a gesture on a push button, and when the board has understood it. */
import { mostPresses } from '../controller/gestures'
import type { Control, Gesture } from '../design/schema'

/**
 * A finger stays this long on a push button, ms. Longer than any debounce allowed in practice (20
 * to 50 ms).
 */
const PRESS_MS = 150

export interface Finger {
  /** After the first touch: level of the pin, 0 = closed. */
  moves: { afterMs: number; level: 0 | 1 }[]
  /** Until the gesture acts, ms; Infinity where the times of the button do not let it be made. */
  actsAfterMs: number
}

/** The same for the same control and gesture. */
export function finger(control: Control, gesture: Gesture): Finger {
  let known = fingers.get(control)
  if (!known) fingers.set(control, (known = {}))
  return (known[gesture] ??= made(control, gesture))
}
const fingers = new WeakMap<Control, Partial<Record<Gesture, Finger>>>()

function made(control: Control, gesture: Gesture): Finger {
  if (control.kind === 'latching') return { moves: [], actsAfterMs: control.debounceMs }
  const { debounceMs, doubleMs, holdMs, gestures } = control
  if (gesture === 'hold')
    return {
      moves: [
        { afterMs: 0, level: 0 },
        { afterMs: holdMs + debounceMs + 50, level: 1 },
      ],
      actsAfterMs: holdMs,
    }
  const presses = { single: 1, double: 2, triple: 3, hold: 1 }[gesture]
  // Quick enough for the button, slow enough for its debounce.
  const down =
    presses === 1
      ? PRESS_MS
      : Math.max(debounceMs + 5, Math.min(PRESS_MS, Math.floor(doubleMs * 0.3)))
  const gap = Math.max(down + debounceMs + 5, Math.floor(doubleMs * 0.6))
  const last = (presses - 1) * gap
  const holds = presses === 1 && gestures.some(g => g.on === 'hold')
  const decided = holds ? down : last
  const acts = presses < mostPresses(control) ? last + doubleMs : decided + debounceMs
  return {
    moves: Array.from({ length: presses }, (_, i) => [
      { afterMs: i * gap, level: 0 as const },
      { afterMs: i * gap + down, level: 1 as const },
    ]).flat(),
    actsAfterMs: gap >= doubleMs && presses > 1 ? Infinity : acts,
  }
}

/** A gesture as an order: "press twice". */
export function gestureWords(gesture: Gesture): string {
  return { single: 'press', double: 'press twice', triple: 'press three times', hold: 'hold down' }[
    gesture
  ]
}
