/**
 * The state that an event works on, and what of it is looked up and changed. The layers above it
 * each have a subject of their own; `machine.ts` is the uppermost.
 */
import type { Motion, Outcome } from '../outputs/motion'
import { readingText } from '../readings'
import type { Output, Sensor } from '../../design/schema'
import type { Program } from '../program'
import {
  nextDue,
  UNTOLD,
  type Effect,
  type InputState,
  type LeastState,
  type LinkState,
  type ToldState,
  type WorkingState,
} from '../state'

export class Work {
  effects: Effect[] = []
  /** Loads whose value changed in the event; a start or a power cut may change any. */
  changed: number[] = []
  /**
   * When it next wants a tick; looked for again only after something that has a time was touched.
   */
  protected due: number | null = null
  /** What its clock says, s since 1970. */
  protected clockS = 0
  protected dueStands = false
  /**
   * Loads that changed within an event that may set several, and what they were before; null
   * outside of such an event.
   */
  protected before: (Outcome | undefined)[] | null = null
  /** What the links whose memory write began in this event may still add to. */
  protected writes = false
  /** The whole state as text, by link; made anew after anything changed. */
  protected readonly states: (string | undefined)[] = []
  protected readonly texts: (string | undefined)[] = []

  constructor(
    readonly program: Program,
    public state: WorkingState,
  ) {}

  get nextDue(): number | null {
    if (!this.dueStands) {
      this.due = nextDue(this.state)
      this.dueStands = true
    }
    return this.due
  }

  protected linkAt(index: number): LinkState {
    return this.state.links[index] as LinkState
  }

  protected patchLink(index: number, patch: Partial<LinkState>): void {
    this.dueStands = false
    this.state.links[index] = { ...this.linkAt(index), ...patch }
  }

  protected patchLeast(index: number, load: number, least: LeastState): void {
    this.patchLink(index, { least: (this.linkAt(index).least ?? []).with(load, least) })
  }

  protected patchTold(i: number, patch: Partial<ToldState>): void {
    this.state.told[i] = { ...(this.state.told[i] ?? UNTOLD), ...patch }
  }

  protected patchInput(index: number, patch: Partial<InputState>): void {
    const { level, pending, lockedUntil, run } = this.state.inputs[index] as InputState
    this.state.inputs[index] = {
      level: patch.level ?? level,
      pending: patch.pending === undefined ? pending : patch.pending,
      lockedUntil: patch.lockedUntil === undefined ? lockedUntil : patch.lockedUntil,
      run: patch.run === undefined ? run : patch.run,
    }
  }

  protected outputOf(load: number): Output {
    return (this.program.loads[load] as Program['loads'][number]).output
  }

  protected outcomeOf(load: number): Outcome {
    return { value: this.state.value[load] as string, motion: this.state.motion[load] as Motion }
  }

  protected textOf(sensor: number): string {
    return (this.texts[sensor] ??= readingText(
      this.program.design.sensors[sensor] as Sensor,
      this.state.samples[sensor] ?? null,
    ))
  }

  protected readingNow(i: number): string {
    return this.textOf((this.program.readings[i] as Program['readings'][number]).sensor)
  }

  protected forget(): void {
    this.states.length = 0
    this.texts.length = 0
  }
}
