/**
 * The real `step` functions of controller and panels, tabulated: each state gets a small number, each transition is
 * computed once and looked up afterwards. So the search runs on integers and still explores the one definition of
 * behaviour that bench, stand-ins and generated code use.
 */
import { compileController, type Program } from '../controller/program'
import { BY_HAND, type Motion } from '../controller/outputs'
import { startController, step, type ControllerEvent, type ControllerState, type Effect, type Level } from '../controller/step'
import type { Design } from '../design/schema'
import { compilePanel, panelStep, shown, startPanel, type PanelProgram, type PanelState, type Shown, type Via } from '../surfaces/panel'

/** Message texts by number; 0 means none. Up to 255, so that one byte holds a message. */
export class Messages {
  private readonly numbers = new Map<string, number>()
  readonly texts: { text: string, via: Via }[] = [{ text: '', via: 'stream' }]

  number(text: string, via: Via): number {
    const key = `${via} ${text}`
    let n = this.numbers.get(key)
    if (n === undefined) {
      n = this.texts.push({ text, via }) - 1
      if (n > 255) throw new RangeError('more than 255 different messages in one search')
      this.numbers.set(key, n)
    }
    return n
  }
}

/** Numbered states of one machine with memoised transitions. */
class Table<S, R> {
  readonly states: S[] = []
  private readonly numbers = new Map<string, number>()
  private readonly memo: (R | undefined)[][] = []

  constructor(private readonly keyOf: (state: S) => string) {}

  intern(state: S): number {
    const key = this.keyOf(state)
    let n = this.numbers.get(key)
    if (n === undefined) {
      n = this.states.push(state) - 1
      this.memo.push([])
      this.numbers.set(key, n)
    }
    return n
  }

  lookUp(state: number, event: number, compute: (state: S) => R): R {
    const row = this.memo[state] as (R | undefined)[]
    let result = row[event]
    if (result === undefined) {
      result = compute(this.states[state] as S)
      row[event] = result
    }
    return result
  }
}

/** Where a controller step leads, and which message goes to which panel (by panel number). */
export interface ControllerMove { next: number, sends: { panel: number, message: number }[] }

const PENDING = 1
const FAR = 1000

export class ControllerTable {
  readonly program: Program
  private readonly table: Table<ControllerState, ControllerMove>

  /** `linkPanel[i]` is the panel on link i of the design, or -1. */
  constructor(design: Design, private readonly messages: Messages, private readonly linkPanel: readonly number[]) {
    this.program = compileController(design)
    this.table = new Table(s => JSON.stringify([s.running, s.value, s.motion, s.memory, s.saveDue, s.inputs, s.links.map(l => [l.up, l.buffer, l.adopts])]))
  }

  start(): number { return this.table.intern(startController(this.program)) }
  state(n: number): ControllerState { return this.table.states[n] as ControllerState }

  private readonly armedMemo: boolean[] = []
  /** By state: has anything armed that would act or send. */
  armed(n: number): boolean {
    const { saveDue, motion } = this.state(n)
    return this.armedMemo[n] ??= saveDue.some(due => due !== null) || motion.some(m => armedSlots(m).some(slot => m?.kind !== 'timed' || slot !== TRIP))
  }

  boot(n: number, levers: number): ControllerMove {
    return this.move(n, levers, [{ kind: 'boot', now: 0, levels: this.program.inputs.map((_, i) => leverLevel(levers, i)) }])
  }

  powerOff(n: number): ControllerMove { return this.move(n, 256, [{ kind: 'powerOff', now: 0 }]) }
  save(n: number): ControllerMove { return this.move(n, 257, [{ kind: 'tick', now: PENDING }], s => ({ ...s, motion: s.motion.map(m => withDue(m, FAR)) })) }
  /** Timer `slot` of the output of a load falls due, every other one later. */
  timer(n: number, load: number, slot: number): ControllerMove {
    return this.move(n, 544 + load * MAX_SLOTS + slot, [{ kind: 'tick', now: PENDING }], s => ({
      ...s, saveDue: s.saveDue.map(due => due === null ? null : FAR), motion: s.motion.map((m, i) => withDue(m, FAR, i === load ? slot : -1)),
    }))
  }

  press(n: number, input: number): ControllerMove {
    return this.move(n, 320 + input, [{ kind: 'pin', now: 0, input, level: 0 }, { kind: 'pin', now: 0, input, level: 1 }])
  }

  lever(n: number, input: number, level: Level): ControllerMove { return this.move(n, 384 + input * 2 + level, [{ kind: 'pin', now: 0, input, level }]) }
  linkUp(n: number, link: number): ControllerMove { return this.move(n, 512 + link, [{ kind: 'linkUp', now: 0, link }]) }
  linkDown(n: number, link: number): ControllerMove { return this.move(n, 528 + link, [{ kind: 'linkDown', now: 0, link }]) }
  received(n: number, link: number, message: number): ControllerMove {
    return this.move(n, 1024 + link * 256 + message, [{ kind: 'received', now: 0, link, text: this.messages.texts[message]?.text ?? '' }])
  }

  private move(n: number, eventKey: number, events: ControllerEvent[], prepare = (s: ControllerState) => s): ControllerMove {
    return this.table.lookUp(n, eventKey, (before) => {
      let state = prepare(before)
      const effects: Effect[] = []
      for (const event of events) {
        const stepped = step(this.program, state, event)
        state = stepped.state
        effects.push(...stepped.effects)
      }
      // For the search a write of memory is done at once; what a cut during one leaves is the value before it, as if it came before.
      if (state.writing) state = step(this.program, state, { kind: 'memoryDone', now: state.now }).state
      return { next: this.table.intern(timeless(state)), sends: effects.flatMap(e => this.sent(e)) }
    })
  }

  private sent(effect: Effect): ControllerMove['sends'] {
    if (effect.kind !== 'send' && effect.kind !== 'reply') return []
    const panel = this.linkPanel[effect.link] ?? -1
    return panel < 0 ? [] : [{ panel, message: this.messages.number(effect.text, effect.kind === 'reply' ? effect.to : 'stream') }]
  }
}

/** Armed timers keep only that they are armed. Debounce and lock-out are taken out by the projection. */
function timeless(state: ControllerState): ControllerState {
  return {
    ...state, now: 0, starts: 0,
    saveDue: state.saveDue.map(due => due === null ? null : PENDING),
    motion: state.motion.map(m => withDue(m, PENDING)),
    inputs: state.inputs.map(i => ({ level: i.level, pending: null, lockedUntil: null, run: null })),
  }
}

/** Timers that an output can have armed at once: the holders of a held one, else dead time and run limit. */
const MAX_SLOTS = 24

/** The motion with all that is armed due at `at`, but slot `soon` due at once. */
function withDue(motion: Motion, at: number, soon = -1): Motion {
  const due = (armed: number | null, slot: number) => armed === null || armed === BY_HAND ? armed : slot === soon ? PENDING : at
  if (!motion) return motion
  switch (motion.kind) {
    case 'held': return { ...motion, holds: motion.holds.map(due) }
    case 'timed': return { ...motion, onDue: due(motion.onDue, 0), offDue: due(motion.offDue, 1), blinkDue: due(motion.blinkDue, 2), freeAt: due(motion.freeAt, 3), trip: due(motion.trip, 4) }
    case 'opposed': return { ...motion, rests: motion.rests && { ...motion.rests, due: due(motion.rests.due, 0) as number }, limit: due(motion.limit, 1) }
    default: return { ...motion, due: due(motion.due, 0) }
  }
}

/** The longest time of a switched output: hours may go by before it is over, so what is shown meanwhile counts as at rest. */
export const TRIP = 4

/** Slots of an output that are armed. */
export function armedSlots(motion: Motion): number[] {
  const armed = motion?.kind === 'held' ? motion.holds.map(h => h !== null && h !== BY_HAND) : motion?.kind === 'timed' ? [motion.onDue !== null, motion.offDue !== null, motion.blinkDue !== null, motion.freeAt !== null, motion.trip !== null] : motion?.kind === 'opposed' ? [motion.rests !== null, motion.limit !== null] : motion ? [motion.due !== null] : []
  return armed.flatMap((is, slot) => is ? [slot] : [])
}

export function leverLevel(levers: number, input: number): Level {
  return (levers >> input) & 1 ? 0 : 1
}

export interface PanelMove { next: number, sends: number[] }

const CONFIRM_DUE = 10
const POLL_DUE = 20
const NOT_NOW = 1000

export class PanelTable {
  readonly program: PanelProgram
  private readonly table: Table<PanelState, PanelMove>
  /** By state: is any key waiting for an answer. */
  private readonly waitingMemo: boolean[] = []

  constructor(design: Design, surfaceId: string, private readonly messages: Messages) {
    this.program = compilePanel(design, surfaceId)
    this.table = new Table(s => JSON.stringify(s))
  }

  start(): number { return this.table.intern(startPanel(this.program)) }
  state(n: number): PanelState { return this.table.states[n] as PanelState }
  isWaiting(n: number): boolean { return this.waitingMemo[n] ??= this.state(n).beliefs.some(b => b.waiting) }
  shown(n: number, load: number): Shown {
    const belief = this.state(n).beliefs[load]
    return belief ? shown(belief) : 'unknown'
  }

  linkUp(n: number): PanelMove { return this.table.lookUp(n, 0, s => this.done(panelStep(this.program, s, { kind: 'linkUp', now: 0 }))) }
  linkDown(n: number): PanelMove { return this.table.lookUp(n, 1, s => this.done(panelStep(this.program, s, { kind: 'linkDown', now: 0 }))) }
  timeout(n: number): PanelMove { return this.table.lookUp(n, 2, s => this.done(panelStep(this.program, s, { kind: 'tick', now: CONFIRM_DUE }))) }
  poll(n: number): PanelMove {
    return this.table.lookUp(n, 3, s => this.done(panelStep(this.program, { ...quiet(s), holds: s.holds.map(h => h === null ? null : NOT_NOW) }, { kind: 'tick', now: POLL_DUE })))
  }

  /** `slot` numbers the keys of the panel, for the memory of what was computed. */
  key(n: number, slot: number, load: number, want: string): PanelMove {
    return this.table.lookUp(n, 8 + slot, s => this.done(panelStep(this.program, s, { kind: 'key', now: 0, load, want })))
  }

  /** The next keep-alive of the keys that are held down. */
  repeat(n: number): PanelMove {
    return this.table.lookUp(n, 4, s => this.done(panelStep(this.program, { ...quiet(s), pollDue: s.pollDue === null ? null : NOT_NOW }, { kind: 'tick', now: POLL_DUE })))
  }

  holds(n: number): boolean { return this.state(n).holds.some(h => h !== null) }

  received(n: number, message: number): PanelMove {
    return this.table.lookUp(n, 1024 + message, (s) => {
      const { text, via } = this.messages.texts[message] as { text: string, via: Via }
      return this.done(panelStep(this.program, s, { kind: 'received', now: 0, text, via }))
    })
  }

  private done({ state, sends }: { state: PanelState, sends: string[] }): PanelMove {
    return { next: this.table.intern(this.timeless(state)), sends: sends.map(text => this.messages.number(text, 'command')) }
  }

  private timeless(state: PanelState): PanelState {
    return {
      ...state, pollDue: state.pollDue === null ? null : POLL_DUE, holds: state.holds.map(h => h === null ? null : POLL_DUE),
      beliefs: state.beliefs.map(b => b.waiting ? { ...b, waiting: { ...b.waiting, since: 0, due: CONFIRM_DUE } } : b),
    }
  }
}

/** No answer is overdue yet. */
function quiet(state: PanelState): PanelState {
  return { ...state, beliefs: state.beliefs.map(b => b.waiting ? { ...b, waiting: { ...b.waiting, due: NOT_NOW } } : b) }
}
