/**
 * A run written down for other tools: as a value change dump (IEEE 1364) and as a table of
 * everything that happened (CSV).
 */
import Papa from 'papaparse'
import { vcdText, type Signal } from '../bytes/vcd'
import { farSurfaces } from '../design/find'
import type { Design, Output } from '../design/schema'
import { linesOf, valuesOf, isValue, isFine, numbersOf } from '../design/values'
import type { Trace } from './trace'
import { isLevel, isStepper } from '../design/outputs/traits'

/** Time steps of the dump: 10 us, the shortest that a contact bounces. */
export const STEPS_PER_MS = 100
const TIMESCALE = '10 us'

/**
 * Lines, contacts, truths, beliefs and links as signals. A load of two values is one bit; others
 * are the number of their value. What a surface does not know is x; what it waits for, and a line
 * that nothing drives, is z.
 */
export function signalsOf(design: Design, trace: Trace): Signal[] {
  const wire = (
    scope: string[],
    name: string,
    width: number,
    changes: { t: number; value: string }[],
  ): Signal => ({ scope, name, width, kind: 'wire', changes: settled(changes) })
  const at = (ms: number) => Math.round(ms * STEPS_PER_MS)
  const signals: Signal[] = []
  for (const { id, output } of design.loads) {
    signals.push(
      wire(
        ['controller', 'told'],
        id,
        widthOf(output),
        (trace.truth[id] ?? []).map(c => ({
          t: at(c.t),
          value: c.powered ? bits(output, c.value) : 'z'.repeat(widthOf(output)),
        })),
      ),
    )
    linesOf(output).forEach((line, i) => {
      const width = lineWidth(output, i)
      signals.push(
        wire(
          ['controller', 'lines'],
          line.name ? `${id}_${line.name}` : id,
          width,
          (trace.lines[id]?.[i] ?? []).map(c => ({
            t: at(c.t),
            value:
              c.level === null
                ? 'z'.repeat(width)
                : c.level.toString(2).padStart(width, '0').slice(-width),
          })),
        ),
      )
    })
  }
  for (const [id, changes] of Object.entries(trace.lamps))
    signals.push(
      wire(
        ['controller', 'lamps'],
        id,
        1,
        changes.map(c => ({ t: at(c.t), value: c.level === null ? 'z' : String(c.level) })),
      ),
    )
  for (const [id, changes] of Object.entries(trace.contacts))
    signals.push(
      wire(['wall'], id, 1, [
        { t: 0, value: '1' },
        ...changes.map(c => ({ t: at(c.t), value: String(c.level) })),
      ]),
    )
  for (const s of farSurfaces(design)) {
    for (const { id, output } of design.loads) {
      const beliefs = trace.beliefs[s.id]?.[id]
      if (
        !beliefs
        || !design.links.find(l => l.id === s.linkId)?.messages.some(m => m.loadId === id)
      )
        continue
      signals.push(
        wire(
          [s.id, 'shows'],
          id,
          widthOf(output),
          beliefs.map(c => ({
            t: at(c.t),
            value: shownBits(output, c.shown),
          })),
        ),
      )
    }
    signals.push(
      wire(
        [s.id],
        'connected',
        1,
        downs(trace, s.linkId).map(c => ({ t: at(c.t), value: c.value })),
      ),
    )
    for (const dir of ['up', 'down'] as const) {
      const messages = trace.messages.filter(m => m.linkId === s.linkId && m.dir === dir)
      signals.push({
        scope: [s.id],
        name: dir === 'up' ? 'sends' : 'is_sent',
        width: 1,
        kind: 'event',
        changes: messages.map(m => ({ t: at(m.sentMs), value: '1' })),
      })
    }
  }
  return signals
}

/** What a surface shows: high impedance while it waits, unknown where it shows no value. */
function shownBits(output: Output, shown: string): string {
  if (shown === 'waiting') return 'z'.repeat(widthOf(output))
  return isValue(output, shown) ? bits(output, shown) : 'x'.repeat(widthOf(output))
}

/** The trace as a value change dump (IEEE 1364), in steps of 10 µs. `endMs`: where it ends, ms. */
export function traceVcd(design: Design, trace: Trace, endMs: number): string {
  return vcdText(
    signalsOf(design, trace),
    TIMESCALE,
    'Nolvi bench',
    Math.round(endMs * STEPS_PER_MS),
  )
}

/** One row for each change, message and action, by time. */
export function traceCsv(design: Design, trace: Trace): string {
  const rows: {
    ms: number
    what: string
    where: string
    load: string
    value: string
    until: number | ''
  }[] = []
  for (const [load, changes] of Object.entries(trace.truth))
    for (const c of changes)
      rows.push({
        ms: c.t,
        what: 'truth',
        where: 'controller',
        load,
        value: c.powered ? c.value : 'no power',
        until: '',
      })
  for (const [load, lines] of Object.entries(trace.lines)) {
    const names = linesOf((design.loads.find(l => l.id === load) as Design['loads'][number]).output)
    lines.forEach((changes, i) => {
      for (const c of changes)
        rows.push({
          ms: c.t,
          what: 'line',
          where: names[i]?.name || 'pin',
          load,
          value: c.level === null ? 'not driven' : String(c.level),
          until: '',
        })
    })
  }
  for (const [where, changes] of Object.entries(trace.lamps))
    for (const c of changes)
      rows.push({
        ms: c.t,
        what: 'lamp',
        where,
        load: '',
        value: c.level === null ? 'not driven' : String(c.level),
        until: '',
      })
  for (const [where, byLoad] of Object.entries(trace.beliefs))
    for (const [load, changes] of Object.entries(byLoad))
      for (const c of changes)
        rows.push({ ms: c.t, what: 'belief', where, load, value: c.shown, until: '' })
  for (const m of trace.messages)
    rows.push({
      ms: m.sentMs,
      what: m.lost ? 'message lost' : 'message',
      where: m.linkId,
      load: m.loadIds.join(' '),
      value: `${m.dir === 'up' ? 'to the board: ' : 'from the board: '}${m.shown}`,
      until: m.endMs,
    })
  for (const m of trace.marks)
    rows.push({
      ms: m.t,
      what: 'done',
      where: m.surfaceId ?? '',
      load: m.loadId ?? '',
      value: m.words,
      until: '',
    })
  for (const [where, changes] of Object.entries(trace.contacts))
    for (const c of changes)
      rows.push({
        ms: c.t,
        what: 'contact',
        where,
        load: '',
        value: c.level ? 'open' : 'closed',
        until: '',
      })
  for (const s of trace.saves)
    rows.push({
      ms: s.t,
      what: 'saved',
      where: 'controller',
      load: s.loadId,
      value: s.value,
      until: '',
    })
  return (
    Papa.unparse(
      rows.toSorted((a, b) => a.ms - b.ms),
      {
        columns: ['ms', 'what', 'where', 'load', 'value', 'until'],
        newline: '\r\n',
        escapeFormulae: true,
      },
    ) + '\r\n'
  )
}

function widthOf(output: Output): number {
  const numbers = isFine(output) ? (numbersOf(output)?.high ?? 0) + 1 : valuesOf(output).length
  return Math.max(1, Math.ceil(Math.log2(numbers)))
}

function lineWidth(output: Output, line: number): number {
  if (isLevel(output)) return 8
  return isStepper(output) && line === 0 ? 14 : 1
}

function bits(output: Output, value: string): string {
  const at = isFine(output) ? Number(value) || 0 : Math.max(0, valuesOf(output).indexOf(value))
  return at.toString(2).padStart(widthOf(output), '0')
}

/** The last of several changes at one moment counts, and no change is none. */
function settled(changes: { t: number; value: string }[]): { t: number; value: string }[] {
  const out: { t: number; value: string }[] = []
  for (const c of changes) {
    const last = out.at(-1)
    if (last?.t === c.t) {
      last.value = c.value
      if (out.at(-2)?.value === c.value) out.pop()
    } else if (last?.value !== c.value) out.push({ ...c })
  }
  return out
}

function downs(trace: Trace, linkId: string): { t: number; value: string }[] {
  return [
    { t: 0, value: '1' },
    ...(trace.down[linkId] ?? []).flatMap(d => [
      { t: d.fromMs, value: '0' },
      ...(d.toMs === null ? [] : [{ t: d.toMs, value: '1' }]),
    ]),
  ]
}
