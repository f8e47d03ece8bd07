/**
 * What the thumb of the hand that holds the glass reaches. A circle about the root of the thumb,
 * which lies beside the lower corner: easy where the thumb is neither folded nor stretched, a
 * stretch beyond, far where the grip has to change. It follows the functional area of the thumb
 * (Bergstrom-Lehtovirta, Oulasvirta: Modeling the functional area of the thumb on mobile
 * touchscreen surfaces, 2014), simplified to a hand of middle size; hands differ by a fifth either
 * way.
 */
import type { PanelItem, PanelSurface } from '../design/schema'
import { deviceOf, EDGE_MM, GAP_MM, GRID_MM, HEAD_MM, MIN_KEY_MM, type Device } from './devices'
import { gapMm, othersOn, type Box } from './layout'

export type Hand = 'left' | 'right'
export type Zone = 'easy' | 'stretch' | 'far'

/** Radii about the root of the thumb, mm. Nearer than the first it has to fold. */
export const FOLD_MM = 22
export const EASY_MM = 68
export const STRETCH_MM = 90
/** The root of the thumb: this far outside the glass, and above its lower edge. */
const BESIDE_MM = 8
const ABOVE_MM = 22

/** Where the thumb is rooted, mm of glass. */
export function thumbRoot(device: Device, hand: Hand): { xMm: number; yMm: number } {
  return {
    xMm: hand === 'right' ? device.widthMm + BESIDE_MM : -BESIDE_MM,
    yMm: device.heightMm - ABOVE_MM,
  }
}

/** How well a thumb reaches a point, mm from the upper left corner. */
export function zoneAt(device: Device, hand: Hand, xMm: number, yMm: number): Zone {
  const root = thumbRoot(device, hand)
  const mm = Math.hypot(xMm - root.xMm, yMm - root.yMm)
  if (mm >= FOLD_MM && mm <= EASY_MM) return 'easy'
  return mm <= STRETCH_MM ? 'stretch' : 'far'
}

/**
 * Of a box, where it is best reached: a large key is hit where it is near, the smallest key's side
 * within its edge. What is held in both hands, or stands on a table, is easy all over.
 */
export function zoneOf(device: Device, hand: Hand, box: Box): Zone {
  if (!device.oneHand) return 'easy'
  const root = thumbRoot(device, hand)
  const [dx, dy] = [apart(root.xMm, box.xMm, box.widthMm), apart(root.yMm, box.yMm, box.heightMm)]
  const near = Math.hypot(dx[0], dy[0])
  const far = Math.hypot(dx[1], dy[1])
  if (near <= EASY_MM && far >= FOLD_MM) return 'easy'
  return near <= STRETCH_MM ? 'stretch' : 'far'
}
/** How near and how far a line lies from a point, where a finger hits it whole. */
function apart(from: number, start: number, length: number): [near: number, far: number] {
  // A thumb that hits without a look wants as much about it as the smallest key has.
  const edge = Math.min(length / 2, MIN_KEY_MM)
  const [low, high] = [start + edge, start + length - edge]
  const near = Math.max(0, low - from, from - high)
  return [near, Math.max(Math.abs(low - from), Math.abs(high - from))]
}

/** A free place that either hand reaches easily, the lowest first. */
export function placeInReach(panel: PanelSurface, item: PanelItem): Box | undefined {
  const device = deviceOf(panel)
  const others = othersOn(panel, item)
  for (let yMm = device.heightMm - EDGE_MM - item.heightMm; yMm >= HEAD_MM; yMm -= GRID_MM) {
    for (let xMm = EDGE_MM; xMm + item.widthMm <= device.widthMm - EDGE_MM; xMm += GRID_MM) {
      const box = { xMm, yMm, widthMm: item.widthMm, heightMm: item.heightMm }
      if (
        (['left', 'right'] as const).some(hand => zoneOf(device, hand, box) === 'easy')
        && others.every(o => gapMm(o, box) >= GAP_MM)
      )
        return box
    }
  }
  return undefined
}
