/** The one link that the program for the 8-bit board carries. */
import { hasModule, isWire, onNetwork } from '../design/links/traits'
import { boardOf, serialPins } from '../design/pins'
import type { Design, SerialLink } from '../design/schema'
import { frontWire } from './front-wire'

/**
 * A Bluetooth module on the serial port, else a serial wire, else the wire to the board in front.
 */
export function carriedLink(design: Design): SerialLink | undefined {
  return (
    design.links.find((l): l is SerialLink => hasModule(l))
    ?? design.links.find((l): l is SerialLink => isWire(l))
    ?? frontWire(design)
    ?? undefined
  )
}

/**
 * Links that reach the program by no way, in the order of the design: what comes over the network
 * comes by the wire of a board in front.
 */
export function uncarriedLinks(design: Design): Design['links'] {
  const carried = carriedLink(design)
  const byFront = carried !== undefined && carried.id === frontWire(design)?.id
  return design.links.filter(l => l !== carried && !(byFront && onNetwork(l)))
}

/** Whether a wire is on the pins of the board's own serial port. */
export function onSerialPort(
  design: Design,
  link: { receivePin: number; sendPin: number },
): boolean {
  const port = serialPins(boardOf(design))
  return port?.receive === link.receivePin && port.send === link.sendPin
}
