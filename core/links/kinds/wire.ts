/** Serial wires. */
import type { LinkOf } from '../../design/schema'
import { lineWords, onWireMs, place } from './facet'
import type { LinkCarriage } from './facet'

export const wire: LinkCarriage<LinkOf<'wire'>> = {
  exactMs: ({ baud }, text) => onWireMs(text.length, baud),
  reason: ({ baud }, text) => `${text.length} characters x 10 bits / ${baud} baud`,
  pageReach: () => [
    place(
      'desktop browser, page as a file',
      'sometimes',
      'browsers that offer serial ports to pages reach the cable; others offer none',
      'use a browser with Web Serial, or any serial terminal',
    ),
    place(
      'phone browser',
      'no',
      'phone browsers offer no serial ports to pages',
      'add a panel over HTTP',
    ),
    place(
      'two programs at once',
      'no',
      'a serial port belongs to the program that opened it first',
      'close the terminal before the page connects',
    ),
  ],
  boxReach: () => [
    place(
      'at the end of the wire',
      'yes',
      'a few metres of wire with a common ground; beyond that, or beside motors, take a line driver',
    ),
  ],
  setUp: ({ baud }) => `Serial wire, ${lineWords(baud)}`,
}
