/** The emulated board: the lines of the load shown, what it says, where it differs. */
import { loadOf } from '../../../core/design/find'
import type { Output } from '../../../core/design/schema'
import { isOpposed } from '../../../core/design/outputs/traits'
import { drivenShares } from '../../../core/emulated/shows'
import { at, indexAt, type LineChange } from '../../../core/bench/trace'
import { eachRun, ribbon, RIBBON_PX } from './columns'
import { line } from './pens'
import { type TimelineView, endMs, leftOf, columnWidth, middleOf, yOf } from './view'

/** Texts closer than this are not all written out, px. */
const TEXT_APART_PX = 15

export function drawBoard(c: CanvasRenderingContext2D, view: TimelineView, i: number): void {
  const { board } = view
  if (!board) return
  const x = middleOf(view, i)
  const { output } = loadOf(view.design, view.loadId)
  const shown = { ...view, nowMs: Math.min(view.nowMs, board.now) }
  eachRun(shown, merged(board.lines), (from, to) => {
    const levels = board.lines.map(changes => at(changes, from)?.level ?? null)
    if (levels.every(l => l === null)) return
    ribbon(c, view, x, yOf(view, from), yOf(view, to), {
      fill: view.colours.raised,
      edge: view.colours.ink,
      ink: inkOf(output, levels),
    })
  })
  drawTexts(c, view, i)
  for (const { t, load } of board.differences) {
    if (load >= 0 && load !== board.loadIndex) continue
    const y = yOf(view, t)
    if (y < -10 || y > view.height + 10) continue
    c.fillStyle = view.colours.differs
    c.beginPath()
    c.arc(x - RIBBON_PX / 2 - 9, y, 5, 0, 2 * Math.PI)
    c.fill()
  }
  const y = yOf(view, board.now)
  if (y >= 0 && y < yOf(view, view.nowMs) - 3) {
    c.strokeStyle = view.colours.second
    c.setLineDash([2, 3])
    line(c, leftOf(view, i) + 4, y, leftOf(view, i) + columnWidth(view) - 4, y)
    c.setLineDash([])
  }
}

/** Times at which any of several lines changes. */
function merged(lines: readonly (readonly LineChange[])[]): readonly { t: number }[] {
  const [first = []] = lines
  if (lines.length < 2) return first
  return [...new Set(lines.flatMap(l => l.map(change => change.t)))]
    .toSorted((a, b) => a - b)
    .map(t => ({ t }))
}

/** How much of the width is inked: forward is the right half, reverse the left. */
function inkOf(output: Output, levels: readonly (number | null)[]): readonly [number, number] {
  const [first = 0, second = 0, ...more] = drivenShares(output, levels)
  if (isOpposed(output)) return first ? [0.5, 1] : second ? [0, 0.5] : [0, 0]
  return [0, Math.max(first, second, ...more)]
}

function drawTexts(c: CanvasRenderingContext2D, view: TimelineView, i: number): void {
  const x = middleOf(view, i) + RIBBON_PX / 2 + 7
  const room = leftOf(view, i) + columnWidth(view) - x - 4
  c.fillStyle = view.colours.second
  c.font = `12px ${view.colours.mono}`
  c.textAlign = 'left'
  c.textBaseline = 'middle'
  let last = -Infinity
  const texts = view.board?.texts ?? []
  for (const { t, text } of texts.slice(Math.max(0, indexAt(texts, view.fromMs)))) {
    if (t > endMs(view)) return
    const y = yOf(view, t)
    if (y < -10 || y - last < TEXT_APART_PX) continue
    last = y
    c.fillText(fitting(c, legible(text), room), x, y)
  }
}

/** What cannot be seen is left out, but for a mark. */
const legible = (text: string) =>
  Array.from(text.trimEnd(), x => (x < ' ' || x > '~' ? '·' : x)).join('')

function fitting(c: CanvasRenderingContext2D, text: string, room: number): string {
  if (c.measureText(text).width <= room) return text
  let cut = text
  while (cut && c.measureText(`${cut}…`).width > room) cut = cut.slice(0, -1)
  return `${cut}…`
}
