/** Draws the visible part of a bench run: ribbons of belief, messages that cross, faults, the cursor. */
import { at, differs, indexAt, isDefinite, type BeliefChange, type Interval, type Trace, type TracedMessage, type TruthChange } from '../../core/bench/trace'
import { linkOf, loadOf, maybeMessage } from '../../core/design/find'
import type { Design, Output } from '../../core/design/schema'
import { shareOf } from '../../core/design/values'
import { TIME_SCALE_PX, type BenchColumn } from './bench-columns'

export interface Colours { paper: string, raised: string, ink: string, second: string, rule: string, differs: string, wait: string, waitGround: string, cursor: string, mono: string, sans: string }
export interface TimelineView {
  trace: Trace
  design: Design
  columns: BenchColumn[]
  loadId: string
  nowMs: number
  cursorMs: number | null
  fromMs: number
  pxPerMs: number
  width: number
  height: number
  colours: Colours
}

const RIBBON_PX = 22
/** Messages take at most this long; how far back the search for visible ones begins, ms. */
const LONGEST_MESSAGE_MS = 10_000

export function timelineColours(element: Element): Colours {
  const style = getComputedStyle(element)
  const read = (name: string) => style.getPropertyValue(name).trim()
  return { paper: read('--paper'), raised: read('--raised'), ink: read('--ink'), second: read('--second'), rule: read('--rule'), differs: read('--differs'), wait: read('--wait'), waitGround: read('--wait-ground'), cursor: read('--cursor'), mono: read('--mono'), sans: read('--sans') }
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
  if (view.cursorMs !== null) drawCursor(c, view, view.cursorMs)
}

const yOf = (view: TimelineView, t: number) => (t - view.fromMs) * view.pxPerMs
const columnWidth = (view: TimelineView) => (view.width - TIME_SCALE_PX) / view.columns.length
const leftOf = (view: TimelineView, i: number) => TIME_SCALE_PX + i * columnWidth(view)
const middleOf = (view: TimelineView, i: number) => leftOf(view, i) + columnWidth(view) / 2
const endMs = (view: TimelineView) => view.fromMs + view.height / view.pxPerMs

const STEPS_MS = [100, 200, 500, 1000, 2000, 5000, 10_000, 30_000, 60_000]
function drawScale(c: CanvasRenderingContext2D, view: TimelineView): void {
  const { colours } = view
  const step = STEPS_MS.find(s => s * view.pxPerMs >= 46) ?? 60_000
  c.strokeStyle = colours.rule
  c.fillStyle = colours.second
  c.font = `600 13px ${colours.mono}`
  c.textAlign = 'right'
  c.textBaseline = 'middle'
  c.lineWidth = 1
  for (let t = Math.floor(view.fromMs / step) * step; t <= Math.min(endMs(view), view.nowMs + step); t += step) {
    const y = Math.round(yOf(view, t)) + 0.5
    line(c, TIME_SCALE_PX, y, view.width, y)
    c.fillText(timeLabel(t, step), TIME_SCALE_PX - 8, t === 0 ? Math.max(8, y) : y)
  }
}

function timeLabel(t: number, step: number): string {
  const digits = step < 1000 ? 1 : 0
  const s = t / 1000
  if (s < 60) return `${s.toFixed(digits)} s`
  const minutes = Math.floor(s / 60)
  return `${minutes}:${(s - minutes * 60).toFixed(digits).padStart(digits ? 4 : 2, '0')}`
}

function drawColumn(c: CanvasRenderingContext2D, view: TimelineView, column: BenchColumn, i: number): void {
  c.strokeStyle = view.colours.rule
  line(c, Math.round(leftOf(view, i)) + 0.5, 0, Math.round(leftOf(view, i)) + 0.5, view.height)
  const truth = view.trace.truth[view.loadId] ?? []
  if (column.kind === 'controller') return drawTruth(c, view, truth, middleOf(view, i))
  const { surface } = column
  if (surface.kind === 'hand') return
  drawDown(c, view, view.trace.down[surface.linkId] ?? [], i, 'out of reach')
  const beliefs = view.trace.beliefs[surface.id]?.[view.loadId]
  if (beliefs && maybeMessage(linkOf(view.design, surface.linkId), view.loadId)) drawBeliefs(c, view, beliefs, truth, middleOf(view, i))
}

function drawTruth(c: CanvasRenderingContext2D, view: TimelineView, truth: TruthChange[], x: number): void {
  const { output } = loadOf(view.design, view.loadId)
  eachSpan(view, truth, (change, y0, y1) => ribbon(c, view, x, y0, y1, { fill: view.colours.raised, edge: view.colours.ink, ink: inkOf(output, change.value) }))
}

/** Belief against truth, cut at the changes of both. */
function drawBeliefs(c: CanvasRenderingContext2D, view: TimelineView, beliefs: BeliefChange[], truth: TruthChange[], x: number): void {
  const { output } = loadOf(view.design, view.loadId)
  const from = Math.max(0, view.fromMs)
  const to = Math.min(view.nowMs, endMs(view))
  let i = Math.max(0, indexAt(beliefs, from))
  let j = Math.max(0, indexAt(truth, from))
  for (let t = from; t < to;) {
    const next = Math.min(to, beliefs[i + 1]?.t ?? Infinity, truth[j + 1]?.t ?? Infinity)
    const shown = at(beliefs, t)?.shown ?? 'unknown'
    ribbon(c, view, x, yOf(view, t), yOf(view, next), toneOf(view.colours, output, shown, differs(shown, at(truth, t)?.value)))
    if (next >= to) break
    if (beliefs[i + 1]?.t === next) i++
    if (truth[j + 1]?.t === next) j++
    t = next
  }
}

/** `ink`: the part of the width that is inked, from left to right, as shares of it. */
interface Tone { fill: string | CanvasPattern, edge: string, ink: readonly [number, number] }

function toneOf(colours: Colours, output: Output, shown: string, wrong: boolean): Tone {
  if (wrong) return { fill: hatch(colours.differs, colours.raised), edge: colours.differs, ink: [0, 0] }
  if (shown === 'waiting') return { fill: colours.waitGround, edge: colours.wait, ink: [0, 0] }
  if (!isDefinite(shown)) return { fill: dots(colours.second, colours.paper), edge: colours.second, ink: [0, 0] }
  return { fill: colours.raised, edge: colours.ink, ink: inkOf(output, shown) }
}

/** Forward is the right half, reverse the left; a level is inked from the left as far as it goes. */
function inkOf(output: Output, value: string): readonly [number, number] {
  if (output.kind === 'opposed') return value === 'forward' ? [0.5, 1] : value === 'reverse' ? [0, 0.5] : [0, 0]
  return [0, shareOf(output, value)]
}

function ribbon(c: CanvasRenderingContext2D, view: TimelineView, x: number, y0: number, y1: number, { fill, edge, ink }: Tone): void {
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

function eachSpan<T extends { t: number }>(view: TimelineView, changes: readonly T[], draw: (change: T, y0: number, y1: number) => void): void {
  for (let i = Math.max(0, indexAt(changes, view.fromMs)); i < changes.length; i++) {
    const change = changes[i] as T
    if (change.t > endMs(view)) return
    draw(change, yOf(view, change.t), yOf(view, Math.min(changes[i + 1]?.t ?? view.nowMs, view.nowMs)))
  }
}

function drawDown(c: CanvasRenderingContext2D, view: TimelineView, intervals: readonly Interval[], i: number, words: string): void {
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
  const lastLabel = new Map<string, number>()
  for (let i = firstSentAt(messages, view.fromMs - LONGEST_MESSAGE_MS); i < messages.length; i++) {
    const m = messages[i] as TracedMessage
    if (m.sentMs > to) break
    if (m.sentMs > view.nowMs || m.endMs < view.fromMs || !m.loadIds.includes(view.loadId)) continue
    const column = view.columns.findIndex(x => x.kind === 'surface' && x.surface.id === m.surfaceId)
    if (column >= 0) drawMessage(c, view, m, column, controller, lastLabel)
  }
}

function drawMessage(c: CanvasRenderingContext2D, view: TimelineView, m: TracedMessage, column: number, controller: number, lastLabel: Map<string, number>): void {
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
  // What goes up is told above its line, what comes down below: question and answer do not cover each other.
  if (m.dir === 'up') label(c, view, m, (x0 + x1) / 2, Math.min(y0, yEnd) - 4, lastLabel, `${column} up`)
  else label(c, view, m, (x0 + x1) / 2, Math.max(y0, yEnd) + 14, lastLabel, `${column} down`)
}

/** A text beside its line, left out where it would lie on another of the same lane. */
function label(c: CanvasRenderingContext2D, view: TimelineView, m: TracedMessage, x: number, y: number, last: Map<string, number>, lane: string): void {
  const otherLane = lane.endsWith('up') ? lane.replace('up', 'down') : lane.replace('down', 'up')
  if (y - (last.get(lane) ?? -Infinity) < 14 || Math.abs(y - (last.get(otherLane) ?? -Infinity)) < 14) return
  last.set(lane, y)
  const flat = m.shown.replaceAll('\n', ' ')
  const text = flat.length > 22 ? `${flat.slice(0, 20)}…` : flat
  c.font = `700 13px ${view.colours.mono}`
  c.textAlign = 'center'
  c.textBaseline = 'alphabetic'
  c.lineWidth = 4
  c.strokeStyle = view.colours.paper
  c.strokeText(text, x, y)
  c.fillStyle = m.lost ? view.colours.differs : view.colours.ink
  c.fillText(text, x, y)
}

const BY_HAND: ReadonlySet<string> = new Set(['press', 'hold', 'letGo'])

/** What people did: a dot in the column of the surface, with its word. */
function drawMarks(c: CanvasRenderingContext2D, view: TimelineView): void {
  const { marks } = view.trace
  const controller = view.columns.findIndex(x => x.kind === 'controller')
  let lastY = -Infinity
  for (let i = Math.max(0, indexAt(marks, view.fromMs)); i < marks.length; i++) {
    const mark = marks[i]
    if (!mark || mark.t > endMs(view)) return
    const column = view.columns.findIndex(x => x.kind === 'surface' && x.surface.id === mark.surfaceId)
    if (mark.t < view.fromMs || column < 0 || mark.loadId !== view.loadId || !BY_HAND.has(mark.action.do)) continue
    const x = middleOf(view, column)
    const y = yOf(view, mark.t)
    c.fillStyle = view.colours.ink
    c.beginPath()
    c.arc(x, y, 5.5, 0, Math.PI * 2)
    c.strokeStyle = view.colours.ink
    // A finger that leaves is hollow.
    if (mark.action.do === 'letGo') c.stroke()
    else c.fill()
    c.lineWidth = 1.4
    const edge = middleOf(view, controller) - Math.sign(controller - column) * (RIBBON_PX / 2 + 2)
    c.globalAlpha = 0.5
    line(c, x + Math.sign(controller - column) * 8, y, edge, y)
    c.globalAlpha = 1
    if (y - lastY >= 14) {
      c.font = `600 13px ${view.colours.sans}`
      c.textAlign = 'right'
      c.textBaseline = 'middle'
      c.fillText(mark.action.do === 'letGo' ? 'let go' : mark.words.split(' ')[0] ?? '', x - 11, y)
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
  c.fillStyle = view.colours.cursor
  c.fillRect(0, y - 10, TIME_SCALE_PX - 4, 20)
  c.fillStyle = view.colours.paper
  c.font = `700 12.5px ${view.colours.mono}`
  c.textAlign = 'right'
  c.textBaseline = 'middle'
  c.fillText(`${(t / 1000).toFixed(2)} s`, TIME_SCALE_PX - 8, y)
}

function firstSentAt(messages: readonly TracedMessage[], t: number): number {
  let low = 0
  let high = messages.length
  while (low < high) {
    const mid = (low + high) >> 1
    if ((messages[mid] as TracedMessage).sentMs < t) low = mid + 1
    else high = mid
  }
  return low
}

function line(c: CanvasRenderingContext2D, x0: number, y0: number, x1: number, y1: number): void {
  c.beginPath()
  c.moveTo(x0, y0)
  c.lineTo(x1, y1)
  c.stroke()
}

function arrowHead(c: CanvasRenderingContext2D, x0: number, y0: number, x1: number, y1: number): void {
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
  return pattern(`hatch ${ink} ${ground}`, ground, (p) => {
    p.strokeStyle = ink
    p.lineWidth = 2.6
    for (const shift of [-8, 0, 8]) line(p, shift, 8, shift + 8, 0)
  })
}
function dots(ink: string, ground: string): CanvasPattern | string {
  return pattern(`dots ${ink} ${ground}`, ground, (p) => {
    p.fillStyle = ink
    p.fillRect(1, 1, 2, 2)
    p.fillRect(5, 5, 2, 2)
  })
}
function pattern(key: string, ground: string, draw: (c: CanvasRenderingContext2D) => void): CanvasPattern | string {
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
