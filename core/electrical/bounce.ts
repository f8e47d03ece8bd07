/**
 * A recorded bounce turned into a debounce time. Recordings come as CSV (time in seconds, level or
 * volts) or as VCD (value change dump, IEEE 1364) of one wire.
 */
import Papa from 'papaparse'
import { BadDump, readVcd, type Signal } from '../bytes/vcd'
import { BadInput, figure, limit, sum, type Sum } from './sum'

export interface Edge {
  seconds: number
  level: 0 | 1
}
/** Edges nearer than this to the one before belong to the same movement, s. */
const SAME_MOVEMENT_S = 0.1
/** What is added to the longest bounce seen: half of it, and whole milliseconds. */
const RESERVE = 1.5

/**
 * Time in the first column, level in the second; a heading is allowed. Volts are split half way
 * between the extremes.
 */
export function edgesFromCsv(text: string): Edge[] {
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: true })
  const first = data[0] ?? []
  const rows = Number.isNaN(Number(first[0])) ? data.slice(1) : data
  const samples = rows.map((row, n) => {
    const seconds = Number(row[0])
    const value = Number(row[1])
    if (row.length < 2 || Number.isNaN(seconds) || Number.isNaN(value))
      throw new BadInput(
        `line ${n + 1 + (data.length - rows.length)}`,
        `"${row.join(',')}" is not a time in seconds and a level`,
      )
    return { seconds, value }
  })
  const low = Math.min(...samples.map(s => s.value))
  const high = Math.max(...samples.map(s => s.value))
  return changesOnly(
    samples.map(s => ({ seconds: s.seconds, level: s.value > (low + high) / 2 ? 1 : 0 })),
  )
}

/** One wire of a dump: the named one, or the first. */
export function edgesFromVcd(text: string, wire?: string): Edge[] {
  const { stepSeconds, signals } = readDump(text)
  const wires = signals.filter(s => s.kind === 'wire' && s.width === 1)
  const chosen = wire === undefined ? wires[0] : wires.find(w => w.name === wire)
  if (!chosen)
    throw new BadInput(
      '$var',
      wire === undefined
        ? 'this dump has no one-bit wire'
        : `this dump has no one-bit wire "${wire}"; it has ${wires.map(w => w.name).join(', ') || 'none'}`,
    )
  return changesOnly(edgesOf(chosen, stepSeconds))
}

/** Edges of a wire of a dump; what is not known or not driven is none. */
export function edgesOf({ changes }: Signal, stepSeconds: number): Edge[] {
  return changes.flatMap(({ t, value }) =>
    value === '0' || value === '1'
      ? [{ seconds: t * stepSeconds, level: value === '1' ? (1 as const) : (0 as const) }]
      : [],
  )
}

function readDump(text: string) {
  try {
    return readVcd(text)
  } catch (error) {
    if (error instanceof BadDump)
      throw new BadInput(`line ${error.line}`, error.message.replace(/^line \d+: /, ''))
    throw error
  }
}

function changesOnly(edges: Edge[]): Edge[] {
  edges.forEach((e, i) => {
    if (i > 0 && e.seconds < (edges[i - 1]?.seconds ?? 0))
      throw new BadInput(
        `line ${i + 1}`,
        `the times go back from ${edges[i - 1]?.seconds} s to ${e.seconds} s`,
      )
  })
  return edges.filter((e, i) => i === 0 || e.level !== edges[i - 1]?.level)
}

export interface Movement {
  atSeconds: number
  bounceSeconds: number
  edges: number
}

/**
 * Movements of the contact: the first entry is where it rests, each further run of near edges is
 * one movement.
 */
export function movements(edges: readonly Edge[]): Movement[] {
  const out: Movement[] = []
  let last = -Infinity
  for (const { seconds } of edges.slice(1)) {
    const current = out.at(-1)
    if (current && seconds - last <= SAME_MOVEMENT_S) {
      current.bounceSeconds = seconds - current.atSeconds
      current.edges++
    } else out.push({ atSeconds: seconds, bounceSeconds: 0, edges: 1 })
    last = seconds
  }
  return out
}

/** `debounceMs` is what the design has now. */
export function debounceFromRecording(edges: readonly Edge[], debounceMs: number): Sum {
  const seen = movements(edges)
  if (seen.length === 0)
    throw new BadInput(
      '',
      'nothing moves in this recording; record while the contact opens and closes',
    )
  const longest = Math.max(...seen.map(m => m.bounceSeconds))
  const wanted = Math.max(1, Math.ceil(longest * 1000 * RESERVE))
  return sum(
    [
      figure('n', 'movements', seen.length, '', 'runs of edges less than 100 ms apart'),
      figure('tb', 'longest bounce', longest, 's', 'first to last edge of a movement'),
      figure('td', 'debounce', wanted / 1000, 's', 'tb x 1.5, up to whole ms'),
    ],
    [
      limit(
        'debounce covers the bounce',
        (longest * 1000) / Math.max(debounceMs, 1e-6),
        `set the debounce to ${wanted} ms`,
      ),
    ],
    'longest bounce recorded and half of it in reserve; contacts age, so record old ones too',
  )
}
