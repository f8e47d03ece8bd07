/**
 * Laying out a panel by itself: what is read stands on top, what is touched below, in reach of the
 * thumb; loads of one room stand together, those that come first in the sheet lowest on a phone;
 * what can hurt somebody stands apart and has a guard. What stood on the panel keeps its form; what
 * was not there yet is added.
 */
import { linkOf, loadOf, maybeMessage, scenesOn } from '../design/find'
import { hasReading, isKey, itemsOf, readingForms, scaleOf } from '../design/items'
import {
  LIMITS,
  type Design,
  type Load,
  type PanelItem,
  type PanelKey,
  type PanelPart,
  type PanelSurface,
  type Scene,
  type Sensor,
} from '../design/schema'
import { formsOf, restOf } from '../design/values'
import { guardedDangers, wantsGuard } from './danger'
import { DANGER_GAP_MM, deviceOf, EDGE_MM, GAP_MM, HEAD_MM, type Device } from './devices'
import { itemId, keyCount, lockMm, sizeFor } from './layout'
import { NAME_MM, type FormFacet, type Size } from './forms/facet'
import { formRow } from './forms/rows'
import { first, last } from '../units/lists'

export interface Layout {
  keys: PanelKey[]
  parts: PanelPart[]
  pages: PanelSurface['pages']
}
/** An item before it has a place. */
type Free = Unplaced<PanelItem>
type Unplaced<T> = T extends PanelItem
  ? Omit<T, 'page' | 'xMm' | 'yMm' | 'widthMm' | 'heightMm'>
  : never
interface Group {
  items: Free[]
  danger: boolean
}
interface Row {
  cells: { item: Free; x: number; width: number; height: number }[]
  height: number
  /** It may grow so far where there is room, mm. */
  most: number
}

/** The panel laid out anew, with everything that its link can ask for or hears. */
export function layOut(design: Design, panel: PanelSurface): Layout {
  const link = linkOf(design, panel.linkId)
  const loads = design.loads.filter(l => maybeMessage(link, l.id))
  const taken = { keys: [...panel.keys], parts: [] as PanelPart[] }
  const rooms = [...new Set(loads.map(l => l.room))]
  // Headings are made anew.
  const kept = panel.parts.filter(p => !('text' in p) || !rooms.includes(p.text))
  taken.parts = [...kept]
  const id = (wish: string): string => {
    const fresh = itemId(taken, wish)
    taken.parts.push({ id: fresh } as PanelPart)
    return fresh
  }
  const keysFor = (load: Load): Free[] => {
    const there = panel.keys.filter(k => k.loadId === load.id)
    const keys = there.length
      ? there
      : [
          {
            id: id(load.id),
            loadId: load.id,
            form: first(formsOf(load.output)),
            guard: 'none' as const,
            icon: 'auto' as const,
          },
        ]
    return keys.map(k => ({
      id: k.id,
      loadId: k.loadId,
      form: k.form,
      guard: wantsGuard(load, k) ? 'slide' : k.guard,
      icon: k.icon,
    }))
  }
  const shown = (sensorId: string) => kept.some(p => 'sensorId' in p && p.sensorId === sensorId)
  const readings = design.sensors
    .filter(s => hasReading(s) && link.readings.some(r => r.sensorId === s.id) && !shown(s.id))
    .map(s => newReadingPart(s, id(s.id)))
  const scenes = design.scenes
    .filter(
      s => (link.scenes[s.id] ?? '') !== '' && !scenesOn({ ...panel, parts: kept }).includes(s.id),
    )
    .map((s): Free => ({
      id: id(s.id),
      form: 'scene',
      sceneId: s.id,
      guard: sceneGuard(design, s),
    }))
  const calm = loads.filter(l => !guardedDangers(l).length)
  // One load a room needs no headings: then rooms follow each other in the same rows.
  const headed = rooms.length > 1 && calm.length > rooms.length
  const inRoom = (room: string) => calm.filter(l => l.room === room).flatMap(keysFor)
  const byRoom: Free[][] = headed
    ? rooms.map(room => [
        ...(room && inRoom(room).length
          ? [{ id: id(`room-${room}`), form: 'text' as const, text: room }]
          : []),
        ...inRoom(room),
      ])
    : [rooms.flatMap(inRoom)]
  const groups: Group[] = [
    { danger: false, items: [...kept.filter(p => placeOf(p) === 'readings'), ...readings] },
    ...byRoom.map(items => ({ danger: false, items })),
    { danger: false, items: [...kept.filter(p => placeOf(p) === 'scenes'), ...scenes] },
    { danger: true, items: loads.filter(l => guardedDangers(l).length).flatMap(keysFor) },
    {
      danger: false,
      items: kept.filter(p => placeOf(p) === 'heading' || placeOf(p) === 'lines'),
    },
  ]
  return flow(
    design,
    panel,
    groups.filter(g => g.items.length),
    deviceOf(panel).oneHand,
  )
}

/** The same items on the glass that the panel has now, in the order in which they stood. */
export function refit(design: Design, panel: PanelSurface): Layout {
  const order = itemsOf(panel).sort((a, b) => a.page - b.page || a.yMm - b.yMm || a.xMm - b.xMm)
  const groups: Group[] = []
  for (const item of order) {
    const danger = isKey(item) && guardedDangers(loadOf(design, item.loadId)).length > 0
    const last = groups.at(-1)
    if (last?.danger === danger) last.items.push(item)
    else groups.push({ danger, items: [item] })
  }
  return flow(design, panel, groups, false)
}

/** What stands on one panel, put onto another: whatever the other link can ask for or hears. */
export function copied(design: Design, from: PanelSurface, to: PanelSurface): Layout {
  const link = linkOf(design, to.linkId)
  const keys = from.keys.filter(k => maybeMessage(link, k.loadId))
  const parts = from.parts.filter(p =>
    'sensorId' in p
      ? link.readings.some(r => r.sensorId === p.sensorId)
      : !('sceneId' in p) || (link.scenes[p.sceneId] ?? '') !== '',
  )
  return refit(design, {
    ...to,
    keys,
    parts,
    pages: from.pages.map(p => ({ ...p, picture: null })),
  })
}

/** A part for a sensor, in its first form. */
export function newReadingPart(sensor: Sensor, id: string): Extract<Free, { sensorId: string }> {
  return readingPart(sensor, id, readingForms(sensor)[0] ?? 'readout')
}

/** A part for a sensor in a form of its own. */
export function readingPart(
  sensor: Sensor,
  id: string,
  form: ReturnType<typeof readingForms>[number],
): Extract<Free, { sensorId: string }> {
  const base = { id, sensorId: sensor.id }
  switch (form) {
    case 'gauge':
      return { ...base, form, ...scaleOf(sensor), warnBelow: null, warnAbove: null }
    case 'history':
      return { ...base, form, ...scaleOf(sensor), minutes: 60 }
    case 'column':
      return { ...base, form, ...scaleOf(sensor) }
    default:
      return { ...base, form }
  }
}

/** A scene that starts something dangerous is guarded like it; one that only ends things is not. */
function sceneGuard(design: Design, scene: Scene): 'slide' | 'none' {
  return scene.sets.some(
    x =>
      guardedDangers(loadOf(design, x.loadId)).length
      && x.value !== restOf(loadOf(design, x.loadId).output),
  )
    ? 'slide'
    : 'none'
}

interface Block {
  group: Group
  rows: Row[]
}

/**
 * Groups into rows, rows into sections that stand side by side, sections onto pages. `low`: from
 * the bottom up, first group lowest, what is only read on top. What room is left, rows take.
 */
function flow(design: Design, panel: PanelSurface, groups: readonly Group[], low: boolean): Layout {
  const device = deviceOf(panel)
  const height = device.heightMm - HEAD_MM - EDGE_MM
  const width = device.widthMm - 2 * EDGE_MM
  const most = device.oneHand
    ? 1
    : Math.max(1, Math.floor((width + SECTION_GAP_MM) / (SECTION_MM + SECTION_GAP_MM)))
  // Where all of it has room as one, it stands as one; rather a little lower than on two pages.
  const rooms = [...new Set([1, most])].flatMap(sections =>
    [false, true].map(tight => ({ sections, width, height, tight })),
  )
  const found = rooms.reduce<ReturnType<typeof paged> | null>((best, room) => {
    if (best?.pages.length === 1) return best
    const next = paged(design, groups, room)
    return !best || next.pages.length < best.pages.length ? next : best
  }, null)!
  const { pages, across } = found
  for (const page of pages) for (const section of page) fill(section, height)
  const items = pages.flatMap((page, n) =>
    page.flatMap((blocks, s) =>
      placed(
        low ? lowOrder(blocks) : blocks,
        n,
        EDGE_MM + s * (across + SECTION_GAP_MM),
        low ? device.heightMm - EDGE_MM - used(blocks) : HEAD_MM,
        device,
      ),
    ),
  )
  const order = new Map(design.loads.map((l, i) => [l.id, i]))
  return {
    keys: items
      .filter(isKey)
      .sort((a, b) => (order.get(a.loadId) ?? 0) - (order.get(b.loadId) ?? 0)),
    parts: items.filter((i): i is PanelPart => !isKey(i)),
    pages: pages.map((_, i) => panel.pages[i] ?? { name: `Page ${i + 1}`, picture: null }),
  }
}

interface Room {
  sections: number
  width: number
  height: number
  /** Keys as low as they can still be hit and read. */
  tight: boolean
}
function paged(
  design: Design,
  groups: readonly Group[],
  { sections, width, height, tight }: Room,
): { pages: Block[][][]; across: number } {
  const across = Math.floor((width - (sections - 1) * SECTION_GAP_MM) / sections)
  const emptyPage = (): Block[][] => Array.from({ length: sections }, () => [])
  const pages = [emptyPage()]
  const columns = columnsFor(design, groups, { across, height, tight })
  for (const group of groups) {
    let rows = rowsFor(design, group, { across, columns, tight })
    while (rows.length) {
      const page = last(pages)
      const section = page.reduce((best, s) => (used(s) < used(best) ? s : best))
      let fitting = 0
      while (
        fitting < rows.length
        && used(section) + blockHeight(group, rows.slice(0, fitting + 1)) <= height + GAP_MM
      )
        fitting++
      // A heading stays with what it heads.
      const headed =
        fitting > 0 && fitting < rows.length && isHeading(rows[fitting - 1]) ? fitting - 1 : fitting
      if (headed > 0) section.push({ group, rows: rows.slice(0, headed) })
      rows = rows.slice(headed)
      if (!rows.length) break
      if (headed > 0 && sections > 1) continue
      if (page.some(s => s.length) && pages.length < LIMITS.pages) pages.push(emptyPage())
      else {
        // No more pages, or a row higher than the glass: it is put where it overlaps, and the
        // checks say so.
        section.push({ group, rows })
        break
      }
    }
  }
  return { pages, across }
}

function used(blocks: readonly Block[]): number {
  return blocks.reduce((sum, b) => sum + blockHeight(b.group, b.rows), 0)
}

/** Width of a key by its height that is pleasant to hit and to read. */
const PLEASANT = 1.3
/**
 * Columns in which keys stand: as many as make them neither slats nor towers once they share the
 * height that is left by all else.
 */
function columnsFor(
  design: Design,
  groups: readonly Group[],
  { across, height, tight }: Pick<Room, 'height' | 'tight'> & { across: number },
): number {
  const most = Math.max(1, Math.floor((across + GAP_MM) / (CELL_MM + GAP_MM)))
  const fit = (columns: number) => {
    let keyRows = 0
    let rest = 0
    for (const group of groups)
      for (const row of rowsFor(design, group, { across, columns, tight })) {
        if (!group.danger && row.cells.every(c => placeOf(c.item) === 'keys')) keyRows++
        else rest += row.height + (group.danger ? DANGER_GAP_MM : GAP_MM)
      }
    if (!keyRows) return 0
    const each = (height - rest) / keyRows - GAP_MM
    const wide = (across - (columns - 1) * GAP_MM) / columns
    return Math.abs(Math.log(wide / Math.max(1, each) / PLEASANT))
  }
  const fits = Array.from({ length: most }, (_, i) => ({ columns: most - i, fit: fit(most - i) }))
  return fits.reduce((best, next) => (next.fit < best.fit ? next : best)).columns
}

/** Rows take what is left of the height, the ones that are least of their own grown first. */
function fill(blocks: readonly Block[], height: number): void {
  const rows = blocks.flatMap(b => b.rows)
  const bases = new Map(rows.map(r => [r, r.height]))
  const share = (r: Row) => r.height / (bases.get(r) ?? 1)
  const grow = (row: Row) => {
    row.height++
    for (const cell of row.cells) cell.height++
  }
  const keys = rows.filter(r => r.most > r.height && r.cells.some(c => placeOf(c.item) === 'keys'))
  // First as far as is pleasant; then keys share the rest.
  for (const [some, isPast] of [[rows, false] as const, [keys, true] as const])
    for (let free = height + GAP_MM - used(blocks); free >= 1; free--) {
      const [least] = some
        .filter(r => isPast || r.height < r.most)
        .toSorted((a, b) => share(a) - share(b))
      if (!least) break
      grow(least)
    }
}

/**
 * Two cells beside each other, and the room between sections: wider than what is dangerous keeps.
 */
const SECTION_MM = 58
const SECTION_GAP_MM = 6

/**
 * Blocks from `top` down, left edge at `left`. On a phone what is only read stands right below the
 * head.
 */
function placed(
  blocks: readonly Block[],
  page: number,
  left: number,
  top: number,
  device: Device,
): PanelItem[] {
  let y = Math.max(HEAD_MM, top)
  return blocks.flatMap((block, b) => {
    const { danger } = block.group
    let at = b === 0 && isRead(block.group) ? HEAD_MM : y
    if (danger && at > HEAD_MM) at += DANGER_GAP_MM - GAP_MM
    y += blockHeight(block.group, block.rows)
    return block.rows.flatMap(row => {
      const yMm = at
      at += row.height + (danger ? DANGER_GAP_MM : GAP_MM)
      return row.cells.map(
        ({ item, x, width, height }) =>
          ({
            ...item,
            page,
            xMm: left + x,
            yMm: Math.max(HEAD_MM, Math.min(yMm, device.heightMm - EDGE_MM - height)),
            widthMm: width,
            heightMm: height,
          }) as PanelItem,
      )
    })
  })
}

function isRead(group: Group): boolean {
  return group.items.every(i => 'sensorId' in i)
}

/**
 * On a phone: what is read on top, then what is dangerous, then the rest with the first group
 * lowest, rows and all.
 */
function lowOrder(page: readonly Block[]): Block[] {
  const read = page.filter(b => isRead(b.group))
  const danger = page.filter(b => b.group.danger)
  const rest = page.filter(b => !read.includes(b) && !danger.includes(b))
  return [...read, ...danger, ...rest.reverse().map(b => ({ ...b, rows: upwards(b.rows) }))]
}

/** Rows from the bottom up; a heading stays on top. */
function upwards(rows: readonly Row[]): Row[] {
  const [first, ...rest] = rows
  return first && isHeading(first) ? [first, ...rest.reverse()] : [...rows].reverse()
}

/** With the gap to what follows; what is dangerous keeps its distance on both sides. */
function blockHeight(group: Group, rows: readonly Row[]): number {
  const inner = group.danger ? DANGER_GAP_MM : GAP_MM
  return (
    rows.reduce((sum, r) => sum + r.height + inner, 0) + (group.danger ? DANGER_GAP_MM - GAP_MM : 0)
  )
}

/**
 * Cells of equal width; wide items take two of them, or the row. What is dangerous has a row of its
 * own, and the last of a row takes what is left of it.
 */
function rowsFor(
  design: Design,
  group: Group,
  { across, columns, tight }: { across: number; columns: number; tight: boolean },
): Row[] {
  const cell = Math.floor((across - (columns - 1) * GAP_MM) / columns)
  const rows: Row[] = []
  let left = 0
  const widen = () => {
    const last = rows.at(-1)?.cells.at(-1)
    if (last) last.width = across - last.x
  }
  for (const item of group.items) {
    const size = wantedSize(design, item, tight)
    const wide = size.widthMm > CELL_MM || group.danger
    const own = wide ? Math.min(2, columns) : 1
    const heading = placeOf(item) === 'heading'
    const span = heading || group.danger ? columns : own
    const row = rows.at(-1)
    const cells = { item, x: 0, width: span * cell + (span - 1) * GAP_MM, height: size.heightMm }
    if (row && left >= span && !group.danger && !heading) {
      cells.x = (columns - left) * (cell + GAP_MM)
      row.cells.push(cells)
      row.height = Math.max(row.height, size.heightMm)
      row.most = Math.min(row.most, mostOf(item, size))
      left -= span
    } else {
      widen()
      rows.push({ cells: [cells], height: size.heightMm, most: mostOf(item, size) })
      left = columns - span
      if (heading) left = 0
    }
  }
  widen()
  // Whoever stands in a row is as high as it is.
  for (const row of rows) for (const c of row.cells) c.height = row.height
  return rows
}

/** How high it is still pleasant, mm: what is read large, what is danger with measure. */
function mostOf(item: Free, { heightMm }: Size): number {
  const { place, row } = formRow(item.form)
  if (place === 'heading' || place === 'lines') return heightMm
  if (place === 'scenes') return heightMm + 8
  if (place === 'readings') return Math.round(heightMm * 1.6)
  if ('guard' in item && item.guard !== 'none') return heightMm + 10
  return row ? Math.round(heightMm * 1.6) : 60
}
const CELL_MM = 28

function placeOf({ form }: Pick<PanelItem, 'form'>): FormFacet['place'] {
  return formRow(form).place
}

/** A row that says what follows it. */
function isHeading(row: Row | undefined): boolean {
  const first = row?.cells[0]
  return first !== undefined && placeOf(first.item) === 'heading'
}

/** What was grown before is not what it wants; what its maker made smaller stays so. */
function wantedSize(design: Design, item: Free, tight: boolean): Size {
  const keys = 'loadId' in item ? keyCount(loadOf(design, item.loadId).output, item.form) : 1
  const size = sizeFor(item.form, keys)
  const { place, row, rowsFor: rows } = formRow(item.form)
  const low = row ? NAME_MM + rows(keys) * LOW_ROW_MM : LOW_KEY_MM
  const own = tight && place === 'keys' ? Math.min(size.heightMm, low) : size.heightMm
  // The lock stands below, keys stay as high as without it.
  const wanted = { ...size, heightMm: own + lockMm(item) }
  if (!('heightMm' in item)) return wanted
  const { widthMm, heightMm } = item as PanelItem
  return place === 'heading' || place === 'lines'
    ? { widthMm, heightMm }
    : { widthMm: Math.min(widthMm, wanted.widthMm), heightMm: Math.min(heightMm, wanted.heightMm) }
}
/** A name of two lines, and its state; a key in a row, with room to the next one. */
const LOW_KEY_MM = 14
const LOW_ROW_MM = 11
