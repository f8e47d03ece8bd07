/**
 * Where the time of a command goes: from the finger to the board, and back to the key that shows
 * it. Typical and at the worst that the model holds; each part with its reason. Wires: characters x
 * ten bits / baud (8 data bits, no parity).
 */
import type { ByteLink, Design, Dialect, FarSurface, SerialLink } from '../design/schema'
import { farSurfaces, linkOf, loadOf, maybeMessage } from '../design/find'
import { boardOf } from '../design/pins'
import { spokenValues } from '../design/values'
import { endOf, wireOf } from '../design/wire'
import { assign, schoolsOf } from '../messages/assign'
import { DIALECTS } from '../design/dialects/rows'
import { exampleCount, longestText, toldCounter } from '../messages/sealing'
import { reportText, streams, codesSaid, rows } from '../messages/table'
import { exactWireMs, wireReason } from './timing'
import { isAnswered, speaksBytes } from '../design/links/traits'
import { classOf } from '../boards/classes'

export interface BudgetPart {
  words: string
  typicalMs: number
  worstMs: number
  reason: string
}
export interface Budget {
  loadId: string
  bytes: { command: number; report: number }
  parts: BudgetPart[]
  typicalMs: number
  worstMs: number
  /** What the panel learns of a change made elsewhere: null = never by itself. */
  staleMs: number | null
}

/** The path of one load on one panel; null where the link has no message for it. */
export function budgetOf(design: Design, panel: FarSurface, loadId: string): Budget | null {
  const link = linkOf(design, panel.linkId)
  const message = maybeMessage(link, loadId)
  if (!message) return null
  const load = loadOf(design, loadId)
  const longest = (texts: string[]) => texts.reduce((a, b) => (b.length > a.length ? b : a), '')
  const command = longest(codesSaid(link, load, message).map(code => longestText(link, code)))
  const report = longest(
    spokenValues(load.output).map(value => reportText(link, load, message, value)),
  )
  const { timing } = link
  const slowest = timing.p99Ms * 1.5
  const wire = (words: string, text: string): BudgetPart => {
    const ms = exactWireMs(design, link, text)
    return { words, typicalMs: ms, worstMs: ms, reason: wireReason(design, link, text) }
  }
  const latency = (words: string): BudgetPart => ({
    words,
    typicalMs: timing.typicalMs,
    worstMs: slowest,
    reason: `latency of the link: typical ${timing.typicalMs} ms, 99 of 100 within ${timing.p99Ms} ms, at most half more`,
  })
  const handedOut = isAnswered(link.auth)
    ? [
        wire('command on the wire, to ask for a number', command),
        latency('to the board, for the number'),
        wire('the number on the wire', toldCounter(link, exampleCount(link)) + endOf(link)),
        latency('back with the number'),
      ]
    : []
  const parts = [
    ...handedOut,
    wire('command on the wire', command),
    latency('to the board'),
    ...(message.ack || message.change
      ? [wire('report on the wire', report), latency('back to the key')]
      : []),
  ]
  const sum = (key: 'typicalMs' | 'worstMs') => parts.reduce((n, p) => n + p[key], 0)
  const told = message.change && (speaksBytes(link) || streams(link))
  const asked = panel.pollMs ? panel.pollMs + 2 * slowest : null
  const staleMs = told ? exactWireMs(design, link, report) + slowest : asked
  return {
    loadId,
    bytes: { command: command.length, report: report.length },
    parts,
    typicalMs: sum('typicalMs'),
    worstMs: sum('worstMs'),
    staleMs,
  }
}

export interface Polling {
  requestsPerSecond: number
  bytesPerSecond: number
  reason: string
}

/** What asking costs the board, all panels together. */
export function pollingLoad(design: Design): Polling | null {
  const asking = farSurfaces(design).flatMap(s =>
    s.pollMs ? [{ panel: s, link: linkOf(design, s.linkId) }] : [],
  )
  if (!asking.length) return null
  const bytesOf = (panel: FarSurface) => {
    const link = linkOf(design, panel.linkId)
    return link.messages.reduce(
      (n, m) =>
        n
        + 1
        + reportText(
          link,
          loadOf(design, m.loadId),
          m,
          spokenValues(loadOf(design, m.loadId).output)[0] ?? '',
        ).length,
      0,
    )
  }
  return {
    requestsPerSecond: asking.reduce((n, { panel }) => n + 1000 / panel.pollMs, 0),
    bytesPerSecond: asking.reduce((n, { panel }) => n + (bytesOf(panel) * 1000) / panel.pollMs, 0),
    reason: asking
      .map(
        ({ panel }) => `${panel.name} every ${panel.pollMs} ms, ${bytesOf(panel)} bytes of state`,
      )
      .join('; '),
  }
}

export interface Receiving {
  stretchMs: number
  arriving: number
  holds: number
  reason: string
}

/**
 * What can arrive on a serial port of an 8-bit board while its program does nothing else: it writes
 * a saved slot, byte by byte. At most a press of every key comes in that time. Write time of a byte
 * and size of the buffer as in data sheets and cores of that class.
 */
export function receiving(design: Design, link: SerialLink): Receiving | null {
  if (
    !classOf(boardOf(design)).oneAtATime
    || !design.loads.some(l => 'powerUp' in l.output && l.output.powerUp === 'last')
  )
    return null
  const bytes = design.loads.length + 2
  const stretchMs = bytes * BYTE_WRITE_MS
  const burst = rows(design, link).reduce(
    (n, { load, message }) =>
      n
      + Math.max(0, ...codesSaid(link, load, message).map(code => longestText(link, code).length)),
    0,
  )
  const arriving = Math.min(burst, Math.ceil((stretchMs * link.baud) / 10_000))
  return {
    stretchMs,
    arriving,
    holds: BUFFER_BYTES,
    reason: `saving ${bytes} bytes takes ${stretchMs.toFixed(1)} ms; ${link.baud} baud bring ${(link.baud / 10_000).toFixed(1)} bytes a millisecond, a press of every key ${burst} bytes`,
  }
}
/** Longest time to write one byte of non-volatile memory, ms. */
const BYTE_WRITE_MS = 3.4
/** A receive buffer of 64 bytes holds one less. */
const BUFFER_BYTES = 63

export interface Compared {
  kind: Dialect['kind']
  bytes: number
  commandMs: number
}

/** The longest command of the same table in every dialect; the one in use with its own codes. */
export function compareDialects(design: Design, link: ByteLink): Compared[] {
  return Object.values(DIALECTS).map(({ fresh: sample }) => {
    const own = sample.kind === link.dialect.kind
    const spoken: ByteLink = { ...link, dialect: own ? link.dialect : sample }
    const codes = own
      ? Object.fromEntries(link.messages.map(m => [m.loadId, m.codes]))
      : assign(design, spoken, schoolsOf(spoken)[0])
    const bytes = Math.max(
      0,
      ...Object.values(codes)
        .flatMap(c => Object.values(c))
        .map(code => (own ? longestText(spoken, code) : wireOf(spoken, code, 'command')).length),
    )
    return { kind: sample.kind, bytes, commandMs: exactWireMs(design, spoken, ' '.repeat(bytes)) }
  })
}
