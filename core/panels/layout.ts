/** Geometry of keys on the millimetre grid: snapping, free places, overlaps, what falls off the glass. */
import type { Load, Output, PanelKey, PanelSurface } from '../design/schema'
import { formsOf, wantsOf } from '../design/values'
import { deviceOf, EDGE_MM, GRID_MM, HEAD_MM, MIN_KEY_MM, type Device } from './devices'

export interface Box { xMm: number, yMm: number, widthMm: number, heightMm: number }
/** Keys that stand beside one another in a row. */
export const KEYS_IN_ROW = 5
const ROW_MM = 14
const KEY_GAP_MM = 1

/** Forms that are a name above rows of keys; the others are one key with the name on it. */
export function isRow(form: PanelKey['form']): boolean {
  return form === 'pair' || form === 'each' || form === 'stepper'
}

/** How many keys a form has for a load. */
export function keyCount(output: Output, form: PanelKey['form']): number {
  return isRow(form) ? wantsOf(output, form).length : 1
}

export function sizeFor(form: PanelKey['form'], keys: number): { widthMm: number, heightMm: number } {
  return isRow(form) ? { widthMm: 58, heightMm: NAME_MM + rowsOf(keys) * ROW_MM } : { widthMm: 28, heightMm: 18 }
}

function rowsOf(keys: number): number {
  return Math.ceil(keys / KEYS_IN_ROW)
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

/** The first free place for a key of that size, row by row from the top; the last row when the glass is full. */
export function freePlace(panel: PanelSurface, { widthMm, heightMm }: { widthMm: number, heightMm: number }): Box {
  const size = { widthMm, heightMm }
  const device = deviceOf(panel.device)
  for (let yMm = HEAD_MM; yMm + size.heightMm <= device.heightMm - EDGE_MM; yMm += GRID_MM) {
    for (let xMm = EDGE_MM; xMm + size.widthMm <= device.widthMm - EDGE_MM; xMm += GRID_MM) {
      const box = { xMm, yMm, ...size }
      if (!panel.keys.some(k => overlaps(padded(k), box))) return box
    }
  }
  return snap({ xMm: EDGE_MM, yMm: device.heightMm, ...size }, device)
}

/** A key for a load that is not placed yet: its first form, in the first free place. */
export function firstKey(panel: PanelSurface, load: Pick<Load, 'id' | 'output'>): PanelKey {
  const form = formsOf(load.output)[0] as PanelKey['form']
  return { loadId: load.id, form, ...freePlace(panel, sizeFor(form, keyCount(load.output, form))) }
}

/** Smallest side that a thumb has to hit; keys in a row share the width, rows the height below the name. */
export function smallestSideMm(key: PanelKey, keys: number): number {
  if (!isRow(key.form)) return Math.min(key.widthMm, key.heightMm)
  const across = Math.min(keys, KEYS_IN_ROW)
  const rows = rowsOf(keys)
  return Math.min((key.widthMm - (across - 1) * KEY_GAP_MM) / across, (key.heightMm - NAME_MM - (rows - 1) * KEY_GAP_MM) / rows)
}

/** The name above rows of keys takes this much of the height. */
export const NAME_MM = 6

/** The box grown to a comfortable size in place. */
export function comfortable(key: PanelKey, device: Device, keys: number): Box {
  const least = Math.ceil(MIN_KEY_MM) + 1
  const grown = isRow(key.form)
    ? { widthMm: Math.min(keys, KEYS_IN_ROW) * (least + KEY_GAP_MM) - KEY_GAP_MM, heightMm: NAME_MM + rowsOf(keys) * (least + KEY_GAP_MM) - KEY_GAP_MM }
    : { widthMm: least, heightMm: least }
  return snap({ xMm: key.xMm, yMm: key.yMm, widthMm: Math.max(key.widthMm, grown.widthMm), heightMm: Math.max(key.heightMm, grown.heightMm) }, device)
}

function padded(box: Box): Box {
  return { xMm: box.xMm - GAP_MM, yMm: box.yMm - GAP_MM, widthMm: box.widthMm + 2 * GAP_MM, heightMm: box.heightMm + 2 * GAP_MM }
}

function clamp(value: number, low: number, high: number): number {
  return Math.max(low, Math.min(high, value))
}
