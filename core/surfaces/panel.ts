/**
 * A panel as a state machine: what it believes of each load, what it sends, when it asks. Pure; times are handed in.
 * Policies: *assume* shows what was asked at once; *confirm* waits for a matching answer, retries, then is unknown;
 * *report only* shows nothing but what it hears.
 */
import { maybeMessage, panelOf, linkOf } from '../design/find'
import type { Design, Link, Message, PanelSurface } from '../design/schema'
import { feed } from '../messages/stream'
import { reportText, rows, streams } from '../messages/table'
import { clock32, earlier, reached } from '../units/clock'

export interface Belief {
  value: 'off' | 'on' | 'unknown'
  /** Known before the link was lost, not confirmed since. */
  stale: boolean
  waiting: { asked: boolean, since: number, due: number, triesLeft: number } | null
}
export interface PanelState {
  up: boolean
  beliefs: readonly Belief[]
  buffer: string
  pollDue: number | null
}
export interface PanelProgram {
  panel: PanelSurface
  link: Link
  ignoresReplies: boolean
  /** By load of the design; undefined where the link has no message for it. */
  messages: (Message | undefined)[]
  /** Report text -> load and value; first entry of a duplicate wins. */
  meanings: Map<string, { load: number, value: boolean }>
  codes: ReadonlySet<string>
}
/** Serial bytes and event streams are unasked; HTTP answers belong to a command or to a question for the state. */
export type Via = 'stream' | 'command' | 'ask'
export type PanelEvent =
  | { kind: 'linkUp', now: number }
  | { kind: 'linkDown', now: number }
  | { kind: 'key', now: number, load: number, want: 'on' | 'off' | 'flip' }
  | { kind: 'received', now: number, text: string, via: Via }
  | { kind: 'tick', now: number }
/** What a panel sends: command codes or the question, a route on HTTP. */
export interface PanelStepped { state: PanelState, sends: string[] }

export function compilePanel(design: Design, surfaceId: string): PanelProgram {
  const panel = panelOf(design, surfaceId)
  const link = linkOf(design, panel.linkId)
  const meanings = new Map<string, { load: number, value: boolean }>()
  const index = new Map(design.loads.map((l, i) => [l.id, i]))
  for (const { load, message } of rows(design, link)) {
    for (const value of ['on', 'off'] as const) {
      const text = reportText(link, message, value)
      if (!meanings.has(text)) meanings.set(text, { load: index.get(load.id) as number, value: value === 'on' })
    }
  }
  return {
    panel, link, meanings, codes: new Set(meanings.keys()), ignoresReplies: streams(link),
    messages: design.loads.map(l => maybeMessage(link, l.id)),
  }
}

export function startPanel(program: PanelProgram): PanelState {
  return { up: false, buffer: '', pollDue: null, beliefs: program.messages.map(() => UNKNOWN) }
}

export function panelStep(program: PanelProgram, state: PanelState, event: PanelEvent): PanelStepped {
  const now = clock32(event.now)
  switch (event.kind) {
    case 'linkUp': return connect(program, state, now)
    case 'linkDown': return { state: { ...state, up: false, buffer: '', pollDue: null, beliefs: state.beliefs.map(b => lost(program, b)) }, sends: [] }
    case 'key': return key(program, state, now, event.load, event.want)
    case 'received': return { state: received(program, state, event.text, event.via), sends: [] }
    case 'tick': return tick(program, state, now)
  }
}

export function panelDue(state: PanelState): number | null {
  let due = state.pollDue
  for (const b of state.beliefs) if (b.waiting) due = earlier(due, b.waiting.due)
  return due
}

/** What a key shows: waiting counts before the value it had. */
export type Shown = 'off' | 'on' | 'unknown' | 'waiting' | 'stale-off' | 'stale-on'
export function shown(belief: Belief): Shown {
  if (belief.waiting) return 'waiting'
  if (belief.value === 'unknown') return 'unknown'
  return belief.stale ? `stale-${belief.value}` : belief.value
}

const UNKNOWN: Belief = { value: 'unknown', stale: false, waiting: null }

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
  return onLoss === 'stale' && belief.value !== 'unknown' ? { ...belief, stale: true } : belief
}

/** A key does nothing while the panel knows that its link is down. */
function key(program: PanelProgram, state: PanelState, now: number, load: number, want: 'on' | 'off' | 'flip'): PanelStepped {
  const message = program.messages[load]
  const belief = state.beliefs[load]
  if (!state.up || !message || !belief) return { state, sends: [] }
  const asked = want === 'flip' ? !(belief.waiting ? belief.waiting.asked : belief.value === 'on') : want === 'on'
  const code = asked ? message.on : message.off
  if (code === '') return { state, sends: [] }
  const { policy, timeoutMs, retries } = program.panel.belief
  const next: Belief = policy === 'assume'
    ? { value: asked ? 'on' : 'off', stale: false, waiting: null }
    : policy === 'confirm'
      ? { ...belief, waiting: { asked, since: now, due: clock32(now + timeoutMs), triesLeft: retries } }
      : belief
  return { state: withBelief(state, load, next), sends: [code] }
}

function received(program: PanelProgram, state: PanelState, text: string, via: Via): PanelState {
  if (!state.up) return state
  if (program.link.kind === 'http') {
    // With an event stream open, answers to commands travel on other connections and may be overtaken: the stream counts.
    if (via === 'command' && program.ignoresReplies) return state
    let next = state
    for (const line of text.split('\n')) next = heard(program, next, line)
    return next
  }
  let next = state
  for (const char of text) {
    const { buffer, heard: found } = feed(program.codes, next.buffer, char)
    next = { ...next, buffer }
    for (const h of found) if (h.kind === 'code') next = heard(program, next, h.code)
  }
  return next
}

function heard(program: PanelProgram, state: PanelState, report: string): PanelState {
  const meaning = program.meanings.get(report)
  const belief = meaning && state.beliefs[meaning.load]
  if (!meaning || !belief) return state
  const waiting = belief.waiting && belief.waiting.asked !== meaning.value ? belief.waiting : null
  return withBelief(state, meaning.load, { value: meaning.value ? 'on' : 'off', stale: false, waiting })
}

function tick(program: PanelProgram, state: PanelState, now: number): PanelStepped {
  let next = state
  const sends: string[] = []
  state.beliefs.forEach((belief, load) => {
    if (!belief.waiting || !reached(now, belief.waiting.due)) return
    const { asked, triesLeft } = belief.waiting
    if (triesLeft === 0) {
      next = withBelief(next, load, UNKNOWN)
      return
    }
    const due = clock32(now + program.panel.belief.timeoutMs)
    next = withBelief(next, load, { ...belief, waiting: { ...belief.waiting, due, triesLeft: triesLeft - 1 } })
    const message = program.messages[load]
    if (message) sends.push(asked ? message.on : message.off)
  })
  if (next.pollDue !== null && reached(now, next.pollDue)) {
    next = { ...next, pollDue: clock32(now + program.panel.pollMs) }
    sends.push(askText(program.link))
  }
  return { state: next, sends }
}

export function askText(link: Link): string {
  return link.kind === 'http' ? link.askRoute : link.askCode
}

function withBelief(state: PanelState, load: number, belief: Belief): PanelState {
  const beliefs = state.beliefs.slice()
  beliefs[load] = belief
  return { ...state, beliefs }
}
