/** Datagrams in a network: each may be lost, come twice or overtake another. */
import { lines } from '../dialects/lines'
import { PLAIN_BYTES, plain, type LinkFacet, type Medium } from './facet'
import type { LinkOf } from './schema'

export const udpMedium: Medium = {
  datagrams: true,
  connects: false,
  single: false,
  overheard: true,
  inPocket: false,
}

export const udp: LinkFacet<LinkOf<'udp'>> = {
  words: 'datagrams (UDP)',
  start: { panel: 'Browser', asksMs: 2000 },
  fresh: (id, name, controllerId) => ({
    kind: 'udp',
    ...plain(id, name, controllerId),
    ...PLAIN_BYTES,
    dialect: lines.fresh,
    onConnect: false,
    timing: {
      minMs: 2,
      typicalMs: 8,
      p99Ms: 60,
      lossPerMille: 5,
      dropDetectMs: 5000,
      reconnectMs: 1500,
    },
    network: 'router',
    address: '192.168.4.1',
    port: 4210,
    toAll: false,
  }),
  pins: () => [],
  seats: () => 4,
  wireUp: () => undefined,
  agreed: ({ port }) => `udp ${port}`,
}
