/** Datagrams over Wi-Fi: time in the air. */
import type { UdpLink } from '../../design/schema'
import { frontMs, frontReason, networkReach, networkWords, place } from './facet'
import type { LinkCarriage } from './facet'

export const udp: LinkCarriage<UdpLink> = {
  exactMs: (_, text, design) => datagramAirtimeMs(text.length) + frontMs(design, text),
  reason: (_, text, design) =>
    [
      `frame of ${text.length} + ${UDP_OVERHEAD} bytes at 6 Mbit/s and its acknowledgement`,
      frontReason(design, text),
    ]
      .filter(Boolean)
      .join('; '),
  pageReach: () => [
    place(
      'any browser',
      'no',
      'pages send no datagrams',
      'take a panel over HTTP, a box, or a program on the computer',
    ),
  ],
  boxReach: networkReach,
  setUp: ({ address, port, network, toAll }, design) =>
    `Datagrams to ${address}, port ${port}, ${networkWords(design, network)}; reports to ${toAll ? 'everybody in the network' : 'who asked last'}`,
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
