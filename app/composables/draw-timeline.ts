/**
 * Draws the visible part of a bench run: ribbons of belief, messages that cross, faults, the
 * cursor.
 */
import {
  at,
  differs,
  firstSentAt,
  indexAt,
  isDefinite,
  LONGEST_WAY_MS,
  type BeliefChange,
  type Interval,
  type Trace,
  type TracedMessage,
  type TruthChange,
} from '../../core/bench/trace'
import { actsOn, linkOf, loadOf, maybeMessage } from '../../core/design/find'
import type { Recording, Role } from '../../core/bench/recording'
import type { Design, HandSurface, Output } from '../../core/design/schema'
import { shareOf } from '../../core/design/values'
import { TIME_SCALE_PX, type BenchColumn } from './bench-columns'
import { isLevel, isOpposed, isStepper } from '../../core/design/outputs/traits'

export interface Colours {
  paper: string
  raised: string
  ink: string
  second: string
  rule: string
  differs: string
  wait: string
  waitGround: string
  cursor: string
  mono: string
  sans: string
}
export interface TimelineView {
  trace: Trace
  design: Design
  columns: BenchColumn[]
  loadId: string
  nowMs: number
  cursorMs: number | null
  hoverMs: number | null
  markers: readonly number[]
  /** Messages of other loads too. */
  allMessages: boolean
  /** A recording of the real thing, and what its wires stand for; it begins at `atMs`. */
  probe: { recording: Recording; roles: readonly Role[]; atMs: number } | null
  fromMs: number
  pxPerMs: number
  width: number
  height: number
  colours: Colours
}

const RIBBON_PX = 22

export function timelineColours(element: Element): Colours {
  const style = getComputedStyle(element)
  const read = (name: string) => style.getPropertyValue(name).trim()
  return {
    paper: read('--paper'),
    raised: read('--raised'),
    ink: read('--ink'),
    second: read('--second'),
    rule: read('--rule'),
    differs: read('--differs'),
    wait: read('--wait'),
    waitGround: read('--wait-ground'),
    cursor: read('--cursor'),
    mono: read('--mono'),
    sans: read('--sans'),
  }
}

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

const yOf = (view: TimelineView, t: number) => (t - view.fromMs) * view.pxPerMs
const columnWidth = (view: TimelineView) => (view.width - TIME_SCALE_PX) / view.columns.length
const leftOf = (view: TimelineView, i: number) => TIME_SCALE_PX + i * columnWidth(view)
const middleOf = (view: TimelineView, i: number) => leftOf(view, i) + columnWidth(view) / 2
const endMs = (view: TimelineView) => view.fromMs + view.height / view.pxPerMs

const STEPS_MS = [
  0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000,
  30_000, 60_000, 300_000, 600_000, 1_800_000, 3_600_000, 7_200_000, 21_600_000,
]
function drawScale(c: CanvasRenderingContext2D, view: TimelineView): void {
  const { colours } = view
  const step = STEPS_MS.find(s => s * view.pxPerMs >= 46) ?? 21_600_000
  c.strokeStyle = colours.rule
  c.fillStyle = colours.second
  c.font = `600 13px ${colours.mono}`
  c.textAlign = 'right'
  c.textBaseline = 'middle'
  c.lineWidth = 1
  const first = Math.max(0, Math.floor(view.fromMs / step))
  for (let n = first; n * step <= Math.min(endMs(view), view.nowMs + step); n++) {
    const y = Math.round(yOf(view, n * step)) + 0.5
    line(c, TIME_SCALE_PX, y, view.width, y)
    c.fillText(
      step < 10 ? `+${Number(((n * step) % 1000).toFixed(2))} ms` : timeLabel(n * step, step),
      TIME_SCALE_PX - 8,
      n === 0 ? Math.max(8, y) : y,
    )
  }
  if (step >= 10) return
  // So close, the scale counts from the whole second that it begins in.
  c.fillStyle = colours.paper
  c.fillRect(0, 0, TIME_SCALE_PX - 2, 22)
  c.fillStyle = colours.ink
  c.fillText(timeLabel(Math.floor(view.fromMs / 1000) * 1000, 1000), TIME_SCALE_PX - 8, 11)
}

/** A time as far as its step tells it: "0.3 s", "1.00012 s", "2:05", "5:30:00". */
export function timeLabel(t: number, step: number): string {
  const digits = step >= 1000 ? 0 : Math.max(0, Math.ceil(-Math.log10(step / 1000)))
  const s = t / 1000
  if (s < 60) return `${s.toFixed(digits)}${digits > 4 ? '' : ' s'}`
  const clock = (n: number) => String(Math.floor(n)).padStart(2, '0')
  const rest = (s % 60).toFixed(digits).padStart(digits ? digits + 3 : 2, '0')
  return s < 3600
    ? `${Math.floor(s / 60)}:${rest}`
    : step >= 60_000
      ? `${Math.floor(s / 3600)}:${clock((s / 60) % 60)} h`
      : `${Math.floor(s / 3600)}:${clock((s / 60) % 60)}:${rest}`
}

function drawColumn(
  c: CanvasRenderingContext2D,
  view: TimelineView,
  column: BenchColumn,
  i: number,
): void {
  c.strokeStyle = view.colours.rule
  line(c, Math.round(leftOf(view, i)) + 0.5, 0, Math.round(leftOf(view, i)) + 0.5, view.height)
  const truth = view.trace.truth[view.loadId] ?? []
  if (column.kind === 'controller') {
    drawTruth(c, view, truth, middleOf(view, i))
    return drawLines(c, view, i)
  }
  const { surface } = column
  if (surface.kind === 'hand') return drawContacts(c, view, surface, i)
  drawDown(c, view, view.trace.down[surface.linkId] ?? [], i, 'out of reach')
  const beliefs = view.trace.beliefs[surface.id]?.[view.loadId]
  if (beliefs && maybeMessage(linkOf(view.design, surface.linkId), view.loadId))
    drawBeliefs(c, view, beliefs, truth, middleOf(view, i))
}

function drawTruth(
  c: CanvasRenderingContext2D,
  view: TimelineView,
  truth: TruthChange[],
  x: number,
): void {
  const { output } = loadOf(view.design, view.loadId)
  eachRun(view, truth, (from, to, i) =>
    ribbon(c, view, x, yOf(view, from), yOf(view, to), {
      fill: view.colours.raised,
      edge: view.colours.ink,
      ink: inkOf(output, truth[i]?.value ?? ''),
    }),
  )
}

/**
 * Belief against truth, cut at the changes of both. Within a row of pixels what is wrong counts.
 */
function drawBeliefs(
  c: CanvasRenderingContext2D,
  view: TimelineView,
  beliefs: BeliefChange[],
  truth: TruthChange[],
  x: number,
): void {
  const { output } = loadOf(view.design, view.loadId)
  const from = Math.max(0, view.fromMs)
  const to = Math.min(view.nowMs, endMs(view))
  const pixel = 1 / view.pxPerMs
  /** What goes on looking the same is drawn as one. */
  let held = { key: '', from }
  let i = Math.max(0, indexAt(beliefs, from))
  let j = Math.max(0, indexAt(truth, from))
  for (let t = from; t < to;) {
    let next = Math.min(to, beliefs[i + 1]?.t ?? Infinity, truth[j + 1]?.t ?? Infinity)
    let shown = beliefs[i]?.shown ?? 'unknown'
    let wrong = differs(shown, truth[j]?.value)
    if (next - t < pixel && next < to) {
      // Many changes in one row: it is passed at once.
      next = Math.min(to, t + pixel)
      const [i1, j1] = [indexAt(beliefs, next), indexAt(truth, next)]
      for (let n = Math.max(i, i1 - LOOKED_AT); n <= i1 && !wrong; n++) {
        const change = beliefs[n]
        if (change && differs(change.shown, at(truth, change.t)?.value))
          [shown, wrong] = [change.shown, true]
      }
      for (let n = Math.max(j, j1 - LOOKED_AT); n <= j1 && !wrong; n++) {
        const change = truth[n]
        if (change && differs(at(beliefs, change.t)?.shown, change.value)) wrong = true
      }
    }
    const key = wrong ? 'wrong' : shown
    if (key !== held.key) {
      if (held.key)
        ribbon(
          c,
          view,
          x,
          yOf(view, held.from),
          yOf(view, t),
          toneOf(view.colours, output, held.key, held.key === 'wrong'),
        )
      held = { key, from: t }
    }
    if (next >= to) break
    i = Math.max(i, indexAt(beliefs, next))
    j = Math.max(j, indexAt(truth, next))
    t = next
  }
  if (held.key)
    ribbon(
      c,
      view,
      x,
      yOf(view, held.from),
      yOf(view, to),
      toneOf(view.colours, output, held.key, held.key === 'wrong'),
    )
}
/** Changes within a row of pixels that are looked at: a row is drawn in bounded time. */
const LOOKED_AT = 12

/**
 * Stretches between changes that are visible; those shorter than a row of pixels are passed
 * together.
 */
function eachRun(
  view: TimelineView,
  changes: readonly { t: number }[],
  draw: (from: number, to: number, i: number) => void,
): void {
  const to = Math.min(view.nowMs, endMs(view))
  const pixel = 1 / view.pxPerMs
  for (let i = Math.max(0, indexAt(changes, Math.max(0, view.fromMs))); i < changes.length;) {
    const from = changes[i]?.t ?? 0
    if (from > to) return
    let next = changes[i + 1]?.t ?? to
    let n = i + 1
    if (next - from < pixel) {
      n = Math.max(n, indexAt(changes, from + pixel))
      next = changes[n]?.t ?? to
    }
    draw(from, Math.min(next, to), i)
    i = n
  }
}

const LANE_PX = 26
/** The contacts that act on the load, as a probe would see them: closed is the inner side. */
function drawContacts(
  c: CanvasRenderingContext2D,
  view: TimelineView,
  surface: HandSurface,
  i: number,
): void {
  const controls = surface.controls.filter(control => actsOn(control, view.loadId).length > 0)
  controls.forEach((control, n) => {
    const changes = view.trace.contacts[control.id] ?? []
    const x = leftOf(view, i) + columnWidth(view) - 14 - n * LANE_PX
    drawLevel(c, view, [{ t: 0, level: 1 }, ...changes], x, 1, view.colours.second)
  })
}

/** The lines themselves, beside what is told of them. */
function drawLines(c: CanvasRenderingContext2D, view: TimelineView, i: number): void {
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
function drawProbe(c: CanvasRenderingContext2D, view: TimelineView): void {
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
                  k => k.id === role.controlId && actsOn(k, view.loadId).length > 0,
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

function drawMarkers(c: CanvasRenderingContext2D, view: TimelineView): void {
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

function drawHover(c: CanvasRenderingContext2D, view: TimelineView, t: number): void {
  c.strokeStyle = view.colours.cursor
  c.globalAlpha = 0.45
  c.lineWidth = 1
  line(c, TIME_SCALE_PX, yOf(view, t), view.width, yOf(view, t))
  c.globalAlpha = 1
}

/** `ink`: the part of the width that is inked, from left to right, as shares of it. */
interface Tone {
  fill: string | CanvasPattern
  edge: string
  ink: readonly [number, number]
}

function toneOf(colours: Colours, output: Output, shown: string, wrong: boolean): Tone {
  if (wrong)
    return { fill: hatch(colours.differs, colours.raised), edge: colours.differs, ink: [0, 0] }
  if (shown === 'waiting') return { fill: colours.waitGround, edge: colours.wait, ink: [0, 0] }
  if (!isDefinite(shown))
    return { fill: dots(colours.second, colours.paper), edge: colours.second, ink: [0, 0] }
  return { fill: colours.raised, edge: colours.ink, ink: inkOf(output, shown) }
}

/**
 * Forward is the right half, reverse the left; a level is inked from the left as far as it goes.
 */
function inkOf(output: Output, value: string): readonly [number, number] {
  if (isOpposed(output))
    return value === 'forward' ? [0.5, 1] : value === 'reverse' ? [0, 0.5] : [0, 0]
  return [0, shareOf(output, value)]
}

function ribbon(
  c: CanvasRenderingContext2D,
  view: TimelineView,
  x: number,
  y0: number,
  y1: number,
  { fill, edge, ink }: Tone,
): void {
  const top = Math.max(-4, y0)
  const bottom = Math.min(view.height + 4, y1)
  if (bottom <= top) return
  c.fillStyle = fill
  c.fillRect(x - RIBBON_PX / 2, top, RIBBON_PX, bottom - top)
  if (ink[1] > ink[0]) {
    c.fillStyle = edge
    c.fillRect(x + (ink[0] - 0.5) * RIBBON_PX, top, (ink[1] - ink[0]) * RIBBON_PX, bottom - top)
  }
  if (bottom - top < 2) return
  c.strokeStyle = edge
  c.lineWidth = 1.3
  c.strokeRect(x - RIBBON_PX / 2, top, RIBBON_PX, bottom - top)
}

function drawDown(
  c: CanvasRenderingContext2D,
  view: TimelineView,
  intervals: readonly Interval[],
  i: number,
  words: string,
): void {
  const width = Math.min(columnWidth(view) - 16, 150)
  for (const interval of intervals) {
    const y0 = yOf(view, interval.fromMs)
    const y1 = yOf(view, Math.min(interval.toMs ?? view.nowMs, view.nowMs))
    if (y1 < 0 || y0 > view.height) continue
    c.fillStyle = view.colours.rule
    c.globalAlpha = 0.55
    c.fillRect(middleOf(view, i) - width / 2, y0, width, y1 - y0)
    c.globalAlpha = 1
    if (y1 - y0 < 20) continue
    c.fillStyle = view.colours.second
    c.font = `600 12.5px ${view.colours.sans}`
    c.textAlign = 'left'
    c.textBaseline = 'alphabetic'
    c.fillText(words, middleOf(view, i) + RIBBON_PX / 2 + 5, Math.min(y1, view.height) - 6)
  }
}

function drawPowerCuts(c: CanvasRenderingContext2D, view: TimelineView): void {
  for (const cut of view.trace.powerCuts) {
    const y0 = yOf(view, cut.fromMs)
    const y1 = yOf(view, Math.min(cut.toMs ?? view.nowMs, view.nowMs))
    if (y1 < 0 || y0 > view.height) continue
    const i = view.columns.findIndex(x => x.kind === 'controller')
    c.fillStyle = view.colours.paper
    c.globalAlpha = 0.72
    c.fillRect(leftOf(view, i) + 1, y0, columnWidth(view) - 2, y1 - y0)
    c.globalAlpha = 1
    c.strokeStyle = view.colours.differs
    c.lineWidth = 1
    c.setLineDash([4, 3])
    line(c, leftOf(view, i), y0, leftOf(view, i) + columnWidth(view), y0)
    line(c, leftOf(view, i), y1, leftOf(view, i) + columnWidth(view), y1)
    c.setLineDash([])
    c.fillStyle = view.colours.second
    c.font = `600 12.5px ${view.colours.sans}`
    c.textAlign = 'left'
    c.fillText('no power', middleOf(view, i) + RIBBON_PX / 2 + 5, Math.min(y1, view.height) - 6)
  }
}

function drawMessages(c: CanvasRenderingContext2D, view: TimelineView): void {
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

/** Words nearer than this are left out. */
const LABEL_APART_PX = 24
/** Width of a character of the mono face at 13 px. */
const CHARACTER_PX = 7.9

/** A text beside its line, left out where it would lie on another of the same lane. */
function label(
  c: CanvasRenderingContext2D,
  view: TimelineView,
  m: TracedMessage,
  x: number,
  y: number,
  last: Map<string, number>,
  lane: string,
  gapPx: number,
): void {
  const otherLane = lane.endsWith('up') ? lane.replace('up', 'down') : lane.replace('down', 'up')
  if (
    y - (last.get(lane) ?? -Infinity) < LABEL_APART_PX
    || Math.abs(y - (last.get(otherLane) ?? -Infinity)) < 14
  )
    return
  last.set(lane, y)
  const flat = m.shown.replaceAll('\n', ' ')
  // As much as fits between the ribbons.
  const most = Math.max(2, Math.floor((gapPx - 10) / CHARACTER_PX))
  const text = flat.length > most ? `${flat.slice(0, most - 1)}…` : flat
  later.push({
    text,
    x,
    y,
    colour: m.lost ? view.colours.differs : view.colours.ink,
    alpha: c.globalAlpha,
  })
}

/** Words come last, so that no line runs through them. */
const later: { text: string; x: number; y: number; colour: string; alpha: number }[] = []

function drawLabels(c: CanvasRenderingContext2D, view: TimelineView): void {
  c.font = `700 13px ${view.colours.mono}`
  c.textAlign = 'center'
  c.textBaseline = 'alphabetic'
  // A ground behind the words; a stroke around each letter costs many times as much.
  for (const { text, x, y, colour, alpha } of later.splice(0)) {
    const half = (text.length * CHARACTER_PX) / 2 + 2
    c.globalAlpha = 1
    c.fillStyle = view.colours.paper
    c.fillRect(x - half, y - 11, half * 2, 14)
    c.globalAlpha = alpha
    c.fillStyle = colour
    c.fillText(text, x, y)
  }
  c.globalAlpha = 1
}

const BY_HAND: ReadonlySet<string> = new Set(['press', 'hold', 'letGo'])

/** What people did: a dot in the column of the surface, with its word. */
function drawMarks(c: CanvasRenderingContext2D, view: TimelineView): void {
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

function drawNow(c: CanvasRenderingContext2D, view: TimelineView): void {
  const y = yOf(view, view.nowMs)
  if (y > view.height) return
  c.strokeStyle = view.colours.ink
  c.lineWidth = 1
  c.setLineDash([2, 3])
  line(c, TIME_SCALE_PX, y, view.width, y)
  c.setLineDash([])
}

function drawCursor(c: CanvasRenderingContext2D, view: TimelineView, t: number): void {
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

function line(c: CanvasRenderingContext2D, x0: number, y0: number, x1: number, y1: number): void {
  c.beginPath()
  c.moveTo(x0, y0)
  c.lineTo(x1, y1)
  c.stroke()
}

function arrowHead(
  c: CanvasRenderingContext2D,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
): void {
  const angle = Math.atan2(y1 - y0, x1 - x0)
  c.beginPath()
  for (const turn of [-0.42, 0.42]) {
    c.moveTo(x1 - 9 * Math.cos(angle + turn), y1 - 9 * Math.sin(angle + turn))
    c.lineTo(x1, y1)
  }
  c.stroke()
}

function cross(c: CanvasRenderingContext2D, x: number, y: number): void {
  line(c, x - 5, y - 5, x + 5, y + 5)
  line(c, x - 5, y + 5, x + 5, y - 5)
}

const patterns = new Map<string, CanvasPattern>()
function hatch(ink: string, ground: string): CanvasPattern | string {
  return pattern(`hatch ${ink} ${ground}`, ground, p => {
    p.strokeStyle = ink
    p.lineWidth = 2.6
    for (const shift of [-8, 0, 8]) line(p, shift, 8, shift + 8, 0)
  })
}
function dots(ink: string, ground: string): CanvasPattern | string {
  return pattern(`dots ${ink} ${ground}`, ground, p => {
    p.fillStyle = ink
    p.fillRect(1, 1, 2, 2)
    p.fillRect(5, 5, 2, 2)
  })
}
function pattern(
  key: string,
  ground: string,
  draw: (c: CanvasRenderingContext2D) => void,
): CanvasPattern | string {
  const known = patterns.get(key)
  if (known) return known
  const tile = Object.assign(document.createElement('canvas'), { width: 8, height: 8 })
  const c = tile.getContext('2d')
  if (!c) return ground
  c.fillStyle = ground
  c.fillRect(0, 0, 8, 8)
  draw(c)
  const made = c.createPattern(tile, 'repeat')
  if (made) patterns.set(key, made)
  return made ?? ground
}
