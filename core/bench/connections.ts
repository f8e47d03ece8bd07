/** Who reaches whom: links that come and go with faults, power, the router and strangers. */
import { onNetwork, throughRouter } from '../design/links/traits'
import type { Design } from '../design/schema'
import { RANK } from './actions'
import type { LinkUnit } from './link-unit'
import type { Moments } from './schedule'

/** What connections need of the bench. */
export interface Around extends Moments {
  /** The board is powered and its program runs. */
  runs(): boolean
  /** Both ends learn that a link is there. */
  connected(unit: LinkUnit): void
  /** The board learns that a link is gone; what was on its way is lost. */
  lost(unit: LinkUnit): void
  /** The far end notices, later. */
  noticed(unit: LinkUnit): void
}

export class Connections {
  routerDown = false
  frontDown = false

  constructor(
    private readonly design: Design,
    private readonly units: readonly LinkUnit[],
    private readonly around: Around,
  ) {}

  away(unit: LinkUnit, away: boolean): void {
    unit.away = away
    if (away) this.disconnect(unit)
    else this.reconnectSoon(unit)
  }

  router(down: boolean): void {
    this.routerDown = down
    this.reachAnew(unit => throughRouter(unit.link))
  }

  front(down: boolean): void {
    this.frontDown = down
    this.reachAnew(unit => this.throughFront(unit))
  }

  reachable(unit: LinkUnit): boolean {
    return (
      !unit.away
      && !unit.taken
      && this.around.runs()
      && !(this.routerDown && throughRouter(unit.link))
      && !(this.frontDown && this.throughFront(unit))
    )
  }

  reconnectSoon(unit: LinkUnit): void {
    if (this.reachable(unit) && !unit.up) this.connectIn(unit, unit.link.timing.reconnectMs)
  }

  /** After a time, ms, where it is still reachable then and nothing happened to it meanwhile. */
  connectIn(unit: LinkUnit, ms: number): void {
    const { epoch } = unit
    this.around.at(this.around.now() + ms, RANK.linkUp, () => {
      if (epoch === unit.epoch && this.reachable(unit) && !unit.up) this.connect(unit)
    })
  }

  connect(unit: LinkUnit): void {
    unit.epoch++
    unit.up = true
    unit.ways.up.lastArrival = unit.ways.down.lastArrival = this.around.now()
    this.around.connected(unit)
  }

  disconnect(unit: LinkUnit): void {
    if (!unit.up) return
    unit.up = false
    const epoch = ++unit.epoch
    this.around.lost(unit)
    this.around.at(this.around.now() + unit.link.timing.dropDetectMs, RANK.panel, () => {
      if (epoch === unit.epoch) this.around.noticed(unit)
    })
  }

  private throughFront(unit: LinkUnit): boolean {
    return this.design.front !== null && onNetwork(unit.link)
  }

  private reachAnew(concerns: (unit: LinkUnit) => boolean): void {
    for (const unit of this.units) {
      if (!concerns(unit)) continue
      if (this.reachable(unit)) this.reconnectSoon(unit)
      else this.disconnect(unit)
    }
  }
}
