/**
 * A stick that is pushed to a side: which way it points. It points to the side of its longer axis
 * as soon as that lies beyond the dead zone, and goes on doing so until it is back by a little
 * more, or another side is clearly ahead: a hand that trembles asks once.
 */
import { turnedBack } from '../electrical/axes'
import type { SensorOf } from '../design/schema'
import type { Raw } from './readings'

export type StickWay = SensorOf<'two-axis'>['ways'][number]['on']
/** In the order in which programs count them. */
export const STICK_WAYS: readonly StickWay[] = ['rest', 'up', 'down', 'left', 'right']
/** Per cent of its way that a stick has to come back, or another axis to be ahead. */
export const BACK_PER_CENT = 5

/** `before`: null where it was not read yet. */
export function wayOf(
  { degrees, deadZone }: Pick<SensorOf<'two-axis'>, 'degrees' | 'deadZone'>,
  [first = 0, second = 0]: Raw,
  before: StickWay | null,
): StickWay {
  const { x, y } = turnedBack({ degrees, x: first, y: second })
  const along: Record<Exclude<StickWay, 'rest'>, number> = { right: x, left: -x, up: y, down: -y }
  const across = Math.abs(x) >= Math.abs(y)
  const sides = across ? (['right', 'left'] as const) : (['up', 'down'] as const)
  const ahead = sides[(across ? x : y) > 0 ? 0 : 1]
  if (before !== null && before !== 'rest') {
    const kept = along[before]
    const led = along[ahead] - kept >= BACK_PER_CENT && along[ahead] >= deadZone
    if (kept >= deadZone - BACK_PER_CENT && !led) return before
  }
  return along[ahead] >= deadZone ? ahead : 'rest'
}

/** What a stick gives, pushed all the way to a side: the reverse of `turnedBack`, rounded. */
export function rawOf({ degrees }: Pick<SensorOf<'two-axis'>, 'degrees'>, way: StickWay): Raw {
  const [x, y] = STRAIGHT[way]
  const there = turnedBack({ degrees: -degrees, x, y })
  return [Math.round(there.x), Math.round(there.y)]
}
const STRAIGHT: Record<StickWay, readonly [number, number]> = {
  rest: [0, 0],
  right: [100, 0],
  left: [-100, 0],
  up: [0, 100],
  down: [0, -100],
}

/** Where a stick can be pushed that matters, letting it go included. */
export function stickWays({ ways }: Pick<SensorOf<'two-axis'>, 'ways'>): StickWay[] {
  return [...new Set<StickWay>([...ways.map(w => w.on), 'rest'])]
}
