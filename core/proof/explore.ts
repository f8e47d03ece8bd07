/**
 * Breadth-first search over all situations of a system. Situations lie one after another in one growing Int32Array;
 * an open-addressing table of indexes finds those seen before. Runs in slices, so that a worker can report and stop.
 */
import { ASTRAY, CLASHED, DEAD } from './machines'
import { JUMPED, MOVED, TWICE, type Sink, type System, type SystemEvent } from './system'

const WORDS = 3
/** What a search may find, each by the event that shows it: the situation before, and the event; or the situation alone (event -1). */
export type What = 'wrong' | 'unsure' | 'vanished' | 'stuck' | 'restless' | 'dead' | 'clashed' | 'astray' | 'twice' | 'moved' | 'jumped'
export interface Find { what: What, index: number, event: number }

const NOTICED: readonly (readonly [number, What])[] = [[DEAD, 'dead'], [CLASHED, 'clashed'], [ASTRAY, 'astray'], [TWICE, 'twice'], [MOVED, 'moved'], [JUMPED, 'jumped']]

export class Exploration implements Sink {
  readonly system: System
  /** The first of each, in the order found; of what a hand control does not do, the first by control. */
  readonly finds: Find[] = []
  count = 0
  transitions = 0
  /** The bound on situations ended the search. */
  exhausted = false
  private next = 0
  private states: Int32Array
  private parents: Int32Array
  private via: Uint16Array
  private slots: Int32Array
  private settling: Uint8Array | null = null
  /** While it is looked for whether a situation comes to rest: one that follows it does. */
  private comesToRest = false

  /** `until`: what ends the search at once when it is found. */
  constructor(system: System, private readonly until: readonly What[] = ['wrong']) {
    this.system = system
    this.states = new Int32Array(1024 * WORDS)
    this.parents = new Int32Array(1024)
    this.via = new Uint16Array(1024)
    this.slots = new Int32Array(4096)
    const [w0 = 0, w1 = 0, w2 = 0] = system.initial()
    this.next = -1
    this.add(w0, w1, w2, 0)
    this.next = 0
  }

  found(what: What): Find | null { return this.finds.find(f => f.what === what) ?? null }

  /** Expand up to `slice` situations; true when the search is over: all seen, what ends it found, or the bound reached. */
  run(slice: number): boolean {
    const { system } = this
    for (let n = 0; n < slice && this.next < this.count; n++) {
      const base = this.next * WORDS
      system.expand(this.states[base] as number, this.states[base + 1] as number, this.states[base + 2] as number, this, false)
      this.next++
      if (this.over) return true
      if (this.count >= system.bounds.situations) {
        this.exhausted = this.next < this.count
        if (this.exhausted) return true
      }
    }
    return this.next >= this.count
  }

  /** What was looked for is found. */
  get over(): boolean { return this.finds.some(f => this.until.includes(f.what)) }

  /**
   * Whether every situation comes to rest by itself: from the last to the first, again until nothing is added. The first that does
   * not is found as "restless". Situations beyond the bound count as if they did.
   */
  settle(): void {
    const { system, count } = this
    if (this.over || this.exhausted) return
    const rests = this.settling = new Uint8Array(count)
    for (let open = -1, before = 0; open !== before;) {
      before = open
      open = 0
      for (let i = count - 1; i >= 0; i--) {
        if (rests[i]) continue
        const base = i * WORDS
        const [w0, w1, w2] = [this.states[base] as number, this.states[base + 1] as number, this.states[base + 2] as number]
        this.comesToRest = system.settled(w0, w1, w2)
        const { overflows } = system
        if (!this.comesToRest) system.expand(w0, w1, w2, this, true)
        system.overflows = overflows
        if (this.comesToRest) rests[i] = 1
        else open++
      }
    }
    this.settling = null
    const first = rests.indexOf(0)
    if (first >= 0) this.finds.push({ what: 'restless', index: first, event: -1 })
  }

  /** The events that lead to a find, from the start. */
  path({ index, event }: Pick<Find, 'index' | 'event'>): number[] {
    const events = event < 0 ? [] : [event]
    for (let i = index; (this.parents[i] as number) >= 0; i = this.parents[i] as number) events.push(this.via[i] as number)
    return events.reverse()
  }

  eventsOf(path: readonly number[]): SystemEvent[] { return path.map(e => this.system.events[e] as SystemEvent) }

  /** Bytes held per situation: packed words, parent, event and its share of the table. */
  bytesPerSituation(): number {
    return WORDS * 4 + 4 + 2 + this.slots.length * 4 / this.count
  }

  add(w0: number, w1: number, w2: number, event: number): void {
    const { slots, states } = this
    const mask = slots.length - 1
    let slot = hash(w0, w1, w2) & mask
    for (;;) {
      const seen = slots[slot] as number
      if (seen === 0) break
      const base = (seen - 1) * WORDS
      if (states[base] === w0 && states[base + 1] === w1 && states[base + 2] === w2) {
        if (this.settling !== null) this.comesToRest ||= this.settling[seen - 1] === 1
        else this.transitions++
        return
      }
      slot = (slot + 1) & mask
    }
    if (this.settling !== null) return
    this.transitions++
    slots[slot] = this.count + 1
    if (this.count === this.parents.length) this.growStates()
    const base = this.count * WORDS
    this.states[base] = w0
    this.states[base + 1] = w1
    this.states[base + 2] = w2
    this.parents[this.count] = this.next
    this.via[this.count] = event
    this.judge(w0, w1, w2, this.count)
    this.count++
    if (this.count * 3 > slots.length * 2) this.growSlots()
  }

  notice(what: number, event: number): void {
    if (this.settling !== null) return
    for (const [bit, name] of NOTICED) {
      // A dead press is a matter of its control; anything else is told once.
      if (what & bit && !this.finds.some(f => f.what === name && (name !== 'dead' || f.event === event))) this.finds.push({ what: name, index: this.next, event })
    }
  }

  private judge(w0: number, w1: number, w2: number, index: number): void {
    const { system } = this
    switch (system.question) {
      case 'truth': {
        if (!system.atRest(w0, w1, w2)) return
        const verdict = system.judge(w0, w1)
        if (verdict !== 1) this.once(verdict < 0 ? 'wrong' : 'unsure', index)
        return
      }
      case 'twice':
        if (system.vanished(w0, w1) && system.atRest(w0, w1, w2)) this.once(system.showsIt ? system.judge(w0, w1) < 0 ? 'vanished' : null : 'vanished', index)
        return
      case 'board':
        if (system.isStuck(w0)) this.once('stuck', index)
    }
  }

  private once(what: What | null, index: number): void {
    if (what !== null && !this.finds.some(f => f.what === what)) this.finds.push({ what, index, event: -1 })
  }

  private growStates(): void {
    this.states = grown(this.states, new Int32Array(this.states.length * 2))
    this.parents = grown(this.parents, new Int32Array(this.parents.length * 2))
    this.via = grown(this.via, new Uint16Array(this.via.length * 2))
  }

  private growSlots(): void {
    const { states, count } = this
    const slots = this.slots = new Int32Array(this.slots.length * 2)
    const mask = slots.length - 1
    for (let i = 0, base = 0; i < count; i++, base += WORDS) {
      let slot = hash(states[base] as number, states[base + 1] as number, states[base + 2] as number) & mask
      while (slots[slot] !== 0) slot = (slot + 1) & mask
      slots[slot] = i + 1
    }
  }
}

/** Multiply and fold each word, then the finaliser of MurmurHash3 (Austin Appleby, public domain). */
function hash(w0: number, w1: number, w2: number): number {
  let h = Math.imul(w0 ^ 0x9E3779B9, 0x85EBCA6B)
  h = Math.imul((h ^ (h >>> 13)) ^ w1, 0xC2B2AE35)
  h = Math.imul((h ^ (h >>> 15)) ^ w2, 0x85EBCA6B)
  h ^= h >>> 16
  h = Math.imul(h, 0xC2B2AE35)
  return h ^ (h >>> 15)
}

function grown<T extends Int32Array | Uint16Array>(from: T, to: T): T {
  to.set(from)
  return to
}
