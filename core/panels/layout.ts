/**
 * Geometry of keys on the millimetre grid: snapping, free places, overlaps, what falls off the
 * glass.
 */
import { freshId } from '../design/ids'
import { itemsOf } from '../design/items'
import type { Load, Output, PanelItem, PanelKey, PanelSurface } from '../design/schema'
import { formsOf, wantsOf } from '../design/values'
import { formRow } from './forms/rows'
import { KEY_GAP_MM, KEYS_IN_ROW, NAME_MM, type Size } from './forms/facet'
import { deviceOf, EDGE_MM, GAP_MM, GRID_MM, HEAD_MM, MIN_KEY_MM, type Glass } from './devices'
import { first } from '../units/lists'

export interface Box {
  xMm: number
  yMm: number
  widthMm: number
  heightMm: number
}
/** Where something stands, mm, and no more of it. */
export function boxOf({ xMm, yMm, widthMm, heightMm }: Box): Box {
  return { xMm, yMm, widthMm, heightMm }
}
/** How many keys stand in the rows of a form. */
export function keyCount(output: Output, form: PanelKey['form']): number {
  return formRow(form).keys(wantsOf(output, form))
}

/** The size that a new item of a form has, mm. `keys`: of its rows. */
export function sizeFor(form: PanelItem['form'], keys = 1): Size {
  return formRow(form).size(keys)
}

/** On the grid and on the glass, below the head. */
export function snap(box: Box, device: Glass): Box {
  const grid = (mm: number) => Math.round(mm / GRID_MM) * GRID_MM
  const widthMm = clamp(grid(box.widthMm), 5, device.widthMm - 2 * EDGE_MM)
  const heightMm = clamp(grid(box.heightMm), 5, device.heightMm - HEAD_MM - EDGE_MM)
  return {
    widthMm,
    heightMm,
    xMm: clamp(grid(box.xMm), EDGE_MM, device.widthMm - EDGE_MM - widthMm),
    yMm: clamp(grid(box.yMm), HEAD_MM, device.heightMm - EDGE_MM - heightMm),
  }
}

/** Whether two boxes share room. */
export function overlaps(a: Box, b: Box): boolean {
  return (
    a.xMm < b.xMm + b.widthMm
    && b.xMm < a.xMm + a.widthMm
    && a.yMm < b.yMm + b.heightMm
    && b.yMm < a.yMm + a.heightMm
  )
}

/** Whether a box stands out over the edge. */
export function offGlass(box: Box, device: Glass): boolean {
  return (
    box.xMm < 0
    || box.yMm < 0
    || box.xMm + box.widthMm > device.widthMm
    || box.yMm + box.heightMm > device.heightMm
  )
}

/** The first free place on a page, row by row from the top; the last row when the glass is full. */
export function freePlace(panel: PanelSurface, size: Size, page = 0): Box {
  return (
    maybeFreePlace(panel, size, page)
    ?? snap(
      {
        xMm: EDGE_MM,
        yMm: deviceOf(panel).heightMm,
        widthMm: size.widthMm,
        heightMm: size.heightMm,
      },
      deviceOf(panel),
    )
  )
}

/** Undefined where there is no room. */
export function maybeFreePlace(
  panel: PanelSurface,
  { widthMm, heightMm }: Size,
  page: number,
): Box | undefined {
  const device = deviceOf(panel)
  const size = {
    widthMm: Math.min(widthMm, device.widthMm - 2 * EDGE_MM),
    heightMm: Math.min(heightMm, device.heightMm - HEAD_MM - EDGE_MM),
  }
  const taken = itemsOf(panel)
    .filter(i => i.page === page)
    .map(padded)
  for (let yMm = HEAD_MM; yMm + size.heightMm <= device.heightMm - EDGE_MM; yMm += GRID_MM) {
    for (let xMm = EDGE_MM; xMm + size.widthMm <= device.widthMm - EDGE_MM;) {
      const box = { xMm, yMm, ...size }
      const over = taken.find(t => overlaps(t, box))
      if (!over) return box
      xMm = Math.ceil((over.xMm + over.widthMm) / GRID_MM) * GRID_MM
    }
  }
  return undefined
}

/** A key for a load: its first form, in the first free place of a page. */
export function firstKey(
  panel: PanelSurface,
  load: Pick<Load, 'id' | 'output'>,
  page = 0,
): PanelKey {
  const form = first(formsOf(load.output))
  return {
    id: itemId(panel, load.id),
    page,
    loadId: load.id,
    form,
    guard: 'none',
    icon: 'auto',
    ...freePlace(panel, sizeFor(form, keyCount(load.output, form)), page),
  }
}

/** The panel without one of its items. */
export function without(panel: PanelSurface, item: PanelItem): PanelSurface {
  return {
    ...panel,
    keys: panel.keys.filter(k => k.id !== item.id),
    parts: panel.parts.filter(p => p.id !== item.id),
  }
}

/** What else stands on the page of an item. */
export function othersOn(panel: PanelSurface, item: PanelItem): PanelItem[] {
  return itemsOf(panel).filter(o => o.id !== item.id && o.page === item.page)
}

/** An id that nothing on the panel has. */
export function itemId(panel: Pick<PanelSurface, 'keys' | 'parts'>, wish: string): string {
  return freshId(wish, 'part', itemsOf(panel))
}

/** Whether a finger is meant to hit it. */
export function isTouched(item: PanelItem): boolean {
  return formRow(item.form).touched
}

/** What a guard takes of the height: a lock to slide, or a field for the PIN, below the keys. */
export const LOCK_MM = 9
/** Room that the lock of a thing takes, mm. */
export function lockMm(item: object): number {
  return 'guard' in item && (item.guard === 'slide' || item.guard === 'pin') ? LOCK_MM : 0
}

/**
 * Smallest side that a thumb has to hit; keys in a row share the width, rows the height below the
 * name.
 */
export function smallestSideMm(
  item: Pick<PanelItem, 'form' | 'widthMm' | 'heightMm'>,
  keys: number,
): number {
  return formRow(item.form).side({ ...item, heightMm: item.heightMm - lockMm(item) }, keys)
}

/** The box grown to a comfortable size in place. */
export function comfortable(
  key: Box & { form: PanelItem['form']; guard?: PanelKey['guard'] },
  device: Glass,
  keys: number,
): Box {
  const least = Math.ceil(MIN_KEY_MM) + 1
  const { row, rowsFor } = formRow(key.form)
  const rows = rowsFor(keys)
  const grown = row
    ? {
        widthMm: Math.min(keys, KEYS_IN_ROW) * (least + KEY_GAP_MM) - KEY_GAP_MM,
        heightMm: NAME_MM + rows * (least + KEY_GAP_MM) - KEY_GAP_MM,
      }
    : { widthMm: least, heightMm: least }
  return snap(
    {
      xMm: key.xMm,
      yMm: key.yMm,
      widthMm: Math.max(key.widthMm, grown.widthMm),
      heightMm: Math.max(key.heightMm, grown.heightMm + lockMm(key)),
    },
    device,
  )
}

/** The gap between two boxes, mm; 0 where they touch or overlap. */
export function gapMm(a: Box, b: Box): number {
  const dx = Math.max(0, a.xMm - (b.xMm + b.widthMm), b.xMm - (a.xMm + a.widthMm))
  const dy = Math.max(0, a.yMm - (b.yMm + b.heightMm), b.yMm - (a.yMm + a.heightMm))
  return Math.hypot(dx, dy)
}

function padded(box: Box): Box {
  return {
    xMm: box.xMm - GAP_MM,
    yMm: box.yMm - GAP_MM,
    widthMm: box.widthMm + 2 * GAP_MM,
    heightMm: box.heightMm + 2 * GAP_MM,
  }
}

function clamp(value: number, low: number, high: number): number {
  return Math.max(low, Math.min(high, value))
}
