/**
 * What is to happen, in order: by time, then by rank, then as it was planned. The steps of a script
 * wait in a list of their own: it is sorted once, and the queue stays short.
 */
import { clock32 } from '../units/clock'
import { actionRank } from './actions'
import { before, EventQueue, type Timed } from './queue'
import type { Action, BenchScript } from './script'

/** What parts of the bench need of its clock. */
export interface Moments {
  now(): number
  at(t: number, rank: number, run: () => void): void
}

export type Step = Timed & { action: Action }

export class Schedule<E extends Timed> {
  now = 0
  private readonly queue = new EventQueue<E>()
  private steps: Step[] = []
  private nextStep = 0
  private seq = 0

  /** Numbers what is planned, so that of two at the same moment the first planned comes first. */
  number(): number {
    return this.seq++
  }

  push(event: E): void {
    this.queue.push(event)
  }

  plan(steps: BenchScript['steps']): void {
    const ahead = steps
      .map(({ atMs, action }) => ({
        t: Math.max(atMs, this.now),
        rank: actionRank(action),
        seq: this.seq++,
        action,
      }))
      .toSorted(inOrder)
    this.steps = [...this.steps.slice(this.nextStep), ...ahead].toSorted(inOrder)
    this.nextStep = 0
  }

  /** The step of a script that comes next, where it comes by then and before all else. */
  step(untilMs: number): Step | null {
    const planned = this.steps[this.nextStep]
    if (!planned || planned.t > untilMs) return null
    const first = this.queue.peek()
    if (first && !before(planned, first)) return null
    this.nextStep++
    this.now = planned.t
    return planned
  }

  /** What else comes next, where it comes by then. */
  event(untilMs: number): E | null {
    const first = this.queue.peek()
    if (!first || first.t > untilMs) return null
    this.now = first.t
    return this.queue.pop() as E
  }

  /**
   * A 32-bit controller time, which counts whole milliseconds, back on the bench's long time line.
   */
  fromClock(due: number): number {
    const whole = Math.floor(this.now)
    return Math.max(this.now, whole + Math.max(0, (due - clock32(whole)) | 0))
  }
}

function inOrder(a: Timed, b: Timed): number {
  return before(a, b) ? -1 : 1
}
