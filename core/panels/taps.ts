/**
 * How often a finger misses: taps scattered about the middle of each key, counted by what they hit.
 * The scatter is normal and independent in both directions, as touch points were found to be
 * (Azenkot, Zhai: Touch behavior with different postures on soft smartphone keyboards, 2012; Bi,
 * Li, Zhai: FFitts law, 2013, with about 1.5 mm for a finger that takes its time). 2 mm stands for
 * a thumb in a hurry: it gives the rise in errors below 9 to 10 mm of Parhi, Karlson and Bederson
 * (2006).
 */
import { seededRandom } from '../units/random'
import type { Target } from './targets'

export interface TapModel {
  /** Standard deviation of a tap in each direction, mm. */
  sigmaMm: number
  /** Roundness of keys: a tap in a cut corner hits nothing, mm. */
  roundMm: number
  taps: number
  seed: number
}
export const TAP_MODEL: TapModel = { sigmaMm: 2, roundMm: 1.6, taps: 4000, seed: 1 }

/** Of the taps that were meant for a key: parts of one. */
export interface TapRates {
  itemId: string
  want: string
  hit: number
  /** Hit something else. */
  other: number
  /** Hit nothing. */
  nothing: number
  /** What was hit most often instead. */
  instead: Pick<Target, 'itemId' | 'want'> | null
}

/**
 * One study of a page; `wider` makes the scatter of a target larger, as where a thumb has to
 * stretch.
 */
export function tapStudy(
  targets: readonly Target[],
  model: TapModel,
  wider: (target: Target) => number = () => 1,
): TapRates[] {
  return targets.map((target, n) => study(targets, n, target, model, model.sigmaMm * wider(target)))
}

function study(
  targets: readonly Target[],
  n: number,
  target: Target,
  model: TapModel,
  sigma: number,
): TapRates {
  // Each key has its own stream: what is added elsewhere changes nothing here.
  const random = seededRandom(model.seed * 7919 + n)
  const counts = new Map<Target, number>()
  let nothing = 0
  for (let i = 0; i < model.taps; i++) {
    const [gx, gy] = normals(random.next(), random.next())
    const x = target.box.xMm + target.box.widthMm / 2 + gx * sigma
    const y = target.box.yMm + target.box.heightMm / 2 + gy * sigma
    // What lies above in the document is drawn later and is hit first.
    const hit = targets.findLast(t => covers(t, x, y, model.roundMm))
    if (hit) counts.set(hit, (counts.get(hit) ?? 0) + 1)
    else nothing++
  }
  const own = counts.get(target) ?? 0
  counts.delete(target)
  const instead = [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null
  return {
    itemId: target.itemId,
    want: target.want,
    hit: own / model.taps,
    nothing: nothing / model.taps,
    other: (model.taps - own - nothing) / model.taps,
    instead: instead && { itemId: instead.itemId, want: instead.want },
  }
}

/** Two independent standard normal numbers from two even ones (Box, Muller, 1958). */
function normals(u: number, v: number): [number, number] {
  const r = Math.sqrt(-2 * Math.log(1 - u))
  return [r * Math.cos(2 * Math.PI * v), r * Math.sin(2 * Math.PI * v)]
}

/** Whether a point lies on a key with round corners. */
export function covers(
  { box }: Pick<Target, 'box'>,
  x: number,
  y: number,
  roundMm: number,
): boolean {
  const dx = Math.abs(x - box.xMm - box.widthMm / 2)
  const dy = Math.abs(y - box.yMm - box.heightMm / 2)
  if (dx > box.widthMm / 2 || dy > box.heightMm / 2) return false
  const r = Math.min(roundMm, box.widthMm / 2, box.heightMm / 2)
  const cx = dx - (box.widthMm / 2 - r)
  const cy = dy - (box.heightMm / 2 - r)
  return cx <= 0 || cy <= 0 || cx * cx + cy * cy <= r * r
}
