/** The media of links, a row each. */
import { bluetoothSerialMedium } from './bluetooth-serial'
import type { Medium } from './facet'
import { httpMedium } from './http'
import { lowEnergyMedium } from './low-energy'
import { peerMedium } from './peer'
import type { Link, LinkKind } from './schema'
import { shellMedium } from './shell'
import { udpMedium } from './udp'
import { wireMedium } from './wire'

const MEDIA: Record<LinkKind, Medium> = {
  'bluetooth-serial': bluetoothSerialMedium,
  'low-energy': lowEnergyMedium,
  wire: wireMedium,
  udp: udpMedium,
  peer: peerMedium,
  http: httpMedium,
  shell: shellMedium,
}

/** What follows from the medium of a link. */
export function mediumOf({ kind }: Pick<Link, 'kind'>): Medium {
  return MEDIA[kind]
}
