/** The board of the bench: its power, its program, and what it does. */
import { Machine } from '../controller/machine'
import type { Program } from '../controller/program'
import { restingRaw, type Raw } from '../controller/readings'
import { startWorking } from '../controller/state'
import type { ControllerEvent, Effect, Level } from '../controller/step'
import type { Design } from '../design/schema'
import { RANK } from './actions'
import type { Agenda } from './agenda'
import type { Figures } from './figures'
import type { Outputs } from './outputs'
import type { Recorder } from './recorder'

/**
 * Time that a write of memory takes, ms: a record of some bytes at 3.3 ms each, as small boards
 * state it.
 */
export const MEMORY_WRITE_MS = 20

type Said = Extract<Effect, { kind: 'send' | 'reply' }>

/** What the board needs of the bench. */
export interface Around {
  /** How its levers stand. */
  levers(): Level[]
  says(effect: Said): void
  /** Hears what happens to the controller, and what it does. */
  hears: ((event: ControllerEvent, effects: readonly Effect[]) => void) | null
}

export class Board {
  readonly machine: Machine
  powered = true
  /** Counts losses and returns of power, so that what was planned before one falls away. */
  epoch = 0
  private tickAt: number | null = null
  /** What each sensor gives, whether the board runs or not. */
  private readonly world: Raw[]

  constructor(
    private readonly design: Design,
    private readonly program: Program,
    private readonly agenda: Agenda,
    private readonly outputs: Outputs,
    private readonly figures: Figures,
    private readonly recorder: Recorder,
    private readonly around: Around,
  ) {
    this.machine = new Machine(program, startWorking(program))
    this.world = design.sensors.map(restingRaw)
  }

  get runs(): boolean {
    return this.powered && this.machine.state.running
  }

  raw(sensor: number): Raw {
    return this.world[sensor] as Raw
  }

  happens(event: ControllerEvent): void {
    const { machine } = this
    const effects = machine.handle(event)
    this.around.hears?.(event, effects)
    for (const load of machine.changed) this.truthIs(load)
    for (const effect of effects) this.does(effect)
    const due = machine.nextDue
    if (due === null || this.tickAt === due) return
    this.tickAt = due
    this.agenda.boardTick(due)
  }

  ticks(due: number): void {
    if (this.tickAt === due) this.tickAt = null
    this.happens({ kind: 'tick', now: this.agenda.now })
  }

  sense(sensor: number, raw: Raw): void {
    this.world[sensor] = raw
    if (this.runs) this.happens({ kind: 'sample', now: this.agenda.now, sensor, raw })
  }

  boot(): void {
    const { now } = this.agenda
    this.happens({ kind: 'boot', now, levels: this.around.levers() })
    this.world.forEach((raw, sensor) => this.happens({ kind: 'sample', now, sensor, raw }))
    this.allTruth()
  }

  /** `lost`: its links fall. */
  cut(lost: () => void): void {
    if (!this.powered) return
    this.powered = false
    this.epoch++
    this.happens({ kind: 'powerOff', now: this.agenda.now })
    this.recorder.cut(this.agenda.now)
    this.outputs.cut()
    for (const { lamp } of this.program.lamps) this.recorder.lamp(this.agenda.now, lamp.id, null)
    lost()
    this.allTruth()
  }

  /** `back`: its program runs again. */
  start(back: () => void): void {
    if (this.powered) return
    this.powered = true
    const epoch = ++this.epoch
    const bootMs = this.design.controllers[0]?.bootMs ?? 0
    this.outputs.start(bootMs, () => epoch === this.epoch && !this.machine.state.running)
    this.agenda.at(this.agenda.now + bootMs, RANK.boot, () => {
      if (epoch !== this.epoch) return
      this.recorder.back(this.agenda.now)
      this.boot()
      back()
    })
  }

  private does(effect: Effect): void {
    switch (effect.kind) {
      case 'pin':
        return this.outputs.lineIs(effect.load, effect.line, effect.level)
      case 'lamp':
        return this.recorder.lamp(
          this.agenda.now,
          this.program.lamps[effect.lamp]?.lamp.id ?? '',
          effect.level,
        )
      case 'save':
        return this.saves(effect.load, effect.value)
      default:
        return this.around.says(effect)
    }
  }

  private saves(load: number, value: string): void {
    this.figures.memoryWrites++
    this.recorder.save(this.agenda.now, load, value)
    const { epoch } = this
    this.agenda.at(this.agenda.now + MEMORY_WRITE_MS, RANK.tick, () => {
      if (epoch === this.epoch) this.happens({ kind: 'memoryDone', now: this.agenda.now })
    })
  }

  private allTruth(): void {
    for (let load = 0; load < this.design.loads.length; load++) this.truthIs(load)
  }

  private truthIs(load: number): void {
    this.outputs.truthIs(load, this.machine.state.value[load] as string, this.runs)
  }
}
