/**
 * The bench: a discrete-event simulation of controller, panels, hand controls and links.
 * Deterministic: the same design, seed and actions give the same trace, however the run is cut into
 * slices. Every link and contact draws from a random stream of its own, so what is added to a
 * design does not move what was there.
 */
import type { Raw } from '../controller/readings'
import type { ControllerEvent, Effect } from '../controller/step'
import type { Design } from '../design/schema'
import { seated } from '../design/seats'
import { shown, type SurfaceProgram, type SurfaceState, type Understood } from '../surfaces/surface'
import { perform, RANK } from './actions'
import type { Figures } from './figures'
import { SILENT, TraceRecorder, type Recorder } from './recorder'
import type { Action, BenchScript } from './script'
import { emptyTrace, type Trace } from './trace'
import type { FateOf } from './wire'
import { Works } from './works'
import { nth } from '../units/lists'

const MAX_EVENTS_PER_SLICE = 50_000

export class Bench {
  /** With a link for each panel and box. */
  readonly design: Design
  readonly trace: Trace
  readonly recorded: BenchScript['steps'] = []
  /**
   * Hears of each value of a load that another follows in the same ms, which the trace leaves out.
   */
  onPassed: ((loadId: string, value: string) => void) | null = null
  private readonly recorder: Recorder
  private readonly works: Works

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
    onController: ((event: ControllerEvent, effects: readonly Effect[]) => void) | null = null,
  ) {
    const design = (this.design = seated(given))
    this.trace = emptyTrace(design)
    const recorder = (this.recorder = tracing
      ? new TraceRecorder(design, this.trace, (id, value) => this.onPassed?.(id, value))
      : SILENT)
    const fateOf: FateOf | null = typeof fates === 'object' ? key => fates[key] : (fates ?? null)
    this.works = new Works({ design, seed, fateOf, recorder, onController })
  }

  get figures(): Figures {
    return this.works.figures
  }

  /** Simulated time, ms. */
  get now(): number {
    return this.works.agenda.now
  }

  /** Hears what each panel understands. */
  set onHeard(hears: ((surfaceId: string, heard: readonly Understood[]) => void) | null) {
    this.works.surfaces.onHeard = hears
  }

  /** Run up to `untilMs`. Returns false when the slice ended early because of `maxEvents`. */
  advance(untilMs: number, maxEvents = MAX_EVENTS_PER_SLICE): boolean {
    for (let n = 0; n < maxEvents; n++) {
      if (!this.runNext(untilMs)) {
        this.works.agenda.now = Math.max(this.now, untilMs)
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
    this.recorder.mark(this.now, action)
    perform(this.works.doer, action)
  }

  /**
   * Plan a script; its steps are recorded as they happen, before whatever else happens at their
   * time was planned.
   */
  plan(steps: BenchScript['steps']): void {
    this.works.agenda.plan(steps)
  }

  /**
   * Something that does not belong to the design happens at a time: whoever drives the bench wants
   * to be asked again.
   */
  ask(atMs: number, run: () => void): void {
    this.works.agenda.at(Math.max(atMs, this.now), RANK.pin, run)
  }

  value(loadId: string): string {
    return nth(this.works.board.machine.state.value, this.works.loadIndex(loadId))
  }

  shown(surfaceId: string, loadId: string) {
    const load = this.works.program.loadIndex.get(loadId) ?? -1
    const belief = this.works.surfaces.belief(surfaceId, load)
    return belief ? shown(belief) : 'unknown'
  }

  /** The panel as it runs here: for whoever draws it. */
  panel(surfaceId: string): { program: SurfaceProgram; state: SurfaceState } {
    return this.works.surfaces.of(surfaceId).machine
  }

  /** What a sensor gives now. */
  raw(sensorId: string): Raw {
    const { works } = this
    return works.boxOf(sensorId)?.raw(sensorId) ?? works.board.raw(works.sensorIndex(sensorId))
  }

  linkState(linkId: string): { up: boolean; away: boolean; taken: boolean; dropped: number } {
    const { up, away, taken, index } = this.works.linkUnit(linkId)
    const dropped = this.works.board.machine.state.links[index]?.dropped ?? 0
    return { up, away, taken, dropped }
  }

  panelConnected(surfaceId: string): boolean {
    return this.works.surfaces.isUp(surfaceId)
  }

  get power(): 'on' | 'booting' | 'off' {
    const { powered, runs } = this.works.board
    if (!powered) return 'off'
    return runs ? 'on' : 'booting'
  }

  get routerIsDown(): boolean {
    return this.works.connections.routerDown
  }

  get frontDown(): boolean {
    return this.works.connections.frontDown
  }

  get contactsBounce(): boolean {
    return this.works.hands.bouncing
  }

  leverClosed(controlId: string): boolean {
    return this.works.handsAt(controlId).closed(controlId)
  }

  /** Presses of a surface that nothing came of. */
  missed(surfaceId: string): number {
    const { at, machine } = this.works.surfaces.of(surfaceId)
    return this.figures.missed(at, load => machine.state.beliefs[load]?.waiting !== null)
  }

  /** The next thing that happens, if it happens by then. */
  private runNext(untilMs: number): boolean {
    const { agenda, board, surfaces, ends } = this.works
    const step = agenda.step(untilMs)
    if (step) {
      this.happens()
      this.act(step.action)
      return true
    }
    const event = agenda.event(untilMs)
    if (!event) return false
    this.happens()
    switch (event.kind) {
      case 'arrive':
        ends.land(event)
        break
      case 'tick':
        board.ticks(event.due)
        break
      case 'panelTick':
        if (event.surface) surfaces.ticks(event.surface, event.due)
        break
      case 'run':
        event.run?.()
    }
    return true
  }

  private happens(): void {
    this.figures.events++
    this.trace.events++
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
