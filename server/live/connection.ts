/**
 * A link of a design that this server holds open: the wire to its other end, and what is made of
 * what comes.
 */
import type { Design } from '../../core/design/schema'
import { LiveLink, type LiveOptions } from '../../core/live/link'
import type { Via } from '../../core/surfaces/surface'
import type { Wire, WireEvents } from './wires/wire'

/** More than this in a second is a flood; what comes beyond is counted, not read, characters. */
const FLOOD = 60_000
const SECOND_MS = 1000
/** Between two questions of a measurement, ms: a board has other things to do. */
const BETWEEN_MS = 60

export interface Opening {
  id: string
  design: Design
  revision: number
  linkId: string
  /** How it is reached, in words. */
  where: string
  options: LiveOptions
  /** Opens the wire. */
  opens: (events: WireEvents) => Wire
  /** What is on the pins of a board that runs here; null where nobody knows. */
  pins?: (() => Readonly<Record<string, string>> | null) | undefined
  /** Something may be told. */
  changed: () => void
  /** ms, whole, of whoever holds several. */
  clock: () => number
}

export class Connection {
  readonly live: LiveLink
  readonly openedAt = new Date().toISOString()
  why = 'connecting'
  /** Characters that were not read, for there were too many. */
  flooded = 0
  private wire: Wire
  private timer: NodeJS.Timeout | undefined
  private closed = false
  /** Questions that are still to be asked, for measuring. */
  measuring = 0
  private asking: NodeJS.Timeout | undefined
  private second = 0
  private inSecond = 0

  constructor(readonly of: Opening) {
    this.live = new LiveLink(
      of.design,
      of.linkId,
      (text, about) => this.wire.send(text, about),
      of.options,
    )
    this.wire = this.opened()
  }

  private opened(): Wire {
    return this.of.opens({
      up: () =>
        this.does(now => {
          this.why = ''
          this.live.opened(now)
        }),
      down: why =>
        this.does(now => {
          this.why = why
          this.live.closed(now)
        }),
      heard: (text, via, about) => this.heard(text, via, about),
    })
  }

  /** Lets its other end go, for a drill, until it is taken up again. */
  drop(): void {
    this.wire.close()
    this.does(now => {
      this.why = 'let go for a drill'
      this.live.closed(now)
    })
  }

  restore(): void {
    if (!this.closed) this.wire = this.opened()
  }

  get now(): number {
    return this.of.clock()
  }

  get wireItself(): Wire {
    return this.wire
  }

  /** Whatever is done with it; timers are set anew, and whoever looks is told. */
  does(deed: (now: number) => void): void {
    if (this.closed) return
    // A wire may tell something before it is given back.
    if (!this.wireGiven()) return void queueMicrotask(() => this.does(deed))
    deed(this.now)
    this.plan()
    this.of.changed()
  }

  /**
   * Asks for the state so many times, one after another; nothing is switched by it. 0 ends it.
   */
  measure(times: number): void {
    clearInterval(this.asking)
    this.measuring = times
    this.asking = setInterval(() => {
      if (this.measuring <= 0) return clearInterval(this.asking)
      if (!this.live.up || this.live.waitingSince !== null) return
      this.measuring--
      this.does(now => this.live.ask(now))
    }, BETWEEN_MS).unref()
    this.of.changed()
  }

  close(): void {
    this.closed = true
    clearTimeout(this.timer)
    clearInterval(this.asking)
    this.wire.close()
  }

  private wireGiven(): boolean {
    return (this.wire as Wire | undefined) !== undefined
  }

  private heard(text: string, via: Via, about: number): void {
    const second = Math.floor(this.now / SECOND_MS)
    if (second !== this.second) [this.second, this.inSecond] = [second, 0]
    const room = Math.max(0, FLOOD - this.inSecond)
    this.inSecond += text.length
    this.flooded += Math.max(0, text.length - room)
    if (room > 0) this.does(now => this.live.heard(text.slice(0, room), via, about, now))
  }

  private plan(): void {
    clearTimeout(this.timer)
    const { due } = this.live
    if (due === null || this.closed) return
    this.timer = setTimeout(
      () => this.does(now => this.live.tick(now)),
      Math.max(1, due - this.now),
    )
    this.timer.unref()
  }
}
