/**
 * A panel as a state machine: what it believes of each load, what it sends, when it asks. Pure;
 * times are handed in. Policies: *assume* shows what was asked at once; *confirm* waits for a
 * matching answer, retries, then is unknown; *report only* shows nothing but what it hears.
 */
import { maybeMessage, farSurfaceOf, linkOf } from '../design/find'
import type { Design, Link, Message, Output, FarSurface } from '../design/schema'
import { isDatagram, speaksRoutes } from '../design/links/traits'
import { spokenValues } from '../design/values'
import { isTimed } from '../design/outputs/timed'
import { bodyIn, wireOf } from '../design/wire'
import { flagged, flaggedOn, type Flagged } from '../messages/started'
import {
  counterIn,
  nextCount,
  PRACTICE_TIME_S,
  practiceSecret,
  sealedText,
  type Secret,
} from '../messages/sealing'
import { feedAll, readerOf, type Reader } from '../messages/stream'
import { codeOf, sayable, setpointIn, type NumberPlace } from '../messages/setpoints'
import { errorText, reportBody, restartCode, rows, streams } from '../messages/table'
import { numberPlaces } from '../messages/places'
import { readingIn } from '../messages/readings'
import { nextNumber, withNumber } from '../messages/numbers'
import { startsTimers, withTime } from '../messages/times'
import { clock32, earlier, reached } from '../units/clock'
import { isHeld } from '../design/outputs/traits'
import { askedBySteps, relativeIn } from '../design/steps'
import { askedAgain, dropAnswered, keepAsked, type Asked } from './asked'
import { heardOverHttp, type Refused, type Via } from './over-http'

export type { Via }

export interface Belief {
  /** A value of the load, or null: not known. */
  value: string | null
  /** Known before the link was lost, not confirmed since. */
  stale: boolean
  /**
   * `relative`: asked for by a code that means no value of its own ("toggle", "up"), which a retry
   * says again; any other value than the one believed before is its answer too. `number`: that of
   * the command, which a retry carries too; 0 = none yet.
   */
  waiting: {
    asked: string
    relative: string | null
    since: number
    due: number
    triesLeft: number
    number: number
  } | null
}
export interface SurfaceState {
  up: boolean
  beliefs: readonly Belief[]
  /** By load: a key is held down, and the next keep-alive is due then. */
  holds: readonly (number | null)[]
  buffer: string
  pollDue: number | null
  /** What the last signed command carried, or was told to carry: a counter, a time or a number. */
  counter: number
  /** Signed commands that were not answered yet, the oldest first. */
  asked: readonly Asked[]
  /** Of the last command that carried one. */
  number: number
  /**
   * It has not said yet that it has just started; where a flag says so, it has heard nothing since.
   */
  fresh: boolean
  /** By sensor of the design. */
  readings: readonly ReadingBelief[]
  /** By load: a value that a fader has not sent yet, and when it may send again. */
  slides: readonly (Slide | null)[]
}
/** `text`: "" = not known. */
export interface ReadingBelief {
  text: string
  stale: boolean
}
interface Slide {
  pending: string | null
  freeAt: number
}
/**
 * A fader that is dragged sends at most this often; where it ends is always sent
 * (docs/behaviour.md).
 */
export const SLIDE_MS = 100
export interface SurfaceProgram {
  panel: FarSurface
  link: Link
  secret: Secret
  /** What its clock said when its own time began, s since 1970. */
  epochS: number
  ignoresReplies: boolean
  /** By load of the design; undefined where the link has no message for it. */
  messages: (Message | undefined)[]
  outputs: readonly Output[]
  /** By scene of the design: its code here, and what it sets. */
  scenes: readonly { code: string; sets: readonly { load: number; value: string }[] }[]
  /** Ids of loads, sensors and scenes, by number. */
  loads: readonly string[]
  sensors: readonly string[]
  sceneIds: readonly string[]
  /** Report, without its end -> load and value; first entry of a duplicate wins. */
  meanings: Map<string, { load: number; value: string }>
  /** What is told in numbers. */
  numbers: readonly NumberPlace[]
  reader: Reader
  /** The answer to what is not understood, without its end; "" = none. */
  refusal: string
  /** The question for the state, and what is said after a start; "" = nothing. */
  ask: string
  started: string
  /** Messages have a flag for it: set until something is heard, once where nothing is ever told. */
  flagged: Flagged | null
  /** Texts that came whole, and what was understood: the same few come again and again. */
  known: Record<Via, Map<string, { heard: readonly Understood[]; buffer: string }>>
  /** Codes that go out as they are, and their texts. */
  said: Map<string, string>
}
export type SurfaceEvent =
  | { kind: 'linkUp'; now: number }
  | { kind: 'linkDown'; now: number }
  /**
   * `want`: a value, "flip", "up" or "down". On a held load "on" is a finger that stays, "off" the
   * finger that leaves.
   */
  | { kind: 'key'; now: number; load: number; want: string }
  /** A fader is drawn: values follow one another faster than they can be sent. */
  | { kind: 'slide'; now: number; load: number; want: string }
  | { kind: 'scene'; now: number; scene: number }
  /** `about`: the load of the command that is answered, where that is known; -1 = several. */
  | { kind: 'received'; now: number; text: string; via: Via; about?: number }
  | { kind: 'tick'; now: number }
/**
 * `sends`: command codes or the question, a route on HTTP. `heard`: what was understood, for
 * whoever shows answers.
 */
export interface SurfaceStepped {
  state: SurfaceState
  sends: string[]
  /** By what is sent: the load it is about, -1 = not one load. */ about: number[]
  heard?: readonly Understood[]
}
export type Understood =
  { load: number; value: string } | { sensor: number; text: string } | Refused

/** The practice secret stands for one that is not given. */
export function compileSurface(
  design: Design,
  surfaceId: string,
  secret?: Secret,
  epochS = PRACTICE_TIME_S,
): SurfaceProgram {
  const panel = farSurfaceOf(design, surfaceId)
  const link = linkOf(design, panel.linkId)
  const meanings = new Map<string, { load: number; value: string }>()
  const index = new Map(design.loads.map((l, i) => [l.id, i]))
  for (const { load, message } of rows(design, link)) {
    for (const value of spokenValues(load.output)) {
      const text = reportBody(link, load, message, value)
      if (!meanings.has(text)) meanings.set(text, { load: index.get(load.id) as number, value })
    }
  }
  return {
    ask: askText(link),
    started: restartCode(link) === '' ? '' : wireOf(link, restartCode(link), 'command'),
    flagged: flaggedOn(link, panel),
    known: { stream: new Map(), command: new Map(), ask: new Map(), refused: new Map() },
    said: new Map(),
    panel,
    link,
    epochS,
    secret: secret ?? practiceSecret(link),
    meanings,
    numbers: numberPlaces(design, link, 'report', index),
    reader: readerOf(link, meanings.keys()),
    ignoresReplies: streams(link),
    refusal: bodyIn(link, errorText(link)),
    messages: design.loads.map(l => maybeMessage(link, l.id)),
    outputs: design.loads.map(l => l.output),
    scenes: design.scenes.map(s => ({
      code: link.scenes[s.id] ?? '',
      sets: s.sets.flatMap(x =>
        index.has(x.loadId) ? [{ load: index.get(x.loadId) as number, value: x.value }] : [],
      ),
    })),
    loads: design.loads.map(l => l.id),
    sensors: design.sensors.map(s => s.id),
    sceneIds: design.scenes.map(s => s.id),
  }
}

/** Whether an answer is waited for. */
export function awaits({ beliefs }: Pick<SurfaceState, 'beliefs'>): boolean {
  return beliefs.some(b => b.waiting !== null)
}

/**
 * `number`: where it begins to number its commands. `counter`: of signed commands sent before,
 * which outlives a start.
 */
export function startSurface(program: SurfaceProgram, number = 0, counter = 0): SurfaceState {
  return {
    up: false,
    buffer: '',
    pollDue: null,
    counter,
    asked: NOBODY,
    number,
    fresh: true,
    beliefs: program.messages.map(() => UNKNOWN),
    holds: program.messages.map(() => null),
    slides: program.messages.map(() => null),
    readings: program.sensors.map(() => NO_READING),
  }
}

/** The surface after one event, and what it says. Pure: the state given stays as it was. */
export function surfaceStep(
  program: SurfaceProgram,
  state: SurfaceState,
  event: SurfaceEvent,
): SurfaceStepped {
  const unit = new SurfaceMachine(program, {
    ...state,
    beliefs: state.beliefs.slice(),
    holds: state.holds.slice(),
    slides: state.slides.slice(),
    readings: state.readings.slice(),
  })
  const sends = unit.handle(event)
  const { about, heard } = unit
  return heard.length
    ? { state: unit.state, sends, about, heard }
    : { state: unit.state, sends, about }
}

/** When the surface wants a tick, ms on its clock; null = never. */
export function panelDue(state: SurfaceState): number | null {
  return earlier(state.pollDue, otherDue(state))
}

/** When something other than the next question is due. */
function otherDue(state: SurfaceState): number | null {
  let due: number | null = null
  for (const b of state.beliefs) if (b.waiting) due = earlier(due, b.waiting.due)
  for (const hold of state.holds) due = earlier(due, hold)
  for (const s of state.slides) if (s && s.pending !== null) due = earlier(due, s.freeAt)
  return due
}

/** What a key shows: waiting counts before the value it had. */
export type Shown = string
/** "waiting", "unknown", a value, or a value marked stale: "stale-on". */
export function shown(belief: Belief): Shown {
  if (belief.waiting) return 'waiting'
  if (belief.value === null) return 'unknown'
  return belief.stale ? `stale-${belief.value}` : belief.value
}

const NO_READING: ReadingBelief = { text: '', stale: false }
const UNKNOWN: Belief = { value: null, stale: false, waiting: null }
const NOTHING: readonly Understood[] = []
const NOBODY: readonly Asked[] = []
/** Texts that are remembered: values make ever new ones. */
const KEPT_TEXTS = 3000

type Working = {
  -readonly [K in keyof SurfaceState]: SurfaceState[K] extends readonly (infer T)[]
    ? K extends 'asked'
      ? SurfaceState[K]
      : T[]
    : SurfaceState[K]
}

/** A panel at work on a state that is changed in place. */
export class SurfaceMachine {
  sends: string[] = []
  /** By what is sent: the load that it is about, -1 = not one load. */
  about: number[] = []
  heard: readonly Understood[] = NOTHING
  /** Loads whose belief was replaced by the event, each once at least. */
  changed: number[] = []
  private now = 0
  /** What its clock says, s since 1970. */
  private clockS = 0
  /**
   * When something other than the next question is due; looked for again only after something that
   * has a time was touched.
   */
  private others: number | null = null
  private othersStand = false
  /**
   * What was heard last, while nothing changed what is believed since: heard again it changes
   * nothing.
   */
  private applied: readonly Understood[] | null = null

  constructor(
    readonly program: SurfaceProgram,
    public state: Working,
  ) {}

  /** Goes on from another state. */
  become(state: SurfaceState): void {
    this.state = state as Working
    this.othersStand = false
    this.applied = null
  }

  /** When it next wants a tick. */
  get nextDue(): number | null {
    return earlier(this.state.pollDue, this.otherDue())
  }

  private otherDue(): number | null {
    if (!this.othersStand) {
      this.others = otherDue(this.state)
      this.othersStand = true
    }
    return this.others
  }

  /** What goes out; the caller's until the next event. */
  handle(event: SurfaceEvent): string[] {
    if (this.sends.length) {
      this.sends = []
      this.about = []
    }
    if (this.changed.length) this.changed = []
    this.heard = NOTHING
    // What is received, and a question that is due, touch times only by what is believed.
    if (event.kind !== 'received' && event.kind !== 'tick') this.othersStand = false
    const now = (this.now = clock32(event.now))
    this.clockS = this.program.epochS + Math.floor(event.now / 1000)
    switch (event.kind) {
      case 'linkUp':
        this.connect(now)
        break
      case 'linkDown':
        this.disconnect()
        break
      // A key that is pressed counts for more than where a fader still was.
      case 'key':
        if (this.state.slides[event.load]) this.state.slides[event.load] = null
        this.key(now, event.load, event.want)
        break
      case 'slide':
        this.slide(now, event.load, event.want)
        break
      case 'scene':
        this.scene(now, event.scene)
        break
      case 'received':
        this.received(event.text, event.via, event.about)
        break
      case 'tick':
        this.tick(now)
    }
    return this.sends
  }

  private connect(now: number): void {
    const { state, program } = this
    state.up = true
    state.buffer = ''
    state.pollDue = program.panel.pollMs ? clock32(now + program.panel.pollMs) : null
    if (state.fresh && program.started !== '') this.out(program.started, -1)
    state.fresh &&= program.flagged !== null
    if (program.panel.pollMs) this.out(program.ask, -1)
  }

  private disconnect(): void {
    const { state, program } = this
    const { onLoss } = program.panel.belief
    state.up = false
    state.buffer = ''
    state.asked = NOBODY
    state.pollDue = null
    state.beliefs.forEach((belief, load) => this.believe(load, lost(program, belief)))
    state.holds.fill(null)
    state.slides.fill(null)
    this.applied = null
    state.readings.forEach((r, i) => {
      state.readings[i] =
        onLoss === 'unknown' ? NO_READING : { ...r, stale: onLoss === 'stale' && r.text !== '' }
    })
  }

  /** A key does nothing while the panel knows that its link is down. */
  private key(now: number, load: number, want: string): void {
    const { program, state } = this
    const message = program.messages[load]
    const output = program.outputs[load]
    const belief = state.beliefs[load]
    if (!state.up || !message || !belief || !output) return
    const value = sayable(
      program.link,
      output,
      message,
      askedBySteps(output, belief.waiting?.asked ?? belief.value ?? '', want),
    )
    // A key that flips or steps says so where there is a code for it; what comes of it is the
    // board's to tell.
    const step = want === 'flip' ? 'toggle' : want
    const which = relativeIn(step)
    const relative = which !== null && message.codes[which] ? step : null
    const [timer = '', ms] = value.split(':')
    const code = codeOf(program.link, output, message, relative ?? timer)
    const number = this.freshNumber()
    if (
      !this.say(
        ms === undefined || code === '' ? code : timedCode(program.link, code, Number(ms)),
        number,
        load,
        relative === null && !isTimed(timer) ? value : '',
      )
    )
      return
    // What a timer does in between is the board's to tell.
    if (isTimed(timer)) return
    this.wish(load, belief, value, relative, now, number)
    if (isHeld(output))
      state.holds[load] = value === 'on' ? clock32(now + keepAliveMs(output)) : null
  }

  /** The newest value counts: it goes at once, or as soon as the one before is long enough ago. */
  private slide(now: number, load: number, want: string): void {
    const { state } = this
    const before = state.slides[load]
    if (!state.up) return
    if (before && !reached(now, before.freeAt)) {
      state.slides[load] = { ...before, pending: want }
      return
    }
    state.slides[load] = { pending: null, freeAt: clock32(now + SLIDE_MS) }
    this.key(now, load, want)
  }

  /** One code for several loads; each is believed as if it had been asked for itself. */
  private scene(now: number, index: number): void {
    const { program, state } = this
    const { code, sets } = program.scenes[index] ?? { code: '', sets: [] }
    if (!state.up || !this.say(code, this.freshNumber(), -1)) return
    for (const { load, value } of sets) {
      const belief = state.beliefs[load]
      // Said again it is a command of its own, and has a number of its own.
      if (program.messages[load] && belief) this.wish(load, belief, value, null, now, 0)
    }
  }

  /** What a key shows after it asked for a value. */
  private wish(
    load: number,
    belief: Belief,
    value: string,
    relative: string | null,
    now: number,
    number: number,
  ): void {
    const { policy, timeoutMs, retries } = this.program.panel.belief
    // From what is not known no step leads to anything that is.
    if (policy === 'assume' && relative !== null && belief.value === null) return
    if (policy === 'assume') this.believe(load, { value, stale: false, waiting: null })
    else if (policy === 'confirm')
      this.believe(load, {
        ...belief,
        waiting: {
          asked: value,
          relative,
          since: now,
          due: clock32(now + timeoutMs),
          triesLeft: retries,
          number,
        },
      })
  }

  private freshNumber(): number {
    if (!this.program.link.numbered) return 0
    this.state.number = nextNumber(this.state.number)
    return this.state.number
  }

  /**
   * A command on its way out, with its number and its proof where the link asks for them. Returns
   * whether there is such a code.
   */
  private say(
    code: string,
    number: number,
    load: number,
    want = '',
    before: Asked | null = null,
  ): boolean {
    const {
      program: { link, secret },
      state,
    } = this
    const counter = nextCount(link, state.counter, this.clockS)
    if (state.fresh && load >= 0) code = flagged(this.program, state, code)
    const plain = link.auth.kind === 'none' && number === 0
    let text = plain ? this.program.said.get(code) : undefined
    if (text === undefined) {
      text = sealedText(link, code !== '' && number ? withNumber(link, code, number) : code, {
        secret,
        counter,
      })
      if (plain && this.program.said.size < KEPT_TEXTS) this.program.said.set(code, text)
    }
    if (text === '') return false
    state.counter = counter
    keepAsked(state, this.program, { code, number, load, want }, before, this.now)
    // What is heard again answers another command.
    if (state.asked.length) this.applied = null
    this.out(text, load)
    return true
  }

  private received(text: string, via: Via, about = -1): void {
    const { program, state } = this
    if (via === 'command') dropAnswered(state, about, '')
    // With an event stream open, answers to commands travel on other connections and may be
    // overtaken: the stream counts.
    if (!state.up || (speaksRoutes(program.link) && via === 'command' && program.ignoresReplies))
      return
    if (state.buffer !== '') {
      const { heard, buffer } = understoodAfter(program, state.buffer, text)
      this.heard = heard
      state.buffer = buffer
    } else {
      const { heard, buffer } = understoodWhole(program, text, via)
      this.heard = heard
      state.buffer = buffer
    }
    if (isDatagram(program.link)) state.buffer = ''
    if (this.heard.length) state.fresh = false
    if (this.heard === this.applied) return
    const { heard } = this
    let refused = false
    for (let i = 0; i < heard.length; i++) {
      const understood = heard[i] as Understood
      refused ||= 'refused' in understood
      this.take(understood, via, about)
    }
    // A refusal is about one command: said again it is about another.
    this.applied = refused ? null : heard
    // What is said once more was not refused to whoever pressed.
    if (refused && this.sends.length) this.heard = heard.filter(h => !('refused' in h))
  }

  private take(understood: Understood, via: Via, about: number): void {
    const { state } = this
    if ('refused' in understood) return this.refused(this.now, about, understood.told)
    if ('sensor' in understood) {
      state.readings[understood.sensor] = { text: understood.text, stale: false }
      return
    }
    const belief = state.beliefs[understood.load]
    if (!belief) return
    const { value } = understood
    if (via !== 'ask') dropAnswered(state, understood.load, value)
    // What was on its way before the press says what was believed already.
    const answers =
      belief.waiting === null
      || belief.waiting.asked === value
      || (belief.waiting.relative !== null
        && (via === 'command' || (belief.value !== null && value !== belief.value)))
    const waiting = answers ? null : belief.waiting
    if (belief.value === value && !belief.stale && belief.waiting === waiting) return
    this.believe(understood.load, { value, stale: false, waiting })
  }

  /**
   * A command was refused, which is an answer: nobody waits for another. What was believed before
   * stands; what was assumed is not known any more. Where it is not said which command it was, it
   * is the one that has waited longest.
   */
  private refused(now: number, about: number, told?: number): void {
    const { beliefs } = this.state
    // With the number that is right it is said once more; refused too often it stays so.
    const again = askedAgain(this.state, this.program.link.auth, told, about, now)
    if (again) {
      this.say(again.code, again.number, again.load, again.want, again)
      return
    }
    let load = about
    if (load < 0)
      for (let i = 0; i < beliefs.length; i++) {
        const since = beliefs[i]?.waiting?.since
        if (
          since !== undefined
          && (load < 0
            || ((now - since) | 0) > ((now - (beliefs[load]?.waiting?.since as number)) | 0))
        )
          load = i
      }
    const belief = beliefs[load]
    if (!belief) return
    if (this.program.panel.belief.policy === 'assume' && about >= 0) this.believe(load, UNKNOWN)
    else if (belief.waiting) this.believe(load, { ...belief, waiting: null })
  }

  /** The code of a command that is said once more. */
  private codeAgain(load: number, waiting: NonNullable<Belief['waiting']>): string {
    const { link, outputs, messages } = this.program
    const message = messages[load]
    return message
      ? codeOf(link, outputs[load] as Output, message, waiting.relative ?? waiting.asked)
      : ''
  }

  private tick(now: number): void {
    const { program, state } = this
    const due = this.otherDue()
    if (due !== null && reached(now, due)) this.overdue(now)
    if (state.pollDue === null || !reached(now, state.pollDue)) return
    state.pollDue = clock32(now + program.panel.pollMs)
    this.out(program.ask, -1)
  }

  /** Answers that did not come, keep-alives, faders. */
  private overdue(now: number): void {
    const { program, state } = this
    this.othersStand = false
    for (let load = 0; load < state.beliefs.length; load++) {
      const belief = state.beliefs[load] as Belief
      const { waiting } = belief
      if (!waiting || !reached(now, waiting.due)) continue
      if (waiting.triesLeft === 0) {
        this.believe(load, UNKNOWN)
        continue
      }
      const number = waiting.number || this.freshNumber()
      this.believe(load, {
        ...belief,
        waiting: {
          ...waiting,
          number,
          due: clock32(now + program.panel.belief.timeoutMs),
          triesLeft: waiting.triesLeft - 1,
        },
      })
      this.say(this.codeAgain(load, waiting), number, load)
    }
    for (let load = 0; load < state.holds.length; load++) {
      const hold = state.holds[load] as number | null
      const output = program.outputs[load]
      if (hold === null || !reached(now, hold) || !isHeld(output)) continue
      state.holds[load] = clock32(now + keepAliveMs(output))
      this.say(program.messages[load]?.codes.on ?? '', this.freshNumber(), load)
    }
    state.slides.forEach((s, load) => {
      if (s && s.pending !== null && reached(now, s.freeAt)) this.slide(now, load, s.pending)
    })
  }

  private out(text: string, load: number): void {
    this.sends.push(text)
    this.about.push(load)
  }

  private believe(load: number, belief: Belief): void {
    const before = this.state.beliefs[load]
    if (before === belief) return
    if (before?.waiting !== belief.waiting) this.othersStand = false
    this.applied = null
    this.state.beliefs[load] = belief
    this.changed.push(load)
  }
}

function lost(program: SurfaceProgram, belief: Belief): Belief {
  const { onLoss } = program.panel.belief
  if (onLoss === 'unknown') return UNKNOWN
  // A command nobody answered leaves the key unsure, whatever it showed before.
  if (belief.waiting) return UNKNOWN
  return onLoss === 'stale' && belief.value !== null ? { ...belief, stale: true } : belief
}

/** A code that starts a timer, with a time of its own where the link has room for one. */
function timedCode(link: Link, code: string, ms: number): string {
  return startsTimers(link) ? withTime(link, code, ms) : code
}

/** Three keep-alives in the time that the controller allows: one may be lost, one may be late. */
export function keepAliveMs(output: Extract<Output, { kind: 'held' }>): number {
  return Math.floor(output.timeoutMs / 3)
}

interface Whole {
  heard: readonly Understood[]
  buffer: string
}

/** What a text says, nothing being half-read before it. */
function understoodWhole(program: SurfaceProgram, text: string, via: Via): Whole {
  const memory = program.known[via]
  let known = memory.get(text)
  if (!known) {
    known = speaksRoutes(program.link)
      ? {
          heard: heardOverHttp(program.link, text, via, line => reportMeaning(program, line)),
          buffer: '',
        }
      : understoodAfter(program, '', text)
    if (memory.size >= KEPT_TEXTS) memory.clear()
    memory.set(text, known)
  }
  return known
}

/** What bytes say after those that are half-read. */
function understoodAfter(program: SurfaceProgram, before: string, text: string): Whole {
  const { buffer, heard } = feedAll(program.reader, before, text)
  return {
    buffer,
    heard: heard.flatMap(h => reportMeaning(program, h.kind === 'code' ? h.code : h.bytes) ?? []),
  }
}

/** What one message from the board says, without its end; null where it says nothing. */
export function reportMeaning(program: SurfaceProgram, message: string): Understood | null {
  const meaning = program.meanings.get(message)
  if (meaning) return meaning
  const number = setpointIn(program.numbers, program.link, message, 'report')
  if (number) return number
  const reading = program.link.readings.length ? readingIn(program.link, message) : null
  if (reading) return { sensor: program.sensors.indexOf(reading.sensorId), text: reading.text }
  const told = counterIn(program.link, message)
  if (told !== null) return { refused: 'its counter does not fit', told }
  return program.refusal !== '' && message === program.refusal ? { refused: message } : null
}

/** The question for the state, as it goes over the wire. */
export function askText(link: Link): string {
  return wireOf(link, speaksRoutes(link) ? link.askRoute : link.askCode, 'command')
}
