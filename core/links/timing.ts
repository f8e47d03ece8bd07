/**
 * How long a message takes on a link: time on the wire plus latency drawn from a stated
 * distribution.
 */
import { hasSpeed } from '../design/links'
import type { Design, Link } from '../design/schema'

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

/** Bits of one UART character: one start bit, eight data bits, no parity, one stop bit. */
export const CHARACTER_BITS = 10

/**
 * Time on the wire or in the air of a text, ms, not rounded. Serial lines: characters x bits /
 * baud. Radio from board to board and datagrams: airtime. For HTTP and the chip's own Bluetooth it
 * is held in the latency, but for the serial wire to a board in front, which passes it on.
 */
export function exactWireMs(design: Design, link: Link, text: string): number {
  const onWire = (baud: number) => (text.length * CHARACTER_BITS * 1000) / baud
  switch (link.kind) {
    case 'wire':
    case 'bluetooth-serial':
      return hasSpeed(link) ? onWire(link.baud) : 0
    case 'peer':
      return peerAirtimeMs(text.length, link.otherAddress === EVERYBODY)
    case 'udp':
      return datagramAirtimeMs(text.length) + frontMs(design, text)
    case 'http':
      return frontMs(design, text)
  }
}

/** How the time comes about, in words. */
export function wireReason(design: Design, link: Link, text: string): string {
  const behind = design.front
    ? `${text.length} characters and a line feed x 10 bits / ${design.front.baud} baud, on the wire behind the network board`
    : ''
  switch (link.kind) {
    case 'wire':
    case 'bluetooth-serial':
      return hasSpeed(link)
        ? `${text.length} characters x 10 bits / ${link.baud} baud`
        : 'within the latency'
    case 'peer':
      return `preamble 0.192 ms + (${PEER_OVERHEAD} + ${text.length}) bytes at 1 Mbit/s${link.otherAddress === EVERYBODY ? '' : ' + its acknowledgement, 0.314 ms'}`
    case 'udp':
      return [
        `frame of ${text.length} + ${UDP_OVERHEAD} bytes at 6 Mbit/s and its acknowledgement`,
        behind,
      ]
        .filter(Boolean)
        .join('; ')
    case 'http':
      return behind || 'within the latency'
  }
}

function frontMs(design: Design, text: string): number {
  return design.front ? ((text.length + 1) * CHARACTER_BITS * 1000) / design.front.baud : 0
}

export const EVERYBODY = 'FF:FF:FF:FF:FF:FF'
/**
 * Header, vendor-specific action fields and check sequence around a message from board to board,
 * bytes.
 */
const PEER_OVERHEAD = 43

/**
 * Airtime of a message from board to board at 1 Mbit/s (IEEE 802.11 DSSS, long preamble): 192 µs,
 * then 1 µs a bit; a frame to one receiver is acknowledged after 10 µs by 14 bytes (192 + 112 µs).
 * Waiting for a free channel is in the latency.
 */
export function peerAirtimeMs(bytes: number, toAll = false): number {
  return (192 + 8 * (PEER_OVERHEAD + bytes) + (toAll ? 0 : 10 + 192 + 8 * 14)) / 1000
}

/** MAC header and check sequence 28, LLC 8, IP 20, UDP 8 bytes. */
const UDP_OVERHEAD = 64

/**
 * Airtime of a datagram at 6 Mbit/s, the slowest rate of IEEE 802.11 OFDM: 20 µs preamble, then
 * symbols of 4 µs that hold 24 bits each, with 16 service and 6 tail bits; acknowledged after 16 µs
 * by 14 bytes.
 */
export function datagramAirtimeMs(bytes: number): number {
  const frameUs = (size: number) => 20 + 4 * Math.ceil((16 + 8 * size + 6) / 24)
  return (frameUs(UDP_OVERHEAD + bytes) + 16 + frameUs(14)) / 1000
}

/** The same as `exactWireMs`, rounded up to the whole ms of the bench. */
export function wireMs(design: Design, link: Link, text: string): number {
  return Math.ceil(exactWireMs(design, link, text))
}
