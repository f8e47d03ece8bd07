/**
 * How much is under way at once is the one thing that a search limits. It begins with what a
 * connection brings about, and allows one message more until that adds no situation of board and
 * surface: then what more messages could bring is there already. Where none was ever kept back for
 * want of room that is known outright. A wider search goes on from where the narrower one was held
 * back; only what it finds anew is searched once more from the start, for the shortest way.
 */
import type { Bounds } from './bounds'
import { Exploration, type What } from './explore'
import { asksRest } from './frame'
import type { Outcome } from './same'
import type { System } from './system'

/**
 * One message more under way makes about so many times as many situations; what would not fit is
 * not begun.
 */
const GROWS = 6

export class Widening {
  private search: Exploration
  private faces = -1
  /** Finds whose ways are shortest. */
  private found = 0
  private done: { underWay: number; suffices: boolean } | null = null
  private transitions = 0
  private most: number

  constructor(
    private readonly system: System,
    private readonly until: readonly What[],
    private readonly bounds: Bounds,
  ) {
    this.most = bounds.underWay
    // Less than a connection brings about at once would mean that no link ever returns.
    system.room = system.least
    this.search = this.open()
  }

  get situations(): number {
    return this.search.count
  }

  /** True when done. */
  run(slice: number): boolean {
    const { system, search, bounds } = this
    if (!search.run(slice)) return false
    // It grew by more than was to be expected: what was known with less room stands.
    if (search.exhausted && search.widened) {
      this.most = system.room -= system.copies
      this.faces = -1
      return this.anew()
    }
    if (search.finds.length > this.found && search.widened) return this.anew()
    this.found = search.finds.length
    if (this.done) {
      this.settle()
      return true
    }
    const faces = search.exhausted ? -1 : search.faces()
    const known = faces >= 0 && faces === this.faces
    this.faces = faces
    const suffices = !search.exhausted && (known || search.heldBack === 0)
    if (
      !suffices
      && !search.over
      && !search.exhausted
      && system.room + system.copies <= this.most
      && search.count * GROWS <= bounds.situations
    ) {
      system.room += system.copies
      search.widen()
      return false
    }
    this.done = { underWay: system.room - (known ? system.copies : 0), suffices }
    this.settle()
    return search.finds.length === this.found || !search.widened || this.anew()
  }

  private settle(): void {
    if (asksRest(this.system.question)) this.search.settle()
  }

  outcome(): Outcome {
    const { search, done } = this
    if (!done) throw new Error('the search is not over')
    return {
      finds: search.finds.map(f => ({ what: f.what, event: f.event, path: search.path(f) })),
      situations: search.count,
      transitions: this.transitions + search.transitions,
      exhausted: search.exhausted,
      ...done,
    }
  }

  private open(): Exploration {
    return new Exploration(this.system, this.until, this.bounds.situations)
  }

  /** From the start, for the shortest way to what was found. */
  private anew(): boolean {
    this.transitions += this.search.transitions
    this.search = this.open()
    return false
  }
}
