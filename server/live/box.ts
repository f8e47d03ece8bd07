/**
 * A box of the design beside a stand-in or a program: its contacts, knobs and sensors stand on the
 * wall page, its program and its surface run as on the bench, and what it says goes the way of any
 * message.
 */
import { Box } from '../../core/bench/box'
import type { Raw } from '../../core/controller/readings'
import type { Level } from '../../core/controller/step'
import { wholeOf } from '../../core/design/part'
import type { Design, PeerSurface, Sensor } from '../../core/design/schema'
import type { Secret } from '../../core/messages/sealing'
import {
  awaits,
  compileSurface,
  startSurface,
  SurfaceMachine,
  type Via,
} from '../../core/surfaces/surface'
import { seededRandom, streamSeed } from '../../core/units/random'
import { keyOf } from './wall-deeds'

/** What a box needs of whatever it asks. */
export interface Around {
  /** ms since it started. */
  now(): number
  /** A message goes to the board. `about`: index of the load that it commands, -1 = none. */
  says(box: WallBox, text: string, about: number): void
  /** Something on the wall looks otherwise now. */
  changed(): void
}

export class WallBox {
  private readonly surface: SurfaceMachine
  private readonly box: Box
  /** Its lamps that are lit. */
  private readonly lit = new Set<string>()
  private readonly timers = new Set<NodeJS.Timeout>()
  private tick: NodeJS.Timeout | undefined

  /** All boxes of a part that are boards of the design. */
  static allOf(
    part: Design,
    secretOf: (linkId: string) => Secret,
    epochS: number,
    around: Around,
  ): WallBox[] {
    return part.surfaces.flatMap(s =>
      s.kind === 'peer' && s.boardId !== null
        ? (WallBox.of(part, s, secretOf(s.linkId), epochS, around) ?? [])
        : [],
    )
  }

  private static of(
    part: Design,
    surface: PeerSurface,
    secret: Secret,
    epochS: number,
    around: Around,
  ): WallBox | null {
    const program = compileSurface(part, surface.id, secret, epochS)
    const machine = new SurfaceMachine(program, startSurface(program) as SurfaceMachine['state'])
    const known = wholeOf(part).controllers.some(c => c.id === surface.boardId)
    return known ? new WallBox(part, surface, machine, around) : null
  }

  private constructor(
    private readonly part: Design,
    readonly peer: PeerSurface,
    surface: SurfaceMachine,
    private readonly around: Around,
  ) {
    this.surface = surface
    this.box = Box.of(
      wholeOf(part),
      peer,
      {
        now: () => around.now(),
        at: (t, _, run) => this.soon(t, run),
        clock: due => around.now() + ((due - around.now()) | 0),
        contact: () => around.changed(),
        up: () => this.surface.state.up,
        waits: () => awaits(this.surface.state),
        lamp: (lampId, level) => this.light(lampId, level),
        believed: (_, loadId) => this.surface.state.beliefs[this.loadAt(loadId)]?.value ?? null,
        key: (_, loadId, want) =>
          this.does({ kind: 'key', now: around.now(), load: this.loadAt(loadId), want }),
        scene: (_, sceneId) =>
          this.does({
            kind: 'scene',
            now: around.now(),
            scene: part.scenes.findIndex(s => s.id === sceneId),
          }),
      },
      name => seededRandom(streamSeed(1, name)),
    ) as Box
  }

  get linkId(): string {
    return this.peer.linkId
  }

  get sensors(): readonly Sensor[] {
    return this.box.design.sensors
  }

  raw(sensorId: string): Raw | undefined {
    return this.box.raw(sensorId)
  }

  closed(controlId: string): boolean {
    return this.box.hands.closed(controlId)
  }

  /** By lamp of its board, whether it is lit. */
  get lamps(): Record<string, boolean> {
    const { lamps = [] } = this.box.design.controllers[0] ?? {}
    return Object.fromEntries(lamps.map(l => [l.id, this.lit.has(l.id)]))
  }

  /** Its own power, and its network, are there from the beginning. */
  start(): void {
    this.box.boot()
    this.box.network(true)
  }

  /** The board is there, or gone. */
  link(up: boolean): void {
    this.does({ kind: up ? 'linkUp' : 'linkDown', now: this.around.now() })
    if (up) this.box.connected()
  }

  /** `about`: index of the load of the command that is answered, -1 = none or several. */
  hears(text: string, via: Via, about = -1): void {
    if (this.surface.state.up)
      this.does({ kind: 'received', now: this.around.now(), text, via, about })
  }

  /** Whether the control is one of its own. `finger`: "down" stays until "up". */
  press(controlId: string, finger: unknown): boolean {
    if (!this.box.has(controlId)) return false
    const level: Level | null = finger === 'down' ? 0 : finger === 'up' ? 1 : null
    if (level === null) this.box.hands.press(controlId, 'single')
    else this.box.hands.lever(controlId, level)
    return true
  }

  /** Whether the sensor is one of its own; the same for the next two. */
  sense(sensorId: string, raw: Raw): boolean {
    return this.with(sensorId, sensor => this.box.sense(sensor, raw))
  }

  turn(sensorId: string, detents: number): boolean {
    return this.with(sensorId, sensor => this.box.hands.turn(sensor, detents))
  }

  remote(sensorId: string, nth: unknown): boolean {
    const sensor = this.sensors.find(s => s.id === sensorId)
    if (!keyOf(sensor, nth)) return false
    return this.with(sensorId, at => this.box.hands.remote(at, Number(nth), 0))
  }

  close(): void {
    for (const timer of this.timers) clearTimeout(timer)
    clearTimeout(this.tick)
  }

  private with(sensorId: string, act: (sensor: number) => void): boolean {
    const sensor = this.box.sensor(sensorId)
    if (sensor >= 0) act(sensor)
    return sensor >= 0
  }

  private loadAt(loadId: string): number {
    return this.part.loads.findIndex(l => l.id === loadId)
  }

  private does(event: Parameters<SurfaceMachine['handle']>[0]): void {
    const [sends, about] = [this.surface.handle(event).slice(), this.surface.about.slice()]
    this.arm()
    // What it says may be answered at once, which is the next event.
    sends.forEach((text, i) => this.around.says(this, text, about[i] ?? -1))
    this.box.looks(event.kind === 'received')
  }

  private light(lampId: string, level: Level | null): void {
    const lamp = this.box.design.controllers[0]?.lamps.find(l => l.id === lampId)
    if (level === (lamp?.activeLevel === 'high' ? 1 : 0)) this.lit.add(lampId)
    else this.lit.delete(lampId)
    this.around.changed()
  }

  private arm(): void {
    clearTimeout(this.tick)
    const due = this.surface.nextDue
    if (due === null) return
    const now = this.around.now()
    this.tick = setTimeout(
      () => this.does({ kind: 'tick', now: this.around.now() }),
      Math.max(0, (due - now) | 0),
    ).unref()
  }

  private soon(t: number, run: () => void): void {
    const timer = setTimeout(
      () => {
        this.timers.delete(timer)
        run()
      },
      Math.max(0, t - this.around.now()),
    ).unref()
    this.timers.add(timer)
  }
}
