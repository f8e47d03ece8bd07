/** Geometry of keys on the millimetre grid: snapping, free places, overlaps, what falls off the glass. */
import type { PanelKey, PanelSurface } from '../design/schema'
import { deviceOf, EDGE_MM, GRID_MM, HEAD_MM, MIN_KEY_MM, type Device } from './devices'

export interface Box { xMm: number, yMm: number, widthMm: number, heightMm: number }
export const DEFAULT_SIZE: Record<PanelKey['form'], { widthMm: number, heightMm: number }> = {
  state: { widthMm: 28, heightMm: 18 },
  pair: { widthMm: 58, heightMm: 20 },
}
const GAP_MM = 2

/** On the grid and on the glass, below the head. */
export function snap(box: Box, device: Device): Box {
  const grid = (mm: number) => Math.round(mm / GRID_MM) * GRID_MM
  const widthMm = clamp(grid(box.widthMm), 5, device.widthMm - 2 * EDGE_MM)
  const heightMm = clamp(grid(box.heightMm), 5, device.heightMm - HEAD_MM - EDGE_MM)
  return {
    widthMm, heightMm,
    xMm: clamp(grid(box.xMm), EDGE_MM, device.widthMm - EDGE_MM - widthMm),
    yMm: clamp(grid(box.yMm), HEAD_MM, device.heightMm - EDGE_MM - heightMm),
  }
}

export function overlaps(a: Box, b: Box): boolean {
  return a.xMm < b.xMm + b.widthMm && b.xMm < a.xMm + a.widthMm && a.yMm < b.yMm + b.heightMm && b.yMm < a.yMm + a.heightMm
}

export function offGlass(box: Box, device: Device): boolean {
  return box.xMm < 0 || box.yMm < 0 || box.xMm + box.widthMm > device.widthMm || box.yMm + box.heightMm > device.heightMm
}

/** The first free place for a form, row by row from the top; the last row when the glass is full. */
export function freePlace(panel: PanelSurface, form: PanelKey['form']): Box {
  const device = deviceOf(panel.device)
  const size = DEFAULT_SIZE[form]
  for (let yMm = HEAD_MM; yMm + size.heightMm <= device.heightMm - EDGE_MM; yMm += GRID_MM) {
    for (let xMm = EDGE_MM; xMm + size.widthMm <= device.widthMm - EDGE_MM; xMm += GRID_MM) {
      const box = { xMm, yMm, ...size }
      if (!panel.keys.some(k => overlaps(padded(k), box))) return box
    }
  }
  return snap({ xMm: EDGE_MM, yMm: device.heightMm, ...size }, device)
}

/** Smallest side that a thumb has to hit; the halves of a pair share the width. */
export function smallestSideMm(key: PanelKey): number {
  return key.form === 'pair' ? Math.min((key.widthMm - 1) / 2, key.heightMm - PAIR_NAME_MM) : Math.min(key.widthMm, key.heightMm)
}

/** The name above a pair of keys takes this much of its height. */
export const PAIR_NAME_MM = 6

/** The box grown to a comfortable size in place. */
export function comfortable(key: PanelKey, device: Device): Box {
  const least = Math.ceil(MIN_KEY_MM) + 1
  return snap({
    xMm: key.xMm, yMm: key.yMm,
    widthMm: Math.max(key.widthMm, key.form === 'pair' ? 2 * least + 1 : least),
    heightMm: Math.max(key.heightMm, key.form === 'pair' ? least + PAIR_NAME_MM : least),
  }, device)
}

function padded(box: Box): Box {
  return { xMm: box.xMm - GAP_MM, yMm: box.yMm - GAP_MM, widthMm: box.widthMm + 2 * GAP_MM, heightMm: box.heightMm + 2 * GAP_MM }
}

function clamp(value: number, low: number, high: number): number {
  return Math.max(low, Math.min(high, value))
}
