/**
 * The controller of the design beside the real one: it is told the same, and says what should be
 * answered. Without wires, pins or a clock of its own.
 */
import { compileController, type Program } from '../controller/program'
import { restingRaw } from '../controller/readings'
import {
  nextDue,
  startController,
  step,
  type ControllerEvent,
  type ControllerState,
  type Level,
} from '../controller/step'
import type { Design } from '../design/schema'
import type { Via } from '../surfaces/surface'

/** What the controller says over a link. */
export interface Saying {
  linkId: string
  text: string
  via: Via
}

export class Twin {
  readonly program: Program
  private state: ControllerState
  private readonly levels: Level[]

  /** `part`: of one controller. `secrets` by link, as `compileController` takes them. */
  constructor(
    readonly part: Design,
    secrets: Readonly<Record<string, string>> = {},
    epochS?: number,
  ) {
    this.program = compileController(part, secrets, epochS)
    this.state = startController(this.program)
    this.levels = this.program.inputs.map(() => 1)
  }

  /** When it wants a tick, ms; null = never. */
  get due(): number | null {
    return nextDue(this.state)
  }

  get running(): boolean {
    return this.state.running
  }

  /** What a load was told last. */
  value(loadId: string): string {
    const load = this.part.loads.findIndex(l => l.id === loadId)
    return this.state.value[load] ?? ''
  }

  /** It has another value by somebody else's doing: nothing is done about it, and nothing said. */
  takes(loadId: string, value: string): void {
    const load = this.part.loads.findIndex(l => l.id === loadId)
    if (load >= 0) this.state = { ...this.state, value: this.state.value.with(load, value) }
  }

  boot(now: number): Saying[] {
    const said = this.does({ kind: 'boot', now, levels: this.levels })
    this.part.sensors.forEach((s, sensor) =>
      said.push(...this.does({ kind: 'sample', now, sensor, raw: restingRaw(s) })),
    )
    return [...said, ...this.does({ kind: 'network', now, up: true })]
  }

  cut(now: number): Saying[] {
    return this.does({ kind: 'powerOff', now })
  }

  link(linkId: string, up: boolean, now: number): Saying[] {
    const link = this.linkIndex(linkId)
    return link < 0 ? [] : this.does({ kind: up ? 'linkUp' : 'linkDown', now, link })
  }

  hears(linkId: string, text: string, now: number): Saying[] {
    const link = this.linkIndex(linkId)
    return link < 0 ? [] : this.does({ kind: 'received', now, link, text })
  }

  /** A contact closes (0) or opens (1). */
  contact(controlId: string, level: Level, now: number): Saying[] {
    const input = this.program.inputs.findIndex(i => i.control.id === controlId)
    if (input < 0) return []
    this.levels[input] = level
    return this.does({ kind: 'pin', now, input, level })
  }

  tick(now: number): Saying[] {
    return this.does({ kind: 'tick', now })
  }

  private linkIndex(linkId: string): number {
    return this.program.links.findIndex(l => l.link.id === linkId)
  }

  private does(event: ControllerEvent): Saying[] {
    const { state, effects } = step(this.program, this.state, event)
    this.state = state
    const said = effects.flatMap((e): Saying[] => {
      if (e.kind !== 'send' && e.kind !== 'reply') return []
      const linkId = this.program.links[e.link]?.link.id ?? ''
      return [{ linkId, text: e.text, via: e.kind === 'send' ? 'stream' : e.to }]
    })
    // Here memory is written, and messages leave, at once.
    const { now } = event
    if (effects.some(e => e.kind === 'save')) said.push(...this.does({ kind: 'memoryDone', now }))
    this.state.links.forEach(({ busy }, link) => {
      if (busy) said.push(...this.does({ kind: 'sent', now, link }))
    })
    return said
  }
}
