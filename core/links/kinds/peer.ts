/** Radio from board to board: time in the air. */
import { EVERYBODY } from '../../design/links/peer'
import type { PeerLink } from '../../design/schema'
import { place, type LinkCarriage } from './facet'

export const peer: LinkCarriage<PeerLink> = {
  exactMs: ({ otherAddress }, text) => peerAirtimeMs(text.length, otherAddress === EVERYBODY),
  reason({ otherAddress }, text) {
    const acknowledged = otherAddress === EVERYBODY ? '' : ' + its acknowledgement, 0.314 ms'
    return `preamble 0.192 ms + (${PEER_OVERHEAD} + ${text.length}) bytes at 1 Mbit/s${acknowledged}`
  },
  pageReach: () => [
    place(
      'any browser',
      'no',
      'pages speak no radio from board to board',
      'take a box, or a panel over HTTP',
    ),
  ],
  boxReach: ({ channel }) => [
    place(
      'within the house',
      'yes',
      `both radios are on channel ${channel}; walls of stone and metal shorten the reach`,
    ),
    place('without router or internet', 'yes', 'board speaks to board, no network takes part'),
    place(
      'while the board joins a router',
      'sometimes',
      'its one radio follows the channel of the router',
      'fix the channel of the router, or let the board make its own network',
    ),
  ],
  setUp: ({ channel, boardAddress, otherAddress, payloadBytes }) =>
    `Radio from board to board, channel ${channel}; controller ${boardAddress}, other side ${otherAddress === EVERYBODY ? 'everybody' : otherAddress}; at most ${payloadBytes} bytes a message`,
}

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
