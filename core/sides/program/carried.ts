/** The links that a program carries: those that its board has ports for. */
import { classOf, type Target } from '../../boards/classes'
import type { BoardProfile } from '../../boards/schema'
import { hasModule, hasSpeed, isShell, isWire, onChip } from '../../design/links/traits'
import { derivedFrom } from '../../design/part'
import { boardOf, serialPins } from '../../design/pins'
import type { Design, Link, SerialLink } from '../../design/schema'
import { frontWire } from '../front-wire'
import type { PORT_KINDS } from './network'

/**
 * A link and what it is on. `own`: a serial port of the board; `soft`: ordinary pins, whose bits
 * are counted out; the others: its network.
 */
export interface Port {
  link: Link
  port: keyof typeof PORT_KINDS
}
/** On an 8-bit board. */
export interface Carried extends Port {
  link: SerialLink
  port: 'own' | 'soft'
}

/** Whether a wire is on the pins of the board's own serial port. */
export function onSerialPort(
  design: Design,
  link: { receivePin: number; sendPin: number },
): boolean {
  return onPort(boardOf(design), link)
}

function onPort(board: BoardProfile, link: { receivePin: number; sendPin: number }): boolean {
  const port = serialPins(board)
  return port?.receive === link.receivePin && port.send === link.sendPin
}

/**
 * Links of a part that reach its program: a Bluetooth module or a wire on the serial port, one wire
 * on ordinary pins, and the wire to a board in front, which stands for what comes over the network.
 */
export function carriedLinks(part: Design): Carried[] {
  const front = frontWire(part)
  const all = [...part.links.filter(hasSpeed), ...(front ? [front] : [])].map((link): Carried => ({
    link,
    port: hasModule(link) || (isWire(link) && onSerialPort(part, link)) ? 'own' : 'soft',
  }))
  return all.filter((c, i) => all.findIndex(o => o.port === c.port) === i)
}

/** What a link is on, by its kind; null: the board has nothing for it. */
type PortOf = (link: Link, board: BoardProfile) => Port['port'] | null

const onComputer: Record<Link['kind'], PortOf> = {
  http: () => 'http',
  udp: () => 'udp',
  shell: () => 'shell',
  wire: () => 'own',
  'bluetooth-serial': link => (onChip(link) ? null : 'own'),
  'low-energy': () => null,
  peer: () => null,
}
const onWifi: Record<Link['kind'], PortOf> = {
  ...onComputer,
  shell: () => null,
  peer: (_, board) => (classOf(board).peerRadio ? 'peer' : null),
  'bluetooth-serial': (link, board) => {
    if (!onChip(link)) return 'own'
    return classOf(board).bluetooth ? 'bluetooth' : null
  },
  'low-energy': (_, board) => (classOf(board).lowEnergy ? 'low-energy' : null),
}
/** It has one port, which is used for uploading too. */
const onSmallWifi: Record<Link['kind'], PortOf> = {
  ...onWifi,
  wire: (link, board) => (isWire(link) && onPort(board, link) ? 'own' : null),
}
type OfNetwork = Exclude<Target, 'avr8' | 'router'>
const PORTS: Record<OfNetwork, Record<Link['kind'], PortOf>> = {
  linux: onComputer,
  'wifi-small': onSmallWifi,
  'wifi-sockets': onWifi,
}
/** Serial ports of each. */
const SERIAL_PORTS: Record<OfNetwork, number> = {
  linux: 8,
  'wifi-small': 1,
  'wifi-sockets': 3,
}

type Few = 'own' | 'bluetooth' | 'low-energy'

/** Links that reach the program of a part, whatever its board. */
export function portsOf(part: Design): Port[] {
  const board = boardOf(part)
  const { program } = classOf(board)
  if (program === null || program === 'avr8') return carriedLinks(part)
  // A script serves a console.
  if (program === 'router') return part.links.filter(isShell).map(link => ({ link, port: 'shell' }))
  const taken = { own: 0, bluetooth: 0, 'low-energy': 0 }
  const places = { own: SERIAL_PORTS[program], bluetooth: 1, 'low-energy': 1 }
  return part.links.flatMap(link => {
    const port = PORTS[program][link.kind](link, board)
    if (port === null || (port in taken && ++taken[port as Few] > places[port as Few])) return []
    return [{ link, port }]
  })
}

/** Links whose secrets the program of a part needs. */
export function secretLinks(part: Design): Link[] {
  return portsOf(part)
    .map(c => c.link)
    .filter(l => l.auth.kind !== 'none')
}

/** The part as its program is compiled: with the links that it carries. */
export function carriedDesign(part: Design): Design {
  return derivedFrom(part, { ...part, links: portsOf(part).map(c => c.link) })
}
