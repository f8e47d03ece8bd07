/**
 * Breadth-first search over all situations of a system. Situations lie one after another in one
 * growing Int32Array; an open-addressing table of indexes finds those seen before. Level by level,
 * so that of the shortest ways to a situation the least contrived one is kept. Runs in slices, so
 * that a worker can report and stop.
 */
import { generated, walked, type Expand, type Followers } from './generate'
import { weightOf } from './happenings'
import { ASTRAY, CLASHED, DEAD } from './tables/table'
import { ALL_TAGS, START, WORDS } from './packing'
import { JUMPED, MOVED, TWICE } from './watch'
import type { System } from './system'

/** What follows, as it is written down: words and event. */
const FOLLOWER = WORDS + 1
/** What is looked up: words, hash, the situation before, event, weight. */
const LOOKED_UP = WORDS + 4
/**
 * Once there are so many they are looked up; the situation that was expanded last may bring as many
 * more as there are events.
 */
const HEAP = 512
const RECENT = 4096
const RECENT_WORDS = WORDS + 1
/** A slot holds the number of a situation, from 1, and eight bits of its hash. */
const INDEX = 0xffffff
const MARK = ~INDEX
/** As many as a slot can number. */
export const MOST_SITUATIONS = INDEX - 1
/**
 * What a search may find, each by the event that shows it: the situation before, and the event; or
 * the situation alone (event -1).
 */
export type What =
  | 'wrong'
  | 'unsure'
  | 'vanished'
  | 'stuck'
  | 'restless'
  | 'dead'
  | 'clashed'
  | 'astray'
  | 'twice'
  | 'moved'
  | 'jumped'
export interface Find {
  what: What
  index: number
  event: number
}

const NOTICED: readonly (readonly [number, What])[] = [
  [DEAD, 'dead'],
  [CLASHED, 'clashed'],
  [ASTRAY, 'astray'],
  [TWICE, 'twice'],
  [MOVED, 'moved'],
  [JUMPED, 'jumped'],
]

export class Exploration implements Followers {
  readonly system: System
  /**
   * The first of each, in the order found; of what a hand control does not do, the first by
   * control.
   */
  readonly finds: Find[] = []
  count = 0
  transitions = 0
  /** The bound on situations ended the search. */
  exhausted = false
  private readonly most: number
  private readonly expand: Expand
  /**
   * What follows and was not looked up yet, one after another for the situations from
   * `expandedFrom` on; where each of them ends.
   */
  readonly words: Int32Array
  at = 0
  private readonly ends = new Int32Array(HEAP)
  private expandedFrom = 0
  private readonly heap: Int32Array
  private readonly recent = new Int32Array(RECENT * RECENT_WORDS).fill(0x7fffffff)
  /** Nothing reads it; it keeps what touches memory from being taken out. */
  touched = 0
  private next = 0
  private cut: number[] = []
  widened = false
  private rested = new Int32Array(0)
  private states: Int32Array
  private parents: Int32Array
  private via: Uint16Array
  /** How contrived the way to each situation is. */
  private weights: Uint16Array
  private readonly weightOf: Uint16Array
  /** Where the level that is being made begins, and where the one that is being expanded ends. */
  private level = 1
  private levelOf = 0
  private slots: Int32Array
  private settling = false

  /**
   * `until`: what ends the search when it is found, at the end of its level. `situations`: how many
   * it may look at.
   */
  constructor(
    system: System,
    private readonly until: readonly What[] = ['wrong'],
    situations = MOST_SITUATIONS,
  ) {
    this.system = system
    this.expand = generated(system) ?? walked(system)
    this.weightOf = Uint16Array.from(system.events, weightOf)
    const room = HEAP + 2 * system.events.length
    this.words = new Int32Array(room * FOLLOWER)
    this.heap = new Int32Array(room * LOOKED_UP)
    this.states = new Int32Array(1024 * WORDS)
    this.parents = new Int32Array(1024)
    this.via = new Uint16Array(1024)
    this.weights = new Uint16Array(1024)
    this.slots = new Int32Array(4096)
    // A heap may still be added.
    this.most = Math.min(situations, MOST_SITUATIONS - room)
    const [w0 = 0, w1 = 0, up = 0, down = 0] = system.initial()
    this.states.set([w0, w1, up, down])
    this.parents[0] = -1
    const h = hash(w0, w1, up, down)
    this.slots[(h ^ (h >>> 16)) & (this.slots.length - 1)] = 1 | (h & MARK)
    this.judge(w0, w1, up, down, 0)
    this.count = 1
  }

  found(what: What): Find | null {
    return this.finds.find(f => f.what === what) ?? null
  }

  /**
   * Expand up to `slice` situations; true when the search is over: all seen, what ends it found, or
   * the bound reached.
   */
  run(slice: number): boolean {
    for (let n = 0; n < slice; n++) {
      // What follows is looked up in heaps, always the same ones however the run is cut into
      // slices; a level before the next.
      const expanded = this.next - this.expandedFrom
      if (this.next === this.level || this.at >= HEAP * FOLLOWER || expanded === HEAP) {
        this.lookUp()
        if (this.next === this.level) {
          if (this.over || this.next >= this.count) return true
          if (this.count >= this.most) {
            this.exhausted = true
            return true
          }
          this.levelOf = this.level
          this.level = this.count
        }
      }
      this.expandNext()
      this.ends[this.next - this.expandedFrom] = this.at
      this.next++
    }
    return false
  }

  /** Situations in which something found no room. */
  get heldBack(): number {
    return this.cut.length
  }

  /**
   * Goes on where something found no room, with the room that the system has by now. Ways to what
   * is found from here on need not be the shortest.
   */
  widen(): void {
    const { cut } = this
    const first = this.count
    this.cut = []
    this.widened = true
    this.level = Infinity
    for (const index of cut) {
      this.next = this.expandedFrom = index
      this.expandNext()
      this.ends[0] = this.at
      this.lookUp()
    }
    this.next = this.expandedFrom = this.levelOf = first
    this.level = this.count
  }

  private expandNext(): void {
    const { states, system } = this
    const base = this.next * WORDS
    const before = system.overflows
    this.expand(
      states[base] as number,
      states[base + 1] as number,
      states[base + 2] as number,
      states[base + 3] as number,
      this,
      false,
    )
    if (system.overflows !== before) this.cut.push(this.next)
  }

  /** What was looked for is found. */
  get over(): boolean {
    return this.finds.some(f => this.until.includes(f.what))
  }

  /**
   * Whether every situation comes to rest by itself: from the last to the first, again until
   * nothing is added. The first that does not is found as "restless". Situations beyond the bound
   * count as if they did.
   */
  settle(): void {
    const { system, count, states } = this
    if (this.over || this.exhausted) return
    const rests = new Int32Array(count)
    let marked = 0
    this.settling = true
    for (let open = -1, before = 0; open !== before;) {
      before = open
      open = 0
      for (let i = count - 1; i >= 0; i--) {
        if (rests[i]) continue
        const base = i * WORDS
        const [w0, w1, up, down] = [
          states[base] as number,
          states[base + 1] as number,
          states[base + 2] as number,
          states[base + 3] as number,
        ]
        if (system.settled(w0, w1, up, down) || this.oneRests(w0, w1, up, down, rests))
          rests[i] = ++marked
        else open++
      }
    }
    this.settling = false
    this.rested = rests
    const first = rests.findIndex(
      (r, i) => r === 0 && ((states[i * WORDS + 1] as number) & START) === 0,
    )
    if (first >= 0) this.finds.push({ what: 'restless', index: first, event: -1 })
  }

  /** Whether one that follows by itself comes to rest. */
  private oneRests(w0: number, w1: number, up: number, down: number, rests: Int32Array): boolean {
    const { overflows } = this.system
    this.at = 0
    this.expand(w0, w1, up, down, this, true)
    this.system.overflows = overflows
    const { words, at } = this
    this.at = 0
    for (let i = 0; i < at; i += FOLLOWER) {
      if (
        (rests[
          this.indexOf(
            words[i] as number,
            words[i + 1] as number,
            words[i + 2] as number,
            words[i + 3] as number,
          )
        ] as number) > 0
      )
        return true
    }
    return false
  }

  /**
   * Situations of board and surface, whatever is under way: what more messages under way have to
   * add to, or add nothing.
   */
  faces(): number {
    const { states, count } = this
    const seen = new Map<number, Set<number>>()
    let faces = 0
    for (let base = 0; base < count * WORDS; base += WORDS) {
      const [w0, w1] = this.system.tidy.faceless(
        states[base] as number,
        (states[base + 1] as number) & ~ALL_TAGS,
      )
      const with0 = seen.get(w0)
      if (!with0) seen.set(w0, new Set([w1]))
      else if (with0.has(w1)) continue
      else with0.add(w1)
      faces++
    }
    return faces
  }

  /**
   * By situation, after it was settled: what comes by itself leads to one with a smaller number.
   */
  ranks(): Int32Array {
    return this.rested
  }

  /** The situations one after another, four words each. */
  situations(): Int32Array {
    return this.states.slice(0, this.count * WORDS)
  }

  /** The events that lead to a find, from the start. */
  path({ index, event }: Pick<Find, 'index' | 'event'>): number[] {
    const events = event < 0 ? [] : [event]
    for (let i = index; (this.parents[i] as number) >= 0; i = this.parents[i] as number)
      events.push(this.via[i] as number)
    return events.reverse()
  }

  /** Bytes held per situation: packed words, parent, event and its share of the table. */
  bytesPerSituation(): number {
    return WORDS * 4 + 4 + 2 + 2 + (this.slots.length * 4) / this.count
  }

  add(w0: number, w1: number, up: number, down: number, event: number): void {
    const { words, at } = this
    words[at] = w0
    words[at + 1] = w1
    words[at + 2] = up
    words[at + 3] = down
    words[at + 4] = event
    this.at = at + FOLLOWER
  }

  /**
   * Looks up what follows, in order. The places are touched before they are needed, one after
   * another without waiting: memory answers many questions at once, and one by one slowly.
   */
  private lookUp(): void {
    const heaped = this.heapUp()
    const { heap } = this
    let { slots, states, parents, via, weights, count } = this
    let mask = slots.length - 1
    const board = this.system.question === 'board'
    for (let at = 0; at < heaped; at += LOOKED_UP) {
      const w0 = heap[at] as number
      const w1 = heap[at + 1] as number
      const up = heap[at + 2] as number
      const down = heap[at + 3] as number
      const h = heap[at + 4] as number
      const mark = h & MARK
      let slot = (h ^ (h >>> 16)) & mask
      let found = -1
      for (;;) {
        const seen = slots[slot] as number
        if (seen === 0) break
        // Most of what is another situation has another mark: it need not be looked at.
        if ((seen & MARK) === mark) {
          const base = ((seen & INDEX) - 1) * WORDS
          if (
            states[base] === w0
            && states[base + 1] === w1
            && states[base + 2] === up
            && states[base + 3] === down
          ) {
            found = (seen & INDEX) - 1
            break
          }
        }
        slot = (slot + 1) & mask
      }
      const weight = heap[at + 7] as number
      if (found >= 0) {
        // As short a way to a situation of the level that is being made, and a less contrived one.
        if (found >= this.level && weight < (weights[found] as number)) {
          parents[found] = heap[at + 5] as number
          via[found] = heap[at + 6] as number
          weights[found] = weight
        }
        continue
      }
      slots[slot] = (count + 1) | mark
      if (count + 1 >= parents.length) {
        this.growStates()
        ;({ states, parents, via, weights } = this)
      }
      const base = count * WORDS
      states[base] = w0
      states[base + 1] = w1
      states[base + 2] = up
      states[base + 3] = down
      parents[count] = heap[at + 5] as number
      via[count] = heap[at + 6] as number
      weights[count] = weight
      // What is asked of a situation is asked at rest, but for the board.
      if ((up | down) === 0 || board) this.judge(w0, w1, up, down, count)
      count++
      if (count * 3 > slots.length * 2) {
        this.count = count
        this.growSlots()
        slots = this.slots
        mask = slots.length - 1
      }
    }
    this.count = count
    this.at = 0
    this.expandedFrom = this.next
  }

  /**
   * What follows, but for what was met a moment ago, with its hash; the places in the table are
   * touched. Returns where the heap ends.
   */
  private heapUp(): number {
    const { words, heap, recent, ends, weights, weightOf, slots, at: written } = this
    if (written > words.length)
      throw new RangeError('more follows a situation than there are events')
    let heaped = 0
    let before = this.expandedFrom
    let end = ends[0] as number
    for (let i = 0; i < written; i += FOLLOWER) {
      while (i === end) end = ends[++before - this.expandedFrom] as number
      const w0 = words[i] as number
      const w1 = words[i + 1] as number
      const up = words[i + 2] as number
      const down = words[i + 3] as number
      const event = words[i + 4] as number
      const weight = Math.min(0xffff, (weights[before] as number) + (weightOf[event] as number))
      const h = hash(w0, w1, up, down)
      // Half of what follows was met a moment ago, by another order of the same two events.
      const place = ((h ^ (h >>> 16)) & (RECENT - 1)) * RECENT_WORDS
      if (
        recent[place] === w0
        && recent[place + 1] === w1
        && recent[place + 2] === up
        && recent[place + 3] === down
        && (recent[place + 4] as number) <= weight
      )
        continue
      recent[place] = w0
      recent[place + 1] = w1
      recent[place + 2] = up
      recent[place + 3] = down
      recent[place + 4] = weight
      heap[heaped] = w0
      heap[heaped + 1] = w1
      heap[heaped + 2] = up
      heap[heaped + 3] = down
      heap[heaped + 4] = h
      heap[heaped + 5] = before
      heap[heaped + 6] = event
      heap[heaped + 7] = weight
      heaped += LOOKED_UP
    }
    let touched = 0
    const mask = slots.length - 1
    for (let i = 4; i < heaped; i += LOOKED_UP) {
      const h = heap[i] as number
      touched ^= slots[(h ^ (h >>> 16)) & mask] as number
    }
    this.touched = touched
    this.transitions += written / FOLLOWER
    return heaped
  }

  /** The number of a situation that was seen; -1 = it was not. */
  private indexOf(w0: number, w1: number, up: number, down: number): number {
    const { slots, states } = this
    const h = hash(w0, w1, up, down)
    const mask = slots.length - 1
    for (let slot = (h ^ (h >>> 16)) & mask; slots[slot] !== 0; slot = (slot + 1) & mask) {
      const index = ((slots[slot] as number) & INDEX) - 1
      const base = index * WORDS
      if (
        states[base] === w0
        && states[base + 1] === w1
        && states[base + 2] === up
        && states[base + 3] === down
      )
        return index
    }
    return -1
  }

  notice(what: number, event: number): void {
    if (this.settling) return
    for (const [bit, name] of NOTICED) if (what & bit) this.keep(name, this.next, event)
  }

  private judge(w0: number, w1: number, up: number, down: number, index: number): void {
    const { system } = this
    switch (system.question) {
      // What a start shows and does is a matter of its own.
      case 'truth':
      case 'restart': {
        if ((w1 & START) !== 0 || !system.atRest(w0, w1, up, down)) return
        const verdict = system.judge(w0, w1)
        if (verdict !== 1) this.keep(verdict < 0 ? 'wrong' : 'unsure', index, -1)
        return
      }
      case 'twice':
        if (system.watch.vanished(w0, w1) && system.atRest(w0, w1, up, down))
          this.keep('vanished', index, -1)
        return
      case 'board':
        if (system.isStuck(w0)) this.keep('stuck', index, -1)
    }
  }

  /**
   * The first of its kind is kept; another after as many events takes its place where the way to it
   * is less contrived. A dead press is a matter of its control; anything else is told once. Found
   * in a situation, the way to it may still become less contrived in its level.
   */
  private keep(what: What, index: number, event: number): void {
    const known = this.finds.find(f => f.what === what && (what !== 'dead' || f.event === event))
    if (!known) {
      this.finds.push({ what, index, event })
      return
    }
    // An event is found with the level that it is in, a situation with the level that is being
    // made.
    const level = event < 0 ? this.level : this.levelOf
    if (
      event < 0 !== known.event < 0
      || known.index < level
      || index < level
      || this.burden(index, event) >= this.burden(known.index, known.event)
    )
      return
    known.index = index
    known.event = event
  }

  private burden(index: number, event: number): number {
    return (this.weights[index] as number) + (event < 0 ? 0 : (this.weightOf[event] as number))
  }

  private growStates(): void {
    this.states = grown(this.states, new Int32Array(this.states.length * 2))
    this.parents = grown(this.parents, new Int32Array(this.parents.length * 2))
    this.via = grown(this.via, new Uint16Array(this.via.length * 2))
    this.weights = grown(this.weights, new Uint16Array(this.weights.length * 2))
  }

  private growSlots(): void {
    const { states, count } = this
    // While it is small it grows by more, so that less is put in again.
    const slots = (this.slots = new Int32Array(
      this.slots.length * (this.slots.length < 1 << 18 ? 4 : 2),
    ))
    const mask = slots.length - 1
    for (let i = 0, base = 0; i < count; i++, base += WORDS) {
      const h = hash(
        states[base] as number,
        states[base + 1] as number,
        states[base + 2] as number,
        states[base + 3] as number,
      )
      let slot = (h ^ (h >>> 16)) & mask
      while (slots[slot] !== 0) slot = (slot + 1) & mask
      slots[slot] = (i + 1) | (h & MARK)
    }
  }
}

/**
 * Multiply and fold each word, then the finaliser of MurmurHash3 (Austin Appleby, public domain).
 */
function hash(w0: number, w1: number, up: number, down: number): number {
  let h = Math.imul(w0 ^ 0x9e3779b9, 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 13) ^ w1, 0xc2b2ae35)
  h = Math.imul(h ^ (h >>> 15) ^ up, 0x85ebca6b)
  h = Math.imul(h ^ (h >>> 14) ^ down, 0xc2b2ae35)
  h ^= h >>> 16
  h = Math.imul(h, 0x85ebca6b)
  return h ^ (h >>> 13)
}

function grown<T extends Int32Array | Uint16Array>(from: T, to: T): T {
  to.set(from)
  return to
}
