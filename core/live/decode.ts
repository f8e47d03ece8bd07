/**
 * What crosses a link, message by message and in words: for traffic that is watched, and for
 * captures that are read later. Both directions are decoded by what the two ends are made of, the
 * controller's program and a surface's.
 */
import { visible } from '../bytes/template'
import { compileController, type ProgramLink } from '../controller/program'
import { meaningOf, type Meaning } from '../messages/meaning'
import { partOf } from '../design/part'
import type { Design, Link } from '../design/schema'
import { hasRoute, routeOf } from '../messages/routes'
import { isDatagram, speaksRoutes } from '../design/links/traits'
import { bodyIn, endOf, shownWire } from '../design/wire'
import { linesIn } from '../messages/answers'
import { commandWords } from '../messages/clashes'
import { numberBehind } from '../messages/numbers'
import { bareOf } from '../messages/sealing'
import { feedAll, type Reader } from '../messages/stream'
import { helloIn, type Hello } from '../messages/table'
import { reportMeaning, type SurfaceProgram, type Via } from '../surfaces/surface'
import { listening } from './ear'

/** Up is to the board. */
export type Way = 'up' | 'down'
export type SaidKind =
  | 'command'
  | 'scene'
  | 'ask'
  | 'hello'
  | 'started'
  | 'report'
  | 'reading'
  | 'refused'
  | 'answer'
  | 'half'
  | 'unknown'

/**
 * One message. `load`, `sensor`: indexes into the design, -1 = about none. `value`: what a report
 * says, or what a command asks for; null = none.
 */
export interface Said {
  way: Way
  kind: SaidKind
  /** As people read it. */
  text: string
  words: string
  load: number
  value: string | null
  sensor: number
  hello: Hello | null
}

const EARS_WAIT_MS = 1000

export class Decoder {
  private readonly ear: SurfaceProgram
  private readonly board: ProgramLink
  private readonly readers: Record<Way, Reader>
  private readonly buffers: Record<Way, string> = { up: '', down: '' }

  /** `design`: the whole of it. Throws where the link is none of its. */
  constructor(
    private readonly design: Design,
    readonly link: Link,
  ) {
    this.ear = listening(design, link, EARS_WAIT_MS)
    const part = partOf(design, link.controllerId)
    const board = compileController(part).links.find(l => l.link.id === link.id)
    if (!board) throw new RangeError(`no link "${link.id}" on its controller`)
    this.board = board
    this.readers = { up: roomy(this.board.reader), down: roomy(this.ear.reader) }
  }

  /** One that knows the same, and has read nothing. */
  trial(): Decoder {
    return new Decoder(this.design, this.link)
  }

  /** Whether a message has begun and not ended. */
  isHalf(way: Way): boolean {
    return this.buffers[way] !== ''
  }

  /** What bytes or a whole request say. `via`: what an answer over HTTP belongs to. */
  read(way: Way, text: string, via: Via = 'stream'): Said[] {
    if (speaksRoutes(this.link)) return way === 'up' ? this.request(text) : this.answer(text, via)
    const whole = isDatagram(this.link) && endOf(this.link) !== ''
    const { heard, buffer } = feedAll(this.readers[way], whole ? '' : this.buffers[way], text)
    this.buffers[way] = whole ? '' : buffer
    const said = heard.map(h => this.body(way, h.kind === 'code' ? h.code : h.bytes))
    return whole && buffer !== '' ? [...said, this.half(way, buffer)] : joined(said)
  }

  /** What was begun and never ended, where nothing comes any more. */
  rest(way: Way): Said[] {
    const buffer = this.buffers[way]
    this.buffers[way] = ''
    return buffer === '' ? [] : [this.half(way, buffer)]
  }

  private half(way: Way, buffer: string): Said {
    return { ...this.nothing(way, buffer), kind: 'half', words: 'half a message' }
  }

  private nothing(way: Way, body: string): Said {
    const text = speaksRoutes(this.link) ? visible(body) : shownWire(this.link, body)
    return {
      way,
      kind: 'unknown',
      text,
      words: 'not in the table',
      load: -1,
      value: null,
      sensor: -1,
      hello: null,
    }
  }

  private body(way: Way, body: string): Said {
    return way === 'up' ? this.command(body) : this.report(body)
  }

  private request(target: string): Said[] {
    const { link } = this
    const said = this.command(target)
    if (said.kind !== 'unknown' || !speaksRoutes(link)) return [said]
    if (target === link.eventsRoute)
      return [{ ...said, kind: 'ask', words: 'opens the stream of reports' }]
    // What a browser puts behind a route is passed over.
    const again = this.command(routeOf(target, route => hasRoute(link, route)))
    return [{ ...again, text: said.text }]
  }

  private command(body: string): Said {
    const nothing = this.nothing('up', body)
    const bare = bareOf(this.link, body) ?? body
    const plain = numberBehind(this.link, bare)?.body ?? bare
    const meaning = meaningOf(this.board, plain)
    return meaning ? { ...nothing, ...this.asked(meaning) } : nothing
  }

  private asked(meaning: Meaning): Pick<Said, 'kind' | 'words'> & Partial<Said> {
    switch (meaning.kind) {
      case 'set': {
        const load = this.loadIndex(meaning.load)
        const { id = '' } = this.design.loads[load] ?? {}
        const words = `asks for ${commandWords(this.design, id, meaning.value)}`
        return { kind: 'command', words, load, value: meaning.value }
      }
      case 'scene':
        return { kind: 'scene', words: 'asks for a scene' }
      case 'ask':
        return { kind: 'ask', words: 'asks for the state' }
      case 'hello':
        return { kind: 'hello', words: 'asks who is there' }
      case 'started':
        return { kind: 'started', words: 'says that it has just started' }
      case 'reading':
        return {
          kind: 'ask',
          words: `asks for ${this.sensorName(meaning.sensorId)}`,
          sensor: this.sensorIndex(meaning.sensorId),
        }
    }
  }

  /** From the loads of the board to those of the design. */
  private loadIndex(load: number): number {
    const { loads } = partOf(this.design, this.link.controllerId)
    return this.design.loads.findIndex(l => l.id === loads[load]?.id)
  }

  private sensorIndex(id: string): number {
    return this.design.sensors.findIndex(s => s.id === id)
  }

  private sensorName(id: string): string {
    return this.design.sensors.find(s => s.id === id)?.name ?? id
  }

  private report(body: string): Said {
    const nothing = this.nothing('down', body)
    const hello = helloIn(this.link, body)
    if (hello) return { ...nothing, kind: 'hello', words: helloWords(hello), hello }
    const meaning = reportMeaning(this.ear, body)
    if (!meaning) return nothing
    if ('refused' in meaning) return { ...nothing, kind: 'refused', words: 'refused' }
    if ('sensor' in meaning) {
      const name = this.design.sensors[meaning.sensor]?.name ?? ''
      const words = `${name} is ${meaning.text}`
      return { ...nothing, kind: 'reading', words, sensor: meaning.sensor, value: meaning.text }
    }
    const { load, value } = meaning
    const words = this.reportWords(this.design.loads[load]?.id ?? '', value)
    return { ...nothing, kind: 'report', words, load, value }
  }

  /** "Booth extractor is on". */
  reportWords(loadId: string, value: string): string {
    const { name = '' } = this.design.loads.find(l => l.id === loadId) ?? {}
    return `${name} is ${commandWords(this.design, loadId, value).slice(name.length + 1)}`
  }

  private answer(text: string, via: Via): Said[] {
    const { link } = this
    if (!speaksRoutes(link)) return []
    const hello = helloIn(link, text)
    if (hello)
      return [{ ...this.nothing('down', text), kind: 'hello', words: helloWords(hello), hello }]
    const format = via === 'stream' && link.answers === 'page' ? 'text' : link.answers
    const lines = linesIn(format, text)
      .filter(line => line.trim() !== '')
      .map(line => this.report(line))
    if (via === 'refused') {
      const words = `refused: ${text.trim().split('\n')[0] ?? ''}`
      return [
        { ...this.nothing('down', text), kind: 'refused', words },
        ...lines.filter(l => l.kind === 'report'),
      ]
    }
    const known = lines.filter(l => l.kind !== 'unknown')
    // "ok", or a page: an answer that reports nothing.
    if (!known.length && via === 'command')
      return [{ ...this.nothing('down', text), kind: 'answer', words: 'answered' }]
    return lines
  }
}

/** What no table has is shown whole; who is there is told in more than any report. */
function roomy(reader: Reader): Reader {
  return reader.end === '' ? reader : { ...reader, longest: Math.max(reader.longest, LONGEST) }
}
const LONGEST = 240

function helloWords({ fingerprint, starts }: Hello): string {
  return `is here: table ${fingerprint}, started ${starts} times`
}

/** Bytes that mean nothing, one after another, are one thing. */
function joined(said: readonly Said[]): Said[] {
  const out: Said[] = []
  for (const one of said) {
    const last = out.at(-1)
    if (one.kind === 'unknown' && last?.kind === 'unknown')
      out[out.length - 1] = { ...last, text: last.text + one.text }
    else out.push(one)
  }
  return out
}

/** Without its end, as a decoder wants a message that a log has as a line. */
export function asSent(link: Link, line: string): string {
  if (speaksRoutes(link)) return line
  const end = endOf(link)
  return end !== '' && line === bodyIn(link, line) ? line + end : line
}
