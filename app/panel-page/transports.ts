/**
 * How a built panel page reaches its controller: over HTTP, a serial port or low-energy Bluetooth,
 * each in a file of its own, of which a page holds what its link needs. Each tells why it does not.
 */
import { isLowEnergy, speaksRoutes } from '../../core/design/links/traits'
import type { Link } from '../../core/design/schema'
import type { Via } from '../../core/surfaces/surface'
import { openHttp, openLowEnergy, openSerial } from './features'

export interface Wire {
  up: () => void
  down: () => void
  /** In words, while it is not connected. */
  why: (words: string) => void
  /** `about`: the load of the command that is answered, -1 = none or several. */
  heard: (text: string, via: Via, about?: number) => void
}
export interface Transport {
  send: (text: string, about: number) => void
  /** Serial ports are opened by a press only; others connect by themselves. */
  connect?: () => Promise<void>
  close: () => void
}

declare global {
  /** What a page served by a stand-in of bytes holds beside its program: stand-in.ts. */
  var nolviStandIn: ((link: Link, path: string, wire: Wire) => Transport) | undefined
}

export function openTransport(
  link: Link,
  base: string,
  standIn: string | null,
  wire: Wire,
): Transport {
  if (speaksRoutes(link) && openHttp) return openHttp(link, base, wire)
  if (standIn && globalThis.nolviStandIn) return globalThis.nolviStandIn(link, standIn, wire)
  if ('baud' in link && openSerial) return openSerial(link, wire)
  if (isLowEnergy(link) && openLowEnergy) return openLowEnergy(link, wire)
  wire.why('No browser speaks this link: open the page on a stand-in.')
  return { send: () => undefined, close: () => undefined }
}
