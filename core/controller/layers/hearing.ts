/**
 * What comes over a link: from bytes or a route to what it asks for, and the answer.
 */
import { isAnswered, isDatagram, speaksBytes, speaksRoutes } from '../../design/links/traits'
import { endOf } from '../../design/wire'
import { answerOf, doneAnswer } from '../../messages/answers'
import { drawn, toldCounter } from '../../messages/sealing'
import { helloText } from '../../messages/table'
import { clock32 } from '../../units/clock'
import { feed, type Heard } from '../../messages/stream'
import { adopted } from '../outputs/follower'
import { adopts, wanted } from '../outputs/rows'
import type { ProgramLink, Program } from '../program'
import { heardIn, understood, type Meaning, type Understood } from '../../messages/meaning'
import type { Status } from '../state'
import { isFollower } from '../../design/outputs/traits'

import { Hands } from './hands'
import { readingBody } from '../../messages/readings'

/** Numbers of commands that are remembered at once. */
const MOST_SEEN = 32

/** What a least time, or an end contact, does not allow now. */
const TOO_SOON = 'not allowed now'

export class Hearing extends Hands {
  protected received(index: number, text: string, request: number | undefined): void {
    const link = this.program.links[index] as ProgramLink
    if (speaksRoutes(link.link)) return this.route(index, link, text, request)
    const { buffer } = this.linkAt(index)
    if (buffer === '') {
      const { heard, buffer: rest } = heardIn(link, text)
      for (const h of heard) this.hear(index, link, h)
      if (rest !== '') this.patchLink(index, { buffer: rest })
    } else for (const char of text) this.char(index, link, char)
    // A datagram is whole: what is left half-read at its end is no start of the next.
    if (isDatagram(link.link) && this.linkAt(index).buffer !== '')
      this.patchLink(index, { buffer: '' })
  }

  protected char(index: number, link: ProgramLink, char: string): void {
    const { buffer, heard } = feed(link.reader, this.linkAt(index).buffer, char)
    this.patchLink(index, { buffer })
    for (const h of heard) this.hear(index, link, h)
  }

  protected hear(index: number, link: ProgramLink, heard: Heard): void {
    const found = this.understood(index, link, heard.kind === 'code' ? heard.code : heard.bytes)
    const meaning = this.meaning(index, found)
    // Whoever says something that is understood is who asked last; nonsense is answered and leaves
    // no trace.
    const knew = this.linkAt(index).up
    if (link.answersAskers && !knew) this.patchLink(index, { up: true })
    if (!meaning) {
      const told = this.toldWith(index, link, found)
      this.send(index, told === '' ? link.error : told + endOf(link.link))
      if (link.answersAskers && !knew) this.patchLink(index, { up: false })
      return
    }
    switch (meaning.kind) {
      case 'ask':
        return this.sendState(index)
      case 'hello':
        return void this.send(index, this.helloText(link))
      case 'started':
        return this.started(index)
      case 'reading':
        return
      default:
        this.commands(
          index,
          link,
          meaning.kind === 'scene' ? meaning.sets : [meaning],
          !this.isNew(index, found),
        )
    }
  }

  private understood(index: number, link: ProgramLink, text: string): Understood {
    const { window, handed } = this.linkAt(index)
    return understood(link, window, text, this.clockS, handed?.number)
  }

  /** What a refusal tells of the number that is to be signed; "" where it tells none. */
  private toldWith(index: number, link: ProgramLink, found: Understood): string {
    if (found.kind !== 'refused') return ''
    const told = found.asks ? this.handedOut(index, link) : found.told
    return told === undefined ? '' : toldCounter(link.link, told)
  }

  /** The number that is good now, or a new one: whoever asks is given the same. */
  private handedOut(index: number, { link, secret }: ProgramLink): number {
    const { handed } = this.linkAt(index)
    if (handed || !isAnswered(link.auth)) return handed?.number ?? 0
    const { starts, drawn: before, now } = this.state
    this.state.drawn = before + 1
    const number = drawn(secret, this.program.salt, { starts, link: index, drawn: before + 1 })
    this.patchLink(index, {
      handed: { number, until: clock32(now + link.auth.validS * 1000) },
    })
    return number
  }

  /** What was understood; what proved a command is not taken again. */
  protected meaning(index: number, found: Understood): Meaning | undefined {
    if (found.kind !== 'meant') return undefined
    if (found.proved && this.linkAt(index).handed) this.patchLink(index, { handed: null })
    if (found.window !== this.linkAt(index).window) this.patchLink(index, { window: found.window })
    return found.meaning
  }

  /** Whether a command is no repeat: its number was not seen lately. The number is remembered. */
  protected isNew(index: number, found: Understood): boolean {
    const windowMs = this.program.links[index]?.link.numbered?.windowMs
    if (found.kind !== 'meant' || found.number === undefined || windowMs === undefined) return true
    const { seen } = this.linkAt(index)
    const again = seen.some(s => s.number === found.number)
    if (!again)
      this.patchLink(index, {
        seen: [
          ...seen.slice(-MOST_SEEN + 1),
          { number: found.number, until: clock32(this.state.now + windowMs) },
        ],
      })
    return !again
  }

  /**
   * The sender has just started: what it says first about each load is where it stands, not what it
   * wants.
   */
  protected started(index: number): void {
    this.patchLink(index, { adopts: this.program.loads.map(() => true) })
  }

  /** The same told by a flag of a message, for its load alone. */
  private startedWith(index: number, load: number): void {
    const { adopts } = this.linkAt(index)
    this.patchLink(index, {
      adopts: this.program.loads.map((_, i) => i === load || adopts[i] === true),
    })
  }

  protected commands(
    index: number,
    link: ProgramLink,
    sets: readonly { load: number; value: string; fresh?: true }[],
    again: boolean,
  ): void {
    for (const { load, value, fresh } of sets) {
      if (fresh) this.startedWith(index, load)
      if (again) this.acknowledge(index, link, load)
      else this.command(index, link, load, this.meant(load, value))
    }
  }

  protected helloText(link: ProgramLink): string {
    return helloText(link.link, this.program.fingerprint, this.state.starts)
  }

  protected route(
    index: number,
    link: ProgramLink,
    route: string,
    request: number | undefined,
  ): void {
    const found = this.understood(index, link, route)
    const meaning = this.meaning(index, found)
    const answers = speaksRoutes(link.link) ? link.link.answers : 'text'
    const reply = (text: string, status: Status, to: 'command' | 'ask' | 'refused') =>
      this.effects.push({ kind: 'reply', link: index, text, status, to, request })
    if (!meaning)
      return void (found.kind === 'refused'
        ? reply(found.why + this.toldWith(index, link, found), 403, 'refused')
        : reply('no such route', 404, 'refused'))
    switch (meaning.kind) {
      case 'ask':
        return void reply(this.stateText(index), 200, 'ask')
      case 'reading':
        return this.readingAlone(index, meaning.sensorId, reply)
      case 'hello':
        return void reply(this.helloText(link), 200, 'command')
      case 'started':
        return
    }
    const sets = meaning.kind === 'scene' ? meaning.sets : [meaning]
    const again = !this.isNew(index, found)
    let refused = false
    if (!again)
      for (const { load, value } of sets)
        refused = this.command(index, link, load, this.meant(load, value)) || refused
    const told = sets.flatMap(({ load }) =>
      link.messages[load]?.ack ? [this.line(link, load)] : [],
    )
    const untold = refused ? TOO_SOON : doneAnswer(answers)
    reply(
      told.length ? answerOf(answers, told) : untold,
      refused ? 409 : 200,
      refused ? 'refused' : 'command',
    )
  }

  /** The value of one sensor: bare as text, else as any answer. */
  private readingAlone(
    index: number,
    sensorId: string,
    reply: (text: string, status: Status, to: 'ask' | 'refused') => void,
  ): void {
    const { readings, links } = this.program
    const i = readings.findIndex(r => r.link === index && r.reading.sensorId === sensorId)
    const { link } = links[index] as ProgramLink
    const now = i < 0 ? '' : this.readingNow(i)
    if (now === '') return reply('not known yet', 409, 'refused')
    const { reading } = readings[i] as Program['readings'][number]
    if (!speaksRoutes(link) || link.answers === 'text') return reply(now, 200, 'ask')
    reply(answerOf(link.answers, [readingBody(link, reading, now)]), 200, 'ask')
  }

  /**
   * A command sets the output; its link hears an acknowledgement when designed so, at most one
   * report in all. Returns whether it was refused.
   */
  protected command(index: number, link: ProgramLink, load: number, value: string): boolean {
    if (this.linkAt(index).adopts[load] && adopts(this.outputOf(load))) {
      this.adopt(index, load, value)
      // Whoever asked for something else than is so has to hear it, however the link reports.
      if (this.unasked(index)) this.send(index, load)
      return false
    }
    const outcome = wanted(this.outputOf(load), this.outcomeOf(load), value, {
      now: this.state.now,
      holder: index,
      byHand: false,
    })
    if (outcome.refused) this.send(index, link.error)
    const told = this.become(load, outcome)
    if (!((told >> index) & 1)) this.acknowledge(index, link, load)
    return outcome.refused === true
  }

  protected acknowledge(index: number, link: ProgramLink, load: number): void {
    if (link.messages[load]?.ack && (speaksBytes(link.link) || link.streams)) this.send(index, load)
  }

  protected adopt(index: number, load: number, value: string): void {
    this.patchLink(index, { adopts: this.linkAt(index).adopts.with(load, false) })
    if (isFollower(this.outputOf(load))) this.become(load, adopted(this.outcomeOf(load), value))
  }
}
