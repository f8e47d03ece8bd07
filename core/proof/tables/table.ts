/**
 * The real `step` functions of controller and panels, tabulated: each state gets a small number,
 * each transition is computed once and looked up afterwards. So the search runs on integers and
 * still explores the one definition of behaviour that bench, stand-ins and generated code use.
 */
import { MOST_EACH_WAY } from '../packing'

/** A proof that would not fit; the message says what of it. */
export class TooLarge extends Error {}

/**
 * A move in one number: the next state, how many messages it sends, and what was noticed on the
 * way. Messages lie beside it, a byte each.
 */
export const SENDS = { controller: 16, panel: 18 } as const
export const NEXT = { controller: 0xffff, panel: 0x3ffff } as const
/** A hand control was moved and nothing came of it. */
export const DEAD = 1 << 19
/** Both directions at once, or one right after the other without a rest. */
export const CLASHED = 1 << 20
/** The load examined did something. */
export const ACTED = 1 << 21
/** After a start the load is not as its policy says. */
export const ASTRAY = 1 << 22
/**
 * Panel moves: which of what is sent is about the load examined, a bit each; and, of a key, the
 * value it asks of that load, by number.
 */
export const ABOUT = 21
export const ASKS = 25
/** Values are told apart by two bits of their number. */
export const ASKED = 3

/** Numbered states of one machine, and its moves by state and act: -1 = not computed yet. */
export abstract class Table<S> {
  readonly states: S[] = []
  private readonly numberOf = new Map<string, number>()
  private readonly renames = new Map<string, number>()
  moves: Int32Array
  sent: Int32Array

  constructor(
    readonly acts: number,
    private readonly most: number,
    private readonly whose: string,
  ) {
    this.moves = new Int32Array(acts * 32).fill(-1)
    this.sent = new Int32Array(acts * 32)
  }

  protected abstract keyOf(state: S): string
  protected abstract added(state: S, n: number): void

  state(n: number): S {
    return this.states[n] as S
  }
  /** A move that was computed, or -1. */
  known(n: number, act: number): number {
    return this.moves[n * this.acts + act] as number
  }
  sentBy(n: number, act: number): number {
    return this.sent[n * this.acts + act] as number
  }

  /** A state with numbers of commands counted anew, worked out once for each order of them. */
  protected renamed(n: number, order: readonly number[], rename: () => S): number {
    const key = `${n} ${order.join(' ')}`
    let known = this.renames.get(key)
    if (known === undefined) this.renames.set(key, (known = this.intern(rename())))
    return known
  }

  /** The number of a state that was listed elsewhere. */
  enter(state: S): number {
    return this.intern(state)
  }

  protected intern(state: S): number {
    const key = this.keyOf(state)
    let n = this.numberOf.get(key)
    if (n !== undefined) return n
    n = this.states.push(state) - 1
    if (n > this.most)
      throw new TooLarge(`${this.whose} has more than ${this.most + 1} states for this load`)
    this.numberOf.set(key, n)
    if ((n + 1) * this.acts > this.moves.length) {
      const moves = new Int32Array(this.moves.length * 2).fill(-1)
      moves.set(this.moves)
      this.moves = moves
      const sent = new Int32Array(moves.length)
      sent.set(this.sent)
      this.sent = sent
    }
    this.added(state, n)
    return n
  }

  protected packed(numbers: readonly number[]): number {
    return numbers.reduce((all, n, i) => all | (n << (i * 8)), 0)
  }
}

/** More at once than there is room for under way would never happen in a search, without a word. */
export function atMostSends(texts: number[], who: string): number[] {
  if (texts.length > MOST_EACH_WAY)
    throw new TooLarge(
      `${who} says ${texts.length} things at once on this link; the search holds ${MOST_EACH_WAY}`,
    )
  return texts
}
