/**
 * Values over a stretch of time, kept small: what lies closer together than a point of the chart is
 * one point.
 */
const POINTS = 240

export class History {
  private readonly points: { at: number; value: number }[] = []
  constructor(private readonly spanMs: number) {}

  add(at: number, value: number): void {
    if (!Number.isFinite(value)) return
    const last = this.points.at(-1)
    if (last && at - last.at < this.spanMs / POINTS) last.value = value
    else this.points.push({ at, value })
    while (this.points[1] && at - this.points[1].at > this.spanMs) this.points.shift()
  }

  /** As an SVG path on a field of 100 by 100: a value holds until the next one. */
  path(now: number, low: number, high: number): string {
    const x = (at: number) => round(Math.max(0, 100 - ((now - at) * 100) / this.spanMs))
    const y = (value: number) =>
      round(100 - Math.max(0, Math.min(1, (value - low) / (high - low))) * 100)
    return (
      this.points
        .map(({ at, value }, i) => (i ? `H${x(at)}V${y(value)}` : `M${x(at)} ${y(value)}`))
        .join('') + (this.points.length ? `H${x(now)}` : '')
    )
  }
}

function round(value: number): number {
  return Math.round(value * 10) / 10
}
