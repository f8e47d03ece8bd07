/**
 * One load and one surface that speaks of it, as a finite system. Other surfaces matter to it only
 * by the commands they send, so they appear as commands that may arrive at any time: what holds
 * here holds whatever the others believe, and the search of a load grows with the sum of its
 * surfaces instead of their product. Without a surface it is the board and whoever commands it.
 * Nothing is counted: presses, losses, drops, starts and cuts may happen at any moment, any number
 * of times. Only what is under way at once is limited, by `room`.
 */
import { handSurfaces, loadOf, remoteOf, showsState } from '../design/find'
import { isDatagram } from '../design/links'
import type { Design, Link, Message } from '../design/schema'
import { spokenValues, wantsOn } from '../design/values'
import { wireOf } from '../design/wire'
import { compileController } from '../controller/program'
import { wireMs } from '../links/timing'
import { feedAll } from '../messages/stream'
import { reportText, rows } from '../messages/table'
import { compilePanel, keepAliveMs } from '../surfaces/panel'
import { expand, move } from './expand'
import type { End, Frame, Hand, Layout, Question, Row, Sink } from './frame'
import type { SystemEvent } from './happenings'
import {
  ARMED,
  BUSY,
  CLASHED,
  CONNECTED,
  ControllerTable,
  DEAD,
  HOLDS,
  LASTING,
  Messages,
  NEXT,
  NUMBERS,
  OWES,
  PANEL,
  PanelTable,
  POLLS,
  QUEUED,
  SENDS,
  STUCK,
  TooLarge,
  WAITING,
  type Act,
  type Ordered,
  type PanelKeyAct,
} from './machines'
import { slotsOf, timerMs } from './output-times'
import { behind, lengthOf, MAX_LEVERS, messageAt, MOST_EACH_WAY, POWER, UP } from './packing'
import { leastGapMs, Pace } from './pace'
import { gestureOf, project, searchesEchoes, worstWayMs } from './project'
import { Tidy } from './tidy'
import { rowsOf } from './transitions'
import { Watch } from './watch'

/**
 * What board and surface do, by surface: the same whatever is asked, so that it is worked out once.
 */
export type Tables = Map<string, Pick<System, 'design' | 'messages' | 'controller' | 'panel'>>

/**
 * `inTime`: only what the stated times of links and surfaces allow: what is under way arrives
 * before a time runs out that is longer than its way.
 */
export interface SystemOptions {
  question?: Question
  inTime?: boolean
  neighbours?: Map<string, string[]>
  tables?: Tables
}

/**
 * The longest time from a command to its answer, ms: two ways on the link, and all that the queue
 * can hold before it, once as reports and once as a whole state; and the same with the least time
 * between two reports, where a change is the answer.
 */
function answerMs(design: Design, link: Link): [soon: number, late: number] {
  const reports = rows(design, link).reduce(
    (sum, { load, message }) =>
      sum
      + Math.max(...spokenValues(load.output).map(v => reportText(link, load, message, v).length)),
    0,
  )
  const soon =
    2 * worstWayMs(link)
    + (link.queue ? Math.ceil(wireMs(design, link, ' '.repeat(2 * reports + QUEUE_MORE_BYTES))) : 0)
  return [soon, soon + ((link.messages as Message[]).every(m => m.ack) ? 0 : link.leastMs)]
}

/**
 * Answers that are no reports wait in a queue too, and readings: so many bytes of them, at most.
 */
const QUEUE_MORE_BYTES = 64

/**
 * Whether what comes back is sooner there than whatever was sent with it or after it: echoes keep
 * their order, so that one may wait for that of the longest message; the shortest one takes its
 * time on the wire and the least latency.
 */
export function echoesFirst(design: Design, link: Link): boolean {
  const texts = rows(design, link).flatMap(({ load, message }) => [
    ...Object.values(message.codes).map(code => wireOf(link, code ?? '', 'command')),
    ...spokenValues(load.output).map(value => reportText(link, load, message, value)),
  ])
  const longest = Math.max(0, ...texts.map(text => text.length)) + QUEUE_MORE_BYTES
  return (
    Math.max(1, wireMs(design, link, ' '.repeat(longest)))
    < wireMs(design, link, '') + link.timing.minMs
  )
}

/** Keeps what follows by one event, and how messages are called since. */
class Only implements Sink {
  after: Int32Array | null = null
  renamed = new Map<number, number>()
  constructor(
    private readonly event: number,
    private readonly tidy: Tidy,
  ) {}
  add(w0: number, w1: number, up: number, down: number, event: number): void {
    if (event !== this.event || this.after) return
    this.after = Int32Array.of(w0, w1, up, down)
    this.renamed = new Map(this.tidy.renamed)
  }

  notice(): void {
    /* it is looked for elsewhere */
  }
}

export class System implements Frame {
  readonly design: Design
  readonly messages: Messages
  readonly controller: ControllerTable
  readonly panel: PanelTable | null
  readonly link: number
  readonly events: SystemEvent[] = []
  /** The surface shows the load at all. */
  readonly showsIt: boolean
  /**
   * Messages under way at once, both ways together; what finds no room does not happen, and is
   * counted.
   */
  room = 2
  overflows = 0
  /** What is written down on the way, and all that can happen. */
  readonly watch: Watch
  readonly pace: Pace
  readonly tidy: Tidy
  /** How messages on the way up are called since the last `after`. */
  renamed: ReadonlyMap<number, number> = new Map()
  readonly rows: readonly Row[]
  /** The row of what anybody can do to the board. */
  private readonly changing: Row
  /** Commands carry numbers here. */
  readonly numbered: boolean
  readonly echoes: boolean
  readonly ordered: Ordered
  /** Messages under way for each that is said: itself, and what comes back of it. */
  readonly copies: 1 | 2
  private readonly datagrams: boolean
  /** A copy of a command acts once more: not where each counter is taken once. */
  private readonly copiesAct: boolean
  private readonly loses: boolean
  /** The board tells the whole state from time to time. */
  readonly tells: boolean
  private readonly hands: readonly Hand[]
  private readonly elsewhere: readonly { event: number; act: number }[]
  private readonly ends: readonly End[]
  private readonly timers: readonly { load: number; slot: number }[]
  private readonly acts: Pick<
    Layout,
    'off' | 'save' | 'up' | 'down' | 'tell' | 'sent' | 'least' | 'boot' | 'timer' | 'message'
  >
  private readonly at: Partial<Record<SystemEvent['kind'], number>> = {}
  private readonly learns = new Map<number, boolean>()
  private readonly changes: number[][] = []
  private readonly backs = new Map<number, number>()

  private readonly first: Int32Array
  /** The least room that a search can begin with. */
  readonly least: number
  readonly question: Question
  private readonly inTime: boolean
  /** Waits for an answer longer than one can be on its way. */
  private readonly patient: boolean
  private readonly unhurried: boolean
  private readonly sparse: boolean
  private readonly answered: boolean
  private readonly leaving: number
  /**
   * By timer: the surface that is looked at keeps it from running out, while its finger and its
   * link stay.
   */
  private readonly keptAlive: readonly boolean[]
  /** By timer: it runs longer than a message and its answer are on their way. */
  private readonly slow: readonly boolean[]

  constructor(
    full: Design,
    readonly loadId: string,
    surfaceId: string | null,
    { question, inTime = false, neighbours, tables }: SystemOptions = {},
  ) {
    this.inTime = inTime
    this.question = question ?? (surfaceId === null ? 'board' : 'truth')
    const known = tables?.get(surfaceId ?? '')
    this.design =
      known?.design
      ?? [...(tables?.values() ?? [])][0]?.design
      ?? project(full, loadId, neighbours ? { neighbours } : {})
    const { design } = this
    const surface = surfaceId === null ? null : remoteOf(design, surfaceId)
    this.showsIt = surface !== null && showsState(surface)
    this.link = surface ? design.links.findIndex(l => l.id === surface.linkId) : -1
    const link = design.links[this.link]
    this.numbered = link?.numbered !== undefined && link.numbered !== null
    this.echoes = link !== undefined && searchesEchoes(full, link.id)
    this.copies = this.echoes ? 2 : 1
    this.messages = known?.messages ?? new Messages(link ?? null)
    this.datagrams = link !== undefined && isDatagram(link)
    this.copiesAct =
      this.datagrams && full.links.find(l => l.id === link?.id)?.auth.kind !== 'counter'
    this.loses = (link?.timing.lossPerMille ?? 0) > 0
    this.tells = link !== undefined && link.everyMs > 0
    this.panel = known
      ? known.panel
      : surface
        && new PanelTable(compilePanel(design, surface.id), this.messages, this.keysOf(surface.id))
    // What can happen to the board, each with a number: first what always can.
    const list: Act[] = [
      { do: 'powerOff' },
      { do: 'save' },
      { do: 'linkUp' },
      { do: 'linkDown' },
      { do: 'tell' },
      { do: 'sent' },
    ]
    const add = (act: Act) => list.push(act) - 1
    const event = (e: SystemEvent) => {
      const n = this.events.push(e) - 1
      this.at[e.kind] ??= n
      return n
    }
    const program = known?.controller.program ?? compileController(design)
    const latching = program.inputs.flatMap(({ control }, i) =>
      control.kind === 'latching' ? [i] : [],
    )
    if (latching.length > MAX_LEVERS)
      throw new TooLarge(
        `${latching.length} latching switches act on this load and its neighbours; the search takes ${MAX_LEVERS}`,
      )
    const least = list.length
    for (const load of design.loads.keys()) add({ do: 'least', load })
    const boot = list.length
    for (let levers = 0; levers < 1 << latching.length; levers++) add({ do: 'boot', levers })
    this.timers = design.loads.flatMap(({ output }, load) =>
      Array.from({ length: slotsOf(output, program.holders) }, (_, slot) => ({ load, slot })),
    )
    const [soon, late] = link
      ? answerMs(full, full.links.find(l => l.id === link.id) ?? link)
      : [0, 0]
    this.patient = inTime && surface !== null && surface.belief.timeoutMs > soon
    this.answered = this.patient && (surface?.belief.timeoutMs ?? 0) <= late
    this.ordered = {
      datagrams: this.datagrams,
      echoesFirst:
        inTime && this.echoes && echoesFirst(full, full.links.find(l => l.id === link?.id) as Link),
    }
    this.leaving = inTime ? BUSY : QUEUED
    this.unhurried = inTime && link !== undefined && link.queue > 0
    this.sparse =
      inTime
      && link !== undefined
      && (full.links.find(l => l.id === link.id)?.leastMs ?? 0) > worstWayMs(link)
    this.slow = this.timers.map(
      t => inTime && timerMs(loadOf(full, design.loads[t.load]?.id ?? '').output, t.slot) > late,
    )
    this.keptAlive = this.timers.map(({ load, slot }) => {
      const output = loadOf(full, design.loads[load]?.id ?? '').output
      return (
        inTime
        && link !== undefined
        && output.kind === 'held'
        && slot === this.link
        && keepAliveMs(output) + worstWayMs(link) < output.timeoutMs
      )
    })
    const timer = list.length
    for (const t of this.timers) add({ do: 'timer', ...t })
    // Deliveries first: among stories of equal length the one that reads most naturally is found
    // first.
    const all = Array.from({ length: MOST_EACH_WAY }, (_, place) => place)
    const places = this.datagrams ? all : [0]
    const eachPlace = (
      places: readonly number[],
      ...kinds: ('deliverUp' | 'deliverDown' | 'doubleUp' | 'doubleDown' | 'loseUp' | 'loseDown')[]
    ) => {
      for (const kind of kinds) for (const place of places) event({ kind, place })
    }
    if (surface) eachPlace(this.echoes ? all : places, 'deliverUp', 'deliverDown')
    if (this.datagrams) eachPlace(places, 'doubleUp', 'doubleDown')
    this.hands = program.inputs.map(({ control, load }, input): Hand => {
      const bit = latching.indexOf(input)
      const holds = control.kind === 'push' && design.loads[load]?.output.kind === 'held'
      const lever =
        holds || bit >= 0
          ? ([
              add({ do: 'lever', input, level: 0 }),
              add({ do: 'lever', input, level: 1 }),
            ] as const)
          : null
      return {
        input,
        event: event({ kind: holds ? 'hold' : 'press', input }),
        press: lever ? -1 : add({ do: 'press', input }),
        lever,
        bit,
        holds,
        letGo: holds ? event({ kind: 'letGo', input }) : -1,
      }
    })
    for (const key of this.panel?.keys ?? [])
      event('scene' in key ? { kind: 'scene', scene: key.scene } : { kind: 'key', ...key })
    if (this.question === 'twice')
      for (const key of this.panel?.keys ?? [])
        if (!('scene' in key)) event({ kind: 'watchedKey', ...key })
    this.elsewhere = this.commandsFromElsewhere().map(([e, act]) => ({
      event: event(e),
      act: add(act),
    }))
    this.ends = program.ends.flatMap(({ sensor, load, direction }) =>
      [true, false].map(closed => ({
        event: event({ kind: 'end', load, direction, closed }),
        act: add({ do: 'end', sensor, load, closed }),
        load,
        sensor,
        direction,
        closed,
      })),
    )
    if (surface) {
      for (const kind of ['drop', 'return', 'notice', 'timeout'] as const) event({ kind })
      if (surface.pollMs) event({ kind: 'poll' })
      if (this.tells) event({ kind: 'tell' })
      if (link?.queue) event({ kind: 'sent' })
      if (link?.leastMs) for (const load of design.loads.keys()) event({ kind: 'least', load })
      if (design.loads.some(l => l.output.kind === 'held')) event({ kind: 'repeat' })
      if (this.question === 'restart') event({ kind: 'restart' })
    }
    for (const t of this.timers) event({ kind: 'timer', ...t })
    if (surface && this.loses) eachPlace(places, 'loseUp', 'loseDown')
    for (const kind of ['save', 'cut', 'powerOn'] as const) event({ kind })
    this.controller =
      known?.controller ?? new ControllerTable(program, this.messages, this.link, list, this.timers)
    tables?.set(surfaceId ?? '', this)
    this.acts = {
      off: 0,
      save: 1,
      up: 2,
      down: 3,
      tell: 4,
      sent: 5,
      least,
      boot,
      timer,
      message: list.length,
    }
    const [hand] = this.hands
    const real = handSurfaces(full)
      .flatMap(s => s.controls)
      .find(c => c.id === gestureOf(program.inputs[0]?.control.id ?? '').controlId)
    const oneHand =
      inTime
      && link !== undefined
      && hand !== undefined
      && real !== undefined
      && program.inputs.every(i => gestureOf(i.control.id).controlId === real.id)
      && worstWayMs(link) < leastGapMs(real)
    this.pace = new Pace(oneHand && !this.echoes ? this.hands.map(h => h.event) : [])
    this.watch = new Watch(this, this.copiesAct)
    this.tidy = new Tidy(this, this.datagrams)
    this.rows = rowsOf(this)
    this.changing = this.rows.find(r => r.each === 'changes') as Row
    this.first = this.connected()
    this.least = Math.max(2, this.burst())
  }

  /** Everything connected for the first time, all messages of that delivered, at rest. */
  initial(): Int32Array {
    return this.first
  }

  private connected(): Int32Array {
    const w0 =
      (this.controller.move(this.controller.start(), this.acts.boot) & NEXT.controller) | POWER
    const { panel } = this
    if (!panel) return Int32Array.of(w0, 0, 0, 0)
    // What comes back of that may go round for ever, and come to more than one end.
    if (this.echoes) return Int32Array.of(w0, panel.start(), 0, 0)
    const most = this.room
    this.room = 2 * MOST_EACH_WAY
    let s = this.after(
      Int32Array.of(w0, panel.start(), 0, 0),
      this.at.return as number,
    ) as Int32Array
    for (;;) {
      const free =
        this.at.least === undefined || !this.inTime
          ? -1
          : this.design.loads.findIndex((_, load) => this.isHeldBack(this.controllerOf(s), load))
      const next =
        this.after(s, this.at.deliverUp as number)
        ?? this.after(s, this.at.deliverDown as number)
        ?? (this.at.sent === undefined ? null : this.after(s, this.at.sent))
        ?? (free < 0 ? null : this.after(s, (this.at.least as number) + free))
      if (!next) break
      s = next
    }
    this.room = most
    return s
  }

  /**
   * Messages that a connection brings about at once: there has to be room for them, or no link ever
   * returns.
   */
  private burst(): number {
    const { panel, controller } = this
    if (!panel) return 0
    const s = this.first
    const told = (controller.move(this.controllerOf(s), this.acts.up) >>> SENDS.controller) & 7
    const gone = panel.move(this.panelOf(s), PANEL.linkDown) & NEXT.panel
    return (
      this.copies
      * (told
        + ((panel.move(gone, PANEL.linkUp) >>> SENDS.panel) & 7)
        + (this.question === 'restart'
          ? (panel.move(panel.move(gone, PANEL.restart) & NEXT.panel, PANEL.linkUp) >>> SENDS.panel)
            & 7
          : 0))
    )
  }

  /** The situation after one event, or null where it cannot happen. */
  after(s: Int32Array, event: number): Int32Array | null {
    const only = new Only(event, this.tidy)
    const [w0 = 0, w1 = 0, up = 0, down = 0] = s
    const { overflows } = this
    this.watch.ends = false
    const own = this.elsewhere.find(e => e.event === event)
    // Of several changes that come to the same only one is expanded; here each is.
    if (own) {
      if (this.powered(s)) move(this, this.changing, own.act, event, w0, w1, up, down, only)
    } else expand(this, w0, w1, up, down, only, false)
    this.watch.ends = true
    this.overflows = overflows
    this.renamed = only.renamed
    return only.after
  }

  /**
   * Whether so many more may be under way. `length`: of the way that they go. What answers a
   * message always finds room, as far as words go; what is watched has room of its own.
   */
  hasRoom(
    w1: number,
    up: number,
    down: number,
    length: number,
    count: number,
    row: Pick<Row, 'message' | 'note'>,
  ): boolean {
    const longest = this.echoes ? Math.max(lengthOf(up), lengthOf(down)) : length
    if (
      longest + count <= MOST_EACH_WAY
      && (row.message !== undefined
        || row.note === 'watched'
        || lengthOf(up) + lengthOf(down) - this.watch.watched(w1) + this.copies * count
          <= this.room)
    )
      return true
    this.overflows++
    return false
  }

  /**
   * The first number, from 0, that nothing under way carries and nobody waits with, nor those that
   * follow it here.
   */
  freshNumber(p: number, up: number): number {
    if (!this.numbered) return 0
    const { panel } = this
    if (!panel) return 0
    const used = this.inUse(p, up)
    const several = (1 << Math.min(NUMBERS, this.design.loads.length)) - 1
    for (let n = 0; n < NUMBERS; n++) if ((used & (several << (n + 1))) === 0) return n
    throw new TooLarge('more numbers of commands are in use at once than the search knows')
  }

  /** The surface waits with a number that the board has seen: said again it does nothing. */
  waitsInVain(w0: number, w1: number): boolean {
    const [number = 0] = this.panel?.waitingNumbers(w1 & NEXT.panel) ?? []
    return number !== 0 && this.controller.seenNumbers(w0 & NEXT.controller).includes(number)
  }

  /** Numbers that something under way carries, or the surface waits with, as bits. */
  private inUse(p: number, up: number): number {
    let used = 0
    for (let rest = up; rest !== 0; rest >>>= 8)
      used |= 1 << (this.messages.carried[rest & 0xff] as number)
    for (const number of this.panel?.waitingNumbers(p) ?? []) used |= 1 << number
    return used & ~1
  }

  isUp(s: Int32Array): boolean {
    return this.panel === null || ((s[0] as number) & UP) !== 0
  }
  powered(s: Int32Array): boolean {
    return ((s[0] as number) & POWER) !== 0
  }
  controllerOf(s: Int32Array): number {
    return (s[0] as number) & NEXT.controller
  }
  panelOf(s: Int32Array): number {
    return (s[1] as number) & NEXT.panel
  }
  /** Messages under way, first to arrive first. */
  queueOf(s: Int32Array, dir: 'up' | 'down'): number[] {
    const queue = s[dir === 'up' ? 2 : 3] as number
    return Array.from({ length: MOST_EACH_WAY }, (_, i) => messageAt(queue, i)).filter(Boolean)
  }

  /** The value of the load examined. */
  value(s: Int32Array): string {
    return this.controller.state(this.controllerOf(s)).value[0] as string
  }

  /**
   * Nothing under way, no timer that would send or act, links up, power on; a surface that asks
   * would learn nothing new.
   */
  atRest(w0: number, w1: number, up: number, down: number): boolean {
    const { panel } = this
    if ((up | down) !== 0 || (w0 & (POWER | UP)) !== (POWER | UP) || !panel) return false
    const facts = panel.facts[w1 & NEXT.panel] as number
    if (
      facts & (WAITING | HOLDS)
      || (this.controller.facts[w0 & NEXT.controller] as number) & ARMED
    )
      return false
    return !this.wouldBeTold(w0, w1)
  }

  /**
   * At rest, but for what goes on for ever or waits for a finger: blinking, a key that is held
   * down.
   */
  settled(w0: number, w1: number, up: number, down: number): boolean {
    const { panel } = this
    const facts = panel ? (panel.facts[w1 & NEXT.panel] as number) : 0
    if (facts & HOLDS) return true
    if ((w0 & POWER) === 0 || !((this.controller.facts[w0 & NEXT.controller] as number) & LASTING))
      return false
    if (!panel) return true
    if ((up | down) !== 0 || (w0 & UP) === 0 || facts & WAITING) return false
    return !this.wouldBeTold(w0, w1)
  }

  /**
   * Something is still to come that needs nobody: an answer to a question, or the whole state, that
   * says something new.
   */
  wouldBeTold(w0: number, w1: number): boolean {
    const [c, p] = [w0 & NEXT.controller, w1 & NEXT.panel]
    return (
      (((this.panel as PanelTable).facts[p] as number) & POLLS && this.learnsByAsking(c, p))
      || (this.tells && this.learnsByBeingTold(c, p))
    )
  }

  /** At rest: -1 what is shown differs, 0 nothing certain is shown, 1 the truth. */
  judge(w0: number, w1: number): -1 | 0 | 1 {
    const shows = this.panel?.shows[w1 & NEXT.panel] ?? -1
    return shows < 0 ? 0 : shows === this.controller.values[w0 & NEXT.controller] ? 1 : -1
  }

  /** Facts of the board that break a promise by themselves. */
  isStuck(w0: number): boolean {
    return ((this.controller.facts[w0 & NEXT.controller] as number) & STUCK) !== 0
  }

  /**
   * What anybody can do to the board in one of its states, as acts and events. Of several that come
   * to the same (an "on" from the one panel or the other) the first stands for all, unless
   * something was noticed on the way.
   */
  private changesOf(c: number): number[] {
    const { controller } = this
    const list: number[] = []
    const known = new Set<string>()
    const add = (act: number, event: number) => {
      const move = controller.move(c, act)
      const key = `${move} ${controller.sentBy(c, act)} ${this.pace.isHand(event)}`
      if (!(move & (DEAD | CLASHED)) && known.has(key)) return
      known.add(key)
      list.push(act, event)
    }
    for (const hand of this.hands) {
      if (hand.bit >= 0) continue
      if (!hand.holds) add(hand.press, hand.event)
      else if (controller.state(c).inputs[hand.input]?.level !== 0)
        add((hand.lever as readonly [number, number])[0], hand.event)
    }
    for (const { event, act } of this.elsewhere) add(act, event)
    return (this.changes[c] = list)
  }

  /**
   * Another surface that does the same to the board as a hand control would; null where none can.
   */
  insteadOf(s: Int32Array, event: number): number | null {
    const hand = this.hands.find(h => h.event === event && h.bit < 0 && !h.holds)
    if (!hand) return null
    const { controller } = this
    const c = this.controllerOf(s)
    const same = (act: number) =>
      controller.move(c, act) === controller.move(c, hand.press)
      && controller.sentBy(c, act) === controller.sentBy(c, hand.press)
    return (
      this.elsewhere.find(e => same(e.act) && this.events[e.event]?.kind === 'other')?.event ?? null
    )
  }

  /** For the code that is made, too. */
  comeBack(w0: number, w1: number, sink: Sink): void {
    const { controller, panel } = this
    if (!panel) return
    let p = w1 & NEXT.panel
    if ((panel.facts[p] as number) & CONNECTED) p = panel.move(p, PANEL.linkDown) & NEXT.panel
    const c = w0 & NEXT.controller
    const told = controller.move(c, this.acts.up)
    const asked = panel.move(p, PANEL.linkUp)
    const [tells, asks] = [(told >>> SENDS.controller) & 7, (asked >>> SENDS.panel) & 7]
    const each = this.echoes ? tells + asks : Math.max(tells, asks)
    if (this.copies * (tells + asks) > this.room || each > MOST_EACH_WAY) {
      this.overflows++
      return
    }
    const next0 = (w0 & ~NEXT.controller) | UP | (told & NEXT.controller)
    const next1 = (w1 & ~NEXT.panel) | (asked & NEXT.panel)
    const [up, down] = [
      asks ? panel.sentBy(p, PANEL.linkUp) : 0,
      tells ? controller.sentBy(c, this.acts.up) : 0,
    ]
    if (!this.echoes) return this.tidy.add(next0, next1, up, down, this.at.return as number, sink)
    this.tidy.add(
      next0,
      next1,
      behind(up, this.echoOf(down, 'down')),
      behind(down, this.echoOf(up, 'up')),
      this.at.return as number,
      sink,
    )
  }

  echoOf(said: number, dir: 'up' | 'down'): number {
    if (said === 0) return 0
    const key = dir === 'up' ? said : -1 - said
    let back = this.backs.get(key)
    if (back === undefined) {
      const sent = Array.from({ length: lengthOf(said) }, (_, i) => messageAt(said, i)).filter(m =>
        this.isHeard(m, dir),
      )
      this.backs.set(
        key,
        (back = sent.reduce((all, m, i) => all | (this.messages.echoed(m) << (8 * i)), 0)),
      )
    }
    return back
  }

  /**
   * Whether what comes back could mean something to its sender. Where codes follow one another a
   * part of it may.
   */
  private isHeard(message: number, dir: 'up' | 'down'): boolean {
    const { text = '' } = this.messages.texts[message] ?? {}
    const board = this.controller.program.links[this.link]
    const panel = this.panel?.program
    const reader = dir === 'down' ? board?.reader : panel?.reader
    if (!reader || reader.end === '' || (dir === 'down' && board?.error !== '')) return true
    return feedAll(reader, '', text).heard.some(
      h => h.kind === 'code' || (dir === 'up' && h.bytes === panel?.refusal),
    )
  }

  /** A key asks something of the load examined. */
  isAbout(key: PanelKeyAct): boolean {
    return 'scene' in key
      ? this.design.scenes[key.scene]?.sets.some(x => x.loadId === this.loadId) === true
      : key.load === 0
  }

  isHeldBack(c: number, load: number): boolean {
    const least = this.controller.state(c).links[this.link]?.least?.[load]
    return least !== undefined && (this.inTime ? least.freeAt !== null : least.owed)
  }

  isDown(c: number, input: number): boolean {
    return this.controller.state(c).inputs[input]?.level === 0
  }

  /**
   * What keeps a timer from running out here: a surface that holds it, or an answer that comes
   * before it.
   */
  heldBack(timer: number, w0: number, w1: number, underWay: number): boolean {
    const isComing =
      underWay !== 0 || ((this.controller.facts[w0 & NEXT.controller] as number) & OWES) !== 0
    return (
      (isComing && this.slow[timer] === true)
      || (this.keptAlive[timer] === true && this.holdsNow(w0, w1))
    )
  }

  get holdsBack(): boolean {
    return this.slow.includes(true) || this.keptAlive.includes(true)
  }

  canEnd(c: number, { load, sensor, direction, closed }: End): boolean {
    const state = this.controller.state(c)
    const motion = state.motion[load]
    if (motion?.kind !== 'opposed') return false
    const isClosed = (state.samples[sensor]?.[0] ?? 0) !== 0
    return (
      isClosed !== closed
      && (closed
        ? motion.driven === direction
        : motion.driven !== 'stop' && motion.driven !== direction)
    )
  }

  learnsByBeingTold(c: number, p: number): boolean {
    return this.heardAfter(p, c, this.acts.tell) !== p
  }

  /**
   * The state of the surface after it heard what the board says on an act, and all that waits to be
   * said.
   */
  private heardAfter(p: number, c: number, act: number): number {
    const { controller } = this
    for (let next = act; ; next = this.acts.sent) {
      const told = controller.move(c, next)
      p = this.heardBy(p, (told >>> SENDS.controller) & 7, controller.sentBy(c, next))
      c = told & NEXT.controller
      if (((controller.facts[c] as number) & QUEUED) === 0) return p
    }
  }

  /** The state of the surface after it heard messages, one after another. */
  private heardBy(p: number, count: number, texts: number): number {
    const panel = this.panel as PanelTable
    for (let i = 0; i < count; i++)
      p = panel.move(p, panel.message(messageAt(texts, i))) & NEXT.panel
    return p
  }

  private learnsByAsking(c: number, p: number): boolean {
    const key = p * (NEXT.controller + 1) + c
    let learns = this.learns.get(key)
    if (learns === undefined) this.learns.set(key, (learns = this.wouldLearn(c, p)))
    return learns
  }

  /** Whether a surface that asks would believe something else after the answer. */
  wouldLearn(c: number, p: number): boolean {
    const panel = this.panel as PanelTable
    const asked = panel.move(p, PANEL.poll)
    const question = messageAt(panel.sentBy(p, PANEL.poll), 0)
    const act = this.acts.message + question
    return this.heardAfter(asked & NEXT.panel, c, act) !== p
  }

  private keysOf(surfaceId: string): PanelKeyAct[] {
    const { design } = this
    const surface = remoteOf(design, surfaceId)
    const link = design.links[this.link] as Link
    const keys = design.loads.flatMap((load, i) =>
      (link.messages as { loadId: string }[]).some(m => m.loadId === load.id)
        ? wantsOn(surface.keys, load).map(want => ({ load: i, want }))
        : [],
    )
    const scenes =
      surface.kind === 'panel'
        ? design.scenes.flatMap((s, scene) =>
            surface.parts.some(p => p.form === 'scene' && p.sceneId === s.id)
            && (link.scenes[s.id] ?? '') !== ''
              ? [{ scene }]
              : [],
          )
        : []
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
          if (text !== '')
            list.push([
              { kind: 'other', link: i, load: loadAt(m.loadId), want },
              { do: 'command', link: i, text },
            ])
        }
      }
      design.scenes.forEach((scene, n) => {
        const text = wireOf(link, link.scenes[scene.id] ?? '', 'command')
        if (
          text !== ''
          && speaker?.kind === 'panel'
          && speaker.parts.some(p => p.form === 'scene' && p.sceneId === scene.id)
        )
          list.push([
            { kind: 'otherScene', link: i, scene: n },
            { do: 'command', link: i, text },
          ])
      })
    })
    let knob = 0
    design.sensors.forEach((sensor, s) => {
      if (sensor.kind === 'infrared')
        sensor.keys.forEach((k, key) => {
          if (loadAt(k.loadId) >= 0)
            list.push([
              { kind: 'remote', sensor: s, key },
              { do: 'remote', sensor: s, key },
            ])
        })
      if (sensor.kind !== 'knob') return
      for (const detents of [1, -1] as const)
        list.push([
          { kind: 'turn', knob, detents },
          { do: 'turn', knob, detents },
        ])
      knob++
    })
    design.rules.forEach((r, rule) =>
      list.push([
        { kind: 'rule', rule },
        { do: 'cross', sensor: design.sensors.findIndex(s => s.id === r.sensorId) },
      ]),
    )
    return list
  }

  private holdsNow(w0: number, w1: number): boolean {
    return (
      (w0 & UP) !== 0
      && (((this.panel as PanelTable).facts[w1 & NEXT.panel] as number) & HOLDS) !== 0
    )
  }

  /** What is where, for whoever writes the system down. */
  get layout() {
    const {
      acts,
      hands,
      elsewhere,
      ends,
      timers,
      datagrams,
      copiesAct,
      loses,
      patient,
      unhurried,
      sparse,
      answered,
      leaving,
    } = this
    return {
      ...acts,
      hands,
      elsewhere,
      ends,
      timers,
      datagrams,
      copiesAct,
      loses,
      patient,
      unhurried,
      sparse,
      answered,
      leaving,
      first: this.at as Record<string, number | undefined>,
    }
  }

  /** `changesOf`, remembered. */
  changesAt(c: number): readonly number[] {
    return this.changes[c] ?? this.changesOf(c)
  }
}
