/**
 * A box on the bench that is a board of the design: its contacts, knobs and sensors, its program,
 * and how often it sends. It runs by its own power, beside the controller that it asks.
 */
import { BoxMachine, designOfBox, Pace, type Ask } from '../controller/box'
import { restingRaw, type Raw } from '../controller/readings'
import type { ControllerEvent, Level } from '../controller/step'
import { saysSteps } from '../messages/setpoints'
import { linkOf, maybeMessage } from '../design/find'
import { onNetwork } from '../design/links/traits'
import type { Design, Link, PeerSurface } from '../design/schema'
import { nth } from '../units/lists'
import type { Random } from '../units/random'
import { RANK } from './actions'
import { Hands } from './hands'
import type { Moments } from './schedule'

/** What a box needs of the bench. `loadId`, `sceneId`: of the whole design. */
export interface Around extends Moments {
  /** Its time, ms since the beginning, on the 32-bit clock. */
  clock(t: number): number
  contact(controlId: string, level: Level): void
  up(surfaceId: string): boolean
  believed(surfaceId: string, loadId: string): string | null
  /** Whether it waits for an answer. */
  waits(surfaceId: string): boolean
  /** null = its board has no power. */
  lamp(lampId: string, level: Level | null): void
  key(surfaceId: string, loadId: string, want: string): void
  scene(surfaceId: string, sceneId: string): void
}

export class Box {
  readonly hands: Hands
  private readonly machine: BoxMachine
  private readonly pace: Pace
  private readonly link: Link
  private readonly world: Raw[]
  private tickAt: number | null = null
  private paceAt: number | null = null
  /** What was asked at a start, before its link was there. */
  private atStart: Ask[] = []

  /** `whole`: the design with all its boards. null where the board of the box is not in it. */
  static of(
    whole: Design,
    box: PeerSurface,
    around: Around,
    stream: (name: string) => Random,
  ): Box | null {
    const design = designOfBox(whole, box)
    return design && new Box(new BoxMachine(whole, box, design), design, around, stream)
  }

  private constructor(
    machine: BoxMachine,
    readonly design: Design,
    private readonly around: Around,
    stream: (name: string) => Random,
  ) {
    this.machine = machine
    this.world = design.sensors.map(restingRaw)
    const link = (this.link = linkOf(machine.whole, machine.box.linkId))
    this.pace = new Pace(machine.box.leastMs, load => {
      const message = maybeMessage(link, design.loads[load]?.id ?? '')
      return message !== undefined && saysSteps(message)
    })
    const { program } = machine
    this.hands = new Hands(
      design,
      program,
      {
        now: around.now,
        at: around.at,
        happens: event => this.happens(event),
        contact: (controlId, level) => around.contact(controlId, level),
      },
      stream,
    )
  }

  get id(): string {
    return this.machine.box.id
  }

  has(controlId: string): boolean {
    return this.machine.program.inputIndex.has(controlId)
  }

  /** Its place among the sensors of the box; -1 = not of this box. */
  sensor(sensorId: string): number {
    return this.design.sensors.findIndex(s => s.id === sensorId)
  }

  raw(sensorId: string): Raw | undefined {
    return this.world[this.sensor(sensorId)]
  }

  sense(sensor: number, raw: Raw): void {
    this.world[sensor] = raw
    this.happens({ kind: 'sample', now: this.around.now(), sensor, raw })
  }

  boot(): void {
    this.pace.forget()
    this.atStart = []
    this.happens({ kind: 'boot', now: this.around.now(), levels: this.hands.levers.slice() })
    this.world.forEach((raw, sensor) =>
      this.happens({ kind: 'sample', now: this.around.now(), sensor, raw }),
    )
  }

  off(): void {
    this.happens({ kind: 'powerOff', now: this.around.now() })
    this.pace.forget()
    for (const { lamp } of this.machine.program.lamps) this.around.lamp(lamp.id, null)
  }

  /** Whether anything shows what its surface does. */
  get hasLamps(): boolean {
    return this.machine.program.lamps.length > 0
  }

  /** Its surface did or heard something. */
  looks(heard: boolean): void {
    this.lights(false, null, heard)
  }

  /** Its board came into its network, or lost it. */
  network(up: boolean): void {
    this.lights(false, up, false)
  }

  /** Its link is there: what a lever asked at the start is asked now. */
  connected(): void {
    const waiting = this.atStart
    this.atStart = []
    for (const ask of waiting) this.offer(ask)
  }

  private happens(event: ControllerEvent): void {
    this.machine.handle(event)
    for (const ask of this.machine.asks)
      if (event.kind === 'boot') this.atStart.push(ask)
      else this.offer(ask)
    this.lights(event.kind === 'boot', null, false)
  }

  private lights(boots: boolean, network: boolean | null, heard: boolean): void {
    if (this.hasLamps) {
      const { around, id, machine } = this
      const now = {
        ...{ network, heard, up: around.up(id), senses: onNetwork(this.link) },
        waits: () => around.waits(id),
      }
      for (const e of machine.lit(around.now(), boots, now))
        if (e.kind === 'lamp') around.lamp(nth(machine.program.lamps, e.lamp).lamp.id, e.level)
    }
    this.planTick()
  }

  private planTick(): void {
    const due = this.machine.nextDue
    if (due === null || this.tickAt === due) return
    this.tickAt = due
    this.around.at(this.around.clock(due), RANK.panel, () => {
      if (this.tickAt === due) this.tickAt = null
      this.happens({ kind: 'tick', now: this.around.now() })
    })
  }

  /** A board that knows its link to be down asks nothing, and owes nothing later. */
  private offer(ask: Ask): void {
    if (!this.around.up(this.id)) return this.pace.forget()
    for (const said of this.pace.take(this.around.now(), ask)) this.say(said)
    this.planNext()
  }

  private planNext(): void {
    const { due } = this.pace
    if (due === null || this.paceAt === due) return
    this.paceAt = due
    this.around.at(this.around.clock(due), RANK.panel, () => {
      if (this.paceAt !== due) return
      this.paceAt = null
      if (!this.around.up(this.id)) return this.pace.forget()
      for (const said of this.pace.next(this.around.now())) this.say(said)
      this.planNext()
    })
  }

  private say(ask: Ask): void {
    const { id, around, machine } = this
    if (ask.kind === 'scene') return around.scene(id, ask.sceneId)
    const loadId = this.design.loads[ask.load]?.id ?? ''
    if (ask.kind === 'key')
      return around.key(id, loadId, machine.wantOf(ask, around.believed(id, loadId)))
    const many = Math.abs(ask.steps)
    around.key(id, loadId, `${ask.steps > 0 ? 'up' : 'down'}${many > 1 ? `:${many}` : ''}`)
  }
}
