/** Lanes of wires: contacts, lines of outputs, a recording, markers. */
import { actsOn } from '../../../core/design/targets'
import { loadOf } from '../../../core/design/find'
import type { HandSurface } from '../../../core/design/schema'
import { TIME_SCALE_PX } from '../../composables/bench-columns'
import { isLevel, isStepper } from '../../../core/design/outputs/traits'

import { eachRun } from './columns'
import { line } from './pens'
import { type TimelineView, yOf, columnWidth, leftOf } from './view'

const LANE_PX = 26

/** The contacts that act on the load, as a probe would see them: closed is the inner side. */
export function drawContacts(
  c: CanvasRenderingContext2D,
  view: TimelineView,
  surface: HandSurface,
  i: number,
): void {
  const controls = surface.controls.filter(
    control => actsOn(view.design, control, view.loadId).length > 0,
  )
  controls.forEach((control, n) => {
    const changes = view.trace.contacts[control.id] ?? []
    const x = leftOf(view, i) + columnWidth(view) - 14 - n * LANE_PX
    drawLevel(c, view, [{ t: 0, level: 1 }, ...changes], x, 1, view.colours.second)
  })
}

/** The lines themselves, beside what is told of them. */
export function drawLines(c: CanvasRenderingContext2D, view: TimelineView, i: number): void {
  const lines = view.trace.lines[view.loadId] ?? []
  const { output } = loadOf(view.design, view.loadId)
  lines.forEach((changes, n) => {
    const most = isLevel(output) ? 255 : isStepper(output) && n === 0 ? output.stepHz : 1
    drawLevel(
      c,
      view,
      changes,
      leftOf(view, i) + columnWidth(view) - 14 - n * LANE_PX,
      most,
      view.colours.second,
    )
  })
}

/** A level over time as a thin line, high to the right; nothing where nothing drives it. */
function drawLevel(
  c: CanvasRenderingContext2D,
  view: TimelineView,
  changes: readonly { t: number; level: number | null }[],
  x: number,
  most: number,
  colour: string,
): void {
  const place = (level: number) => x - 9 + (level / most) * 9
  c.strokeStyle = colour
  c.lineWidth = 1.2
  c.beginPath()
  let open = false
  eachRun(view, changes, (from, to, i) => {
    const level = changes[i]?.level ?? null
    if (level === null) {
      open = false
      return
    }
    const y0 = Math.max(-2, yOf(view, from))
    if (open) c.lineTo(place(level), y0)
    else c.moveTo(place(level), y0)
    c.lineTo(place(level), Math.min(view.height + 2, yOf(view, to)))
    open = true
  })
  c.stroke()
}

/** Wires of a recording that stand for what is shown, beside the lanes of the bench. */
export function drawProbe(c: CanvasRenderingContext2D, view: TimelineView): void {
  if (!view.probe) return
  const { recording, roles, atMs } = view.probe
  recording.wires.forEach((wire, w) => {
    const role = roles[w]
    const column =
      role?.is === 'line'
        ? view.columns.findIndex(x => x.kind === 'controller')
        : role?.is === 'contact'
          ? view.columns.findIndex(
              x =>
                x.kind === 'surface'
                && x.surface.kind === 'hand'
                && x.surface.controls.some(
                  k => k.id === role.controlId && actsOn(view.design, k, view.loadId).length > 0,
                ),
            )
          : role?.is === 'toBoard' || role?.is === 'fromBoard'
            ? view.columns.findIndex(
                x =>
                  x.kind === 'surface'
                  && x.surface.kind !== 'hand'
                  && x.surface.linkId === role.linkId,
              )
            : -1
    if (column < 0 || (role?.is === 'line' && role.loadId !== view.loadId)) return
    const x = leftOf(view, column) + 18 + (role?.is === 'fromBoard' ? LANE_PX : 0)
    drawLevel(
      c,
      view,
      wire.edges.map(e => ({ t: atMs + e.seconds * 1000, level: e.level })),
      x,
      1,
      view.colours.cursor,
    )
  })
}

export function drawMarkers(c: CanvasRenderingContext2D, view: TimelineView): void {
  view.markers.forEach((t, i) => {
    const y = yOf(view, t)
    if (y < -10 || y > view.height + 10) return
    c.strokeStyle = view.colours.cursor
    c.lineWidth = 1
    c.setLineDash([6, 3])
    line(c, TIME_SCALE_PX, y, view.width, y)
    c.setLineDash([])
    c.fillStyle = view.colours.cursor
    c.font = `700 13px ${view.colours.sans}`
    c.textAlign = 'left'
    c.textBaseline = 'bottom'
    c.fillText(markerName(i), TIME_SCALE_PX + 5, y - 2)
  })
}

export function markerName(i: number): string {
  return String.fromCharCode(65 + i)
}

export function drawHover(c: CanvasRenderingContext2D, view: TimelineView, t: number): void {
  c.strokeStyle = view.colours.cursor
  c.globalAlpha = 0.45
  c.lineWidth = 1
  line(c, TIME_SCALE_PX, yOf(view, t), view.width, yOf(view, t))
  c.globalAlpha = 1
}
