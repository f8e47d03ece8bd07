/** A pasted log of traffic: times and texts, decoded line by line against the table of a link. */
import { literal } from '../bytes/template'
import type { Design, Link } from '../design/schema'
import { bodyIn, bodyOf } from '../design/wire'
import { octets } from '../bytes/text'
import { codeUses, commandWords } from '../messages/clashes'
import { feedAll, readerOf } from '../messages/stream'
import { reportBody, rows } from '../messages/table'
import { numberPlaces } from '../messages/places'
import { routeOf, hasRoute } from '../messages/routes'
import { spokenValues } from '../design/values'
import { speaksRoutes } from '../design/links/traits'
import { setpointIn } from '../messages/setpoints'

export interface LogLine {
  line: number
  /** ms since the first line with a time; null where none is told. */
  atMs: number | null
  direction: 'to the board' | 'from the board' | null
  text: string
  means: string[]
  /** Answers a command of this many ms before. */
  afterMs: number | null
}

const CLOCK =
  /^\[?(?:(\d{1,2}):(\d{2}):(\d{2})(?:[.,](\d{1,9}))?|(\d+(?:\.\d+)?)\s*(ms|s)?)\]?[\s,;:]+/
const ARROW = /^(->|>|<-|<|tx|rx|up|down|to|from)[\s:]+/i
const TO = new Set(['->', '>', 'tx', 'up', 'to'])

/** Lines like "12:00:01.250 > E", "1250 ms < +E", or texts alone. Escapes (\n, \x41) are bytes. */
export function readLog(design: Design, link: Link, log: string): LogLine[] {
  const commands = new Map(
    codeUses(design, link).map(u => [bodyOf(link, u.code, 'command'), u.what]),
  )
  const reports = new Map(
    rows(design, link).flatMap(({ load, message }) =>
      spokenValues(load.output).map(
        v =>
          [
            reportBody(link, load, message, v),
            `${commandWords(design, load.id, v)}, reported`,
          ] as const,
      ),
    ),
  )
  const readers = {
    command: readerOf(link, commands.keys()),
    report: readerOf(link, reports.keys()),
  }
  const index = new Map(design.loads.map((load, at) => [load.id, at]))
  const places = {
    command: numberPlaces(design, link, 'command', index),
    report: numberPlaces(design, link, 'report', index),
  }
  const numberIn = (kind: 'command' | 'report', body: string): string => {
    const said = setpointIn(places[kind], link, body, kind)
    const words = said && commandWords(design, design.loads[said.load]?.id ?? '', said.value)
    return words ? `${words}${kind === 'report' ? ', reported' : ''}` : ''
  }
  let lastCommand: number | null = null
  return noted(link, log).map(({ line, atMs, direction, shown, text }): LogLine => {
    const meaningsIn = (map: ReadonlyMap<string, string>, kind: 'command' | 'report') =>
      speaksRoutes(link)
        ? text
            .split(/\s*(?:\\n|\n)\s*/)
            .map(
              part =>
                map.get(part)
                ?? (kind === 'command' ? map.get(routeOf(part, r => map.has(r))) : undefined)
                ?? numberIn(
                  kind,
                  kind === 'command' ? routeOf(part, r => hasRoute(link, r)) : part,
                ),
            )
            .filter(Boolean)
        : feedAll(
            readers[kind],
            '',
            text === bodyIn(link, text) && readers[kind].end ? text + readers[kind].end : text,
          ).heard.flatMap(h =>
            h.kind === 'code' ? (map.get(h.code) ?? []) : numberIn(kind, h.bytes) || [],
          )
    const asCommand = direction === 'from the board' ? [] : meaningsIn(commands, 'command')
    const asReport = direction === 'to the board' ? [] : meaningsIn(reports, 'report')
    const means = direction === null && asReport.length ? asReport : [...asCommand, ...asReport]
    const isReport = direction === 'from the board' || (direction === null && asReport.length > 0)
    const afterMs = isReport && atMs !== null && lastCommand !== null ? atMs - lastCommand : null
    if (isReport) lastCommand = null
    else if (asCommand.length) lastCommand = atMs
    return {
      line,
      atMs,
      direction,
      text: shown,
      means: means.length ? means : ['not in the table'],
      afterMs,
    }
  })
}

/** A line of a log before it is understood. `text`: as it crosses the wire, where it is bytes. */
export interface Noted {
  line: number
  /** ms since the first line with a time; null where none is told. */
  atMs: number | null
  direction: LogLine['direction']
  shown: string
  text: string
}

/** The lines of a log that hold something. */
export function noted(link: Link, log: string): Noted[] {
  let first: number | null = null
  return log.split(/\r?\n/).flatMap((raw, i): Noted[] => {
    if (raw.trim() === '') return []
    const clock = CLOCK.exec(raw)
    const time = clock ? clockMs(clock) : null
    if (time !== null) first ??= time
    const rest = clock ? raw.slice(clock[0].length) : raw
    const arrow = ARROW.exec(rest)
    const to = arrow && TO.has((arrow[1] as string).toLowerCase())
    const direction = arrow && (to ? ('to the board' as const) : ('from the board' as const))
    const shown = arrow ? rest.slice(arrow[0].length) : rest
    const read = literal(shown.trimEnd())
    const text = speaksRoutes(link) ? shown.trim() : octets(read.ok ? read.text : shown)
    const atMs = time === null || first === null ? null : time - first
    return [{ line: i + 1, atMs, direction, shown: shown.trim(), text }]
  })
}

function clockMs(m: RegExpExecArray): number {
  const [, h, min, s, frac, plain, unit] = m
  return plain === undefined
    ? ((Number(h) * 60 + Number(min)) * 60 + Number(s)) * 1000
        + Math.round(Number(`0.${frac ?? '0'}`) * 1e6) / 1000
    : Number(plain) * (unit === 's' ? 1000 : 1)
}
