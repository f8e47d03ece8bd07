/**
 * A box that is a board: contacts, gestures, knobs, sticks, remotes and rules as on any controller,
 * but what they come to is not done to lines of its own: it is asked over the link of its surface.
 */
import { asksOfTarget, wantFor } from '../design/boxes'
import { linkOf, maybeMessage } from '../design/find'
import { isHeld, isOpposed } from '../design/outputs/traits'
import type { Design, PeerSurface } from '../design/schema'
import { restOf } from '../design/values'
import { clock32, reached } from '../units/clock'
import type { LampNow } from './lamps'
import { Machine } from './machine'
import { compileController, type Program, type ProgramRule, type ProgramTarget } from './program'
import { startWorking, type Effect } from './state'

/**
 * What a box asks for. `load`: its place in the design of the box. `steps`: so many detents, up
 * positive. `presses`: a direction that runs already is stopped.
 */
export type Ask =
  | { kind: 'key'; load: number; want: string; presses: boolean }
  | { kind: 'steps'; load: number; steps: number }
  | { kind: 'scene'; sceneId: string }

/**
 * The design that a box works by: its board, what is wired to it, and the loads that its link
 * carries, as if they were its own. `whole`: the design with all its boards.
 */
export function designOfBox(whole: Design, box: PeerSurface): Design | null {
  const controller = whole.controllers.find(c => c.id === box.boardId)
  const link = linkOf(whole, box.linkId)
  if (!controller) return null
  const loads = whole.loads
    .filter(l => maybeMessage(link, l.id))
    .map(l => ({ ...l, controllerId: controller.id }))
  const ids = new Set(loads.map(l => l.id))
  const sensors = whole.sensors.filter(s => s.controllerId === controller.id)
  return {
    ...whole,
    controllers: [controller],
    front: null,
    loads,
    links: [],
    sensors,
    rules: whole.rules
      .filter(r => sensors.some(s => s.id === r.sensorId))
      .map(r => ({ ...r, sets: r.sets.filter(x => ids.has(x.loadId)) })),
    surfaces: [
      { kind: 'hand', id: box.id, name: box.name, inSight: false, controls: box.controls },
    ],
  }
}

/** Of a link that is another one's. */
const NO_LINK = { senses: true, up: false, heard: false }

/** The program of a box, and the machine that runs it. */
export class BoxMachine extends Machine {
  /** What was asked in the last event; the caller's until the next. */
  asks: Ask[] = []

  constructor(
    readonly whole: Design,
    readonly box: PeerSurface,
    design: Design,
  ) {
    const program: Program = compileController(design)
    super(program, startWorking(program))
  }

  override handle(event: Parameters<Machine['handle']>[0]): ReturnType<Machine['handle']> {
    if (this.asks.length) this.asks = []
    return super.handle(event)
  }

  /** What its lamps show depends on its link too: `lit` looks after them. */
  protected override light(): void {
    // Later, when all that an event did is known.
  }

  /** Lamps of its board after all that an event did. The caller's until the next. */
  lit(now: number, boots: boolean, is: LampNow): Effect[] {
    this.effects = []
    this.state.now = clock32(now)
    this.lamps(boots, ({ lamp }) =>
      lamp.shows === 'link' && lamp.linkId !== this.box.linkId ? { ...is, ...NO_LINK } : is,
    )
    return this.effects
  }

  /** A value that stands by itself: of a lever, of a button that is let go, of a rule. */
  protected override set(load: number, value: string): void {
    this.asks.push({ kind: 'key', load, want: value, presses: false })
  }

  protected override does(target: ProgramTarget | undefined): void {
    if (!target) return
    if ('sets' in target) return this.scene(target.sceneId)
    const { load, asks } = target
    const held = isHeld(this.outputOf(load))
    this.asks.push({ kind: 'key', load, want: held ? 'on' : wantFor(asks), presses: true })
  }

  protected override push(index: number, target: ProgramTarget | undefined): void {
    if (!target) return
    if ('sets' in target) return this.scene(target.sceneId)
    const { load, asks } = target
    const held = isHeld(this.outputOf(load))
    this.asks.push({ kind: 'key', load, want: held ? 'on' : wantFor(asks), presses: false })
    this.askAgain(index, asks)
  }

  protected override steps(load: number, detents: number): void {
    this.asks.push({ kind: 'steps', load, steps: detents })
  }

  protected override follow({ rule, sets }: ProgramRule): void {
    if (rule.sceneId !== null) return this.scene(rule.sceneId)
    for (const { load, value } of sets) this.set(load, value)
  }

  private scene(sceneId: string): void {
    for (const ask of asksOfTarget(this.whole, this.box, { sceneId }))
      if ('sceneId' in ask) this.asks.push({ kind: 'scene', sceneId: ask.sceneId })
      else {
        const load = this.program.loadIndex.get(ask.loadId)
        if (load !== undefined) this.set(load, ask.want)
      }
  }

  /** The key that an ask comes to, from the value that the surface believes. */
  wantOf(ask: Extract<Ask, { kind: 'key' }>, believed: string | null): string {
    const output = this.outputOf(ask.load)
    return ask.presses && isOpposed(output) && believed === ask.want ? restOf(output) : ask.want
  }
}

/** So many asks wait at most; the oldest is given up for a newer one. */
export const MOST_WAITING = 32

/**
 * How often a box sends: what comes too soon waits, the newest value of a load in place of an older
 * one, detents added up, and where it ends is always sent.
 */
export class Pace {
  private waiting: Ask[] = []
  private freeAt: number | null = null

  /** `leastMs`: 0 = no limit. `several`: whether one message can say so many detents of a load. */
  constructor(
    private readonly leastMs: number,
    private readonly several: (load: number) => boolean,
  ) {}

  /**
   * When it may send again, ms on the clock; null = at once. That is forgotten when it is over, or
   * it would seem to lie ahead again after half a turn of the clock.
   */
  get due(): number | null {
    return this.freeAt
  }

  /** Takes an ask; returns what is to be sent now. */
  take(now: number, ask: Ask): Ask[] {
    this.wait(ask)
    return this.leastMs === 0 ? this.all() : this.next(now)
  }

  /** What may be sent now of what waited. */
  next(now: number): Ask[] {
    if (this.freeAt !== null && !reached(now, this.freeAt)) return []
    this.freeAt = null
    const said = this.one()
    if (said.length) this.freeAt = clock32(now + this.leastMs)
    return said
  }

  /** Forgets what waits, as a start does. */
  forget(): void {
    this.waiting = []
    this.freeAt = null
  }

  private wait(ask: Ask): void {
    if (ask.kind === 'steps') {
      const last = this.waiting.findLastIndex(w => w.kind !== 'scene' && w.load === ask.load)
      const before = this.waiting[last]
      if (before?.kind === 'steps') {
        const steps = before.steps + ask.steps
        if (steps === 0) this.waiting.splice(last, 1)
        else this.waiting[last] = { ...before, steps }
        return
      }
    }
    // A value takes the place of whatever its load was to be told before.
    if (ask.kind === 'key' && isValueOf(ask.want))
      this.waiting = this.waiting.filter(w => w.kind === 'scene' || w.load !== ask.load)
    this.waiting.push(ask)
    if (this.waiting.length > MOST_WAITING) this.waiting.shift()
  }

  private all(): Ask[] {
    const all: Ask[] = []
    while (this.waiting.length) all.push(...this.one())
    return all
  }

  /** The first that waits; of detents one, where a message says no more. */
  private one(): Ask[] {
    const [first] = this.waiting
    if (!first) return []
    if (first.kind === 'steps' && Math.abs(first.steps) > 1 && !this.several(first.load)) {
      const step = Math.sign(first.steps)
      this.waiting[0] = { ...first, steps: first.steps - step }
      return [{ ...first, steps: step }]
    }
    this.waiting.shift()
    return [first]
  }
}

/** Not from the value there is. */
function isValueOf(want: string): boolean {
  return !['flip', 'up', 'down', 'next'].includes(want)
}
