/** What is on its way in a story, from sender to end, and the fate of each message on the bench. */
import type { Fate } from '../../bench/wire'
import { isAnswered, worstWayMs } from '../../design/links/traits'
import type { Link } from '../../design/schema'
import { wireMs } from '../../links/timing'
import { counterIn } from '../../messages/sealing'
import type { SystemEvent } from '../happenings'
import type { Cast } from './cast'

/** `message`: its number in the system by now. */
interface Sent {
  message: number
  text: string
  at: number
  fate: Fate | undefined
}

/**
 * A message of the bench is taken for one of the story when it is sent this near to its time, ms.
 */
const NEAR_MS = 12
/** What happens on the way of a message. */
const ARRIVES: readonly SystemEvent['kind'][] = [
  'deliverUp',
  'deliverDown',
  'doubleUp',
  'doubleDown',
]
/** After these nothing is on its way any more. */
const FALLS: readonly SystemEvent['kind'][] = ['drop', 'cut', 'restart']

type Dir = 'up' | 'down'
/** Messages of each way, by their numbers. */
export type Queues = Record<Dir, number[]>

/** Which way a message goes whose arrival, loss or doubling an event is. */
function wayOf(event: SystemEvent): { dir: Dir; place: number } | null {
  if (!('place' in event)) return null
  return { dir: event.kind.endsWith('Up') ? 'up' : 'down', place: event.place }
}

export class Flight {
  /** What is sent in the story, in its order; fates are filled in as they come. */
  private readonly sent: Record<Dir, Sent[]> = { up: [], down: [] }
  private readonly inFlight: Record<Dir, Sent[]> = { up: [], down: [] }
  /**
   * Commands of other surfaces. `alone`: what follows it by itself, to keep a load going, does not
   * come: its sender fell asleep.
   */
  readonly others: { linkId: string; at: number; fate: number; alone: boolean }[] = []
  readonly sentAt: { up?: number; down?: number } = {}
  /** The number that the board handed out, as long as no command has used it. */
  private handed: number | null = null
  /** Some message took longer, or less, than the link states. */
  beyond = false

  constructor(private readonly cast: Cast) {}

  get isEmpty(): boolean {
    return this.inFlight.up.length === 0 && this.inFlight.down.length === 0
  }

  /** Follow each message through an event at `t`, ms, from what was under way to what is. */
  follow(event: SystemEvent, before: Queues, s: Int32Array, t: number): void {
    const way = wayOf(event)
    for (const dir of ['up', 'down'] as const) {
      if (way?.dir === dir) this.ends(event, dir, before[dir][way.place], t)
      else if (FALLS.includes(event.kind))
        for (const m of this.inFlight[dir].splice(0)) m.fate ??= t + 1
      this.departs(dir, s, t)
    }
  }

  /** A message arrives, for good or to come once more, or is lost. */
  private ends({ kind }: SystemEvent, dir: Dir, message: number | undefined, t: number): void {
    const flight = this.inFlight[dir]
    const at = flight.findIndex(m => m.message === message)
    const m = flight[at]
    if (!m) return
    m.fate = kind.startsWith('lose') ? (m.fate ?? 'lost') : arrivesToo(m, t)
    if (!kind.startsWith('double')) flight.splice(at, 1)
  }

  /** What is on its way and was not before has just been sent. */
  private departs(dir: Dir, s: Int32Array, t: number): void {
    const { system } = this.cast
    const flight = this.inFlight[dir]
    if (dir === 'up') for (const m of flight) m.message = system.renamed.get(m.message) ?? m.message
    const known = flight.map(m => m.message)
    for (const message of system.queueOf(s, dir)) {
      const at = known.indexOf(message)
      if (at >= 0) {
        known.splice(at, 1)
        continue
      }
      const text = system.messages.texts[message]?.text ?? ''
      const m: Sent = { message, text, at: t, fate: undefined }
      flight.push(m)
      this.sentAt[dir] = t
      // What comes back does so by itself.
      if (!system.messages.isEcho(message)) this.sent[dir].push(m)
    }
  }

  /** The message that an event is about, and its place among those on their way. */
  private about(event: SystemEvent, s: Int32Array): { dir: Dir; message: number } | null {
    const way = wayOf(event)
    if (!way || !event.kind.startsWith('deliver')) return null
    return { dir: way.dir, message: this.cast.system.queueOf(s, way.dir)[way.place] ?? 0 }
  }

  /** Whether something that was sent earlier is still on its way. */
  overtakes(event: SystemEvent, s: Int32Array): boolean {
    const about = this.about(event, s)
    return (
      about !== null && this.inFlight[about.dir].findIndex(m => m.message === about.message) > 0
    )
  }

  /** When a command has arrived already that arrives once more, ms; null for all else. */
  arrivedAt(event: SystemEvent, s: Int32Array): number | null {
    const about = this.about(event, s)
    if (about?.dir !== 'up') return null
    const fate = this.inFlight.up.find(m => m.message === about.message)?.fate
    return typeof fate === 'number' ? fate : null
  }

  /** When what is to come back does so, ms; null for all else. */
  echoComing(event: SystemEvent, s: Int32Array): number | null {
    const about = this.about(event, s)
    const { link, system } = this.cast
    if (!about || !link || !system.messages.isEcho(about.message)) return null
    const sent = this.inFlight[about.dir].find(m => m.message === about.message)
    return sent ? this.echoAt(link, sent) : null
  }

  private echoAt(link: Link, { at, text }: Sent): number {
    return at + Math.max(1, wireMs(this.cast.design, link, text))
  }

  /**
   * How long there is at `t` until something comes back that is still to come in the story, ms. In
   * the same ms hands come first, then what arrives.
   */
  beforeEcho(event: SystemEvent, t: number): number {
    const { link, system } = this.cast
    if (!link || !system.echoes) return Infinity
    const coming = [...this.inFlight.up, ...this.inFlight.down].filter(m =>
      system.messages.isEcho(m.message),
    )
    const first = Math.min(...coming.map(m => this.echoAt(link, m)))
    const arrives = ARRIVES.includes(event.kind) || ('link' in event && event.link > 0)
    return Math.max(0, first - t - Number(arrives))
  }

  /**
   * What another surface says in the story arrives when it does there; what it would say by itself
   * to keep a load going is lost.
   */
  otherFate(linkId: string, now: number): Fate | undefined {
    const told = this.others.find(o => o.linkId === linkId && o.at === now)
    if (told) return told.fate
    return this.others.some(o => o.linkId === linkId && o.alone && o.at < now) ? 'lost' : undefined
  }

  /**
   * What is sent on the bench is the next of the story with its words, where it comes at its time.
   */
  fateOf(dir: Dir, text: string, now: number): Fate | undefined {
    const { link } = this.cast
    if (link && isAnswered(link.auth) && this.asksNumber(link, dir, text)) return now + 1
    // A report that was told a moment ago may be held back.
    const heldBackMs = dir === 'down' ? (link?.leastMs ?? 0) : 0
    const near = this.sent[dir].map(
      m => now - m.at >= -NEAR_MS && now - m.at <= NEAR_MS + heldBackMs,
    )
    let at = this.sent[dir].findIndex((m, i) => near[i] && m.text === text)
    // Numbers and proofs stand behind the words of the story.
    if (at < 0 && dir === 'up' && link && (link.numbered || link.auth.kind !== 'none'))
      at = near.indexOf(true)
    if (at < 0) return undefined
    const [m] = this.sent[dir].splice(at, 1)
    if (m?.fate === undefined) return undefined
    if (dir === 'up' && m.fate !== 'lost') this.handed = null
    const late = Math.max(0, now - m.at - NEAR_MS)
    const fate = late && typeof m.fate === 'number' ? m.fate + late : m.fate
    this.beyond ||= !this.isStated(fate, text, now)
    return fate
  }

  /**
   * A command that only asks for a number to sign, and the refusal that hands it out: the story
   * knows neither, so they are there at once.
   */
  private asksNumber(link: Link, dir: Dir, text: string): boolean {
    if (dir === 'up') return this.handed === null || !text.includes(String(this.handed))
    const told = counterIn(link, text.trimEnd())
    if (told !== null) this.handed = told
    return told !== null
  }

  /** Whether a link can bring that about within its stated times. */
  private isStated(fate: Fate, text: string, now: number): boolean {
    const { link, design } = this.cast
    if (!link) return true
    if (fate === 'lost') return link.timing.lossPerMille > 0
    const wire = wireMs(design, link, text)
    const [first = 0, ...more] = [fate].flat()
    return (
      first - now >= Math.min(link.timing.minMs, 1)
      && first - now <= worstWayMs(link) + wire
      && more.every(t => t - now <= 2 * worstWayMs(link) + wire)
    )
  }
}

/** Now, and where it arrived before already then too. */
function arrivesToo({ fate }: Sent, t: number): Fate {
  if (typeof fate === 'number') return [fate, t]
  return Array.isArray(fate) ? [...fate, t] : t
}
