/**
 * The real `step` functions of controller and panels, tabulated: each state gets a small number,
 * each transition is computed once and looked up afterwards. So the search runs on integers and
 * still explores the one definition of behaviour that bench, stand-ins and generated code use.
 */
import { understood, type Program, type ProgramInput } from '../controller/program'
import {
  BY_HAND,
  isHeldMotion,
  isOpposedMotion,
  isPulsedMotion,
  isTimedMotion,
  type Motion,
} from '../controller/outputs/motion'
import { lasting } from '../controller/outputs/switched'
import { duesOf, lineLevels, outputTimers, withDues } from '../controller/outputs/rows'
import { linesAfter } from '../controller/knobs'
import { FREE } from '../controller/state'
import {
  startController,
  step,
  type ControllerEvent,
  type ControllerState,
  type Effect,
  type Level,
} from '../controller/step'
import { isDefinite } from '../bench/trace'
import type { Link, Output } from '../design/schema'
import { asked, fullOf, restOf, valuesOf } from '../design/values'
import { bodyIn } from '../design/wire'
import { numberBehind, withNumber } from '../messages/numbers'
import {
  SurfaceMachine,
  shown,
  startSurface,
  type SurfaceEvent,
  type SurfaceProgram,
  type SurfaceState,
  type Shown,
  type Via,
} from '../surfaces/surface'
import { lengthOf, messageAt, MOST_EACH_WAY } from './packing'
import { isHeld, isOpposed } from '../design/outputs/traits'
import type { OutputTimer } from '../controller/outputs/facet'
import { isReceiver } from '../design/sensors/traits'

export class TooLarge extends Error {}

/** Different messages that one link can carry in a search: each has a byte, and 0 means none. */
const MOST_MESSAGES = 255

interface Lanes {
  queue: number
  tags: number
}
/**
 * What may overtake what on a link: anything sent anything else; an echo what was sent before it,
 * or what came later too.
 */
export interface Ordered {
  readonly datagrams: boolean
  readonly echoesFirst: boolean
}

/**
 * Message texts by number; 0 means none. `link`: where commands carry numbers, what each of them
 * carries is known too.
 */
export class Messages {
  private readonly numbers = new Map<string, number>()
  readonly texts: { text: string; via: Via; echo?: true }[] = [{ text: '', via: 'stream' }]
  /**
   * By message: the number that the command carries, or 0; and the message that says the same
   * without one.
   */
  readonly carried: number[] = [0]
  readonly bases: number[] = [0]
  private readonly known = new Map<number, number>()
  private readonly lanes = new Map<number, Lanes>()

  constructor(private readonly link: Link | null = null) {}

  /** `echo`: it comes back to its sender, as a stream of bytes like any other. */
  number(text: string, via: Via, echo = false): number {
    const key = `${echo ? 'echo' : via} ${text}`
    let n = this.numbers.get(key)
    if (n === undefined) {
      n = this.texts.push({ text, via, ...(echo ? { echo: true } : {}) }) - 1
      if (n > MOST_MESSAGES)
        throw new TooLarge(`more than ${MOST_MESSAGES} different messages cross this link`)
      this.numbers.set(key, n)
      const behind =
        this.link?.numbered && via === 'command' && !echo
          ? numberBehind(this.link, bodyIn(this.link, text))
          : null
      this.carried[n] = behind?.number ?? 0
      this.bases[n] = n
      if (behind && this.link)
        this.bases[n] = this.number(
          `${behind.body}${text.slice(bodyIn(this.link, text).length)}`,
          via,
        )
    }
    return n
  }

  /** The message as it comes back to its sender. */
  echoed(message: number): number {
    return this.number(this.texts[message]?.text ?? '', 'stream', true)
  }

  isEcho(message: number): boolean {
    return this.texts[message]?.echo === true
  }

  /**
   * Where there is an echo the first of what was sent may come, any of it where it is datagrams, or
   * the first of what comes back. Nothing that comes back is lost, or comes twice. `back`: what is
   * under way the other way. Where `echoesFirst`, what was sent comes neither before its own echo
   * nor before one that was on its way when it was sent; otherwise those lie behind all that was
   * sent.
   */
  mayCome(
    queue: number,
    back: number,
    nth: number,
    { keeps, lost }: { keeps: boolean; lost?: true },
    { datagrams, echoesFirst }: Ordered,
  ): boolean {
    let echoBefore = false
    for (let i = 0; i < nth; i++) echoBefore ||= this.isEcho(messageAt(queue, i))
    if (this.isEcho(messageAt(queue, nth))) return !keeps && !lost && !echoBefore
    if (!datagrams && nth > 0) return false
    return (
      !echoesFirst
      || lost === true
      || (!echoBefore && this.isAfterItsEcho(queue, messageAt(queue, nth), back))
    )
  }

  /**
   * Of what comes back less is an echo of a message than there are copies of it on their way: one
   * at least has been heard by its sender.
   */
  private isAfterItsEcho(queue: number, message: number, back: number): boolean {
    const said = this.texts[message]?.text
    let copies = 0
    for (let rest = queue; rest !== 0; rest >>>= 8) if ((rest & 0xff) === message) copies++
    for (let rest = back; rest !== 0; rest >>>= 8)
      if (this.isEcho(rest & 0xff) && this.texts[rest & 0xff]?.text === said) copies--
    return copies > 0
  }

  /**
   * Messages in one order for all that go the same way: what may come in any order is sorted. And a
   * bit of each with it.
   */
  laned(queue: number, tags: number, link: Ordered): Lanes {
    const key = ((queue >>> 0) * 16 + tags) * 2 + Number(link.echoesFirst)
    let known = this.lanes.get(key)
    if (!known) this.lanes.set(key, (known = this.sortedOut(queue, tags, link)))
    return known
  }

  private sortedOut(queue: number, tags: number, { datagrams, echoesFirst }: Ordered): Lanes {
    const places = Array.from({ length: lengthOf(queue) }, (_, i) => ({
      message: messageAt(queue, i),
      tag: (tags >>> i) & 1,
    }))
    const isEcho = (x: { message: number }) => this.isEcho(x.message)
    // Between two echoes anything may come first.
    const lane = echoesFirst
      ? places.map(
          (_, i) => places.slice(0, i).filter(isEcho).length * 2 + Number(isEcho(places[i]!)),
        )
      : places.map(x => Number(isEcho(x)))
    const order = places
      .map((place, i) => ({ ...place, lane: lane[i] as number }))
      .toSorted(
        (a, b) =>
          a.lane - b.lane || (datagrams && !isEcho(a) ? a.message - b.message || a.tag - b.tag : 0),
      )
    return {
      queue: order.reduce((all, x, i) => all | (x.message << (8 * i)), 0),
      tags: order.reduce((all, x, i) => all | (x.tag << i), 0),
    }
  }

  /**
   * The same command with the number that stands for its own in a new count: its place in `order`,
   * from 1.
   */
  renumbered(n: number, order: readonly number[]): number {
    const number = order.indexOf(this.carried[n] as number) + 1
    return number === 0 ? n : this.withNumber(this.bases[n] as number, number)
  }

  /** A command without a number, with one. */
  withNumber(base: number, number: number): number {
    if (number === 0 || !this.link) return base
    const key = base * 64 + number
    let known = this.known.get(key)
    if (known === undefined) {
      const { text } = this.texts[base] as { text: string }
      const body = bodyIn(this.link, text)
      this.known.set(
        key,
        (known = this.number(
          `${withNumber(this.link, body, number)}${text.slice(body.length)}`,
          'command',
        )),
      )
    }
    return known
  }
}

/**
 * A move in one number: the next state, how many messages it sends, and what was noticed on the
 * way. Messages lie beside it, a byte each.
 */
export const SENDS = { controller: 16, panel: 18 } as const
export const NEXT = { controller: 0xffff, panel: 0x3ffff } as const
/** A hand control was moved and nothing came of it. */
export const DEAD = 1 << 19
/** Both directions at once, or one right after the other without a rest. */
export const CLASHED = 1 << 20
/** The load examined did something. */
export const ACTED = 1 << 21
/** After a start the load is not as its policy says. */
export const ASTRAY = 1 << 22
/**
 * Panel moves: which of what is sent is about the load examined, a bit each; and, of a key, the
 * value it asks of that load, by number.
 */
export const ABOUT = 21
export const ASKS = 25
/** Values are told apart by two bits of their number. */
export const ASKED = 3

/** Numbered states of one machine, and its moves by state and act: -1 = not computed yet. */
abstract class Table<S> {
  readonly states: S[] = []
  private readonly numberOf = new Map<string, number>()
  private readonly renames = new Map<string, number>()
  moves: Int32Array
  sent: Int32Array

  constructor(
    readonly acts: number,
    private readonly most: number,
    private readonly whose: string,
  ) {
    this.moves = new Int32Array(acts * 32).fill(-1)
    this.sent = new Int32Array(acts * 32)
  }

  protected abstract keyOf(state: S): string
  protected abstract added(state: S, n: number): void

  state(n: number): S {
    return this.states[n] as S
  }
  /** A move that was computed, or -1. */
  known(n: number, act: number): number {
    return this.moves[n * this.acts + act] as number
  }
  sentBy(n: number, act: number): number {
    return this.sent[n * this.acts + act] as number
  }

  /** A state with numbers of commands counted anew, worked out once for each order of them. */
  protected renamed(n: number, order: readonly number[], rename: () => S): number {
    const key = `${n} ${order.join(' ')}`
    let known = this.renames.get(key)
    if (known === undefined) this.renames.set(key, (known = this.intern(rename())))
    return known
  }

  /** The number of a state that was listed elsewhere. */
  enter(state: S): number {
    return this.intern(state)
  }

  protected intern(state: S): number {
    const key = this.keyOf(state)
    let n = this.numberOf.get(key)
    if (n !== undefined) return n
    n = this.states.push(state) - 1
    if (n > this.most)
      throw new TooLarge(`${this.whose} has more than ${this.most + 1} states for this load`)
    this.numberOf.set(key, n)
    if ((n + 1) * this.acts > this.moves.length) {
      const moves = new Int32Array(this.moves.length * 2).fill(-1)
      moves.set(this.moves)
      this.moves = moves
      const sent = new Int32Array(moves.length)
      sent.set(this.sent)
      this.sent = sent
    }
    this.added(state, n)
    return n
  }

  protected packed(numbers: readonly number[]): number {
    return numbers.reduce((all, n, i) => all | (n << (i * 8)), 0)
  }
}

/** More at once than there is room for under way would never happen in a search, without a word. */
function atMostSends(texts: number[], who: string): number[] {
  if (texts.length > MOST_EACH_WAY)
    throw new TooLarge(
      `${who} says ${texts.length} things at once on this link; the search holds ${MOST_EACH_WAY}`,
    )
  return texts
}

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
    const { control, load } = this.program.inputs[what.input] as ProgramInput
    if (control.kind === 'push' && what.do === 'lever') return false
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
      || !isOpposed(output)
      || output.drive === 'stepper'
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
    if (
      !isOpposed(output)
      || output.drive === 'stepper'
      || !isOpposedMotion(was)
      || !isOpposedMotion(is)
    )
      return false
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

const CONFIRM_DUE = 10
const POLL_DUE = 20
const NOT_NOW = 1000
/** Facts of a panel state. */
export const WAITING = 1
export const HOLDS = 2
export const CONNECTED = 4
export const POLLS = 8

/** A key of the panel: what it asks of a load, or a scene. */
export type PanelKeyAct = { load: number; want: string } | { scene: number }
export const PANEL = { linkUp: 0, linkDown: 1, poll: 2, restart: 3 } as const
/**
 * A time-out and a keep-alive have an act of their own for each number that a command may begin
 * with.
 */
const FIRST_TIMEOUT = 4
/** Numbers of commands grow without end; for the search there are so many at once (tidy.ts). */
export const NUMBERS = 12

export class SurfaceTable extends Table<SurfaceState> {
  /**
   * By state: the value that is shown for the load examined, as a number of `valuesOf`; -1 =
   * nothing definite.
   */
  readonly shows: number[] = []
  readonly facts: number[] = []
  private readonly spoken: readonly string[]

  /** Numbers that commands can carry here; 1 = they carry none. */
  readonly numbers: number
  private readonly firstKey: number

  constructor(
    readonly program: SurfaceProgram,
    private readonly messages: Messages,
    readonly keys: readonly PanelKeyAct[],
  ) {
    const numbers = program.link.numbered ? NUMBERS : 1
    super(
      FIRST_TIMEOUT + 2 * numbers + keys.length * numbers + MOST_MESSAGES + 1,
      NEXT.panel,
      program.panel.name,
    )
    this.numbers = numbers
    this.firstKey = FIRST_TIMEOUT + 2 * numbers
    this.spoken = valuesOf(program.outputs[0] as Output)
  }

  start(): number {
    return this.intern(startSurface(this.program))
  }

  shown(n: number): Shown {
    const belief = this.state(n).beliefs[0]
    return belief ? shown(belief) : 'unknown'
  }

  /** `number`: the first fresh one, from 0; only where commands carry any. */
  key(i: number, number = 0): number {
    return this.firstKey + i * this.numbers + number
  }
  timeout(number = 0): number {
    return FIRST_TIMEOUT + number
  }
  /** The next keep-alive of the keys that are held down. */
  repeat(number = 0): number {
    return FIRST_TIMEOUT + this.numbers + number
  }
  message(m: number): number {
    return this.firstKey + this.keys.length * this.numbers + m
  }

  move(n: number, act: number): number {
    const known = this.moves[n * this.acts + act] as number
    return known !== -1 ? known : this.compute(n, act)
  }

  private compute(n: number, act: number): number {
    const { state, event } = this.prepared(this.state(n), act)
    const unit = new SurfaceMachine(this.program, {
      ...state,
      beliefs: state.beliefs.slice(),
      holds: state.holds.slice(),
      slides: state.slides.slice(),
      readings: state.readings.slice(),
    })
    const texts = (event ? unit.handle(event) : []).map(text =>
      this.messages.number(text, 'command'),
    )
    atMostSends(texts, this.program.panel.name)
    const about = event
      ? unit.about
          .slice(0, MOST_EACH_WAY)
          .reduce((bits, load, i) => bits | (load === 0 ? 1 << i : 0), 0)
      : 0
    const move =
      this.intern(this.timeless(unit.state))
      | (texts.length << SENDS.panel)
      | (about << ABOUT)
      | (this.asksFor(state, act) << ASKS)
    this.moves[n * this.acts + act] = move
    this.sent[n * this.acts + act] = this.packed(texts)
    return move
  }

  private asksFor(s: SurfaceState, act: number): number {
    const key = this.keyAt(act)
    const belief = s.beliefs[0]
    if (!key || 'scene' in key || key.load !== 0 || !belief) return 0
    return (
      Math.max(
        0,
        this.spoken.indexOf(
          asked(
            this.program.outputs[0] as Output,
            belief.waiting?.asked ?? belief.value ?? '',
            key.want,
          ),
        ),
      ) & ASKED
    )
  }

  private keyAt(act: number): PanelKeyAct | undefined {
    return act < this.firstKey
      ? undefined
      : this.keys[Math.floor((act - this.firstKey) / this.numbers)]
  }

  private prepared(
    s: SurfaceState,
    act: number,
  ): { state: SurfaceState; event: SurfaceEvent | null } {
    const now = 0
    if (act >= FIRST_TIMEOUT && act < this.repeat())
      return {
        state: { ...s, number: act - FIRST_TIMEOUT },
        event: { kind: 'tick', now: CONFIRM_DUE },
      }
    if (act >= this.repeat() && act < this.firstKey)
      return {
        state: {
          ...quiet(s),
          number: act - this.repeat(),
          pollDue: s.pollDue === null ? null : NOT_NOW,
        },
        event: { kind: 'tick', now: POLL_DUE },
      }
    switch (act) {
      case PANEL.linkUp:
        return { state: s, event: { kind: 'linkUp', now } }
      case PANEL.linkDown:
        return { state: s, event: { kind: 'linkDown', now } }
      case PANEL.poll:
        return {
          state: { ...quiet(s), holds: s.holds.map(h => (h === null ? null : NOT_NOW)) },
          event: { kind: 'tick', now: POLL_DUE },
        }
      // It begins to number somewhere else: never with a number that was seen lately.
      case PANEL.restart:
        return { state: startSurface(this.program), event: null }
    }
    const key = this.keyAt(act)
    if (key) {
      const state = { ...s, number: (act - this.firstKey) % this.numbers }
      return {
        state,
        event:
          'scene' in key
            ? { kind: 'scene', now, scene: key.scene }
            : { kind: 'key', now, load: key.load, want: key.want },
      }
    }
    const { text, via } = this.messages.texts[act - this.message(0)] as { text: string; via: Via }
    return { state: s, event: { kind: 'received', now, text, via } }
  }

  /** By load: the number that it waits with, or 0. */
  waitingNumbers(n: number): number[] {
    return this.state(n).beliefs.map(b => b.waiting?.number ?? 0)
  }

  /** The state with numbers counted anew: the place of each in `order`, from 1. */
  renumbered(n: number, order: readonly number[]): number {
    return this.renamed(n, order, () => {
      const state = this.state(n)
      return {
        ...state,
        beliefs: state.beliefs.map(b =>
          b.waiting?.number
            ? { ...b, waiting: { ...b.waiting, number: order.indexOf(b.waiting.number) + 1 } }
            : b,
        ),
      }
    })
  }

  protected keyOf(state: SurfaceState): string {
    return JSON.stringify(state)
  }

  protected added(s: SurfaceState, n: number): void {
    const is = this.shown(n)
    this.shows[n] = isDefinite(is) ? this.spoken.indexOf(is) : -1
    this.facts[n] =
      (s.beliefs.some(b => b.waiting) ? WAITING : 0)
      | (s.holds.some(h => h !== null) ? HOLDS : 0)
      | (s.up ? CONNECTED : 0)
      | (s.pollDue === null ? 0 : POLLS)
  }

  private timeless(state: SurfaceState): SurfaceState {
    return {
      ...state,
      number: 0,
      pollDue: state.pollDue === null ? null : POLL_DUE,
      holds: state.holds.map(h => (h === null ? null : POLL_DUE)),
      beliefs: state.beliefs.map(b =>
        b.waiting ? { ...b, waiting: { ...b.waiting, since: 0, due: CONFIRM_DUE } } : b,
      ),
    }
  }
}

/** No answer is overdue yet. */
function quiet(state: SurfaceState): SurfaceState {
  return {
    ...state,
    beliefs: state.beliefs.map(b =>
      b.waiting ? { ...b, waiting: { ...b.waiting, due: NOT_NOW } } : b,
    ),
  }
}
