/**
 * A path of the search told in the maker's words and laid out in real time for the bench. Every
 * message of the story gets a fate (its arrival, or lost with its link), so that what crossed in
 * the search crosses on the bench too.
 */
import { Bench, BOX_START_MS, COUNT_MS, type Fate } from '../bench/bench'
import type { BenchScript } from '../bench/script'
import { loadOf, sensesPanel, surfaceOf } from '../design/find'
import type {
  Design,
  Gesture,
  Link,
  Load,
  Output,
  RemoteSurface,
  Rule,
  Sensor,
} from '../design/schema'
import { fullOf, restOf, valueWords } from '../design/values'
import { shownWire } from '../design/wire'
import { wireMs } from '../links/timing'
import { finger } from '../bench/fingers'
import { readingText, rawRange, restingRaw, type Raw } from '../controller/readings'
import { ruled } from '../controller/rules'
import { keepAliveMs } from '../surfaces/panel'
import type { Find, What } from './explore'
import { armedSlots } from './machines'
import { timerMs } from './output-times'
import { gestureOf, worstWayMs } from './project'
import type { SystemEvent } from './happenings'
import { leastGapMs } from './pace'
import type { System } from './system'

/**
 * `is`, `shows`: how the load is and what the surface shows after the step; null where that is not
 * followed.
 */
export interface StoryStep {
  words: string
  kind: SystemEvent['kind'] | 'overtakeUp' | 'overtakeDown' | 'fault'
  surfaceId: string | null
  is: string | null
  shows: string | null
}
export interface Story {
  /** The surface it is about; null where it is about the load alone. */
  surfaceId: string | null
  what: What | 'boots on' | 'replayed by a stranger' | 'kept back by a stranger' | 'cut off'
  steps: StoryStep[]
  /** How it ends: "Apron phone shows on, Booth extractor is off". */
  ending: string
  script: BenchScript
  /** The bench came to the same end by the same way. */
  replayed: boolean
}

const START_MS = 1000
/** Where something still runs that a start armed, the story begins before it is over. */
const EARLY_MS = 100
/**
 * Between two things a person does: long enough to be seen apart on the bench; quicker where
 * something would come in between.
 */
const PACES_MS = [400, 100, 30] as const
const SETTLE_MS = 2500

export function tellStory(
  design: Design,
  system: System,
  path: readonly number[],
  surfaceId: string | null,
  what: Find['what'],
): Story {
  let told: Story | null = null
  for (const { way, ...times } of triesOf(design, system, path, surfaceId)) {
    const story = new Teller(design, system, surfaceId, what, times).story(way)
    told ??= story
    if (story.replayed) return story
  }
  return told as Story
}

/**
 * How a path is laid out in time: between two things, when it begins, and whether who is out of
 * reach stays away.
 */
interface Times {
  pace: number
  startMs: number
  lingers: boolean
}

function* triesOf(
  design: Design,
  system: System,
  path: readonly number[],
  surfaceId: string | null,
): Generator<Times & { way: readonly number[] }> {
  for (const way of waysOf(system, path)) {
    const moments = startsOf(design, system, way, surfaceId).flatMap(startMs =>
      wayLingers(system, way).map(lingers => ({ startMs, lingers })),
    )
    yield* PACES_MS.flatMap(pace => moments.map(moment => ({ way, pace, ...moment })))
  }
}

/**
 * Whether who is out of reach stays away as long as connecting takes, so that it is back at any
 * moment after what happens meanwhile.
 */
function wayLingers(system: System, way: readonly number[]): boolean[] {
  const kinds = way.map(event => system.events[event]?.kind)
  const drop = kinds.indexOf('drop')
  return drop >= 0 && kinds.indexOf('return', drop) > drop + 1 ? [false, true] : [false]
}

/** The usual moment; where a least time runs from the first report on, moments within it too. */
function startsOf(
  design: Design,
  system: System,
  way: readonly number[],
  surfaceId: string | null,
): number[] {
  const surface = surfaceId === null ? undefined : (surfaceOf(design, surfaceId) as RemoteSurface)
  const leastMs = design.links.find(l => l.id === surface?.linkId)?.leastMs ?? 0
  if (!leastMs || !way.some(event => system.events[event]?.kind === 'least')) return [START_MS]
  return [
    START_MS,
    ...[0.3, 0.6, 0.9].map(share => Math.round(leastMs * share)).filter(ms => ms > START_MS),
  ]
}

/**
 * The path, and others that come to the same, each worked out only where those before it did not
 * come true.
 */
function* waysOf(system: System, path: readonly number[]): Generator<readonly number[]> {
  yield path
  const late = lateByItself(system, path)
  if (late.some((event, i) => event !== path[i])) yield late
  if (system.echoes) {
    // What comes back is quick: it comes before whatever it need not wait for, and keys that race
    // with it are pressed before.
    const { messages } = system
    yield swapped(system, path, (a, b) => !messages.isEcho(a.message) && messages.isEcho(b.message))
    yield swapped(
      system,
      path,
      (a, b) =>
        system.events[a.event]?.kind === 'deliverUp'
        && KEYS.includes(system.events[b.event]?.kind ?? 'save'),
    )
  }
  // One finger on one button is slow; somebody else may do the same at once.
  yield* byOthers(system, late)
}

/**
 * The same path with what only time brings about as late as it comes to the same: a value is saved
 * seconds after it changed, and what the story needs to be quick would have to wait for it.
 */
function lateByItself(system: System, path: readonly number[]): number[] {
  return swapped(system, path, ({ event }) => {
    const kind = system.events[event]?.kind
    return kind === 'save' || kind === 'timer'
  })
}

/**
 * One event of a path. `message`: what arrives or is lost, wherever it lies by then; 0 = the event
 * is about none.
 */
interface Move {
  event: number
  message: number
}

/** The same path with one event after the next wherever that is wanted and comes to the same. */
function swapped(
  system: System,
  path: readonly number[],
  wanted: (first: Move, second: Move) => boolean,
): number[] {
  let s = system.initial()
  const way = path.map((event): Move => {
    const message = messageOf(system, s, event)
    s = system.after(s, event) ?? s
    return { event, message }
  })
  const through = (s: Int32Array | null, ...moves: Move[]) =>
    moves.reduce<Int32Array | null>(
      (at, move) => at && system.after(at, placed(system, at, move)),
      s,
    )
  for (let i = way.length - 2; i >= 0; i--) {
    for (let at = i; at + 1 < way.length; at++) {
      const [a, b] = [way[at] as Move, way[at + 1] as Move]
      if (!wanted(a, b)) break
      const before = through(system.initial(), ...way.slice(0, at))
      const other = through(before, b, a)
      if (!other || through(before, a, b)?.some((word, n) => word !== other[n])) break
      way[at] = b
      way[at + 1] = a
    }
  }
  s = system.initial()
  return way.map(move => {
    const event = placed(system, s, move)
    s = system.after(s, event) ?? s
    return event
  })
}

function messageOf(system: System, s: Int32Array, event: number): number {
  const e = system.events[event]
  return e && 'place' in e
    ? (system.queueOf(s, e.kind.endsWith('Up') ? 'up' : 'down')[e.place] ?? 0)
    : 0
}

/** The event of a move in a situation: a message that lies elsewhere by now is the same still. */
function placed(system: System, s: Int32Array, { event, message }: Move): number {
  const e = system.events[event]
  if (!e || !('place' in e) || message === 0) return event
  const place = system.queueOf(s, e.kind.endsWith('Up') ? 'up' : 'down').indexOf(message)
  const there = system.events.findIndex(x => x.kind === e.kind && 'place' in x && x.place === place)
  return there < 0 ? event : there
}

/** What happens on the way of a message. */
const ARRIVES: readonly SystemEvent['kind'][] = [
  'deliverUp',
  'deliverDown',
  'doubleUp',
  'doubleDown',
]
const KEYS: readonly SystemEvent['kind'][] = ['key', 'watchedKey', 'scene']

/**
 * The same path with all presses but the first made by other surfaces, where they come to the same.
 */
function byOthers(system: System, path: readonly number[]): number[][] {
  let s = system.initial()
  let presses = 0
  const way = path.map(event => {
    const instead = system.insteadOf(s, event)
    const takes = instead !== null && presses++ > 0 ? instead : event
    s = system.after(s, event) ?? s
    return takes
  })
  return way.some((event, i) => event !== path[i]) ? [way] : []
}

export function shownWords(output: Output, shown: string): string {
  if (shown === 'unknown') return 'nothing certain'
  if (shown === 'waiting') return shown
  return shown.startsWith('stale-')
    ? `${valueWords(output, shown.slice(6))}, marked stale`
    : valueWords(output, shown)
}

/** Events after which it is told what the load did. */
const TELLS_MOVES: readonly SystemEvent['kind'][] = [
  'deliverUp',
  'doubleUp',
  'press',
  'other',
  'otherScene',
  'remote',
  'turn',
  'rule',
  'end',
  'timer',
  'hold',
  'letGo',
  'powerOn',
]

/** How a key is called: "key", "On", "Reverse", "more". */
function keyWords(want: string): string {
  const words: Record<string, string> = { flip: 'key', up: 'more', down: 'less' }
  return words[want] ?? want.charAt(0).toUpperCase() + want.slice(1)
}

function timerWords({ name, output }: Load, slot: number): string {
  switch (output.kind) {
    case 'pulsed':
      return `the pulse of ${name} ends`
    case 'held':
      return `no keep-alive came for ${name} in time`
    case 'switched':
      return (
        [
          `the delay of ${name} is over`,
          `the time of ${name} is over`,
          `${name} blinks`,
          `the least time of ${name} is over`,
          `the longest time of ${name} is over`,
        ][slot] ?? ''
      )
    default:
      return slot === 0 ? `the dead time of ${name} is over` : `the longest run of ${name} is over`
  }
}

const PRESSES: Record<Gesture, string> = {
  single: 'presses',
  double: 'presses twice',
  triple: 'presses three times',
  hold: 'holds down',
}

/** Readings on the near side of a rule's limit and beyond it, of the real sensor. */
export function rawsAcross(sensor: Sensor, rule: Rule): [Raw, Raw] | null {
  const { low, high } = rawRange(sensor)
  const count = Math.min(2000, high - low)
  const pair = sensor.kind === 'two-axis'
  const raws = [
    restingRaw(sensor),
    ...Array.from({ length: count + 1 }, (_, i): Raw =>
      pair
        ? [Math.round(low + ((high - low) * i) / count), 0]
        : [Math.round(low + ((high - low) * i) / count)],
    ),
  ]
  const before = { beyond: false, last: null, way: 0 }
  for (const near of raws) {
    const first = ruled(rule, { ...before, beyond: true }, readingText(sensor, near)).state
    if (first.beyond !== false) continue
    const beyond = raws.find(raw => ruled(rule, first, readingText(sensor, raw)).acts)
    if (beyond) return [near, beyond]
  }
  return null
}

/**
 * From one thing to the next while something is on its way: several fit into what the link states,
 * ms.
 */
function stepOf(link: Link): number {
  return Math.max(link.timing.minMs + 1, Math.min(30, Math.floor(0.4 * worstWayMs(link))))
}

/** `message`: its number in the system by now. */
interface Sent {
  message: number
  text: string
  at: number
  fate: Fate | undefined
}

class Teller {
  private s: Int32Array
  private readonly steps: StoryStep[] = []
  private readonly script: BenchScript['steps'] = []
  private t: number
  private readonly startMs: number
  private readonly pace: number
  private readonly lingers: boolean
  /** What is sent in the story, in its order; fates are filled in as they come. */
  private readonly sent: Record<'up' | 'down', Sent[]> = { up: [], down: [] }
  private readonly inFlight: Record<'up' | 'down', Sent[]> = { up: [], down: [] }
  /**
   * Commands of other surfaces. `alone`: what follows it by itself, to keep a load going, does not
   * come: its sender fell asleep.
   */
  private readonly others: { linkId: string; at: number; fate: number; alone: boolean }[] = []
  private away = false
  private backAfterMs = 0
  private droppedAt = 0
  private timeoutAt = 0
  private connectedAt = 0
  private repeatAt = 0
  /** What is still to be told. */
  private ahead: readonly number[] = []
  private lastPress = -Infinity
  private readonly sentAt: { up?: number; down?: number } = {}
  private changedAt = 0
  private readonly armedAt: number[] = []
  private bootedAt = -Infinity
  /** Values of the load, one after another. */
  private readonly values: string[] = []
  private readonly panel: RemoteSurface | null
  private readonly link: Link | undefined
  private readonly wayMs: number
  /** Some message took longer, or less, than the link states. */
  private beyond = false

  constructor(
    private readonly design: Design,
    private readonly system: System,
    private readonly surfaceId: string | null,
    private readonly what: Find['what'],
    { pace, startMs, lingers }: Times,
  ) {
    this.pace = pace
    this.lingers = lingers
    this.s = system.initial()
    // Early where something runs from the start on; before the first connection, which is at once,
    // where that is still to come.
    this.t = this.startMs = !system.isUp(this.s) ? 0 : this.armed().length ? EARLY_MS : startMs
    this.values.push(system.value(this.s))
    this.panel = surfaceId === null ? null : (surfaceOf(design, surfaceId) as RemoteSurface)
    const link = (this.link = design.links.find(l => l.id === this.panel?.linkId))
    this.wayMs = !link
      ? 30
      : system.echoes
        ? link.timing.minMs + 1
        : Math.max(
            link.timing.minMs + 1,
            Math.ceil(stepOf(link) * (pace === PACES_MS.at(-1) ? 0.5 : 1)),
          )
  }

  story(path: readonly number[]): Story {
    const { design, system, panel, surfaceId, what } = this
    path.forEach((event, i) => {
      this.ahead = path.slice(i + 1)
      this.tell(event)
    })
    this.ahead = []
    // Memory that is old shows only when the power is back.
    if (what === 'astray' && !system.powered(this.s))
      this.tell(system.events.findIndex(e => e.kind === 'powerOn'))
    const load = loadOf(design, system.loadId)
    const truth = system.value(this.s)
    const shown = system.panel?.shown(system.panelOf(this.s)) ?? 'unknown'
    const untilMs =
      this.t
      + Math.max(
        SETTLE_MS,
        what === 'stuck' && 'timeoutMs' in load.output ? 3 * load.output.timeoutMs : 0,
      )
    const steps = this.steps.filter(
      (step, i) =>
        step.kind !== 'sent'
        && (step.kind !== 'save' || this.steps.slice(i).some(later => later.kind === 'cut')),
    )
    const fates: NonNullable<BenchScript['fates']> = {}
    const bench = new Bench(design, 1, (key, dir, text, now) => {
      const linkId = key.slice(0, key.indexOf(' '))
      const fate =
        panel?.linkId === linkId
          ? this.fateOf(dir, text, now)
          : dir === 'up'
            ? this.otherFate(linkId, now)
            : undefined
      if (fate !== undefined) fates[key] = fate
      return fate
    })
    const { loadId } = system
    // Echoes follow one another within one ms: what the load was in between counts too.
    const passed = new Map<number, string[]>()
    if (system.echoes)
      bench.onPassed = (id, value) => {
        if (id === loadId) passed.set(bench.now, [...(passed.get(bench.now) ?? []), value])
      }
    bench.plan(this.script)
    // What comes after the find is not in the story: where it is found on the way, it is looked at
    // there.
    const endsAt = ENDS_THERE.includes(what) ? this.t + 1 : untilMs
    while (!bench.advance(endsAt)) {
      /* the next slice */
    }
    const ways = () =>
      (bench.trace.truth[loadId] ?? []).flatMap(c => [
        ...(passed.get(c.t) ?? []).map(value => ({ ...c, value })),
        c,
      ])
    const came = () => {
      const was = ways()
      if (
        bench.value(loadId) === truth
        && sameWay(
          this.values,
          was.map(c => c.value),
        )
      )
        return true
      // What comes back next may have moved it on by now.
      return (
        system.echoes
        && ENDS_THERE.includes(what)
        && was.some(
          (c, i) =>
            c.t >= this.t
            && sameWay(
              this.values,
              was.slice(0, i + 1).map(x => x.value),
            ),
        )
      )
    }
    // What comes back may be a longer text than that of the story, which knows one load only.
    for (
      let ms = 1;
      system.echoes && ENDS_THERE.includes(what) && !came() && ms < LONGEST_ECHO_MS;
      ms++
    )
      bench.advance(endsAt + ms)
    const same = came() && (what !== 'restless' || !system.echoes || this.goesRound(bench, untilMs))
    return {
      surfaceId,
      what,
      steps,
      script: { seed: 1, steps: this.script, fates, untilMs },
      ending: this.ending(load, truth, shown),
      replayed:
        same
        && !this.beyond
        && (!AT_REST.includes(what)
          || !surfaceId
          || !system.showsIt
          || bench.shown(surfaceId, system.loadId) === shown),
    }
  }

  /** Seconds later messages still cross, more than anybody asks for. */
  private goesRound(bench: Bench, untilMs: number): boolean {
    bench.advance(untilMs)
    return (
      bench.trace.messages.filter(
        m => m.linkId === this.link?.id && m.sentMs > bench.now - ROUND_MS,
      ).length >= ROUND_MESSAGES
    )
  }

  private ending({ name, output }: Load, truth: string, shown: string): string {
    const surface = this.panel?.name ?? ''
    const [before = '', is = ''] = this.values.slice(-2).map(v => valueWords(output, v))
    switch (this.what) {
      case 'wrong':
      case 'unsure':
        return `${surface} shows ${shownWords(output, shown)}, ${name} is ${valueWords(output, truth)}`
      case 'vanished':
        return this.system.showsIt
          ? `The last press on ${surface} never arrived: it shows ${shownWords(output, shown)}, ${name} is ${valueWords(output, truth)}`
          : `The press on ${surface} never arrived, and nobody is told`
      case 'twice':
        return `One press on ${surface} acted twice on ${name}`
      case 'dead':
        return `Nothing came of it: ${name} stays ${valueWords(output, truth)}`
      case 'clashed':
        return `${name} goes from one direction to the other without a rest`
      case 'astray':
        return `After the power returned ${name} is ${valueWords(output, truth)}; ${policyWords(output)}`
      case 'stuck':
        return `${name} is on, and nothing ends it`
      case 'moved':
        return `${surface} started anew, and ${name} went ${is}; nobody asked for it`
      case 'jumped':
        return `One step on ${surface}, and ${name} jumps from ${before} to ${is}`
      case 'restless':
        return `It never comes to rest: ${name} is ${valueWords(output, truth)}, and something is always still to come`
    }
  }

  private tell(index: number): void {
    const { system } = this
    const event = system.events[index] as SystemEvent
    const was = system.value(this.s)
    const wereArmed = this.armed()
    const before = { up: system.queueOf(this.s, 'up'), down: system.queueOf(this.s, 'down') }
    const step: StoryStep = {
      kind: this.kindOf(event),
      words: this.words(event),
      surfaceId: this.whose(event),
      is: null,
      shows: null,
    }
    this.schedule(event)
    this.s = system.after(this.s, index) ?? this.s
    this.follow(event, before)
    const is = system.value(this.s)
    const moved =
      is === was
        ? ''
        : `: ${this.loadName()} goes ${valueWords(loadOf(this.design, system.loadId).output, is)}`
    if (moved) {
      this.changedAt = this.t
      this.values.push(is)
    }
    for (const slot of this.armed())
      if (!wereArmed.includes(slot) || this.armsAnew(event, slot, is !== was))
        this.armedAt[slot] = this.t
    if (TELLS_MOVES.includes(event.kind)) step.words += moved
    step.is = system.powered(this.s) ? is : null
    step.shows = system.panel && system.showsIt ? system.panel.shown(system.panelOf(this.s)) : null
    this.steps.push(step)
  }

  /** Whether what is armed already is armed once more by an event, and from when it counts. */
  private armsAnew(event: SystemEvent, slot: number, moved: boolean): boolean {
    if (!REACHES_THE_BOARD.includes(event.kind)) return false
    const { output } = loadOf(this.design, this.system.loadId)
    return (
      moved
      || output.kind === 'held'
      || (output.kind === 'pulsed' && output.again === 'restart')
      || (output.kind === 'switched' && slot === 1)
    )
  }

  /** Put the event on the time line; `this.t` becomes the moment at which it takes effect. */
  private schedule(event: SystemEvent): void {
    const { design, panel } = this
    const act = (action: BenchScript['steps'][number]['action']) =>
      this.script.push({ atMs: this.t, action })
    const anythingMoving = this.inFlight.up.length > 0 || this.inFlight.down.length > 0
    const since = this.t
    const echo = this.echoComing(event)
    if (this.steps.length === 0 && event.kind === 'return') return
    if (echo === null)
      this.t += Math.min(
        anythingMoving ? this.wayMs : this.pace,
        this.beforeSaving(),
        this.beforeEcho(event),
      )
    else this.t = Math.max(this.t, echo)
    const timing = this.link?.timing ?? { reconnectMs: 0, dropDetectMs: 0 }
    // What comes a second time counts only when its number is forgotten.
    const again =
      event.kind === 'deliverUp'
        ? this.inFlight.up.find(m => m.message === this.system.queueOf(this.s, 'up')[event.place])
            ?.fate
        : undefined
    if (typeof again === 'number' && this.link?.numbered)
      this.t = Math.max(this.t, again + this.link.numbered.windowMs + 1)
    switch (event.kind) {
      case 'press': {
        const control = this.control(event.input)
        const { gesture } = this.gesture(event.input)
        const { moves, actsAfterMs } = finger(control, gesture)
        const wait = leastGapMs(control)
        // The finger comes before what it does: the board waits until the contact is quiet.
        const pressedAt = Math.max(
          this.t - actsAfterMs,
          this.lastPress + wait,
          this.bootedAt + 20,
          this.startMs,
        )
        this.lastPress = pressedAt + Math.max(actsAfterMs, (moves.at(-1)?.afterMs ?? 0) - 150)
        this.script.push({
          atMs: pressedAt,
          action: {
            do: 'press',
            controlId: control.id,
            ...(gesture === 'single' ? {} : { gesture }),
          },
        })
        this.t = pressedAt + actsAfterMs
        return
      }
      case 'key':
      case 'watchedKey':
      case 'scene':
        if (!panel) return
        this.t = Math.max(this.t, this.lateEnough(panel.belief.timeoutMs))
        act(
          event.kind === 'scene'
            ? {
                do: 'scene',
                surfaceId: panel.id,
                sceneId: this.system.design.scenes[event.scene]?.id ?? '',
              }
            : {
                do: 'key',
                surfaceId: panel.id,
                loadId: this.systemLoad(event.load)?.id ?? '',
                want: event.want,
              },
        )
        this.timeoutAt = this.t + panel.belief.timeoutMs
        this.repeatAt = this.t
        return
      case 'other':
      case 'otherScene': {
        const link = this.system.design.links[event.link]
        const surface = design.surfaces.find(
          (x): x is RemoteSurface => x.kind !== 'hand' && x.linkId === link?.id,
        )
        if (!surface || !link) return
        const wayMs = stepOf(link)
        this.t = Math.max(this.t - wayMs, this.bootedAt + link.timing.reconnectMs + 50)
        this.others.push({
          linkId: link.id,
          at: this.t,
          fate: this.t + wayMs,
          alone: event.kind === 'other' && this.systemLoad(event.load)?.output.kind === 'held',
        })
        act(
          event.kind === 'otherScene'
            ? {
                do: 'scene',
                surfaceId: surface.id,
                sceneId: this.system.design.scenes[event.scene]?.id ?? '',
              }
            : {
                do: 'key',
                surfaceId: surface.id,
                loadId: this.systemLoad(event.load)?.id ?? '',
                want: event.want === 'toggle' ? 'flip' : event.want,
              },
        )
        this.t += wayMs
        return
      }
      case 'remote':
        act({
          do: 'remote',
          sensorId: this.system.design.sensors[event.sensor]?.id ?? '',
          key: event.key,
          repeats: 0,
        })
        return
      case 'turn': {
        const knob = this.system.controller.program.knobs[event.knob]?.knob
        act({ do: 'turn', sensorId: knob?.id ?? '', detents: event.detents })
        this.t += COUNT_MS * (knob?.countsPerDetent ?? 1)
        return
      }
      case 'rule': {
        const rule = design.rules.find(r => r.id === this.system.design.rules[event.rule]?.id)
        const sensor = design.sensors.find(x => x.id === rule?.sensorId)
        const raws = rule && sensor ? rawsAcross(sensor, rule) : null
        if (!raws || !sensor) return
        act({ do: 'sense', sensorId: sensor.id, raw: [...raws[0]] })
        this.t += 20
        act({ do: 'sense', sensorId: sensor.id, raw: [...raws[1]] })
        return
      }
      case 'end': {
        const { output } = this.systemLoad(event.load) as Load
        const contact =
          output.kind === 'opposed'
            ? event.direction === 'forward'
              ? output.forwardEnd
              : output.reverseEnd
            : null
        act({ do: 'sense', sensorId: contact ?? '', raw: [Number(event.closed)] })
        return
      }
      case 'drop':
        act({ do: 'linkDown', linkId: panel?.linkId ?? '' })
        this.away = true
        this.droppedAt = this.t
        this.backAfterMs = timing.reconnectMs
        if (this.lingers) this.t += timing.reconnectMs
        return
      case 'restart':
        act({ do: 'restartBox', surfaceId: panel?.id ?? '' })
        this.droppedAt = this.t
        this.backAfterMs = BOX_START_MS
        return
      case 'return':
        if (this.away) {
          // It comes back into reach as long before as connecting takes: what the story tells
          // meanwhile may be a moment ago.
          this.away = false
          const reachMs = Math.max(this.droppedAt + 1, this.t - timing.reconnectMs)
          this.script.push({ atMs: reachMs, action: { do: 'linkUp', linkId: panel?.linkId ?? '' } })
          this.t = reachMs + timing.reconnectMs
        } else this.t = Math.max(this.t, this.droppedAt + this.backAfterMs)
        this.connectedAt = this.t
        return
      case 'notice':
        this.t = Math.max(this.t, this.droppedAt + timing.dropDetectMs + 1)
        return
      case 'timeout':
        this.t = Math.max(this.t, this.timeoutAt)
        this.timeoutAt = this.t + (panel?.belief.timeoutMs ?? 0)
        return
      case 'poll': {
        const every = panel?.pollMs ?? 1
        this.t =
          this.connectedAt + Math.max(1, Math.ceil((this.t - this.connectedAt) / every)) * every
        return
      }
      case 'tell': {
        const every = this.link?.everyMs || 1
        const since =
          this.link && sensesPanel(this.link) ? this.connectedAt : Math.max(0, this.bootedAt)
        this.t = since + Math.max(1, Math.ceil((this.t - since) / every)) * every
        return
      }
      case 'repeat': {
        const { output } = loadOf(design, this.system.loadId)
        const every = output.kind === 'held' ? keepAliveMs(output) : 100
        this.t = this.repeatAt + Math.max(1, Math.ceil((this.t - this.repeatAt) / every)) * every
        return
      }
      case 'least':
        this.t = Math.max(this.t, (this.sentAt.down ?? 0) + (this.link?.leastMs ?? 0))
        return
      case 'save':
        this.t = Math.max(this.t, this.changedAt + this.saveDelayMs() + 1)
        return
      case 'timer': {
        const { output } = loadOf(design, this.systemLoad(event.load)?.id ?? '')
        // A timer keeps its moment, however near it is to what came before.
        this.t = Math.max(since, (this.armedAt[event.slot] ?? 0) + timerMs(output, event.slot))
        return
      }
      case 'hold':
      case 'letGo':
        act({ do: event.kind, controlId: this.control(event.input).id })
        this.t += this.control(event.input).debounceMs
        return
      case 'cut':
        act({ do: 'powerOff' })
        this.droppedAt = this.t
        return
      case 'powerOn':
        act({ do: 'powerOn' })
        this.t += design.controllers[0]?.bootMs ?? 0
        this.bootedAt = this.t
        // Links come back by themselves; the search names each return, the bench times it from
        // here.
        this.droppedAt = this.t
        this.backAfterMs = timing.reconnectMs
    }
  }

  /**
   * When a key is pressed that waits for an answer longer than something runs that ends first:
   * shortly before that end.
   */
  private lateEnough(timeoutMs: number): number {
    const kinds = this.ahead.map(i => this.system.events[i] as SystemEvent)
    const end = kinds.findIndex(e => e.kind === 'timer')
    const timer = kinds[end]
    if (
      timer?.kind !== 'timer'
      || !kinds.slice(end).some(e => e.kind === 'timeout')
      || kinds.slice(0, end).some(e => e.kind === 'timeout')
    )
      return 0
    const armedAt = this.armedAt[timer.slot]
    if (timer.load !== 0 || armedAt === undefined || !this.armed().includes(timer.slot)) return 0
    return (
      armedAt
      + timerMs(loadOf(this.design, this.system.loadId).output, timer.slot)
      - Math.floor(0.8 * timeoutMs)
    )
  }

  /** When what is to come back does so; null for all else. */
  private echoComing(event: SystemEvent): number | null {
    const dir = event.kind === 'deliverUp' ? 'up' : event.kind === 'deliverDown' ? 'down' : null
    if (!dir || !this.link || !('place' in event)) return null
    const message = this.system.queueOf(this.s, dir)[event.place] ?? 0
    const sent = this.inFlight[dir].find(m => m.message === message)
    return sent && this.system.messages.isEcho(message) ? this.echoAt(this.link, sent) : null
  }

  private echoAt(link: Link, { at, text }: Sent): number {
    return at + Math.max(1, wireMs(this.design, link, text))
  }

  /**
   * How long there is until something comes back that is still to come in the story, ms. In the
   * same ms hands come first, then what arrives.
   */
  private beforeEcho(event: SystemEvent): number {
    const { link } = this
    if (!link || !this.system.echoes) return Infinity
    const coming = [...this.inFlight.up, ...this.inFlight.down].filter(m =>
      this.system.messages.isEcho(m.message),
    )
    return Math.max(
      0,
      Math.min(...coming.map(m => this.echoAt(link, m)))
        - this.t
        - (ARRIVES.includes(event.kind) || ('link' in event && event.link > 0) ? 1 : 0),
    )
  }

  /**
   * A value that is not saved yet in the story must not be saved by the bench before the story goes
   * on: things are done faster then, an eighth of the save delay apart.
   */
  private beforeSaving(): number {
    const { controller } = this.system
    const pending = controller
      .state(this.system.controllerOf(this.s))
      .saveDue.some(due => due !== null)
    return pending ? Math.max(1, Math.floor(this.saveDelayMs() / 8)) : Infinity
  }

  /** Follow each message from sender to its end, and give it its fate. */
  private follow(event: SystemEvent, before: { up: number[]; down: number[] }): void {
    const { system } = this
    for (const dir of ['up', 'down'] as const) {
      const flight = this.inFlight[dir]
      const Dir = dir === 'up' ? 'Up' : 'Down'
      if (
        'place' in event
        && (event.kind === `deliver${Dir}`
          || event.kind === `lose${Dir}`
          || event.kind === `double${Dir}`)
      ) {
        const at = flight.findIndex(m => m.message === before[dir][event.place])
        const m = flight[at]
        if (m) m.fate = event.kind === `lose${Dir}` ? (m.fate ?? 'lost') : this.arrives(m)
        if (m && event.kind !== `double${Dir}`) flight.splice(at, 1)
      } else if (event.kind === 'drop' || event.kind === 'cut' || event.kind === 'restart')
        for (const m of flight.splice(0)) m.fate ??= this.t + 1
      if (dir === 'up')
        for (const m of flight) m.message = system.renamed.get(m.message) ?? m.message
      // What is on its way and was not before has just been sent.
      const known = flight.map(m => m.message)
      for (const message of system.queueOf(this.s, dir)) {
        const at = known.indexOf(message)
        if (at >= 0) {
          known.splice(at, 1)
          continue
        }
        const m: Sent = {
          message,
          text: system.messages.texts[message]?.text ?? '',
          at: this.t,
          fate: undefined,
        }
        flight.push(m)
        this.sentAt[dir] = this.t
        // What comes back does so by itself.
        if (!system.messages.isEcho(message)) this.sent[dir].push(m)
      }
    }
  }

  /** Whether something that was sent earlier is still on its way. */
  private overtakes(event: SystemEvent): boolean {
    if (event.kind !== 'deliverUp' && event.kind !== 'deliverDown') return false
    const dir = event.kind === 'deliverUp' ? 'up' : 'down'
    return (
      this.inFlight[dir].findIndex(m => m.message === this.system.queueOf(this.s, dir)[event.place])
      > 0
    )
  }

  private kindOf(event: SystemEvent): StoryStep['kind'] {
    return this.overtakes(event)
      ? event.kind === 'deliverUp'
        ? 'overtakeUp'
        : 'overtakeDown'
      : event.kind
  }

  /**
   * What another surface says in the story arrives when it does there; what it would say by itself
   * to keep a load going is lost.
   */
  private otherFate(linkId: string, now: number): Fate | undefined {
    const told = this.others.find(o => o.linkId === linkId && o.at === now)
    if (told) return told.fate
    return this.others.some(o => o.linkId === linkId && o.alone && o.at < now) ? 'lost' : undefined
  }

  /** Now, and where it arrived before already then too. */
  private arrives({ fate }: Sent): Fate {
    return typeof fate === 'number'
      ? [fate, this.t]
      : Array.isArray(fate)
        ? [...fate, this.t]
        : this.t
  }

  /**
   * What is sent on the bench is the next of the story with its words, where it comes at its time.
   */
  private fateOf(dir: 'up' | 'down', text: string, now: number): Fate | undefined {
    // A report that was told a moment ago may be held back.
    const heldBackMs = dir === 'down' ? (this.link?.leastMs ?? 0) : 0
    const near = this.sent[dir].map(
      m => now - m.at >= -NEAR_MS && now - m.at <= NEAR_MS + heldBackMs,
    )
    let at = this.sent[dir].findIndex((m, i) => near[i] && m.text === text)
    // Numbers and proofs stand behind the words of the story.
    const link = this.link
    if (at < 0 && dir === 'up' && link && (link.numbered || link.auth.kind !== 'none'))
      at = near.indexOf(true)
    if (at < 0) return undefined
    const [m] = this.sent[dir].splice(at, 1)
    if (m?.fate === undefined) return undefined
    const late = Math.max(0, now - m.at - NEAR_MS)
    const fate = late && typeof m.fate === 'number' ? m.fate + late : m.fate
    this.beyond ||= !this.isStated(fate, text, now)
    return fate
  }

  /** Whether a link can bring that about within its stated times. */
  private isStated(fate: Fate, text: string, now: number): boolean {
    const { link } = this
    if (!link) return true
    if (fate === 'lost') return link.timing.lossPerMille > 0
    const wire = wireMs(this.design, link, text)
    const [first = 0, ...more] = [fate].flat()
    return (
      first - now >= Math.min(link.timing.minMs, 1)
      && first - now <= worstWayMs(link) + wire
      && more.every(t => t - now <= 2 * worstWayMs(link) + wire)
    )
  }

  private words(event: SystemEvent): string {
    const { design, system } = this
    const panel = this.panel?.name ?? ''
    const text = (dir: 'up' | 'down', place: number) => {
      const said = system.messages.texts[system.queueOf(this.s, dir)[place] ?? 0]?.text ?? ''
      return shownWire(
        design.links.find(l => l.id === this.panel?.linkId)
          ?? (system.design.links[0] as Design['links'][number]),
        said,
      )
    }
    const load = (i: number) => this.systemLoad(i)?.name ?? ''
    switch (event.kind) {
      case 'deliverUp':
      case 'deliverDown': {
        const [dir, where] =
          event.kind === 'deliverUp' ? (['up', 'the board'] as const) : (['down', panel] as const)
        const said = text(dir, event.place)
        return system.messages.isEcho(system.queueOf(this.s, dir)[event.place] ?? 0)
          ? `"${said}" comes back to ${where}`
          : `"${said}" arrives at ${where}${this.overtakes(event) ? ', before what was sent earlier' : ''}`
      }
      case 'doubleUp':
        return `"${text('up', event.place)}" arrives at the board, and will come once more`
      case 'doubleDown':
        return `"${text('down', event.place)}" arrives at ${panel}, and will come once more`
      case 'loseUp':
        return `"${text('up', event.place)}" is lost on its way to the board`
      case 'loseDown':
        return `"${text('down', event.place)}" is lost on its way to ${panel}`
      case 'press':
        return this.control(event.input).kind === 'push'
          ? `Somebody ${PRESSES[this.gesture(event.input).gesture]} the button of ${this.inputLoad(event.input)}`
          : `Somebody flips the switch of ${this.inputLoad(event.input)}`
      case 'key':
      case 'watchedKey':
        return `${panel}: ${keyWords(event.want)} of ${load(event.load)}`
      case 'scene':
        return `${panel}: ${system.design.scenes[event.scene]?.name ?? ''}`
      case 'other':
        return `${this.otherName(event.link)}: ${event.want === 'toggle' ? 'key' : keyWords(event.want)} of ${load(event.load)}`
      case 'otherScene':
        return `${this.otherName(event.link)}: ${system.design.scenes[event.scene]?.name ?? ''}`
      case 'remote':
        return `Somebody presses key ${event.key + 1} of ${system.design.sensors[event.sensor]?.name ?? 'the remote'}`
      case 'turn':
        return `Somebody turns ${system.controller.program.knobs[event.knob]?.knob.name ?? 'the knob'} ${event.detents > 0 ? 'up' : 'down'} by a click`
      case 'rule':
        return `"${system.design.rules[event.rule]?.name ?? ''}" acts`
      case 'end':
        return `the ${event.direction} end contact of ${load(event.load)} ${event.closed ? 'closes' : 'opens'}`
      case 'drop':
        return `${panel} goes out of reach`
      case 'return':
        return `${panel} connects again`
      case 'notice':
        return `${panel} notices that the link is gone`
      case 'timeout':
        return `${panel} has waited ${this.panel?.belief.timeoutMs ?? 0} ms for an answer`
      case 'poll':
        return `${panel} asks for the state`
      case 'tell':
        return 'the board tells the whole state'
      case 'sent':
        return 'what the board said has left'
      case 'least':
        return `the board may tell ${load(event.load)} again`
      case 'repeat':
        return `${panel} keeps the hold alive`
      case 'restart':
        return `${panel} starts anew and knows nothing`
      case 'save':
        return 'the board saves the value'
      case 'timer':
        return timerWords(this.systemLoad(event.load) as Load, event.slot)
      case 'hold':
        return `Somebody presses the button of ${this.inputLoad(event.input)} and stays on it`
      case 'letGo':
        return `The button of ${this.inputLoad(event.input)} is let go`
      case 'cut':
        return 'the power is cut'
      case 'powerOn':
        return 'the power returns and the board starts'
    }
  }

  private armed(): number[] {
    return armedSlots(
      this.system.controller.state(this.system.controllerOf(this.s)).motion[0] ?? null,
    )
  }
  private systemLoad(i: number): Load | undefined {
    return this.system.design.loads[i]
  }
  private saveDelayMs(): number {
    const { output } = loadOf(this.design, this.system.loadId)
    return 'saveDelayMs' in output ? output.saveDelayMs : 0
  }

  /** The surface that an event belongs to. */
  private whose(event: SystemEvent): string | null {
    if ('input' in event)
      return (
        this.design.surfaces.find(
          s =>
            s.kind === 'hand' && s.controls.some(c => c.id === this.gesture(event.input).controlId),
        )?.id ?? null
      )
    if (event.kind === 'other' || event.kind === 'otherScene')
      return (
        this.design.surfaces.find(
          s => s.kind !== 'hand' && s.linkId === this.system.design.links[event.link]?.id,
        )?.id ?? null
      )
    return OF_THE_BOARD.includes(event.kind) ? null : this.surfaceId
  }

  /** The control with its real times, not those of the projection. */
  private control(input: number) {
    const id = this.gesture(input).controlId
    const control = this.design.surfaces
      .flatMap(s => (s.kind === 'hand' ? s.controls : []))
      .find(c => c.id === id)
    if (!control) throw new RangeError(`no control for input ${input}`)
    return control
  }

  private gesture(input: number) {
    return gestureOf(this.system.controller.program.inputs[input]?.control.id ?? '')
  }
  private loadName(): string {
    return loadOf(this.design, this.system.loadId).name
  }
  private otherName(link: number): string {
    return (
      this.design.surfaces.find(
        s => s.kind !== 'hand' && s.linkId === this.system.design.links[link]?.id,
      )?.name ?? 'another panel'
    )
  }

  private inputLoad(input: number): string {
    return loadOf(this.design, this.control(input).loadId).name
  }
}

/** What the board hears or feels. */
const REACHES_THE_BOARD: readonly SystemEvent['kind'][] = [
  'deliverUp',
  'doubleUp',
  'press',
  'hold',
  'other',
  'otherScene',
  'remote',
  'turn',
  'rule',
  'powerOn',
]
/**
 * A message of the bench is taken for one of the story when it is sent this near to its time, ms.
 */
const NEAR_MS = 12
/** What goes round for ever says so much in so long a time, ms. */
const ROUND_MS = 500
const ROUND_MESSAGES = 5
/** Texts that come back take no longer than this, ms. */
const LONGEST_ECHO_MS = 200
/** Found on the way, not at rest: what comes after is not told. */
const ENDS_THERE: readonly What[] = [
  'dead',
  'clashed',
  'twice',
  'moved',
  'jumped',
  'astray',
  'restless',
]
/** Found where all is at rest: what is shown there is a part of it. */
const AT_REST: readonly What[] = ['wrong', 'unsure', 'vanished']
const OF_THE_BOARD: readonly SystemEvent['kind'][] = [
  'save',
  'sent',
  'least',
  'timer',
  'cut',
  'powerOn',
  'rule',
  'end',
  'remote',
  'turn',
]

/** What the power-up policy of an output promises. */
export function policyWords(output: Output): string {
  const policy = 'powerUp' in output ? output.powerUp : 'off'
  return policy === 'last'
    ? 'it should be as it was saved'
    : `it should be ${valueWords(output, policy === 'on' ? fullOf(output) : restOf(output))}`
}

/** The bench went through the same values in the same order. */
function sameWay(told: readonly string[], was: readonly string[]): boolean {
  const moves = was.filter((v, i) => i === 0 || v !== was[i - 1])
  const last = moves.slice(-told.length)
  return last.length === told.length && last.every((v, i) => v === told[i])
}
