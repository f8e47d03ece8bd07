/** Panels and boxes of the bench: what is pressed there, what they hear and believe. */
import { farSurfaceOf, farSurfaces, maybeMessage } from '../design/find'
import type { Design, Link } from '../design/schema'
import {
  awaits,
  compileSurface,
  shown,
  startSurface,
  SurfaceMachine,
  type SurfaceEvent,
  type SurfaceState,
  type Understood,
} from '../surfaces/surface'
import type { Random } from '../units/random'
import type { Agenda } from './agenda'
import type { Figures, Press } from './figures'
import type { LinkUnit, SurfaceUnit } from './link-unit'
import type { Recorder } from './recorder'
import type { Sent } from './wire'

/** Where a box begins to number lies within this. */
const FIRST_NUMBERS = 60_000

/** By surface, whether it has anything to do with a load. */
export function followed(design: Design): boolean[][] {
  return farSurfaces(design).map(s =>
    design.loads.map(
      l => maybeMessage(design.links.find(x => x.id === s.linkId) as Link, l.id) !== undefined,
    ),
  )
}

export class Surfaces {
  readonly list: readonly SurfaceUnit[]
  /** Hears what each panel understands. */
  onHeard: ((surfaceId: string, heard: readonly Understood[]) => void) | null = null
  /** Hears of each event of a surface, when what it leads to is done. */
  onHappened: ((surfaceId: string, event: SurfaceEvent) => void) | null = null
  private readonly byId: ReadonlyMap<string, SurfaceUnit>

  constructor(
    private readonly design: Design,
    private readonly follows: readonly (readonly boolean[])[],
    private readonly agenda: Agenda,
    private readonly figures: Figures,
    private readonly recorder: Recorder,
    private readonly send: (link: LinkUnit, sent: Sent) => void,
    stream: (name: string) => Random,
  ) {
    this.list = farSurfaces(design).map((s, at) => {
      const program = compileSurface(design, s.id)
      return {
        at,
        machine: new SurfaceMachine(program, startSurface(program) as SurfaceMachine['state']),
        link: null,
        tickAt: null,
        random: stream(`surface ${s.id}`),
      }
    })
    this.byId = new Map(this.list.map(p => [p.machine.program.panel.id, p]))
  }

  maybe(surfaceId: string): SurfaceUnit | undefined {
    return this.byId.get(surfaceId)
  }

  of(surfaceId: string): SurfaceUnit {
    return this.byId.get(surfaceId) as SurfaceUnit
  }

  belief(surfaceId: string, load: number): SurfaceState['beliefs'][number] | undefined {
    return this.maybe(surfaceId)?.machine.state.beliefs[load]
  }

  waits(surfaceId: string): boolean {
    const unit = this.maybe(surfaceId)
    return unit !== undefined && awaits(unit.machine.state)
  }

  isUp(surfaceId: string): boolean {
    return this.maybe(surfaceId)?.machine.state.up === true
  }

  key(surfaceId: string, event: Extract<SurfaceEvent, { kind: 'key' | 'slide' | 'scene' }>): void {
    farSurfaceOf(this.design, surfaceId)
    const unit = this.of(surfaceId)
    const first =
      event.kind === 'scene'
        ? (unit.machine.program.scenes[event.scene]?.sets[0]?.load ?? -1)
        : event.load
    // A key on a panel that knows its link to be down does nothing, and says so.
    const press = first >= 0 && unit.machine.state.up ? this.figures.pressed(unit.at, first) : null
    this.happens(unit, event, press)
  }

  happens(unit: SurfaceUnit, event: SurfaceEvent, press: Press | null): void {
    const { machine } = unit
    const sends = machine.handle(event)
    if (machine.heard.length && this.onHeard) this.onHeard(machine.program.panel.id, machine.heard)
    for (const load of machine.changed) this.beliefIs(unit, load)
    if (unit.link) {
      for (let i = 0; i < sends.length; i++) {
        const load = machine.about[i] as number
        const about = press ?? (load >= 0 ? this.figures.lastPress(unit.at, load) : null)
        const text = sends[i] as string
        this.send(unit.link, { dir: 'up', text, via: 'command', press: about, load })
      }
    }
    if (this.onHappened) this.onHappened(machine.program.panel.id, event)
    const due = machine.nextDue
    if (due === null || unit.tickAt === due) return
    unit.tickAt = due
    this.agenda.surfaceTick(unit, due)
  }

  ticks(unit: SurfaceUnit, due: number): void {
    if (unit.tickAt === due) unit.tickAt = null
    this.happens(unit, { kind: 'tick', now: this.agenda.now }, null)
  }

  /**
   * Where it begins to number differs from start to start, or its first commands would pass for
   * repeats. The counter of signed commands is kept, as a page keeps it on its device: one that
   * began anew would be refused for good.
   */
  restart(surfaceId: string): SurfaceUnit {
    farSurfaceOf(this.design, surfaceId)
    const unit = this.of(surfaceId)
    const { machine, random } = unit
    const first = Math.floor(random.next() * FIRST_NUMBERS)
    machine.become(startSurface(machine.program, first, machine.state.counter))
    unit.tickAt = null
    machine.state.beliefs.forEach((_, load) => this.beliefIs(unit, load))
    return unit
  }

  private beliefIs(unit: SurfaceUnit, load: number): void {
    const belief = unit.machine.state.beliefs[load]
    if (!belief) return
    const now = shown(belief)
    if (this.follows[unit.at]?.[load]) this.figures.shows(this.agenda.now, unit.at, load, now)
    this.recorder.belief(this.agenda.now, unit.at, load, now)
  }
}
