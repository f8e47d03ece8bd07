/** Low-energy Bluetooth: the board is a peripheral with one service; phones connect to it. */
import { lines } from '../dialects/lines'
import { PLAIN_BYTES, plain, type LinkFacet, type Medium } from './facet'
import type { LinkOf } from './schema'

export const lowEnergyMedium: Medium = {
  datagrams: false,
  connects: true,
  single: true,
  overheard: true,
  inPocket: true,
}

/** A name of 128 bits of its own for each link, so that two services of one board differ. */
function uuidOf(id: string, nth: number): string {
  let hash = 0x811c9dc5
  for (const char of id) hash = Math.imul(hash ^ (char.codePointAt(0) ?? 0), 0x01000193)
  return `${(hash >>> 0).toString(16).padStart(8, '0')}-000${nth}-4b1d-9c3a-5f2e7c60d8e4`
}

export const lowEnergy: LinkFacet<LinkOf<'low-energy'>> = {
  words: 'low-energy Bluetooth',
  start: { panel: 'Phone', asksMs: 0 },
  fresh: (id, name, controllerId) => ({
    kind: 'low-energy',
    ...plain(id, name, controllerId),
    ...PLAIN_BYTES,
    dialect: lines.fresh,
    onConnect: true,
    timing: {
      minMs: 8,
      typicalMs: 30,
      p99Ms: 120,
      lossPerMille: 0,
      dropDetectMs: 4000,
      reconnectMs: 1500,
    },
    service: uuidOf(id, 1),
    writeTo: uuidOf(id, 2),
    notifyFrom: uuidOf(id, 3),
    packetBytes: 20,
    clients: 1,
    intervalMs: 30,
  }),
  pins: () => [],
  seats: ({ clients }) => clients,
  wireUp: () => undefined,
  agreed: ({ service, writeTo, notifyFrom, packetBytes }) =>
    `low-energy ${service} ${writeTo} ${notifyFrom} ${packetBytes}`,
}
