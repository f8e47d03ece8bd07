/**
 * The kinds of links: what each is called, what it starts with, and what follows from its medium.
 */
import type { ByteLink, Link, LinkKind, SerialLink } from './schema'

export const LINK_WORDS: Record<LinkKind, string> = {
  'bluetooth-serial': 'serial Bluetooth',
  wire: 'serial wire',
  udp: 'datagrams (UDP)',
  peer: 'peer radio',
  http: 'HTTP',
}

/**
 * Each message travels alone: it may be lost, come twice or overtake another, and no end has to
 * tell it from the next.
 */
export function isDatagram(link: Link): boolean {
  return link.kind === 'udp' || link.kind === 'peer'
}

/** What the board says unasked goes to who asked last, and after a start it knows nobody. */
export function answersAskers(link: Link): boolean {
  return link.kind === 'udp' && !link.toAll
}

/** Needs a board that speaks on the network. */
export function onNetwork(link: Link): link is Extract<Link, { network: unknown }> {
  return link.kind === 'http' || link.kind === 'udp'
}

/** Falls silent with the router of the house. */
export function throughRouter(link: Link): boolean {
  return onNetwork(link) && link.network === 'router'
}

/** Serial Bluetooth over a module on the serial port of the board. */
export function hasModule(link: Link): boolean {
  return link.kind === 'bluetooth-serial' && link.radio === 'module'
}

/** A serial line whose speed both ends have to set: a wire, or a module on a serial port. */
export function hasSpeed(link: Link): link is SerialLink {
  return link.kind === 'wire' || hasModule(link)
}

/**
 * A number or a time can stand behind a command: short codes follow one another without ends,
 * structures have fixed fields.
 */
export function hasRoomBehind(link: Link): boolean {
  return link.kind === 'http' || (link.dialect.kind !== 'codes' && link.dialect.kind !== 'packed')
}

/** What a link has before its maker says more. */
export const PLAIN_LINK: Pick<Link, 'leastMs' | 'everyMs' | 'queue' | 'numbered'> = {
  leastMs: 0,
  everyMs: 0,
  queue: 0,
  numbered: null,
}

/**
 * A link of a kind as it starts. Pins are for the caller. Latencies: docs/links.md; all of them can
 * be edited.
 */
export function newLink(kind: LinkKind, id: string, name: string, controllerId: string): Link {
  const base = {
    id,
    name,
    controllerId,
    auth: { kind: 'none' as const },
    messages: [],
    scenes: {},
    readings: [],
    ...PLAIN_LINK,
  }
  if (kind === 'http') {
    return {
      kind,
      ...base,
      onConnect: false,
      timing: {
        minMs: 4,
        typicalMs: 15,
        p99Ms: 120,
        lossPerMille: 0,
        dropDetectMs: 3000,
        reconnectMs: 1500,
      },
      network: 'router',
      address: 'http://192.168.4.1',
      matching: 'exact',
      method: 'get',
      answers: 'text',
      askRoute: '/state',
      eventsRoute: '/events',
      helloRoute: '/hello',
    }
  }
  const bytes = {
    reportMark: '+',
    echoes: false,
    askCode: '?',
    helloCode: '',
    restartMark: '',
    errorText: '',
  }
  const codes: ByteLink['dialect'] = { kind: 'codes' }
  const lines: ByteLink['dialect'] = { kind: 'lines', template: '{load} {value}', terminator: 'lf' }
  switch (kind) {
    case 'bluetooth-serial':
      return {
        kind,
        ...base,
        ...bytes,
        dialect: codes,
        onConnect: true,
        timing: {
          minMs: 8,
          typicalMs: 25,
          p99Ms: 90,
          lossPerMille: 0,
          dropDetectMs: 2000,
          reconnectMs: 1200,
        },
        baud: 9600,
        radio: 'module',
        statusPin: null,
      }
    case 'wire':
      return {
        kind,
        ...base,
        ...bytes,
        dialect: lines,
        onConnect: false,
        timing: {
          minMs: 0,
          typicalMs: 1,
          p99Ms: 5,
          lossPerMille: 0,
          dropDetectMs: 1000,
          reconnectMs: 100,
        },
        baud: 9600,
        receivePin: 99,
        sendPin: 99,
      }
    case 'udp':
      return {
        kind,
        ...base,
        ...bytes,
        dialect: lines,
        onConnect: false,
        timing: {
          minMs: 2,
          typicalMs: 8,
          p99Ms: 60,
          lossPerMille: 5,
          dropDetectMs: 5000,
          reconnectMs: 1500,
        },
        network: 'router',
        address: '192.168.4.1',
        port: 4210,
        toAll: false,
      }
    case 'peer':
      return {
        kind,
        ...base,
        ...bytes,
        dialect: lines,
        onConnect: false,
        timing: {
          minMs: 1,
          typicalMs: 3,
          p99Ms: 25,
          lossPerMille: 10,
          dropDetectMs: 5000,
          reconnectMs: 500,
        },
        channel: 6,
        boardAddress: '02:00:5E:10:00:01',
        otherAddress: '02:00:5E:10:00:02',
        payloadBytes: 250,
      }
  }
}

/**
 * How often an open stream gives a sign of life, ms: three in the time after which its listener
 * takes the link for lost, so that one may be late and one may fall away.
 */
export function aliveMs({ timing }: Link): number {
  return Math.max(LEAST_ALIVE_MS, Math.floor(timing.dropDetectMs / 3))
}

/** How long a listener hears nothing until it takes the link for lost, ms. */
export function silenceMs(link: Link): number {
  return Math.max(3 * aliveMs(link), link.timing.dropDetectMs)
}
const LEAST_ALIVE_MS = 200
/** Event of a stream that says nothing but that somebody is there. */
export const ALIVE_EVENT = 'alive'
