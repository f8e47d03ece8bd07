/**
 * Times that were measured on a link, there and back, beside those of the design; and the times of
 * the design that would give what was measured.
 */
import type { Link } from '../design/schema'
import { latencyMs } from '../links/timing'

type Timing = Link['timing']

/** Durations are kept one by one up to this many, the oldest fall out. */
const MOST_KEPT = 5000
/** Shares at which the quantile function of one way is looked at. */
const GRID = 160

/** What was measured, ms. `lost`: of `count` + `lost` questions nobody answered so many. */
export interface Measured {
  count: number
  lost: number
  leastMs: number
  typicalMs: number
  p99Ms: number
}

export class Delays {
  private readonly kept: number[] = []
  lost = 0
  /** How long it took to be back, each time, ms. */
  readonly outagesMs: number[] = []

  add(ms: number): void {
    this.kept.push(Math.max(0, ms))
    if (this.kept.length > MOST_KEPT) this.kept.shift()
  }

  get count(): number {
    return this.kept.length
  }

  /** null before anything was measured. */
  measured(): Measured | null {
    if (!this.kept.length && !this.lost) return null
    const sorted = this.kept.toSorted((a, b) => a - b)
    return {
      count: sorted.length,
      lost: this.lost,
      leastMs: sorted[0] ?? 0,
      typicalMs: at(sorted, 0.5),
      p99Ms: at(sorted, 0.99),
    }
  }

  /** Cells of equal width from 0 to what was longest, or to `upTo` ms; none before anything. */
  bars(cells: number, upTo = 0): { fromMs: number; toMs: number; count: number }[] {
    if (!this.kept.length) return []
    const width = Math.max(1, Math.ceil((Math.max(upTo, ...this.kept) + 1) / cells))
    const counts = Array.from({ length: cells }, () => 0)
    for (const ms of this.kept) counts[Math.floor(ms / width)]!++
    return counts.map((count, i) => ({ fromMs: i * width, toMs: (i + 1) * width, count }))
  }
}

/** The value that the given share stays within: the nearest rank. */
function at(sorted: readonly number[], share: number): number {
  return sorted[Math.max(0, Math.ceil(share * sorted.length) - 1)] ?? 0
}

/**
 * What the design expects there and back, ms: two ways drawn independently of `latencyMs`, and the
 * time on the wire of both texts.
 */
export function thereAndBack(timing: Timing, wireMs: number): Omit<Measured, 'count' | 'lost'> {
  return {
    leastMs: 2 * timing.minMs + wireMs,
    typicalMs: bothWays(timing, 0.5) + wireMs,
    p99Ms: bothWays(timing, 0.99) + wireMs,
  }
}

/**
 * What the given share of all sums of two draws on a grid stays within, ms, the nearest rank. The
 * sums are counted, not listed: the page asks for this with every answer that comes.
 */
export function bothWays(timing: Timing, share: number): number {
  const one = Array.from({ length: GRID }, (_, i) => latencyMs(timing, (i + 0.5) / GRID))
  const rank = Math.ceil(share * GRID * GRID)
  return smallest(2 * (one[0] ?? 0), 2 * (one.at(-1) ?? 0), most => sumsWithin(one, most) >= rank)
}

/** How many sums of two of a rising list are at most so much. */
function sumsWithin(rising: readonly number[], most: number): number {
  let count = 0
  let second = rising.length
  for (const first of rising) {
    while (second > 0 && first + (rising[second - 1] ?? 0) > most) second--
    count += second
  }
  return count
}

/** Shares of a thousand. */
const PER_MILLE = 1000
/** With fewer than this a 99th percentile says nothing. */
export const ENOUGH = 100

/**
 * Times of one way whose sums there and back have the least, typical and 99th percentile that were
 * measured, rounded up to whole ms; the two ways are taken for alike. `datagrams`: each may be
 * lost, and a question is lost with either way; elsewhere what is lost is sent again, so that the
 * loss of the design stays.
 */
export function fitted(
  timing: Timing,
  measured: Measured,
  wireMs: number,
  datagrams: boolean,
): Timing {
  const less = (ms: number) => Math.max(0, ms - wireMs)
  const minMs = Math.floor(less(measured.leastMs) / 2)
  // Twice the median is close to the median of the sums; the shape of the tail moves it a little.
  let typicalMs = Math.max(minMs, Math.round(less(measured.typicalMs) / 2))
  let p99Ms = typicalMs
  for (let round = 0; round < 3; round++) {
    p99Ms = smallest(
      typicalMs,
      less(measured.p99Ms) + 1,
      p99 => bothWays({ ...timing, minMs, typicalMs, p99Ms: p99 }, 0.99) >= less(measured.p99Ms),
    )
    typicalMs = smallest(
      minMs,
      p99Ms,
      typical =>
        bothWays({ ...timing, minMs, typicalMs: typical, p99Ms }, 0.5) >= less(measured.typicalMs),
    )
  }
  const asked = measured.count + measured.lost
  const lossPerMille =
    datagrams && asked > 0
      ? Math.min(500, Math.ceil(PER_MILLE * (1 - Math.sqrt(measured.count / asked)) - 1e-6))
      : timing.lossPerMille
  return { ...timing, minMs, typicalMs, p99Ms, lossPerMille }
}

/** The smallest whole number from `low` to `high` for which it holds; `high` where for none. */
function smallest(low: number, high: number, holds: (n: number) => boolean): number {
  let [from, to] = [Math.floor(low), Math.ceil(high)]
  while (from < to) {
    const middle = Math.floor((from + to) / 2)
    if (holds(middle)) to = middle
    else from = middle + 1
  }
  return from
}
