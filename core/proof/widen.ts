/**
 * How much is under way at once is the one thing that a search limits. It begins with what a connection brings about, and allows one message
 * more until that adds no situation of board and surface: then what more messages could bring is there already. Where none was ever kept
 * back for want of room that is known outright.
 */
import type { Bounds } from './bounds'
import { Exploration, type What } from './explore'
import type { Outcome } from './same'
import type { System } from './system'

/** One message more under way makes about so many times as many situations; what would not fit is not begun. */
const GROWS = 4

export class Widening {
  private search: Exploration
  private faces = -1
  private before: { situations: number, transitions: number } = { situations: 0, transitions: 0 }
  /** Of the widest search that came to its end. */
  private ended: Outcome | null = null

  constructor(private readonly system: System, private readonly until: readonly What[], private readonly bounds: Bounds) {
    system.room = Math.min(system.least, Math.max(bounds.underWay, 1))
    this.search = this.open()
  }

  get situations(): number { return this.before.situations + this.search.count }

  /** True when done. */
  run(slice: number): boolean {
    const { system, search, bounds } = this
    if (!search.run(slice)) return false
    // What is wider than the bound on situations leaves standing what was known before.
    if (search.exhausted && this.ended) return true
    const cutShort = system.overflows > 0
    if (system.question === 'truth') search.settle()
    const faces = search.faces()
    const known = faces === this.faces
    this.ended = this.outcomeOf(system.room - (known ? 1 : 0), !cutShort || known)
    this.faces = faces
    if (search.over || search.exhausted || !cutShort || known || system.room >= bounds.underWay || search.count * GROWS > bounds.situations) return true
    this.before = { situations: this.before.situations + search.count, transitions: this.before.transitions + search.transitions }
    system.room++
    this.search = this.open()
    return false
  }

  outcome(): Outcome {
    const { search, before, ended } = this
    if (!ended) throw new Error('the search is not over')
    return { ...ended, situations: before.situations + search.count, transitions: before.transitions + search.transitions }
  }

  private open(): Exploration {
    this.system.overflows = 0
    return new Exploration(this.system, this.until, this.bounds.situations)
  }

  private outcomeOf(underWay: number, suffices: boolean): Outcome {
    const { search } = this
    return {
      finds: search.finds.map(f => ({ what: f.what, event: f.event, path: search.path(f) })),
      situations: search.count, transitions: search.transitions, exhausted: search.exhausted, underWay, suffices,
    }
  }
}
