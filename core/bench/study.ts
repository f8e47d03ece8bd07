/**
 * Timing study: many short runs, each with a seed of its own, in which every load is changed once
 * by somebody somewhere. What is counted is how long each surface shows something else than is so,
 * from the change until it shows the truth without doubt.
 */
import { handSurfaces, linkOf, maybeMessage, farSurfaces, showsState } from '../design/find'
import type { Design } from '../design/schema'
import { wantsOn } from '../design/values'
import { seededRandom, streamSeed, type Random } from '../units/random'
import { Bench } from './bench'
import { Histogram } from './histogram'
import type { Action, BenchScript } from './script'
import type { Trace } from './trace'
import { isHeld } from '../design/outputs/traits'
import { seated } from '../design/seats'

/** `away`: the share of runs in which each link is out of reach for a while around the change. */
export interface StudyPlan {
  runs: number
  seed: number
  away: number
}
export const NEW_STUDY: StudyPlan = { runs: 2000, seed: 1, away: 0 }

export interface StudyCell {
  surfaceId: string
  loadId: string
  count: number
  medianMs: number | null
  p95Ms: number | null
  p99Ms: number | null
  worstMs: number
  worstSeed: number
  /** Runs at whose end it still showed something else. */
  never: number
  bars: { fromMs: number; toMs: number; count: number }[]
}
export interface StudyReport {
  plan: StudyPlan
  runs: number
  events: number
  cells: StudyCell[]
}

interface Cell {
  surface: number
  load: number
  histogram: Histogram
  worstMs: number
  worstSeed: number
  never: number
}

/** Until everybody has heard of what came before. */
const QUIET_MS = 3000
/** Changes of one run lie within this. */
const SPREAD_MS = 2000

export class Study {
  done = 0
  readonly design: Design
  private readonly cells: Cell[]
  private events = 0

  constructor(
    given: Design,
    readonly plan: StudyPlan = NEW_STUDY,
  ) {
    const design = (this.design = seated(given))
    this.cells = farSurfaces(design).flatMap((s, surface) =>
      design.loads.flatMap((l, load) =>
        showsState(s) && maybeMessage(linkOf(design, s.linkId), l.id)
          ? [{ surface, load, histogram: new Histogram(), worstMs: -1, worstSeed: 0, never: 0 }]
          : [],
      ),
    )
  }

  /** True when all runs are done. */
  run(runs: number): boolean {
    for (let n = 0; n < runs && this.done < this.plan.runs; n++, this.done++)
      this.one(this.seedOf(this.done))
    return this.done >= this.plan.runs
  }

  private seedOf(n: number): number {
    return streamSeed(this.plan.seed, `study ${n}`)
  }

  private one(seed: number): void {
    const { design } = this
    const script = studyScript(design, seed, this.plan.away)
    const bench = new Bench(design, script.seed)
    bench.plan(script.steps)
    while (!bench.advance(script.untilMs ?? 0)) {
      /* the next slice */
    }
    this.events += bench.trace.events
    const surfaces = farSurfaces(design)
    for (const cell of this.cells) {
      const surfaceId = surfaces[cell.surface]?.id ?? ''
      const loadId = design.loads[cell.load]?.id ?? ''
      for (const { ms, ended } of disagreements(
        bench.trace,
        surfaceId,
        loadId,
        QUIET_MS - 1,
        script.untilMs ?? 0,
      )) {
        cell.histogram.add(ms)
        if (!ended) cell.never++
        if (ms > cell.worstMs) {
          cell.worstMs = ms
          cell.worstSeed = seed
        }
      }
    }
  }

  report(): StudyReport {
    const surfaces = farSurfaces(this.design)
    return {
      plan: this.plan,
      runs: this.done,
      events: this.events,
      cells: this.cells.map(({ surface, load, histogram, worstMs, worstSeed, never }) => ({
        surfaceId: surfaces[surface]?.id ?? '',
        loadId: this.design.loads[load]?.id ?? '',
        count: histogram.count,
        medianMs: histogram.percentile(0.5),
        p95Ms: histogram.percentile(0.95),
        p99Ms: histogram.percentile(0.99),
        worstMs: Math.max(0, worstMs),
        worstSeed,
        never,
        bars: histogram.bars(),
      })),
    }
  }
}

/**
 * One run: every load is changed once, by a hand control or a surface drawn for it, and links go
 * out of reach as the plan says.
 */
export function studyScript(design: Design, seed: number, away: number): BenchScript {
  const random = seededRandom(streamSeed(seed, 'study script'))
  const steps: BenchScript['steps'] = []
  for (const link of design.links) {
    if (random.next() >= away) continue
    const from = QUIET_MS - 1000 + Math.floor(random.next() * SPREAD_MS)
    steps.push(
      { atMs: from, action: { do: 'linkDown', linkId: link.id } },
      {
        atMs: from + 1000 + Math.floor(random.next() * 4000),
        action: { do: 'linkUp', linkId: link.id },
      },
    )
  }
  for (const load of design.loads) {
    const ways = changesOf(design, load.id)
    const way = ways[Math.floor(random.next() * ways.length)]
    if (!way) continue
    const atMs = QUIET_MS + Math.floor(random.next() * SPREAD_MS)
    steps.push(...way(atMs, random))
  }
  const slowest = Math.max(
    0,
    ...farSurfaces(design).map(s =>
      settlesWithin(design, s.linkId, s.pollMs, s.belief.timeoutMs * (s.belief.retries + 1)),
    ),
  )
  return {
    seed,
    steps: steps.toSorted((a, b) => a.atMs - b.atMs),
    untilMs: QUIET_MS + SPREAD_MS + slowest + (away ? 8000 : 0),
  }
}

function settlesWithin(design: Design, linkId: string, pollMs: number, waitMs: number): number {
  const { timing } = linkOf(design, linkId)
  return Math.ceil(3 * timing.p99Ms) + pollMs + waitMs + timing.reconnectMs + 1000
}

type Change = (atMs: number, random: Random) => BenchScript['steps']

function changesOf(design: Design, loadId: string): Change[] {
  const load = design.loads.find(l => l.id === loadId) as Design['loads'][number]
  const held = isHeld(load.output)
  const press =
    (controlId: string): Change =>
    atMs =>
      held
        ? [
            { atMs, action: { do: 'hold', controlId } },
            { atMs: atMs + 600, action: { do: 'letGo', controlId } },
          ]
        : [{ atMs, action: { do: 'press', controlId } }]
  const key =
    (surfaceId: string, wants: readonly string[]): Change =>
    (atMs, random) => {
      const step = (at: number, want: string): BenchScript['steps'][number] => ({
        atMs: at,
        action: { do: 'key', surfaceId, loadId, want } satisfies Action,
      })
      return held
        ? [step(atMs, 'on'), step(atMs + 600, 'off')]
        : [step(atMs, wants[Math.floor(random.next() * wants.length)] ?? 'on')]
    }
  return [
    ...handSurfaces(design).flatMap(s =>
      s.controls.filter(c => c.loadId === loadId).map(c => press(c.id)),
    ),
    ...farSurfaces(design)
      .filter(s => maybeMessage(linkOf(design, s.linkId), loadId))
      .map(s =>
        key(
          s.id,
          wantsOn(s.keys, load).filter(w => w !== 'off' && w !== 'stop'),
        ),
      ),
  ]
}

/**
 * Stretches from a change of a load until a surface shows what is so; what is not over at the end
 * of the run lasts until then.
 */
export function disagreements(
  trace: Trace,
  surfaceId: string,
  loadId: string,
  fromMs: number,
  untilMs: number,
): { ms: number; ended: boolean }[] {
  const truth = trace.truth[loadId] ?? []
  const beliefs = trace.beliefs[surfaceId]?.[loadId] ?? []
  const stretches: { ms: number; ended: boolean }[] = []
  const times = [...new Set([...truth, ...beliefs].map(c => c.t))].sort((a, b) => a - b)
  let [i, j] = [0, 0]
  let since: number | null = null
  for (const t of times) {
    i = passed(truth, i, t)
    j = passed(beliefs, j, t)
    const agrees = beliefs[j - 1]?.shown === truth[i - 1]?.value
    // What was not known before is counted from the change on.
    if (since !== null && since <= fromMs && t > fromMs && truth[i - 1]?.t === t) since = t
    if (!agrees && since === null) since = t
    else if (agrees && since !== null) {
      if (since > fromMs) stretches.push({ ms: t - since, ended: true })
      since = null
    }
  }
  if (since !== null && since > fromMs) stretches.push({ ms: untilMs - since, ended: false })
  return stretches
}

/** The first entry after `at` that is later than `t`. */
function passed(changes: readonly { t: number }[], at: number, t: number): number {
  while (at < changes.length && (changes[at]?.t ?? 0) <= t) at++
  return at
}
