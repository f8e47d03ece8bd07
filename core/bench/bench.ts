/**
 * The bench: a discrete-event simulation of controller, panels, hand controls and links.
 * Deterministic: the same design, seed and actions give the same trace, however the run is cut into
 * slices. Every link and contact draws from a random stream of its own, so what is added to a
 * design does not move what was there.
 */
import { loadOf, maybeMessage, farSurfaceOf, farSurfaces } from '../design/find'
import { wholeOf } from '../design/part'
import { seated } from '../design/seats'
import { boardOf } from '../design/pins'
import { pinOf } from '../boards/boards'
import type { Design, Link } from '../design/schema'
import { linesOf } from '../design/values'
import { compileController, type Program } from '../controller/program'
import { Machine } from '../controller/machine'
import type { ControllerEvent, Effect } from '../controller/step'
import { startWorking } from '../controller/state'
import {
  compileSurface,
  SurfaceMachine,
  shown,
  startSurface,
  type SurfaceEvent,
  type SurfaceProgram,
  type SurfaceState,
  type Understood,
  type Via,
} from '../surfaces/surface'
import { restingRaw, type Raw } from '../controller/readings'
import { seededRandom, streamSeed, type Random } from '../units/random'
import { Figures, type Press } from './figures'
import type { Timed } from './queue'
import { emptyTrace, type Trace } from './trace'
import { perform, RANK, type Doer } from './actions'
import { isLevel, activeLevelOf } from '../design/outputs/traits'
import type { Action, BenchScript } from './script'
import { Connections, type Around as AroundConnections } from './connections'
import { Box, type Around as AroundBox } from './box'
import { Hands, type Around as AroundHands } from './hands'
import { linkUnit, type Dir, type LinkUnit, type SurfaceUnit } from './link-unit'
import { SILENT, TraceRecorder, type Recorder } from './recorder'
import { Schedule, type Moments } from './schedule'
import { Wire, type Around as AroundWire, type FateOf, type Sent } from './wire'
import { onNetwork, throughRouter } from '../design/links/traits'

/** What is planned: something that was sent arrives, a machine wants its tick, or anything else. */
interface Planned extends Timed {
  kind: 'arrive' | 'tick' | 'panelTick' | 'run'
  unit: LinkUnit | null
  panel: SurfaceUnit | null
  dir: Dir
  via: Via
  text: string
  epoch: number
  press: Press | null
  load: number
  run: (() => void) | null
}

const MAX_EVENTS_PER_SLICE = 50_000
/**
 * Time that a write of memory takes, ms: a record of some bytes at 3.3 ms each, as small boards
 * state it.
 */
export const MEMORY_WRITE_MS = 20
/** A box is back this long after it was started anew, ms. */
export const BOX_START_MS = 600
/** A boot log is drawn as at most so many changes of level, at most so far apart, ms. */
const MOST_CHATTER = 24
const BURST_MS = 40

export class Bench {
  /** With a link for each panel and box. */
  readonly design: Design
  readonly trace: Trace
  readonly figures: Figures
  readonly recorded: BenchScript['steps'] = []
  /** Hears what each panel understands. */
  onHeard: ((surfaceId: string, heard: readonly Understood[]) => void) | null = null
  /**
   * Hears of each value of a load that another follows in the same ms, which the trace leaves out.
   */
  onPassed: ((loadId: string, value: string) => void) | null = null
  private readonly program: Program
  private readonly controller: Machine
  private readonly panels: Map<string, SurfaceUnit>
  private readonly panelList: SurfaceUnit[]
  private readonly links: LinkUnit[]
  private readonly follows: boolean[][]
  private readonly lineLevels: (number | null)[][]
  private readonly bootLevels: (number | null)[][]
  /** Lines that carry the boot log, each with a random stream of its own. */
  private readonly chatters: readonly { load: number; line: number; random: Random }[]
  private powered = true
  private bootEpoch = 0
  private controllerTickAt: number | null = null
  /** What each sensor gives, whether the board runs or not. */
  private readonly world: Raw[]
  private readonly schedule = new Schedule<Planned>()
  private readonly hands: Hands
  private readonly boxes: readonly Box[]
  private readonly wire: Wire
  private readonly connections: Connections
  private readonly recorder: Recorder

  /**
   * Without `tracing` only the figures are kept, in bounded space, however long the run. First
   * connections happen at once. `onController` hears what happens to the controller, and what it
   * does, from its first start on.
   */
  constructor(
    given: Design,
    readonly seed = 1,
    fates?: BenchScript['fates'] | FateOf,
    readonly tracing = true,
    private readonly onController:
      ((event: ControllerEvent, effects: readonly Effect[]) => void) | null = null,
  ) {
    const design = (this.design = seated(given))
    const whole = wholeOf(design)
    const stream = (name: string) => seededRandom(streamSeed(seed, name))
    this.program = compileController(design)
    this.controller = new Machine(this.program, startWorking(this.program))
    this.world = design.sensors.map(restingRaw)
    const surfaces = farSurfaces(design)
    this.panelList = surfaces.map((s, at) => {
      const program = compileSurface(design, s.id)
      return {
        at,
        machine: new SurfaceMachine(program, startSurface(program) as SurfaceMachine['state']),
        link: null,
        tickAt: null,
        random: stream(`surface ${s.id}`),
      }
    })
    this.panels = new Map(this.panelList.map(p => [p.machine.program.panel.id, p]))
    this.links = design.links.map((link, index) => {
      const panel = this.panelList.find(p => p.machine.program.link.id === link.id) ?? null
      return linkUnit(link, index, panel, stream(`link ${link.id}`))
    })
    for (const unit of this.links) if (unit.panel) unit.panel.link = unit
    this.follows = surfaces.map(s =>
      design.loads.map(
        l => maybeMessage(design.links.find(x => x.id === s.linkId) as Link, l.id) !== undefined,
      ),
    )
    this.figures = new Figures(surfaces.length, design.loads.length, design.links.length)
    this.trace = emptyTrace(design)
    this.recorder = tracing
      ? new TraceRecorder(design, this.trace, (id, value) => this.onPassed?.(id, value))
      : SILENT
    const fateOf: FateOf | null = typeof fates === 'object' ? key => fates[key] : (fates ?? null)
    this.hands = new Hands(design, this.program, this.aroundHands, stream)
    this.wire = new Wire(
      design,
      this.program,
      this.figures,
      tracing ? this.recorder : null,
      fateOf,
      this.aroundWire,
    )
    this.connections = new Connections(design, this.links, this.aroundConnections)
    const board = design.controllers.length ? boardOf(design) : undefined
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
    this.lineLevels = design.loads.map(l => linesOf(l.output).map(() => null))
    this.boxes = surfaces.flatMap(({ id }) => {
      const s = whole.surfaces.find(x => x.id === id)
      return s?.kind === 'peer' && s.boardId !== null
        ? (Box.of(whole, s, this.aroundBox, stream) ?? [])
        : []
    })
    for (const box of this.boxes) box.boot()
    this.boot()
    this.joins(0)
    for (const link of this.links) this.connections.connect(link)
  }

  /** Simulated time, ms. */
  get now(): number {
    return this.schedule.now
  }

  /** Run up to `untilMs`. Returns false when the slice ended early because of `maxEvents`. */
  advance(untilMs: number, maxEvents = MAX_EVENTS_PER_SLICE): boolean {
    for (let n = 0; n < maxEvents; n++) {
      if (!this.runNext(untilMs)) {
        this.schedule.now = Math.max(this.now, untilMs)
        return true
      }
    }
    return false
  }

  /** Handle one event; returns whether there was one. */
  step(): boolean {
    return this.runNext(Infinity)
  }

  /** Do something now. It is recorded, so that the run can be replayed. */
  act(action: Action): void {
    if (this.tracing) this.recorded.push({ atMs: Math.ceil(this.now), action })
    this.perform(action)
  }

  /**
   * Plan a script; its steps are recorded as they happen, before whatever else happens at their
   * time was planned.
   */
  plan(steps: BenchScript['steps']): void {
    this.schedule.plan(steps)
  }

  /**
   * Something that does not belong to the design happens at a time: whoever drives the bench wants
   * to be asked again.
   */
  ask(atMs: number, run: () => void): void {
    this.at(Math.max(atMs, this.now), RANK.pin, run)
  }

  value(loadId: string): string {
    return this.controller.state.value[this.loadIndex(loadId)] as string
  }

  shown(surfaceId: string, loadId: string) {
    const belief =
      this.panels.get(surfaceId)?.machine.state.beliefs[this.program.loadIndex.get(loadId) ?? -1]
    return belief ? shown(belief) : 'unknown'
  }

  /** The panel as it runs here: for whoever draws it. */
  panel(surfaceId: string): { program: SurfaceProgram; state: SurfaceState } {
    return (this.panels.get(surfaceId) as SurfaceUnit).machine
  }

  /** What a sensor gives now. */
  raw(sensorId: string): Raw {
    return this.boxOf(sensorId)?.raw(sensorId) ?? (this.world[this.sensorIndex(sensorId)] as Raw)
  }

  linkState(linkId: string): { up: boolean; away: boolean; taken: boolean; dropped: number } {
    const unit = this.linkUnit(linkId)
    return {
      up: unit.up,
      away: unit.away,
      taken: unit.taken,
      dropped: this.controller.state.links[unit.index]?.dropped ?? 0,
    }
  }

  panelConnected(surfaceId: string): boolean {
    return this.panels.get(surfaceId)?.machine.state.up === true
  }
  get power(): 'on' | 'booting' | 'off' {
    if (!this.powered) return 'off'
    return this.controller.state.running ? 'on' : 'booting'
  }
  get routerIsDown(): boolean {
    return this.connections.routerDown
  }
  get frontDown(): boolean {
    return this.connections.frontDown
  }
  get contactsBounce(): boolean {
    return this.hands.bouncing
  }
  leverClosed(controlId: string): boolean {
    const box = this.boxWith(controlId)
    return box ? box.hands.closed(controlId) : this.hands.closed(controlId)
  }

  /** Presses of a surface that nothing came of. */
  missed(surfaceId: string): number {
    const unit = this.panels.get(surfaceId) as SurfaceUnit
    return this.figures.missed(unit.at, load => unit.machine.state.beliefs[load]?.waiting !== null)
  }

  /** The next thing that happens, if it happens by then. */
  private runNext(untilMs: number): boolean {
    const step = this.schedule.step(untilMs)
    if (step) {
      this.happens()
      this.act(step.action)
      return true
    }
    const event = this.schedule.event(untilMs)
    if (!event) return false
    this.happens()
    switch (event.kind) {
      case 'arrive':
        this.land(event)
        break
      case 'tick':
        if (this.controllerTickAt === event.epoch) this.controllerTickAt = null
        this.controllerEvent({ kind: 'tick', now: this.now })
        break
      case 'panelTick': {
        const unit = event.panel as SurfaceUnit
        if (unit.tickAt === event.epoch) unit.tickAt = null
        this.surfaceEvent(unit, { kind: 'tick', now: this.now }, null)
        break
      }
      case 'run':
        ;(event.run as () => void)()
    }
    return true
  }

  private happens(): void {
    this.figures.events++
    this.trace.events++
  }

  private perform(action: Action): void {
    this.recorder.mark(this.now, action)
    perform(this.doer, action)
  }

  /** What the rows of `actions.ts` ask for. */
  private readonly doer: Doer = {
    press: (controlId, gesture) => this.handsAt(controlId).press(controlId, gesture),
    lever: (controlId, level) => this.handsAt(controlId).lever(controlId, level),
    key: (surfaceId, loadId, want) =>
      this.key(surfaceId, { kind: 'key', now: this.now, load: this.loadIndex(loadId), want }),
    slide: (surfaceId, loadId, want) =>
      this.key(surfaceId, { kind: 'slide', now: this.now, load: this.loadIndex(loadId), want }),
    scene: (surfaceId, sceneId) => {
      const scene = this.design.scenes.findIndex(s => s.id === sceneId)
      this.key(surfaceId, { kind: 'scene', now: this.now, scene })
    },
    sense: (sensorId, raw) => {
      const box = this.boxOf(sensorId)
      if (box) box.sense(box.sensor(sensorId), raw)
      else this.sense(this.sensorIndex(sensorId), raw)
    },
    turn: (sensorId, detents) => {
      const [hands, sensor] = this.handsOf(sensorId)
      hands.turn(sensor, detents)
    },
    remote: (sensorId, key, repeats) => {
      const [hands, sensor] = this.handsOf(sensorId)
      hands.remote(sensor, key, repeats)
    },
    away: (linkId, away) => this.connections.away(this.linkUnit(linkId), away),
    loseNext: linkId => void this.linkUnit(linkId).loseNext++,
    doubleNext: linkId => void this.linkUnit(linkId).doubleNext++,
    replay: (linkId, back) => this.wire.replay(this.linkUnit(linkId), back),
    stranger: (linkId, comes) => this.stranger(this.linkUnit(linkId), comes),
    restartBox: surfaceId => this.restartBox(surfaceId),
    front: down => this.connections.front(down),
    router: down => {
      this.connections.router(down)
      if (down) this.joins(0)
      else this.joins()
    },
    bounce: bounces => {
      for (const hands of [this.hands, ...this.boxes.map(b => b.hands)]) hands.bouncing = bounces
    },
    power: on => (on ? this.powerOn() : this.powerOff()),
  }

  private handsAt(controlId: string): Hands {
    return this.boxWith(controlId)?.hands ?? this.hands
  }

  /** Whose hands a sensor is for, and its place there. */
  private handsOf(sensorId: string): [Hands, number] {
    const box = this.boxOf(sensorId)
    return box ? [box.hands, box.sensor(sensorId)] : [this.hands, this.sensorIndex(sensorId)]
  }

  private boxWith(controlId: string): Box | undefined {
    return this.boxes.find(b => b.has(controlId))
  }

  private boxOf(sensorId: string): Box | undefined {
    return this.boxes.find(b => b.sensor(sensorId) >= 0)
  }

  private sense(sensor: number, raw: Raw): void {
    this.world[sensor] = raw
    if (this.powered && this.controller.state.running)
      this.controllerEvent({ kind: 'sample', now: this.now, sensor, raw })
  }

  private powerOff(): void {
    if (!this.powered) return
    this.powered = false
    this.bootEpoch++
    this.controllerEvent({ kind: 'powerOff', now: this.now })
    this.recorder.cut(this.now)
    this.design.loads.forEach((_, load) =>
      this.lineLevels[load]?.forEach((_, line) => this.lineIs(load, line, null)),
    )
    this.program.lamps.forEach((_, lamp) => this.recorder.lamp(this.now, lamp, null))
    for (const link of this.links) this.connections.disconnect(link)
    this.allTruth()
  }

  private powerOn(): void {
    if (this.powered) return
    this.powered = true
    const epoch = ++this.bootEpoch
    this.bootLevels.forEach((lines, load) =>
      lines.forEach((level, line) => this.lineIs(load, line, level)),
    )
    for (const chatter of this.chatters) this.chatter(chatter, epoch)
    this.at(this.now + (this.design.controllers[0]?.bootMs ?? 0), RANK.boot, () => {
      if (epoch !== this.bootEpoch) return
      this.recorder.back(this.now)
      this.boot()
      this.joins()
      for (const link of this.links) this.connections.reconnectSoon(link)
    })
  }

  /**
   * A line that carries the boot log is driven both ways until the program takes it: bursts of
   * text, idle high in between.
   */
  private chatter({ load, line, random }: (typeof this.chatters)[number], epoch: number): void {
    const bootMs = this.design.controllers[0]?.bootMs ?? 0
    const full = isLevel(this.design.loads[load]?.output) ? 255 : 1
    let after = 0
    for (let n = 0; n < MOST_CHATTER; n++) {
      after += 1 + Math.floor(random.next() * BURST_MS)
      if (after >= bootMs) return
      const level = n % 2 === 0 ? 0 : full
      this.at(this.now + after, RANK.pin, () => {
        if (epoch === this.bootEpoch && !this.controller.state.running)
          this.lineIs(load, line, level)
      })
    }
  }

  /** Whether the board is in its network is looked at after `ms`; only a lamp shows it. */
  private joins(ms?: number): void {
    const unit = this.links.find(u => onNetwork(u.link))
    if (!unit || !this.program.lamps.some(l => l.lamp.shows === 'network')) return
    const epoch = this.bootEpoch
    this.at(this.now + (ms ?? unit.link.timing.reconnectMs), RANK.network, () => {
      if (epoch !== this.bootEpoch) return
      const up = !(this.connections.routerDown && throughRouter(unit.link))
      this.controllerEvent({ kind: 'network', now: this.now, up })
    })
  }

  private boot(): void {
    this.controllerEvent({ kind: 'boot', now: this.now, levels: this.hands.levers.slice() })
    this.world.forEach((raw, sensor) =>
      this.controllerEvent({ kind: 'sample', now: this.now, sensor, raw }),
    )
    this.allTruth()
  }

  /**
   * Somebody else connects where only one can: while our panel holds the link they are refused, and
   * it is refused while they do.
   */
  private stranger(unit: LinkUnit, comes: boolean): void {
    if (comes && unit.up) this.figures.traffic[unit.index]!.refused++
    else unit.taken = comes
    if (!unit.taken) this.connections.reconnectSoon(unit)
  }

  private restartBox(surfaceId: string): void {
    farSurfaceOf(this.design, surfaceId)
    const unit = this.panels.get(surfaceId) as SurfaceUnit
    const { machine, link } = unit
    // Where it begins to number differs from start to start, or its first commands would pass for
    // repeats. The counter of signed commands is kept, as a page keeps it on its device: one that
    // began anew would be refused for good.
    machine.become(
      startSurface(machine.program, Math.floor(unit.random.next() * 60_000), machine.state.counter),
    )
    unit.tickAt = null
    machine.state.beliefs.forEach((_, load) => this.beliefIs(unit, load))
    const box = this.boxes.find(b => b.id === surfaceId)
    box?.off()
    if (box) this.at(this.now + BOX_START_MS, RANK.boot, () => box.boot())
    if (!link?.up) return
    this.connections.disconnect(link)
    this.connections.connectIn(link, BOX_START_MS)
  }

  private readonly around: Moments = {
    now: () => this.now,
    at: (t, rank, run) => this.at(t, rank, run),
  }
  private readonly aroundBox: AroundBox = {
    ...this.around,
    clock: due => this.schedule.fromClock(due),
    contact: (controlId, level) => this.recorder.contact(this.now, controlId, level),
    up: surfaceId => this.panelConnected(surfaceId),
    believed: (surfaceId, loadId) =>
      this.panels.get(surfaceId)?.machine.state.beliefs[this.loadIndex(loadId)]?.value ?? null,
    key: (surfaceId, loadId, want) => this.doer.key(surfaceId, loadId, want),
    scene: (surfaceId, sceneId) => this.doer.scene(surfaceId, sceneId),
  }
  private readonly aroundHands: AroundHands = {
    ...this.around,
    happens: event => this.controllerEvent(event),
    contact: (controlId, level) => this.recorder.contact(this.now, controlId, level),
  }
  private readonly aroundWire: AroundWire = {
    ...this.around,
    arrives: (unit, sent, t) => this.plans(unit, sent, t),
    arrive: (unit, dir, text, via) => this.arrive(unit, dir, text, via),
  }
  private readonly aroundConnections: AroundConnections = {
    ...this.around,
    runs: () => this.powered && this.controller.state.running,
    connected: unit => this.connected(unit),
    lost: unit => {
      this.recorder.down(this.now, unit.link.id)
      this.wire.lose(unit)
      this.controllerEvent({ kind: 'linkDown', now: this.now, link: unit.index })
    },
    noticed: unit => {
      if (unit.panel) this.surfaceEvent(unit.panel, { kind: 'linkDown', now: this.now }, null)
    },
  }

  private connected(unit: LinkUnit): void {
    this.recorder.up(this.now, unit.link.id)
    // A panel that had not noticed the loss notices it at the latest when it has to connect again.
    if (unit.panel?.machine.state.up)
      this.surfaceEvent(unit.panel, { kind: 'linkDown', now: this.now }, null)
    this.controllerEvent({ kind: 'linkUp', now: this.now, link: unit.index })
    if (!unit.panel) return
    this.surfaceEvent(unit.panel, { kind: 'linkUp', now: this.now }, null)
    const { id } = unit.panel.machine.program.panel
    this.boxes.find(b => b.id === id)?.connected()
  }

  private controllerEvent(event: ControllerEvent): void {
    const { controller } = this
    const effects = controller.handle(event)
    this.onController?.(event, effects)
    for (const load of controller.changed) this.truthIs(load)
    for (const effect of effects) this.effect(effect)
    const due = controller.nextDue
    if (due === null || this.controllerTickAt === due) return
    this.controllerTickAt = due
    this.push(this.schedule.fromClock(due), 'tick', RANK.tick, null, null, due, null)
  }

  private effect(effect: Effect): void {
    switch (effect.kind) {
      case 'pin':
        return this.lineIs(effect.load, effect.line, effect.level)
      case 'lamp':
        return this.recorder.lamp(this.now, effect.lamp, effect.level)
      case 'send': {
        const unit = this.links[effect.link] as LinkUnit
        this.send(unit, effect.text, 'stream')
        if (unit.link.queue) this.sentSoon(unit, effect.text)
        return
      }
      case 'reply': {
        const { link, text, to, status } = effect
        return this.send(this.links[link] as LinkUnit, text, to, status)
      }
      case 'save':
        return this.saves(effect.load, effect.value)
    }
  }

  private send(unit: LinkUnit, text: string, via: Via, status?: number): void {
    this.wire.transmit(unit, {
      ...{ dir: 'down', text, via, press: null, load: -1 },
      ...(status === undefined ? {} : { status }),
    })
  }

  /**
   * The link takes the next message when this one has left; where the board cannot sense a loss, it
   * leaves whether somebody listens or not.
   */
  private sentSoon(unit: LinkUnit, text: string): void {
    const epochNow = () => (this.program.links[unit.index]?.senses ? unit.epoch : -this.bootEpoch)
    const epoch = epochNow()
    this.at(this.now + Math.max(1, this.wire.timeOf(unit, text)), RANK.received, () => {
      if (epoch === epochNow())
        this.controllerEvent({ kind: 'sent', now: this.now, link: unit.index })
    })
  }

  private saves(load: number, value: string): void {
    this.figures.memoryWrites++
    this.recorder.save(this.now, load, value)
    const epoch = this.bootEpoch
    this.at(this.now + MEMORY_WRITE_MS, RANK.tick, () => {
      if (epoch === this.bootEpoch) this.controllerEvent({ kind: 'memoryDone', now: this.now })
    })
  }

  private key(
    surfaceId: string,
    event: Extract<SurfaceEvent, { kind: 'key' | 'slide' | 'scene' }>,
  ): void {
    farSurfaceOf(this.design, surfaceId)
    const unit = this.panels.get(surfaceId) as SurfaceUnit
    const loads =
      event.kind === 'scene'
        ? (unit.machine.program.scenes[event.scene]?.sets.map(s => s.load) ?? [])
        : [event.load]
    const [first = -1] = loads
    // A key on a panel that knows its link to be down does nothing, and says so.
    const press = first >= 0 && unit.machine.state.up ? this.figures.pressed(unit.at, first) : null
    this.surfaceEvent(unit, event, press)
  }

  private surfaceEvent(unit: SurfaceUnit, event: SurfaceEvent, press: Press | null): void {
    const { machine } = unit
    const sends = machine.handle(event)
    if (machine.heard.length && this.onHeard) this.onHeard(machine.program.panel.id, machine.heard)
    for (const load of machine.changed) this.beliefIs(unit, load)
    if (unit.link) {
      for (let i = 0; i < sends.length; i++) {
        const load = machine.about[i] as number
        const about = press ?? (load >= 0 ? this.figures.lastPress(unit.at, load) : null)
        const text = sends[i] as string
        this.wire.transmit(unit.link, { dir: 'up', text, via: 'command', press: about, load })
      }
    }
    const due = machine.nextDue
    if (due === null || unit.tickAt === due) return
    unit.tickAt = due
    this.push(this.schedule.fromClock(due), 'panelTick', RANK.panel, null, unit, due, null)
  }

  private plans(unit: LinkUnit, { dir, via, text, press, load }: Sent, arrival: number): void {
    const event = this.push(
      arrival,
      'arrive',
      dir === 'up' ? RANK.received + unit.index : RANK.panel,
      unit,
      null,
      unit.epoch,
      press,
    )
    event.dir = dir
    event.via = via
    event.text = text
    event.load = load
  }

  private land({ unit, dir, via, text, epoch, press, load }: Planned): void {
    if (!unit) return
    // The link fell while this was under way.
    if (epoch !== unit.epoch) {
      if (press && unit.panel) this.figures.copyLost(unit.panel.at, press)
      return
    }
    unit.ways[dir].onWay--
    this.arrive(unit, dir, text, via)
    // A keep-alive or a command for what is so already acts, and moves nothing.
    const { changed } = this.controller
    if (press && unit.panel)
      this.figures.acts(
        unit.panel.at,
        press,
        load < 0 ? changed.length > 0 : changed.includes(load),
      )
  }

  private arrive(unit: LinkUnit, dir: Dir, text: string, via: Via): void {
    if (dir === 'up')
      this.controllerEvent({ kind: 'received', now: this.now, link: unit.index, text })
    else if (unit.panel)
      this.surfaceEvent(unit.panel, { kind: 'received', now: this.now, text, via }, null)
  }

  private allTruth(): void {
    for (let load = 0; load < this.design.loads.length; load++) this.truthIs(load)
  }

  private truthIs(load: number): void {
    const value = this.controller.state.value[load] as string
    this.figures.truthIs(this.now, load, value, this.follows)
    this.recorder.truth(this.now, load, value, this.powered && this.controller.state.running)
  }

  private lineIs(load: number, line: number, level: number | null): void {
    const levels = this.lineLevels[load] as (number | null)[]
    if (levels[line] === level) return
    const { output } = this.design.loads[load] as Design['loads'][number]
    const most = isLevel(output) ? 255 : 1
    const resting = activeLevelOf(output) === 'high' ? 0 : most
    if (level !== null && level !== resting && (levels[line] === resting || levels[line] === null))
      this.figures.cycles[load]!++
    levels[line] = level
    this.recorder.line(this.now, load, line, level)
  }

  private beliefIs(unit: SurfaceUnit, load: number): void {
    const belief = unit.machine.state.beliefs[load]
    if (!belief) return
    const now = shown(belief)
    if (this.follows[unit.at]?.[load]) this.figures.shows(this.now, unit.at, load, now)
    this.recorder.belief(this.now, unit.at, load, now)
  }

  private at(t: number, rank: number, run: () => void): void {
    this.push(t, 'run', rank, null, null, 0, null).run = run
  }

  private push(
    t: number,
    kind: Planned['kind'],
    rank: number,
    unit: LinkUnit | null,
    panel: SurfaceUnit | null,
    epoch: number,
    press: Press | null,
  ): Planned {
    const event: Planned = {
      t,
      rank,
      seq: this.schedule.number(),
      kind,
      unit,
      panel,
      dir: 'up',
      via: 'stream',
      text: '',
      epoch,
      press,
      load: -1,
      run: null,
    }
    this.schedule.push(event)
    return event
  }

  private linkUnit(linkId: string): LinkUnit {
    const unit = this.links.find(l => l.link.id === linkId)
    if (!unit) throw new RangeError(`no link "${linkId}"`)
    return unit
  }

  private sensorIndex(sensorId: string): number {
    const sensor = this.design.sensors.findIndex(s => s.id === sensorId)
    if (sensor < 0) throw new RangeError(`no sensor "${sensorId}"`)
    return sensor
  }

  private loadIndex(loadId: string): number {
    return this.program.loadIndex.get(loadOf(this.design, loadId).id) as number
  }
}

/**
 * Run a whole script at once: to `untilMs`, or five seconds past its last step. `fates`: of
 * messages, where they are not the script's own.
 */
export function runScript(
  design: Design,
  script: BenchScript,
  fates: BenchScript['fates'] | FateOf = script.fates,
): Bench {
  const bench = new Bench(design, script.seed, fates)
  bench.plan(script.steps)
  const until = script.untilMs ?? script.steps.reduce((last, s) => Math.max(last, s.atMs), 0) + 5000
  while (!bench.advance(until)) {
    /* the next slice */
  }
  return bench
}
