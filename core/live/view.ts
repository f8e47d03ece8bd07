/** What is told of a live connection to whoever looks at it. */
import { fingerprint } from '../design/fingerprint'
import type { Design, Link } from '../design/schema'
import { isDatagram, speaksRoutes } from '../design/links/traits'
import { wireMs } from '../links/timing'
import { askText } from '../surfaces/surface'
import { rows, reportText } from '../messages/table'
import { spokenValues } from '../design/values'
import { causesOf, type Cause, type Prints } from './causes'
import { thereAndBack, type Measured } from './delays'
import type { LiveLink, Told } from './link'

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

/** `prints`: fingerprints that the design had. `why`: what the connection says while it is down. */
export function linkView(live: LiveLink, prints: Prints, why: string, now: number): LinkView {
  const { link, design, hello, delays } = live
  const print = fingerprint(design)
  const onWire = questionWireMs(design, link)
  return {
    linkId: link.id,
    as: live.as,
    up: live.up,
    why,
    changedAt: live.changedAt,
    heardAt: live.heardAt,
    hello,
    agrees: hello ? hello.fingerprint === print : null,
    causes: causesOf(live, print, prints, why, now),
    measured: delays.measured(),
    designed: thereAndBack(link.timing, onWire),
    wireMs: onWire,
    bars: delays.bars(BARS),
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

/** Whether what is lost there stays lost. */
export function losesMessages(link: Link): boolean {
  return isDatagram(link) && !speaksRoutes(link)
}
