/** What is told of a live connection to whoever looks at it. */
import type { Design, Link } from '../design/schema'
import { wireMs } from '../links/timing'
import { askText } from '../surfaces/surface'
import { rows, reportText } from '../messages/table'
import { spokenValues } from '../design/values'
import { causesOf, type Cause, type Prints } from './causes'
import { thereAndBack, type Measured } from './delays'
import type { Tried } from './against'
import type { Crossed, LiveLink, Told } from './link'
import type { Heard, Result, ResultState } from './commissioning/results'
import type { Chapter, Step } from './commissioning/steps'
import type { LiveRow } from './sheet'

/** Bars of a chart of what was measured. */
const BARS = 24

export interface LinkView {
  linkId: string
  /** The surface in whose place it speaks; "" = none of the design. */
  as: string
  up: boolean
  /** Why not, and what is tried; "" = nothing to say. */
  why: string
  changedAt: number | null
  heardAt: number | null
  /** Of the design that it was connected with. */
  fingerprint: string
  hello: LiveLink['hello']
  /** null = nobody said who it is. */
  agrees: boolean | null
  causes: Cause[]
  measured: Measured | null
  designed: Omit<Measured, 'count' | 'lost'>
  /** What is subtracted from it for the wire, ms. */
  wireMs: number
  bars: { fromMs: number; toMs: number; count: number }[]
  outagesMs: number[]
  counts: LiveLink['counts']
  says: (Told | null)[]
  readings: (Told | null)[]
}

/** One that a server holds. `flooded`: characters that were not read, for there were too many. */
export interface ConnectionView extends LinkView {
  id: string
  where: string
  openedAt: string
  revision: number
  flooded: number
  /** Questions of a measurement that are still to be asked. */
  measuring: number
}
/** `now`: what all times are counted with, ms. */
export interface DeskView {
  now: number
  connections: ConnectionView[]
  rows: LiveRow[]
  /** null = none is under way. */
  commissioning: CommissioningView | null
  /** The board against the design; null = nothing was tried. */
  trials: TrialsView | null
}
export interface TrialsView {
  /** What is tried now; "" = nothing. */
  current: string
  done: number
  messages: { passed: number; of: number }
  drills: { passed: number; of: number }
  failed: Tried[]
  /** As the design has them, but not the first time. */
  again: Tried[]
  isOver: boolean
}
/** A run as whoever holds a phone sees it. */
export interface CommissioningView {
  revision: number
  fingerprint: string
  startedAt: string
  steps: { id: string; chapter: Chapter; about: string; state: ResultState | null }[]
  /** The step at hand; null = none, the last has a result. */
  current: Step | null
  /** What is done or looked at now. */
  headline: string
  heard: Heard[]
  /** What is asked of whoever stands before it; "" = nothing. */
  question: string
  waitsForReady: boolean
  /** What came of the step before, where none is at hand. */
  last: Result | null
  /** What is not kept yet, and why; "" = all is. */
  trouble: string
}
export interface TrafficNews extends Crossed {
  connection: string
}

/** `prints`: fingerprints that the design had. `why`: what the connection says while it is down. */
export function linkView(live: LiveLink, prints: Prints, why: string, now: number): LinkView {
  const { link, design, hello, delays, print } = live
  const onWire = questionWireMs(design, link)
  const designed = thereAndBack(link.timing, onWire)
  return {
    linkId: link.id,
    as: live.as,
    up: live.up,
    why,
    changedAt: live.changedAt,
    heardAt: live.heardAt,
    fingerprint: print,
    hello,
    agrees: hello ? hello.fingerprint === print : null,
    causes: causesOf(live, prints, why, now),
    measured: delays.measured(),
    designed,
    wireMs: onWire,
    bars: delays.bars(BARS, designed.p99Ms * 1.1),
    outagesMs: delays.outagesMs.slice(-20),
    counts: live.counts,
    says: live.says,
    readings: live.readings,
  }
}

/** Time on the wire of a question for the state and of the first report that answers it, ms. */
export function questionWireMs(design: Design, link: Link): number {
  const [first] = rows(design, link)
  const [value = ''] = first ? spokenValues(first.load.output) : []
  const report = first ? reportText(link, first.load, first.message, value) : ''
  return wireMs(design, link, askText(link)) + wireMs(design, link, report)
}
