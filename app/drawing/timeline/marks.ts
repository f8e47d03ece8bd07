/** What somebody did, now, and the cursor. */
import { indexAt } from '../../../core/bench/trace'
import { TIME_SCALE_PX } from '../../composables/bench-columns'

import { RIBBON_PX } from './columns'
import { line } from './pens'
import { timeLabel } from './scale'
import { type TimelineView, yOf, middleOf, endMs } from './view'

const BY_HAND: ReadonlySet<string> = new Set(['press', 'hold', 'letGo'])

/** What people did: a dot in the column of the surface, with its word. */
export function drawMarks(c: CanvasRenderingContext2D, view: TimelineView): void {
  const { marks } = view.trace
  const controller = view.columns.findIndex(x => x.kind === 'controller')
  let lastY = -Infinity
  let lastDot = -Infinity
  for (let i = Math.max(0, indexAt(marks, view.fromMs)); i < marks.length; i++) {
    const mark = marks[i]
    if (!mark || mark.t > endMs(view)) return
    const column = view.columns.findIndex(
      x => x.kind === 'surface' && x.surface.id === mark.surfaceId,
    )
    if (
      mark.t < view.fromMs
      || column < 0
      || mark.loadId !== view.loadId
      || !BY_HAND.has(mark.action.do)
    )
      continue
    const x = middleOf(view, column)
    const y = yOf(view, mark.t)
    if (y - lastDot < 2) continue
    lastDot = y
    c.fillStyle = view.colours.ink
    c.beginPath()
    c.arc(x, y, 5.5, 0, Math.PI * 2)
    c.strokeStyle = view.colours.ink
    // A finger that leaves is hollow.
    if (mark.action.do === 'letGo') c.stroke()
    else c.fill()
    c.lineWidth = 1.4
    if (y - lastY >= 14) {
      const edge = middleOf(view, controller) - Math.sign(controller - column) * (RIBBON_PX / 2 + 2)
      c.globalAlpha = 0.5
      line(c, x + Math.sign(controller - column) * 8, y, edge, y)
      c.globalAlpha = 1
      c.font = `600 13px ${view.colours.sans}`
      c.textAlign = 'right'
      c.textBaseline = 'middle'
      c.fillText(
        mark.action.do === 'letGo' ? 'let go' : (mark.words.split(' ')[0] ?? ''),
        x - 11,
        y,
      )
      lastY = y
    }
  }
}

export function drawNow(c: CanvasRenderingContext2D, view: TimelineView): void {
  const y = yOf(view, view.nowMs)
  if (y > view.height) return
  c.strokeStyle = view.colours.ink
  c.lineWidth = 1
  c.setLineDash([2, 3])
  line(c, TIME_SCALE_PX, y, view.width, y)
  c.setLineDash([])
}

export function drawCursor(c: CanvasRenderingContext2D, view: TimelineView, t: number): void {
  const y = yOf(view, t)
  c.strokeStyle = view.colours.cursor
  c.lineWidth = 1.6
  line(c, TIME_SCALE_PX, y, view.width, y)
  c.font = `700 12.5px ${view.colours.mono}`
  const text =
    view.pxPerMs > 5
      ? `${timeLabel(t, 1000).replace(' s', '')} +${(t % 1000).toFixed(2)} ms`
      : timeLabel(t, Math.min(10, Math.max(0.01, 1 / view.pxPerMs)))
  const width = Math.max(TIME_SCALE_PX - 4, c.measureText(text).width + 14)
  c.fillStyle = view.colours.cursor
  c.fillRect(0, y - 10, width, 20)
  c.fillStyle = view.colours.paper
  c.textAlign = 'right'
  c.textBaseline = 'middle'
  c.fillText(text, width - 6, y)
}
