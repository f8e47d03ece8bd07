/**
 * What is told: values and readings, at once, later, or when they may be told again.
 */
import { speaksBytes, speaksRoutes } from '../../design/links/traits'
import { answerOf } from '../../messages/answers'
import { readingBody, readingWire } from '../../messages/readings'
import { clock32, reached } from '../../units/clock'
import { reportBody, reportText } from '../../messages/table'
import type { Load } from '../../design/schema'
import { nearestValue } from '../../design/values'
import type { Program, ProgramLink } from '../program'
import { type Waiting, WHOLE_STATE } from '../state'

import { Work } from './work'

export class Reports extends Work {
  /** Tells a reading, and plans when it may and when it has to be told again. */
  protected tell(i: number, text: string): void {
    const { link, reading } = this.program.readings[i] as Program['readings'][number]
    const { leastMs, everyMs } = reading
    const { now } = this.state
    this.patchTold(i, {
      text,
      freeAt: leastMs ? clock32(now + leastMs) : null,
      owed: false,
      everyDue: everyMs ? clock32(now + everyMs) : null,
    })
    if (text !== '' && this.unasked(link)) this.send(link, -1 - i)
  }

  /** Tells a value unasked, now or as soon as the link allows. */
  protected tellLoad(index: number, load: number): boolean {
    const least = this.linkAt(index).least?.[load]
    if (least && least.freeAt !== null && !reached(this.state.now, least.freeAt)) {
      if (!least.owed) this.patchLeast(index, load, { ...least, owed: true })
      return false
    }
    return this.send(index, load)
  }

  /** Readings of a link that are known, as bodies or as they are sent. */
  protected readingsOn(index: number, form: typeof readingBody): string[] {
    return this.program.readings.flatMap((r, i) => {
      const text = r.link === index ? this.readingNow(i) : ''
      return text === ''
        ? []
        : [form((this.program.links[index] as ProgramLink).link, r.reading, text)]
    })
  }

  /** Whether the board can speak on a link without being asked. */
  protected unasked(index: number): boolean {
    const link = this.program.links[index] as ProgramLink
    return speaksBytes(link.link) || link.streams
  }

  /**
   * Hands a text, a report or a reading to the link, or lets it wait there. Returns whether it was
   * taken.
   */
  protected send(index: number, what: Waiting): boolean {
    const { up, busy } = this.linkAt(index)
    if (!up || what === '') return false
    if (typeof what === 'number' && this.textFor(index, what) === '') return false
    return busy ? this.wait(index, what) : this.emit(index, what)
  }

  protected emit(index: number, what: Waiting): boolean {
    const { link } = this.program.links[index] as ProgramLink
    this.effects.push({ kind: 'send', link: index, text: this.textFor(index, what) })
    if (isReport(what) && what >= 0 && link.leastMs)
      this.patchLeast(index, what, { freeAt: clock32(this.state.now + link.leastMs), owed: false })
    if (link.queue && !this.linkAt(index).busy) this.patchLink(index, { busy: true })
    return true
  }

  protected textFor(index: number, what: Waiting): string {
    if (typeof what === 'string') return what
    if (what === WHOLE_STATE) return this.stateText(index)
    if (what >= 0) return this.report(this.program.links[index] as ProgramLink, what)
    const { reading } = this.program.readings[-1 - what] as Program['readings'][number]
    return readingWire(
      (this.program.links[index] as ProgramLink).link,
      reading,
      this.readingNow(-1 - what),
    )
  }

  /**
   * A report of what waits already keeps its place; where all places are taken the oldest report
   * gives way. Answers are never given up.
   */
  protected wait(index: number, what: Waiting): boolean {
    const { queue, dropped } = this.linkAt(index)
    if (typeof what === 'number' && queue.includes(what)) return true
    const most = (this.program.links[index] as ProgramLink).link.queue
    const oldest =
      isReport(what) && queue.filter(isReport).length >= most ? queue.findIndex(isReport) : -1
    this.patchLink(index, {
      queue: [...(oldest < 0 ? queue : queue.filter((_, i) => i !== oldest)), what],
      dropped: dropped + Number(oldest >= 0),
    })
    return true
  }

  /** What is on its way has left: the next that waits follows, made from the state of now. */
  protected sent(index: number): void {
    const { queue } = this.linkAt(index)
    if (queue.length === 0) return this.patchLink(index, { busy: false })
    this.patchLink(index, { queue: queue.slice(1) })
    this.emit(index, queue[0] as Waiting)
  }

  protected sendState(index: number): void {
    const { leastMs } = (this.program.links[index] as ProgramLink).link
    if (this.send(index, WHOLE_STATE) && leastMs)
      this.patchLink(index, {
        least: this.program.loads.map(() => ({
          freeAt: clock32(this.state.now + leastMs),
          owed: false,
        })),
      })
  }

  protected stateText(index: number): string {
    return (this.states[index] ??= this.wholeState(index))
  }

  protected wholeState(index: number): string {
    const link = this.program.links[index] as ProgramLink
    if (speaksRoutes(link.link))
      return answerOf(link.link.answers, [
        ...link.carried.map(load => this.line(link, load)),
        ...this.readingsOn(index, readingBody),
      ])
    let text = ''
    for (const load of link.carried) text += this.report(link, load)
    return this.program.readings.length ? text + this.readingsOn(index, readingWire).join('') : text
  }

  /** "fan=1" of a load. */
  protected line(link: ProgramLink, load: number): string {
    return this.toldAs(link, load, 'lines')
  }

  protected report(link: ProgramLink, load: number): string {
    return this.toldAs(link, load, 'reports')
  }

  /** A number that has no text here is told as the named value nearest to it. */
  private toldAs(link: ProgramLink, load: number, as: 'lines' | 'reports'): string {
    const message = link.messages[load]
    const value = this.state.value[load] as string
    const text = message?.[as].get(value)
    if (!message || text !== undefined) return text ?? ''
    const { loads } = this.program
    const told = as === 'lines' ? reportBody : reportText
    return (
      told(link.link, loads[load] as Load, message.message, value)
      || (message[as].get(nearestValue(this.outputOf(load), Number(value))) ?? '')
    )
  }
}

/** A value that is told; an answer or the whole state is none. */
function isReport(what: Waiting): what is number {
  return typeof what === 'number' && what !== WHOLE_STATE
}
