/** The links that a program carries: those that its board has ports for. */
import { classOf } from '../../boards/classes'
import { hasModule, hasSpeed, isWire } from '../../design/links/traits'
import { derivedFrom } from '../../design/part'
import { boardOf, serialPins } from '../../design/pins'
import type { Design, Link, SerialLink } from '../../design/schema'
import { frontWire } from '../front-wire'
import type { PORT_KINDS } from './network'

/**
 * A link and what it is on. `own`: a serial port of the board; `soft`: ordinary pins, whose bits are
 * counted out; the others: its network.
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
  const port = serialPins(boardOf(design))
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

/** Ports of each kind of link on a computer; null: it has none. */
const NETWORK_PORTS: { [K in Link['kind']]: Port['port'] | null } = {
  http: 'http',
  udp: 'udp',
  shell: 'shell',
  wire: 'own',
  'bluetooth-serial': 'own',
  'low-energy': null,
  peer: null,
}

/** Links that reach the program of a part, whatever its board. */
export function portsOf(part: Design): Port[] {
  if (classOf(boardOf(part)).program !== 'linux') return carriedLinks(part)
  return part.links.flatMap(link => {
    const port = NETWORK_PORTS[link.kind]
    return port ? [{ link, port }] : []
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
