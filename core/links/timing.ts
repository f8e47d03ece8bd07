/**
 * How long a message takes on a link: time on the wire plus latency drawn from a stated
 * distribution.
 */
import type { Design, Link } from '../design/schema'
import { carriageOf } from './kinds/rows'

type Timing = Link['timing']

/**
 * Quantile function of the latency, ms: straight lines through minimum (0), typical (0.5), 99th
 * percentile (0.99) and 1.5 times that (1). Chosen because every number in it is one the maker can
 * see and edit.
 */
export function latencyMs({ minMs, typicalMs, p99Ms }: Timing, u: number): number {
  if (u <= 0.5) return Math.round(minMs + ((typicalMs - minMs) * u) / 0.5)
  if (u <= 0.99) return Math.round(typicalMs + ((p99Ms - typicalMs) * (u - 0.5)) / (0.99 - 0.5))
  return Math.round(p99Ms + (p99Ms * 0.5 * (Math.min(u, 1) - 0.99)) / (1 - 0.99))
}

/**
 * Time on the wire or in the air of a text, ms, not rounded. Serial lines: characters x bits /
 * baud. Radio from board to board and datagrams: airtime. For HTTP and the chip's own Bluetooth it
 * is held in the latency, but for the serial wire to a board in front, which passes it on.
 */
export function exactWireMs(design: Design, link: Link, text: string): number {
  return carriageOf(link).exactMs(link, text, design)
}

/** How the time comes about, in words. */
export function wireReason(design: Design, link: Link, text: string): string {
  return carriageOf(link).reason(link, text, design)
}

/** The same as `exactWireMs`, rounded up to the whole ms of the bench. */
export function wireMs(design: Design, link: Link, text: string): number {
  return Math.ceil(exactWireMs(design, link, text))
}
