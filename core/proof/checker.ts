/**
 * Looks at a certificate again. Written apart from the search: no table of transitions, no made
 * code, no packing tricks; it knows what can happen, what becomes of messages, what is watched and
 * what rest is, said a second time, and uses the tabulated step functions of board and surface
 * (machines.ts) and the projection, as everything does. Each situation is looked at once.
 */
import { compileController } from '../controller/program'
import { farSurfaceOf, farSurfaces, linkOf, loadOf, scenesOn, showsState } from '../design/find'
import { isDatagram, takesOnce } from '../design/links/traits'
import type { Design, Link } from '../design/schema'
import { wantsOn } from '../design/values'
import { wireOf } from '../design/wire'
import { feedAll } from '../messages/stream'
import { compileSurface } from '../surfaces/surface'
import type { Certificate } from './certificate'
import { asksRest } from './frame'
import {
  ABOUT,
  ACTED,
  ASKED,
  ASKS,
  ASTRAY,
  CLASHED,
  DEAD,
  NEXT,
  SENDS,
  TooLarge,
} from './tables/table'
import {
  ARMED,
  ControllerTable,
  LASTING,
  QUEUED,
  SAVING,
  STUCK,
  type Act,
} from './tables/controller'
import {
  CONNECTED,
  HOLDS,
  PANEL,
  SurfaceTable,
  POLLS,
  WAITING,
  type PanelKeyAct,
} from './tables/surface'
import { Messages } from './tables/messages'
import { outputTimers } from '../controller/outputs/rows'
import { project, searchesEchoes } from './project'
import { isKnob, isReceiver, asksByWay } from '../design/sensors/traits'
import { isOpposedMotion } from '../controller/outputs/motion'
import { askedBy, holdsLoad } from '../design/targets'

/**
 * A situation as an object. `tags`: by message on its way up, whether it is the press that is
 * watched.
 */
interface Situation {
  board: number
  surface: number
  power: boolean
  up: boolean
  levers: number
  upward: number[]
  downward: number[]
  tags: boolean[]
  taken: boolean
  did: boolean
  watching: boolean
  outdone: boolean
  asked: number
  /** 1 after a start of the surface, 2 a step up was asked for since, 3 a step down. */
  started: number
}
type Add = (next: Situation | null, quiet: boolean, breaks?: string) => void

interface Follows {
  s: Situation | null
  quiet: boolean
  breaks?: string
}

const EACH_WAY = 4
/** Facts of a move that break a promise of the board alone. */
const BREAKS: readonly [bit: number, words: string][] = [
  [DEAD, 'a hand control does nothing'],
  [CLASHED, 'both directions without a rest'],
  [ASTRAY, 'after a start it is not as its policy says'],
]

/** Null where the certificate shows that the promise holds; else what is wrong with it. */
export function checked(full: Design, certificate: Certificate): string | null {
  try {
    return new Checker(full, certificate).run()
  } catch (error) {
    if (error instanceof TooLarge) return error.message
    throw error
  }
}

class Checker {
  private readonly design: Design
  private readonly link: Link | null
  private readonly messages: Messages
  private readonly boards: ControllerTable
  private readonly surfaces: SurfaceTable | null
  private readonly shows: boolean
  private readonly datagrams: boolean
  private readonly copies: boolean
  private readonly repeats: boolean
  private readonly echoes: boolean
  private readonly known = new Map<string, number>()
  private readonly counted = new Map<
    string,
    Pick<Situation, 'board' | 'surface' | 'upward' | 'tags'>
  >()
  private readonly acts: Act[] = []
  private readonly timers: { load: number; slot: number; act: number }[]
  private readonly hands: {
    input: number
    press: number
    level: readonly [number, number]
    bit: number
    holds: boolean
  }[]
  private readonly others: number[]
  private readonly ends: {
    act: number
    sensor: number
    load: number
    direction: 'forward' | 'reverse'
    closed: boolean
  }[]
  private readonly act: Record<'off' | 'save' | 'up' | 'down' | 'tell' | 'sent', number>
  private readonly boot: number[]
  private readonly leasts: number[]

  constructor(
    full: Design,
    private readonly certificate: Certificate,
  ) {
    const { loadId, surfaceId } = certificate
    const design = (this.design = project(full, loadId))
    const surface = surfaceId === null ? null : farSurfaceOf(design, surfaceId)
    const link = (this.link = surface && linkOf(design, surface.linkId))
    this.shows = surface !== null && showsState(surface)
    this.datagrams = link !== null && isDatagram(link)
    this.copies = this.datagrams && link !== null && !takesOnce(linkOf(full, link.id).auth)
    this.repeats = surface?.belief.policy === 'confirm' && surface.belief.retries > 0
    this.messages = new Messages(link)
    this.echoes = link !== null && searchesEchoes(full, link.id)
    const act = (a: Act) => this.acts.push(a) - 1
    this.act = {
      off: act({ do: 'powerOff' }),
      save: act({ do: 'save' }),
      up: act({ do: 'linkUp' }),
      down: act({ do: 'linkDown' }),
      tell: act({ do: 'tell' }),
      sent: act({ do: 'sent' }),
    }
    this.leasts = design.loads.map((_, load) => act({ do: 'least', load }))
    const program = compileController(design)
    const latching = program.inputs.flatMap(({ control }, i) =>
      control.kind === 'latching' ? [i] : [],
    )
    this.boot = Array.from({ length: 1 << latching.length }, (_, levers) =>
      act({ do: 'boot', levers }),
    )
    this.timers = design.loads.flatMap(({ output }, load) =>
      outputTimers(output, program.holders).map((_, slot) => ({
        load,
        slot,
        act: act({ do: 'timer', load, slot }),
      })),
    )
    this.hands = program.inputs.map(({ control, load }, input) => ({
      input,
      press: act({ do: 'press', input }),
      level: [act({ do: 'lever', input, level: 0 }), act({ do: 'lever', input, level: 1 })],
      bit: latching.indexOf(input),
      holds: holdsLoad(control, design.loads[load]?.output),
    }))
    this.others = this.elsewhere().map(act)
    this.ends = program.ends.flatMap(e =>
      [true, false].map(closed => ({
        ...e,
        closed,
        act: act({ do: 'end', sensor: e.sensor, load: e.load, closed }),
      })),
    )
    this.boards = new ControllerTable(
      program,
      this.messages,
      link ? design.links.indexOf(link) : -1,
      this.acts,
      this.timers,
    )
    this.surfaces =
      surface && new SurfaceTable(compileSurface(design, surface.id), this.messages, this.keys())
  }

  run(): string | null {
    const {
      certificate: { situations, boards, surfaces, messages, ranks, question },
    } = this
    // Numbers have to stand for the same things here as there.
    if (!messages.every((m, i) => i === 0 || this.messages.number(m.text, m.via, m.echo) === i))
      return 'its messages are not in order'
    if (!boards.every((b, i) => this.boards.enter(b) === i))
      return 'its states of the board are not in order'
    if (!surfaces.every((p, i) => this.surfaces?.enter(p) === i))
      return 'its states of the surface are not in order'
    const all: Situation[] = []
    for (let i = 0; i < situations.length; i += 4) {
      const s = this.unpacked(situations.slice(i, i + 4) as [number, number, number, number])
      this.known.set(this.keyOf(s), all.length)
      all.push(s)
    }
    if (!this.known.has(this.keyOf(this.first()))) return 'the first situation is not in it'
    for (const [i, s] of all.entries()) {
      const broken = this.breaks(s)
      if (broken) return `situation ${i}: ${broken}`
      let restful = !asksRest(question) || this.settled(s)
      for (const { s: next, quiet, breaks } of this.follows(s)) {
        if (!next) continue
        if (breaks) return `situation ${i}: ${breaks}`
        if (question === 'twice' && this.isOver(next)) continue
        const at = this.known.get(this.keyOf(this.tidy(next)))
        if (at === undefined) return `situation ${i} leads to one that is not in it`
        restful ||= quiet && (ranks[at] as number) < (ranks[i] as number)
      }
      if (!restful) return `situation ${i} never comes to rest`
    }
    return null
  }

  private unpacked([w0, w1, up, down]: [number, number, number, number]): Situation {
    const queue = (word: number) =>
      [0, 8, 16, 24].map(at => (word >>> at) & 0xff).filter(m => m !== 0)
    const upward = queue(up)
    const bit = (word: number, at: number) => ((word >>> at) & 1) === 1
    return {
      board: w0 & 0xffff,
      power: bit(w0, 16),
      up: bit(w0, 17),
      levers: (w0 >>> 18) & 63,
      surface: w1 & 0x3ffff,
      upward,
      downward: queue(down),
      tags: upward.map((_, i) => bit(w1, 18 + i)),
      taken: bit(w1, 22),
      did: bit(w1, 23),
      watching: bit(w1, 24),
      outdone: bit(w1, 25),
      asked: (w1 >>> 26) & 3,
      started: (w1 >>> 28) & 3,
    }
  }

  private keyOf(s: Situation): string {
    let [up, down, tags] = [0, 0, 0]
    for (let i = 0; i < s.upward.length; i++) {
      up = up * 256 + (s.upward[i] as number)
      if (s.tags[i]) tags |= 1 << i
    }
    for (let i = 0; i < s.downward.length; i++) down = down * 256 + (s.downward[i] as number)
    // Two numbers below 2 ** 53 hold the rest.
    const board =
      (((s.board * 4 + Number(s.power) * 2 + Number(s.up)) * 64 + s.levers) * 16 + tags) * 16
      + s.asked * 4
      + s.started
    const surface =
      (s.surface * 16
        + Number(s.taken) * 8
        + Number(s.did) * 4
        + Number(s.watching) * 2
        + Number(s.outdone))
      * 2 ** 8
    return `${board} ${surface} ${up} ${down}`
  }

  private first(): Situation {
    const board = this.boards.move(this.boards.start(), this.boot[0] as number) & NEXT.controller
    const off: Situation = {
      board,
      surface: this.surfaces?.start() ?? 0,
      power: true,
      up: false,
      levers: 0,
      upward: [],
      downward: [],
      tags: [],
      taken: false,
      did: false,
      watching: false,
      outdone: false,
      asked: 0,
      started: 0,
    }
    if (!this.surfaces || this.echoes) return off
    let s = this.returns(off, Infinity)
    for (let next = s; next; next = this.byTheFirst(next)) s = next
    return this.tidy(s ?? off)
  }

  /** What breaks the promise in a situation by itself; "" = nothing. */
  private breaks(s: Situation): string {
    const { question } = this.certificate
    if (question === 'board') return this.fact(s, STUCK) ? 'it is on, and nothing ends it' : ''
    if (question === 'twice')
      return s.watching
        && !s.taken
        && this.rests(s)
        && (!this.shows
          || (this.shown(s) >= 0
            && this.shown(s) !== this.value(s)
            && (this.shown(s) & ASKED) === s.asked))
        ? 'a press vanished'
        : ''
    if (s.started !== 0 || !this.rests(s)) return ''
    return this.shown(s) === this.value(s) ? '' : 'at rest, and the truth is not shown'
  }

  private value(s: Situation): number {
    return this.boards.values[s.board] as number
  }
  private shown(s: Situation): number {
    return this.surfaces?.shows[s.surface] ?? -1
  }
  private fact(s: Situation, bit: number): boolean {
    return ((this.boards.facts[s.board] as number) & bit) !== 0
  }
  private has(s: Situation, bit: number): boolean {
    return ((this.surfaces?.facts[s.surface] ?? 0) & bit) !== 0
  }

  private rests(s: Situation): boolean {
    return (
      s.power
      && s.up
      && !s.upward.length
      && !s.downward.length
      && !this.has(s, WAITING | HOLDS)
      && !this.fact(s, ARMED)
      && !this.learns(s)
    )
  }

  /** At rest, but for what goes on for ever or waits for a finger. */
  private settled(s: Situation): boolean {
    return (
      this.has(s, HOLDS)
      || (s.power
        && this.fact(s, LASTING)
        && s.up
        && !s.upward.length
        && !s.downward.length
        && !this.has(s, WAITING)
        && !this.learns(s))
    )
  }

  /** What is under way first arrives, up before down, or what waits leaves; null = nothing is. */
  private byTheFirst(s: Situation): Situation | null {
    if (s.upward.length) return this.hears(s, 0, false).s
    if (s.downward.length) return this.told(s, 0, false)
    return this.fact(s, QUEUED) ? this.does(s, this.act.sent) : null
  }

  /** A question, or the whole state told from time to time, would bring something new. */
  private learns(s: Situation): boolean {
    const asks = this.has(s, POLLS) ? this.says(s, PANEL.poll) : null
    const tells = this.link?.everyMs ? this.does(s, this.act.tell) : null
    return [asks, tells].some(after => {
      for (let next = after && this.withoutBacks(after); next; next = this.byTheFirst(next))
        after = next = this.withoutBacks(next)
      return after !== null && after.surface !== s.surface
    })
  }

  private follows(s: Situation): Follows[] {
    const list: Follows[] = []
    const add: Add = (next, quiet, breaks = '') => list.push({ s: next, quiet, breaks })
    if (this.surfaces) {
      const still = !s.upward.length && !s.downward.length
      this.arrivals(s, add)
      this.inTime(s, this.surfaces, still, add)
      this.presses(s, still, add)
      this.falls(s, this.surfaces, add)
    }
    this.byItself(s, add)
    if (s.power)
      this.noticed(s, this.act.off, { ...this.fallen(s), power: false }, false, ASTRAY, add)
    if (!s.started) this.people(s, add)
    return list
  }

  /** Messages that are under way. */
  private arrivals(s: Situation, add: Add): void {
    // What comes back may come before what was sent earlier, and in its own order.
    if (this.echoes) {
      const heard = this.hears(s, this.backAt(s.upward), false)
      add(heard.s, true, heard.breaks)
      add(this.told(s, this.backAt(s.downward), false), true)
    }
    for (let n = 0; n < (this.datagrams ? EACH_WAY : 1); n++) {
      this.arrives(s, n, add)
      if (this.link?.timing.lossPerMille) this.isLost(s, n, add)
    }
  }

  /** Of each way the message in place `n`; a datagram may also be heard once more. */
  private arrives(s: Situation, n: number, add: Add): void {
    const nothing = { s: null, breaks: '' }
    const backUp = this.isBack(s.upward[n])
    const backDown = this.isBack(s.downward[n])
    const heard = n > 0 && backUp ? nothing : this.hears(s, n, false)
    add(heard.s, true, heard.breaks)
    if (n === 0 || !backDown) add(this.told(s, n, false), true)
    if (!this.datagrams) return
    const copy = this.copies && !backUp ? this.hears(s, n, true) : nothing
    add(copy.s, false, copy.breaks)
    if (!backDown) add(this.told(s, n, true), false)
  }

  private isLost(s: Situation, n: number, add: Add): void {
    if (s.upward[n] && !this.isBack(s.upward[n]))
      add({ ...s, upward: s.upward.toSpliced(n, 1), tags: s.tags.toSpliced(n, 1) }, false)
    if (s.downward[n] && !this.isBack(s.downward[n]))
      add({ ...s, downward: s.downward.toSpliced(n, 1) }, false)
  }

  /** What link, surface and board do when their time has come. */
  private inTime(s: Situation, surfaces: SurfaceTable, still: boolean, add: Add): void {
    if (!s.up) {
      if (this.has(s, CONNECTED)) add(this.says(s, PANEL.linkDown), true)
      if (s.power) add(this.returns(s, this.certificate.room), true)
    }
    if (this.has(s, WAITING)) {
      const tags = s.watching && !s.outdone ? 'all' : 'none'
      add(this.says(s, surfaces.timeout(this.fresh(s)), { tags }), true)
    }
    if (this.has(s, POLLS) && still) add(this.says(s, PANEL.poll), true)
    if (this.link?.everyMs && s.power && s.up && still) add(this.does(s, this.act.tell), true)
    if (this.has(s, HOLDS) && !s.upward.length)
      add(this.says(s, surfaces.repeat(this.fresh(s))), true)
  }

  /** The link, and the surface with it where that is asked. */
  private falls(s: Situation, surfaces: SurfaceTable, add: Add): void {
    if (!s.up) return
    const fallen = this.fallen(s)
    add(this.does(fallen, this.act.down), false)
    if (this.certificate.question !== 'restart' || s.started || !s.power) return
    const surface = surfaces.move(s.surface, PANEL.restart) & NEXT.panel
    add(this.does({ ...fallen, surface, started: 1 }, this.act.down), false)
  }

  /** Keys of the surface. */
  private presses(s: Situation, still: boolean, add: Add): void {
    const { surfaces, certificate } = this
    const { question } = certificate
    surfaces?.keys.forEach((key, i) => {
      const act = surfaces.key(i, this.fresh(s))
      const move = surfaces.move(s.surface, act)
      if (((move >>> SENDS.panel) & 7) === 0) return
      const own =
        'scene' in key
          ? this.design.scenes[key.scene]?.sets.some(x => x.loadId === certificate.loadId) === true
          : key.load === 0
      if (!s.started)
        add(
          this.says(s.watching ? { ...s, taken: true, outdone: s.outdone || own } : s, act),
          false,
        )
      if (question === 'twice' && !s.watching && ((move >>> ABOUT) & 1) === 1)
        add(
          this.says({ ...s, watching: true, asked: (move >>> ASKS) & ASKED }, act, {
            tags: 'first',
          }),
          false,
        )
      if (
        s.started === 1
        && s.up
        && this.has(s, CONNECTED)
        && still
        && !this.learns(s)
        && !('scene' in key)
        && key.load === 0
        && (key.want === 'up' || key.want === 'down')
      )
        add(this.says({ ...s, started: key.want === 'up' ? 2 : 3 }, act), false)
    })
  }

  /** Timers, saving, end contacts, the start of the board, fingers that leave. */
  private byItself(s: Situation, add: Add): void {
    if (!s.power)
      return this.noticed(
        s,
        this.boot[s.levers] as number,
        { ...s, power: true },
        true,
        ASTRAY,
        add,
      )
    for (const i of this.boards.armed[s.board] ?? [])
      add(this.does(s, (this.timers[i] as { act: number }).act), true)
    if (this.fact(s, QUEUED)) add(this.does(s, this.act.sent), true)
    const held = this.link
      ? this.boards.state(s.board).links[this.design.links.indexOf(this.link)]?.least
      : null
    held?.forEach(({ owed }, load) => {
      if (owed) add(this.does(s, this.leasts[load] as number), true)
    })
    if (this.fact(s, SAVING)) add(this.does(s, this.act.save), true)
    const state = this.boards.state(s.board)
    for (const e of this.ends) {
      const motion = state.motion[e.load]
      if (!isOpposedMotion(motion) || ((state.samples[e.sensor]?.[0] ?? 0) !== 0) === e.closed)
        continue
      if (
        e.closed
          ? motion.driven === e.direction
          : motion.driven !== 'stop' && motion.driven !== e.direction
      )
        add(this.does(s, e.act), true)
    }
    for (const h of this.hands)
      if (h.holds && state.inputs[h.input]?.level === 0) add(this.does(s, h.level[1]), true)
  }

  /** Whatever is done elsewhere: at the wall, by a remote, a rule, another surface. */
  private people(s: Situation, add: Add): void {
    const by = s.watching ? { ...s, taken: true } : s
    for (const h of this.hands) {
      if (h.bit >= 0) {
        const levers = s.levers ^ (1 << h.bit)
        if (s.power)
          this.noticed(
            s,
            (levers >>> h.bit) & 1 ? h.level[0] : h.level[1],
            { ...by, levers },
            false,
            DEAD | CLASHED,
            add,
          )
        else add({ ...by, levers }, false)
      } else if (s.power && !h.holds) this.noticed(s, h.press, by, false, DEAD | CLASHED, add)
      else if (s.power && this.boards.state(s.board).inputs[h.input]?.level !== 0)
        this.noticed(s, h.level[0], by, false, DEAD | CLASHED, add)
    }
    if (s.power) for (const act of this.others) this.noticed(s, act, by, false, DEAD | CLASHED, add)
  }

  /**
   * A move of the board in which something may be noticed; of the board alone that breaks a
   * promise.
   */
  private noticed(
    s: Situation,
    act: number,
    before: Situation,
    quiet: boolean,
    looks: number,
    add: Add,
  ): void {
    const found = this.certificate.question === 'board' ? this.boards.move(s.board, act) & looks : 0
    const [, words = ''] = BREAKS.find(([bit]) => found & bit) ?? []
    add(this.does(before, act), quiet, words)
  }

  private fallen(s: Situation): Situation {
    return { ...s, up: false, upward: [], downward: [], tags: [] }
  }

  private hasRoom(s: Situation, way: number, more: number, answers: boolean): boolean {
    const longest = this.echoes ? Math.max(s.upward.length, s.downward.length) : way
    return (
      more === 0
      || (longest + more <= EACH_WAY
        && (answers
          || s.upward.length
            + s.downward.length
            - s.tags.filter(Boolean).length
            + this.underWayEach * more
            <= this.certificate.room))
    )
  }

  /** What comes back is under way too. */
  private get underWayEach(): number {
    return this.echoes ? 2 : 1
  }

  private isBack(message: number | undefined): boolean {
    return this.messages.texts[message ?? 0]?.echo === true
  }

  /** Where what comes back first stands; beyond all where nothing does. */
  private backAt(queue: readonly number[]): number {
    const at = queue.findIndex(m => this.isBack(m))
    return at <= 0 ? queue.length : at
  }

  private withoutBacks(s: Situation): Situation {
    if (!this.echoes) return s
    return {
      ...s,
      upward: s.upward.filter(m => !this.isBack(m)),
      tags: s.tags.filter((_, i) => !this.isBack(s.upward[i])),
      downward: s.downward.filter(m => !this.isBack(m)),
    }
  }

  /**
   * Of what was said, as it comes back: all of it, but for whole messages that mean nothing to who
   * said them.
   */
  private back(said: readonly number[], by: 'board' | 'surface'): number[] {
    if (!this.echoes || !this.link) return []
    const board = this.boards.program.links[this.design.links.indexOf(this.link)]
    const surface = this.surfaces?.program
    const reader = by === 'board' ? board?.reader : surface?.reader
    const means = (text: string) =>
      !reader?.end
      || (by === 'board' && board?.error !== '')
      || feedAll(reader, '', text).heard.some(
        h => h.kind === 'code' || (by === 'surface' && h.bytes === surface?.refusal),
      )
    return said
      .filter(m => means(this.messages.texts[m]?.text ?? ''))
      .map(m => this.messages.echoed(m))
  }

  private static texts(count: number, sent: number): number[] {
    return Array.from({ length: Math.min(count, EACH_WAY) }, (_, i) => (sent >>> (8 * i)) & 0xff)
  }

  /** A move of the board; null where what it sends finds no room. */
  private does(s: Situation, act: number, answers = false): Situation | null {
    const move = this.boards.move(s.board, act)
    const count = s.up ? (move >>> SENDS.controller) & 7 : 0
    if (!this.hasRoom(s, s.downward.length, count, answers)) return null
    const said = Checker.texts(count, this.boards.sentBy(s.board, act))
    const back = this.back(said, 'board')
    return {
      ...s,
      board: move & NEXT.controller,
      downward: [...s.downward, ...said],
      upward: [...s.upward, ...back],
      tags: [...s.tags, ...back.map(() => false)],
    }
  }

  /**
   * A move of the surface. `tags`: whether the first of what it says is the press that is watched,
   * or all of it that is about the load.
   */
  private says(
    s: Situation,
    act: number,
    { tags = 'none', answers = false }: { tags?: 'none' | 'first' | 'all'; answers?: boolean } = {},
  ): Situation | null {
    const surfaces = this.surfaces as SurfaceTable
    const move = surfaces.move(s.surface, act)
    const count = s.up ? (move >>> SENDS.panel) & 7 : 0
    if (!this.hasRoom(s, s.upward.length, count, answers || tags === 'first')) return null
    const said = Checker.texts(count, surfaces.sentBy(s.surface, act))
    const next = {
      ...s,
      surface: move & NEXT.panel,
      upward: [...s.upward, ...said],
      tags: [
        ...s.tags,
        ...said.map((_, i) =>
          tags === 'first' ? i === 0 : tags === 'all' && ((move >>> (ABOUT + i)) & 1) === 1,
        ),
      ],
      downward: [...s.downward, ...this.back(said, 'surface')],
    }
    return next.watching
      && this.shows
      && this.shown(next) >= 0
      && this.shown(next) === this.value(next)
      ? { ...next, taken: true }
      : next
  }

  private hears(s: Situation, n: number, keeps: boolean): { s: Situation | null; breaks: string } {
    const message = s.upward[n]
    if (message === undefined) return { s: null, breaks: '' }
    const act = this.acts.length + message
    const move = this.boards.move(s.board, act)
    const next = this.does(
      keeps ? s : { ...s, upward: s.upward.toSpliced(n, 1), tags: s.tags.toSpliced(n, 1) },
      act,
      true,
    )
    if (!next) return { s: null, breaks: '' }
    const step = this.value(next) - this.value(s)
    if (s.started && step !== 0 && step !== [0, 0, 1, -1][s.started])
      return { s: next, breaks: s.started === 1 ? 'a start moves it' : 'one step is not one step' }
    const acted = (move & ACTED) !== 0
    if (this.isBack(message))
      return {
        s: next,
        breaks:
          acted && s.did && this.certificate.question === 'twice'
            ? 'what comes back acts after a press'
            : '',
      }
    if (!s.tags[n]) return { s: next, breaks: '' }
    return {
      s: { ...next, taken: true, did: s.did || acted },
      breaks: acted && s.did ? 'one press acts twice' : '',
    }
  }

  private told(s: Situation, n: number, keeps: boolean): Situation | null {
    const message = s.downward[n]
    if (message === undefined || !this.surfaces) return null
    return this.says(
      keeps ? s : { ...s, downward: s.downward.toSpliced(n, 1) },
      this.surfaces.message(message),
      { answers: true },
    )
  }

  private returns(s: Situation, room: number): Situation | null {
    const surfaces = this.surfaces as SurfaceTable
    const surface = this.has(s, CONNECTED)
      ? surfaces.move(s.surface, PANEL.linkDown) & NEXT.panel
      : s.surface
    const told = this.boards.move(s.board, this.act.up)
    const asked = surfaces.move(surface, PANEL.linkUp)
    const [tells, asks] = [(told >>> SENDS.controller) & 7, (asked >>> SENDS.panel) & 7]
    if (
      (this.echoes ? tells + asks : Math.max(tells, asks)) > EACH_WAY
      || this.underWayEach * (tells + asks) > room
    )
      return null
    const [question, report] = [
      Checker.texts(asks, surfaces.sentBy(surface, PANEL.linkUp)),
      Checker.texts(tells, this.boards.sentBy(s.board, this.act.up)),
    ]
    const upward = [...question, ...this.back(report, 'board')]
    return {
      ...s,
      up: true,
      board: told & NEXT.controller,
      surface: asked & NEXT.panel,
      upward,
      tags: upward.map(() => false),
      downward: [...report, ...this.back(question, 'surface')],
    }
  }

  /**
   * Nothing can come of the press that is watched any more, so that what follows is as if nobody
   * watched.
   */
  private isOver(raw: Situation): boolean {
    const s = this.link?.numbered ? this.tidy(raw) : raw
    if (!s.watching || !s.taken) return false
    if (this.echoes && s.did && !s.outdone) return false
    const tags = s.tags.filter(Boolean).length
    if (tags > 0 && (this.copies || tags > 1 || s.did)) return false
    const waits = this.surfaces?.waitingNumbers(s.surface)[0] ?? 0
    return (
      !this.repeats
      || s.outdone
      || !this.has(s, WAITING)
      || (tags === 0 && waits !== 0 && this.boards.seenNumbers(s.board).includes(waits))
    )
  }

  /** The first number that is not in use, nor those after it of as many loads. */
  private fresh(s: Situation): number {
    if (!this.link?.numbered) return 0
    const used = [
      ...s.upward.map(m => this.messages.carried[m] ?? 0),
      ...(this.surfaces?.waitingNumbers(s.surface) ?? []),
    ]
    for (let n = 0; ; n++)
      if (this.design.loads.every((_, i) => !used.includes(n + 1 + i))) return n
  }

  /**
   * One form for what differs in names only: datagrams sorted, numbers of commands counted by what
   * is done with them.
   */
  private tidy(raw: Situation): Situation {
    let s = raw
    if (this.link?.numbered) {
      const key = `${s.board} ${s.surface} ${s.upward.join()} ${s.tags.join()}`
      let part = this.counted.get(key)
      if (!part) this.counted.set(key, (part = this.numbered(s)))
      s = { ...s, ...part }
    }
    if (this.echoes) {
      const lanes = (a: number, b: number) =>
        Number(this.isBack(a)) - Number(this.isBack(b))
        || (this.datagrams && !this.isBack(a) ? a - b : 0)
      const order = s.upward
        .map((m, i) => ({ m, tag: s.tags[i] as boolean }))
        .sort(
          (a, b) =>
            lanes(a.m, b.m)
            || (this.datagrams && !this.isBack(a.m) ? Number(a.tag) - Number(b.tag) : 0),
        )
      return {
        ...s,
        upward: order.map(x => x.m),
        tags: order.map(x => x.tag),
        downward: s.downward.toSorted(lanes),
      }
    }
    if (!this.datagrams || (s.upward.length < 2 && s.downward.length < 2)) return s
    const order = s.upward
      .map((m, i) => ({ m, tag: s.tags[i] as boolean }))
      .sort((a, b) => a.m - b.m || Number(a.tag) - Number(b.tag))
    return {
      ...s,
      upward: order.map(x => x.m),
      tags: order.map(x => x.tag),
      downward: s.downward.toSorted((a, b) => a - b),
    }
  }

  private numbered(s: Situation): Pick<Situation, 'board' | 'surface' | 'upward' | 'tags'> {
    const seen = this.boards.seenNumbers(s.board)
    const waits = this.surfaces?.waitingNumbers(s.surface) ?? []
    const number = (m: number) => this.messages.carried[m] ?? 0
    const base = (m: number) => this.messages.bases[m] as number
    // What was seen does nothing any more: all such about the same loads are one.
    const shared =
      waits.find(n => n !== 0 && seen.includes(n))
      ?? number(s.upward.find(m => seen.includes(number(m))) ?? 0)
    const upward = s.upward.map(m =>
      seen.includes(number(m))
        ? this.messages.withNumber(this.boards.repeatsAs(base(m)), shared)
        : m,
    )
    const tags = s.tags.map((t, i) => t && !seen.includes(number(s.upward[i] as number)))
    const places = upward.map((m, i) => ({ m, tag: tags[i] as boolean }))
    const order = this.datagrams
      ? places.toSorted((a, b) => base(a.m) - base(b.m) || Number(a.tag) - Number(b.tag))
      : places
    const uses = new Map<number, string>()
    const use = (n: number, what: string) => {
      if (n !== 0) uses.set(n, (uses.get(n) ?? '') + what)
    }
    order.forEach(({ m, tag }, i) =>
      use(number(m), this.datagrams ? `${base(m)}${tag ? '!' : ','}` : `${i},`),
    )
    waits.forEach((n, load) => use(n, `w${load}`))
    for (const n of uses.keys()) if (seen.includes(n)) use(n, 's')
    const names = [...uses].sort(([, a], [, b]) => Number(a > b) - Number(a < b)).map(([n]) => n)
    return {
      board: this.boards.renumbered(s.board, names),
      surface: names.some((n, i) => n !== i + 1)
        ? (this.surfaces?.renumbered(s.surface, names) ?? 0)
        : s.surface,
      upward: upward.map(m => this.messages.renumbered(m, names)),
      tags,
    }
  }

  private keys(): PanelKeyAct[] {
    const {
      design,
      certificate: { surfaceId },
      link,
    } = this
    if (surfaceId === null || !link) return []
    const surface = farSurfaceOf(design, surfaceId)
    const said = (loadId: string) =>
      (link.messages as { loadId: string }[]).some(m => m.loadId === loadId)
    const keys = design.loads.flatMap((load, i): PanelKeyAct[] =>
      said(load.id)
        ? wantsOn(surface.keys, loadOf(design, load.id)).map(want => ({ load: i, want }))
        : [],
    )
    return [
      ...keys,
      ...design.scenes.flatMap((scene, i): PanelKeyAct[] =>
        link.scenes[scene.id] && scenesOn(surface).includes(scene.id) ? [{ scene: i }] : [],
      ),
    ]
  }

  private elsewhere(): Act[] {
    const { design, link } = this
    const has = (loadId: string) => design.loads.some(l => l.id === loadId)
    return [
      ...design.links.flatMap((l, i): Act[] => {
        if (l.id === link?.id) return []
        const scenes = design.scenes
          .filter(s =>
            farSurfaces(design).some(x => x.linkId === l.id && scenesOn(x).includes(s.id)),
          )
          .map(s => l.scenes[s.id] ?? '')
        return [...l.messages.flatMap(m => Object.values(m.codes)), ...scenes]
          .map(code => wireOf(l, code ?? '', 'command'))
          .filter(Boolean)
          .map(text => ({ do: 'command', link: i, text }))
      }),
      ...design.sensors.flatMap((s, sensor): Act[] =>
        isReceiver(s)
          ? s.keys.flatMap((k, key): Act[] =>
              askedBy(design, k).some(a => has(a.loadId)) ? [{ do: 'remote', sensor, key }] : [],
            )
          : [],
      ),
      ...design.sensors.flatMap((s, sensor): Act[] =>
        asksByWay(s)
          ? [...new Set([...s.ways.map(w => w.on), 'rest' as const])].map(way => ({
              do: 'push',
              sensor,
              way,
            }))
          : [],
      ),
      ...design.sensors
        .filter(s => isKnob(s))
        .flatMap((_, knob): Act[] => [
          { do: 'turn', knob, detents: 1 },
          { do: 'turn', knob, detents: -1 },
        ]),
      ...design.rules.map((r): Act => ({
        do: 'cross',
        sensor: design.sensors.findIndex(s => s.id === r.sensorId),
      })),
    ]
  }
}
