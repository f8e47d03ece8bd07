/** How long a message takes on a link: time on the wire plus latency drawn from a stated distribution. */
import type { Design, Link } from '../design/schema'

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

/** Bits of one UART character: one start bit, eight data bits, no parity, one stop bit. */
export const CHARACTER_BITS = 10

/**
 * Time on the wire of a text, ms, not rounded: characters x bits / baud. For HTTP it is held in the latency, but for the
 * serial wire to a board in front, which passes it on.
 */
export function exactWireMs(design: Design, link: Link, text: string): number {
  const baud = link.kind === 'http' ? design.front?.baud : link.baud
  return baud === undefined ? 0 : text.length * CHARACTER_BITS * 1000 / baud
}

/** The same, rounded up to the whole ms of the bench. */
export function wireMs(design: Design, link: Link, text: string): number {
  return Math.ceil(exactWireMs(design, link, text))
}
