/** Serial Bluetooth, over a module on the serial port or by the chip itself. */
import { codes } from '../dialects/codes'
import { PLAIN_BYTES, plain, type LinkFacet, type LinkPin, type Medium } from './facet'
import type { LinkOf } from './schema'

export const bluetoothSerialMedium: Medium = {
  datagrams: false,
  connects: true,
  single: true,
  overheard: true,
  inPocket: true,
}

export const bluetoothSerial: LinkFacet<LinkOf<'bluetooth-serial'>> = {
  words: 'serial Bluetooth',
  start: { panel: 'Phone', asksMs: 0 },
  fresh: (id, name, controllerId) => ({
    kind: 'bluetooth-serial',
    ...plain(id, name, controllerId),
    ...PLAIN_BYTES,
    dialect: codes.fresh,
    onConnect: true,
    timing: {
      minMs: 8,
      typicalMs: 25,
      p99Ms: 90,
      lossPerMille: 0,
      dropDetectMs: 2000,
      reconnectMs: 1200,
    },
    baud: 9600,
    radio: 'module',
    statusPin: null,
  }),
  pins({ radio, statusPin }, serial) {
    if (radio === 'chip') return []
    const [receive, send] = [serial?.receive ?? -1, serial?.send ?? -1]
    const status: LinkPin[] =
      statusPin === null
        ? []
        : [
            {
              key: 'statusPin',
              id: 'status',
              what: 'connected line',
              use: { as: 'sense' },
              pin: statusPin,
            },
          ]
    return [
      { key: null, id: 'receive', what: 'receives', use: { as: 'serial-in' }, pin: receive },
      { key: null, id: 'send', what: 'sends', use: { as: 'serial-out' }, pin: send },
      ...status,
    ]
  },
  seats: () => 1,
  wireUp(link, free) {
    link.statusPin = free({ as: 'sense' })
  },
  agreed: ({ radio, baud }) => (radio === 'chip' ? 'chip' : `serial ${baud}`),
}
