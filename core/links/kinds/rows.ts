/** The kinds of links, a row each. */
import type { Link, LinkKind, LinkOf } from '../../design/schema'
import { bluetoothSerial } from './bluetooth-serial'
import type { LinkCarriage } from './facet'
import { http } from './http'
import { lowEnergy } from './low-energy'
import { peer } from './peer'
import { shell } from './shell'
import { udp } from './udp'
import { wire } from './wire'

const CARRIAGES: { [K in LinkKind]: LinkCarriage<LinkOf<K>> } = {
  'bluetooth-serial': bluetoothSerial,
  'low-energy': lowEnergy,
  wire,
  udp,
  peer,
  http,
  shell,
}

/** What is reckoned and told of a link. */
export function carriageOf({ kind }: Link): LinkCarriage<Link> {
  return CARRIAGES[kind]
}
