/** Messages that cross between the columns. */
import { firstSentAt, LONGEST_WAY_MS, type TracedMessage } from '../../../core/bench/trace'

import { RIBBON_PX } from './columns'
import { label, drawLabels } from './labels'
import { line, arrowHead, cross } from './pens'
import { type TimelineView, yOf, columnWidth, middleOf, endMs } from './view'

export function drawMessages(c: CanvasRenderingContext2D, view: TimelineView): void {
  const { messages } = view.trace
  const to = endMs(view)
  const controller = view.columns.findIndex(x => x.kind === 'controller')
  const columns = new Map(
    view.columns.flatMap((x, i) => (x.kind === 'surface' ? [[x.surface.id, i] as const] : [])),
  )
  const lastLabel = new Map<string, number>()
  /**
   * By column and way: the row of pixels that was drawn last. One line a row is all that can be
   * seen.
   */
  const rows = new Map<string, number>()
  const arrows = new Map<string, number>()
  const ticks = { about: [] as number[], other: [] as number[], lost: [] as number[] }
  const pixel = 1 / view.pxPerMs
  const first = firstSentAt(messages, view.fromMs - (pixel > 1000 ? 0 : LONGEST_WAY_MS))
  // Where far more is visible than there are rows, whole rows are passed at once.
  const crowded = firstSentAt(messages, to) - first > 40 * view.height
  let inRow = 0
  let row = -1
  for (let i = first; i < messages.length; i++) {
    const m = messages[i] as TracedMessage
    if (m.sentMs > to) break
    if (crowded) {
      const here = Math.floor(yOf(view, m.sentMs))
      inRow = here === row ? inRow + 1 : 0
      row = here
      if (inRow > MOST_IN_ROW) {
        i = Math.max(i, firstSentAt(messages, view.fromMs + (here + 1) * pixel) - 1)
        continue
      }
    }
    if (m.sentMs > view.nowMs || m.endMs < view.fromMs) continue
    const about = m.loadIds.includes(view.loadId)
    if (!about && !view.allMessages) continue
    const column = columns.get(m.surfaceId)
    if (column === undefined) continue
    const key = `${column} ${m.lost ? 'lost' : m.dir}`
    const y = Math.floor(yOf(view, m.sentMs))
    if (rows.get(key) === y) continue
    // Those that follow one another too closely to be told apart are ticks beside their ribbon.
    const close = y - (arrows.get(key) ?? -Infinity) < APART_PX
    rows.set(key, y)
    if (close)
      (m.lost ? ticks.lost : about ? ticks.about : ticks.other).push(
        m.dir === 'up'
          ? middleOf(view, column) + (column < controller ? 1 : -1) * (RIBBON_PX / 2 + 3)
          : middleOf(view, controller) - (column < controller ? 1 : -1) * (RIBBON_PX / 2 + 15),
        y,
      )
    else {
      arrows.set(key, y)
      c.globalAlpha = about ? 1 : 0.3
      drawMessage(c, view, m, column, controller, lastLabel)
      c.globalAlpha = 1
    }
  }
  drawTicks(c, ticks.other, view.colours.second, 0.35)
  drawTicks(c, ticks.about, view.colours.second, 0.8)
  drawTicks(c, ticks.lost, view.colours.differs, 1)
  drawLabels(c, view)
}

const MOST_IN_ROW = 30

/** Arrows nearer than this cover one another. */
const APART_PX = 11

/** Short strokes at pairs of places, in one go. */
function drawTicks(
  c: CanvasRenderingContext2D,
  places: readonly number[],
  colour: string,
  alpha: number,
): void {
  if (!places.length) return
  c.fillStyle = colour
  c.globalAlpha = alpha
  for (let i = 0; i < places.length; i += 2)
    c.fillRect(places[i] as number, places[i + 1] as number, 12, 1)
  c.globalAlpha = 1
}

function drawMessage(
  c: CanvasRenderingContext2D,
  view: TimelineView,
  m: TracedMessage,
  column: number,
  controller: number,
  lastLabel: Map<string, number>,
): void {
  const side = column < controller ? 1 : -1
  const surfaceX = middleOf(view, column) + side * (RIBBON_PX / 2 + 2)
  const controllerX = middleOf(view, controller) - side * (RIBBON_PX / 2 + 2)
  const [x0, x1] = m.dir === 'up' ? [surfaceX, controllerX] : [controllerX, surfaceX]
  const y0 = yOf(view, m.sentMs)
  const arrived = Math.min(m.endMs, view.nowMs)
  const part = m.lost ? 0.55 : m.endMs > m.sentMs ? (arrived - m.sentMs) / (m.endMs - m.sentMs) : 1
  const xEnd = x0 + (x1 - x0) * part
  const yEnd = m.lost ? y0 + 9 : yOf(view, arrived)
  c.strokeStyle = m.lost ? view.colours.differs : view.colours.ink
  c.lineWidth = 1.4
  c.setLineDash(m.lost ? [5, 4] : [])
  line(c, x0, y0, xEnd, yEnd)
  c.setLineDash([])
  if (m.lost) cross(c, xEnd, yEnd)
  else if (part === 1) arrowHead(c, x0, y0, xEnd, yEnd)
  // What goes up is told above its line, what comes down below: question and answer do not cover
  // each other. Beside its own surface, so that it lies on no other ribbon.
  const gap = columnWidth(view) - RIBBON_PX - 4
  const x = surfaceX + (side * gap) / 2
  const y = y0 + (yEnd - y0) * Math.abs((x - x0) / (xEnd - x0 || 1))
  if (m.dir === 'up') label(c, view, m, x, Math.min(y0, y) - 4, lastLabel, `${column} up`, gap)
  else label(c, view, m, x, Math.max(y, yEnd) + 14, lastLabel, `${column} down`, gap)
}
