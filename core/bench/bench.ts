/**
 * The bench: a discrete-event simulation of controller, panels, hand controls and links.
 * Deterministic: the same design, seed and actions give the same trace, however the run is cut into
 * slices. Every link and contact draws from a random stream of its own, so what is added to a
 * design does not move what was there.
 */
import { isDatagram, onNetwork, speaksBytes, throughRouter } from '../design/links/traits'
import { loadOf, maybeMessage, remoteOf, remotes } from '../design/find'
import { boardOf } from '../design/pins'
import { pinOf } from '../boards/boards'
import type { Design, Gesture, Link } from '../design/schema'
import { linesOf } from '../design/values'
import { latencyMs, wireMs } from '../links/timing'
import { bodyIn, shownWire } from '../design/wire'
import { readingIn } from '../messages/readings'
import { linesAfter } from '../controller/knobs'
import { compileController, type Program } from '../controller/program'
import { Machine } from '../controller/machine'
import type { ControllerEvent, Effect, Level } from '../controller/step'
import { startWorking } from '../controller/state'
import {
  compilePanel,
  PanelMachine,
  shown,
  startPanel,
  type PanelEvent,
  type PanelProgram,
  type PanelState,
  type Understood,
  type Via,
} from '../surfaces/panel'
import { restingRaw, type Raw } from '../controller/readings'
import { clock32 } from '../units/clock'
import { seededRandom, streamSeed, type Random } from '../units/random'
import { bounces } from './bounce'
import { Figures, type Press } from './figures'
import { finger } from './fingers'
import { before, EventQueue, type Timed } from './queue'
import type { Action, BenchScript } from './script'
import { closeInterval, emptyTrace, LONGEST_WAY_MS, type Trace, type TracedMessage } from './trace'
import { actionRank, actionWords, gestureLoad, perform, RANK, type Doer } from './actions'
import { isLevel } from '../design/outputs/traits'
import { isReceiver } from '../design/sensors/traits'

/** `at`: its place among the surfaces that are not hand controls. */
interface PanelUnit {
  at: number
  machine: PanelMachine
  link: LinkUnit | null
  tickAt: number | null
  random: Random
}
interface Way {
  lastArrival: number
  lastEcho: number
  sent: number
  onWay: number
}
interface LinkUnit {
  link: Link
  index: number
  panel: PanelUnit | null
  random: Random
  datagrams: boolean
  echoes: boolean
  /** Put out of reach by a fault. */
  away: boolean
  /** Held by somebody else, where it serves one at a time. */
  taken: boolean
  up: boolean
  /** Counts ups and downs, so that what was planned for an earlier connection falls away. */
  epoch: number
  ways: { up: Way; down: Way }
  loseNext: number
  doubleNext: number
  /** The last commands that were sent, as a stranger would record them. */
  recorded: string[]
  /** By length of a text: its time on the wire. */
  wire: number[]
  /** By text that came down: how it is shown, and the loads it speaks of. */
  told: Map<string, { shown: string; loadIds: readonly string[] }>
}
type Dir = 'up' | 'down'
/** When a message arrives, ms: several times where it comes more than once, or never. */
export type Fate = NonNullable<BenchScript['fates']>[string]
/** `key`: "link up 3", counted from 0. undefined: as the link draws it. */
export type FateOf = (key: string, dir: Dir, text: string, now: number) => Fate | undefined
/** What is planned: something that was sent arrives, a machine wants its tick, or anything else. */
interface Planned extends Timed {
  kind: 'arrive' | 'tick' | 'panelTick' | 'run'
  unit: LinkUnit | null
  panel: PanelUnit | null
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
/** Quadrature counts of a knob that is turned by hand follow one another at this distance, ms. */
export const COUNT_MS = 4
/** Repeat frames of a remote, ms. */
const REPEAT_MS = 108
/** A box is back this long after it was started anew, ms. */
export const BOX_START_MS = 600
/** A boot log is drawn as at most so many changes of level, at most so far apart, ms. */
const MOST_CHATTER = 24
const BURST_MS = 40
/** Commands that a stranger remembers. */
const MOST_RECORDED = 100
/** Beyond this many the oldest messages are forgotten, a quarter at a time. */
const MOST_MESSAGES = 400_000

export class Bench {
  readonly trace: Trace
  readonly figures: Figures
  readonly recorded: BenchScript['steps'] = []
  now = 0
  /** Hears what each panel understands. */
  onHeard: ((surfaceId: string, heard: readonly Understood[]) => void) | null = null
  /**
   * Hears of each value of a load that another follows in the same ms, which the trace leaves out.
   */
  onPassed: ((loadId: string, value: string) => void) | null = null
  private readonly queue = new EventQueue<Planned>()
  private steps: (Timed & { action: Action })[] = []
  private nextStep = 0
  private readonly program: Program
  private readonly controller: Machine
  private readonly panels: Map<string, PanelUnit>
  private readonly panelList: PanelUnit[]
  private readonly links: LinkUnit[]
  private readonly levers: Level[]
  private readonly contactRandom: Random[]
  private readonly knobLines: number[]
  private readonly contactEpoch: number[]
  private readonly follows: boolean[][]
  private readonly truthChanges: Trace['truth'][string][]
  private readonly beliefChanges: Trace['beliefs'][string][string][][]
  private readonly lineLevels: (number | null)[][]
  private readonly bootLevels: (number | null)[][]
  /** Lines that carry the boot log, each with a random stream of its own. */
  private readonly chatters: readonly { load: number; line: number; random: Random }[]
  private routerDown = false
  private frontIsDown = false
  private powered = true
  private bouncing = false
  private bootEpoch = 0
  private seq = 0
  private controllerTickAt: number | null = null
  /** What each sensor gives, whether the board runs or not. */
  private readonly world: Raw[]
  private readonly fateOf: FateOf | null

  /**
   * Without `tracing` only the figures are kept, in bounded space, however long the run. First
   * connections happen at once.
   */
  constructor(
    readonly design: Design,
    readonly seed = 1,
    fates?: BenchScript['fates'] | FateOf,
    readonly tracing = true,
  ) {
    const stream = (name: string) => seededRandom(streamSeed(seed, name))
    this.fateOf = typeof fates === 'object' ? key => fates[key] : (fates ?? null)
    this.program = compileController(design)
    this.controller = new Machine(this.program, startWorking(this.program))
    this.levers = this.program.inputs.map(() => 1)
    this.contactEpoch = this.program.inputs.map(() => 0)
    this.contactRandom = this.program.inputs.map(i => stream(`contact ${i.control.id}`))
    this.knobLines = this.program.knobs.map(() => 3)
    this.world = design.sensors.map(restingRaw)
    const surfaces = remotes(design)
    this.panelList = surfaces.map((s, at) => {
      const program = compilePanel(design, s.id)
      return {
        at,
        machine: new PanelMachine(program, startPanel(program) as PanelMachine['state']),
        link: null,
        tickAt: null,
        random: stream(`surface ${s.id}`),
      }
    })
    this.panels = new Map(this.panelList.map(p => [p.machine.program.panel.id, p]))
    this.links = design.links.map((link, index) => ({
      link,
      index,
      panel: this.panelList.find(p => p.machine.program.link.id === link.id) ?? null,
      random: stream(`link ${link.id}`),
      datagrams: isDatagram(link),
      echoes: speaksBytes(link) && link.echoes,
      away: false,
      taken: false,
      up: false,
      epoch: 0,
      ways: {
        up: { lastArrival: 0, lastEcho: 0, sent: 0, onWay: 0 },
        down: { lastArrival: 0, lastEcho: 0, sent: 0, onWay: 0 },
      },
      loseNext: 0,
      doubleNext: 0,
      recorded: [],
      wire: [],
      told: new Map(),
    }))
    for (const unit of this.links) if (unit.panel) unit.panel.link = unit
    this.follows = surfaces.map(s =>
      design.loads.map(
        l => maybeMessage(design.links.find(x => x.id === s.linkId) as Link, l.id) !== undefined,
      ),
    )
    this.figures = new Figures(surfaces.length, design.loads.length, design.links.length)
    this.trace = emptyTrace(design)
    this.truthChanges = design.loads.map(l => this.trace.truth[l.id] as Trace['truth'][string])
    this.beliefChanges = surfaces.map(s =>
      design.loads.map(l => this.trace.beliefs[s.id]?.[l.id] as Trace['beliefs'][string][string]),
    )
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
    this.boot()
    for (const link of this.links) this.connect(link)
  }

  /** Run up to `untilMs`. Returns false when the slice ended early because of `maxEvents`. */
  advance(untilMs: number, maxEvents = MAX_EVENTS_PER_SLICE): boolean {
    for (let n = 0; n < maxEvents; n++) {
      if (!this.runNext(untilMs)) {
        this.now = Math.max(this.now, untilMs)
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
    const ahead = steps
      .map(({ atMs, action }) => ({
        t: Math.max(atMs, this.now),
        rank: actionRank(action),
        seq: this.seq++,
        action,
      }))
      .toSorted(inOrder)
    // Steps wait in a list of their own: it is sorted once, and the queue stays short.
    this.steps = [...this.steps.slice(this.nextStep), ...ahead].toSorted(inOrder)
    this.nextStep = 0
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
  panel(surfaceId: string): { program: PanelProgram; state: PanelState } {
    return (this.panels.get(surfaceId) as PanelUnit).machine
  }

  /** What a sensor gives now. */
  raw(sensorId: string): Raw {
    return this.world[this.sensorIndex(sensorId)] as Raw
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
    return this.routerDown
  }
  get frontDown(): boolean {
    return this.frontIsDown
  }
  get contactsBounce(): boolean {
    return this.bouncing
  }
  leverClosed(controlId: string): boolean {
    return this.levers[this.program.inputIndex.get(controlId) ?? -1] === 0
  }

  /** Presses of a surface that nothing came of. */
  missed(surfaceId: string): number {
    const unit = this.panels.get(surfaceId) as PanelUnit
    return this.figures.missed(unit.at, load => unit.machine.state.beliefs[load]?.waiting !== null)
  }

  /** The next thing that happens, if it happens by then. */
  private runNext(untilMs: number): boolean {
    const planned = this.steps[this.nextStep]
    const first = this.queue.peek()
    if (planned && (!first || before(planned, first))) {
      if (planned.t > untilMs) return false
      this.nextStep++
      this.happens(planned)
      this.act(planned.action)
      return true
    }
    if (!first || first.t > untilMs) return false
    const event = this.queue.pop() as Planned
    this.happens(event)
    switch (event.kind) {
      case 'arrive':
        this.land(event)
        break
      case 'tick':
        if (this.controllerTickAt === event.epoch) this.controllerTickAt = null
        this.controllerEvent({ kind: 'tick', now: this.now })
        break
      case 'panelTick': {
        const unit = event.panel as PanelUnit
        if (unit.tickAt === event.epoch) unit.tickAt = null
        this.panelUnitEvent(unit, { kind: 'tick', now: this.now }, null)
        break
      }
      case 'run':
        ;(event.run as () => void)()
    }
    return true
  }

  private happens({ t }: Timed): void {
    this.now = t
    this.figures.events++
    this.trace.events++
  }

  private perform(action: Action): void {
    if (this.tracing) this.mark(action)
    perform(this.doer, action)
  }

  /** What the rows of `actions.ts` ask for. */
  private readonly doer: Doer = {
    press: (controlId, gesture) => this.press(controlId, gesture),
    lever: (controlId, level) => this.setLever(this.inputIndex(controlId), level),
    key: (surfaceId, loadId, want) =>
      this.key(surfaceId, { kind: 'key', now: this.now, load: this.loadIndex(loadId), want }),
    slide: (surfaceId, loadId, want) =>
      this.key(surfaceId, { kind: 'slide', now: this.now, load: this.loadIndex(loadId), want }),
    scene: (surfaceId, sceneId) => {
      const scene = this.design.scenes.findIndex(s => s.id === sceneId)
      this.key(surfaceId, { kind: 'scene', now: this.now, scene })
    },
    sense: (sensorId, raw) => this.sense(this.sensorIndex(sensorId), raw),
    turn: (sensorId, detents) => this.turn(sensorId, detents),
    remote: (sensorId, key, repeats) => this.remote(sensorId, key, repeats),
    away: (linkId, away) => this.setAway(linkId, away),
    loseNext: linkId => void this.linkUnit(linkId).loseNext++,
    doubleNext: linkId => void this.linkUnit(linkId).doubleNext++,
    replay: (linkId, back) => this.replay(this.linkUnit(linkId), back),
    stranger: (linkId, comes) => this.stranger(this.linkUnit(linkId), comes),
    restartBox: surfaceId => this.restartBox(surfaceId),
    front: down => this.setFront(down),
    router: down => this.setRouter(down),
    bounce: bounces => void (this.bouncing = bounces),
    power: on => (on ? this.powerOn() : this.powerOff()),
  }

  private press(controlId: string, gesture: Gesture): void {
    const input = this.inputIndex(controlId)
    const { control } = this.program.inputs[input] as Program['inputs'][number]
    if (control.kind === 'latching') return this.setLever(input, this.levers[input] === 1 ? 0 : 1)
    for (const { afterMs, level } of finger(control, gesture).moves) {
      if (afterMs === 0) this.setLever(input, level)
      else this.at(this.now + afterMs, RANK.pin + input, () => this.setLever(input, level))
    }
  }

  private setLever(input: number, level: Level): void {
    this.contact(input, level)
    const epoch = ++this.contactEpoch[input]!
    if (!this.bouncing) return
    for (const { afterMs, level: now } of bounces(this.contactRandom[input] as Random, level)) {
      this.at(this.now + afterMs, RANK.pin + input, () => {
        // A lever that was moved again bounces for that movement only.
        if (this.contactEpoch[input] === epoch) this.contact(input, now)
      })
    }
  }

  private contact(input: number, level: Level): void {
    this.levers[input] = level
    if (this.tracing)
      this.trace.contacts[
        (this.program.inputs[input] as Program['inputs'][number]).control.id
      ]?.push({ t: this.now, level })
    this.controllerEvent({ kind: 'pin', now: this.now, input, level })
  }

  private turn(sensorId: string, detents: number): void {
    const sensor = this.sensorIndex(sensorId)
    const knob = this.program.knobs.findIndex(k => k.sensor === sensor)
    const counts = Math.abs(detents) * (this.program.knobs[knob]?.knob.countsPerDetent ?? 0)
    for (let i = 0; i < counts; i++) {
      this.at(this.now + i * COUNT_MS, RANK.pin, () => {
        const lines = linesAfter(this.knobLines[knob] as number, detents > 0)
        this.knobLines[knob] = lines
        this.controllerEvent({
          kind: 'knob',
          now: this.now,
          knob,
          a: (lines >> 1) as Level,
          b: (lines & 1) as Level,
        })
      })
    }
  }

  private remote(sensorId: string, nth: number, repeats: number): void {
    const sensor = this.sensorIndex(sensorId)
    const receiver = this.design.sensors[sensor]
    const key = isReceiver(receiver) ? receiver.keys[nth] : undefined
    if (!key) throw new RangeError(`"${sensorId}" knows no key ${nth + 1}`)
    const { address, command } = key
    for (let i = 0; i <= repeats; i++)
      this.at(this.now + i * REPEAT_MS, RANK.infrared, () => {
        const { now } = this
        this.controllerEvent({ kind: 'infrared', now, sensor, address, command, repeat: i > 0 })
      })
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
    if (this.tracing) this.trace.powerCuts.push({ fromMs: this.now, toMs: null })
    this.design.loads.forEach((_, load) =>
      this.lineLevels[load]?.forEach((_, line) => this.lineIs(load, line, null)),
    )
    for (const link of this.links) this.disconnect(link)
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
      closeInterval(this.trace.powerCuts, this.now)
      this.boot()
      for (const link of this.links) this.reconnectSoon(link)
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

  private boot(): void {
    this.controllerEvent({ kind: 'boot', now: this.now, levels: this.levers.slice() })
    this.world.forEach((raw, sensor) =>
      this.controllerEvent({ kind: 'sample', now: this.now, sensor, raw }),
    )
    this.allTruth()
  }

  private setAway(linkId: string, away: boolean): void {
    const unit = this.linkUnit(linkId)
    unit.away = away
    if (away) this.disconnect(unit)
    else this.reconnectSoon(unit)
  }

  private setRouter(down: boolean): void {
    this.routerDown = down
    this.reachAnew(unit => throughRouter(unit.link))
  }

  private setFront(down: boolean): void {
    this.frontIsDown = down
    this.reachAnew(unit => this.throughFront(unit))
  }

  private reachAnew(concerns: (unit: LinkUnit) => boolean): void {
    for (const unit of this.links) {
      if (!concerns(unit)) continue
      if (this.reachable(unit)) this.reconnectSoon(unit)
      else this.disconnect(unit)
    }
  }

  /**
   * Somebody else connects where only one can: while our panel holds the link they are refused, and
   * it is refused while they do.
   */
  private stranger(unit: LinkUnit, comes: boolean): void {
    if (comes && unit.up) this.figures.traffic[unit.index]!.refused++
    else unit.taken = comes
    if (!unit.taken) this.reconnectSoon(unit)
  }

  private restartBox(surfaceId: string): void {
    remoteOf(this.design, surfaceId)
    const unit = this.panels.get(surfaceId) as PanelUnit
    const { machine, link } = unit
    // Where it begins to number differs from start to start, or its first commands would pass for
    // repeats. The counter of signed commands is kept, as a page keeps it on its device: one that
    // began anew would be refused for good.
    machine.become(
      startPanel(machine.program, Math.floor(unit.random.next() * 60_000), machine.state.counter),
    )
    unit.tickAt = null
    machine.state.beliefs.forEach((_, load) => this.beliefIs(unit, load))
    if (!link?.up) return
    this.disconnect(link)
    const { epoch } = link
    this.at(this.now + BOX_START_MS, RANK.linkUp, () => {
      if (epoch === link.epoch && this.reachable(link) && !link.up) this.connect(link)
    })
  }

  private throughFront(unit: LinkUnit): boolean {
    return this.design.front !== null && onNetwork(unit.link)
  }

  private reachable(unit: LinkUnit): boolean {
    return (
      !unit.away
      && !unit.taken
      && this.powered
      && this.controller.state.running
      && !(this.routerDown && throughRouter(unit.link))
      && !(this.frontIsDown && this.throughFront(unit))
    )
  }

  private reconnectSoon(unit: LinkUnit): void {
    if (!this.reachable(unit) || unit.up) return
    const epoch = unit.epoch
    this.at(this.now + unit.link.timing.reconnectMs, RANK.linkUp, () => {
      if (epoch === unit.epoch && this.reachable(unit)) this.connect(unit)
    })
  }

  private connect(unit: LinkUnit): void {
    unit.epoch++
    unit.up = true
    unit.ways.up.lastArrival = unit.ways.down.lastArrival = this.now
    closeInterval(this.trace.down[unit.link.id] ?? [], this.now)
    // A panel that had not noticed the loss notices it at the latest when it has to connect again.
    if (unit.panel?.machine.state.up)
      this.panelUnitEvent(unit.panel, { kind: 'linkDown', now: this.now }, null)
    this.controllerEvent({ kind: 'linkUp', now: this.now, link: unit.index })
    if (unit.panel) this.panelUnitEvent(unit.panel, { kind: 'linkUp', now: this.now }, null)
  }

  private disconnect(unit: LinkUnit): void {
    if (!unit.up) return
    unit.up = false
    const epoch = ++unit.epoch
    if (this.tracing) this.trace.down[unit.link.id]?.push({ fromMs: this.now, toMs: null })
    this.loseOnWay(unit)
    this.controllerEvent({ kind: 'linkDown', now: this.now, link: unit.index })
    this.at(this.now + unit.link.timing.dropDetectMs, RANK.panel, () => {
      if (epoch === unit.epoch && unit.panel)
        this.panelUnitEvent(unit.panel, { kind: 'linkDown', now: this.now }, null)
    })
  }

  /** What was under way on a link when it went down arrives nowhere. */
  private loseOnWay(unit: LinkUnit): void {
    for (const dir of ['up', 'down'] as const) {
      this.figures.traffic[unit.index]![dir].lost += unit.ways[dir].onWay
      unit.ways[dir].onWay = 0
    }
    const { messages } = this.trace
    for (let i = messages.length - 1; i >= 0; i--) {
      const m = messages[i] as TracedMessage
      if (m.sentMs < this.now - LONGEST_WAY_MS) return
      if (m.linkId === unit.link.id && !m.lost && m.endMs > this.now)
        Object.assign(m, { lost: true, endMs: this.now })
    }
  }

  private controllerEvent(event: ControllerEvent): void {
    const { controller } = this
    const effects = controller.handle(event)
    for (const load of controller.changed) this.truthIs(load)
    for (const effect of effects) this.effect(effect)
    const due = controller.nextDue
    if (due === null || this.controllerTickAt === due) return
    this.controllerTickAt = due
    this.push(this.fromClock(due), 'tick', RANK.tick, null, null, due, null)
  }

  private effect(effect: Effect): void {
    switch (effect.kind) {
      case 'pin':
        return this.lineIs(effect.load, effect.line, effect.level)
      case 'send': {
        const unit = this.links[effect.link] as LinkUnit
        this.transmit(unit, 'down', effect.text, 'stream', null, -1)
        if (unit.link.queue) this.sentSoon(unit, effect.text)
        return
      }
      case 'reply':
        return this.transmit(
          this.links[effect.link] as LinkUnit,
          'down',
          effect.text,
          effect.to,
          null,
          -1,
          effect.status,
        )
      case 'save':
        return this.saves(effect.load, effect.value)
    }
  }

  /**
   * The link takes the next message when this one has left; where the board cannot sense a loss, it
   * leaves whether somebody listens or not.
   */
  private sentSoon(unit: LinkUnit, text: string): void {
    const epochNow = () => (this.program.links[unit.index]?.senses ? unit.epoch : -this.bootEpoch)
    const epoch = epochNow()
    this.at(this.now + Math.max(1, this.wireOf(unit, text)), RANK.received, () => {
      if (epoch === epochNow())
        this.controllerEvent({ kind: 'sent', now: this.now, link: unit.index })
    })
  }

  private saves(load: number, value: string): void {
    this.figures.memoryWrites++
    if (this.tracing)
      this.trace.saves.push({ t: this.now, loadId: this.design.loads[load]?.id ?? '', value })
    const epoch = this.bootEpoch
    this.at(this.now + MEMORY_WRITE_MS, RANK.tick, () => {
      if (epoch === this.bootEpoch) this.controllerEvent({ kind: 'memoryDone', now: this.now })
    })
  }

  private key(
    surfaceId: string,
    event: Extract<PanelEvent, { kind: 'key' | 'slide' | 'scene' }>,
  ): void {
    remoteOf(this.design, surfaceId)
    const unit = this.panels.get(surfaceId) as PanelUnit
    const loads =
      event.kind === 'scene'
        ? (unit.machine.program.scenes[event.scene]?.sets.map(s => s.load) ?? [])
        : [event.load]
    const [first = -1] = loads
    // A key on a panel that knows its link to be down does nothing, and says so.
    const press = first >= 0 && unit.machine.state.up ? this.figures.pressed(unit.at, first) : null
    this.panelUnitEvent(unit, event, press)
  }

  private panelUnitEvent(unit: PanelUnit, event: PanelEvent, press: Press | null): void {
    const { machine } = unit
    const sends = machine.handle(event)
    if (machine.heard.length && this.onHeard) this.onHeard(machine.program.panel.id, machine.heard)
    for (const load of machine.changed) this.beliefIs(unit, load)
    if (unit.link) {
      for (let i = 0; i < sends.length; i++) {
        const load = machine.about[i] as number
        this.transmit(
          unit.link,
          'up',
          sends[i] as string,
          'command',
          press ?? (load >= 0 ? this.figures.lastPress(unit.at, load) : null),
          load,
        )
      }
    }
    const due = machine.nextDue
    if (due === null || unit.tickAt === due) return
    unit.tickAt = due
    this.push(this.fromClock(due), 'panelTick', RANK.panel, null, unit, due, null)
  }

  private wireOf(unit: LinkUnit, text: string): number {
    return (unit.wire[text.length] ??= wireMs(this.design, unit.link, text))
  }

  /**
   * One message on its way: latency, order on the stream, loss, and what happens when it arrives.
   * `load`: what a command is about, -1 = not one load.
   */
  private transmit(
    unit: LinkUnit,
    dir: Dir,
    text: string,
    via: Via,
    press: Press | null,
    load: number,
    status?: number,
  ): void {
    const { link } = unit
    const way = unit.ways[dir]
    const fate = this.fateOf?.(`${link.id} ${dir} ${way.sent}`, dir, text, this.now)
    way.sent++
    const natural = this.now + this.wireOf(unit, text) + latencyMs(link.timing, unit.random.next())
    const lossDraw = unit.random.next() * 1000 < link.timing.lossPerMille
    const forced = unit.loseNext > 0
    if (forced) unit.loseNext--
    const lost = !unit.up || forced || fate === 'lost' || (fate === undefined && lossDraw)
    const [first, ...more] = fate === undefined || fate === 'lost' ? [] : [fate].flat()
    const wanted = first === undefined ? natural : Math.max(first, this.now)
    // Datagrams may overtake one another, a stream keeps its order.
    const arrival = unit.datagrams ? wanted : Math.max(wanted, way.lastArrival)
    if (!lost) way.lastArrival = arrival
    if (unit.echoes && unit.up) this.echo(unit, dir, text)
    if (
      dir === 'up'
      && unit.panel
      && text !== unit.panel.machine.program.ask
      && text !== unit.panel.machine.program.started
    ) {
      unit.recorded.push(text)
      if (unit.recorded.length > MOST_RECORDED) unit.recorded.shift()
    }
    const traffic = this.figures.traffic[unit.index]![dir]
    traffic.messages++
    traffic.bytes += text.length
    if (press) press.onWay++
    if (this.tracing) this.traceMessage(unit, dir, text, arrival, lost, load, status)
    if (lost) {
      traffic.lost++
      if (press && unit.panel) this.figures.copyLost(unit.panel.at, press)
      return
    }
    this.travel(unit, dir, text, via, arrival, press, load)
    if (!unit.datagrams) return
    if (unit.doubleNext > 0) {
      unit.doubleNext--
      more.push(arrival + Math.max(1, latencyMs(link.timing, unit.random.next())))
    }
    for (const again of more) {
      traffic.messages++
      if (press) press.onWay++
      if (this.tracing) this.traceMessage(unit, dir, text, again, false, load, status)
      this.travel(unit, dir, text, via, again, press, load)
    }
  }

  private traceMessage(
    unit: LinkUnit,
    dir: Dir,
    text: string,
    endMs: number,
    lost: boolean,
    load: number,
    status?: number,
  ): void {
    const { messages } = this.trace
    const told =
      dir === 'up'
        ? {
            shown: shownWire(unit.link, text),
            loadIds: load < 0 ? this.loadsOf(unit) : [this.design.loads[load]?.id ?? ''],
          }
        : this.toldBy(unit, text)
    messages.push({
      linkId: unit.link.id,
      surfaceId: unit.panel?.machine.program.panel.id ?? '',
      dir,
      sentMs: this.now,
      endMs,
      lost,
      text,
      shown: told.shown,
      loadIds: told.loadIds,
      ...(status === undefined ? {} : { status }),
    })
    if (messages.length <= MOST_MESSAGES) return
    messages.splice(0, MOST_MESSAGES / 4)
    this.trace.keptFromMs = messages[0]?.sentMs ?? 0
  }

  private travel(
    unit: LinkUnit,
    dir: Dir,
    text: string,
    via: Via,
    arrival: number,
    press: Press | null,
    load: number,
  ): void {
    unit.ways[dir].onWay++
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

  /**
   * Somebody who recorded a command sends it again; `back`: how many before the last. The panel
   * knows nothing of it.
   */
  private replay(unit: LinkUnit, back: number): void {
    const text = unit.recorded.at(-1 - back)
    if (text === undefined) return
    this.transmit(unit, 'up', text, 'command', null, -1)
    // What a stranger sends is no news to one who records.
    unit.recorded.pop()
  }

  /**
   * What is sent comes back to its sender, after the time that it takes on the wire and in its
   * order.
   */
  private echo(unit: LinkUnit, dir: Dir, text: string): void {
    const { epoch } = unit
    const way = unit.ways[dir]
    way.lastEcho = Math.max(way.lastEcho, this.now + Math.max(1, this.wireOf(unit, text)))
    this.at(way.lastEcho, RANK.received, () => {
      if (epoch === unit.epoch && unit.up)
        this.arrive(unit, dir === 'up' ? 'down' : 'up', text, 'stream')
    })
  }

  private arrive(unit: LinkUnit, dir: Dir, text: string, via: Via): void {
    if (dir === 'up')
      this.controllerEvent({ kind: 'received', now: this.now, link: unit.index, text })
    else if (unit.panel)
      this.panelUnitEvent(unit.panel, { kind: 'received', now: this.now, text, via }, null)
  }

  /** How a report is shown, and the loads it speaks of; a whole state speaks of all of its link. */
  private toldBy(unit: LinkUnit, text: string): { shown: string; loadIds: readonly string[] } {
    let told = unit.told.get(text)
    if (told) return told
    const body = bodyIn(unit.link, text)
    const report = unit.panel?.machine.program.meanings.get(body)
    const reading = !report && unit.link.readings.length > 0 && readingIn(unit.link, body) !== null
    const about = report ? [this.design.loads[report.load]?.id ?? ''] : this.loadsOf(unit)
    told = {
      shown: shownWire(unit.link, text),
      loadIds: reading ? [] : about,
    }
    if (unit.told.size > 500) unit.told.clear()
    unit.told.set(text, told)
    return told
  }

  private loadsOf(unit: LinkUnit): string[] {
    return this.design.loads
      .filter((_, i) => this.program.links[unit.index]?.messages[i])
      .map(l => l.id)
  }

  private allTruth(): void {
    for (let load = 0; load < this.design.loads.length; load++) this.truthIs(load)
  }

  private truthIs(load: number): void {
    const value = this.controller.state.value[load] as string
    this.figures.truthIs(this.now, load, value, this.follows)
    if (!this.tracing) return
    const changes = this.truthChanges[load] as Trace['truth'][string]
    const last = changes.at(-1)
    const powered = this.powered && this.controller.state.running
    if (last && last.value === value && last.powered === powered) return
    const id = this.design.loads[load]?.id ?? ''
    if (last && last.value !== value) this.trace.moves[id] = (this.trace.moves[id] ?? 0) + 1
    if (last?.t === this.now) {
      if (last.value !== value) this.onPassed?.(id, last.value)
      Object.assign(last, { value, powered })
    } else changes.push({ t: this.now, value, powered })
  }

  private lineIs(load: number, line: number, level: number | null): void {
    const levels = this.lineLevels[load] as (number | null)[]
    if (levels[line] === level) return
    const { output } = this.design.loads[load] as Design['loads'][number]
    const most = isLevel(output) ? 255 : 1
    const resting = output.activeLevel === 'high' ? 0 : most
    if (level !== null && level !== resting && (levels[line] === resting || levels[line] === null))
      this.figures.cycles[load]!++
    levels[line] = level
    if (this.tracing)
      this.trace.lines[this.design.loads[load]?.id ?? '']?.[line]?.push({ t: this.now, level })
  }

  private beliefIs(unit: PanelUnit, load: number): void {
    const belief = unit.machine.state.beliefs[load]
    const changes = this.beliefChanges[unit.at]?.[load]
    if (!belief || !changes) return
    const now = shown(belief)
    if (this.follows[unit.at]?.[load]) this.figures.shows(this.now, unit.at, load, now)
    if (this.tracing && changes.at(-1)?.shown !== now) changes.push({ t: this.now, shown: now })
  }

  private mark(action: Action): void {
    const { design } = this
    const control =
      'controlId' in action
        ? this.program.inputs[this.program.inputIndex.get(action.controlId) ?? -1]?.control
        : undefined
    const surface =
      'surfaceId' in action
        ? action.surfaceId
        : design.surfaces.find(s => s.kind === 'hand' && s.controls.some(c => c.id === control?.id))
            ?.id
    const byHand = control ? gestureLoad(control, action) : null
    this.trace.marks.push({
      t: this.now,
      action,
      words: actionWords(design, action),
      surfaceId: surface ?? null,
      loadId: 'loadId' in action ? action.loadId : byHand,
    })
  }

  private at(t: number, rank: number, run: () => void): void {
    this.push(t, 'run', rank, null, null, 0, null).run = run
  }

  private push(
    t: number,
    kind: Planned['kind'],
    rank: number,
    unit: LinkUnit | null,
    panel: PanelUnit | null,
    epoch: number,
    press: Press | null,
  ): Planned {
    const event: Planned = {
      t,
      rank,
      seq: this.seq++,
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
    this.queue.push(event)
    return event
  }

  /**
   * A 32-bit controller time, which counts whole milliseconds, back on the bench's long time line.
   */
  private fromClock(due: number): number {
    const whole = Math.floor(this.now)
    return Math.max(this.now, whole + Math.max(0, (due - clock32(whole)) | 0))
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

  private inputIndex(controlId: string): number {
    const input = this.program.inputIndex.get(controlId)
    if (input === undefined) throw new RangeError(`no hand control "${controlId}"`)
    return input
  }

  private loadIndex(loadId: string): number {
    return this.program.loadIndex.get(loadOf(this.design, loadId).id) as number
  }
}

function inOrder(a: Timed, b: Timed): number {
  return before(a, b) ? -1 : 1
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
