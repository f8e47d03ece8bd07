/**
 * Guessing is slowed: after a few wrong ones there is a pause, each twice as long as the one
 * before, up to an hour. A right one ends it.
 */
const FREE = 5
const FIRST_MS = 30_000
const MOST_MS = 3_600_000
const MOST_KNOWN = 1000

export class Guesses {
  private readonly wrong = new Map<string, { count: number; until: number }>()

  constructor(private readonly now: () => number = () => performance.now()) {}

  /** How long `who` has to wait, ms; 0 = not at all. */
  waitMs(who: string): number {
    return Math.max(0, (this.wrong.get(who)?.until ?? 0) - this.now())
  }

  /** Counts a wrong one. True when a pause begins with it. */
  failed(who: string): boolean {
    const count = (this.wrong.get(who)?.count ?? 0) + 1
    const pauses = Math.floor(count / FREE)
    const begins = count % FREE === 0
    const until = begins
      ? this.now() + Math.min(MOST_MS, FIRST_MS * 2 ** (pauses - 1))
      : (this.wrong.get(who)?.until ?? 0)
    this.wrong.delete(who)
    this.wrong.set(who, { count, until })
    // Who makes up many names is forgotten oldest first.
    if (this.wrong.size > MOST_KNOWN) this.wrong.delete(this.wrong.keys().next().value as string)
    return begins
  }

  right(who: string): void {
    this.wrong.delete(who)
  }

  /** As a board does whose power is cut. */
  forget(): void {
    this.wrong.clear()
  }
}
