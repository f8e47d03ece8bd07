/** How long a message takes on a link: time on the wire plus latency drawn from a stated distribution. */
import type { Link } from '../design/schema'

type Timing = Link['timing']

/**
 * Quantile function of the latency, ms: straight lines through minimum (0), typical (0.5), 99th percentile (0.99) and
 * 1.5 times that (1). Chosen because every number in it is one the maker can see and edit.
 */
export function latencyMs(timing: Timing, u: number): number {
  const points: [number, number][] = [[0, timing.minMs], [0.5, timing.typicalMs], [0.99, timing.p99Ms], [1, timing.p99Ms * 1.5]]
  for (let i = 1; i < points.length; i++) {
    const [u0, t0] = points[i - 1] as [number, number]
    const [u1, t1] = points[i] as [number, number]
    if (u <= u1) return Math.round(t0 + (t1 - t0) * (u - u0) / (u1 - u0))
  }
  return Math.round(timing.p99Ms * 1.5)
}

/** UART: one start bit, eight data bits, one stop bit per character. Rounded up to whole ms. */
export function wireMs(link: Link, text: string): number {
  return link.kind === 'http' ? 0 : Math.ceil(text.length * 10 * 1000 / link.baud)
}
