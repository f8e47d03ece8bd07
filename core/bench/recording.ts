/**
 * A recording of the real thing, made with a logic probe, laid beside the bench: which of its wires
 * stand for which contacts and lines, how contacts bounce, presses that were none, lines that moved
 * without a cause, commands that nobody answered.
 */
import Papa from 'papaparse'
import { BadDump, readVcd } from '../bytes/vcd'
import { handSurfaces } from '../design/find'
import type { Control, Design } from '../design/schema'
import { longestMs } from '../controller/outputs/rows'
import { linesOf } from '../design/values'
import { edgesOf, movements, type Edge } from '../electrical/bounce'
import { speaksBytes } from '../design/links/traits'
import { first, last, nth } from '../units/lists'

export interface Wire {
  name: string
  edges: Edge[]
}
export interface Recording {
  name: string
  wires: Wire[]
  endSeconds: number
}
/**
 * What a wire of a recording stands for. `toBoard`, `fromBoard`: a serial line of a link, which
 * rests high.
 */
export type Role =
  | { is: 'contact'; controlId: string }
  | { is: 'line'; loadId: string; line: number }
  | { is: 'toBoard' | 'fromBoard'; linkId: string }
  | { is: 'nothing' }

export class BadRecording extends Error {}

/**
 * A dump, or a table with the time in seconds in its first column and a wire in each further one.
 */
export function readRecording(name: string, text: string): Recording {
  const wires = text.includes('$enddefinitions') ? wiresOfDump(text) : wiresOfTable(text)
  const moving = wires.filter(w => w.edges.length)
  if (!moving.length) throw new BadRecording('nothing moves in this recording')
  return {
    name,
    wires: moving,
    endSeconds: Math.max(...moving.map(w => w.edges.at(-1)?.seconds ?? 0)),
  }
}

function wiresOfDump(text: string): Wire[] {
  try {
    const { stepSeconds, signals } = readVcd(text)
    return signals
      .filter(s => s.kind === 'wire' && s.width === 1)
      .map(s => ({ name: s.name, edges: edgesOf(s, stepSeconds) }))
  } catch (error) {
    if (error instanceof BadDump) throw new BadRecording(error.message)
    throw error
  }
}

function wiresOfTable(text: string): Wire[] {
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: true })
  const headed = Number.isNaN(Number(data[0]?.[0]))
  const names = headed
    ? (data[0] ?? []).slice(1).map(n => n.trim())
    : (data[0] ?? []).slice(1).map((_, i) => `wire ${i + 1}`)
  const rows = headed ? data.slice(1) : data
  if (!names.length)
    throw new BadRecording(
      'line 1: a table has the time in seconds and a wire in each further column',
    )
  const columns: number[][] = rows.map((row, i) => {
    const numbers = row.map(Number)
    if (numbers.length !== names.length + 1 || numbers.some(Number.isNaN))
      throw new BadRecording(
        `line ${i + 1 + Number(headed)}: "${row.join(',')}" is not a time in seconds and ${names.length} levels`,
      )
    if (i > 0 && first(numbers) < Number(rows[i - 1]?.[0]))
      throw new BadRecording(`line ${i + 1 + Number(headed)}: the times go back`)
    return numbers
  })
  return names.map((name, w) => {
    const values = columns.map(c => nth(c, w + 1))
    const middle =
      (values.reduce((a, b) => Math.min(a, b), Infinity)
        + values.reduce((a, b) => Math.max(a, b), -Infinity))
      / 2
    const edges: Edge[] = []
    columns.forEach((c, i) => {
      const level = nth(values, i) > middle ? (1 as const) : (0 as const)
      if (edges.at(-1)?.level !== level) edges.push({ seconds: first(c), level })
    })
    return { name, edges: edges.length > 1 ? edges : [] }
  })
}

/** What each wire stands for, by its name: that of a control, of a load, or rx and tx. */
export function guessRoles(design: Design, wires: readonly Wire[]): Role[] {
  const plain = (text: string) => text.toLowerCase().replaceAll(/[^a-z0-9]/g, '')
  const serial = design.links.find(l => speaksBytes(l))
  return wires.map(({ name }) => {
    const wanted = plain(name)
    const control = handSurfaces(design)
      .flatMap(s => s.controls)
      .find(c => plain(c.id) === wanted)
    if (control) return { is: 'contact', controlId: control.id }
    const load = design.loads.find(l => plain(l.id) === wanted || plain(l.name) === wanted)
    if (load) return { is: 'line', loadId: load.id, line: 0 }
    if (serial && wanted === 'rx') return { is: 'toBoard', linkId: serial.id }
    if (serial && wanted === 'tx') return { is: 'fromBoard', linkId: serial.id }
    return { is: 'nothing' }
  })
}

export interface Found {
  what: 'ghost press' | 'press ignored' | 'moved by itself' | 'no answer'
  atSeconds: number
  wire: string
  words: string
}
export interface ContactFigures {
  wire: string
  controlId: string
  presses: number
  longestBounceMs: number
  debounceMs: number
  covers: boolean
}
export interface Studied {
  contacts: ContactFigures[]
  found: Found[]
}

/** A board that answers does so within this, s. */
const ANSWER_S = 1
/** Longer than this is no bounce, s. */
const LONGEST_S = 0.05
/** Edges of one message on a serial line lie nearer than this, s. */
const MESSAGE_GAP_S = 0.02

/**
 * What a recording shows of the design by the role of each line: presses, ghosts, bounce, causes.
 */
export function study(design: Design, recording: Recording, roles: readonly Role[]): Studied {
  const found: Found[] = []
  const contacts: ContactFigures[] = []
  const causes: number[] = []
  const controls = new Map(handSurfaces(design).flatMap(s => s.controls.map(c => [c.id, c])))
  recording.wires.forEach((wire, i) => {
    const role = roles[i]
    if (role?.is === 'toBoard') causes.push(...bursts(wire.edges))
    const control = role?.is === 'contact' ? controls.get(role.controlId) : undefined
    if (!control) return
    const { accepted, ghosts, ignored } = presses(wire.edges, control)
    causes.push(
      ...accepted,
      ...(control.kind === 'latching' ? movements(wire.edges).map(m => m.atSeconds) : []),
    )
    for (const g of ghosts)
      found.push({
        what: 'ghost press',
        atSeconds: g.atSeconds,
        wire: wire.name,
        words: `closed for ${ms(g.forSeconds)}, below the debounce of ${control.debounceMs} ms`,
      })
    for (const at of ignored)
      found.push({
        what: 'press ignored',
        atSeconds: at,
        wire: wire.name,
        words: `within the lock-out of ${control.kind === 'push' ? control.lockoutMs : 0} ms after the press before`,
      })
    const spikes = new Set(ghosts.map(g => g.atSeconds))
    const longest =
      movements(wire.edges).reduce(
        (most, m) =>
          Math.max(
            most,
            m.bounceSeconds < LONGEST_S && !spikes.has(m.atSeconds) ? m.bounceSeconds : 0,
          ),
        0,
      ) * 1000
    contacts.push({
      wire: wire.name,
      controlId: control.id,
      presses: accepted.length,
      longestBounceMs: longest,
      debounceMs: control.debounceMs,
      covers: longest <= control.debounceMs,
    })
  })
  recording.wires.forEach((wire, i) => {
    const role = roles[i]
    if (role?.is === 'line') {
      const { output } = design.loads.find(l => l.id === role.loadId) ?? {}
      const slack = output ? slowest(output, [...controls.values()]) : 0
      for (const { seconds } of wire.edges.slice(1))
        if (!causes.some(c => c <= seconds && seconds - c <= slack))
          found.push({
            what: 'moved by itself',
            atSeconds: seconds,
            wire: wire.name,
            words: `nothing was pressed or received in the ${ms(slack)} before`,
          })
    }
    if (role?.is === 'toBoard') {
      const answers = recording.wires.flatMap((w, j) => {
        const r = roles[j]
        return r?.is === 'fromBoard' && r.linkId === role.linkId ? bursts(w.edges) : []
      })
      for (const at of bursts(wire.edges))
        if (!answers.some(a => a >= at && a - at <= ANSWER_S))
          found.push({
            what: 'no answer',
            atSeconds: at,
            wire: wire.name,
            words: `nothing came from the board within ${ANSWER_S} s`,
          })
    }
  })
  return { contacts, found: found.toSorted((a, b) => a.atSeconds - b.atSeconds) }
}

/**
 * The longest that a line may take after its cause: debounce, gestures, and what the output has
 * under way.
 */
function slowest(output: Design['loads'][number]['output'], controls: readonly Control[]): number {
  const byHand = Math.max(
    0,
    ...controls.map(
      c =>
        c.debounceMs
        + (c.kind === 'push' && c.gestures.length ? Math.max(c.doubleMs, c.holdMs) : 0),
    ),
  )
  return (byHand + longestMs(output) + 100) / 1000
}

/** Starts of what is said on a serial line. */
function bursts(edges: readonly Edge[]): number[] {
  return edges.flatMap((e, i) =>
    e.level === 0 && e.seconds - (edges[i - 1]?.seconds ?? -Infinity) > MESSAGE_GAP_S
      ? [e.seconds]
      : [],
  )
}

/**
 * Closed is low. A press counts when it stays for the debounce time and lies beyond the lock-out of
 * the one before.
 */
function presses(
  edges: readonly Edge[],
  control: Control,
): { accepted: number[]; ghosts: { atSeconds: number; forSeconds: number }[]; ignored: number[] } {
  const accepted: number[] = []
  const ghosts: { atSeconds: number; forSeconds: number }[] = []
  const ignored: number[] = []
  const lockoutS = control.kind === 'push' ? control.lockoutMs / 1000 : 0
  const needS = control.debounceMs / 1000
  let settledOpen = true
  edges.forEach(({ seconds, level }, i) => {
    const stays = (edges[i + 1]?.seconds ?? Infinity) - seconds
    if (level === 1) {
      if (stays >= needS) settledOpen = true
      return
    }
    if (stays >= needS) {
      if (settledOpen)
        (lockoutS && accepted.length && seconds - last(accepted) < lockoutS
          ? ignored
          : accepted
        ).push(seconds)
      settledOpen = false
    }
    // One that bounces into a press is no ghost.
    else if (
      settledOpen
      && (edges[i + 1] === undefined
        || !edges.slice(i + 1, i + 40).some(e => e.seconds - seconds < 0.02 && e.level === 0))
    ) {
      const before = ghosts.at(-1)
      if (!before || seconds - before.atSeconds > 0.02)
        ghosts.push({ atSeconds: seconds, forSeconds: stays })
    }
  })
  return { accepted, ghosts, ignored }
}

function ms(seconds: number): string {
  return seconds < 0.001
    ? `${Math.round(seconds * 1e6)} us`
    : `${Number((seconds * 1000).toFixed(2))} ms`
}

/** Wires that a design expects to find on a probe, for a recording that is still to be made. */
export function expectedWires(design: Design): string[] {
  return [
    ...handSurfaces(design).flatMap(s => s.controls.map(c => c.id)),
    ...design.loads.flatMap(l =>
      linesOf(l.output).map(line => (line.name ? `${l.id} ${line.name}` : l.id)),
    ),
    'rx',
    'tx',
  ]
}
