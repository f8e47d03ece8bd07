/** Serial Bluetooth: a module has the speed of its port; the chip's own is in the latency. */
import { hasModule } from '../../design/links/traits'
import type { BluetoothLink } from '../../design/schema'
import { lineWords, onWireMs, place, TERMINAL } from './facet'
import type { LinkCarriage } from './facet'

export const bluetoothSerial: LinkCarriage<BluetoothLink> = {
  exactMs: (link, text) => (hasModule(link) ? onWireMs(text.length, link.baud) : 0),
  reason: (link, text) =>
    hasModule(link)
      ? `${text.length} characters x 10 bits / ${link.baud} baud`
      : 'within the latency',
  pageReach(_, shared) {
    const places = [
      place(
        'desktop browser, page as a file',
        'sometimes',
        'browsers that offer serial ports to pages reach a paired module; others offer none',
        'use the stand-in, or a browser with Web Serial',
      ),
      place('phone browser', 'no', 'phone browsers offer no serial Bluetooth to pages', TERMINAL),
      place(
        'a second phone meanwhile',
        'no',
        'serial Bluetooth serves one phone at a time; the second is refused until the first lets go',
        'disconnect the first, or add a panel over HTTP',
      ),
    ]
    if (!shared) return places
    const own = 'take a serial module of its own for Bluetooth'
    return [...places, place('while the network is in use', 'sometimes', shared, own)]
  },
  boxReach: () => [
    place(
      'paired with the board',
      'yes',
      'while it is connected no phone can be: serial Bluetooth serves one at a time',
    ),
  ],
  setUp: ({ radio, baud }) =>
    `Serial Bluetooth${radio === 'chip' ? ' of the chip itself' : `, ${lineWords(baud)}`}`,
}
