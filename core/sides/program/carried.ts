/** What a program of an 8-bit board carries: the serial links that it has ports for. */
import { hasModule, hasSpeed, isWire } from '../../design/links/traits'
import { derivedFrom } from '../../design/part'
import { boardOf, serialPins } from '../../design/pins'
import type { Design, Link, SerialLink } from '../../design/schema'
import { frontWire } from '../front-wire'

/** `own`: the serial port of the board; `soft`: ordinary pins, whose bits are counted out. */
export interface Carried {
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

/** Links whose secrets the program of a part needs. */
export function secretLinks(part: Design): Link[] {
  return carriedLinks(part)
    .map(c => c.link)
    .filter(l => l.auth.kind !== 'none')
}

/** The part as its program is compiled: with the links that it carries. */
export function carriedDesign(part: Design): Design {
  return derivedFrom(part, { ...part, links: carriedLinks(part).map(c => c.link) })
}
