/**
 * The whole run in a narrow strip: where the load is on, where somebody shows it wrongly, and what
 * is being looked at.
 */
import { indexAt, wrongStretches, type Trace } from '../../core/bench/trace'
import { loadOf } from '../../core/design/find'
import type { Design } from '../../core/design/schema'
import { restOf } from '../../core/design/values'
import type { Colours } from './timeline/view'

export interface Overview {
  trace: Trace
  design: Design
  loadId: string
  nowMs: number
  fromMs: number
  toMs: number
  width: number
  height: number
  colours: Colours
  markers: readonly number[]
}

let on: boolean[] = []
let wrong: boolean[] = []

/** `anew`: the run is looked through again; else what was found last is drawn. */
export function drawOverview(c: CanvasRenderingContext2D, view: Overview, anew: boolean): void {
  const rows = Math.max(1, Math.floor(view.height))
  if (anew || on.length !== rows) look(view, rows)
  const { colours, width } = view
  c.fillStyle = colours.raised
  c.fillRect(0, 0, width, view.height)
  stripes(c, on, 4, 8, colours.ink)
  stripes(c, wrong, 15, 11, colours.differs)
  const scale = view.height / Math.max(1, view.nowMs)
  c.fillStyle = colours.cursor
  for (const m of view.markers) c.fillRect(0, Math.round(m * scale), width, 1)
  const top = Math.min(view.height - 6, view.fromMs * scale)
  const bottom = Math.min(view.height, Math.max(top + 6, view.toMs * scale))
  c.globalAlpha = 0.14
  c.fillRect(0, top, width, bottom - top)
  c.globalAlpha = 1
  c.strokeStyle = colours.cursor
  c.lineWidth = 1.4
  c.strokeRect(0.7, top + 0.7, width - 1.4, bottom - top - 1.4)
}

function look({ trace, design, loadId, nowMs }: Overview, rows: number): void {
  on = Array.from({ length: rows }, () => false)
  wrong = Array.from({ length: rows }, () => false)
  const rowOf = (t: number) =>
    Math.max(0, Math.min(rows - 1, Math.floor((t / Math.max(1, nowMs)) * rows)))
  const rest = restOf(loadOf(design, loadId).output)
  const truth = trace.truth[loadId] ?? []
  for (let row = 0; row < rows; row++) {
    const [i, last] = [
      Math.max(0, indexAt(truth, (row / rows) * nowMs)),
      indexAt(truth, ((row + 1) / rows) * nowMs),
    ]
    for (let n = i; n <= Math.min(last, i + 20) && !on[row]; n++)
      if (truth[n] && truth[n]?.value !== rest) on[row] = true
  }
  for (const surfaceId of Object.keys(trace.beliefs)) {
    for (const { fromMs, toMs } of wrongStretches(trace, surfaceId, loadId, nowMs))
      for (let row = rowOf(fromMs); row <= rowOf(toMs); row++) wrong[row] = true
  }
}

function stripes(
  c: CanvasRenderingContext2D,
  rows: readonly boolean[],
  x: number,
  width: number,
  colour: string,
): void {
  c.fillStyle = colour
  for (let row = 0; row < rows.length; row++) {
    if (!rows[row]) continue
    let end = row + 1
    while (rows[end]) end++
    c.fillRect(x, row, width, end - row)
    row = end
  }
}
