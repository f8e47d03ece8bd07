/** What is done on a wall, whatever runs behind it: what is taken, and what it comes to. */
import { linesAfter } from '../../core/controller/knobs'
import type { Raw } from '../../core/controller/readings'
import type { Level } from '../../core/controller/step'
import type { Sensor, SensorOf } from '../../core/design/schema'
import { isReceiver } from '../../core/design/sensors/traits'

const PRESS_MS = 150
/** A wheel turns by a detent or a few at a time. */
const TURNS: ReadonlySet<unknown> = new Set([-3, -2, -1, 1, 2, 3])

export function isTurn(detents: unknown): detents is number {
  return TURNS.has(detents)
}

export function isRaw(value: unknown): value is Raw {
  return (
    Array.isArray(value)
    && value.length >= 1
    && value.length <= 2
    && value.every(v => Number.isInteger(v))
  )
}

/** The key of a remote, by its place; undefined where there is none. */
export function keyOf(
  sensor: Sensor | undefined,
  nth: unknown,
): SensorOf<'infrared'>['keys'][number] | undefined {
  return isReceiver(sensor) && typeof nth === 'number' ? sensor.keys[nth] : undefined
}

/** Two lines as they stand one after another while a knob passes detents, up positive. */
export function* turned(lines: number, countsPerDetent: number, detents: number) {
  let now = lines
  for (let n = Math.abs(detents) * countsPerDetent; n > 0; n--) {
    now = linesAfter(now, detents > 0)
    yield now
  }
}

/** `finger`: "down" stays until "up"; without it a press is short, and flips what latches. */
export function pressed(
  finger: unknown,
  { latching, level }: { latching: boolean; level: Level | undefined },
  set: (level: Level) => void,
): void {
  if (finger === 'down' || finger === 'up') return set(finger === 'down' ? 0 : 1)
  set(latching && level === 0 ? 1 : 0)
  if (!latching) setTimeout(() => set(1), PRESS_MS).unref()
}
