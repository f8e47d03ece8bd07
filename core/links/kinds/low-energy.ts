/**
 * Low-energy Bluetooth. A packet of ATT carries three bytes less than the size that both sides
 * agreed on, 20 unless they did (Bluetooth Core Specification, vol. 3, part F, 3.2.8 and part G,
 * 5.2.1). Packets leave at connection events, 7.5 ms to 4 s apart (vol. 6, part B, 4.5.1); several
 * may leave at one, so that one an event is the slowest that goes well.
 */
import type { LinkOf } from '../../design/schema'
import { place, type LinkCarriage, type Place } from './facet'

type LowEnergyLink = LinkOf<'low-energy'>

/** Packets that a text is cut into. */
export function packetsOf({ packetBytes }: LowEnergyLink, text: string): number {
  return Math.max(1, Math.ceil(text.length / packetBytes))
}

const OTHER_BROWSER =
  'use a browser that offers low-energy Bluetooth to pages, or add a panel over HTTP'

function meanwhile({ clients }: LowEnergyLink): Place {
  return clients === 1
    ? place(
        'a second phone meanwhile',
        'no',
        'the board serves one phone at a time and is not seen by others until that one lets go',
        'disconnect the first, or let the board serve more',
      )
    : place('a second phone meanwhile', 'yes', `the board serves ${clients} phones at once`)
}

export const lowEnergy: LinkCarriage<LowEnergyLink> = {
  // The first packet leaves within the latency.
  exactMs: (link, text) => (packetsOf(link, text) - 1) * link.intervalMs,
  reason(link, text) {
    const packets = packetsOf(link, text)
    return packets === 1
      ? `${text.length} bytes in one packet, within the latency`
      : `${text.length} bytes in ${packets} packets of ${link.packetBytes}: ${packets - 1} more connection events of ${link.intervalMs} ms`
  },
  pageReach: link => [
    place(
      'phone browser, page over https or installed',
      'sometimes',
      'most browsers of one family of phones offer low-energy Bluetooth to pages of secure addresses; those of the other family offer none',
      OTHER_BROWSER,
    ),
    place(
      'desktop browser, page as a file or over https',
      'sometimes',
      'browsers that offer low-energy Bluetooth to pages do so for files and secure addresses',
      OTHER_BROWSER,
    ),
    place(
      'page from a plain http address',
      'no',
      'browsers offer radios to pages of secure addresses only',
      'open the page as a file, install it from https, or let the board hand it out over HTTP and speak HTTP',
    ),
    meanwhile(link),
  ],
  boxReach: link => [
    place(
      'connected to the board',
      'yes',
      link.clients === 1
        ? 'while it is connected no phone can be: the board serves one at a time'
        : `it is one of ${link.clients} that the board serves at once`,
    ),
  ],
  setUp: ({ service, writeTo, notifyFrom, packetBytes, clients }) =>
    `Low-energy Bluetooth, service ${service}, commands are written to ${writeTo}, reports are notified from ${notifyFrom}, packets of ${packetBytes} bytes, ${clients === 1 ? 'one phone' : `${clients} phones`} at once`,
}
