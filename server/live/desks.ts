/**
 * The desks of this server, one a design, and how the other end of a link is reached. Only what the
 * design names is contacted: its addresses, ports that are plugged in, and what runs here.
 */
import { linkOf } from '../../core/design/find'
import { hasSpeed, isBluetooth, isUdp, speaksRoutes } from '../../core/design/links/traits'
import type { Design, Link } from '../../core/design/schema'
import type { KeyRing } from '../guard/keys'
import { Desk } from './desk'
import { maybeStandIn } from './stand-ins'
import type { StandInInfo } from './front'
import { openDatagramWire } from './wires/datagram-wire'
import { openHttpWire } from './wires/http-wire'
import { PageWire } from './wires/page-wire'
import { openSerialWire } from './wires/serial-wire'
import { openSocketWire } from './wires/socket-wire'
import type { Wire, WireEvents } from './wires/wire'

/**
 * How the other end is reached: over a port of this computer, at the address of the design, through
 * something that runs on this server, or through a port that a page has.
 */
export type Reached =
  | { by: 'port'; path: string }
  | { by: 'address' }
  | { by: 'here'; standIn: string }
  | { by: 'page' }

/** Speed of links that have none of their own: the chip's Bluetooth, seen as a port. */
const ANY_BAUD = 115_200

const desks = new Map<string, Desk>()

export function deskOf(design: Design): Desk {
  const known = desks.get(design.id)
  if (known) return known
  const made = new Desk(design)
  desks.set(design.id, made)
  return made
}

export function maybeDesk(designId: string): Desk | null {
  return desks.get(designId) ?? null
}

/** That of a design that is gone. */
export function clearDesk(designId: string): void {
  desks.get(designId)?.closeAll()
  desks.delete(designId)
}

export function clearAllDesks(): void {
  for (const id of desks.keys()) clearDesk(id)
}

/** Where that is, in words, and what opens it; or why a link is not reached so. */
export type Way = Reaching | { not: string }
export interface Reaching {
  where: string
  opens: (events: WireEvents) => Wire
  /** What is on the pins of a board that runs here; null where nobody knows. */
  pins?: () => Readonly<Record<string, string>> | null
}

export function wayTo(design: Design, linkId: string, reached: Reached, keys: KeyRing): Way {
  const link = linkOf(design, linkId)
  switch (reached.by) {
    case 'port':
      return portWay(link, reached.path)
    case 'address':
      return addressWay(link)
    case 'here':
      return hereWay(design, link, reached.standIn, keys)
    case 'page':
      return { where: 'a port of the browser', opens: events => new PageWire(events) }
  }
}

function portWay(link: Link, path: string): Way {
  if (!hasSpeed(link) && !isBluetooth(link)) return { not: `${link.name} is no serial link` }
  const baud = 'baud' in link ? link.baud : ANY_BAUD
  return {
    where: `${path} at ${baud} baud`,
    opens: events => openSerialWire(path, baud, events),
  }
}

function addressWay(link: Link): Way {
  if (speaksRoutes(link))
    return {
      where: link.address,
      opens: events => openHttpWire(link, () => link.address, events),
    }
  if (isUdp(link))
    return {
      where: `${link.address}:${link.port}`,
      opens: events => openDatagramWire(link.address, link.port, events),
    }
  return { not: `${link.name} has no address` }
}

/** Port and host are looked up each time: what is started anew may be elsewhere. */
function hereWay(design: Design, link: Link, standIn: string, keys: KeyRing): Way {
  const now = (): StandInInfo | null => maybeStandIn(design.id, standIn)?.info() ?? null
  const info = now()
  if (!info) return { not: 'that runs no more' }
  const where = info.runs === 'program' ? 'the program itself' : 'the stand-in'
  const opens = hereOpens(link, info, now, keys)
  const pins = () => now()?.values ?? null
  return opens ? { where, opens, pins } : { not: `${where} has no port for ${link.name}` }
}

function hereOpens(
  link: Link,
  info: StandInInfo,
  now: () => StandInInfo | null,
  keys: KeyRing,
): Reaching['opens'] | null {
  const host = (): string => new URL(now()?.address ?? info.address).hostname
  const headers = { authorization: `Bearer ${keys.ownKey(host())}` }
  if (speaksRoutes(link))
    return events => openHttpWire(link, () => now()?.address ?? null, events, headers)
  const port = info.datagramPorts[link.id]
  if (port !== undefined) return events => openDatagramWire(host(), port, events)
  if (info.serialPorts[link.id] === undefined) return null
  const at = () => {
    const there = now()?.serialPorts[link.id]
    return there ? { host: host(), port: there.port } : null
  }
  return events => openSocketWire(at, events)
}
