/**
 * The bench: a discrete-event simulation of controller, panels, hand controls and links. Deterministic: the same
 * design, seed and actions give the same trace, however the run is cut into slices.
 */
import { readingWords } from '../design/items'
import { isDatagram, throughRouter } from '../design/links'
import { handSurfaces, loadOf, maybeRemoteOnLink, remoteOf, remotes } from '../design/find'
import type { Control, Design, Gesture, Link } from '../design/schema'
import { latencyMs, wireMs } from '../links/timing'
import { bodyIn, shownWire } from '../design/wire'
import { commandWords } from '../messages/clashes'
import { readingIn } from '../messages/readings'
import { FRESH } from '../messages/sealing'
import { compileController, understood, type Meaning, type Program, type ProgramLink } from '../controller/program'
import { nextDue, startController, step, type ControllerEvent, type ControllerState, type Effect, type Level } from '../controller/step'
import { compilePanel, panelDue, panelStep, shown, startPanel, type PanelEvent, type PanelProgram, type PanelState, type Understood, type Via } from '../surfaces/panel'
import { readingText, restingRaw, type Raw } from '../controller/readings'
import { seededRandom, type Random } from '../units/random'
import { finger, gestureWords } from './fingers'
import { EventQueue, type Timed } from './queue'
import type { Action, BenchScript } from './script'
import type { Interval, Trace, TracedMessage } from './trace'

interface Event extends Timed { run: () => void }
interface PanelUnit { index: number, program: PanelProgram, state: PanelState, tickAt: number | null }
interface LinkUnit {
  link: Link
  index: number
  panel: PanelUnit | null
  /** Put out of reach by a fault. */
  away: boolean
  up: boolean
  /** Counts ups and downs, so that what was planned for an earlier connection falls away. */
  epoch: number
  lastArrival: { up: number, down: number }
  sent: { up: number, down: number }
  /** Sent and neither arrived nor lost. */
  underWay: Set<TracedMessage>
  loseNext: number
  doubleNext: number
  /** The last command that crossed, as a stranger would record it. */
  recorded: string | null
}

/** First power-up and first connections happen at once, so that a run starts with everything connected. */
const MAX_EVENTS_PER_SLICE = 50_000

export class Bench {
  readonly trace: Trace
  readonly recorded: BenchScript['steps'] = []
  now = 0
  /** Hears what each panel understands. */
  onHeard: ((surfaceId: string, heard: readonly Understood[]) => void) | null = null
  private readonly queue = new EventQueue<Event>()
  private readonly random: Random
  private readonly program: Program
  private controller: ControllerState
  private readonly panels: Map<string, PanelUnit>
  private readonly links: LinkUnit[]
  private readonly levers: Level[]
  private routerDown = false
  private powered = true
  private bootEpoch = 0
  private seq = 0
  private controllerTickAt: number | null = null
  /** What each sensor gives, whether the board runs or not. */
  private readonly world: Raw[]
  private fates: NonNullable<BenchScript['fates']> = {}

  constructor(readonly design: Design, seed = 1, fates?: BenchScript['fates']) {
    this.random = seededRandom(seed)
    this.fates = fates ?? {}
    this.program = compileController(design)
    this.controller = startController(this.program)
    this.levers = this.program.inputs.map(() => 1)
    this.world = design.sensors.map(restingRaw)
    this.panels = new Map(design.surfaces.flatMap((s, index) => {
      if (s.kind === 'hand') return []
      const program = compilePanel(design, s.id)
      return [[s.id, { index, program, state: startPanel(program), tickAt: null }] as const]
    }))
    this.links = design.links.map((link, index) => ({
      link, index, panel: [...this.panels.values()].find(p => p.program.link.id === link.id) ?? null,
      away: false, up: false, epoch: 0, lastArrival: { up: 0, down: 0 }, sent: { up: 0, down: 0 }, underWay: new Set(), loseNext: 0, doubleNext: 0, recorded: null,
    }))
    this.trace = emptyTrace(design)
    this.boot()
    for (const link of this.links) this.connect(link)
  }

  /** Run up to `untilMs`. Returns false when the slice ended early because of `maxEvents`. */
  advance(untilMs: number, maxEvents = MAX_EVENTS_PER_SLICE): boolean {
    for (let n = 0; n < maxEvents; n++) {
      const next = this.queue.peek()
      if (!next || next.t > untilMs) {
        this.now = Math.max(this.now, untilMs)
        return true
      }
      this.runNext()
    }
    return false
  }

  /** Handle one event; returns whether there was one. */
  step(): boolean {
    return this.queue.size > 0 && this.runNext()
  }

  /** Do something now. It is recorded, so that the run can be replayed. */
  act(action: Action): void {
    this.recorded.push({ atMs: this.now, action })
    this.perform(action)
  }

  /** Plan a script; its steps are recorded as they happen. */
  plan(steps: BenchScript['steps']): void {
    for (const { atMs, action } of steps) this.at(Math.max(atMs, this.now), () => this.act(action))
  }

  value(loadId: string): string {
    return this.controller.value[this.loadIndex(loadId)] as string
  }

  shown(surfaceId: string, loadId: string) {
    const belief = this.panels.get(surfaceId)?.state.beliefs[this.program.loadIndex.get(loadId) ?? -1]
    return belief ? shown(belief) : 'unknown'
  }

  /** The panel as it runs here: for whoever draws it. */
  panel(surfaceId: string): { program: PanelProgram, state: PanelState } {
    return this.panels.get(surfaceId) as PanelUnit
  }

  /** What a sensor gives now. */
  raw(sensorId: string): Raw { return this.world[this.sensorIndex(sensorId)] as Raw }

  linkState(linkId: string): { up: boolean, away: boolean } {
    const unit = this.linkUnit(linkId)
    return { up: unit.up, away: unit.away }
  }

  panelConnected(surfaceId: string): boolean { return this.panels.get(surfaceId)?.state.up === true }
  get power(): 'on' | 'booting' | 'off' { return !this.powered ? 'off' : this.controller.running ? 'on' : 'booting' }
  get routerIsDown(): boolean { return this.routerDown }
  leverClosed(controlId: string): boolean { return this.levers[this.program.inputIndex.get(controlId) ?? -1] === 0 }

  private runNext(): boolean {
    const event = this.queue.pop()
    if (!event) return false
    this.now = event.t
    this.trace.events++
    event.run()
    return true
  }

  private perform(action: Action): void {
    this.mark(action)
    switch (action.do) {
      case 'press': return this.press(action.controlId, action.gesture ?? 'single')
      case 'hold': return this.setLever(this.inputIndex(action.controlId), 0)
      case 'letGo': return this.setLever(this.inputIndex(action.controlId), 1)
      case 'key': return this.panelEvent(action.surfaceId, { kind: 'key', now: this.now, load: this.loadIndex(action.loadId), want: action.want })
      case 'slide': return this.panelEvent(action.surfaceId, { kind: 'slide', now: this.now, load: this.loadIndex(action.loadId), want: action.want })
      case 'scene': return this.panelEvent(action.surfaceId, { kind: 'scene', now: this.now, scene: this.design.scenes.findIndex(s => s.id === action.sceneId) })
      case 'sense': return this.sense(this.sensorIndex(action.sensorId), action.raw)
      case 'linkDown': return this.setAway(action.linkId, true)
      case 'linkUp': return this.setAway(action.linkId, false)
      case 'loseNext': this.linkUnit(action.linkId).loseNext++; return
      case 'doubleNext': this.linkUnit(action.linkId).doubleNext++; return
      case 'replay': return this.replay(this.linkUnit(action.linkId))
      case 'routerDown': return this.setRouter(true)
      case 'routerUp': return this.setRouter(false)
      case 'powerOff': return this.powerOff()
      case 'powerOn': return this.powerOn()
      case 'restart':
        this.powerOff()
        return this.powerOn()
    }
  }

  private press(controlId: string, gesture: Gesture): void {
    const input = this.inputIndex(controlId)
    const { control } = this.program.inputs[input] as Program['inputs'][number]
    if (control.kind === 'latching') return this.setLever(input, this.levers[input] === 1 ? 0 : 1)
    for (const { afterMs, level } of finger(control, gesture).moves) {
      if (afterMs === 0) this.setLever(input, level)
      else this.at(this.now + afterMs, () => this.setLever(input, level))
    }
  }

  private setLever(input: number, level: Level): void {
    this.levers[input] = level
    this.controllerEvent({ kind: 'pin', now: this.now, input, level })
  }

  private sense(sensor: number, raw: Raw): void {
    this.world[sensor] = raw
    if (this.powered && this.controller.running) this.controllerEvent({ kind: 'sample', now: this.now, sensor, raw })
  }

  private powerOff(): void {
    if (!this.powered) return
    this.powered = false
    this.bootEpoch++
    this.controllerEvent({ kind: 'powerOff', now: this.now })
    this.trace.powerCuts.push({ fromMs: this.now, toMs: null })
    for (const link of this.links) this.disconnect(link)
    this.traceTruth()
  }

  private powerOn(): void {
    if (this.powered) return
    this.powered = true
    const epoch = ++this.bootEpoch
    this.at(this.now + (this.design.controllers[0]?.bootMs ?? 0), () => {
      if (epoch !== this.bootEpoch) return
      closeInterval(this.trace.powerCuts, this.now)
      this.boot()
      for (const link of this.links) this.reconnectSoon(link)
    })
  }

  private boot(): void {
    this.controllerEvent({ kind: 'boot', now: this.now, levels: this.levers })
    this.world.forEach((raw, sensor) => this.controllerEvent({ kind: 'sample', now: this.now, sensor, raw }))
    this.traceTruth()
  }

  private setAway(linkId: string, away: boolean): void {
    const unit = this.linkUnit(linkId)
    unit.away = away
    if (away) this.disconnect(unit)
    else this.reconnectSoon(unit)
  }

  private setRouter(down: boolean): void {
    this.routerDown = down
    for (const unit of this.links) {
      if (!throughRouter(unit.link)) continue
      if (down) this.disconnect(unit)
      else this.reconnectSoon(unit)
    }
  }

  private reachable(unit: LinkUnit): boolean {
    return !unit.away && this.powered && this.controller.running && !(this.routerDown && throughRouter(unit.link))
  }

  private reconnectSoon(unit: LinkUnit): void {
    if (!this.reachable(unit) || unit.up) return
    const epoch = unit.epoch
    this.at(this.now + unit.link.timing.reconnectMs, () => {
      if (epoch === unit.epoch && this.reachable(unit)) this.connect(unit)
    })
  }

  private connect(unit: LinkUnit): void {
    unit.epoch++
    unit.up = true
    unit.lastArrival = { up: this.now, down: this.now }
    closeInterval(this.trace.down[unit.link.id] ?? [], this.now)
    // A panel that had not noticed the loss notices it at the latest when it has to connect again.
    if (unit.panel?.state.up) this.panelUnitEvent(unit.panel, { kind: 'linkDown', now: this.now })
    this.controllerEvent({ kind: 'linkUp', now: this.now, link: unit.index })
    if (unit.panel) this.panelUnitEvent(unit.panel, { kind: 'linkUp', now: this.now })
  }

  private disconnect(unit: LinkUnit): void {
    if (!unit.up) return
    unit.up = false
    const epoch = ++unit.epoch
    this.trace.down[unit.link.id]?.push({ fromMs: this.now, toMs: null })
    this.loseInFlight(unit)
    this.controllerEvent({ kind: 'linkDown', now: this.now, link: unit.index })
    this.at(this.now + unit.link.timing.dropDetectMs, () => {
      if (epoch === unit.epoch && unit.panel) this.panelUnitEvent(unit.panel, { kind: 'linkDown', now: this.now })
    })
  }

  /** What was under way on a link when it went down arrives nowhere. */
  private loseInFlight(unit: LinkUnit): void {
    for (const message of unit.underWay) Object.assign(message, { lost: true, endMs: this.now })
    unit.underWay.clear()
  }

  private controllerEvent(event: ControllerEvent): void {
    const { state, effects } = step(this.program, this.controller, event)
    this.controller = state
    for (const effect of effects) this.effect(effect)
    const due = nextDue(state)
    if (due !== null && this.controllerTickAt !== due) {
      this.controllerTickAt = due
      this.at(this.fromClock(due), () => {
        if (this.controllerTickAt === due) this.controllerTickAt = null
        this.controllerEvent({ kind: 'tick', now: this.now })
      })
    }
  }

  private effect(effect: Effect): void {
    if (effect.kind === 'pin') this.traceTruth()
    else if (effect.kind === 'send') this.transmit(this.links[effect.link], 'down', effect.text, 'stream')
    else if (effect.kind === 'reply') this.transmit(this.links[effect.link], 'down', effect.text, effect.to)
  }

  private panelEvent(surfaceId: string, event: PanelEvent): void {
    remoteOf(this.design, surfaceId)
    this.panelUnitEvent(this.panels.get(surfaceId) as PanelUnit, event)
  }

  private panelUnitEvent(unit: PanelUnit, event: PanelEvent): void {
    const before = unit.state
    const { state, sends, heard } = panelStep(unit.program, before, event)
    unit.state = state
    if (heard?.length) this.onHeard?.(unit.program.panel.id, heard)
    if (state.beliefs !== before.beliefs) this.traceBeliefs(unit, before)
    const link = this.links.find(l => l.panel === unit)
    for (const text of sends) this.transmit(link, 'up', text, 'command')
    const due = panelDue(state)
    if (due === null || unit.tickAt === due) return
    unit.tickAt = due
    this.at(this.fromClock(due), () => {
      if (unit.tickAt === due) unit.tickAt = null
      this.panelUnitEvent(unit, { kind: 'tick', now: this.now })
    })
  }

  /** One message on its way: latency, order on the stream, loss, and what happens when it arrives. */
  private transmit(unit: LinkUnit | undefined, dir: 'up' | 'down', text: string, via: Via): void {
    if (!unit) return
    const { link } = unit
    const fate = this.fates[`${link.id} ${dir} ${unit.sent[dir]++}`]
    const natural = this.now + wireMs(this.design, link, text) + latencyMs(link.timing, this.random.next())
    const lossDraw = this.random.next() * 1000 < link.timing.lossPerMille
    const forced = unit.loseNext > 0
    if (forced) unit.loseNext--
    const lost = !unit.up || forced || fate === 'lost' || (fate === undefined && lossDraw)
    const wanted = typeof fate === 'number' ? Math.max(fate, this.now) : natural
    // Datagrams may overtake one another, a stream keeps its order.
    const arrival = isDatagram(link) ? wanted : Math.max(wanted, unit.lastArrival[dir])
    if (!lost) unit.lastArrival[dir] = arrival
    if (link.kind !== 'http' && link.echoes && unit.up) this.echo(unit, dir, text)
    const meaning = dir === 'up' ? this.meaningIn(unit, text) : undefined
    if (dir === 'up' && meaning?.kind !== 'ask' && meaning?.kind !== 'hello') unit.recorded = text
    const surfaceId = unit.panel?.program.panel.id ?? ''
    const message: TracedMessage = { linkId: link.id, surfaceId, dir, sentMs: this.now, endMs: arrival, lost, text, shown: shownWire(link, text), loadIds: dir === 'up' ? this.loadsAsked(unit, meaning) : this.loadsTold(unit, text) }
    this.trace.messages.push(message)
    if (lost) return
    this.travel(unit, message, text, via)
    if (!isDatagram(link) || unit.doubleNext === 0) return
    unit.doubleNext--
    const again = { ...message, endMs: arrival + Math.max(1, latencyMs(link.timing, this.random.next())) }
    this.trace.messages.push(again)
    this.travel(unit, again, text, via)
  }

  private travel(unit: LinkUnit, message: TracedMessage, text: string, via: Via): void {
    unit.underWay.add(message)
    this.at(message.endMs, () => {
      if (unit.underWay.delete(message)) this.arrive(unit, message.dir, text, via)
    })
  }

  /** Somebody who recorded the last command sends it again. The panel knows nothing of it. */
  private replay(unit: LinkUnit): void {
    if (unit.recorded !== null) this.transmit(unit, 'up', unit.recorded, 'command')
  }

  /** What is sent comes back to its sender, after the time that it takes on the wire. */
  private echo(unit: LinkUnit, dir: 'up' | 'down', text: string): void {
    const { epoch } = unit
    this.at(this.now + Math.max(1, wireMs(this.design, unit.link, text)), () => {
      if (epoch === unit.epoch && unit.up) this.arrive(unit, dir === 'up' ? 'down' : 'up', text, 'stream')
    })
  }

  private arrive(unit: LinkUnit, dir: 'up' | 'down', text: string, via: Via): void {
    if (dir === 'up') this.controllerEvent({ kind: 'received', now: this.now, link: unit.index, text })
    else if (unit.panel) this.panelUnitEvent(unit.panel, { kind: 'received', now: this.now, text, via })
  }

  /** What a text says to the board, whatever counter it carries. */
  private meaningIn(unit: LinkUnit, text: string): Meaning | undefined {
    const found = understood(this.program.links[unit.index] as ProgramLink, FRESH, bodyIn(unit.link, text))
    return found.kind === 'meant' ? found.meaning : undefined
  }

  /** Loads that a command speaks of; a question speaks of all of its link. */
  private loadsAsked(unit: LinkUnit, meaning: Meaning | undefined): string[] {
    return meaning?.kind === 'set' ? [this.design.loads[meaning.load]?.id ?? ''] : this.loadsOf(unit)
  }

  /** Loads that a report speaks of; a whole state speaks of all of its link. */
  private loadsTold(unit: LinkUnit, text: string): string[] {
    const report = unit.panel?.program.meanings.get(bodyIn(unit.link, text))
    if (!report && unit.link.readings.length && readingIn(unit.link, bodyIn(unit.link, text))) return []
    return report ? [this.design.loads[report.load]?.id ?? ''] : this.loadsOf(unit)
  }

  private loadsOf(unit: LinkUnit): string[] {
    return this.design.loads.filter((_, i) => this.program.links[unit.index]?.messages[i]).map(l => l.id)
  }

  private traceTruth(): void {
    this.design.loads.forEach((load, i) => {
      const value = this.controller.value[i] as string
      const changes = this.trace.truth[load.id] ?? []
      const last = changes.at(-1)
      const powered = this.powered && this.controller.running
      if (last && last.value === value && last.powered === powered) return
      if (last && last.value !== value) this.trace.moves[load.id] = (this.trace.moves[load.id] ?? 0) + 1
      if (last?.t === this.now) Object.assign(last, { value, powered })
      else changes.push({ t: this.now, value, powered })
    })
  }

  private traceBeliefs(unit: PanelUnit, before: PanelState): void {
    unit.state.beliefs.forEach((belief, i) => {
      if (belief === before.beliefs[i]) return
      const load = this.design.loads[i]
      const changes = load && this.trace.beliefs[unit.program.panel.id]?.[load.id]
      if (!changes) return
      const now = shown(belief)
      if (changes.at(-1)?.shown !== now) changes.push({ t: this.now, shown: now })
    })
  }

  private mark(action: Action): void {
    const { design } = this
    const control = 'controlId' in action ? this.program.inputs[this.program.inputIndex.get(action.controlId) ?? -1]?.control : undefined
    const surface = 'surfaceId' in action ? action.surfaceId : design.surfaces.find(s => s.kind === 'hand' && s.controls.some(c => c.id === control?.id))?.id
    this.trace.marks.push({
      t: this.now, action, words: actionWords(design, action), surfaceId: surface ?? null,
      loadId: action.do === 'key' || action.do === 'slide' ? action.loadId : control ? gestureLoad(control, action) : null,
    })
  }

  private at(t: number, run: () => void): void {
    this.queue.push({ t, seq: this.seq++, run })
  }

  /** A 32-bit controller time back on the bench's long time line. */
  private fromClock(due: number): number {
    return this.now + Math.max(0, (due - (this.now >>> 0)) | 0)
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

/** Run a whole script at once: to `untilMs`, or five seconds past its last step. */
export function runScript(design: Design, script: BenchScript): Bench {
  const bench = new Bench(design, script.seed, script.fates)
  bench.plan(script.steps)
  const until = script.untilMs ?? (script.steps.reduce((last, s) => Math.max(last, s.atMs), 0) + 5000)
  while (!bench.advance(until)) { /* the next slice */ }
  return bench
}

/** The load that a press is meant for. */
function gestureLoad(control: Control, action: Action): string {
  const on = action.do === 'press' ? action.gesture : undefined
  return (control.kind === 'push' ? control.gestures.find(g => g.on === on)?.loadId : undefined) ?? control.loadId
}

export function actionWords(design: Design, action: Action): string {
  const linkName = (id: string) => maybeRemoteOnLink(design, id)?.name ?? id
  switch (action.do) {
    case 'press': case 'hold': case 'letGo': {
      const control = handSurfaces(design).flatMap(s => s.controls).find(c => c.id === action.controlId)
      const gesture = action.do === 'press' ? action.gesture ?? 'single' : 'single'
      const does = action.do === 'hold' ? 'hold' : action.do === 'letGo' ? 'let go of' : control?.kind === 'latching' ? 'flip' : gestureWords(gesture)
      return control ? `${does} ${loadOf(design, control.loadId).name}${gesture === 'single' ? '' : ` for ${loadOf(design, gestureLoad(control, action)).name}`}` : does
    }
    case 'key': return commandWords(design, action.loadId, action.want)
    case 'slide': return `draw ${commandWords(design, action.loadId, action.want)}`
    case 'scene': return design.scenes.find(s => s.id === action.sceneId)?.name ?? action.sceneId
    case 'sense': {
      const sensor = design.sensors.find(s => s.id === action.sensorId)
      return sensor ? `${sensor.name} gives ${readingWords(sensor, readingText(sensor, action.raw))}` : action.sensorId
    }
    case 'linkDown': return `${linkName(action.linkId)} out of reach`
    case 'linkUp': return `${linkName(action.linkId)} back in reach`
    case 'loseNext': return `next message of ${linkName(action.linkId)} lost`
    case 'doubleNext': return `next message of ${linkName(action.linkId)} comes twice`
    case 'replay': return `a stranger plays the last command of ${linkName(action.linkId)} again`
    case 'routerDown': return 'router down'
    case 'routerUp': return 'router back'
    case 'powerOff': return 'power cut'
    case 'powerOn': return 'power back'
    case 'restart': return 'board restarts'
  }
}

function emptyTrace(design: Design): Trace {
  const byLoad = <T>(make: () => T) => Object.fromEntries(design.loads.map(l => [l.id, make()]))
  return {
    truth: byLoad(() => []),
    beliefs: Object.fromEntries(remotes(design).map(s => [s.id, byLoad(() => [{ t: 0, shown: 'unknown' as const }])])),
    messages: [], marks: [], down: Object.fromEntries(design.links.map(l => [l.id, []])), powerCuts: [],
    moves: byLoad(() => 0), events: 0,
  }
}

function closeInterval(intervals: Interval[], t: number): void {
  const last = intervals.at(-1)
  if (last && last.toMs === null) last.toMs = t
}
