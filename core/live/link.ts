/**
 * A link of the design with something real at its other end: what the board says of each load, what
 * the surfaces of this link would show by what is heard, what crossed, and how long it took. Pure:
 * times are handed in, and what is to be sent is handed out.
 */
import type { Design, FarSurface, Link } from '../design/schema'
import { farSurfaces, linkOf, maybeMessage } from '../design/find'
import { fingerprint } from '../design/fingerprint'
import { isSigned, servesOne, speaksRoutes, worstWayMs } from '../design/links/traits'
import { wireOf } from '../design/wire'
import { helloCode, streams, type Hello } from '../messages/table'
import type { Secret } from '../messages/sealing'
import {
  askText,
  compileSurface,
  shown,
  startSurface,
  SurfaceMachine,
  type SurfaceEvent,
  type SurfaceProgram,
  type Via,
} from '../surfaces/surface'
import { earlier, reached } from '../units/clock'
import { Decoder, type Said, type SaidKind } from './decode'
import { Delays } from './delays'
import { EAR, listening } from './ear'

/** One message as it crossed. `afterMs`: it answers what was sent so long before; null = none. */
export interface Crossed extends Pick<Said, 'way' | 'kind' | 'text' | 'words' | 'load'> {
  n: number
  atMs: number
  afterMs: number | null
}
/** What was said of a load or a sensor, and when. */
export interface Told {
  value: string
  atMs: number
}
/** Messages that are kept; of a flood the newest. */
export const MOST_CROSSED = 1000
/** Half a message that nothing follows for so long is one, ms. */
const HALF_MS = 600
/** Nobody waits shorter than this for an answer, ms. */
const LEAST_PATIENCE_MS = 1000
const HELLOS_AGAIN = 2

interface Question {
  load: number
  /** A value that answers it; null = whatever is told. */
  value: string | null
  /** The state, or who is there. */
  about: 'load' | 'state' | 'hello'
  at: number
}

export interface LiveOptions {
  /** For links that ask for one; the practice secret stands for one that is not given. */
  secret?: Secret
  /** What the clock said when the time of this link began, s since 1970. */
  epochS?: number
  /** The surface whose place is taken; null = none of the design, somebody who listens. */
  as?: string | null
}

export class LiveLink {
  readonly link: Link
  /** Fingerprint of the design. */
  readonly print: string
  /** By load of the design. */
  readonly says: (Told | null)[]
  /** By sensor of the design. */
  readonly readings: (Told | null)[]
  readonly crossed: Crossed[] = []
  readonly delays = new Delays()
  readonly counts: Partial<Record<SaidKind, number>> = {}
  /** Characters from the board that no text has, of all that came. */
  garbled = 0
  heardCharacters = 0
  /** Of those, what stood in no message of the table. */
  unreadCharacters = 0
  hello: (Hello & { atMs: number }) | null = null
  /** As often as somebody answered here with another count of starts. */
  restarts = 0
  up = false
  /** When it was last connected, or lost, ms. */
  changedAt: number | null = null
  heardAt: number | null = null
  /** Since when something that was asked is not answered; null = nothing is. */
  private questions: Question[] = []
  private n = 0
  private readonly decoder: Decoder
  private readonly surfaces = new Map<string, SurfaceMachine>()
  private readonly speaker: SurfaceMachine
  private readonly patienceMs: number
  private lastDown: number | null = null
  /** How often "who is there" is asked again where nobody answers. */
  private hellosLeft = 0
  /** Told of whatever is sent, before it goes out. */
  tap: ((text: string, now: number) => void) | null = null

  /** `out`: sends a text; `about`: index of the load that it commands, -1 = none. */
  constructor(
    readonly design: Design,
    linkId: string,
    private readonly out: (text: string, about: number) => void,
    options: LiveOptions = {},
  ) {
    const link = linkOf(design, linkId)
    this.link = link
    this.print = fingerprint(design)
    this.decoder = new Decoder(design, link)
    this.patienceMs = Math.max(LEAST_PATIENCE_MS, 4 * worstWayMs(link))
    this.says = design.loads.map(() => null)
    this.readings = design.sensors.map(() => null)
    const { secret, epochS } = options
    const there = farSurfaces(design).filter(s => s.linkId === linkId)
    const as = options.as === undefined ? (there.find(isPanel)?.id ?? null) : options.as
    const made = (program: SurfaceProgram) =>
      new SurfaceMachine(program, startSurface(program) as SurfaceMachine['state'])
    for (const { id } of servesOne(link) ? there.filter(s => s.id === as) : there)
      this.surfaces.set(id, made(compileSurface(design, id, secret, epochS)))
    const speaker = this.surfaces.get(as ?? '')
    this.speaker = speaker ?? made(listening(design, link, this.patienceMs, secret, epochS))
  }

  /** Id of the surface in whose place it speaks; "" = none of the design. */
  get as(): string {
    const { id } = this.speaker.program.panel
    return id === EAR ? '' : id
  }

  /** Surfaces of the design that are told of here. */
  get watched(): string[] {
    return [...this.surfaces.keys()]
  }

  /** What a key of a surface would show, and what it asked for; null where it is not told here. */
  showing(surfaceId: string, load: number): { shown: string; asked: string | null } | null {
    const machine = this.surfaces.get(surfaceId)
    const belief = machine?.state.beliefs[load]
    if (!machine || !belief || !machine.program.messages[load]) return null
    return { shown: shown(belief), asked: belief.waiting?.asked ?? null }
  }

  opened(now: number): void {
    if (this.up) return
    this.up = true
    this.changedAt = now
    if (this.lastDown !== null) this.delays.outagesMs.push(now - this.lastDown)
    this.all({ kind: 'linkUp', now }, now)
    if (!this.speaker.program.panel.pollMs) this.ask(now)
    this.hellosLeft = HELLOS_AGAIN
    this.askHello(now)
  }

  closed(now: number): void {
    if (!this.up) return
    this.up = false
    this.changedAt = now
    this.lastDown = now
    this.questions = []
    for (const said of this.decoder.rest('down')) this.note(said, now)
    this.all({ kind: 'linkDown', now }, now)
  }

  /** Asks for the state, where the link has a question for it. */
  ask(now: number): void {
    const text = askText(this.link)
    if (text !== '') this.send(text, -1, now)
  }

  /** Asks who is there, where the link has a question for it. */
  askHello(now: number): boolean {
    const code = helloCode(this.link)
    if (code === '') return false
    this.send(wireOf(this.link, code, 'command'), -1, now)
    return true
  }

  /** A key of the surface in whose place it speaks. */
  press(loadId: string, want: string, now: number): void {
    const load = this.design.loads.findIndex(l => l.id === loadId)
    if (load >= 0) this.speak({ kind: 'key', now, load, want }, now)
  }

  scene(sceneId: string, now: number): void {
    const scene = this.design.scenes.findIndex(s => s.id === sceneId)
    if (scene >= 0) this.speak({ kind: 'scene', now, scene }, now)
  }

  /** A text as it is, whatever it says. */
  say(text: string, now: number): void {
    this.send(text, -1, now)
  }

  /** What came. `about`: the load of the command that it answers, where that is known. */
  heard(text: string, via: Via, about: number, now: number): void {
    this.heardAt = now
    this.heardCharacters += text.length
    this.garbled += garbledIn(text)
    for (const said of this.decoder.read('down', text, via)) this.take(said, via, now)
    const event: SurfaceEvent = { kind: 'received', now, text, via, about }
    if (!speaksRoutes(this.link) || via === 'stream') this.all(event, now)
    else
      for (const machine of new Set([...this.surfaces.values(), this.speaker])) {
        // Whoever asks for the state by itself would have been told the same.
        const asks = via === 'ask' && machine.program.panel.pollMs > 0
        if (machine === this.speaker) this.speak(event, now)
        else if (asks) machine.handle(event)
      }
  }

  /** When a tick is wanted, ms; null = never. */
  get due(): number | null {
    let due = this.speaker.nextDue
    for (const machine of this.surfaces.values()) due = earlier(due, machine.nextDue)
    const [oldest] = this.questions
    if (oldest) due = earlier(due, oldest.at + this.patienceMs)
    if (this.decoder.isHalf('down') && this.heardAt !== null)
      due = earlier(due, this.heardAt + HALF_MS)
    return due
  }

  tick(now: number): void {
    if (this.decoder.isHalf('down') && reached(now, (this.heardAt ?? now) + HALF_MS))
      for (const said of this.decoder.rest('down')) this.take(said, 'stream', now)
    const late = this.questions.filter(q => reached(now, q.at + this.patienceMs))
    if (late.length) {
      this.questions = this.questions.filter(q => !late.includes(q))
      this.delays.lost += late.length
      // Over a link that loses something now and then one question is none.
      if (late.some(q => q.about === 'hello') && this.hellosLeft > 0) {
        this.hellosLeft--
        this.askHello(now)
      }
    }
    this.all({ kind: 'tick', now }, now)
  }

  /** Since when somebody waits for an answer, ms; null = nobody does. */
  get waitingSince(): number | null {
    return this.questions[0]?.at ?? null
  }

  private all(event: SurfaceEvent, now: number): void {
    for (const machine of this.surfaces.values())
      if (machine !== this.speaker) machine.handle(event)
    this.speak(event, now)
  }

  private speak(event: SurfaceEvent, now: number): void {
    const { speaker } = this
    // Whatever goes out may be answered before the next goes: what is theirs is taken first.
    const [sends, about] = [[...speaker.handle(event)], [...speaker.about]]
    sends.forEach((text, i) => this.send(text, about[i] ?? -1, now))
  }

  private send(text: string, about: number, now: number): void {
    for (const said of this.decoder.read('up', text)) {
      this.note(said, now)
      this.question(said, now)
    }
    this.tap?.(text, now)
    this.out(text, about)
  }

  private question({ kind, load, value }: Said, now: number): void {
    if (kind === 'ask') this.questions.push({ load: -1, value: null, about: 'state', at: now })
    else if (kind === 'hello')
      this.questions.push({ load: -1, value: null, about: 'hello', at: now })
    else if (kind === 'command' && this.answers(load))
      this.questions.push({
        load,
        value: this.isPlain(value) ? value : null,
        about: 'load',
        at: now,
      })
  }

  /** Whether a command for a load is answered on this link. */
  private answers(load: number): boolean {
    const message = maybeMessage(this.link, this.design.loads[load]?.id ?? '')
    return speaksRoutes(this.link) || (message !== undefined && (message.ack || message.change))
  }

  /** A value that a report can say, not a step or a timer. */
  private isPlain(value: string | null): boolean {
    return value !== null && /^[a-z0-9-]+$/.test(value) && !/^(toggle|up|down|next)$/.test(value)
  }

  private take(said: Said, via: Via, now: number): void {
    const afterMs = this.answered(said, via, now)
    if (said.kind === 'unknown') this.unreadCharacters += said.text.length
    this.note(said, now, afterMs)
    if (said.kind === 'report' && said.value !== null)
      this.says[said.load] = { value: said.value, atMs: now }
    if (said.kind === 'reading' && said.value !== null)
      this.readings[said.sensor] = { value: said.value, atMs: now }
    if (said.hello) {
      if (this.hello && this.hello.starts !== said.hello.starts) this.restarts++
      this.hello = { ...said.hello, atMs: now }
    }
  }

  /** How long ago that was asked which this answers; null = it answers nothing. */
  private answered(said: Said, via: Via, now: number): number | null {
    // Over HTTP what the stream says may overtake the answer: only the answer has been there and
    // back.
    if (speaksRoutes(this.link) && via === 'stream' && streams(this.link)) return null
    const at = this.questions.findIndex(q => answers(q, said))
    const question = this.questions[at]
    if (!question) return null
    this.questions.splice(at, 1)
    const ms = now - question.at
    // A signed command that is handed a number first is there and back twice.
    if (!isSigned(this.link.auth) || question.about !== 'load') this.delays.add(ms)
    return ms
  }

  private note(said: Said, now: number, afterMs: number | null = null): void {
    const { way, kind, text, words, load } = said
    this.counts[kind] = (this.counts[kind] ?? 0) + 1
    this.crossed.push({ n: ++this.n, atMs: now, way, kind, text, words, load, afterMs })
    if (this.crossed.length > MOST_CROSSED) this.crossed.shift()
  }
}

function isPanel(surface: FarSurface): boolean {
  return surface.kind === 'panel'
}

function answers(question: Question, said: Said): boolean {
  switch (question.about) {
    case 'hello':
      return said.kind === 'hello'
    case 'state':
      return said.kind === 'report' || said.kind === 'reading'
    case 'load':
      return (
        said.kind === 'refused'
        || said.kind === 'answer'
        || (said.kind === 'report'
          && said.load === question.load
          && (question.value === null || said.value === question.value))
      )
  }
}

/** Characters that a wrong speed makes of text: control characters, and those beyond ASCII. */
export function garbledIn(text: string): number {
  let count = 0
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i)
    if (code > 126 || (code < 32 && code !== 9 && code !== 10 && code !== 13)) count++
  }
  return count
}

/** Of fewer characters no verdict on the speed is made. */
const ENOUGH_CHARACTERS = 8
const GARBLED_SHARE = 0.3

/** Whether so many characters that no text has, of all that came, tell of a wrong speed. */
export function isGarbled(garbled: number, all: number): boolean {
  return all >= ENOUGH_CHARACTERS && garbled >= GARBLED_SHARE * all
}
