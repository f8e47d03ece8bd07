/**
 * Writes down what happens in a run. One that is silent writes nothing, so that a long run takes no
 * room: figures are kept elsewhere.
 */
import { farSurfaces, wiredSurfaces } from '../design/find'
import type { Design } from '../design/schema'
import type { Level } from '../controller/step'
import type { Shown } from '../surfaces/surface'
import { actionWords, gestureLoad } from './actions'
import type { Action } from './script'
import { closeInterval, LONGEST_WAY_MS, type Trace, type TracedMessage } from './trace'
import { nth } from '../units/lists'

/** Beyond this many the oldest messages are forgotten, a quarter at a time. */
const MOST_MESSAGES = 400_000

/** Loads, lines and surfaces are told by their place in the design. */
export interface Recorder {
  truth(now: number, load: number, value: string, powered: boolean): void
  belief(now: number, surface: number, load: number, shown: Shown): void
  line(now: number, load: number, line: number, level: number | null): void
  contact(now: number, controlId: string, level: Level): void
  lamp(now: number, lampId: string, level: number | null): void
  save(now: number, load: number, value: string): void
  message(message: TracedMessage): void
  mark(now: number, action: Action): void
  down(now: number, linkId: string): void
  up(now: number, linkId: string): void
  cut(now: number): void
  back(now: number): void
}

const nothing = () => undefined
export const SILENT: Recorder = {
  truth: nothing,
  belief: nothing,
  line: nothing,
  contact: nothing,
  lamp: nothing,
  save: nothing,
  message: nothing,
  mark: nothing,
  down: nothing,
  up: nothing,
  cut: nothing,
  back: nothing,
}

export class TraceRecorder implements Recorder {
  private readonly truths: Trace['truth'][string][]
  private readonly beliefs: Trace['beliefs'][string][string][][]
  private readonly ids: readonly string[]

  /** `passed` hears of a value that another follows in the same ms, which the trace leaves out. */
  constructor(
    private readonly design: Design,
    private readonly trace: Trace,
    private readonly passed: (loadId: string, value: string) => void,
  ) {
    this.ids = design.loads.map(l => l.id)
    this.truths = design.loads.map(l => trace.truth[l.id] as Trace['truth'][string])
    this.beliefs = farSurfaces(design).map(s =>
      design.loads.map(l => trace.beliefs[s.id]?.[l.id] as Trace['beliefs'][string][string]),
    )
  }

  truth(now: number, load: number, value: string, powered: boolean): void {
    const changes = nth(this.truths, load)
    const last = changes.at(-1)
    if (last && last.value === value && last.powered === powered) return
    const id = this.ids[load] ?? ''
    const { moves } = this.trace
    if (last && last.value !== value) moves[id] = (moves[id] ?? 0) + 1
    if (last?.t === now) {
      if (last.value !== value) this.passed(id, last.value)
      Object.assign(last, { value, powered })
    } else changes.push({ t: now, value, powered })
  }

  belief(now: number, surface: number, load: number, shown: Shown): void {
    const changes = this.beliefs[surface]?.[load]
    if (changes && changes.at(-1)?.shown !== shown) changes.push({ t: now, shown })
  }

  line(now: number, load: number, line: number, level: number | null): void {
    this.trace.lines[this.ids[load] ?? '']?.[line]?.push({ t: now, level })
  }

  contact(now: number, controlId: string, level: Level): void {
    this.trace.contacts[controlId]?.push({ t: now, level })
  }

  lamp(now: number, lampId: string, level: number | null): void {
    const changes = this.trace.lamps[lampId]
    if (changes && changes.at(-1)?.level !== level) changes.push({ t: now, level })
  }

  save(now: number, load: number, value: string): void {
    this.trace.saves.push({ t: now, loadId: this.ids[load] ?? '', value })
  }

  message(message: TracedMessage): void {
    const { messages } = this.trace
    messages.push(message)
    if (messages.length <= MOST_MESSAGES) return
    messages.splice(0, MOST_MESSAGES / 4)
    this.trace.keptFromMs = messages[0]?.sentMs ?? 0
  }

  mark(now: number, action: Action): void {
    const { design } = this
    const control =
      'controlId' in action
        ? wiredSurfaces(design)
            .flatMap(s => s.controls)
            .find(c => c.id === action.controlId)
        : undefined
    const surface =
      'surfaceId' in action
        ? action.surfaceId
        : wiredSurfaces(design).find(s => s.controls.some(c => c.id === control?.id))?.id
    const byHand = control ? gestureLoad(control, action) : null
    this.trace.marks.push({
      t: now,
      action,
      words: actionWords(design, action),
      surfaceId: surface ?? null,
      loadId: 'loadId' in action ? action.loadId : byHand,
    })
  }

  /** What was under way on the link arrives nowhere. */
  down(now: number, linkId: string): void {
    this.trace.down[linkId]?.push({ fromMs: now, toMs: null })
    const { messages } = this.trace
    for (let i = messages.length - 1; i >= 0; i--) {
      const m = nth(messages, i)
      if (m.sentMs < now - LONGEST_WAY_MS) return
      if (m.linkId === linkId && !m.lost && m.endMs > now)
        Object.assign(m, { lost: true, endMs: now })
    }
  }

  up(now: number, linkId: string): void {
    closeInterval(this.trace.down[linkId] ?? [], now)
  }

  cut(now: number): void {
    this.trace.powerCuts.push({ fromMs: now, toMs: null })
  }

  back(now: number): void {
    closeInterval(this.trace.powerCuts, now)
  }
}
