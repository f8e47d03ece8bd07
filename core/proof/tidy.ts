/**
 * Situations that differ in nothing but a name are one. Of datagrams any may arrive next, so their
 * order on the way is no matter: they lie sorted. Numbers of commands grow without end, and no more
 * of them is known than which are the same: those that something under way carries, or that the
 * surface waits with, are counted from 1 anew after each step, and the board forgets all others,
 * for no command can come with them any more. Two situations that differ only in which number is
 * which go the same way for ever.
 */
import type { Frame, Sink } from './frame'
import { NEXT } from './tables/table'
import { ALL_TAGS, messageAt, MOST_EACH_WAY, sorted, sortedWith, TAGS } from './packing'

type Renumbered = readonly [c: number, p: number, up: number, renamed: ReadonlyMap<number, number>]
interface Place {
  was: number
  message: number
  tag: number
}
interface InUse {
  number: number
  mark: string
}

export class Tidy {
  /** Names of messages, before and after the step that was made tidy last. */
  renamed: ReadonlyMap<number, number> = new Map()
  /** By messages on the way up, then by board, surface and tags. */
  private readonly known = new Map<number, Map<number, Renumbered>>()
  /** No two situations differ in a name only. */
  readonly idle: boolean

  constructor(
    private readonly system: Frame,
    private readonly datagrams: boolean,
  ) {
    this.idle = !datagrams && !system.numbered && !system.echoes
  }

  /** Datagrams of which nothing is written down: there is nothing to do but to sort them. */
  get sortsOnly(): boolean {
    return (
      this.datagrams
      && !this.system.echoes
      && !this.system.numbered
      && !this.system.pace.active
      && this.system.question !== 'twice'
    )
  }

  add(w0: number, w1: number, up: number, down: number, event: number, sink: Sink): void {
    const { watch, pace } = this.system
    if (this.idle) {
      if (!watch.isOver(w0, w1)) sink.add(w0, w1, up, down, event)
      return
    }
    if (this.system.echoes) {
      const { messages, ordered } = this.system
      const sent = messages.laned(up, (w1 >>> TAGS) & 0xf, ordered)
      const next = (w1 & ~ALL_TAGS) | (sent.tags << TAGS)
      if (!watch.isOver(w0, next))
        sink.add(w0, next, sent.queue, messages.laned(down, 0, ordered).queue, event)
      return
    }
    if (!this.system.numbered && !pace.active && (w1 & ALL_TAGS) === 0) {
      if (!watch.isOver(w0, w1)) sink.add(w0, w1, sorted(up), sorted(down), event)
      return
    }
    let [next0, next1, nextUp] = [w0, w1, up]
    if (this.system.numbered) {
      const [c, p, queue, renamed] = this.renumbered(w0, w1, up)
      next0 = (w0 & ~NEXT.controller) | c
      next1 = (w1 & ~(NEXT.panel | ALL_TAGS)) | p
      nextUp = queue
      this.renamed = renamed
    }
    if (watch.isOver(next0, next1)) return
    if (!this.datagrams) return sink.add(next0, next1, nextUp, down, event)
    const tags = next1 & ALL_TAGS
    if (tags !== 0) {
      const both = sortedWith(nextUp, tags >>> TAGS)
      nextUp = both.queue
      next1 = (next1 & ~ALL_TAGS) | (both.tags << TAGS)
    } else nextUp = sorted(nextUp)
    if (!pace.active) return sink.add(next0, next1, nextUp, sorted(down), event)
    const [paced, nextDown] = pace.sorted(next0, down)
    sink.add(paced, next1, nextUp, nextDown, event)
  }

  /**
   * Board and surface without any numbers: what is so of them apart from which commands were seen.
   */
  faceless(w0: number, w1: number): [number, number] {
    const { system } = this
    const plain = system.pace.untagged(w0)
    if (!system.numbered) return [plain, w1]
    return [
      (plain & ~NEXT.controller) | system.controller.renumbered(w0 & NEXT.controller, []),
      (w1 & ~NEXT.panel) | (system.panel?.renumbered(w1 & NEXT.panel, []) ?? 0),
    ]
  }

  /**
   * Board, surface and what is on its way up with numbers counted anew, and how messages are called
   * since.
   */
  private renumbered(w0: number, w1: number, up: number): Renumbered {
    const { controller, panel, messages } = this.system
    const [c, p] = [w0 & NEXT.controller, w1 & NEXT.panel]
    let withUp = this.known.get(up)
    if (!withUp) this.known.set(up, (withUp = new Map()))
    const key = (w1 & (NEXT.panel | ALL_TAGS)) * 0x10000 + c
    const known = withUp.get(key)
    if (known) return known
    const places = this.repeats(c, p, up, w1)
    const order = this.numbersOf(c, p, places)
    const renamed = new Map<number, number>()
    let [queue, tags] = [0, 0]
    places.forEach(({ was, message, tag }, i) => {
      const now = messages.renumbered(message, order)
      renamed.set(was, now)
      queue |= now << (8 * i)
      tags |= tag << (TAGS + i)
    })
    const made: Renumbered = [
      controller.renumbered(c, order),
      (order.some((n, i) => n !== i + 1) ? (panel?.renumbered(p, order) ?? 0) : p) | tags,
      queue,
      renamed,
    ]
    withUp.set(key, made)
    return made
  }

  /**
   * What is on its way up. What the board has seen is answered again and does nothing, whatever it
   * asked for and whatever its number is: all such about the same loads are one, with the number
   * that the surface waits with, if that was seen, and nobody watches them any more.
   */
  private repeats(c: number, p: number, up: number, w1: number): Place[] {
    const { controller, messages, panel } = this.system
    const places = Array.from({ length: MOST_EACH_WAY }, (_, i): Place => ({
      was: messageAt(up, i),
      message: messageAt(up, i),
      tag: (w1 >>> (TAGS + i)) & 1,
    })).filter(x => x.message !== 0)
    const seen = controller.seenNumbers(c)
    const isSeen = (message: number) => seen.includes(messages.carried[message] as number)
    const shared =
      panel?.waitingNumbers(p).find(n => n !== 0 && seen.includes(n))
      ?? messages.carried[places.find(x => isSeen(x.message))?.message ?? 0]
      ?? 0
    return places.map(x =>
      isSeen(x.message)
        ? {
            ...x,
            message: messages.withNumber(
              controller.repeatsAs(messages.bases[x.message] as number),
              shared,
            ),
            tag: 0,
          }
        : x,
    )
  }

  /** The numbers in use, in an order that depends on nothing but what is done with each. */
  private numbersOf(c: number, p: number, places: readonly Place[]): number[] {
    const { messages, panel, controller } = this.system
    const used: InUse[] = []
    const mark = (number: number, as: string) => {
      if (number === 0) return
      const known = used.find(u => u.number === number)
      if (known) known.mark += as
      else used.push({ number, mark: as })
    }
    // On a stream the place says which is which; of datagrams what they say does.
    const said = ({ message }: Place) => messages.bases[message] as number
    const order = this.datagrams
      ? places.toSorted((a, b) => said(a) - said(b) || a.tag - b.tag)
      : places
    order.forEach((x, i) =>
      mark(
        messages.carried[x.message] as number,
        this.datagrams ? `${said(x)}${x.tag ? '!' : ','}` : `${i},`,
      ),
    )
    panel?.waitingNumbers(p).forEach((number, load) => mark(number, `w${load}`))
    const seen = controller.seenNumbers(c)
    for (const u of used) if (seen.includes(u.number)) u.mark += 's'
    return used.sort((a, b) => Number(a.mark > b.mark) - Number(a.mark < b.mark)).map(u => u.number)
  }
}
