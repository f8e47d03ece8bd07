/**
 * Durations counted in a bounded space: whole milliseconds up to 64, then cells that are 2 % wide.
 * A percentile is the upper end of the cell in which it lies, so it is at most 2 % too high (and
 * never above the longest that was counted).
 */
const EXACT = 64
const WIDTH = Math.log(1.02)
/** Reaches to 64 ms x 1.02^1100, beyond any run. */
const CELLS = EXACT + 1100

export class Histogram {
  private readonly cells = new Uint32Array(CELLS)
  count = 0
  longest = 0

  add(ms: number): void {
    this.cells[cellOf(ms)]!++
    this.count++
    if (ms > this.longest) this.longest = ms
  }

  /** The duration that the given share of all stays within, ms; null where nothing was counted. */
  percentile(share: number): number | null {
    if (this.count === 0) return null
    let left = Math.max(1, Math.ceil(share * this.count))
    for (let i = 0; i < CELLS; i++) {
      left -= this.cells[i] as number
      if (left <= 0) return Math.min(this.longest, endOf(i))
    }
    return this.longest
  }

  merge(other: Histogram): void {
    other.cells.forEach((n, i) => {
      this.cells[i]! += n
    })
    this.count += other.count
    this.longest = Math.max(this.longest, other.longest)
  }

  /** Cells with something in them: how many durations end within each. */
  bars(): { fromMs: number; toMs: number; count: number }[] {
    return Array.from(this.cells, (count, i) => ({
      fromMs: i === 0 ? 0 : endOf(i - 1),
      toMs: endOf(i),
      count,
    })).filter(b => b.count > 0)
  }
}

function cellOf(ms: number): number {
  const whole = Math.ceil(ms)
  return whole <= EXACT
    ? whole
    : Math.min(CELLS - 1, EXACT + Math.ceil(Math.log(whole / EXACT) / WIDTH))
}

function endOf(cell: number): number {
  return cell <= EXACT ? cell : EXACT * Math.exp(WIDTH * (cell - EXACT))
}
