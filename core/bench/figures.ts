/**
 * The figures of a run, kept up as it goes and of bounded size: for each surface and load how long
 * it was wrong or unsure and how late it learnt of changes; commands that acted twice or never;
 * messages and bytes; cycles of relays and writes of memory.
 */
import { differs, isDefinite } from './trace'
import { Histogram } from './histogram'

export interface Cell {
  wrongMs: number
  longestWrongMs: number
  wrongSince: number | null
  unsureMs: number
  unsureSince: number | null
  /** From the first change that it does not show yet. */
  behindSince: number | null
  delays: Histogram
}
/** One press on a surface, whatever was sent for it. */
export interface Press {
  onWay: number
  acted: number
  replaced: boolean
}
export interface Commands {
  pressed: number
  missed: number
  doubled: number
}
export interface Traffic {
  messages: number
  bytes: number
  lost: number
}

export class Figures {
  events = 0
  readonly cells: Cell[][]
  readonly commands: Commands[]
  /** By link: to the board, from it. */
  readonly traffic: { up: Traffic; down: Traffic; refused: number }[]
  /** By load: how often a line of it went on, and how often its value changed. */
  readonly cycles: number[]
  readonly moves: number[]
  memoryWrites = 0
  private readonly shown: string[][]
  private readonly truth: (string | undefined)[]
  /** The last press of each surface and load, while it is not known what comes of it. */
  private readonly open: (Press | null)[][]

  constructor(
    readonly surfaces: number,
    readonly loads: number,
    links: number,
  ) {
    const grid = <T>(make: () => T) =>
      Array.from({ length: surfaces }, () => Array.from({ length: loads }, make))
    this.cells = grid(() => ({
      wrongMs: 0,
      longestWrongMs: 0,
      wrongSince: null,
      unsureMs: 0,
      unsureSince: 0,
      behindSince: null,
      delays: new Histogram(),
    }))
    this.shown = grid(() => 'unknown')
    this.open = grid(() => null)
    this.commands = Array.from({ length: surfaces }, () => ({ pressed: 0, missed: 0, doubled: 0 }))
    this.traffic = Array.from({ length: links }, () => ({
      up: { messages: 0, bytes: 0, lost: 0 },
      down: { messages: 0, bytes: 0, lost: 0 },
      refused: 0,
    }))
    this.cycles = Array.from({ length: loads }, () => 0)
    this.moves = Array.from({ length: loads }, () => 0)
    this.truth = Array.from({ length: loads })
  }

  /** `follows`: by surface, whether it has anything to do with the load. */
  truthIs(t: number, load: number, value: string, follows: readonly (readonly boolean[])[]): void {
    if (this.truth[load] === value) return
    if (this.truth[load] !== undefined) this.moves[load]!++
    this.truth[load] = value
    for (let s = 0; s < this.surfaces; s++) {
      if (!follows[s]?.[load]) continue
      const cell = this.cells[s]?.[load] as Cell
      cell.behindSince ??= t
      this.judge(t, cell, this.shown[s]?.[load] as string, value)
    }
  }

  shows(t: number, surface: number, load: number, shown: string): void {
    ;(this.shown[surface] as string[])[load] = shown
    this.judge(t, this.cells[surface]?.[load] as Cell, shown, this.truth[load])
  }

  private judge(t: number, cell: Cell, shown: string, truth: string | undefined): void {
    const wrong = differs(shown, truth)
    if (wrong && cell.wrongSince === null) cell.wrongSince = t
    else if (!wrong && cell.wrongSince !== null) {
      cell.wrongMs += t - cell.wrongSince
      cell.longestWrongMs = Math.max(cell.longestWrongMs, t - cell.wrongSince)
      cell.wrongSince = null
    }
    const unsure = !isDefinite(shown)
    if (unsure && cell.unsureSince === null) cell.unsureSince = t
    else if (!unsure && cell.unsureSince !== null) {
      cell.unsureMs += t - cell.unsureSince
      cell.unsureSince = null
    }
    if (cell.behindSince !== null && shown === truth) {
      cell.delays.add(t - cell.behindSince)
      cell.behindSince = null
    }
  }

  /** What is still open at `t` is counted up to it. */
  wrongMs(surface: number, load: number, t: number): number {
    const cell = this.cells[surface]?.[load] as Cell
    return cell.wrongMs + (cell.wrongSince === null ? 0 : t - cell.wrongSince)
  }

  longestWrongMs(surface: number, load: number, t: number): number {
    const cell = this.cells[surface]?.[load] as Cell
    return Math.max(cell.longestWrongMs, cell.wrongSince === null ? 0 : t - cell.wrongSince)
  }

  unsureMs(surface: number, load: number, t: number): number {
    const cell = this.cells[surface]?.[load] as Cell
    return cell.unsureMs + (cell.unsureSince === null ? 0 : t - cell.unsureSince)
  }

  /** A key was pressed; the press before it, if nothing ever came of it, was missed. */
  pressed(surface: number, load: number): Press {
    const counts = this.commands[surface] as Commands
    counts.pressed++
    const before = this.open[surface]?.[load]
    if (before) {
      before.replaced = true
      if (before.acted === 0 && before.onWay === 0) counts.missed++
    }
    const press: Press = { onWay: 0, acted: 0, replaced: false }
    ;(this.open[surface] as (Press | null)[])[load] = press
    return press
  }

  lastPress(surface: number, load: number): Press | null {
    return this.open[surface]?.[load] ?? null
  }

  /** A command reached the board. `moved`: the board did something for it. */
  acts(surface: number, press: Press, moved: boolean): void {
    press.onWay--
    if (press.acted > 0 && moved) this.commands[surface]!.doubled++
    press.acted++
  }

  /** A copy of the command is gone. */
  copyLost(surface: number, press: Press): void {
    press.onWay--
    if (press.replaced && press.onWay === 0 && press.acted === 0) this.commands[surface]!.missed++
  }

  /**
   * Presses that nothing came of, and nothing can come of any more. `waits`: a surface still means
   * to say it again.
   */
  missed(surface: number, waits: (load: number) => boolean): number {
    const open =
      this.open[surface]?.filter((p, load) => p && p.acted === 0 && p.onWay === 0 && !waits(load))
        .length ?? 0
    return (this.commands[surface]?.missed ?? 0) + open
  }
}
