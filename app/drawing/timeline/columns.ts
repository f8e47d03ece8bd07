/** Ribbons: how loads are, what surfaces show, and when links and power were away. */
import {
  at,
  differs,
  indexAt,
  isDefinite,
  type BeliefChange,
  type Interval,
  type TruthChange,
} from '../../../core/bench/trace'
import { linkOf, loadOf, maybeMessage } from '../../../core/design/find'
import type { Output } from '../../../core/design/schema'
import { shareOf } from '../../../core/design/values'
import type { BenchColumn } from '../../composables/bench-columns'
import { isOpposed } from '../../../core/design/outputs/traits'

import { drawBoard } from './board'
import { drawContacts, drawLines } from './lines'
import { line, hatch, dots } from './pens'
import { type Colours, type TimelineView, yOf, columnWidth, leftOf, middleOf, endMs } from './view'

export const RIBBON_PX = 22

export function drawColumn(
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
  if (column.kind === 'board') return drawBoard(c, view, i)
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
  const ink = (until: number) => {
    if (!held.key) return
    const tone = toneOf(view.colours, output, held.key, held.key === 'wrong')
    ribbon(c, view, x, yOf(view, held.from), yOf(view, until), tone)
  }
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
      ink(t)
      held = { key, from: t }
    }
    if (next >= to) break
    i = Math.max(i, indexAt(beliefs, next))
    j = Math.max(j, indexAt(truth, next))
    t = next
  }
  ink(to)
}

/** Changes within a row of pixels that are looked at: a row is drawn in bounded time. */
const LOOKED_AT = 12

/**
 * Stretches between changes that are visible; those shorter than a row of pixels are passed
 * together.
 */
export function eachRun(
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

export function ribbon(
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

export function drawPowerCuts(c: CanvasRenderingContext2D, view: TimelineView): void {
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
