/** The controller, tabulated. */
import { ACTED, ASTRAY, atMostSends, CLASHED, DEAD, NEXT, SENDS, Table } from './table'
import {
  BY_HAND,
  isHeldMotion,
  isOpposedMotion,
  isPulsedMotion,
  isTimedMotion,
  type Motion,
} from '../../controller/outputs/motion'
import {
  type ControllerEvent,
  type ControllerState,
  type Effect,
  FREE,
  type Level,
  startController,
} from '../../controller/state'
import type { Messages } from './messages'
import { MOST_MESSAGES } from './messages'
import type { Output } from '../../design/schema'
import type { OutputTimer } from '../../controller/outputs/facet'
import type { Program, ProgramInput } from '../../controller/program'
import { understood } from '../../messages/meaning'
import { asked, fullOf, restOf, valuesOf } from '../../design/values'
import { bodyIn } from '../../design/wire'
import { duesOf, lineLevels, outputTimers, withDues } from '../../controller/outputs/rows'
import { isHeld, linesExclude } from '../../design/outputs/traits'
import { isReceiver } from '../../design/sensors/traits'
import { lasting } from '../../controller/outputs/switched'
import { linesAfter } from '../../controller/knobs'
import { step } from '../../controller/step'
import { rawOf, type StickWay } from '../../controller/sticks'

/**
 * What can happen to the board in one go. `elsewhere`: commands of other surfaces, remotes, knobs,
 * rules: what has no place in the system of its own.
 */
export type Act =
  | { do: 'powerOff' | 'save' | 'linkUp' | 'linkDown' | 'tell' | 'sent' }
  | { do: 'least'; load: number }
  | { do: 'boot'; levers: number }
  | { do: 'timer'; load: number; slot: number }
  | { do: 'press'; input: number }
  | { do: 'lever'; input: number; level: Level }
  | { do: 'command'; link: number; text: string }
  | { do: 'remote'; sensor: number; key: number }
  | { do: 'turn'; knob: number; detents: 1 | -1 }
  | { do: 'push'; sensor: number; way: StickWay }
  | { do: 'cross'; sensor: number }
  | { do: 'end'; sensor: number; load: number; closed: boolean }

/**
 * A state of the board with what the search watches besides: the line of an opposed load that fell
 * last, while no dead time that was armed since has passed. The watch is apart from what the board
 * itself remembers, or it would forget with it.
 */
type Watched = ControllerState & { fell?: 'forward' | 'reverse' | null }

const PENDING = 1
const FAR = 1000
const NEVER = 1_000_000
/** Facts of a board state. */
export const ARMED = 1
export const SAVING = 2
export const STUCK = 4
/** Armed is nothing but a blinking, or a finger's hold. */
export const LASTING = 8
/**
 * Something waits in the queue of the link; something waits there or for a least time; a message
 * has not left yet. That the one before has left, or its time is over, counts without time only
 * where something waits for it: what would be told at once is told right after it began to wait.
 */
export const QUEUED = 16
export const OWES = 32
export const BUSY = 64

export class ControllerTable extends Table<Watched> {
  /** By state: the value of the load examined, as a number of `valuesOf`. */
  readonly values: number[] = []
  readonly facts: number[] = []
  /** By state: timers that are armed, as places in `timers`. */
  readonly armed: (readonly number[])[] = []
  private readonly spoken: readonly string[]
  private readonly alike = new Map<number, number>()

  /**
   * `link`: the one whose messages are looked at, or -1: the board alone, whose lines are watched.
   * Acts beyond `list` are messages that arrive on it.
   */
  /** Which timers of each load are not soon over. */
  private readonly lasts: readonly (readonly OutputTimer['lasts'][])[]

  constructor(
    readonly program: Program,
    private readonly messages: Messages,
    private readonly link: number,
    readonly list: readonly Act[],
    private readonly timers: readonly { load: number; slot: number }[],
  ) {
    super(list.length + MOST_MESSAGES + 1, NEXT.controller, 'the board')
    this.spoken = valuesOf(this.output)
    this.lasts = program.loads.map(({ output }) =>
      outputTimers(output, program.holders).map(t => t.lasts),
    )
  }

  /** Numbers of commands that were seen on the link looked at. */
  seenNumbers(n: number): number[] {
    return (this.state(n).links[this.link]?.seen ?? []).map(x => x.number)
  }

  /**
   * Of commands that the board answers alike when they come again, the first: they are about the
   * same loads.
   */
  repeatsAs(base: number): number {
    const about = (n: number) => {
      const link = this.program.links[this.link]
      const window = this.state(0).links[this.link]?.window
      const found =
        link
        && window
        && understood(link, window, bodyIn(link.link, this.messages.texts[n]?.text ?? ''))
      if (found?.kind !== 'meant') return `?${n}`
      const { meaning } = found
      if (meaning.kind === 'scene') return meaning.sets.map(s => s.load).join()
      return meaning.kind === 'set' ? String(meaning.load) : `?${n}`
    }
    let first = this.alike.get(base)
    if (first === undefined) {
      const mine = about(base)
      first = this.messages.texts.findIndex(
        (_, n) => n > 0 && n <= base && this.messages.carried[n] === 0 && about(n) === mine,
      )
      this.alike.set(base, first)
    }
    return first
  }

  /**
   * The state that remembers only numbers of `order`, each counted anew: its place there, from 1.
   */
  renumbered(n: number, order: readonly number[]): number {
    const state = this.state(n)
    const seen = state.links[this.link]?.seen ?? []
    if (seen.length === 0) return n
    return this.renamed(n, order, () => {
      const kept = seen
        .filter(x => order.includes(x.number))
        .map(x => ({ ...x, number: order.indexOf(x.number) + 1 }))
        .toSorted((a, b) => a.number - b.number)
      return {
        ...state,
        links: state.links.map((l, i) => (i === this.link ? { ...l, seen: kept } : l)),
      }
    })
  }

  private get output(): Output {
    return (this.program.loads[0] as Program['loads'][number]).output
  }

  start(): number {
    return this.intern(startController(this.program))
  }

  move(n: number, act: number): number {
    const known = this.moves[n * this.acts + act] as number
    return known !== -1 ? known : this.compute(n, act)
  }

  private compute(n: number, act: number): number {
    const before = this.state(n)
    const what = this.list[act] ?? {
      do: 'command',
      link: this.link,
      text: this.messages.texts[act - this.list.length]?.text ?? '',
    }
    let state = this.prepared(before, what)
    const effects: Effect[] = []
    for (const event of this.eventsOf(what, before)) {
      const stepped = step(this.program, state, event)
      state = stepped.state
      effects.push(...stepped.effects)
    }
    // For the search a write of memory is done at once; what a cut during one leaves is the value
    // before it, as if it came before.
    if (state.writing)
      state = step(this.program, state, { kind: 'memoryDone', now: state.now }).state
    const { fell, clashes } = this.watch(before, effects, what)
    const watched: Watched = { ...timeless(state, this.link), fell }
    const texts = atMostSends(
      effects.flatMap(e => this.said(e)),
      'the board',
    )
    const move =
      this.intern(watched)
      | (texts.length << SENDS.controller)
      | this.noticed(before, watched, effects, what)
      | (clashes ? CLASHED : 0)
    this.moves[n * this.acts + act] = move
    this.sent[n * this.acts + act] = this.packed(texts)
    return move
  }

  private prepared(s: ControllerState, what: Act): ControllerState {
    if (what.do === 'save') return { ...s, motion: s.motion.map(m => withDue(m, FAR)) }
    if (what.do === 'tell')
      return {
        ...s,
        saveDue: s.saveDue.map(due => (due === null ? null : FAR)),
        motion: s.motion.map(m => withDue(m, FAR)),
        links: s.links.map((l, i) =>
          i === this.link && l.everyDue !== null ? { ...l, everyDue: PENDING } : l,
        ),
      }
    if (what.do === 'least')
      return {
        ...s,
        saveDue: s.saveDue.map(due => (due === null ? null : FAR)),
        motion: s.motion.map(m => withDue(m, FAR)),
        links: s.links.map((l, i) =>
          i === this.link && l.least
            ? {
                ...l,
                least: l.least.map((x, load) =>
                  load === what.load && x.freeAt !== null ? { ...x, freeAt: PENDING } : x,
                ),
              }
            : l,
        ),
      }
    if (what.do !== 'timer') return s
    // That timer falls due, every other one later.
    return {
      ...s,
      saveDue: s.saveDue.map(due => (due === null ? null : FAR)),
      motion: s.motion.map((m, i) => withDue(m, FAR, i === what.load ? what.slot : -1)),
    }
  }

  private eventsOf(what: Act, state: ControllerState): ControllerEvent[] {
    const now = 0
    switch (what.do) {
      case 'powerOff':
        return [{ kind: 'powerOff', now }]
      case 'sent':
        return [{ kind: 'sent', now, link: this.link }]
      case 'save':
      case 'timer':
      case 'tell':
      case 'least':
        return [{ kind: 'tick', now: PENDING }]
      case 'linkUp':
        return [{ kind: 'linkUp', now, link: this.link }]
      case 'linkDown':
        return [{ kind: 'linkDown', now, link: this.link }]
      case 'boot': {
        let lever = 0
        const levels = this.program.inputs.map((i): Level =>
          i.control.kind === 'latching' && (what.levers >> lever++) & 1 ? 0 : 1,
        )
        return [{ kind: 'boot', now, levels }]
      }
      case 'press':
        return [
          { kind: 'pin', now, input: what.input, level: 0 },
          { kind: 'pin', now, input: what.input, level: 1 },
        ]
      case 'lever':
        return [{ kind: 'pin', now, input: what.input, level: what.level }]
      case 'command':
        return [{ kind: 'received', now, link: what.link, text: what.text }]
      case 'remote': {
        const receiver = this.program.design.sensors[what.sensor]
        const key = isReceiver(receiver) ? receiver.keys[what.key] : undefined
        return key
          ? [
              {
                kind: 'infrared',
                now,
                sensor: what.sensor,
                address: key.address,
                command: key.command,
                repeat: false,
              },
            ]
          : []
      }
      case 'turn':
        return this.detent(what, state)
      case 'push': {
        const stick = this.program.sticks.find(x => x.sensor === what.sensor)?.stick
        const ways: StickWay[] = what.way === 'rest' ? ['rest'] : ['rest', what.way]
        return stick
          ? ways.map(way => ({
              kind: 'sample',
              now,
              sensor: what.sensor,
              raw: rawOf(stick, way),
            }))
          : []
      }
      // A reading on the near side of its limit, beyond it, and back.
      case 'cross':
        return [0, 1, 0].map(raw => ({ kind: 'sample', now, sensor: what.sensor, raw: [raw] }))
      case 'end':
        return [{ kind: 'sample', now, sensor: what.sensor, raw: [Number(what.closed)] }]
    }
  }

  private detent(
    { knob, detents }: Extract<Act, { do: 'turn' }>,
    state: ControllerState,
  ): ControllerEvent[] {
    let lines = state.knobs[knob]?.lines ?? 3
    return Array.from(
      { length: this.program.knobs[knob]?.knob.countsPerDetent ?? 0 },
      (): ControllerEvent => {
        lines = linesAfter(lines, detents > 0)
        return { kind: 'knob', now: 0, knob, a: (lines >> 1) as Level, b: (lines & 1) as Level }
      },
    )
  }

  private said(effect: Effect): number[] {
    if ((effect.kind !== 'send' && effect.kind !== 'reply') || effect.link !== this.link) return []
    return [this.messages.number(effect.text, effect.kind === 'reply' ? effect.to : 'stream')]
  }

  private noticed(
    before: ControllerState,
    after: ControllerState,
    effects: readonly Effect[],
    what: Act,
  ): number {
    const changed =
      before.value[0] !== after.value[0]
      || (!isHeld(this.output)
        && JSON.stringify(before.motion[0]) !== JSON.stringify(after.motion[0]))
    return (
      (changed ? ACTED : 0)
      | (this.isDead(before, after, what) ? DEAD : 0)
      | (this.hasClashed(before, after, effects) ? CLASHED : 0)
      | (this.isAstray(before, after, what) ? ASTRAY : 0)
    )
  }

  /**
   * Nothing came of it, and it was not already as it asked for. A lever that was moved asked for a
   * change whatever it says.
   */
  private isDead(before: ControllerState, after: ControllerState, what: Act): boolean {
    if ((what.do !== 'press' && what.do !== 'lever') || !before.running) return false
    const { control, load, targets } = this.program.inputs[what.input] as ProgramInput
    if (control.kind === 'push' && what.do === 'lever') return false
    const target = targets.single
    if (target && 'sets' in target) {
      // The lever that is opened again asks for nothing.
      if (control.kind === 'latching' && what.do === 'lever' && what.level === 1) return false
      return target.sets.every(
        ({ load: at, value }) =>
          before.value[at] === after.value[at]
          && JSON.stringify(before.motion[at]) === JSON.stringify(after.motion[at])
          && before.value[at] !== value,
      )
    }
    if (
      before.value[load] !== after.value[load]
      || JSON.stringify(before.motion[load]) !== JSON.stringify(after.motion[load])
    )
      return false
    const { output } = this.program.loads[load] as Program['loads'][number]
    const wants = asked(output, before.value[load] as string, control.asks)
    const motion = before.motion[load]
    // While a least time is not over it is on its way already.
    if (isTimedMotion(motion) && motion.freeAt !== null && motion.steady === (wants === 'on'))
      return false
    return control.kind === 'latching' || before.value[load] !== wants
  }

  /**
   * The dead time over a whole trace, cuts and starts within it: a line may rise only when the
   * other one, if it fell last, has rested. It has when a dead time is over that was armed no
   * earlier than it fell: both are of one length. A cut lets what is driven fall.
   */
  private watch(
    before: Watched,
    effects: readonly Effect[],
    what: Act,
  ): { fell: Watched['fell']; clashes: boolean } {
    const { output } = this
    const motion = before.motion[0]
    let fell = before.fell ?? null
    if (
      this.link >= 0
      || !linesExclude(output)
      || output.deadTimeMs === 0
      || !isOpposedMotion(motion)
    )
      return { fell, clashes: false }
    if (what.do === 'timer' && what.load === 0 && what.slot === 0 && motion.rests) fell = null
    if (what.do === 'powerOff')
      return { fell: motion.driven === 'stop' ? fell : motion.driven, clashes: false }
    const active = output.activeLevel === 'high' ? 1 : 0
    let clashes = false
    let driven = before.running ? motion.driven : 'stop'
    for (const e of effects) {
      if (e.kind !== 'pin' || e.load !== 0) continue
      const line = e.line === 0 ? 'forward' : 'reverse'
      if (e.level === active) {
        clashes ||= (fell !== null && fell !== line) || (driven !== 'stop' && driven !== line)
        driven = line
        fell = null
      } else if (driven === line) {
        driven = 'stop'
        fell = line
      }
    }
    return { fell, clashes }
  }

  private hasClashed(
    before: ControllerState,
    after: ControllerState,
    effects: readonly Effect[],
  ): boolean {
    const { output } = this
    const [was, is] = [before.motion[0], after.motion[0]]
    if (!linesExclude(output) || !isOpposedMotion(was) || !isOpposedMotion(is)) return false
    if (was.driven !== 'stop' && is.driven !== 'stop' && was.driven !== is.driven) return true
    const lines = lineLevels(output, { value: before.value[0] as string, motion: was })
    for (const e of effects) {
      if (e.kind !== 'pin' || e.load !== 0) continue
      lines[e.line] = e.level === (output.activeLevel === 'high' ? 1 : 0) ? 1 : 0
      if (lines[0] && lines[1]) return true
    }
    return false
  }

  private isAstray(before: ControllerState, after: ControllerState, what: Act): boolean {
    const { output } = this
    if (what.do === 'powerOff')
      return (
        before.running
        && 'powerUp' in output
        && output.powerUp === 'last'
        && before.saveDue[0] === null
        && before.memory[0]
          !== lasting({ value: before.value[0] as string, motion: before.motion[0] ?? null })
      )
    if (what.do !== 'boot') return false
    const policy = 'powerUp' in output ? output.powerUp : 'off'
    const starts = { on: fullOf(output), off: restOf(output), last: before.memory[0] }
    const wanted = starts[policy]
    const motion = after.motion[0]
    // What waits for its least time off is on its way to what the policy says.
    const waits = isTimedMotion(motion) && motion.freeAt !== null
    const is = waits ? ['off', 'on'][Number(motion.steady)] : after.value[0]
    return is !== wanted
  }

  protected keyOf(s: Watched): string {
    return JSON.stringify([
      s.running,
      s.value,
      s.motion,
      s.memory,
      s.saveDue,
      s.inputs.map(i => i.level),
      s.links.map((l, i) => [
        l.up,
        l.buffer,
        l.adopts,
        l.window,
        l.seen.map(x => x.number).toSorted((a, b) => a - b),
        ...(i === this.link ? [l.busy, l.queue, l.least] : []),
      ]),
      s.samples,
      s.rules,
      s.knobs,
      s.sticks,
      s.fell ?? null,
    ])
  }

  protected added(s: ControllerState, n: number): void {
    const motion = s.motion[0] ?? null
    const slots = s.motion.map(armedSlots)
    const ends = slots.some((list, load) => list.some(slot => !this.lasts[load]?.[slot]))
    // Hours may go by before a longest time is over.
    const others = slots.some((list, load) =>
      list.some(slot => this.lasts[load]?.[slot] !== 'for hours'),
    )
    const saving = s.saveDue.some(due => due !== null)
    const link = s.links[this.link]
    const owes =
      link !== undefined && (link.queue.length > 0 || link.least?.some(x => x.owed) === true)
    this.values[n] = this.spoken.indexOf(s.value[0] as string)
    this.armed[n] = this.timers.flatMap(({ load, slot }, i) =>
      slots[load]?.includes(slot) ? [i] : [],
    )
    this.facts[n] =
      (saving || others || owes ? ARMED : 0)
      | (saving ? SAVING : 0)
      | (this.neverEnds(s, motion) ? STUCK : 0)
      | (saving || ends || owes ? 0 : LASTING)
      | (link?.queue.length ? QUEUED : 0)
      | (link?.busy ? BUSY : 0)
      | (owes ? OWES : 0)
  }

  /** On, and nothing armed that ends it: a lever that stays closed. A finger leaves. */
  private neverEnds(s: ControllerState, motion: Motion): boolean {
    if (!s.running || s.value[0] !== 'on') return false
    if (isPulsedMotion(motion)) return motion.due === null
    if (!isHeldMotion(motion)) return false
    const { links } = this.program
    return (
      motion.holds.every(h => h === null)
      || motion.holds.some(
        (h, holder) =>
          h === BY_HAND && this.program.inputs[holder - links.length]?.control.kind === 'latching',
      )
    )
  }
}

/**
 * Armed timers keep only that they are armed. Debounce and lock-out are taken out by the
 * projection. What waits on other links than the one looked at is told there at once, as far as
 * anybody here can know.
 */
function timeless(state: ControllerState, link: number): ControllerState {
  return {
    ...state,
    now: 0,
    starts: 0,
    saveDue: state.saveDue.map(due => (due === null ? null : PENDING)),
    motion: state.motion.map(m => withDue(m, PENDING)),
    inputs: state.inputs.map(i => ({
      level: i.level,
      pending: null,
      lockedUntil: null,
      run: null,
    })),
    knobs: state.knobs.map(k => ({ ...k, fastUntil: null })),
    sticks: state.sticks.map(s => ({ ...s, due: null })),
    links: state.links.map((l, i) =>
      l.seen.length || l.everyDue !== null || l.least || l.busy
        ? {
            ...l,
            seen: l.seen.map(x => ({ number: x.number, until: NEVER })),
            everyDue: l.everyDue === null ? null : NEVER,
            dropped: 0,
            ...(i === link
              ? {
                  least:
                    l.least?.map(x => ({ ...x, freeAt: x.freeAt === null ? null : NEVER })) ?? null,
                }
              : { busy: false, queue: [], least: l.least?.map(() => FREE) ?? null }),
          }
        : l,
    ),
  }
}

/** The motion with all that is armed due at `at`, but slot `soon` due at once. */
function withDue(motion: Motion, at: number, soon = -1): Motion {
  return withDues(motion, (armed, slot) => {
    if (armed === null) return null
    return slot === soon ? PENDING : at
  })
}

/** Slots of an output that are armed. */
export function armedSlots(motion: Motion): number[] {
  return duesOf(motion).flatMap((due, slot) => (due === null ? [] : [slot]))
}
