/**
 * A panel as a state machine: what it believes of each load, what it sends, when it asks. Pure; times are handed in.
 * Policies: *assume* shows what was asked at once; *confirm* waits for a matching answer, retries, then is unknown;
 * *report only* shows nothing but what it hears.
 */
import { maybeMessage, remoteOf, linkOf } from '../design/find'
import type { Design, Link, Message, Output, RemoteSurface } from '../design/schema'
import { isDatagram } from '../design/links'
import { asked, isTimed, spokenValues } from '../design/values'
import { bodyIn, wireOf } from '../design/wire'
import { linesIn } from '../messages/answers'
import { practiceSecret, sealedText, type Secret } from '../messages/sealing'
import { feed, readerOf, type Reader } from '../messages/stream'
import { errorText, reportBody, rows, streams } from '../messages/table'
import { readingIn } from '../messages/readings'
import { startsTimers, withTime } from '../messages/times'
import { clock32, earlier, reached } from '../units/clock'

export interface Belief {
  /** A value of the load, or null: not known. */
  value: string | null
  /** Known before the link was lost, not confirmed since. */
  stale: boolean
  /** `toggled`: asked for by the code that toggles, which a retry says again. */
  waiting: { asked: string, toggled: boolean, since: number, due: number, triesLeft: number } | null
}
export interface PanelState {
  up: boolean
  beliefs: readonly Belief[]
  /** By load: a key is held down, and the next keep-alive is due then. */
  holds: readonly (number | null)[]
  buffer: string
  pollDue: number | null
  /** Of signed commands sent so far. */
  counter: number
  /** By sensor of the design. */
  readings: readonly ReadingBelief[]
  /** By load: a value that a fader has not sent yet, and when it may send again. */
  slides: readonly (Slide | null)[]
}
/** `text`: "" = not known. */
export interface ReadingBelief { text: string, stale: boolean }
interface Slide { pending: string | null, freeAt: number }
/** A fader that is dragged sends at most this often; where it ends is always sent (docs/behaviour.md). */
export const SLIDE_MS = 100
export interface PanelProgram {
  panel: RemoteSurface
  link: Link
  secret: Secret
  ignoresReplies: boolean
  /** By load of the design; undefined where the link has no message for it. */
  messages: (Message | undefined)[]
  outputs: readonly Output[]
  /** By scene of the design: its code here, and what it sets. */
  scenes: readonly { code: string, sets: readonly { load: number, value: string }[] }[]
  /** Ids of loads, sensors and scenes, by number. */
  loads: readonly string[]
  sensors: readonly string[]
  sceneIds: readonly string[]
  /** Report, without its end -> load and value; first entry of a duplicate wins. */
  meanings: Map<string, { load: number, value: string }>
  reader: Reader
  /** The answer to what is not understood, without its end; "" = none. */
  refusal: string
}
/** Serial bytes and event streams are unasked; HTTP answers belong to a command or to a question for the state. */
export type Via = 'stream' | 'command' | 'ask'
export type PanelEvent =
  | { kind: 'linkUp', now: number }
  | { kind: 'linkDown', now: number }
  /** `want`: a value, "flip", "up" or "down". On a held load "on" is a finger that stays, "off" the finger that leaves. */
  | { kind: 'key', now: number, load: number, want: string }
  /** A fader is drawn: values follow one another faster than they can be sent. */
  | { kind: 'slide', now: number, load: number, want: string }
  | { kind: 'scene', now: number, scene: number }
  | { kind: 'received', now: number, text: string, via: Via }
  | { kind: 'tick', now: number }
/** `sends`: command codes or the question, a route on HTTP. `heard`: what was understood, for whoever shows answers. */
export interface PanelStepped { state: PanelState, sends: string[], heard?: readonly Understood[] }
export type Understood = { load: number, value: string } | { sensor: number, text: string } | { refused: string }

/** The practice secret stands for one that is not given. */
export function compilePanel(design: Design, surfaceId: string, secret?: Secret): PanelProgram {
  const panel = remoteOf(design, surfaceId)
  const link = linkOf(design, panel.linkId)
  const meanings = new Map<string, { load: number, value: string }>()
  const index = new Map(design.loads.map((l, i) => [l.id, i]))
  for (const { load, message } of rows(design, link)) {
    for (const value of spokenValues(load.output)) {
      const text = reportBody(link, load, message, value)
      if (!meanings.has(text)) meanings.set(text, { load: index.get(load.id) as number, value })
    }
  }
  return {
    panel, link, secret: secret ?? practiceSecret(link), meanings, reader: readerOf(link, meanings.keys()), ignoresReplies: streams(link), refusal: bodyIn(link, errorText(link)),
    messages: design.loads.map(l => maybeMessage(link, l.id)), outputs: design.loads.map(l => l.output),
    scenes: design.scenes.map(s => ({ code: link.scenes[s.id] ?? '', sets: s.sets.flatMap(x => index.has(x.loadId) ? [{ load: index.get(x.loadId) as number, value: x.value }] : []) })),
    loads: design.loads.map(l => l.id), sensors: design.sensors.map(s => s.id), sceneIds: design.scenes.map(s => s.id),
  }
}

export function startPanel(program: PanelProgram): PanelState {
  return { up: false, buffer: '', pollDue: null, counter: 0, beliefs: program.messages.map(() => UNKNOWN), holds: program.messages.map(() => null), slides: program.messages.map(() => null), readings: program.sensors.map(() => NO_READING) }
}

export function panelStep(program: PanelProgram, state: PanelState, event: PanelEvent): PanelStepped {
  const now = clock32(event.now)
  switch (event.kind) {
    case 'linkUp': return connect(program, state, now)
    case 'linkDown': return { state: { ...state, up: false, buffer: '', pollDue: null, beliefs: state.beliefs.map(b => lost(program, b)), holds: state.holds.map(() => null), slides: state.slides.map(() => null), readings: state.readings.map(r => program.panel.belief.onLoss === 'unknown' ? NO_READING : { ...r, stale: program.panel.belief.onLoss === 'stale' && r.text !== '' }) }, sends: [] }
    // A key that is pressed counts for more than where a fader still was.
    case 'key': return key(program, state.slides[event.load] ? { ...state, slides: state.slides.with(event.load, null) } : state, now, event.load, event.want)
    case 'slide': return slide(program, state, now, event.load, event.want)
    case 'scene': return scene(program, state, now, event.scene)
    case 'received': return received(program, state, event.text, event.via)
    case 'tick': return tick(program, state, now)
  }
}

export function panelDue(state: PanelState): number | null {
  let due = state.pollDue
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

function connect(program: PanelProgram, state: PanelState, now: number): PanelStepped {
  const { pollMs } = program.panel
  const next = { ...state, up: true, buffer: '', pollDue: pollMs ? clock32(now + pollMs) : null }
  return { state: next, sends: pollMs ? [askText(program.link)] : [] }
}

function lost(program: PanelProgram, belief: Belief): Belief {
  const { onLoss } = program.panel.belief
  if (onLoss === 'unknown') return UNKNOWN
  // A command nobody answered leaves the key unsure, whatever it showed before.
  if (belief.waiting) return UNKNOWN
  return onLoss === 'stale' && belief.value !== null ? { ...belief, stale: true } : belief
}

/** A key does nothing while the panel knows that its link is down. */
function key(program: PanelProgram, state: PanelState, now: number, load: number, want: string): PanelStepped {
  const message = program.messages[load]
  const output = program.outputs[load]
  const belief = state.beliefs[load]
  if (!state.up || !message || !belief || !output) return { state, sends: [] }
  const value = asked(output, belief.waiting?.asked ?? belief.value ?? '', want)
  // A key that flips says so where there is a code for it; what comes of it is the board's to tell.
  const toggled = want === 'flip' && (message.codes.toggle ?? '') !== ''
  const [timer = '', ms] = value.split(':')
  const code = message.codes[toggled ? 'toggle' : timer] ?? ''
  const said = saying(program, state, ms === undefined || code === '' ? code : timedCode(program.link, code, Number(ms)))
  if (said.sends.length === 0) return said
  // What a timer does in between is the board's to tell.
  if (isTimed(timer)) return said
  const next = wished(program, belief, value, toggled, now)
  const held = output.kind === 'held' ? { ...said.state, holds: said.state.holds.with(load, value === 'on' ? clock32(now + keepAliveMs(output)) : null) } : said.state
  return { state: withBelief(held, load, next), sends: said.sends }
}

/** A code that starts a timer, with a time of its own where the link has room for one. */
function timedCode(link: Link, code: string, ms: number): string {
  return startsTimers(link) ? withTime(link, code, ms) : code
}

/** The newest value counts: it goes at once, or as soon as the one before is long enough ago. */
function slide(program: PanelProgram, state: PanelState, now: number, load: number, want: string): PanelStepped {
  const before = state.slides[load]
  if (!state.up) return { state, sends: [] }
  if (before && !reached(now, before.freeAt)) return { state: { ...state, slides: state.slides.with(load, { ...before, pending: want }) }, sends: [] }
  return key(program, { ...state, slides: state.slides.with(load, { pending: null, freeAt: clock32(now + SLIDE_MS) }) }, now, load, want)
}

/** One code for several loads; each is believed as if it had been asked for itself. */
function scene(program: PanelProgram, state: PanelState, now: number, index: number): PanelStepped {
  const { code, sets } = program.scenes[index] ?? { code: '', sets: [] }
  if (!state.up) return { state, sends: [] }
  const said = saying(program, state, code)
  if (said.sends.length === 0) return said
  let next = said.state
  for (const { load, value } of sets) {
    const belief = next.beliefs[load]
    if (program.messages[load] && belief) next = withBelief(next, load, wished(program, belief, value, false, now))
  }
  return { state: next, sends: said.sends }
}

/** What a key shows after it asked for a value. */
function wished(program: PanelProgram, belief: Belief, value: string, toggled: boolean, now: number): Belief {
  const { policy, timeoutMs, retries } = program.panel.belief
  if (policy === 'assume') return { value, stale: false, waiting: null }
  return policy === 'confirm' ? { ...belief, waiting: { asked: value, toggled, since: now, due: clock32(now + timeoutMs), triesLeft: retries } } : belief
}

/** A command on its way out, with its proof where the link asks for one. */
function saying(program: PanelProgram, state: PanelState, code: string): PanelStepped {
  const signed = program.link.auth.kind === 'counter'
  const counter = state.counter + (signed ? 1 : 0)
  const text = sealedText(program.link, code, { secret: program.secret, counter })
  return text === '' ? { state, sends: [] } : { state: signed ? { ...state, counter } : state, sends: [text] }
}

/** Three keep-alives in the time that the controller allows: one may be lost, one may be late. */
export function keepAliveMs(output: Extract<Output, { kind: 'held' }>): number {
  return Math.floor(output.timeoutMs / 3)
}

function received(program: PanelProgram, state: PanelState, text: string, via: Via): PanelStepped {
  if (!state.up) return { state, sends: [] }
  const heard: Understood[] = []
  let next = state
  const hear = (message: string) => {
    const understood = meaningOf(program, message)
    if (!understood) return
    heard.push(understood)
    next = believed(next, understood)
  }
  if (program.link.kind === 'http') {
    // With an event stream open, answers to commands travel on other connections and may be overtaken: the stream counts.
    if (via === 'command' && program.ignoresReplies) return { state, sends: [] }
    for (const line of linesIn(via === 'stream' && program.link.answers === 'page' ? 'text' : program.link.answers, text)) hear(line)
    return { state: next, sends: [], heard }
  }
  for (const char of text) {
    const { buffer, heard: found } = feed(program.reader, next.buffer, char)
    next = { ...next, buffer }
    for (const h of found) hear(h.kind === 'code' ? h.code : h.bytes)
  }
  return { state: isDatagram(program.link) ? { ...next, buffer: '' } : next, sends: [], heard }
}

function meaningOf(program: PanelProgram, message: string): Understood | null {
  const meaning = program.meanings.get(message)
  if (meaning) return meaning
  const reading = program.link.readings.length ? readingIn(program.link, message) : null
  if (reading) return { sensor: program.sensors.indexOf(reading.sensorId), text: reading.text }
  return program.refusal !== '' && message === program.refusal ? { refused: message } : null
}

function believed(state: PanelState, understood: Understood): PanelState {
  if ('sensor' in understood) return { ...state, readings: state.readings.with(understood.sensor, { text: understood.text, stale: false }) }
  if ('refused' in understood) return state
  const belief = state.beliefs[understood.load]
  if (!belief) return state
  const waiting = belief.waiting && belief.waiting.asked !== understood.value ? belief.waiting : null
  return withBelief(state, understood.load, { value: understood.value, stale: false, waiting })
}

function tick(program: PanelProgram, state: PanelState, now: number): PanelStepped {
  let next = state
  const sends: string[] = []
  const say = (code: string) => {
    const said = saying(program, next, code)
    next = said.state
    sends.push(...said.sends)
  }
  state.beliefs.forEach((belief, load) => {
    if (!belief.waiting || !reached(now, belief.waiting.due)) return
    const { asked, toggled, triesLeft } = belief.waiting
    if (triesLeft === 0) {
      next = withBelief(next, load, UNKNOWN)
      return
    }
    const due = clock32(now + program.panel.belief.timeoutMs)
    next = withBelief(next, load, { ...belief, waiting: { ...belief.waiting, due, triesLeft: triesLeft - 1 } })
    const message = program.messages[load]
    if (message) say(message.codes[toggled ? 'toggle' : asked] ?? '')
  })
  state.holds.forEach((hold, load) => {
    const output = program.outputs[load]
    if (hold === null || !reached(now, hold) || output?.kind !== 'held') return
    next = { ...next, holds: next.holds.with(load, clock32(now + keepAliveMs(output))) }
    say(program.messages[load]?.codes.on ?? '')
  })
  state.slides.forEach((s, load) => {
    if (!s || s.pending === null || !reached(now, s.freeAt)) return
    const said = slide(program, next, now, load, s.pending)
    next = said.state
    sends.push(...said.sends)
  })
  if (next.pollDue !== null && reached(now, next.pollDue)) {
    next = { ...next, pollDue: clock32(now + program.panel.pollMs) }
    sends.push(askText(program.link))
  }
  return { state: next, sends }
}

export function askText(link: Link): string {
  return wireOf(link, link.kind === 'http' ? link.askRoute : link.askCode, 'command')
}

function withBelief(state: PanelState, load: number, belief: Belief): PanelState {
  const beliefs = state.beliefs.slice()
  beliefs[load] = belief
  return { ...state, beliefs }
}
