/** What the design knows of a kind of link: its medium, and a row each, joined in `rows.ts`. */
import type { PinUse } from '../../boards/hazards'
import type { Link } from '../schema'

/** What follows from the medium; a page of a panel carries this. */
export interface Medium {
  /**
   * Each message travels alone: it may be lost, come twice or overtake another, and no end has to
   * tell it from the next.
   */
  datagrams: boolean
  /** Somebody connects to it and lets go; else nobody knows when somebody is there. */
  connects: boolean
  /** Serves one at a time. */
  single: boolean
  /** Somebody can listen without touching it. */
  overheard: boolean
  /** Its panel is carried about by who uses it. */
  inPocket: boolean
}

/** What a panel or box starts with that speaks over it. */
export interface LinkStart {
  /** Name of a new panel. */
  panel: string
  /** It asks this often, ms, where nothing comes unasked for sure; 0 = never. */
  asksMs: number
}

/** A pin of the controller that a link takes. */
export interface LinkPin {
  /** Where it stands in the link; null = the serial port of the board, which cannot be chosen. */
  key: 'receivePin' | 'sendPin' | 'statusPin' | null
  id: 'receive' | 'send' | 'status'
  what: string
  use: PinUse
  pin: number
}

export interface LinkFacet<L extends Link> {
  words: string
  start: LinkStart
  /** A new one. Latencies: docs/links.md; all of them can be edited. */
  fresh(id: string, name: string, controllerId: string): L
  /** The pins it takes; `serial`: those of the serial port of the board. */
  pins(link: L, serial: { receive: number; send: number } | null): LinkPin[]
  /** Panels and boxes that it takes at once: what a board of its usual class can serve. */
  seats(link: L): number
  /** Pins of its own are chosen for a new one. */
  wireUp(link: L, free: (use: PinUse) => number): void
  /** What both sides set up alike before the first byte, for the fingerprint. */
  agreed(link: L): string
}

/** What each link has before its maker says more. */
export const PLAIN_LINK: Pick<Link, 'leastMs' | 'everyMs' | 'queue' | 'numbered'> = {
  leastMs: 0,
  everyMs: 0,
  queue: 0,
  numbered: null,
}

/** What a link of any kind starts with. */
export function plain(id: string, name: string, controllerId: string) {
  return {
    id,
    name,
    controllerId,
    auth: { kind: 'none' as const },
    messages: [],
    scenes: {},
    readings: [],
    ...PLAIN_LINK,
  }
}

/** What a link of bytes starts with. */
export const PLAIN_BYTES = {
  reportMark: '+',
  echoes: false,
  askCode: '?',
  helloCode: '',
  restartMark: '',
  errorText: '',
}
