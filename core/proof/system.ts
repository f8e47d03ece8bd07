/**
 * One load and one surface that speaks of it, as a finite system. Other surfaces matter to it only
 * by the commands they send, so they appear as commands that may arrive at any time: what holds
 * here holds whatever the others believe, and the search of a load grows with the sum of its
 * surfaces instead of their product. Without a surface it is the board and whoever commands it.
 * Nothing is counted: presses, losses, drops, starts and cuts may happen at any moment, any number
 * of times. Only what is under way at once is limited, by `room`.
 */
import { farSurfaceOf, showsState } from '../design/find'
import { isDatagram, takesOnce } from '../design/links/traits'
import type { Design, FarSurface, Link } from '../design/schema'
import { compileController } from '../controller/program'
import { feedAll } from '../messages/stream'
import { compileSurface } from '../surfaces/surface'
import { expand, move } from './expand'
import { statedTimes, timeless, type StatedTimes } from './stated-times'
import type { End, Frame, Hand, Question, Row, Sink } from './frame'
import type { SystemEvent } from './happenings'
import { ARMED, ControllerTable, LASTING, OWES, QUEUED, STUCK } from './tables/controller'
import { CLASHED, DEAD, NEXT, SENDS, TooLarge } from './tables/table'
import {
  CONNECTED,
  HOLDS,
  NUMBERS,
  PANEL,
  SurfaceTable,
  POLLS,
  WAITING,
  type PanelKeyAct,
} from './tables/surface'
import { Messages, type Ordered } from './tables/messages'
import { Numbering } from './numbering'
import { outputTimers } from '../controller/outputs/rows'
import { behind, lengthOf, messageAt, MOST_EACH_WAY, POWER, UP } from './packing'
import { Pace } from './pace'
import { project, searchesEchoes } from './project'
import { Tidy } from './tidy'
import { rowsOf } from './transitions'
import { Watch } from './watch'
import { isOpposedMotion } from '../controller/outputs/motion'
import { commandsFromElsewhere, keysOf } from './elsewhere'

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

/** What a link does to messages, as far as the search asks. */
function whatItDoes(full: Design, link: Link | undefined): typeof NO_LINK {
  if (!link) return NO_LINK
  const datagrams = isDatagram(link)
  const auth = full.links.find(l => l.id === link.id)?.auth ?? { kind: 'none' }
  return {
    numbered: link.numbered !== null,
    echoes: searchesEchoes(full, link.id),
    datagrams,
    copiesAct: datagrams && !takesOnce(auth),
    loses: link.timing.lossPerMille > 0,
    tells: link.everyMs > 0,
  }
}
const NO_LINK = {
  numbered: false,
  echoes: false,
  datagrams: false,
  copiesAct: false,
  loses: false,
  tells: false,
}

function panelTable(design: Design, surface: FarSurface, messages: Messages): SurfaceTable {
  return new SurfaceTable(compileSurface(design, surface.id), messages, keysOf(design, surface))
}

const usual = (surfaceId: string | null): Question => (surfaceId === null ? 'board' : 'truth')

/** What is asked beside one load is left out; another search may have done so before. */
function projected(full: Design, loadId: string, { neighbours, tables }: SystemOptions): Design {
  const [another] = tables?.values() ?? []
  return another?.design ?? project(full, loadId, neighbours ? { neighbours } : {})
}

export class System implements Frame {
  readonly design: Design
  readonly messages: Messages
  readonly controller: ControllerTable
  readonly panel: SurfaceTable | null
  readonly link: number
  readonly events: readonly SystemEvent[]
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
  private readonly acts: Numbering['firstActs']
  private readonly at: Numbering['at']
  private readonly learns = new Map<number, boolean>()
  private readonly changes: number[][] = []
  private readonly backs = new Map<number, number>()

  private readonly first: Int32Array
  /** The least room that a search can begin with. */
  readonly least: number
  readonly question: Question
  private readonly inTime: boolean
  private readonly times: StatedTimes

  constructor(
    full: Design,
    readonly loadId: string,
    surfaceId: string | null,
    { question, inTime = false, neighbours, tables }: SystemOptions = {},
  ) {
    this.inTime = inTime
    this.question = question ?? usual(surfaceId)
    const key = surfaceId ?? ''
    const known = tables?.get(key)
    this.design = known?.design ?? projected(full, loadId, { neighbours, tables })
    const { design } = this
    const surface = surfaceId === null ? null : farSurfaceOf(design, surfaceId)
    this.showsIt = surface !== null && showsState(surface)
    this.link = design.links.findIndex(l => l.id === surface?.linkId)
    const link = design.links[this.link]
    const does = whatItDoes(full, link)
    this.numbered = does.numbered
    this.echoes = does.echoes
    this.copies = this.echoes ? 2 : 1
    this.messages = known?.messages ?? new Messages(link ?? null)
    this.datagrams = does.datagrams
    this.copiesAct = does.copiesAct
    this.loses = does.loses
    this.tells = does.tells
    this.panel = known ? known.panel : surface && panelTable(design, surface, this.messages)
    const program = known?.controller.program ?? compileController(design)
    this.timers = design.loads.flatMap(({ output }, load) =>
      outputTimers(output, program.holders).map((_, slot) => ({ load, slot })),
    )
    const looked = { full, projected: design, surface, program, timers: this.timers }
    this.times = inTime ? statedTimes({ ...looked, echoes: this.echoes }) : timeless(looked)
    this.ordered = { datagrams: this.datagrams, echoesFirst: this.times.echoesFirst }
    const numbers = new Numbering({
      ...{ design, surface, link, program, timers: this.timers, question: this.question },
      ...{ datagrams: this.datagrams, echoes: this.echoes, loses: this.loses, tells: this.tells },
      keys: this.panel?.keys ?? [],
      elsewhere: commandsFromElsewhere(design, this.link),
    })
    this.events = numbers.events
    this.at = numbers.at
    this.acts = numbers.firstActs
    this.hands = numbers.hands
    this.elsewhere = numbers.elsewhere
    this.ends = numbers.ends
    this.controller =
      known?.controller
      ?? new ControllerTable(program, this.messages, this.link, numbers.acts, this.timers)
    tables?.set(key, this)
    this.pace = new Pace(this.times.oneSlowHand ? this.hands.map(h => h.event) : [])
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
      (((this.panel as SurfaceTable).facts[p] as number) & POLLS && this.learnsByAsking(c, p))
      || (this.tells && this.learnsByBeingTold(c, p))
    )
  }

  /** At rest: -1 what is shown differs, 0 nothing certain is shown, 1 the truth. */
  judge(w0: number, w1: number): -1 | 0 | 1 {
    const shows = this.panel?.shows[w1 & NEXT.panel] ?? -1
    if (shows < 0) return 0
    return shows === this.controller.values[w0 & NEXT.controller] ? 1 : -1
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
      (isComing && this.times.slow[timer] === true)
      || (this.times.keptAlive[timer] === true && this.holdsNow(w0, w1))
    )
  }

  get holdsBack(): boolean {
    return this.times.slow.includes(true) || this.times.keptAlive.includes(true)
  }

  canEnd(c: number, { load, sensor, direction, closed }: End): boolean {
    const state = this.controller.state(c)
    const motion = state.motion[load]
    if (!isOpposedMotion(motion)) return false
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
    const panel = this.panel as SurfaceTable
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
    const panel = this.panel as SurfaceTable
    const asked = panel.move(p, PANEL.poll)
    const question = messageAt(panel.sentBy(p, PANEL.poll), 0)
    const act = this.acts.message + question
    return this.heardAfter(asked & NEXT.panel, c, act) !== p
  }

  private holdsNow(w0: number, w1: number): boolean {
    return (
      (w0 & UP) !== 0
      && (((this.panel as SurfaceTable).facts[w1 & NEXT.panel] as number) & HOLDS) !== 0
    )
  }

  /** What is where, for whoever writes the system down. */
  get layout() {
    const { acts, hands, elsewhere, ends, timers, datagrams, copiesAct, loses, times } = this
    const first = this.at as Record<string, number | undefined>
    return { ...acts, ...times, hands, elsewhere, ends, timers, datagrams, copiesAct, loses, first }
  }

  /** `changesOf`, remembered. */
  changesAt(c: number): readonly number[] {
    return this.changes[c] ?? this.changesOf(c)
  }
}
