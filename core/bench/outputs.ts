/** What the board's lines carry and what its loads are, and since when. */
import { pinOf } from '../boards/boards'
import { isLevel, activeLevelOf } from '../design/outputs/traits'
import { boardOf } from '../design/pins'
import type { Design } from '../design/schema'
import { linesOf } from '../design/values'
import type { Random } from '../units/random'
import { RANK } from './actions'
import type { Figures } from './figures'
import type { Recorder } from './recorder'
import type { Moments } from './schedule'

/** A boot log is drawn as at most so many changes of level, at most so far apart, ms. */
const MOST_CHATTER = 24
const BURST_MS = 40

/** A line that carries the boot log, with a random stream of its own. */
interface Chatter {
  load: number
  line: number
  random: Random
}

/** Loads and lines are told by their place in the design. */
export class Outputs {
  /** What a line carries; null where nothing drives it. */
  private readonly levels: (number | null)[][]
  /** While the board starts. */
  private readonly bootLevels: (number | null)[][]
  private readonly chatters: readonly Chatter[]

  /** `follows`: by surface, whether it has anything to do with a load. */
  constructor(
    private readonly design: Design,
    private readonly figures: Figures,
    private readonly recorder: Recorder,
    private readonly follows: readonly (readonly boolean[])[],
    private readonly moments: Moments,
    stream: (name: string) => Random,
  ) {
    const board = design.controllers.length ? boardOf(design) : undefined
    this.levels = design.loads.map(l => linesOf(l.output).map(() => null))
    this.bootLevels = design.loads.map(l =>
      linesOf(l.output).map(line => {
        const hazard = board && pinOf(board, line.pin)?.hazards.find(h => h.kind === 'reset-level')
        return hazard?.kind === 'reset-level' ? Number(hazard.level === 'high') : null
      }),
    )
    this.chatters = design.loads.flatMap((l, load) =>
      linesOf(l.output).flatMap(({ pin }, line) =>
        board && pinOf(board, pin)?.hazards.some(h => h.kind === 'boot-log')
          ? [{ load, line, random: stream(`boot log ${l.id} ${line}`) }]
          : [],
      ),
    )
  }

  truthIs(load: number, value: string, running: boolean): void {
    const now = this.moments.now()
    this.figures.truthIs(now, load, value, this.follows)
    this.recorder.truth(now, load, value, running)
  }

  lineIs(load: number, line: number, level: number | null): void {
    const levels = this.levels[load] as (number | null)[]
    if (levels[line] === level) return
    const { output } = this.design.loads[load] as Design['loads'][number]
    const most = isLevel(output) ? 255 : 1
    const resting = activeLevelOf(output) === 'high' ? 0 : most
    if (level !== null && level !== resting && (levels[line] === resting || levels[line] === null))
      this.figures.cycles[load]!++
    levels[line] = level
    this.recorder.line(this.moments.now(), load, line, level)
  }

  /** Nothing drives any line. */
  cut(): void {
    this.levels.forEach((lines, load) => lines.forEach((_, line) => this.lineIs(load, line, null)))
  }

  /** The board has power: until its program runs, lines are as its chip has them. */
  start(bootMs: number, starts: () => boolean): void {
    this.bootLevels.forEach((lines, load) =>
      lines.forEach((level, line) => this.lineIs(load, line, level)),
    )
    for (const chatter of this.chatters) this.chatter(chatter, bootMs, starts)
  }

  /**
   * A line that carries the boot log is driven both ways until the program takes it: bursts of
   * text, idle high in between.
   */
  private chatter({ load, line, random }: Chatter, bootMs: number, starts: () => boolean): void {
    const full = isLevel(this.design.loads[load]?.output) ? 255 : 1
    const now = this.moments.now()
    let after = 0
    for (let n = 0; n < MOST_CHATTER; n++) {
      after += 1 + Math.floor(random.next() * BURST_MS)
      if (after >= bootMs) return
      const level = n % 2 === 0 ? 0 : full
      this.moments.at(now + after, RANK.pin, () => {
        if (starts()) this.lineIs(load, line, level)
      })
    }
  }
}
