/**
 * What can be asked of a link without knowing its kind. Whoever wants to know more than this adds a
 * facet.
 */
import { wireRow } from '../dialects/rows'
import type { ByteLink, DialectOf, HttpLink, Link, SerialLink, UdpLink, Auth } from '../schema'
import { mediumOf } from './media'

/** Its messages are bytes, in a dialect. */
export function speaksBytes(link: Link | undefined): link is ByteLink {
  return link !== undefined && 'dialect' in link
}

/** Its messages are routes that are asked for. */
export function speaksRoutes(link: Link | undefined): link is HttpLink {
  return link !== undefined && 'askRoute' in link
}

/**
 * Each message travels alone: it may be lost, come twice or overtake another, and no end has to
 * tell it from the next.
 */
export function isDatagram(link: Link): boolean {
  return mediumOf(link).datagrams
}

/** What the board says unasked goes to who asked last, and after a start it knows nobody. */
export function answersAskers(link: Link): boolean {
  return isUdp(link) && !link.toAll
}

export type LinkOnNetwork = Extract<Link, { network: unknown }>

/** Needs a board that speaks on the network. */
export function onNetwork(link: Link): link is LinkOnNetwork {
  return 'network' in link
}

/** Datagrams in a network. */
export function isUdp(link: Link): link is UdpLink {
  return 'toAll' in link
}

/** Sessions that somebody logs in to, on a computer. */
export function isShell(link: Link): link is Extract<Link, { account: unknown }> {
  return 'account' in link
}

/** Radio from board to board, without a network. */
export function isPeerRadio(link: Link): link is Extract<Link, { channel: unknown }> {
  return 'channel' in link
}

/** Falls silent with the router of the house. */
export function throughRouter(link: Link): boolean {
  return onNetwork(link) && link.network === 'router'
}

/** Over Bluetooth, by a module or by the chip. */
export function isBluetooth(link: Link): link is Extract<Link, { radio: unknown }> {
  return 'radio' in link
}

/** Serial Bluetooth over a module on the serial port of the board. */
export function hasModule(link: Link): link is Extract<Link, { radio: unknown }> {
  return isBluetooth(link) && link.radio === 'module'
}

/** Low-energy Bluetooth: packets to and from characteristics of a service. */
export function isLowEnergy(link: Link): link is Extract<Link, { packetBytes: unknown }> {
  return 'packetBytes' in link
}

/** Bluetooth by the radio of the chip itself. */
export function onChip(link: Link): boolean {
  return isLowEnergy(link) || (isBluetooth(link) && link.radio === 'chip')
}

/** One at a time connects to it, and is refused while somebody else is. */
export function servesOne(link: Link): boolean {
  const { connects, single } = mediumOf(link)
  return connects && single && !(isLowEnergy(link) && link.clients > 1)
}

/** Serial wires on pins of their own. */
export function isWire(link: Link): link is Extract<Link, { receivePin: unknown }> {
  return 'receivePin' in link
}

/** A serial line whose speed both ends have to set: a wire, or a module on a serial port. */
export function hasSpeed(link: Link): link is SerialLink {
  return isWire(link) || hasModule(link)
}

/**
 * Whether the board knows when a panel connects: a serial module tells it by its connected line
 * only; wires and datagrams never do.
 */
export function sensesPanel(link: Link): boolean {
  return mediumOf(link).connects && (!hasModule(link) || link.statusPin !== null)
}

/**
 * A number or a time can stand behind a command: short codes follow one another without ends,
 * structures have fixed fields.
 */
export function hasRoomBehind(link: Link): boolean {
  return !speaksBytes(link) || wireRow(link.dialect).roomBehind
}

/** Whether there is room for a value that is not in a table. */
export function canTell(link: Link): boolean {
  return !speaksBytes(link) || wireRow(link.dialect).tells
}

/** The structure that its messages are packed into; null where they are not. */
export function structureOn(link: Link): DialectOf<'packed'> | null {
  return speaksBytes(link) && 'framing' in link.dialect ? link.dialect : null
}

/** Commands carry a keyed hash. */
export function isSigned(auth: Auth): auth is Extract<Auth, { tagBytes: number }> {
  return 'tagBytes' in auth
}

/** Each command is taken once: a copy of it is refused. */
export function takesOnce(auth: Auth): boolean {
  return auth.kind === 'counter' || isAnswered(auth) || (auth.kind === 'time' && auth.once)
}

/** Longest way of a message, ms: the worst draw of its latency. */
export function worstWayMs({ timing }: Link): number {
  return Math.ceil(timing.p99Ms * 1.5)
}

/** The board hands out a number that each command has to sign: it is said twice. */
export function isAnswered(auth: Auth): auth is Extract<Auth, { kind: 'challenge' }> {
  return auth.kind === 'challenge'
}
