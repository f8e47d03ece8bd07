/** Hands at the controls, knobs and remotes: what they do becomes events of the board. */
import { linesAfter } from '../controller/knobs'
import type { Program } from '../controller/program'
import type { ControllerEvent, Level } from '../controller/step'
import type { Design, Gesture } from '../design/schema'
import { isReceiver } from '../design/sensors/traits'
import type { Random } from '../units/random'
import { RANK } from './actions'
import { bounces } from './bounce'
import { finger } from './fingers'
import type { Moments } from './schedule'
import { nth } from '../units/lists'

/** Quadrature counts of a knob that is turned by hand follow one another at this distance, ms. */
export const COUNT_MS = 4
/** Repeat frames of a remote, ms. */
const REPEAT_MS = 108

/** What hands need of the bench. */
export interface Around extends Moments {
  happens(event: ControllerEvent): void
  /** A contact opens or closes, before any debounce. */
  contact(controlId: string, level: Level): void
}

export class Hands {
  /** Contacts bounce. */
  bouncing = false
  readonly levers: Level[]
  private readonly knobLines: number[]
  private readonly epochs: number[]
  private readonly randoms: Random[]

  /** `stream`: a random stream by name. */
  constructor(
    private readonly design: Design,
    private readonly program: Program,
    private readonly around: Around,
    stream: (name: string) => Random,
  ) {
    this.levers = program.inputs.map(() => 1)
    this.epochs = program.inputs.map(() => 0)
    this.randoms = program.inputs.map(i => stream(`contact ${i.control.id}`))
    this.knobLines = program.knobs.map(() => 3)
  }

  press(controlId: string, gesture: Gesture): void {
    const input = this.inputOf(controlId)
    const { control } = nth(this.program.inputs, input)
    if (control.kind === 'latching') return this.move(input, this.levers[input] === 1 ? 0 : 1)
    for (const { afterMs, level } of finger(control, gesture).moves) {
      if (afterMs === 0) this.move(input, level)
      else this.soon(afterMs, RANK.pin + input, () => this.move(input, level))
    }
  }

  lever(controlId: string, level: Level): void {
    this.move(this.inputOf(controlId), level)
  }

  turn(sensor: number, detents: number): void {
    const knob = this.program.knobs.findIndex(k => k.sensor === sensor)
    const counts = Math.abs(detents) * (this.program.knobs[knob]?.knob.countsPerDetent ?? 0)
    for (let i = 0; i < counts; i++) {
      this.soon(i * COUNT_MS, RANK.pin, () => {
        const lines = linesAfter(nth(this.knobLines, knob), detents > 0)
        this.knobLines[knob] = lines
        this.around.happens({
          kind: 'knob',
          now: this.around.now(),
          knob,
          a: (lines >> 1) as Level,
          b: (lines & 1) as Level,
        })
      })
    }
  }

  remote(sensor: number, nth: number, repeats: number): void {
    const receiver = this.design.sensors[sensor]
    const key = isReceiver(receiver) ? receiver.keys[nth] : undefined
    if (!key) throw new RangeError(`"${receiver?.id}" knows no key ${nth + 1}`)
    const { address, command } = key
    for (let i = 0; i <= repeats; i++)
      this.soon(i * REPEAT_MS, RANK.infrared, () => {
        const now = this.around.now()
        this.around.happens({ kind: 'infrared', now, sensor, address, command, repeat: i > 0 })
      })
  }

  closed(controlId: string): boolean {
    return this.levers[this.program.inputIndex.get(controlId) ?? -1] === 0
  }

  private move(input: number, level: Level): void {
    this.contact(input, level)
    const epoch = ++this.epochs[input]!
    if (!this.bouncing) return
    for (const { afterMs, level: now } of bounces(nth(this.randoms, input), level)) {
      this.soon(afterMs, RANK.pin + input, () => {
        // A lever that was moved again bounces for that movement only.
        if (this.epochs[input] === epoch) this.contact(input, now)
      })
    }
  }

  private contact(input: number, level: Level): void {
    this.levers[input] = level
    this.around.contact(nth(this.program.inputs, input).control.id, level)
    this.around.happens({ kind: 'pin', now: this.around.now(), input, level })
  }

  private soon(afterMs: number, rank: number, run: () => void): void {
    this.around.at(this.around.now() + afterMs, rank, run)
  }

  private inputOf(controlId: string): number {
    const input = this.program.inputIndex.get(controlId)
    if (input === undefined) throw new RangeError(`no hand control "${controlId}"`)
    return input
  }
}
