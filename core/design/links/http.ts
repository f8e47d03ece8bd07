/** HTTP: routes that are asked for, and a stream of events. */
import { plain, type LinkFacet, type Medium } from './facet'
import type { LinkOf } from './schema'

export const httpMedium: Medium = {
  datagrams: false,
  connects: true,
  single: false,
  overheard: true,
  inPocket: false,
}

export const http: LinkFacet<LinkOf<'http'>> = {
  words: 'HTTP',
  start: { panel: 'Browser', asksMs: 2000 },
  fresh: (id, name, controllerId) => ({
    kind: 'http',
    ...plain(id, name, controllerId),
    onConnect: false,
    timing: {
      minMs: 4,
      typicalMs: 15,
      p99Ms: 120,
      lossPerMille: 0,
      dropDetectMs: 3000,
      reconnectMs: 1500,
    },
    network: 'router',
    address: 'http://192.168.4.1',
    matching: 'exact',
    method: 'get',
    bodies: 'none',
    page: null,
    answers: 'text',
    askRoute: '/state',
    eventsRoute: '/events',
    helloRoute: '/hello',
  }),
  pins: () => [],
  seats: () => 4,
  wireUp: () => undefined,
  agreed: ({ askRoute, eventsRoute, matching }) =>
    `http ask ${askRoute} events ${eventsRoute}${matching === 'exact' ? '' : ` ${matching}`}`,
}
