/** Links as a board with a network knows them (engine/boards/web/network.h). */
import type { Program, ProgramLink } from '../../controller/program'
import { aliveMs } from '../../design/links/alive'
import { isUdp, speaksRoutes } from '../../design/links/traits'
import type { TableWriter } from './writer'

/** Kinds of ports (engine/boards/wiring.h). */
export const PORT_KINDS = { own: 0, soft: 1, http: 2, udp: 3, shell: 4 } as const

const ANSWERS = { text: 0, json: 1, page: 2 } as const
/** Flags of a link. */
const BY_POST = 4
const ASKED_WHOLE = 8
const TO_ALL = 16
/** Where a server is that says nothing else. */
const HTTP_PORT = 80

type Part = readonly [1 | 2 | 4, number]

/** The row of a link. */
export function networkRow(to: TableWriter, { link }: ProgramLink): Part[] {
  const http = speaksRoutes(link) ? link : null
  const whole = link.auth.kind !== 'none' || link.numbered !== null
  const flags =
    (http ? ANSWERS[http.answers] : 0)
    | (http?.method === 'post' ? BY_POST : 0)
    | (whole ? ASKED_WHOLE : 0)
    | (isUdp(link) && link.toAll ? TO_ALL : 0)
  return [
    [1, flags],
    [2, http ? portOf(http.address) : 'port' in link ? link.port : 0],
    [2, to.text(http?.eventsRoute ?? '')],
    [4, aliveMs(link)],
    [2, to.text(http?.page?.route ?? '')],
    [2, to.text(link.id)],
  ]
}

function portOf(address: string): number {
  return Number(/:(\d+)$/.exec(address)?.[1] ?? HTTP_PORT)
}

/** The name that the board has on its network, where it is more than an address; "" without. */
export function ownName({ links }: Program): string {
  const name = links.flatMap(({ link }) =>
    speaksRoutes(link) ? [/^http:\/\/([^:]+)/.exec(link.address)?.[1] ?? ''] : [],
  )[0]
  return name === undefined || /^[\d.]+$/.test(name) ? '' : name.toLowerCase()
}

/** Beside an answer: its head; and what a stream may owe to somebody slow. */
const HEAD_ROOM = 640
/** What a reading is told by, at its longest. */
const LONGEST_CODE = 64
/** A reading, or a number, at its longest. */
const NUMBER_ROOM = 24
const LEAST_ANSWER = 512

/** Room that a board with a network needs (`Limits`). */
export function networkSizes({ links, readings }: Program, { clients, senders }: NetworkRoom) {
  const states = links.map(({ link, messages }, i) => {
    const loads = messages.map(m =>
      m ? Math.max(...[...m.lines.values(), ...m.reports.values()].map(t => t.length)) : 0,
    )
    const told = readings.filter(r => r.link === i).map(() => LONGEST_CODE)
    const around = speaksRoutes(link) ? AROUND : 2
    return [...loads, ...told].reduce((sum, length) => sum + length + NUMBER_ROOM + around, 64)
  })
  const answer = Math.max(LEAST_ANSWER, ...states)
  const longest = Math.max(0, ...links.map(l => l.reader.longest))
  return {
    clients,
    senders,
    answer,
    out: 2 * answer + HEAD_ROOM,
    // A target takes half of it.
    request: Math.max(1024, 4 * longest),
  }
}
/** Of an item of a page: the longest form of an answer. */
const AROUND = 40

export interface NetworkRoom {
  /** Connections at once, and who is told by datagrams. */
  clients: number
  senders: number
}
