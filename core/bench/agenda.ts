/** What is planned on the bench: messages that arrive, machines that want a tick, the rest. */
import { RANK } from './actions'
import type { LinkUnit, SurfaceUnit } from './link-unit'
import { Schedule, type Moments } from './schedule'
import type { Timed } from './queue'
import type { Sent } from './wire'

/** `epoch`: of the link when a message was sent. */
export interface Arrival extends Timed, Omit<Sent, 'status'> {
  kind: 'arrive'
  unit: LinkUnit
  epoch: number
}
/** `due`: on the 32-bit clock of the board. */
interface BoardTick extends Timed {
  kind: 'tick'
  due: number
}
interface SurfaceTick extends Timed {
  kind: 'panelTick'
  unit: SurfaceUnit
  due: number
}
interface Run extends Timed {
  kind: 'run'
  run: () => void
}

export type Planned = Arrival | BoardTick | SurfaceTick | Run

export class Agenda extends Schedule<Planned> {
  /** As parts of the bench know it. */
  readonly moments: Moments = {
    now: () => this.now,
    at: (t, rank, run) => this.at(t, rank, run),
  }

  at(t: number, rank: number, run: () => void): void {
    this.push({ t, rank, seq: this.number(), kind: 'run', run })
  }

  boardTick(due: number): void {
    const t = this.fromClock(due)
    this.push({ t, rank: RANK.tick, seq: this.number(), kind: 'tick', due })
  }

  surfaceTick(unit: SurfaceUnit, due: number): void {
    const t = this.fromClock(due)
    this.push({ t, rank: RANK.panel, seq: this.number(), kind: 'panelTick', unit, due })
  }

  arrival(unit: LinkUnit, { dir, text, via, press, load }: Sent, t: number): void {
    const rank = dir === 'up' ? RANK.received + unit.index : RANK.panel
    const seq = this.number()
    const { epoch } = unit
    this.push({ t, rank, seq, kind: 'arrive', unit, dir, text, via, press, load, epoch })
  }
}
