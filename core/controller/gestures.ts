/**
 * Gestures of a push button: once, twice, three times, held down. A button that knows one gesture
 * acts at the press and never comes here; any other waits only for what may still come
 * (docs/behaviour.md).
 */
import type { Control, Gesture } from '../design/schema'
import { clock32, reached } from '../units/clock'

/** Presses of one button that belong together. */
export interface PressRun {
  count: number
  /** First edge of the last press. */
  last: number
  /** A further press has to begin before; null where none can follow. */
  due: number | null
  /** Becomes a hold then, while the first press lasts and the button knows holds. */
  hold: number | null
}

export type PushControl = Extract<Control, { kind: 'push' }>
/** What a run came to: still under way, or a gesture that is complete. */
export interface Pressed {
  run: PressRun | null
  done: Gesture | null
}

const BY_COUNT: readonly Gesture[] = ['single', 'double', 'triple']

/** Presses of the longest gesture that a button knows. */
export function mostPresses({ gestures }: PushControl): number {
  const knows = (gesture: Gesture) => gestures.some(g => g.on === gesture)
  if (knows('triple')) return 3
  return knows('double') ? 2 : 1
}

/** A press whose first edge was at `since`. */
export function pressDown(control: PushControl, run: PressRun | null, since: number): Pressed {
  const count = (run?.count ?? 0) + 1
  const most = mostPresses(control)
  const next: PressRun = {
    count,
    last: since,
    due: most > 1 ? clock32(since + control.doubleMs) : null,
    hold:
      count === 1 && control.gestures.some(g => g.on === 'hold')
        ? clock32(since + control.holdMs)
        : null,
  }
  return { run: next, done: count === most && most > 1 ? (BY_COUNT[count - 1] as Gesture) : null }
}

/** The button is let go: no hold any more; a single press that nothing can follow is complete. */
export function pressUp(run: PressRun | null): Pressed {
  if (!run || run.hold === null) return { run, done: null }
  return { run: { ...run, hold: null }, done: run.due === null ? 'single' : null }
}

/**
 * What time alone completes. `pending`: the level of an edge that is not debounced yet and may
 * change the matter.
 */
export function settled(run: PressRun | null, pending: 0 | 1 | null, now: number): Gesture | null {
  const due = gestureDue(run, pending)
  if (run === null || due === null || !reached(now, due)) return null
  return run.hold !== null ? 'hold' : (BY_COUNT[run.count - 1] as Gesture)
}

/** When a row of presses is over, or a hold begins, ms on the clock; null = nothing waits. */
export function gestureDue(run: PressRun | null, pending: 0 | 1 | null): number | null {
  if (!run || pending === 0 || (pending === 1 && run.hold !== null)) return null
  return run.hold ?? run.due
}
