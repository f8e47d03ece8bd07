/** What can be under way on a link, by number. */
import type { Link } from '../../design/schema'
import { TooLarge } from './table'
import type { Via } from '../../surfaces/surface'
import { bodyIn } from '../../design/wire'
import { lengthOf, messageAt } from '../packing'
import { numberBehind, withNumber } from '../../messages/numbers'

/** Different messages that one link can carry in a search: each has a byte, and 0 means none. */
export const MOST_MESSAGES = 255

interface Lanes {
  queue: number
  tags: number
}
/**
 * What may overtake what on a link: anything sent anything else; an echo what was sent before it,
 * or what came later too.
 */
export interface Ordered {
  readonly datagrams: boolean
  readonly echoesFirst: boolean
}

/**
 * Message texts by number; 0 means none. `link`: where commands carry numbers, what each of them
 * carries is known too.
 */
export class Messages {
  private readonly numbers = new Map<string, number>()
  readonly texts: { text: string; via: Via; echo?: true }[] = [{ text: '', via: 'stream' }]
  /**
   * By message: the number that the command carries, or 0; and the message that says the same
   * without one.
   */
  readonly carried: number[] = [0]
  readonly bases: number[] = [0]
  private readonly known = new Map<number, number>()
  private readonly lanes = new Map<number, Lanes>()

  constructor(private readonly link: Link | null = null) {}

  /** `echo`: it comes back to its sender, as a stream of bytes like any other. */
  number(text: string, via: Via, echo = false): number {
    const key = `${echo ? 'echo' : via} ${text}`
    let n = this.numbers.get(key)
    if (n === undefined) {
      n = this.texts.push({ text, via, ...(echo ? { echo: true } : {}) }) - 1
      if (n > MOST_MESSAGES)
        throw new TooLarge(`more than ${MOST_MESSAGES} different messages cross this link`)
      this.numbers.set(key, n)
      const behind =
        this.link?.numbered && via === 'command' && !echo
          ? numberBehind(this.link, bodyIn(this.link, text))
          : null
      this.carried[n] = behind?.number ?? 0
      this.bases[n] = n
      if (behind && this.link)
        this.bases[n] = this.number(
          `${behind.body}${text.slice(bodyIn(this.link, text).length)}`,
          via,
        )
    }
    return n
  }

  /** The message as it comes back to its sender. */
  echoed(message: number): number {
    return this.number(this.texts[message]?.text ?? '', 'stream', true)
  }

  isEcho(message: number): boolean {
    return this.texts[message]?.echo === true
  }

  /**
   * Where there is an echo the first of what was sent may come, any of it where it is datagrams, or
   * the first of what comes back. Nothing that comes back is lost, or comes twice. `back`: what is
   * under way the other way. Where `echoesFirst`, what was sent comes neither before its own echo
   * nor before one that was on its way when it was sent; otherwise those lie behind all that was
   * sent.
   */
  mayCome(
    queue: number,
    back: number,
    nth: number,
    { keeps, lost }: { keeps: boolean; lost?: true },
    { datagrams, echoesFirst }: Ordered,
  ): boolean {
    let echoBefore = false
    for (let i = 0; i < nth; i++) echoBefore ||= this.isEcho(messageAt(queue, i))
    if (this.isEcho(messageAt(queue, nth))) return !keeps && !lost && !echoBefore
    if (!datagrams && nth > 0) return false
    return (
      !echoesFirst
      || lost === true
      || (!echoBefore && this.isAfterItsEcho(queue, messageAt(queue, nth), back))
    )
  }

  /**
   * Of what comes back less is an echo of a message than there are copies of it on their way: one
   * at least has been heard by its sender.
   */
  private isAfterItsEcho(queue: number, message: number, back: number): boolean {
    const said = this.texts[message]?.text
    let copies = 0
    for (let rest = queue; rest !== 0; rest >>>= 8) if ((rest & 0xff) === message) copies++
    for (let rest = back; rest !== 0; rest >>>= 8)
      if (this.isEcho(rest & 0xff) && this.texts[rest & 0xff]?.text === said) copies--
    return copies > 0
  }

  /**
   * Messages in one order for all that go the same way: what may come in any order is sorted. And a
   * bit of each with it.
   */
  laned(queue: number, tags: number, link: Ordered): Lanes {
    const key = ((queue >>> 0) * 16 + tags) * 2 + Number(link.echoesFirst)
    let known = this.lanes.get(key)
    if (!known) this.lanes.set(key, (known = this.sortedOut(queue, tags, link)))
    return known
  }

  private sortedOut(queue: number, tags: number, { datagrams, echoesFirst }: Ordered): Lanes {
    const places = Array.from({ length: lengthOf(queue) }, (_, i) => ({
      message: messageAt(queue, i),
      tag: (tags >>> i) & 1,
    }))
    const isEcho = (x: { message: number }) => this.isEcho(x.message)
    // Between two echoes anything may come first.
    const lane = echoesFirst
      ? places.map(
          (_, i) => places.slice(0, i).filter(isEcho).length * 2 + Number(isEcho(places[i]!)),
        )
      : places.map(x => Number(isEcho(x)))
    const order = places
      .map((place, i) => ({ ...place, lane: lane[i] as number }))
      .toSorted(
        (a, b) =>
          a.lane - b.lane || (datagrams && !isEcho(a) ? a.message - b.message || a.tag - b.tag : 0),
      )
    return {
      queue: order.reduce((all, x, i) => all | (x.message << (8 * i)), 0),
      tags: order.reduce((all, x, i) => all | (x.tag << i), 0),
    }
  }

  /**
   * The same command with the number that stands for its own in a new count: its place in `order`,
   * from 1.
   */
  renumbered(n: number, order: readonly number[]): number {
    const number = order.indexOf(this.carried[n] as number) + 1
    return number === 0 ? n : this.withNumber(this.bases[n] as number, number)
  }

  /** A command without a number, with one. */
  withNumber(base: number, number: number): number {
    if (number === 0 || !this.link) return base
    const key = base * 64 + number
    let known = this.known.get(key)
    if (known === undefined) {
      const { text } = this.texts[base] as { text: string }
      const body = bodyIn(this.link, text)
      this.known.set(
        key,
        (known = this.number(
          `${withNumber(this.link, body, number)}${text.slice(body.length)}`,
          'command',
        )),
      )
    }
    return known
  }
}
