/**
 * Weeks of use: presses at random through the waking day on every surface, links out of reach,
 * power cuts now and then. Nothing but the figures is kept, so a run of any length takes the same
 * room. Each day is one observation; means carry their 95 % interval (batch means: Law, Simulation
 * Modeling and Analysis, ch. 9).
 */
import { z } from 'zod'
import { linkOf, loadOf, maybeMessage, farSurfaces } from '../design/find'
import { fullOf, wantsOn } from '../design/values'
import type { Control, Design, Gesture } from '../design/schema'
import { seededRandom, streamSeed, type Random } from '../units/random'
import { estimate, type Estimate } from '../units/student'
import { Bench } from './bench'
import { Histogram } from './histogram'
import type { Action } from './script'
import { isHeld } from '../design/outputs/traits'
import { seated } from '../design/seats'

const perDay = z.number().min(0).max(2000)
export const profileSchema = z.strictObject({
  seed: z.number().int().min(0).max(0xffffffff),
  days: z.number().int().min(2).max(60),
  pressesADay: z.record(z.string(), perDay).describe('By surface'),
  outagesAWeek: z.number().min(0).max(100).describe('For each link'),
  outageMinutes: z.number().min(0.1).max(600),
  powerCutsAMonth: z.number().min(0).max(100),
  powerCutMinutes: z.number().min(0.1).max(600),
  bounce: z.boolean(),
})
export type UseProfile = z.infer<typeof profileSchema>

/** Four weeks of ordinary use of a design: 20 presses a day on each surface. */
export function newProfile(design: Design): UseProfile {
  return {
    seed: 1,
    days: 28,
    pressesADay: Object.fromEntries(design.surfaces.map(s => [s.id, 20])),
    outagesAWeek: 2,
    outageMinutes: 20,
    powerCutsAMonth: 2,
    powerCutMinutes: 10,
    bounce: true,
  }
}

export interface DelayFigures {
  count: number
  medianMs: number | null
  p95: Interval95
  p99: Interval95
  longestMs: number
}
/**
 * `low`, `high`: order statistics around the percentile (binomial, normal approximation); null
 * where there are too few.
 */
export interface Interval95 {
  ms: number | null
  low: number | null
  high: number | null
}
export interface ProfileReport {
  days: number
  events: number
  surfaces: {
    surfaceId: string
    wrongSecondsADay: Estimate
    unsureSecondsADay: Estimate
    longestWrongMs: number
    delays: DelayFigures
    pressesADay: Estimate
    missedADay: Estimate
    doubledADay: Estimate
    /** By load, in the order of the design; null where it has nothing to do with it. */
    loads: ({ loadId: string; wrongSecondsADay: Estimate; longestWrongMs: number } | null)[]
    /** Delays as bars, for drawing. */
    bars: { fromMs: number; toMs: number; count: number }[]
  }[]
  loads: { loadId: string; cyclesADay: Estimate; movesADay: Estimate }[]
  links: { linkId: string; messagesADay: Estimate; bytesADay: Estimate; lostADay: Estimate }[]
  memoryWritesADay: Estimate
}

export const DAY_MS = 86_400_000
/** People are up from seven to eleven at night. */
const WAKES_MS = 7 * 3_600_000
const WAKING_MS = 16 * 3_600_000

export class ProfileRun {
  readonly design: Design
  readonly bench: Bench
  private readonly daily: number[][] = []
  private last: number[]
  private readonly fold = new Map<string, number>()

  constructor(
    given: Design,
    readonly profile: UseProfile,
  ) {
    const design = (this.design = seated(given))
    this.bench = new Bench(design, profile.seed, undefined, false)
    if (profile.bounce) this.bench.act({ do: 'contacts', bounce: true })
    this.last = this.totals()
    for (const s of design.surfaces) this.surface(s.id)
    for (const l of design.links)
      this.again(`outage ${l.id}`, profile.outagesAWeek / 7, 24 * 3_600_000, 0, () =>
        this.outage(l.id),
      )
    this.again('power', profile.powerCutsAMonth / 30, DAY_MS, 0, () => {
      this.bench.act({ do: 'powerOff' })
      this.bench.ask(this.bench.now + Math.round(profile.powerCutMinutes * 60_000), () =>
        this.bench.act({ do: 'powerOn' }),
      )
    })
  }

  get day(): number {
    return this.daily.length
  }
  get done(): boolean {
    return this.daily.length >= this.profile.days
  }

  /** Works through at most that many events; true when all days are over. */
  run(events: number): boolean {
    for (let left = events; left > 0 && !this.done;) {
      const before = this.bench.figures.events
      const over = this.bench.advance((this.daily.length + 1) * DAY_MS, left)
      left -= this.bench.figures.events - before + 1
      if (!over) continue
      const now = this.totals()
      this.daily.push(now.map((v, i) => v - (this.last[i] as number)))
      this.last = now
    }
    return this.done
  }

  /** Events at random times, `mean` a day, within the waking part of it; each plans the next. */
  private again(
    name: string,
    mean: number,
    spanMs: number,
    startMs: number,
    act: () => void,
  ): void {
    if (mean <= 0) return
    const random = seededRandom(streamSeed(this.profile.seed, `profile ${name}`))
    // Waking time goes on from evening to morning.
    let waking = 0
    const plan = () => {
      waking += (-Math.log(1 - random.next()) * spanMs) / mean
      const at = Math.floor(waking / spanMs) * DAY_MS + startMs + (waking % spanMs)
      this.bench.ask(Math.round(at), () => {
        act()
        plan()
      })
    }
    plan()
  }

  private surface(id: string): void {
    const { design } = this
    const surface = design.surfaces.find(s => s.id === id)
    const mean = this.profile.pressesADay[id] ?? 0
    const random = seededRandom(streamSeed(this.profile.seed, `choice ${id}`))
    if (!surface) return
    const choices =
      surface.kind === 'hand' ? surface.controls.flatMap(c => this.byHand(c)) : this.keysOf(id)
    if (choices.length)
      this.again(`presses ${id}`, mean, WAKING_MS, WAKES_MS, () => pick(choices, random)())
  }

  private byHand(control: Control): (() => void)[] {
    const gestures: Gesture[] = [
      'single',
      ...(control.kind === 'push' ? control.gestures.map(g => g.on) : []),
    ]
    return gestures.map(
      gesture => () =>
        this.bench.act({
          do: 'press',
          controlId: control.id,
          ...(gesture === 'single' ? {} : { gesture }),
        }),
    )
  }

  private keysOf(surfaceId: string): (() => void)[] {
    const { design } = this
    const surface = farSurfaces(design).find(s => s.id === surfaceId)
    if (!surface) return []
    return design.loads
      .filter(l => maybeMessage(linkOf(design, surface.linkId), l.id))
      .map(l => () => {
        const wants = wantsOn(surface.keys, loadOf(design, l.id))
        const key = `${surfaceId} ${l.id}`
        const n = this.fold.get(key) ?? 0
        this.fold.set(key, n + 1)
        const want = wants[n % wants.length] ?? fullOf(l.output)
        const action: Action = {
          do: 'key',
          surfaceId,
          loadId: l.id,
          want: isHeld(l.output) ? 'on' : want,
        }
        this.bench.act(action)
        if (isHeld(l.output))
          this.bench.ask(this.bench.now + 1500, () => this.bench.act({ ...action, want: 'off' }))
      })
  }

  private outage(linkId: string): void {
    this.bench.act({ do: 'linkDown', linkId })
    this.bench.ask(this.bench.now + Math.round(this.profile.outageMinutes * 60_000), () =>
      this.bench.act({ do: 'linkUp', linkId }),
    )
  }

  /** Everything that is counted, in one fixed order. */
  private totals(): number[] {
    const { figures, now } = this.bench
    const out: number[] = [figures.memoryWrites]
    farSurfaces(this.design).forEach((s, i) => {
      out.push(
        figures.commands[i]?.pressed ?? 0,
        this.bench.missed(s.id),
        figures.commands[i]?.doubled ?? 0,
      )
      this.design.loads.forEach((_, load) =>
        out.push(figures.wrongMs(i, load, now), figures.unsureMs(i, load, now)),
      )
    })
    this.design.loads.forEach((_, load) =>
      out.push(figures.cycles[load] ?? 0, figures.moves[load] ?? 0),
    )
    for (const { up, down } of figures.traffic)
      out.push(up.messages + down.messages, up.bytes + down.bytes, up.lost + down.lost)
    return out
  }

  report(): ProfileReport {
    const {
      design,
      bench: { figures, now },
    } = this
    let at = 0
    const column = (i: number) => this.daily.map(d => d[i] as number)
    const next = (scale = 1): Estimate => estimate(column(at++).map(v => v * scale))
    const memoryWritesADay = next()
    const surfaces = farSurfaces(design).map((s, i) => {
      const [pressesADay, missedADay, doubledADay] = [next(), next(), next()]
      const delays = new Histogram()
      const wrong: number[][] = []
      const unsure: number[][] = []
      let longest = 0
      const loads = design.loads.map((l, load) => {
        const [w, u] = [column(at), column(at + 1)]
        at += 2
        if (!maybeMessage(linkOf(design, s.linkId), l.id)) return null
        wrong.push(w)
        unsure.push(u)
        delays.merge(figures.cells[i]?.[load]?.delays ?? new Histogram())
        const longestWrongMs = figures.longestWrongMs(i, load, now)
        longest = Math.max(longest, longestWrongMs)
        return { loadId: l.id, wrongSecondsADay: estimate(w.map(v => v / 1000)), longestWrongMs }
      })
      const sums = (lists: number[][]) =>
        this.daily.map((_, d) => lists.reduce((sum, list) => sum + (list[d] as number), 0) / 1000)
      return {
        surfaceId: s.id,
        wrongSecondsADay: estimate(sums(wrong)),
        unsureSecondsADay: estimate(sums(unsure)),
        longestWrongMs: longest,
        delays: delayFigures(delays),
        pressesADay,
        missedADay,
        doubledADay,
        loads,
        bars: delays.bars(),
      }
    })
    const loads = design.loads.map(l => ({ loadId: l.id, cyclesADay: next(), movesADay: next() }))
    const links = design.links.map(l => ({
      linkId: l.id,
      messagesADay: next(),
      bytesADay: next(),
      lostADay: next(),
    }))
    return {
      days: this.daily.length,
      events: figures.events,
      surfaces,
      loads,
      links,
      memoryWritesADay,
    }
  }
}

/**
 * Percentiles of delays, ms, the upper ones with a 95 % interval; its ends are null where too few
 * were counted.
 */
export function delayFigures(delays: Histogram): DelayFigures {
  const interval = (share: number): Interval95 => {
    const n = delays.count
    const half = n ? 1.96 * Math.sqrt((share * (1 - share)) / n) : 1
    const enough = n * (1 - share) >= 5
    return {
      ms: delays.percentile(share),
      low: enough ? delays.percentile(share - half) : null,
      high: enough ? delays.percentile(Math.min(1, share + half)) : null,
    }
  }
  return {
    count: delays.count,
    medianMs: delays.percentile(0.5),
    p95: interval(0.95),
    p99: interval(0.99),
    longestMs: delays.longest,
  }
}

function pick<T>(list: readonly T[], random: Random): T {
  return list[Math.floor(random.next() * list.length)] as T
}
