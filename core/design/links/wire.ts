/** Serial wires to another board or a computer. */
import { lines } from '../dialects/lines'
import { PLAIN_BYTES, plain, type LinkFacet, type Medium } from './facet'
import type { LinkOf } from './schema'

export const wireMedium: Medium = {
  datagrams: false,
  connects: false,
  single: true,
  overheard: false,
  inPocket: false,
}

export const wire: LinkFacet<LinkOf<'wire'>> = {
  words: 'serial wire',
  start: { panel: 'Workbench computer', asksMs: 0 },
  fresh: (id, name, controllerId) => ({
    kind: 'wire',
    ...plain(id, name, controllerId),
    ...PLAIN_BYTES,
    dialect: lines.fresh,
    onConnect: false,
    timing: {
      minMs: 0,
      typicalMs: 1,
      p99Ms: 5,
      lossPerMille: 0,
      dropDetectMs: 1000,
      reconnectMs: 100,
    },
    baud: 9600,
    receivePin: 99,
    sendPin: 99,
  }),
  pins: ({ receivePin, sendPin }) => [
    { key: 'receivePin', id: 'receive', what: 'receives', use: { as: 'wire-in' }, pin: receivePin },
    { key: 'sendPin', id: 'send', what: 'sends', use: { as: 'wire-out' }, pin: sendPin },
  ],
  seats: () => 1,
  wireUp(link, free) {
    link.receivePin = free({ as: 'wire-in' })
    link.sendPin = free({ as: 'wire-out' })
  },
  agreed: ({ baud }) => `wire ${baud}`,
}
