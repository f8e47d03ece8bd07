/** What is reckoned and told of a kind of link: a row each, joined in `rows.ts`. */
import type { Design, Link } from '../../design/schema'

/** Whether something works from somewhere, why, and what to do where it does not. */
export interface Reach {
  panel: string
  surfaceId: string
  from: string
  works: 'yes' | 'no' | 'sometimes'
  why: string
  instead: string
}
export type Place = Pick<Reach, 'from' | 'works' | 'why' | 'instead'>

/** A place; `instead`: what to do where it does not work. */
export function place(from: string, works: Reach['works'], why: string, instead = ''): Place {
  return { from, works, why, instead }
}

export interface LinkCarriage<L extends Link> {
  /** Time on the wire or in the air of a text, ms, not rounded. */
  exactMs(link: L, text: string, design: Design): number
  /** How the time comes about, in words. */
  reason(link: L, text: string, design: Design): string
  /** From where a page can use it; `shared`: why two radios of the board disturb each other. */
  pageReach(link: L, shared: string): Place[]
  /** From where a box can use it. */
  boxReach(link: L): Place[]
  /** How the link is set up, in words, without its dialect. */
  setUp(link: L, design: Design): string
}

/** Bits of one UART character: one start bit, eight data bits, no parity, one stop bit. */
const CHARACTER_BITS = 10

/** Time of characters on a serial line, ms. */
export function onWireMs(characters: number, baud: number): number {
  return (characters * CHARACTER_BITS * 1000) / baud
}

/** Time on the serial wire to a board in front, which passes texts on with a line feed, ms. */
export function frontMs(design: Design, text: string): number {
  return design.front ? onWireMs(text.length + 1, design.front.baud) : 0
}

/** That time in words; "" without a board in front. */
export function frontReason({ front }: Design, text: string): string {
  return front
    ? `${text.length} characters and a line feed x 10 bits / ${front.baud} baud, on the wire behind the network board`
    : ''
}

/** How a serial line is set up, in words. */
export function lineWords(baud: number): string {
  return `${baud} baud, 8 data bits, no parity, 1 stop bit`
}

/** Which network it is in, in words. */
export function networkWords({ networks }: Design, network: 'own' | 'router'): string {
  const quoted = networks.map(n => `"${n}"`)
  if (network === 'own') return `own access point${quoted[0] ? ` ${quoted[0]}` : ''}`
  const order = quoted.length ? `, networks tried in this order: ${quoted.join(', ')}` : ''
  return `through the house router${order}`
}

/** Where a box on a network of the house works. */
export function networkReach({ network }: { network: 'own' | 'router' }): Place[] {
  if (network === 'own')
    return [
      place('network of the board', 'yes', 'the box joins the board, as a phone does'),
      place('guest network of the house', 'yes', 'the router takes no part'),
    ]
  return [
    place('house network', 'yes', 'box and board are on the same network'),
    place('guest network of the house', 'no', GUESTS_APART, 'join the house network itself'),
  ]
}

export const GUESTS_APART = 'guest networks keep their devices apart from the others'

/** What to do where a browser has no way to a serial link. */
export const TERMINAL =
  'use a serial terminal app with the codes of the message sheet, or a panel over HTTP'
