/**
 * One load and one surface that speaks of it, as a finite system. Other surfaces matter to it only by the commands they send,
 * so they appear as commands that may arrive at any time: what holds here holds whatever the others believe, and the
 * search of a load grows with the sum of its surfaces instead of their product. Without a surface it is the board and whoever
 * commands it. A situation is three packed 32-bit words:
 *   word 0    board state (12 bits), power, link up, notes of a promise (6), levers (4), changes from elsewhere left (4), power cuts left (3)
 *   word 1    surface state (18), presses left (4), link drops left (3), losses left (3), datagrams that may come twice (2), starts left, or the
 *             value that the command watched asks for (2)
 *   word 2    messages on the way up (16) and down (16): two of 8 bits, or up to four of 4 bits
 */
import { loadOf, remoteOf, showsState } from '../design/find'
import { isDatagram } from '../design/links'
import type { Design, Link, Output } from '../design/schema'
import { wantsOn } from '../design/values'
import { wireOf } from '../design/wire'
import { compilePanel, keepAliveMs } from '../surfaces/panel'
import type { Bounds } from './bounds'
import { ABOUT, ACTED, ARMED, ASKED, ASKS, ASTRAY, CLASHED, CONNECTED, ControllerTable, DEAD, HOLDS, LASTING, Messages, NEXT, PANEL, PanelTable, POLLS, SAVING, SENDS, STUCK, TooLarge, WAITING, type Act, type PanelKeyAct } from './machines'
import { timerMs } from './output-times'
import { project, worstWayMs } from './project'

export type SystemEvent =
  | { kind: 'deliverUp' | 'deliverDown' | 'doubleUp' | 'doubleDown' | 'loseUp' | 'loseDown' }
  /** A datagram arrives before those that were sent earlier; `place` counts from 0, the first. */
  | { kind: 'overtakeUp' | 'overtakeDown', place: number }
  | { kind: 'drop' | 'return' | 'notice' | 'timeout' | 'poll' | 'tell' | 'repeat' | 'restart' }
  /** A timer of an output: end of a pulse or hold, of a dead time or a run. */
  | { kind: 'timer', load: number, slot: number }
  | { kind: 'press', input: number }
  /** A finger on a hand control of a held load stays, or leaves. */
  | { kind: 'hold' | 'letGo', input: number }
  /** A command from another surface reaches the board. */
  | { kind: 'other', link: number, load: number, want: string }
  | { kind: 'otherScene', link: number, scene: number }
  | { kind: 'remote', sensor: number, key: number }
  | { kind: 'turn', knob: number, detents: 1 | -1 }
  | { kind: 'rule', rule: number }
  /** An end contact closes while the load runs towards it, and opens when it runs away from it. */
  | { kind: 'end', load: number, direction: 'forward' | 'reverse', closed: boolean }
  | { kind: 'key', load: number, want: string }
  /** The same, and it is the one that is watched: no other press follows. */
  | { kind: 'lastKey', load: number, want: string }
  | { kind: 'scene', scene: number }
  | { kind: 'save' | 'cut' | 'powerOn' }

/** What is asked of the situations: that panels show the truth, that no command acts twice, that a start moves nothing, that hands and board behave. */
export type Question = 'truth' | 'twice' | 'restart' | 'board'

/** `inTime`: only what the stated times of links and surfaces allow: what is under way arrives before a time runs out that is longer than its way. */
export interface SystemOptions { question?: Question, inTime?: boolean, neighbours?: Map<string, string[]> }

/** Where the situations go that follow one. */
export interface Sink {
  add(w0: number, w1: number, w2: number, event: number): void
  /** Something was noticed on the way: bits below. */
  notice(what: number, event: number): void
}
/** Notices of a search, beyond those of a move. */
export const TWICE = 1
export const MOVED = 2
export const JUMPED = 4

const POWER = 1 << 12
const UP = 1 << 13
const NOTES = 14
const LEVERS = 20
const PRESSES = 24
const CUTS = 28
const ONE_PRESS = 1 << PRESSES
const ONE_CUT = 1 << CUTS
const ONE_COMMAND = 1 << 18
const ONE_DROP = 1 << 22
const ONE_LOSS = 1 << 25
const ONE_DOUBLE = 1 << 28
const ONE_RESTART = 1 << 30
const MAX_LEVERS = 4
/**
 * Notes of "twice": which messages on the way up are the command watched; whether it arrived, or was seen not to, or somebody else did
 * something since; and whether it acted.
 */
const TAKEN = 1 << (NOTES + 4)
const DID = 1 << (NOTES + 5)
const TAGS = 0xF << NOTES
/** Notes of "restart": 1 after it, 2 a step up was asked for, 3 a step down. */
const STARTED = 1 << NOTES
const STEP_UP = 2 << NOTES
const STEP_DOWN = 3 << NOTES
const START = 3 << NOTES

/** Keeps what follows by one event. */
class Only implements Sink {
  after: Int32Array | null = null
  constructor(private readonly event: number) {}
  add(w0: number, w1: number, w2: number, event: number): void {
    if (event === this.event) this.after = Int32Array.of(w0, w1, w2)
  }

  notice(): void { /* it is looked for elsewhere */ }
}

interface Hand { input: number, event: number, press: number, lever: readonly [number, number] | null, bit: number, holds: boolean, letGo: number }

export class System {
  readonly design: Design
  readonly messages: Messages
  readonly controller: ControllerTable
  readonly panel: PanelTable | null
  readonly link: number
  readonly events: SystemEvent[] = []
  /** The surface shows the load at all. */
  readonly showsIt: boolean
  /** Paths cut short because more messages were under way than the bound allows. */
  overflows = 0
  private readonly bits: 4 | 8
  private readonly place: number
  private readonly room: number
  private readonly datagrams: boolean
  /** A copy of a command acts once more: not where each counter is taken once. */
  private readonly copiesAct: boolean
  private readonly loses: boolean
  /** The board tells the whole state from time to time. */
  readonly tells: boolean
  private readonly hands: readonly Hand[]
  private readonly elsewhere: readonly { event: number, act: number }[]
  private readonly ends: readonly { event: number, act: number, load: number, sensor: number, direction: 'forward' | 'reverse', closed: boolean }[]
  private readonly timers: readonly { load: number, slot: number }[]
  private readonly acts: { readonly off: number, readonly save: number, readonly up: number, readonly down: number, readonly tell: number, readonly boot: number, readonly timer: number, readonly message: number }
  private readonly at: Partial<Record<SystemEvent['kind'], number>> = {}
  private readonly learns = new Map<number, boolean>()
  private readonly levers: readonly Hand[]
  private readonly holding: readonly Hand[]
  private readonly changes: number[][] = []

  readonly question: Question
  /** Waits for an answer longer than one can be on its way. */
  private readonly patient: boolean
  /** By timer: the surface that is looked at keeps it from running out, while its finger and its link stay. */
  private readonly keptAlive: readonly boolean[]
  /** By timer: it runs longer than a message and its answer are on their way. */
  private readonly slow: readonly boolean[]

  constructor(full: Design, readonly loadId: string, surfaceId: string | null, readonly bounds: Bounds, { question, inTime = false, neighbours }: SystemOptions = {}) {
    this.question = question ?? (surfaceId === null ? 'board' : 'truth')
    this.design = project(full, loadId, neighbours ? { neighbours } : {})
    const { design } = this
    this.bits = bounds.queue > 2 ? 4 : 8
    this.place = (1 << this.bits) - 1
    this.room = bounds.queue
    this.messages = new Messages(this.bits)
    const surface = surfaceId === null ? null : remoteOf(design, surfaceId)
    this.showsIt = surface !== null && showsState(surface)
    this.link = surface ? design.links.findIndex(l => l.id === surface.linkId) : -1
    const link = design.links[this.link]
    this.datagrams = link !== undefined && isDatagram(link)
    this.copiesAct = this.datagrams && full.links.find(l => l.id === link?.id)?.auth.kind !== 'counter'
    this.loses = (link?.timing.lossPerMille ?? 0) > 0
    this.tells = link !== undefined && link.everyMs > 0
    this.panel = surface && new PanelTable(compilePanel(design, surface.id), this.messages, this.keysOf(surface.id))
    // What can happen to the board, each with a number: first what always can.
    const list: Act[] = [{ do: 'powerOff' }, { do: 'save' }, { do: 'linkUp' }, { do: 'linkDown' }, { do: 'tell' }]
    const add = (act: Act) => list.push(act) - 1
    const event = (e: SystemEvent) => {
      const n = this.events.push(e) - 1
      this.at[e.kind] ??= n
      return n
    }
    const program = new ControllerTable(design, this.messages, this.link, [], []).program
    const latching = program.inputs.flatMap(({ control }, i) => control.kind === 'latching' ? [i] : [])
    if (latching.length > MAX_LEVERS) throw new TooLarge(`${latching.length} latching switches act on this load and its neighbours; the search takes ${MAX_LEVERS}`)
    const boot = list.length
    for (let levers = 0; levers < 1 << latching.length; levers++) add({ do: 'boot', levers })
    this.timers = design.loads.flatMap(({ output }, load) => Array.from({ length: slotsOf(output, program.holders) }, (_, slot) => ({ load, slot })))
    const thereAndBack = link ? 2 * worstWayMs(link) : 0
    this.patient = inTime && surface !== null && surface.belief.timeoutMs > thereAndBack
    this.slow = this.timers.map(t => inTime && timerMs(loadOf(full, design.loads[t.load]?.id ?? '').output, t.slot) > thereAndBack)
    this.keptAlive = this.timers.map(({ load, slot }) => {
      const output = loadOf(full, design.loads[load]?.id ?? '').output
      return inTime && link !== undefined && output.kind === 'held' && slot === this.link && keepAliveMs(output) + worstWayMs(link) < output.timeoutMs
    })
    const timer = list.length
    for (const t of this.timers) add({ do: 'timer', ...t })
    // Deliveries first: among stories of equal length the one that reads most naturally is found first.
    if (surface) for (const kind of ['deliverUp', 'deliverDown'] as const) event({ kind })
    if (this.datagrams) {
      for (const kind of ['overtakeUp', 'overtakeDown'] as const) for (let nth = 1; nth < bounds.queue; nth++) event({ kind, place: nth })
      for (const kind of ['doubleUp', 'doubleDown'] as const) event({ kind })
    }
    this.hands = program.inputs.map(({ control, load }, input): Hand => {
      const bit = latching.indexOf(input)
      const holds = control.kind === 'push' && design.loads[load]?.output.kind === 'held'
      const lever = holds || bit >= 0 ? [add({ do: 'lever', input, level: 0 }), add({ do: 'lever', input, level: 1 })] as const : null
      return { input, event: event({ kind: holds ? 'hold' : 'press', input }), press: lever ? -1 : add({ do: 'press', input }), lever, bit, holds, letGo: holds ? event({ kind: 'letGo', input }) : -1 }
    })
    this.levers = this.hands.filter(h => h.bit >= 0)
    this.holding = this.hands.filter(h => h.holds)
    for (const key of this.panel?.keys ?? []) event('scene' in key ? { kind: 'scene', scene: key.scene } : { kind: 'key', ...key })
    if (this.question === 'twice') for (const key of this.panel?.keys ?? []) event('scene' in key ? { kind: 'scene', scene: key.scene } : { kind: 'lastKey', ...key })
    this.elsewhere = this.commandsFromElsewhere().map(([e, act]) => ({ event: event(e), act: add(act) }))
    this.ends = program.ends.flatMap(({ sensor, load, direction }) => [true, false].map(closed => ({ event: event({ kind: 'end', load, direction, closed }), act: add({ do: 'end', sensor, load, closed }), load, sensor, direction, closed })))
    if (surface) {
      for (const kind of ['drop', 'return', 'notice', 'timeout'] as const) event({ kind })
      if (surface.pollMs) event({ kind: 'poll' })
      if (this.tells) event({ kind: 'tell' })
      if (design.loads.some(l => l.output.kind === 'held')) event({ kind: 'repeat' })
      if (this.question === 'restart') event({ kind: 'restart' })
    }
    for (const t of this.timers) event({ kind: 'timer', ...t })
    if (surface && this.loses) for (const kind of ['loseUp', 'loseDown'] as const) event({ kind })
    for (const kind of ['save', 'cut', 'powerOn'] as const) event({ kind })
    this.controller = new ControllerTable(design, this.messages, this.link, list, this.timers)
    this.acts = { off: 0, save: 1, up: 2, down: 3, tell: 4, boot, timer, message: list.length }
  }

  /** Everything connected for the first time, all messages of that delivered, at rest. */
  initial(): Int32Array {
    const { bounds, panel, question } = this
    let w0 = (this.controller.move(this.controller.start(), this.acts.boot) & NEXT.controller) | POWER | bounds.presses << PRESSES | bounds.powerCuts << CUTS
    if (!panel) return Int32Array.of(w0, 0, 0)
    const w1 = panel.start() | bounds.commands << 18 | bounds.drops << 22 | bounds.losses << 25 | (this.datagrams ? bounds.doubles : 0) << 28 | (question === 'restart' ? bounds.restarts : 0) << 30
    let s = this.after(Int32Array.of(w0, w1, 0), this.at.return as number) as Int32Array
    for (;;) {
      const next = this.after(s, this.at.deliverUp as number) ?? this.after(s, this.at.deliverDown as number)
      if (!next) return s
      s = next
      w0 = s[0] as number
    }
  }

  /** The situation after one event, or null where it cannot happen. */
  after(s: Int32Array, event: number): Int32Array | null {
    const own = this.elsewhere.find(e => e.event === event)
    if (own) return this.afterChange(s, own)
    const { overflows } = this
    const only = new Only(event)
    this.expand(s[0] as number, s[1] as number, s[2] as number, only, false)
    this.overflows = overflows
    return only.after
  }

  /** Of several changes that come to the same only one is expanded; here each is. */
  private afterChange(s: Int32Array, { act, event }: { act: number, event: number }): Int32Array | null {
    const only = new Only(event)
    const [w0 = 0, w1 = 0, w2 = 0] = s
    if (!this.powered(s) || ((w0 >>> PRESSES) & 0xF) === 0) return null
    this.board(this.spentBy(w0, w1), w1, w2, this.controller.move(this.controllerOf(s), act), act, event, only)
    return only.after
  }

  powered(s: Int32Array): boolean { return ((s[0] as number) & POWER) !== 0 }
  linkIsUp(s: Int32Array): boolean { return ((s[0] as number) & UP) !== 0 }
  controllerOf(s: Int32Array): number { return (s[0] as number) & NEXT.controller }
  panelOf(s: Int32Array): number { return (s[1] as number) & NEXT.panel }
  /** Messages under way, first to arrive first. */
  queueOf(s: Int32Array, dir: 'up' | 'down'): number[] {
    const half = dir === 'up' ? (s[2] as number) & 0xFFFF : (s[2] as number) >>> 16
    return Array.from({ length: 16 / this.bits }, (_, i) => (half >>> i * this.bits) & this.place).filter(Boolean)
  }

  /** The value of the load examined. */
  value(s: Int32Array): string { return this.controller.state(this.controllerOf(s)).value[0] as string }

  /** Nothing under way, no timer that would send or act, links up, power on; a surface that asks would learn nothing new. */
  atRest(w0: number, w1: number, w2: number): boolean {
    const { panel } = this
    if (w2 !== 0 || (w0 & (POWER | UP)) !== (POWER | UP) || !panel) return false
    const facts = panel.facts[w1 & NEXT.panel] as number
    if (facts & (WAITING | HOLDS) || (this.controller.facts[w0 & NEXT.controller] as number) & ARMED) return false
    return !this.wouldBeTold(w0, w1)
  }

  /** At rest, but for what goes on for ever or waits for a finger: blinking, a key that is held down. */
  settled(w0: number, w1: number, w2: number): boolean {
    const { panel } = this
    const facts = panel ? panel.facts[w1 & NEXT.panel] as number : 0
    if (facts & HOLDS) return true
    if ((w0 & POWER) === 0 || !((this.controller.facts[w0 & NEXT.controller] as number) & LASTING)) return false
    if (!panel) return true
    if (w2 !== 0 || (w0 & UP) === 0 || facts & WAITING) return false
    return !this.wouldBeTold(w0, w1)
  }

  /** Something is still to come that needs nobody: an answer to a question, or the whole state, that says something new. */
  private wouldBeTold(w0: number, w1: number): boolean {
    const [c, p] = [w0 & NEXT.controller, w1 & NEXT.panel]
    return (((this.panel as PanelTable).facts[p] as number) & POLLS && this.learnsByAsking(c, p)) || (this.tells && this.learnsByBeingTold(c, p))
  }

  /** At rest: -1 what is shown differs, 0 nothing certain is shown, 1 the truth. */
  judge(w0: number, w1: number): -1 | 0 | 1 {
    const shows = this.panel?.shows[w1 & NEXT.panel] ?? -1
    return shows < 0 ? 0 : shows === this.controller.values[w0 & NEXT.controller] ? 1 : -1
  }

  /** All presses are spent and the last command never reached the board; what is shown, if anything, is as if it had. */
  vanished(w0: number, w1: number): boolean {
    if (((w1 >>> 18) & 0xF) !== 0 || (w0 & TAKEN) !== 0 || this.bounds.commands === 0) return false
    return !this.showsIt || (this.judge(w0, w1) < 0 && (((this.panel as PanelTable).shows[w1 & NEXT.panel] as number) & ASKED) === w1 >>> 30)
  }

  /** Facts of the board that break a promise by themselves. */
  isStuck(w0: number): boolean { return ((this.controller.facts[w0 & NEXT.controller] as number) & STUCK) !== 0 }

  /**
   * All situations that follow one, each by one event. `quiet`: only what needs nobody and no misfortune. Where a message finds no
   * room the event does not happen, and is counted.
   */
  expand(w0: number, w1: number, w2: number, sink: Sink, quiet: boolean): void {
    const { controller, panel, at } = this
    const c = w0 & NEXT.controller
    const powered = (w0 & POWER) !== 0
    const note = this.question === 'restart' ? w0 & START : 0
    if (panel) this.expandLink(w0, w1, w2, panel, sink, quiet)
    if (powered) {
      // Lists are walked by number: this is where the time goes.
      const armed = controller.armed[c] as readonly number[]
      for (let n = 0; n < armed.length; n++) {
        const i = armed[n] as number
        if (this.keptAlive[i] && this.holdsNow(w0, w1)) continue
        if (w2 === 0 || !this.slow[i]) this.board(w0, w1, w2, controller.move(c, this.acts.timer + i), this.acts.timer + i, (at.timer as number) + i, sink)
      }
      if ((controller.facts[c] as number) & SAVING) this.board(w0, w1, w2, controller.move(c, this.acts.save), this.acts.save, at.save as number, sink)
      // An end contact follows the movement: nobody has to do anything for it.
      if (this.ends.length) for (const e of this.ends) if (this.canEnd(c, e)) this.board(w0, w1, w2, controller.move(c, e.act), e.act, e.event, sink)
    }
    else {
      const act = this.acts.boot + ((w0 >>> LEVERS) & 0xF)
      const move = controller.move(c, act)
      this.board(w0 | POWER, w1, w2, move, act, at.powerOn as number, sink)
      if (move & ASTRAY) sink.notice(ASTRAY, at.powerOn as number)
    }
    if (this.holding.length) for (const hand of this.holding) {
      if (powered && controller.state(c).inputs[hand.input]?.level === 0) {
        const act = (hand.lever as readonly [number, number])[1]
        this.board(w0, w1, w2, controller.move(c, act), act, hand.letGo, sink)
      }
    }
    if (quiet || note !== 0) return
    if ((w0 >>> PRESSES) & 0xF) this.expandPresses(w0, w1, w2, c, powered, sink)
    if (powered && (w0 >>> CUTS) & 7) {
      const move = controller.move(c, this.acts.off)
      if (move & ASTRAY) sink.notice(ASTRAY, at.cut as number)
      this.board((w0 - ONE_CUT) & ~(POWER | UP | (this.question === 'twice' ? TAGS : 0)), w1, 0, move, this.acts.off, at.cut as number, sink)
    }
  }

  private expandPresses(w0: number, w1: number, w2: number, c: number, powered: boolean, sink: Sink): void {
    const { controller } = this
    const spent = this.spentBy(w0, w1)
    for (let n = 0; n < this.levers.length; n++) {
      const hand = this.levers[n] as Hand
      const next = spent ^ 1 << (LEVERS + hand.bit)
      // A lever can be moved without power too; nothing comes of it then.
      if (!powered) {
        sink.add(next, w1, w2, hand.event)
        continue
      }
      const act = (hand.lever as readonly [number, number])[(next >>> (LEVERS + hand.bit)) & 1 ? 0 : 1]
      const move = controller.move(c, act)
      if (this.board(next, w1, w2, move, act, hand.event, sink) && move & (DEAD | CLASHED)) sink.notice(move & (DEAD | CLASHED), hand.event)
    }
    if (!powered) return
    const list = this.changesAt(c)
    for (let i = 0; i < list.length; i += 2) {
      const act = list[i] as number
      const event = list[i + 1] as number
      const move = controller.moves[c * controller.acts + act] as number
      if (this.board(spent, w1, w2, move, act, event, sink) && move & (DEAD | CLASHED)) sink.notice(move & (DEAD | CLASHED), event)
    }
  }

  /** One change from elsewhere less. Somebody else did something since the last press: what is shown then is no matter of that press. */
  private spentBy(w0: number, w1: number): number {
    return (w0 - ONE_PRESS) | (this.question === 'twice' && ((w1 >>> 18) & 0xF) === 0 ? TAKEN : 0)
  }

  /**
   * What anybody can do to the board in one of its states, as acts and events. Of several that come to the same (an "on" from the one
   * panel or the other) the first stands for all, unless something was noticed on the way.
   */
  private changesOf(c: number): number[] {
    const { controller } = this
    const list: number[] = []
    const known = new Set<string>()
    const add = (act: number, event: number) => {
      const move = controller.move(c, act)
      const key = `${move} ${controller.sentBy(c, act)}`
      if (!(move & (DEAD | CLASHED)) && known.has(key)) return
      known.add(key)
      list.push(act, event)
    }
    for (const hand of this.hands) {
      if (hand.bit >= 0) continue
      if (!hand.holds) add(hand.press, hand.event)
      else if (controller.state(c).inputs[hand.input]?.level !== 0) add((hand.lever as readonly [number, number])[0], hand.event)
    }
    for (const { event, act } of this.elsewhere) add(act, event)
    return this.changes[c] = list
  }

  /** Another surface that does the same to the board as a hand control would; null where none can. */
  insteadOf(s: Int32Array, event: number): number | null {
    const hand = this.hands.find(h => h.event === event && h.bit < 0 && !h.holds)
    if (!hand) return null
    const { controller } = this
    const c = this.controllerOf(s)
    const same = (act: number) => controller.move(c, act) === controller.move(c, hand.press) && controller.sentBy(c, act) === controller.sentBy(c, hand.press)
    return this.elsewhere.find(e => same(e.act) && this.events[e.event]?.kind === 'other')?.event ?? null
  }

  private expandLink(w0: number, w1: number, w2: number, panel: PanelTable, sink: Sink, quiet: boolean): void {
    const { at, bits, place } = this
    const p = w1 & NEXT.panel
    const facts = panel.facts[p] as number
    const up = (w0 & UP) !== 0
    const note = this.question === 'restart' ? w0 & START : 0
    if (w2 !== 0) {
      const upward = w2 & 0xFFFF
      const downward = w2 >>> 16
      if (upward) {
        this.deliverUp(w0, w1, w2, 0, false, at.deliverUp as number, sink)
        if (this.datagrams) for (let nth = 1; upward >>> nth * bits; nth++) this.deliverUp(w0, w1, w2, nth, false, (at.overtakeUp as number) + nth - 1, sink)
        if (this.copiesAct && !quiet && note === 0 && (w1 >>> 28) & 3) this.deliverUp(w0, w1 - ONE_DOUBLE, w2, 0, true, at.doubleUp as number, sink)
      }
      if (downward) {
        this.surface(w0, w1, (w2 & 0xFFFF) | (downward >>> bits) << 16, panel, panel.message(downward & place), at.deliverDown as number, sink)
        if (this.datagrams) {
          for (let nth = 1; downward >>> nth * bits; nth++) this.surface(w0, w1, (w2 & 0xFFFF) | without(downward, bits, nth) << 16, panel, panel.message((downward >>> nth * bits) & place), (at.overtakeDown as number) + nth - 1, sink)
        }
        if (this.datagrams && !quiet && note === 0 && (w1 >>> 28) & 3) this.surface(w0, w1 - ONE_DOUBLE, w2, panel, panel.message(downward & place), at.doubleDown as number, sink)
      }
      if (this.loses && !quiet && note === 0 && (w1 >>> 25) & 7) {
        if (upward) sink.add(this.question === 'twice' ? untagged(w0, 0) : w0, w1 - ONE_LOSS, (w2 & ~0xFFFF) | upward >>> bits, at.loseUp as number)
        if (downward) sink.add(w0, w1 - ONE_LOSS, (w2 & 0xFFFF) | (downward >>> bits) << 16, at.loseDown as number)
      }
    }
    if (!up) {
      if (facts & CONNECTED) this.surface(w0, w1, w2, panel, PANEL.linkDown, at.notice as number, sink)
      if (w0 & POWER) this.comeBack(w0, w1, panel, sink)
    }
    if (facts & WAITING && (w2 === 0 || !this.patient)) this.timeout(w0, w1, w2, panel, sink)
    // Asking is left out while an earlier question is under way: it would bring nothing that the first does not.
    if (facts & POLLS && w2 === 0) this.surface(w0, w1, w2, panel, PANEL.poll, at.poll as number, sink)
    if (this.tells && (w0 & (POWER | UP)) === (POWER | UP) && w2 === 0) this.board(w0, w1, w2, this.controller.move(w0 & NEXT.controller, this.acts.tell), this.acts.tell, at.tell as number, sink)
    if (facts & HOLDS && (w2 & 0xFFFF) === 0) this.surface(w0, w1, w2, panel, PANEL.repeat, at.repeat as number, sink)
    if (quiet) return
    if (note !== 0) {
      if (note === STARTED && up && w2 === 0 && facts & CONNECTED) this.firstSteps(w0, w1, panel, sink)
      return
    }
    const left = (w1 >>> 18) & 0xF
    if (left) this.expandKeys(w0, w1, w2, p, left, panel, sink)
    if (up && (w1 >>> 22) & 7) this.drop(w0, w1 - ONE_DROP, at.drop as number, sink)
    if (this.question === 'restart' && up && (w0 & POWER) && (w1 >>> 30) & 3) {
      const started = panel.move(p, PANEL.restart) & NEXT.panel
      this.drop(w0 | STARTED, ((w1 - ONE_RESTART) & ~NEXT.panel) | started, at.restart as number, sink)
    }
  }

  private expandKeys(w0: number, w1: number, w2: number, p: number, left: number, panel: PanelTable, sink: Sink): void {
    const first = (this.at.key ?? this.at.scene) as number
    const watching = this.question === 'twice'
    for (let i = 0; i < panel.keys.length; i++) {
      const act = panel.key(i)
      const move = panel.move(p, act)
      if (((move >>> SENDS.panel) & 7) === 0) continue
      if (!watching || left > 1) this.surface(w0, w1 - ONE_COMMAND, w2, panel, act, first + i, sink)
      // The last press is the one that is watched; it has to be about the load.
      if (watching && (move >>> ABOUT) & 1) this.surface(w0, (w1 & ~(15 << 18)) | ((move >>> ASKS) & ASKED) << 30, w2, panel, act, first + panel.keys.length + i, sink, 1)
    }
  }

  /** After a start, when all that comes by itself has come: one step up or down. */
  private firstSteps(w0: number, w1: number, panel: PanelTable, sink: Sink): void {
    const first = (this.at.key ?? this.at.scene) as number
    panel.keys.forEach((key, i) => {
      if ('scene' in key || key.load !== 0 || (key.want !== 'up' && key.want !== 'down')) return
      this.surface((w0 & ~START) | (key.want === 'up' ? STEP_UP : STEP_DOWN), w1, 0, panel, panel.key(i), first + i, sink)
    })
  }

  private deliverUp(w0: number, w1: number, w2: number, nth: number, keeps: boolean, event: number, sink: Sink): void {
    const { controller, bits, question } = this
    const c = w0 & NEXT.controller
    const upward = w2 & 0xFFFF
    const act = this.acts.message + ((upward >>> nth * bits) & this.place)
    const move = controller.move(c, act)
    let next = w0
    let noticed = move & CLASHED
    if (question === 'twice') {
      if (w0 & 1 << (NOTES + nth)) {
        if (move & ACTED && w0 & DID) noticed |= TWICE
        next |= TAKEN | (move & ACTED ? DID : 0)
      }
      if (!keeps) next = untagged(next, nth)
    }
    if (question === 'restart' && w0 & START) {
      const step = (controller.values[move & NEXT.controller] as number) - (controller.values[c] as number)
      const note = w0 & START
      if (step !== 0 && note === STARTED) noticed |= MOVED
      else if (step !== 0 && step !== (note === STEP_UP ? 1 : -1)) noticed |= JUMPED
    }
    if (this.board(next, w1, keeps ? w2 : (w2 & ~0xFFFF) | without(upward, bits, nth), move, act, event, sink) && noticed) sink.notice(noticed, event)
  }

  private drop(w0: number, w1: number, event: number, sink: Sink): void {
    const { controller } = this
    this.board(w0 & ~(UP | (this.question === 'twice' ? TAGS : 0)), w1, 0, controller.move(w0 & NEXT.controller, this.acts.down), this.acts.down, event, sink)
  }

  /** For the code that is made, too. */
  comeBack(w0: number, w1: number, panel: PanelTable, sink: Sink): void {
    let p = w1 & NEXT.panel
    if ((panel.facts[p] as number) & CONNECTED) p = panel.move(p, PANEL.linkDown) & NEXT.panel
    const { controller } = this
    const c = w0 & NEXT.controller
    const told = controller.move(c, this.acts.up)
    const asked = panel.move(p, PANEL.linkUp)
    const w2 = this.pushed(this.pushed(0, 16, (told >>> SENDS.controller) & 7, controller.sentBy(c, this.acts.up)), 0, (asked >>> SENDS.panel) & 7, panel.sentBy(p, PANEL.linkUp))
    if (w2 === FULL) return
    sink.add((w0 & ~NEXT.controller) | UP | (told & NEXT.controller), (w1 & ~NEXT.panel) | (asked & NEXT.panel), w2, this.at.return as number)
  }

  private timeout(w0: number, w1: number, w2: number, panel: PanelTable, sink: Sink): void {
    const watched = this.question === 'twice' && ((w1 >>> 18) & 0xF) === 0
    this.surface(w0, w1, w2, panel, PANEL.timeout, this.at.timeout as number, sink, watched ? (panel.move(w1 & NEXT.panel, PANEL.timeout) >>> ABOUT) & 0xF : 0)
  }

  /** The board makes a move, if there is room for what it sends; what it sends into a link that is down is gone. */
  private board(w0: number, w1: number, w2: number, move: number, act: number, event: number, sink: Sink): boolean {
    const count = (move >>> SENDS.controller) & 7
    if (count !== 0 && (w0 & UP) !== 0) {
      w2 = this.pushed(w2, 16, count, this.controller.sentBy(w0 & NEXT.controller, act))
      if (w2 === FULL) return false
    }
    sink.add((w0 & ~NEXT.controller) | (move & NEXT.controller), w1, w2, event)
    return true
  }

  /** The surface makes a move; the sender does not know whether its link is up. `tags`: which of what it sends is watched. */
  private surface(w0: number, w1: number, w2: number, panel: PanelTable, act: number, event: number, sink: Sink, tags = 0): void {
    const p = w1 & NEXT.panel
    const move = panel.move(p, act)
    const count = (move >>> SENDS.panel) & 7
    if (count !== 0 && (w0 & UP) !== 0) {
      if (tags) w0 |= (tags << lengthOf(w2 & 0xFFFF, this.bits) & 0xF) << NOTES
      w2 = this.pushed(w2, 0, count, panel.sentBy(p, act))
      if (w2 === FULL) return
    }
    const next = (w1 & ~NEXT.panel) | (move & NEXT.panel)
    // Shown what is so after the last press: whatever became of it is seen.
    if (this.question === 'twice' && this.showsIt && ((w1 >>> 18) & 0xF) === 0 && this.judge(w0, next) > 0) w0 |= TAKEN
    sink.add(w0, next, w2, event)
  }

  private pushed(w2: number, shift: 0 | 16, count: number, sent: number): number {
    if (w2 === FULL) return FULL
    const { bits } = this
    const length = lengthOf((w2 >>> shift) & 0xFFFF, bits)
    if (length + count > this.room) {
      this.overflows++
      return FULL
    }
    // They lie one behind the other already.
    return w2 | sent << (shift + bits * length)
  }

  canEnd(c: number, { load, sensor, direction, closed }: { load: number, sensor: number, direction: string, closed: boolean }): boolean {
    const state = this.controller.state(c)
    const motion = state.motion[load]
    if (motion?.kind !== 'opposed') return false
    const isClosed = (state.samples[sensor]?.[0] ?? 0) !== 0
    return isClosed !== closed && (closed ? motion.driven === direction : motion.driven !== 'stop' && motion.driven !== direction)
  }

  private learnsByBeingTold(c: number, p: number): boolean {
    const told = this.controller.move(c, this.acts.tell)
    return this.heardBy(p, (told >>> SENDS.controller) & 7, this.controller.sentBy(c, this.acts.tell)) !== p
  }

  /** The state of the surface after it heard messages, one after another. */
  private heardBy(p: number, count: number, texts: number): number {
    const panel = this.panel as PanelTable
    for (let i = 0; i < count; i++) p = panel.move(p, panel.message((texts >>> i * this.bits) & this.place)) & NEXT.panel
    return p
  }

  private learnsByAsking(c: number, p: number): boolean {
    const key = p * (NEXT.controller + 1) + c
    let learns = this.learns.get(key)
    if (learns === undefined) this.learns.set(key, learns = this.wouldLearn(c, p))
    return learns
  }

  /** Whether a surface that asks would believe something else after the answer. */
  wouldLearn(c: number, p: number): boolean {
    const panel = this.panel as PanelTable
    const asked = panel.move(p, PANEL.poll)
    const question = panel.sentBy(p, PANEL.poll) & this.place
    const act = this.acts.message + question
    const told = this.controller.move(c, act)
    const texts = this.controller.sentBy(c, act)
    return this.heardBy(asked & NEXT.panel, (told >>> SENDS.controller) & 7, texts) !== p
  }

  private keysOf(surfaceId: string): PanelKeyAct[] {
    const { design } = this
    const surface = remoteOf(design, surfaceId)
    const link = design.links[this.link] as Link
    const keys = design.loads.flatMap((load, i) => (link.messages as { loadId: string }[]).some(m => m.loadId === load.id) ? wantsOn(surface.keys, load).map(want => ({ load: i, want })) : [])
    const scenes = surface.kind === 'panel' ? design.scenes.flatMap((s, scene) => surface.parts.some(p => p.form === 'scene' && p.sceneId === s.id) && (link.scenes[s.id] ?? '') !== '' ? [{ scene }] : []) : []
    return [...keys, ...scenes]
  }

  /** Whatever else commands the loads: other surfaces, remotes, knobs, rules. */
  private commandsFromElsewhere(): [SystemEvent, Act][] {
    const { design } = this
    const loadAt = (id: string) => design.loads.findIndex(l => l.id === id)
    const list: [SystemEvent, Act][] = []
    design.links.forEach((link, i) => {
      if (i === this.link) return
      const speaker = design.surfaces.find(s => s.kind !== 'hand' && s.linkId === link.id)
      for (const m of link.messages) {
        for (const [want, code] of Object.entries(m.codes)) {
          const text = wireOf(link, code ?? '', 'command')
          if (text !== '') list.push([{ kind: 'other', link: i, load: loadAt(m.loadId), want }, { do: 'command', link: i, text }])
        }
      }
      design.scenes.forEach((scene, n) => {
        const text = wireOf(link, link.scenes[scene.id] ?? '', 'command')
        if (text !== '' && speaker?.kind === 'panel' && speaker.parts.some(p => p.form === 'scene' && p.sceneId === scene.id)) list.push([{ kind: 'otherScene', link: i, scene: n }, { do: 'command', link: i, text }])
      })
    })
    let knob = 0
    design.sensors.forEach((sensor, s) => {
      if (sensor.kind === 'infrared') sensor.keys.forEach((k, key) => { if (loadAt(k.loadId) >= 0) list.push([{ kind: 'remote', sensor: s, key }, { do: 'remote', sensor: s, key }]) })
      if (sensor.kind !== 'knob') return
      for (const detents of [1, -1] as const) list.push([{ kind: 'turn', knob, detents }, { do: 'turn', knob, detents }])
      knob++
    })
    design.rules.forEach((r, rule) => list.push([{ kind: 'rule', rule }, { do: 'cross', sensor: design.sensors.findIndex(s => s.id === r.sensorId) }]))
    return list
  }

  private holdsNow(w0: number, w1: number): boolean {
    return (w0 & UP) !== 0 && (((this.panel as PanelTable).facts[w1 & NEXT.panel] as number) & HOLDS) !== 0
  }

  /** Whether made code has to know of keep-alives. */
  get keepsAlive(): boolean { return this.keptAlive.includes(true) }

  /** What is where, for whoever writes the system down. */
  get layout() {
    const { acts, hands, elsewhere, ends, timers, datagrams, copiesAct, loses, bits, room, place, patient, slow } = this
    return { ...acts, hands, elsewhere, ends, timers, datagrams, copiesAct, loses, bits, room, place, patient, slow, first: this.at as Record<string, number | undefined>, power: POWER, upBit: UP, levers: LEVERS, presses: PRESSES, cuts: CUTS }
  }

  /** `changesOf`, remembered. */
  changesAt(c: number): readonly number[] { return this.changes[c] ?? this.changesOf(c) }
  isSlow(timer: number): boolean { return this.slow[timer] === true }
}

/** There was no room: no situation has this in its queues, for a message is never 0 with one behind it. */
const FULL = 0xFF00 << 16

function slotsOf(output: Output, holders: number): number {
  const slots: Record<Output['kind'], number> = { switched: output.kind === 'switched' && output.limits ? 5 : 3, level: 0, follower: 0, pulsed: 1, opposed: 2, held: holders }
  return slots[output.kind]
}

function lengthOf(half: number, bits: number): number {
  return half === 0 ? 0 : half >>> bits === 0 ? 1 : half >>> 2 * bits === 0 ? 2 : half >>> 3 * bits === 0 ? 3 : 4
}

/** A half of the queues without its nth message. */
export function without(half: number, bits: number, nth: number): number {
  const low = (1 << nth * bits) - 1
  return (half & low) | (half >>> bits & ~low)
}

/** The tags of what is on the way up, the nth taken out. */
function untagged(w0: number, nth: number): number {
  const tags = (w0 >>> NOTES) & 0xF
  return (w0 & ~TAGS) | without(tags, 1, nth) << NOTES
}
