/** Arranging several items: aligned, spread evenly, and guides to what stands near. */
import { EDGE_MM, GAP_MM, HEAD_MM, type Glass } from './devices'
import { snap, type Box } from './layout'

export type Side = 'left' | 'centre' | 'right' | 'top' | 'middle' | 'bottom'

/** Every box moved to the common edge or middle of all of them. */
export function aligned(boxes: readonly Box[], side: Side): Box[] {
  const left = Math.min(...boxes.map(b => b.xMm))
  const right = Math.max(...boxes.map(b => b.xMm + b.widthMm))
  const top = Math.min(...boxes.map(b => b.yMm))
  const bottom = Math.max(...boxes.map(b => b.yMm + b.heightMm))
  return boxes.map(b => {
    switch (side) {
      case 'left':
        return { ...b, xMm: left }
      case 'right':
        return { ...b, xMm: right - b.widthMm }
      case 'centre':
        return { ...b, xMm: Math.round((left + right - b.widthMm) / 2) }
      case 'top':
        return { ...b, yMm: top }
      case 'bottom':
        return { ...b, yMm: bottom - b.heightMm }
      case 'middle':
        return { ...b, yMm: Math.round((top + bottom - b.heightMm) / 2) }
    }
  })
}

/**
 * The same gap between all of them; first and last stay. Whole millimetres, so gaps may differ by
 * one.
 */
export function distributed(boxes: readonly Box[], along: 'x' | 'y'): Box[] {
  const [start, size] =
    along === 'x' ? (['xMm', 'widthMm'] as const) : (['yMm', 'heightMm'] as const)
  const order = boxes
    .map((box, i) => ({ box, i }))
    .sort((a, b) => a.box[start] - b.box[start] || a.i - b.i)
  const first = order[0]?.box
  const last = order.at(-1)?.box
  if (!first || !last || order.length < 3) return [...boxes]
  const room = last[start] + last[size] - first[start]
  const gap = (room - order.reduce((sum, o) => sum + o.box[size], 0)) / (order.length - 1)
  const moved = [...boxes]
  let at = first[start]
  order.forEach(({ box, i }, n) => {
    moved[i] = { ...box, [start]: n === order.length - 1 ? box[start] : Math.round(at) }
    at += box[size] + gap
  })
  return moved
}

/** Moved together, as far as the glass lets all of them go. */
export function shifted(boxes: readonly Box[], dx: number, dy: number, glass: Glass): Box[] {
  const least = (list: number[]) => Math.min(...list)
  const x = Math.max(
    -least(boxes.map(b => b.xMm - EDGE_MM)),
    Math.min(dx, least(boxes.map(b => glass.widthMm - EDGE_MM - b.xMm - b.widthMm))),
  )
  const y = Math.max(
    -least(boxes.map(b => b.yMm - HEAD_MM)),
    Math.min(dy, least(boxes.map(b => glass.heightMm - EDGE_MM - b.yMm - b.heightMm))),
  )
  return boxes.map(b => snap({ ...b, xMm: b.xMm + x, yMm: b.yMm + y }, glass))
}

export interface Guide {
  along: 'x' | 'y'
  atMm: number
}
/** How near an edge has to come, mm. */
const NEAR_MM = 1.2

/**
 * A box drawn to what stands near: edges and middles of the others, the usual gap to them, and
 * those of the glass. Guides are where it met something.
 */
export function attracted(
  box: Box,
  others: readonly Box[],
  glass: Glass,
): { box: Box; guides: Guide[] } {
  const x = nearest(
    [box.xMm, box.xMm + box.widthMm / 2, box.xMm + box.widthMm],
    [
      EDGE_MM,
      glass.widthMm / 2,
      glass.widthMm - EDGE_MM,
      ...others.flatMap(o => [
        o.xMm,
        o.xMm + o.widthMm / 2,
        o.xMm + o.widthMm,
        o.xMm - GAP_MM,
        o.xMm + o.widthMm + GAP_MM,
      ]),
    ],
  )
  const y = nearest(
    [box.yMm, box.yMm + box.heightMm / 2, box.yMm + box.heightMm],
    [
      HEAD_MM,
      glass.heightMm - EDGE_MM,
      ...others.flatMap(o => [
        o.yMm,
        o.yMm + o.heightMm / 2,
        o.yMm + o.heightMm,
        o.yMm - GAP_MM,
        o.yMm + o.heightMm + GAP_MM,
      ]),
    ],
  )
  const moved = snap({ ...box, xMm: box.xMm + (x?.by ?? 0), yMm: box.yMm + (y?.by ?? 0) }, glass)
  return {
    box: moved,
    guides: [
      ...(x ? [{ along: 'x' as const, atMm: x.at }] : []),
      ...(y ? [{ along: 'y' as const, atMm: y.at }] : []),
    ],
  }
}

function nearest(
  own: readonly number[],
  marks: readonly number[],
): { by: number; at: number } | null {
  let best: { by: number; at: number } | null = null
  for (const mark of marks) {
    for (const edge of own) {
      const by = mark - edge
      if (Math.abs(by) <= NEAR_MM && (!best || Math.abs(by) < Math.abs(best.by)))
        best = { by, at: mark }
    }
  }
  return best
}
