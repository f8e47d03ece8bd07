/** What is planned on the bench: messages that arrive, machines that want a tick, the rest. */
import { RANK } from './actions'
import type { LinkUnit, SurfaceUnit } from './link-unit'
import { Schedule, type Moments } from './schedule'
import type { Timed } from './queue'
import type { Sent } from './wire'

/**
 * All have the same fields, used or not: what runs most is as fast as one shape of objects lets it
 * be. `epoch`: of the link when a message was sent. `due`: on the 32-bit clock.
 */
export interface Planned extends Timed, Omit<Sent, 'status'> {
  kind: 'arrive' | 'tick' | 'panelTick' | 'run'
  link: LinkUnit | null
  surface: SurfaceUnit | null
  epoch: number
  due: number
  run: (() => void) | null
}

export class Agenda extends Schedule<Planned> {
  /** As parts of the bench know it. */
  readonly moments: Moments = {
    now: () => this.now,
    at: (t, rank, run) => this.at(t, rank, run),
  }

  at(t: number, rank: number, run: () => void): void {
    this.planned(t, rank, 'run').run = run
  }

  boardTick(due: number): void {
    this.planned(this.fromClock(due), RANK.tick, 'tick').due = due
  }

  surfaceTick(unit: SurfaceUnit, due: number): void {
    const tick = this.planned(this.fromClock(due), RANK.panel, 'panelTick')
    tick.surface = unit
    tick.due = due
  }

  arrival(unit: LinkUnit, { dir, text, via, press, load }: Sent, t: number): void {
    const rank = dir === 'up' ? RANK.received + unit.index : RANK.panel
    const arrival = this.planned(t, rank, 'arrive')
    arrival.link = unit
    arrival.epoch = unit.epoch
    arrival.dir = dir
    arrival.text = text
    arrival.via = via
    arrival.press = press
    arrival.load = load
  }

  private planned(t: number, rank: number, kind: Planned['kind']): Planned {
    const planned: Planned = {
      t,
      rank,
      seq: this.number(),
      kind,
      link: null,
      surface: null,
      dir: 'up',
      via: 'stream',
      text: '',
      epoch: 0,
      press: null,
      load: -1,
      due: 0,
      run: null,
    }
    this.push(planned)
    return planned
  }
}
