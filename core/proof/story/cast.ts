/** Who and what stands behind the numbers of a system: in the design, with real names and times. */
import { loadOf, surfaceOf } from '../../design/find'
import type { Control, Design, Gesture, Link, Load, FarSurface, Scene } from '../../design/schema'
import type { SystemEvent } from '../happenings'
import { gestureOf } from '../project'
import type { System } from '../system'

const OF_THE_BOARD: readonly SystemEvent['kind'][] = [
  'save',
  'sent',
  'least',
  'timer',
  'cut',
  'powerOn',
  'rule',
  'end',
  'remote',
  'turn',
  'push',
]

export class Cast {
  /** The surface that is looked at, and its link. */
  readonly panel: FarSurface | null
  readonly link: Link | undefined
  /** The load that is looked at, as it is in the design. */
  readonly load: Load

  constructor(
    readonly design: Design,
    readonly system: System,
    readonly surfaceId: string | null,
  ) {
    this.panel = surfaceId === null ? null : (surfaceOf(design, surfaceId) as FarSurface)
    this.link = design.links.find(l => l.id === this.panel?.linkId)
    this.load = loadOf(design, system.loadId)
  }

  loadAt(i: number): Load | undefined {
    return this.system.design.loads[i]
  }

  scene(i: number): Scene | undefined {
    return this.system.design.scenes[i]
  }

  linkAt(i: number): Link | undefined {
    return this.system.design.links[i]
  }

  /** The control with its real times, not those of the projection. */
  control(input: number): Control {
    const id = this.gesture(input).controlId
    const control = this.design.surfaces
      .flatMap(s => (s.kind === 'hand' ? s.controls : []))
      .find(c => c.id === id)
    if (!control) throw new RangeError(`no control for input ${input}`)
    return control
  }

  gesture(input: number): { controlId: string; gesture: Gesture } {
    return gestureOf(this.system.controller.program.inputs[input]?.control.id ?? '')
  }

  /** Who speaks over a link, by its number. */
  speaker(link: number): FarSurface | undefined {
    const id = this.linkAt(link)?.id
    return this.design.surfaces.find((s): s is FarSurface => s.kind !== 'hand' && s.linkId === id)
  }

  /** The surface that an event belongs to; null where it is the board's. */
  whose(event: SystemEvent): string | null {
    if ('input' in event) {
      const { controlId } = this.gesture(event.input)
      const at = this.design.surfaces.find(
        s => s.kind === 'hand' && s.controls.some(c => c.id === controlId),
      )
      return at?.id ?? null
    }
    if (event.kind === 'other' || event.kind === 'otherScene')
      return this.speaker(event.link)?.id ?? null
    return OF_THE_BOARD.includes(event.kind) ? null : this.surfaceId
  }

  /** How long a value waits before it is saved, ms. */
  get saveDelayMs(): number {
    const { output } = this.load
    return 'saveDelayMs' in output ? output.saveDelayMs : 0
  }
}
