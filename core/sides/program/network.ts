/** Links as a board with a network knows them (engine/boards/web/network.h). */
import type { Program, ProgramLink } from '../../controller/program'
import { aliveMs } from '../../design/links/alive'
import { addressBytes, hostOf, isNearby, nameOf } from '../../design/links/host'
import {
  isLowEnergy,
  isPeerRadio,
  isUdp,
  onChip,
  onNetwork,
  speaksRoutes,
} from '../../design/links/traits'
import type { HttpLink, Link, LinkOf } from '../../design/schema'
import { valuesOf } from '../../design/values'
import { octets } from '../../bytes/text'
import { NOT_KNOWN, pagePieces, type PagePiece } from '../board-page'
import { valueNumber } from './asks'
import { isBoxPart } from './box'
import type { TableWriter } from './writer'
import { nth } from '../../units/lists'

/** Kinds of ports (engine/boards/wiring.h). */
export const PORT_KINDS = {
  own: 0,
  soft: 1,
  http: 2,
  udp: 3,
  shell: 4,
  peer: 5,
  bluetooth: 6,
  'low-energy': 7,
} as const

const ANSWERS = { text: 0, json: 1, page: 2 } as const
/** Flags of a link. */
const BY_POST = 4
/** Of a box: where its parameters stand. */
const BODIES = { none: 0, form: 32, json: 64 } as const
const ASKED_WHOLE = 8
const TO_ALL = 16
/** Where a server is that says nothing else. */
const HTTP_PORT = 80

type Part = readonly [1 | 2 | 4, number]

/** The row of a link. */
export function networkRow(to: TableWriter, program: Program, { link }: ProgramLink): Part[] {
  const http = speaksRoutes(link) ? link : null
  const whole = link.auth.kind !== 'none' || link.numbered !== null
  const flags =
    (http ? ANSWERS[http.answers] : 0)
    | (http?.method === 'post' ? BY_POST : 0)
    | (http?.method === 'post' && isBoxPart(program.design) ? BODIES[http.bodies] : 0)
    | (whole ? ASKED_WHOLE : 0)
    | (isUdp(link) && link.toAll ? TO_ALL : 0)
  return [
    [1, flags],
    [2, numberOf(link)],
    [2, ownPlace(to, link)],
    [4, aliveMs(link)],
    [2, askedAt(to, program, link)],
    [2, to.text(link.id)],
    ...pageRows(to, program, http),
  ]
}

/** What a kind of link needs of its own; the route of events where it has nothing. */
function ownPlace(to: TableWriter, link: Link): number {
  if (isPeerRadio(link)) return to.list(addresses(link))
  if (isLowEnergy(link)) {
    const { service, writeTo, notifyFrom, packetBytes, clients } = link
    const names = [link.name, service, writeTo, notifyFrom].map((name): Part => [2, to.text(name)])
    return to.list([...names, [2, packetBytes], [1, clients]])
  }
  if (onChip(link)) return to.list([[2, to.text(link.name)]])
  return to.text(speaksRoutes(link) ? link.eventsRoute : '')
}

/** Where the board is that a box asks: four bytes, and its name; else the route of the page. */
function askedAt(to: TableWriter, { design }: Program, link: Link): number {
  if (!isBoxPart(design)) return to.text(speaksRoutes(link) ? (link.page?.route ?? '') : '')
  if (!onNetwork(link)) return to.list([])
  const bytes = addressBytes(hostOf(link.address)) ?? [0, 0, 0, 0]
  return to.list([...bytes.map((byte): Part => [1, byte]), [2, to.text(nameOf(link))]])
}

const PIECES = { text: 0, value: 1, number: 2, reading: 3 } as const
/** A text of the table has at most 255 bytes. */
const LONGEST_TEXT = 255

/** Where the pieces of a page stand, and how many there are. */
function pageRows(to: TableWriter, program: Program, http: HttpLink | null): Part[] {
  const pieces = http?.page ? pagePieces(program.design, http) : []
  const rows = pieces.flatMap(piece => pieceRows(to, program, piece))
  return [
    [2, to.list(rows.flat(), 'the page of the board, piece by piece')],
    [2, rows.length],
  ]
}

function pieceRows(to: TableWriter, program: Program, piece: PagePiece): Part[][] {
  const row = (kind: keyof typeof PIECES, nth: number, value: number, a: string, b: string) =>
    [
      [1, PIECES[kind]],
      [1, nth],
      [2, value],
      [2, to.text(a)],
      [2, to.text(b)],
    ] satisfies Part[]
  const words = (text: string) => cut(octets(text)).map(part => row('text', 0, 0, part, ''))
  switch (piece.kind) {
    case 'text':
      return words(piece.text)
    case 'value': {
      const load = program.loadIndex.get(piece.loadId) ?? 0
      const { output } = nth(program.loads, load)
      const value = valuesOf(output).includes(piece.value) ? valueNumber(output, piece.value) : -1
      // What is no value of it can be asked for, and never is so.
      return value < 0
        ? words(piece.otherwise)
        : [row('value', load, value, octets(piece.is), octets(piece.otherwise))]
    }
    case 'number':
      return [
        row(
          'number',
          program.loadIndex.get(piece.loadId) ?? 0,
          0,
          octets(piece.before),
          octets(piece.after),
        ),
      ]
    case 'reading': {
      const sensor = program.design.sensors.findIndex(s => s.id === piece.sensorId)
      return [row('reading', sensor, 0, octets(piece.unit), NOT_KNOWN)]
    }
  }
}

function cut(text: string): string[] {
  const all: string[] = []
  for (let at = 0; at < text.length; at += LONGEST_TEXT) all.push(text.slice(at, at + LONGEST_TEXT))
  return all
}

/** The port of a link, or its channel. */
function numberOf(link: Link): number {
  if (speaksRoutes(link)) return portOf(link.address)
  if (isPeerRadio(link)) return link.channel
  return isUdp(link) ? link.port : 0
}

/** Of this board, and of the other. */
function addresses(link: LinkOf<'peer'>): Part[] {
  return [link.boardAddress, link.otherAddress].flatMap(address =>
    address.split(':').map((byte): Part => [1, Number.parseInt(byte, 16)]),
  )
}

function portOf(address: string): number {
  return Number(/:(\d+)$/.exec(address)?.[1] ?? HTTP_PORT)
}

/** The name that the board has on its network, where it is more than an address; "" without. */
export function ownName({ links, design }: Program): string {
  // The address in the link of a box is that of the board that it asks.
  if (isBoxPart(design)) return ''
  return links.map(({ link }) => nameOf(link)).find(n => n !== '') ?? ''
}

/** What a board calls itself: of a name of a larger network its first part. */
export function bareName(name: string): string {
  return isNearby(name) ? name.slice(0, name.lastIndexOf('.')) : (name.split('.')[0] ?? '')
}

/** Beside an answer: its head; and what a stream may owe to somebody slow. */
const HEAD_ROOM = 640
/** What a reading is told by, at its longest. */
const LONGEST_CODE = 64
/** A reading, or a number, at its longest. */
const NUMBER_ROOM = 24
/** The least that an answer has room for. */
export const LEAST_ANSWER = 512

/** Room that a board with a network needs (`Limits`). */
export function networkSizes(
  { links, readings }: Program,
  { clients, streams, senders }: NetworkRoom,
) {
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
    streams,
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
  /** Connections at once, how many of them may stay open, and who is told by datagrams. */
  clients: number
  streams: number
  senders: number
}
