/** Over which kinds of links panels and boxes are added. */
import type { LinkKind } from '../../../core/design/schema'

/** What a panel over each is called where one is added, in this order; null = none is. */
export const PANELS: Record<LinkKind, string | null> = {
  'bluetooth-serial': 'Panel over serial Bluetooth',
  'low-energy': 'Panel over low-energy Bluetooth',
  http: 'Panel over HTTP',
  wire: 'Panel over a serial wire',
  shell: 'Console over a shell',
  peer: null,
  udp: null,
}

/** The same for boxes. */
export const BOXES: Record<LinkKind, string | null> = {
  peer: 'Box over peer radio',
  http: 'Box over HTTP',
  udp: 'Box over datagrams (UDP)',
  wire: 'Box or second board over a serial wire',
  'bluetooth-serial': 'Box over serial Bluetooth',
  'low-energy': 'Box over low-energy Bluetooth',
  shell: null,
}
