/** Radio from board to board, without a network. */
import { lines } from '../dialects/lines'
import { PLAIN_BYTES, plain, type LinkFacet, type Medium } from './facet'
import type { LinkOf } from './schema'

/** Whatever is sent to this address is heard by all boards on the channel. */
export const EVERYBODY = 'FF:FF:FF:FF:FF:FF'

export const peerMedium: Medium = {
  datagrams: true,
  connects: false,
  single: false,
  overheard: true,
  inPocket: false,
}

export const peer: LinkFacet<LinkOf<'peer'>> = {
  words: 'peer radio',
  start: { panel: 'Browser', asksMs: 2000 },
  fresh: (id, name, controllerId) => ({
    kind: 'peer',
    ...plain(id, name, controllerId),
    ...PLAIN_BYTES,
    dialect: lines.fresh,
    onConnect: false,
    timing: {
      minMs: 1,
      typicalMs: 3,
      p99Ms: 25,
      lossPerMille: 10,
      dropDetectMs: 5000,
      reconnectMs: 500,
    },
    channel: 6,
    boardAddress: '02:00:5E:10:00:01',
    otherAddress: '02:00:5E:10:00:02',
    payloadBytes: 250,
  }),
  pins: () => [],
  seats: ({ otherAddress }) => (otherAddress === EVERYBODY ? 8 : 1),
  wireUp: () => undefined,
  agreed: ({ channel, boardAddress, otherAddress }) =>
    `peer ${channel} ${boardAddress} ${otherAddress}`,
}
