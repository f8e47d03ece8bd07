/**
 * Draws the visible part of a bench run: ribbons of belief, messages that cross, faults, the
 * cursor.
 */

import { drawColumn, drawPowerCuts } from './columns'
import { drawProbe, drawMarkers, drawHover } from './lines'
import { drawMarks, drawNow, drawCursor } from './marks'
import { drawMessages } from './messages'
import { drawScale } from './scale'
import type { TimelineView } from './view'

export function drawTimeline(c: CanvasRenderingContext2D, view: TimelineView): void {
  c.fillStyle = view.colours.paper
  c.fillRect(0, 0, view.width, view.height)
  drawScale(c, view)
  view.columns.forEach((column, i) => drawColumn(c, view, column, i))
  drawPowerCuts(c, view)
  drawMessages(c, view)
  drawMarks(c, view)
  drawNow(c, view)
  drawProbe(c, view)
  drawMarkers(c, view)
  if (view.hoverMs !== null) drawHover(c, view, view.hoverMs)
  if (view.cursorMs !== null) drawCursor(c, view, view.cursorMs)
}
