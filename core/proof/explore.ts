/**
 * Breadth-first search over all situations of a system. Situations lie one after another in one growing Int32Array;
 * an open-addressing table of indexes finds those seen before. Runs in slices, so that a worker can report and stop.
 */
import type { System, SystemEvent } from './system'
import { differs, isDefinite } from '../bench/trace'

/** The first situation in which the panel is wrong, and the first in which it is unsure, by index; -1 = none. */
export interface Found { wrong: number, unsure: number }

export class Exploration {
  readonly system: System
  readonly found: Found = { wrong: -1, unsure: -1 }
  count = 0
  transitions = 0
  /** The bound on situations ended the search. */
  exhausted = false
  private next = 0
  private states: Int32Array
  private parents: Int32Array
  private via: Uint16Array
  private slots: Int32Array
  private readonly scratch: Int32Array
  private readonly words: number

  constructor(system: System) {
    this.system = system
    this.words = system.words
    this.states = new Int32Array(1024 * this.words)
    this.parents = new Int32Array(1024)
    this.via = new Uint16Array(1024)
    this.slots = new Int32Array(4096)
    this.scratch = new Int32Array(this.words)
    this.add(system.initial(), -1, 0)
  }

  /** Expand up to `slice` situations; true when the search is over: all seen, a wrong one found, or the bound reached. */
  run(slice: number): boolean {
    const { system, scratch, words } = this
    const { events } = system
    for (let n = 0; n < slice && this.next < this.count; n++) {
      const base = this.next * words
      for (let e = 0; e < events.length; e++) {
        for (let w = 0; w < words; w++) scratch[w] = this.states[base + w] as number
        if (!system.fire(scratch, events[e] as SystemEvent)) continue
        this.transitions++
        this.add(scratch, this.next, e)
      }
      this.next++
      if (this.found.wrong >= 0) return true
      if (this.count >= system.bounds.situations) {
        this.exhausted = this.next < this.count
        if (this.exhausted) return true
      }
    }
    return this.next >= this.count
  }

  /** The events that lead to a situation, from the start. */
  path(index: number): SystemEvent[] {
    const events: SystemEvent[] = []
    for (let i = index; (this.parents[i] as number) >= 0; i = this.parents[i] as number) events.push(this.system.events[this.via[i] as number] as SystemEvent)
    return events.reverse()
  }

  /** Bytes held per situation: packed words, parent, event and its share of the table. */
  bytesPerSituation(): number {
    return this.words * 4 + 4 + 2 + this.slots.length * 4 / this.count
  }

  private add(s: Int32Array, parent: number, event: number): void {
    const mask = this.slots.length - 1
    let slot = hash(s) & mask
    for (;;) {
      const seen = this.slots[slot] as number
      if (seen === 0) break
      if (this.same((seen - 1) * this.words, s)) return
      slot = (slot + 1) & mask
    }
    this.slots[slot] = this.count + 1
    if (this.count === this.parents.length) this.growStates()
    this.states.set(s, this.count * this.words)
    this.parents[this.count] = parent
    this.via[this.count] = event
    this.judge(s, this.count)
    this.count++
    if (this.count * 3 > this.slots.length * 2) this.growSlots()
  }

  private judge(s: Int32Array, index: number): void {
    const { found, system } = this
    if (found.wrong >= 0 || !system.atRest(s)) return
    const shown = system.panels[0]?.shown(system.panelOf(s, 0), 0)
    if (differs(shown, system.value(s))) found.wrong = index
    else if (found.unsure < 0 && !isDefinite(shown)) found.unsure = index
  }

  private same(base: number, s: Int32Array): boolean {
    for (let w = 0; w < this.words; w++) if (this.states[base + w] !== s[w]) return false
    return true
  }

  private growStates(): void {
    this.states = grown(this.states, new Int32Array(this.states.length * 2))
    this.parents = grown(this.parents, new Int32Array(this.parents.length * 2))
    this.via = grown(this.via, new Uint16Array(this.via.length * 2))
  }

  private growSlots(): void {
    this.slots = new Int32Array(this.slots.length * 2)
    const mask = this.slots.length - 1
    for (let i = 0; i < this.count; i++) {
      let slot = hash(this.states.subarray(i * this.words, (i + 1) * this.words)) & mask
      while (this.slots[slot] !== 0) slot = (slot + 1) & mask
      this.slots[slot] = i + 1
    }
  }
}

/** Multiply and fold each word, then the finaliser of MurmurHash3 (Austin Appleby, public domain). */
function hash(words: Int32Array): number {
  let h = 0x9E3779B9
  for (let i = 0; i < words.length; i++) h = Math.imul(h ^ (words[i] as number), 0x85EBCA6B) ^ (h >>> 13)
  h ^= h >>> 16
  h = Math.imul(h, 0xC2B2AE35)
  return (h ^ (h >>> 16)) >>> 0
}

function grown<T extends Int32Array | Uint16Array>(from: T, to: T): T {
  to.set(from)
  return to
}
