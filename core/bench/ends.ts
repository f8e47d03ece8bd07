/** Both ends of the links: what happens there when one comes, goes, or brings something. */
import type { Program } from '../controller/program'
import type { Effect } from '../controller/step'
import type { Design } from '../design/schema'
import type { Random } from '../units/random'
import type { Via } from '../surfaces/surface'
import { RANK } from './actions'
import type { Agenda, Planned } from './agenda'
import type { Board } from './board'
import type { Box } from './box'
import type { Figures } from './figures'
import { linkUnit, type Dir, type LinkUnit, type SurfaceUnit } from './link-unit'
import type { Recorder } from './recorder'
import type { Surfaces } from './surfaces'
import type { Wire } from './wire'

/** The links of a design, each with who is at its far end. */
export function linksOf(
  design: Design,
  surfaces: readonly SurfaceUnit[],
  stream: (name: string) => Random,
): LinkUnit[] {
  return design.links.map((link, index) => {
    const panel = surfaces.find(p => p.machine.program.link.id === link.id) ?? null
    const unit = linkUnit(link, index, panel, stream(`link ${link.id}`))
    if (panel) panel.link = unit
    return unit
  })
}

/** Who is at them. */
interface Parts {
  program: Program
  links: readonly LinkUnit[]
  agenda: Agenda
  board: Board
  surfaces: Surfaces
  boxes: readonly Box[]
  figures: Figures
  recorder: Recorder
  wire: Wire
}

export class Ends {
  constructor(private readonly parts: Parts) {}

  connected(unit: LinkUnit): void {
    const { now } = this.parts.agenda
    const { panel } = unit
    this.parts.recorder.up(now, unit.link.id)
    // A panel that had not noticed the loss notices it at the latest when it has to connect again.
    if (panel?.machine.state.up) this.parts.surfaces.happens(panel, { kind: 'linkDown', now }, null)
    this.parts.board.happens({ kind: 'linkUp', now, link: unit.index })
    if (!panel) return
    this.parts.surfaces.happens(panel, { kind: 'linkUp', now }, null)
    this.parts.boxes.find(b => b.id === panel.machine.program.panel.id)?.connected()
  }

  /** The board learns of it; what was under way is lost. */
  lost(unit: LinkUnit): void {
    const { now } = this.parts.agenda
    this.parts.recorder.down(now, unit.link.id)
    this.parts.wire.lose(unit)
    this.parts.board.happens({ kind: 'linkDown', now, link: unit.index })
  }

  /** The far end learns of it. */
  noticed({ panel }: LinkUnit): void {
    if (panel)
      this.parts.surfaces.happens(panel, { kind: 'linkDown', now: this.parts.agenda.now }, null)
  }

  /** What the board says leaves by its link. */
  says(effect: Extract<Effect, { kind: 'send' | 'reply' }>): void {
    const { wire, links } = this.parts
    const unit = links[effect.link] as LinkUnit
    const { text } = effect
    // Shapes are written out: this is done for every message, and putting them together is slow.
    if (effect.kind === 'send') {
      wire.transmit(unit, { dir: 'down', text, via: 'stream', press: null, load: -1 })
      if (unit.link.queue) this.sentSoon(unit, text)
      return
    }
    const { to, status } = effect
    wire.transmit(unit, { dir: 'down', text, via: to, press: null, load: -1, status })
  }

  land({ link: unit, dir, via, text, epoch, press, load }: Planned): void {
    if (!unit) return
    // The link fell while this was under way.
    if (epoch !== unit.epoch) {
      if (press && unit.panel) this.parts.figures.copyLost(unit.panel.at, press)
      return
    }
    unit.ways[dir].onWay--
    this.arrive(unit, dir, text, via)
    // A keep-alive or a command for what is so already acts, and moves nothing.
    const { changed } = this.parts.board.machine
    if (press && unit.panel)
      this.parts.figures.acts(
        unit.panel.at,
        press,
        load < 0 ? changed.length > 0 : changed.includes(load),
      )
  }

  arrive(unit: LinkUnit, dir: Dir, text: string, via: Via): void {
    const { now } = this.parts.agenda
    if (dir === 'up') this.parts.board.happens({ kind: 'received', now, link: unit.index, text })
    else if (unit.panel)
      this.parts.surfaces.happens(unit.panel, { kind: 'received', now, text, via }, null)
  }

  /**
   * The link takes the next message when this one has left; where the board cannot sense a loss, it
   * leaves whether somebody listens or not.
   */
  private sentSoon(unit: LinkUnit, text: string): void {
    const { agenda, board } = this.parts
    const senses = this.parts.program.links[unit.index]?.senses
    const epochNow = () => (senses ? unit.epoch : -board.epoch)
    const epoch = epochNow()
    const ms = Math.max(1, this.parts.wire.timeOf(unit, text))
    agenda.at(agenda.now + ms, RANK.received, () => {
      if (epoch === epochNow()) board.happens({ kind: 'sent', now: agenda.now, link: unit.index })
    })
  }
}
