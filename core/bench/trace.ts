/**
 * What a bench run leaves behind, and the questions asked of it. Times are ms of simulated time.
 */
import { wiredSurfaces, farSurfaces } from '../design/find'
import type { Design } from '../design/schema'
import { linesOf } from '../design/values'
import { lampsOfBoxes } from '../design/wired'
import type { Shown } from '../surfaces/surface'
import type { Action } from './script'
import { nth } from '../units/lists'

export interface TruthChange {
  t: number
  value: string
  powered: boolean
}
export interface BeliefChange {
  t: number
  shown: Shown
}
export interface TracedMessage {
  linkId: string
  surfaceId: string
  /** up: to the controller, down: from it. */
  dir: 'up' | 'down'
  sentMs: number
  /** Arrival, or the moment it was lost. */
  endMs: number
  lost: boolean
  text: string
  /** The text as people read it. */
  shown: string
  loadIds: readonly string[]
  /** Of an HTTP answer. */
  status?: number
}
export interface Mark {
  t: number
  action: Action
  words: string
  surfaceId: string | null
  loadId: string | null
}
export interface Interval {
  fromMs: number
  toMs: number | null
}

/** What stands on a line: a level, or null while nothing drives it. */
export interface LineChange {
  t: number
  level: number | null
}

export interface Trace {
  truth: Record<string, TruthChange[]>
  /** By surface, then load. */
  beliefs: Record<string, Record<string, BeliefChange[]>>
  messages: TracedMessage[]
  marks: Mark[]
  /** Link not connected, by link. */
  down: Record<string, Interval[]>
  powerCuts: Interval[]
  moves: Record<string, number>
  events: number
  /** By load, then line in the order of `linesOf`. */
  lines: Record<string, LineChange[][]>
  /** By hand control: the contact itself, before any debounce. 0 = closed. */
  contacts: Record<string, { t: number; level: 0 | 1 }[]>
  /** By lamp that nobody switches, those of boxes among them. */
  lamps: Record<string, LineChange[]>
  /** Memory that began to be written. */
  saves: { t: number; loadId: string; value: string }[]
  /** Messages before this are no longer kept. */
  keptFromMs: number
}

/** The last entry at or before `t`, by bisection; undefined before the first. */
export function at<T extends { t: number }>(changes: readonly T[], t: number): T | undefined {
  return changes[indexAt(changes, t)]
}

/** Index of the last entry at or before `t`, -1 before the first. */
export function indexAt(changes: readonly { t: number }[], t: number): number {
  let low = 0
  let high = changes.length
  while (low < high) {
    const mid = (low + high) >> 1
    if ((changes[mid] as { t: number }).t <= t) low = mid + 1
    else high = mid
  }
  return low - 1
}

/** The changes of a load's value, its first value and mere losses of power left out. */
export function movesOf(trace: Trace, loadId: string): TruthChange[] {
  return (trace.truth[loadId] ?? []).filter((c, i, all) => i > 0 && c.value !== all[i - 1]?.value)
}

/**
 * Shows a definite state that is not the truth. Waiting, unknown and marked-stale keys are unsure,
 * not wrong.
 */
export function differs(shown: Shown | undefined, truth: string | undefined): boolean {
  return isDefinite(shown) && truth !== undefined && shown !== truth
}

/** A value that is shown without any doubt. */
export function isDefinite(shown: Shown | undefined): boolean {
  return (
    shown !== undefined && shown !== 'waiting' && shown !== 'unknown' && !shown.startsWith('stale-')
  )
}

/** Stretches of [0, untilMs] in which a surface shows a load wrongly. */
export function wrongStretches(
  trace: Trace,
  surfaceId: string,
  loadId: string,
  untilMs: number,
): { fromMs: number; toMs: number }[] {
  const truth = trace.truth[loadId] ?? []
  const beliefs = trace.beliefs[surfaceId]?.[loadId] ?? []
  const stretches: { fromMs: number; toMs: number }[] = []
  let from: number | null = null
  let i = 0
  let j = 0
  while (i < truth.length || j < beliefs.length) {
    const t = Math.min(truth[i]?.t ?? Infinity, beliefs[j]?.t ?? Infinity)
    if (t > untilMs) break
    while (i < truth.length && nth(truth, i).t === t) i++
    while (j < beliefs.length && nth(beliefs, j).t === t) j++
    const wrong = differs(beliefs[j - 1]?.shown, truth[i - 1]?.value)
    if (wrong && from === null) from = t
    else if (!wrong && from !== null) {
      stretches.push({ fromMs: from, toMs: t })
      from = null
    }
  }
  if (from !== null) stretches.push({ fromMs: from, toMs: untilMs })
  return stretches
}

/** How long a surface showed what was not so, up to `untilMs`, ms. */
export function wrongMs(trace: Trace, surfaceId: string, loadId: string, untilMs: number): number {
  return wrongStretches(trace, surfaceId, loadId, untilMs).reduce(
    (sum, s) => sum + Math.min(s.toMs, untilMs) - s.fromMs,
    0,
  )
}

/** A trace of nothing yet, with a list for each load, line and surface. */
export function emptyTrace(design: Design): Trace {
  const byLoad = <T>(make: (load: Design['loads'][number]) => T) =>
    Object.fromEntries(design.loads.map(l => [l.id, make(l)]))
  return {
    truth: byLoad(() => []),
    beliefs: Object.fromEntries(
      farSurfaces(design).map(s => [s.id, byLoad(() => [{ t: 0, shown: 'unknown' as const }])]),
    ),
    messages: [],
    marks: [],
    down: Object.fromEntries(design.links.map(l => [l.id, []])),
    powerCuts: [],
    moves: byLoad(() => 0),
    events: 0,
    lines: byLoad(l => linesOf(l.output).map(() => [])),
    contacts: Object.fromEntries(
      wiredSurfaces(design).flatMap(s => s.controls.map(c => [c.id, []])),
    ),
    lamps: Object.fromEntries(
      [...design.controllers.flatMap(c => c.lamps), ...lampsOfBoxes(design)].map(l => [l.id, []]),
    ),
    saves: [],
    keptFromMs: 0,
  }
}

/** Ends the last interval at `t`, ms, where it is still open. */
export function closeInterval(intervals: Interval[], t: number): void {
  const last = intervals.at(-1)
  if (last && last.toMs === null) last.toMs = t
}

/** Messages take at most this long, ms: how far back a search for those under way begins. */
export const LONGEST_WAY_MS = 100_000

/** Index of the first message that was sent at or after `t`. */
export function firstSentAt(messages: readonly TracedMessage[], t: number): number {
  let low = 0
  let high = messages.length
  while (low < high) {
    const mid = (low + high) >> 1
    if (nth(messages, mid).sentMs < t) low = mid + 1
    else high = mid
  }
  return low
}

/** Messages that are under way at `t`. */
export function underWay(trace: Trace, t: number): TracedMessage[] {
  const out: TracedMessage[] = []
  for (let i = firstSentAt(trace.messages, t - LONGEST_WAY_MS); i < trace.messages.length; i++) {
    const m = nth(trace.messages, i)
    if (m.sentMs > t) break
    if (!m.lost && m.endMs > t) out.push(m)
  }
  return out
}

/**
 * Where a surface begins to show a load wrongly, after `t` (or before it): the next place to look.
 */
export function nextWrong(
  trace: Trace,
  surfaceIds: readonly string[],
  loadId: string,
  t: number,
  untilMs: number,
  back = false,
): { t: number; surfaceId: string } | null {
  const starts = surfaceIds.flatMap(surfaceId =>
    wrongStretches(trace, surfaceId, loadId, untilMs).map(s => ({ t: s.fromMs, surfaceId })),
  )
  return starts
    .filter(s => (back ? s.t < t : s.t > t))
    .reduce<{ t: number; surfaceId: string } | null>(
      (best, s) => (best === null || (back ? s.t > best.t : s.t < best.t) ? s : best),
      null,
    )
}
