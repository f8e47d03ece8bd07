/** What is drawn, and where a moment and a column lie. */
import type { LineChange, Trace } from '../../../core/bench/trace'
import type { Recording, Role } from '../../../core/bench/recording'
import type { Design } from '../../../core/design/schema'
import { TIME_SCALE_PX, type BenchColumn } from '../../composables/bench-columns'

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
  /** An emulated board: its lines of the load shown, what it said, where it differs. */
  board: {
    now: number
    lines: readonly (readonly LineChange[])[]
    texts: readonly { t: number; text: string }[]
    differences: readonly { t: number; load: number }[]
    loadIndex: number
  } | null
  fromMs: number
  pxPerMs: number
  width: number
  height: number
  colours: Colours
}

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

export const yOf = (view: TimelineView, t: number) => (t - view.fromMs) * view.pxPerMs

export const columnWidth = (view: TimelineView) =>
  (view.width - TIME_SCALE_PX) / view.columns.length

export const leftOf = (view: TimelineView, i: number) => TIME_SCALE_PX + i * columnWidth(view)

export const middleOf = (view: TimelineView, i: number) => leftOf(view, i) + columnWidth(view) / 2

export const endMs = (view: TimelineView) => view.fromMs + view.height / view.pxPerMs
