/**
 * Two that do the same, one of them a little later: what stands on each line and what is said on
 * each link, brought together. A board reads its pins once a millisecond and its sensors more
 * seldom, writes memory and reckons signatures while everything else waits.
 */
import type { LineChange } from '../bench/trace'
import { nth } from '../units/lists'

export interface Difference {
  t: number
  /** Of a line; -1 for a link. */
  load: number
  linkId: string | null
  words: string
}

/** Levels of a line that lie so close are the same: a frequency is made by whole counts. */
const isSame = (a: number | null, b: number | null) =>
  a === b || (a !== null && b !== null && a > 1 && Math.abs(a - b) <= 0.02 * a + 1)
const levelWords = (level: number | null) => (level === null ? 'no power' : `level ${level}`)

/** The changes of one line on both sides. `passing`: what stands for less is not looked at, ms. */
export class LinePair {
  readonly bench: LineChange[] = []
  readonly board: LineChange[] = []
  private i = 0
  private j = 0
  /** The longest that the board was behind, ms. */
  behindMs = 0

  constructor(
    private readonly load: number,
    private readonly name: string,
    private readonly passingMs: number,
    private readonly apartMs: number,
  ) {}

  take(side: 'bench' | 'board', t: number, level: number | null): void {
    const list = this[side]
    const last = list.at(-1)
    if (last?.level === level) return
    list.push({ t, level })
  }

  /** What does not belong together up to `untilMs`. */
  settle(untilMs: number): Difference[] {
    const found: Difference[] = []
    const ripe = untilMs - this.apartMs - this.passingMs
    for (;;) {
      this.i = this.settled(this.bench, this.i)
      this.j = this.settled(this.board, this.j)
      const a = this.bench[this.i]
      const b = this.board[this.j]
      if (Math.min(a?.t ?? Infinity, b?.t ?? Infinity) > ripe) return found
      if (a && b && isSame(a.level, b.level) && Math.abs(a.t - b.t) <= this.apartMs) {
        this.behindMs = Math.max(this.behindMs, b.t - a.t)
        this.i++
        this.j++
        continue
      }
      const first = (a?.t ?? Infinity) <= (b?.t ?? Infinity) ? 'bench' : 'board'
      const { t, level } = (first === 'bench' ? a : b) as LineChange
      const words = `${this.name}: ${first === 'bench' ? 'the bench' : 'the board'} comes to ${levelWords(level)}, ${first === 'bench' ? 'the board' : 'the bench'} does not`
      found.push({ t, load: this.load, linkId: null, words })
      if (first === 'bench') this.i++
      else this.j++
    }
  }

  /** The first from `at` on that stands long enough, or is the last so far. */
  private settled(list: readonly LineChange[], at: number): number {
    let i = at
    while (
      this.passingMs
      && list[i + 1]
      && list[i]?.level !== null
      && nth(list, i + 1).t - nth(list, i).t < this.passingMs
    )
      i++
    return i
  }
}

/** What both say on a link. */
export class SaidPair {
  private bench = ''
  private board = ''
  private sinceMs = 0
  private lastMs = 0

  constructor(
    private readonly linkId: string,
    private readonly name: string,
    private readonly apartMs: number,
  ) {}

  take(side: 'bench' | 'board', t: number, text: string): void {
    if (!this.bench && !this.board) this.sinceMs = t
    this[side] += text
    this.lastMs = Math.max(this.lastMs, t)
  }

  settle(untilMs: number): Difference[] {
    let same = 0
    while (same < this.bench.length && this.bench[same] === this.board[same]) same++
    this.bench = this.bench.slice(same)
    this.board = this.board.slice(same)
    if ((!this.bench && !this.board) || untilMs - this.lastMs < this.apartMs) return []
    const shown = (text: string) => JSON.stringify(text)
    const words = `${this.name}: the bench says ${shown(this.bench)}, the board ${shown(this.board)}`
    this.bench = this.board = ''
    return [{ t: this.sinceMs, load: -1, linkId: this.linkId, words }]
  }
}
