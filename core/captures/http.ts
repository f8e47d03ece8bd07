/**
 * What was asked and answered over HTTP/1.1 (RFC 9112) in the packets of a capture: streams put
 * together in their order, whatever came twice or the wrong way round, and cut into requests,
 * answers and events (WHATWG, server-sent events).
 */
import { bytesText } from '../bytes/text'
import type { Packet } from './packets'

/** `status`: of an answer; null = an event of a stream. */
export type Exchanged =
  | {
      kind: 'request'
      atMs: number
      method: string
      target: string
      type: string
      body: string
      connection: string
    }
  | { kind: 'answer'; atMs: number; status: number; body: string; connection: string }
  | { kind: 'event'; atMs: number; body: string; connection: string }

interface Arrived {
  atMs: number
  text: string
}

/** Of all connections to `port`, in the order of their times. */
export function exchangesIn(packets: readonly Packet[], port: number): Exchanged[] {
  const connections = new Map<string, { up: Packet[]; down: Packet[] }>()
  for (const p of packets) {
    if (p.protocol !== 'tcp' || (p.to.port !== port && p.from.port !== port)) continue
    const isUp = p.to.port === port
    const [asker, board] = isUp ? [p.from, p.to] : [p.to, p.from]
    const key = `${asker.host} ${asker.port} ${board.host}`
    const of = connections.get(key) ?? { up: [], down: [] }
    connections.set(key, of)
    of[isUp ? 'up' : 'down'].push(p)
  }
  return [...connections]
    .flatMap(([key, { up, down }]) => [
      ...requests(inOrder(up), key),
      ...answers(inOrder(down), key),
    ])
    .sort((a, b) => a.atMs - b.atMs)
}

/** What one side sent, in its order; each piece dated by when it could be read. */
function inOrder(packets: readonly Packet[]): Arrived[] {
  const out: Arrived[] = []
  let next = null as number | null
  const waiting = new Map<number, Packet>()
  const take = (p: Packet, atMs: number): void => {
    const skip: number = next === null ? 0 : (next - p.seq) | 0
    // Sent again: only what is new of it counts.
    if (skip >= p.data.length) return
    out.push({ atMs, text: bytesText(p.data.subarray(Math.max(0, skip))) })
    next = (p.seq + p.data.length) >>> 0
  }
  for (const p of packets) {
    if (p.flags.syn) next = (p.seq + 1) >>> 0
    if (!p.data.length) continue
    if (next !== null && ((p.seq - next) | 0) > 0) {
      waiting.set(p.seq, p)
      continue
    }
    take(p, p.atMs)
    for (let w = waiting.get(next ?? -1); w; w = waiting.get(next ?? -1)) {
      waiting.delete(w.seq)
      take(w, p.atMs)
    }
  }
  return out
}

/** Reads a stream of texts piece by piece, and knows when each of them came. */
class Stream {
  private at = 0
  private readonly whole: string
  private readonly ends: { to: number; atMs: number }[] = []

  constructor(pieces: readonly Arrived[]) {
    this.whole = pieces.map(p => p.text).join('')
    let to = 0
    for (const { text, atMs } of pieces) this.ends.push({ to: (to += text.length), atMs })
  }

  /** Up to an end, which is passed over; null where it does not come. */
  until(end: string): string | null {
    const to = this.whole.indexOf(end, this.at)
    if (to < 0) return null
    const text = this.whole.slice(this.at, to)
    this.at = to + end.length
    return text
  }

  take(length: number): string | null {
    if (this.at + length > this.whole.length) return null
    this.at += length
    return this.whole.slice(this.at - length, this.at)
  }

  rest(): string {
    const text = this.whole.slice(this.at)
    this.at = this.whole.length
    return text
  }

  /** When the last character that was taken came. */
  get nowMs(): number {
    return this.ends.find(e => e.to >= this.at)?.atMs ?? this.ends.at(-1)?.atMs ?? 0
  }
}

/** The first line of a message and its headers; null where none comes any more. */
function headIn(stream: Stream): { first: string; headers: Map<string, string> } | null {
  const head = stream.until('\r\n\r\n')
  if (head === null) return null
  const [first = '', ...lines] = head.split('\r\n')
  return { first, headers: headersOf(lines) }
}

function headersOf(lines: readonly string[]): Map<string, string> {
  return new Map(
    lines.flatMap(line => {
      const at = line.indexOf(':')
      return at < 0 ? [] : [[line.slice(0, at).toLowerCase(), line.slice(at + 1).trim()] as const]
    }),
  )
}

function requests(pieces: readonly Arrived[], connection: string): Exchanged[] {
  const stream = new Stream(pieces)
  const out: Exchanged[] = []
  for (let head = headIn(stream); head; head = headIn(stream)) {
    const { first, headers } = head
    const [, method, target] = /^([A-Z]+) (\S+) HTTP\/1\.[01]$/.exec(first) ?? []
    if (method === undefined || target === undefined) break
    const body = stream.take(Number(headers.get('content-length') ?? 0)) ?? stream.rest()
    const type = headers.get('content-type') ?? ''
    out.push({ kind: 'request', atMs: stream.nowMs, method, target, type, body, connection })
  }
  return out
}

function answers(pieces: readonly Arrived[], connection: string): Exchanged[] {
  const stream = new Stream(pieces)
  const out: Exchanged[] = []
  for (let head = headIn(stream); head; head = headIn(stream)) {
    const { first, headers } = head
    const [, status] = /^HTTP\/1\.[01] (\d{3})/.exec(first) ?? []
    if (status === undefined) break
    if ((headers.get('content-type') ?? '').startsWith('text/event-stream')) {
      out.push(...eventsIn(stream, headers, connection))
      break
    }
    const body = bodyIn(stream, headers, Number(status))
    out.push({ kind: 'answer', atMs: stream.nowMs, status: Number(status), body, connection })
  }
  return out
}

function bodyIn(stream: Stream, headers: Map<string, string>, status: number): string {
  if (status === 204 || status === 304) return ''
  if (isChunked(headers)) return [...chunks(stream)].join('')
  const length = headers.get('content-length')
  // Without a length it goes on to the end of the connection.
  return length === undefined ? stream.rest() : (stream.take(Number(length)) ?? stream.rest())
}

function isChunked(headers: Map<string, string>): boolean {
  return /chunked/i.test(headers.get('transfer-encoding') ?? '')
}

/** One after another, until the last, or where they break off. */
function* chunks(stream: Stream): Generator<string> {
  for (let piece = chunk(stream); piece; piece = chunk(stream)) yield piece
}

/** "" = the last one; null = it broke off. */
function chunk(stream: Stream): string | null {
  const size = stream.until('\r\n')
  if (size === null) return null
  const length = parseInt(size, 16)
  const text = Number.isNaN(length) ? null : stream.take(length)
  stream.until('\r\n')
  return text
}

function eventsIn(stream: Stream, headers: Map<string, string>, connection: string): Exchanged[] {
  const out: Exchanged[] = []
  let rest = ''
  const read = (text: string) => {
    rest += text
    for (let at = rest.indexOf('\n\n'); at >= 0; at = rest.indexOf('\n\n')) {
      const lines = rest.slice(0, at).split('\n')
      rest = rest.slice(at + 2)
      const data = lines.filter(l => l.startsWith('data:')).map(l => l.slice(5).replace(/^ /, ''))
      if (data.length && !lines.some(l => l.startsWith('event:')))
        out.push({ kind: 'event', atMs: stream.nowMs, body: data.join('\n'), connection })
    }
  }
  if (isChunked(headers)) for (const piece of chunks(stream)) read(piece)
  else
    for (let piece = stream.until('\n\n'); piece !== null; piece = stream.until('\n\n'))
      read(`${piece}\n\n`)
  return out
}
