/** The kinds of links, a row each. */
import { wordsByKind } from '../words'
import { bluetoothSerial } from './bluetooth-serial'
import type { LinkFacet } from './facet'
import { http } from './http'
import { lowEnergy } from './low-energy'
import { peer } from './peer'
import type { Link, LinkKind, LinkOf } from './schema'
import { shell } from './shell'
import { udp } from './udp'
import { wire } from './wire'

const LINKS: { [K in LinkKind]: LinkFacet<LinkOf<K>> } = {
  'bluetooth-serial': bluetoothSerial,
  'low-energy': lowEnergy,
  wire,
  udp,
  peer,
  http,
  shell,
}

/** The row of a link. */
export function linkRow({ kind }: Pick<Link, 'kind'>): LinkFacet<Link> {
  return LINKS[kind]
}

/** What each kind is called. */
export const LINK_WORDS = wordsByKind(LINKS)

/** A link of a kind as it starts. Pins are for the caller. */
export function newLink<K extends LinkKind>(
  kind: K,
  id: string,
  name: string,
  controllerId: string,
): LinkOf<K> {
  return LINKS[kind].fresh(id, name, controllerId)
}
