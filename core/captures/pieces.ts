/**
 * What a capture holds of one link, whatever made it: packets of the maker's own HTTP and UDP, a
 * log of a serial monitor, a table of a logic probe's decoder or of its levels, a dump of values.
 */
import Papa from 'papaparse'
import { bytesText } from '../bytes/text'
import { BadDump, readVcd, type Signal } from '../bytes/vcd'
import { routeWith } from '../design/links/bodies'
import { hasSpeed, isUdp, speaksRoutes } from '../design/links/traits'
import type { HttpLink, Link } from '../design/schema'
import { asSent, type Way } from '../live/decode'
import { shortened } from '../messages/routes'
import { noted } from '../read/log'
import type { Via } from '../surfaces/surface'
import { exchangesIn, type Exchanged } from './http'
import { likelySpeed, lineBytes, type Edge } from './levels'
import { BadCapture, isPacketFile, packetsIn } from './packets'

/** `way`: null = the capture does not tell. `atMs`: null = it has no times. */
export interface Piece {
  atMs: number | null
  way: Way | null
  text: string
  via: Via
  /** A request whose answer is not in the capture though it went on. */
  unanswered?: true
  /** Which connection it belongs to, of HTTP. */
  connection?: string
}
export interface Capture {
  pieces: Piece[]
  /** What it was taken for, in words. */
  kind: string
  /** Speeds that lines seem to have, where that is not the one of the link. */
  speeds: number[]
  /** It goes on so long after its last piece, ms. */
  restMs: number
}

/** Throws `BadCapture` with words that name the way out. */
export function readCapture(link: Link, name: string, bytes: Uint8Array): Capture {
  if (isPacketFile(bytes)) return fromPackets(link, bytes)
  const text = new TextDecoder().decode(bytes)
  if (/\$enddefinitions/.test(text)) return fromDump(link, text)
  if (/\.csv$/i.test(name) || looksLikeTable(text)) return fromTable(link, text)
  return fromLog(link, text)
}

function fromPackets(link: Link, bytes: Uint8Array): Capture {
  const packets = packetsIn(bytes)
  const last = packets.at(-1)?.atMs ?? 0
  const made = (pieces: Piece[], kind: string): Capture => ({
    pieces: sinceFirst(pieces),
    kind,
    speeds: [],
    restMs: Math.max(0, last - (pieces.at(-1)?.atMs ?? last)),
  })
  if (isUdp(link)) {
    const pieces = packets.flatMap((p): Piece[] => {
      const down = p.from.port === link.port ? 'down' : null
      const way = p.to.port === link.port ? 'up' : down
      return p.protocol === 'udp' && way
        ? [{ atMs: p.atMs, way, text: bytesText(p.data), via: 'stream' }]
        : []
    })
    return made(pieces, `datagrams at port ${link.port}`)
  }
  if (!speaksRoutes(link))
    throw new BadCapture(`${link.name} does not go over a network: choose the link of this capture`)
  const port = portIn(packets, link)
  return made(asked(link, exchangesIn(packets, port)), `requests at port ${port}`)
}

/** That of the address; where nobody goes there, the port that is asked for such routes most. */
function portIn(packets: ReturnType<typeof packetsIn>, link: HttpLink): number {
  const own = Number(new URL(link.address).port) || 80
  const counts = new Map<number, number>()
  for (const p of packets)
    if (p.protocol === 'tcp' && /^(GET|POST) \S+ HTTP/.test(bytesText(p.data.subarray(0, 200))))
      counts.set(p.to.port, (counts.get(p.to.port) ?? 0) + 1)
  if (counts.has(own) || !counts.size) return own
  return [...counts].sort((a, b) => b[1] - a[1])[0]![0]
}

/** Requests with the answers that belong to them, by their connection. */
function asked(link: HttpLink, exchanges: readonly Exchanged[]): Piece[] {
  const waiting = new Map<string, { piece: Piece; target: string }[]>()
  return exchanges.map((e): Piece => {
    const { atMs, connection } = e
    if (e.kind === 'event') return { atMs, way: 'down', text: e.body, via: 'stream', connection }
    if (e.kind === 'request') {
      const path = shortened(e.target)
      const target = e.body === '' ? path : (routeWith(path, e.type, e.body) ?? path)
      const piece: Piece = { atMs, way: 'up', text: target, via: 'command', connection }
      if (target !== link.eventsRoute) {
        piece.unanswered = true
        waiting.set(connection, [...(waiting.get(connection) ?? []), { piece, target }])
      }
      return piece
    }
    const [first, ...rest] = waiting.get(connection) ?? []
    waiting.set(connection, rest)
    if (first) delete first.piece.unanswered
    const taken: Via = first?.target === link.askRoute ? 'ask' : 'command'
    const via = e.status >= 400 ? 'refused' : taken
    return { atMs, way: 'down', text: e.body, via, connection }
  })
}

function sinceFirst(pieces: readonly Piece[]): Piece[] {
  const first = pieces.find(p => p.atMs !== null)?.atMs ?? 0
  for (const p of pieces) if (p.atMs !== null) p.atMs -= first
  return [...pieces]
}

function fromLog(link: Link, text: string): Capture {
  const pieces = noted(link, text).map(({ atMs, direction, text: said }): Piece => {
    const told = direction === 'to the board' ? 'up' : 'down'
    const way = direction === null ? null : told
    return { atMs, way, text: asSent(link, said), via: 'stream' }
  })
  return { pieces, kind: 'a log', speeds: [], restMs: 0 }
}

function fromDump(link: Link, text: string): Capture {
  try {
    const { stepSeconds, signals } = readVcd(text)
    const wires = signals.filter(s => s.kind === 'wire' && s.width === 1)
    const edges = (s: Signal): Edge[] =>
      s.changes.flatMap(({ t, value }) =>
        value === '0' || value === '1'
          ? [{ t: t * stepSeconds, level: Number(value) as 0 | 1 }]
          : [],
      )
    return fromLines(
      link,
      wires.map(s => ({ name: s.name, edges: edges(s) })),
      'levels of a dump',
    )
  } catch (error) {
    if (error instanceof BadDump) throw new BadCapture(error.message)
    throw error
  }
}

interface Wire {
  name: string
  edges: Edge[]
}
const TO_BOARD = /(^|[^a-z])(rx|rxd|in|up|receive|to)([^a-z]|$)/i
const FROM_BOARD = /(^|[^a-z])(tx|txd|out|down|send|from)([^a-z]|$)/i

/** Named after the pins of the board: what it receives goes up. Without names the first does. */
function fromLines(link: Link, wires: readonly Wire[], kind: string): Capture {
  if (!hasSpeed(link)) throw new BadCapture(`${link.name} is no serial line with a speed`)
  const busy = wires.filter(w => w.edges.some(e => e.level === 0))
  if (!busy.length) throw new BadCapture('no line in it ever changes')
  const named = busy.some(w => TO_BOARD.test(w.name) || FROM_BOARD.test(w.name))
  const speeds: number[] = []
  const pieces = busy.flatMap((w, i): Piece[] => {
    const down = named ? FROM_BOARD.test(w.name) : i > 0
    const way: Way = down ? 'down' : 'up'
    const speed = likelySpeed(w.edges)
    if (speed !== null && (speed > link.baud || speed * 4 <= link.baud)) speeds.push(speed)
    return lineBytes(w.edges, link.baud).map(({ t, byte }) => ({
      atMs: t * 1000,
      way,
      text: String.fromCharCode(byte),
      via: 'stream' as const,
    }))
  })
  const sorted = pieces.sort((a, b) => (a.atMs ?? 0) - (b.atMs ?? 0))
  return { pieces: sinceFirst(sorted), kind, speeds: [...new Set(speeds)], restMs: 0 }
}

function looksLikeTable(text: string): boolean {
  const [first = '', second = ''] = text.split(/\r?\n/)
  const commas = (line: string) => line.split(/[,;\t]/).length
  return /time/i.test(first) && commas(first) > 1 && commas(first) === commas(second)
}

const TIME = /time|zeit|^t\b/i
const DIRECTION = /dir|way|channel|line|name|type/i
const TEXT = /data|text|value|byte|char|ascii|hex|message/i

/** Columns by their heads: a time, and either texts or bytes with a direction, or levels. */
function fromTable(link: Link, text: string): Capture {
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: true })
  const [heads = [], ...rows] = data
  const time = heads.findIndex(h => TIME.test(h))
  if (time < 0 || !rows.length)
    throw new BadCapture('this table has no column "time": give its first row names')
  const unit = unitMs(heads[time]!)
  const others = heads.map((_, i) => i).filter(i => i !== time)
  const levels = others.filter(i => rows.every(r => /^\s*[01]\s*$/.test(r[i] ?? '')))
  if (levels.length === others.length && hasSpeed(link))
    return fromLines(
      link,
      levels.map(i => ({ name: heads[i]!.trim(), edges: edgesOf(rows, time, i, unit) })),
      'levels of a table',
    )
  const said = others.find(i => TEXT.test(heads[i]!)) ?? others.at(-1) ?? -1
  const way = others.find(i => i !== said && DIRECTION.test(heads[i]!)) ?? -1
  const pieces = rows.map((r): Piece => ({
    atMs: Number(r[time]) * unit,
    way: wayOf(r[way] ?? ''),
    text: saidOf(link, r[said] ?? '', heads[said] ?? ''),
    via: 'stream',
  }))
  if (pieces.some(p => Number.isNaN(p.atMs)))
    throw new BadCapture('times of this table are no numbers: write them as seconds')
  return { pieces: sinceFirst(pieces), kind: 'a table', speeds: [], restMs: 0 }
}

/** ms of one unit of a column of times; without a unit in its head, seconds. */
function unitMs(head: string): number {
  if (/\bms\b|millis/i.test(head)) return 1
  return /us|µs|micro/i.test(head) ? 1e-3 : 1e3
}

function edgesOf(rows: readonly string[][], time: number, column: number, unit: number): Edge[] {
  return rows.map(r => ({
    t: (Number(r[time]) * unit) / 1000,
    level: Number(r[column]) === 0 ? 0 : 1,
  }))
}

function wayOf(word: string): Way | null {
  if (/^(->|>|up|to|rx|in)/i.test(word.trim()) || /\brx\b/i.test(word)) return 'up'
  return /^(<-|<|down|from|tx|out)/i.test(word.trim()) || /\btx\b/i.test(word) ? 'down' : null
}

/** "0x45", "45" under a head "hex", or the text itself. */
function saidOf(link: Link, cell: string, head: string): string {
  const bare = cell.trim()
  const hex =
    /^(0x[0-9a-f]{2}\s*)+$/i.test(bare) || (/hex/i.test(head) && /^[0-9a-f\s]+$/i.test(bare))
  if (hex)
    return (bare.replaceAll(/0x|\s/gi, '').match(/../g) ?? [])
      .map(h => String.fromCharCode(parseInt(h, 16)))
      .join('')
  // A decoder gives byte by byte, with what cannot be seen in words.
  const escaped = bare.replaceAll(/\\r|<CR>|'13'/gi, '\r').replaceAll(/\\n|<LF>|'10'/gi, '\n')
  return escaped.length > 1 ? asSent(link, escaped) : escaped
}
