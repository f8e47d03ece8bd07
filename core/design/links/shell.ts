/** A console over a shell: whoever may log in starts a session that takes commands as lines. */
import { lines } from '../dialects/lines'
import { PLAIN_BYTES, plain, type LinkFacet, type Medium } from './facet'
import type { LinkOf } from './schema'

export const shellMedium: Medium = {
  datagrams: false,
  connects: true,
  single: false,
  // A session is encrypted from end to end.
  overheard: false,
  inPocket: false,
}

export const shell: LinkFacet<LinkOf<'shell'>> = {
  words: 'console over a shell',
  start: { panel: 'Workbench console', asksMs: 0 },
  fresh: (id, name, controllerId) => ({
    kind: 'shell',
    ...plain(id, name, controllerId),
    ...PLAIN_BYTES,
    dialect: lines.fresh,
    onConnect: true,
    timing: {
      minMs: 1,
      typicalMs: 6,
      p99Ms: 80,
      lossPerMille: 0,
      dropDetectMs: 15_000,
      reconnectMs: 1200,
    },
    network: 'router',
    address: '192.168.4.1',
    account: 'console',
    command: 'nolvi-console',
    clients: 4,
  }),
  pins: () => [],
  seats: ({ clients }) => clients,
  wireUp: () => undefined,
  agreed: ({ account, command }) => `shell ${account} ${command}`,
}
