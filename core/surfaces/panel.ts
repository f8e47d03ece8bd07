/**
 * A panel as a state machine: what it believes of each load, what it sends, when it asks. Pure; times are handed in.
 * Policies: *assume* shows what was asked at once; *confirm* waits for a matching answer, retries, then is unknown;
 * *report only* shows nothing but what it hears.
 */
import { maybeMessage, remoteOf, linkOf } from '../design/find'
import type { Design, Link, Message, Output, RemoteSurface } from '../design/schema'
import { isDatagram } from '../design/links'
import { asked, spokenValues } from '../design/values'
import { wireOf } from '../design/wire'
import { linesIn } from '../messages/answers'
import { practiceSecret, sealedText, type Secret } from '../messages/sealing'
import { feed, readerOf, type Reader } from '../messages/stream'
import { reportBody, rows, streams } from '../messages/table'
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
}
export interface PanelProgram {
  panel: RemoteSurface
  link: Link
  secret: Secret
  ignoresReplies: boolean
  /** By load of the design; undefined where the link has no message for it. */
  messages: (Message | undefined)[]
  outputs: readonly Output[]
  /** Report, without its end -> load and value; first entry of a duplicate wins. */
  meanings: Map<string, { load: number, value: string }>
  reader: Reader
}
/** Serial bytes and event streams are unasked; HTTP answers belong to a command or to a question for the state. */
export type Via = 'stream' | 'command' | 'ask'
export type PanelEvent =
  | { kind: 'linkUp', now: number }
  | { kind: 'linkDown', now: number }
  /** `want`: a value, "flip", "up" or "down". On a held load "on" is a finger that stays, "off" the finger that leaves. */
  | { kind: 'key', now: number, load: number, want: string }
  | { kind: 'received', now: number, text: string, via: Via }
  | { kind: 'tick', now: number }
/** What a panel sends: command codes or the question, a route on HTTP. */
export interface PanelStepped { state: PanelState, sends: string[] }

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
    panel, link, secret: secret ?? practiceSecret(link), meanings, reader: readerOf(link, meanings.keys()), ignoresReplies: streams(link),
    messages: design.loads.map(l => maybeMessage(link, l.id)), outputs: design.loads.map(l => l.output),
  }
}

export function startPanel(program: PanelProgram): PanelState {
  return { up: false, buffer: '', pollDue: null, counter: 0, beliefs: program.messages.map(() => UNKNOWN), holds: program.messages.map(() => null) }
}

export function panelStep(program: PanelProgram, state: PanelState, event: PanelEvent): PanelStepped {
  const now = clock32(event.now)
  switch (event.kind) {
    case 'linkUp': return connect(program, state, now)
    case 'linkDown': return { state: { ...state, up: false, buffer: '', pollDue: null, beliefs: state.beliefs.map(b => lost(program, b)), holds: state.holds.map(() => null) }, sends: [] }
    case 'key': return key(program, state, now, event.load, event.want)
    case 'received': return { state: received(program, state, event.text, event.via), sends: [] }
    case 'tick': return tick(program, state, now)
  }
}

export function panelDue(state: PanelState): number | null {
  let due = state.pollDue
  for (const b of state.beliefs) if (b.waiting) due = earlier(due, b.waiting.due)
  for (const hold of state.holds) due = earlier(due, hold)
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
  const said = saying(program, state, message.codes[toggled ? 'toggle' : value] ?? '')
  if (said.sends.length === 0) return said
  const { policy, timeoutMs, retries } = program.panel.belief
  const next: Belief = policy === 'assume'
    ? { value, stale: false, waiting: null }
    : policy === 'confirm'
      ? { ...belief, waiting: { asked: value, toggled, since: now, due: clock32(now + timeoutMs), triesLeft: retries } }
      : belief
  const held = output.kind === 'held' ? { ...said.state, holds: said.state.holds.with(load, value === 'on' ? clock32(now + keepAliveMs(output)) : null) } : said.state
  return { state: withBelief(held, load, next), sends: said.sends }
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

function received(program: PanelProgram, state: PanelState, text: string, via: Via): PanelState {
  if (!state.up) return state
  if (program.link.kind === 'http') {
    // With an event stream open, answers to commands travel on other connections and may be overtaken: the stream counts.
    if (via === 'command' && program.ignoresReplies) return state
    let next = state
    for (const line of linesIn(via === 'stream' && program.link.answers === 'page' ? 'text' : program.link.answers, text)) next = heard(program, next, line)
    return next
  }
  let next = state
  for (const char of text) {
    const { buffer, heard: found } = feed(program.reader, next.buffer, char)
    next = { ...next, buffer }
    for (const h of found) if (h.kind === 'code') next = heard(program, next, h.code)
  }
  return isDatagram(program.link) ? { ...next, buffer: '' } : next
}

function heard(program: PanelProgram, state: PanelState, report: string): PanelState {
  const meaning = program.meanings.get(report)
  const belief = meaning && state.beliefs[meaning.load]
  if (!meaning || !belief) return state
  const waiting = belief.waiting && belief.waiting.asked !== meaning.value ? belief.waiting : null
  return withBelief(state, meaning.load, { value: meaning.value, stale: false, waiting })
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
