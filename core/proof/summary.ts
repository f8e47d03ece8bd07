/** From what was found of each surface to the verdict of a promise. */
import {
  isGood,
  type Assumption,
  type Part,
  type PromiseState,
  type Result,
  type SurfaceVerdict,
  type UnderWay,
} from './verdict'
import type { PromiseId } from './promises'

/**
 * What holds with so many under way at once was not tried with more, where one more would still add
 * something.
 */
export function underWayAssumed(part: Part, promise: PromiseId): Assumption[] {
  const { underWay } = part
  if (!underWay || underWay.suffices) return []
  return part
    .verdicts(promise)
    .filter(v => isGood(v.state))
    .map(v => ({
      id: 'under-way',
      open: false,
      surfaceId: v.surfaceId,
      words: `on the link of ${v.subject} no more than ${underWay.most} messages are under way at once, answers apart; more were not tried`,
    }))
}

/** Of several searches the one with most under way; it suffices where it does in each. */
export function mostUnderWay(parts: readonly Part[]): UnderWay | null {
  const all = parts.flatMap(p => p.underWay ?? [])
  return all.length
    ? { most: Math.max(...all.map(u => u.most)), suffices: all.every(u => u.suffices) }
    : null
}

/**
 * What a trial found about a surface takes the place of what the search, which left something out,
 * said of it.
 */
export function isOutdone(verdict: SurfaceVerdict, later: readonly SurfaceVerdict[]): boolean {
  return (
    verdict.surfaceId !== null
    && (isGood(verdict.state) || verdict.state === 'not examined')
    && later.some(
      l =>
        l.surfaceId === verdict.surfaceId
        && l.subject === verdict.subject
        && !isGood(l.state)
        && l.state !== 'not examined',
    )
  )
}

/** Nothing breaks it in what was examined; what was not is said with it. */
export function inPart(
  verdict: SurfaceVerdict,
  assumptions: readonly Assumption[],
): SurfaceVerdict {
  const open = isGood(verdict.state)
    ? assumptions.filter(a => a.open && (a.surfaceId === null || a.surfaceId === verdict.surfaceId))
    : []
  return open.length
    ? {
        ...verdict,
        state: 'in part',
        reason: `${verdict.reason}; not examined: ${open.map(a => a.words).join('; ')}`,
      }
    : verdict
}

const NOT_ASKED: Partial<Record<PromiseId, string>> = {
  P1: 'No panel shows this load.',
  P3: 'No hand control moves it.',
}

/** The verdict over all surfaces, with its reason. */
export function summary(
  promise: PromiseId,
  surfaces: readonly SurfaceVerdict[],
): { result: Result; reason: string } {
  const of = (...states: PromiseState[]) =>
    [...new Set(surfaces.filter(s => states.includes(s.state)).map(s => s.reason))].join('; ')
  if (surfaces.length === 0)
    return { result: 'not asked', reason: NOT_ASKED[promise] ?? 'Nothing commands it over a link.' }
  const broken = of('stale', 'unsure', 'broken')
  if (broken) return { result: 'broken', reason: broken }
  const open = of('not examined')
  if (open) return { result: 'gave up', reason: open }
  const partly = of('in part')
  if (partly) return { result: 'in part', reason: partly }
  const timed = of('in time')
  if (timed) return { result: 'by timing', reason: timed }
  return {
    result: 'holds',
    reason:
      promise === 'P1'
        ? 'At rest every panel shows the truth'
        : [...new Set(surfaces.map(s => s.reason))].join('; '),
  }
}
