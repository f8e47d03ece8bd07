/**
 * A capture against the design: every message in words, and what is wrong with it by name. Judged
 * by the table of the link and its times; what the design leaves open is not blamed.
 */
import { maybeMessage } from '../design/find'
import { isDatagram, hasSpeed, speaksRoutes, structureOn } from '../design/links/traits'
import type { Design, Link } from '../design/schema'
import { wireMs } from '../links/timing'
import { Decoder, type Said, type Way } from '../live/decode'
import { garbledIn, isGarbled } from '../live/link'
import type { Capture, Piece } from './pieces'

export const BLAMES = [
  'unknown code',
  'answer of another table',
  'missing answer',
  'late',
  'doubled',
  'toggled twice',
  'other value',
  'refused',
  'half a message',
  'wrong speed',
] as const
export type Blame = (typeof BLAMES)[number]

/** A message of a capture. `afterMs`: it answers what was said so long before. */
export interface Captured {
  n: number
  atMs: number | null
  way: Way
  text: string
  words: string
  kind: Said['kind']
  load: number
  value: string | null
  afterMs: number | null
  blame: Blame | null
  why: string
}
export interface Judged {
  lines: Captured[]
  counts: Partial<Record<Blame, number>>
  /** About the whole of it, in words. */
  words: string[]
}

/** Two of a kind within this are one too many, ms. */
const TWICE_MS = 400
/** Datagrams and lines that come twice do so at once, ms. */
const DOUBLED_MS = 60
/** Bytes that follow one another within this belong together, ms. */
const TOGETHER_MS = 50

/** `design`: the whole of it; the link is one of its. */
export function judged(design: Design, link: Link, capture: Capture): Judged {
  const decoder = new Decoder(design, link)
  const lines = decoded(decoder, directed(decoder, capture.pieces))
  const words: string[] = []
  const garbled = garbledWords(link, capture)
  if (garbled !== '') {
    words.push(garbled)
    for (const line of lines)
      if (line.kind === 'unknown' || line.kind === 'half') put(line, 'wrong speed', garbled)
  }
  new Judge(design, link, capture).judge(lines)
  const counts: Judged['counts'] = {}
  for (const { blame } of lines) if (blame) counts[blame] = (counts[blame] ?? 0) + 1
  return { lines, counts, words }
}

function put(line: Captured, blame: Blame, why: string): void {
  if (line.blame) return
  line.blame = blame
  line.why = why
}

/** Every message of all pieces. Bytes are put together; what breaks off is told where it does. */
export function decoded(decoder: Decoder, pieces: readonly Directed[]): Captured[] {
  const lines: Captured[] = []
  const lastAt: Record<Way, number | null> = { up: null, down: null }
  const add = (said: readonly Said[], atMs: number | null) => {
    for (const { way, text, words, kind, load, value } of said) {
      const last = lines.at(-1)
      const near = atMs === null || last?.atMs == null || atMs - last.atMs <= TOGETHER_MS
      // Bytes that mean nothing, one after another, are one thing.
      if (
        kind === 'unknown'
        && last?.kind === 'unknown'
        && last.way === way
        && near
        && !isWhole(decoder)
      )
        last.text += text
      else
        lines.push({
          n: lines.length + 1,
          atMs,
          way,
          text,
          words,
          kind,
          load,
          value,
          afterMs: null,
          blame: null,
          why: '',
        })
    }
  }
  for (const piece of pieces) {
    const { atMs, way } = piece
    const before = lastAt[way]
    if (atMs !== null && before !== null && atMs - before > GAP_MS) add(decoder.rest(way), before)
    lastAt[way] = atMs
    const said = decoder.read(way, piece.text, piece.via)
    add(said, atMs)
    const line = lines.at(-1)
    if (piece.unanswered && line && said.length) line.why = UNANSWERED
  }
  for (const way of ['up', 'down'] as const) add(decoder.rest(way), lastAt[way])
  return lines
}
/** Half a message that nothing follows for so long is one, ms. */
const GAP_MS = 600
const UNANSWERED = 'no answer'

/** Messages come whole there: two of them are two. */
function isWhole({ link }: Decoder): boolean {
  return speaksRoutes(link) || isDatagram(link)
}

export type Directed = Piece & { way: Way }

/** Pieces with the way that each took. Where a log has no arrows: a report comes from the board. */
export function directed(decoder: Decoder, pieces: readonly Piece[]): Directed[] {
  const trial = decoder.trial()
  return pieces.map((piece): Directed => {
    if (piece.way !== null) return { ...piece, way: piece.way }
    const isReport = trial.read('down', piece.text).some(s => s.kind !== 'unknown')
    trial.rest('down')
    return { ...piece, way: isReport ? 'down' : 'up' }
  })
}

/** What says that the speeds differ; "" = nothing. Each direction is judged by itself. */
function garbledWords(link: Link, { pieces, speeds }: Capture): string {
  if (!hasSpeed(link) || structureOn(link)) return ''
  const isNoText = (['up', 'down'] as const).some(way => {
    const text = pieces.map(p => (p.way === way ? p.text : '')).join('')
    return isGarbled(garbledIn(text), text.length)
  })
  const [other] = speeds
  if (other !== undefined)
    return `what crossed is no text at ${link.baud} baud: a line speaks at about ${other} baud`
  return isNoText
    ? `what crossed is no text at ${link.baud} baud: the two sides speak at different speeds`
    : ''
}

class Judge {
  /** Commands that were not answered yet, the oldest first. */
  private open: Captured[] = []
  /** Requests that nobody answered at all. */
  private readonly unanswered: Captured[] = []
  private readonly values: (string | null)[]
  private lastUp: Captured | null = null
  private lastDown: Captured | null = null
  private readonly latestMs: number

  constructor(
    private readonly design: Design,
    private readonly link: Link,
    private readonly capture: Capture,
  ) {
    this.values = design.loads.map(() => null)
    this.latestMs = 3 * link.timing.p99Ms + 2 * wireMs(design, link, 'M'.repeat(24)) + 50
  }

  judge(lines: readonly Captured[]): void {
    for (const line of lines) {
      if (line.way === 'up') this.up(line)
      else this.down(line)
    }
    const end = (lines.at(-1)?.atMs ?? 0) + this.capture.restMs
    for (const line of [...this.open, ...this.unanswered])
      if (line.atMs === null || end - line.atMs > this.latestMs) this.missing(line)
  }

  private missing(line: Captured): void {
    put(line, 'missing answer', 'the design answers this, and nothing came')
  }

  private up(line: Captured): void {
    if (line.why === UNANSWERED) this.unanswered.push(line)
    line.why = ''
    const last = this.lastUp
    this.lastUp = line
    if (line.kind === 'half') return put(line, 'half a message', 'it broke off')
    if (line.kind === 'unknown') return put(line, 'unknown code', 'no code of this link')
    const isTwice = this.twice(last, line)
    if (line.kind !== 'command' || this.unanswered.includes(line)) return
    const id = this.design.loads[line.load]?.id ?? ''
    const message = maybeMessage(this.link, id)
    if (!speaksRoutes(this.link) && !message?.ack) return
    // One that waits for the same load is not answered any more, but where both were said at once.
    const before = this.open.find(o => o.load === line.load)
    if (before && !isTwice && !speaksRoutes(this.link)) {
      this.open = this.open.filter(o => o !== before)
      this.missing(before)
    }
    this.open.push(line)
  }

  /** The same once more, too soon to be meant; whether it is. */
  private twice(last: Captured | null, line: Captured): boolean {
    const gap = sinceOf(last, line)
    if (!last || gap === null || last.text !== line.text || gap > TWICE_MS) return false
    if (line.value === 'toggle' || line.value === 'next')
      put(line, 'toggled twice', `the same ${gap} ms before: together they change nothing`)
    else if (gap <= DOUBLED_MS) put(line, 'doubled', `the same message ${gap} ms before`)
    return line.blame !== null
  }

  private down(line: Captured): void {
    const last = this.lastDown
    this.lastDown = line
    if (line.kind === 'half') return put(line, 'half a message', 'it broke off')
    if (line.kind === 'unknown')
      return put(
        line,
        'answer of another table',
        'no report of this link: another table, or an old side',
      )
    if (line.kind === 'refused') {
      this.answer(line, () => true)
      // What no board knows is refused by any.
      if (this.lastUp?.blame === 'unknown code') return
      return put(line, 'refused', line.words)
    }
    if (line.kind === 'answer') return void this.answer(line, () => true)
    if (line.kind !== 'report') return
    const gap = sinceOf(last, line)
    const isAnswer = this.answer(line, o => o.load === line.load)
    const isSame = this.values[line.load] === line.value
    this.values[line.load] = line.value
    if (!isAnswer && isSame && last?.text === line.text && gap !== null && gap <= DOUBLED_MS)
      put(line, 'doubled', `the same report ${gap} ms before`)
  }

  /** Takes the first command that it answers; whether there was one. */
  private answer(line: Captured, fits: (command: Captured) => boolean): boolean {
    const at = this.open.findIndex(fits)
    const command = this.open[at]
    if (!command) return false
    this.open.splice(at, 1)
    line.afterMs = sinceOf(command, line)
    if (line.afterMs !== null && line.afterMs > this.latestMs)
      put(line, 'late', `the design has it within ${Math.round(this.latestMs)} ms`)
    const wanted = command.value
    if (line.kind === 'report' && isPlain(wanted) && wanted !== line.value)
      put(line, 'other value', `${wanted} was asked for`)
    return true
  }
}

function sinceOf(before: Captured | null, line: Captured): number | null {
  return before?.atMs == null || line.atMs === null ? null : Math.round(line.atMs - before.atMs)
}

/** A value that a report says as it was asked for. */
function isPlain(value: string | null): value is string {
  return value !== null && /^(on|off|forward|reverse|stop)$/.test(value)
}
