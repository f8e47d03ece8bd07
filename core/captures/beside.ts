/**
 * A capture beside the controller of the design: it is told what the board was told, at the same
 * times, and what each of them said stands side by side.
 */
import type { Action } from '../bench/script'
import { farSurfaces } from '../design/find'
import { partOf } from '../design/part'
import type { Design, Link } from '../design/schema'
import { Decoder, type Said } from '../live/decode'
import { Twin, type Saying } from '../live/twin'
import { decoded, directed, type Captured } from './blame'
import type { Capture, Piece } from './pieces'

/** A message of the board, of the design, or of both. `atMs`: where it stands in the capture. */
export interface BesideRow {
  atMs: number
  line: Captured | null
  design: { atMs: number; words: string } | null
}
export interface Beside {
  rows: BesideRow[]
  /** How many are on both sides, only of the board, only of the design. */
  both: number
  board: number
  missing: number
  /** Why it cannot be laid beside; "" = it is. */
  why: string
}

/** What belongs together is no further apart, ms. */
const APART_MS = 5000
/** A board's own time before a report may be counted as before the design's, ms. */
const EARLY_MS = 50
/** Where a capture has no times, one message is so long after another, ms. */
const STEP_MS = 500
/** Where it begins, the design has long been running, ms. */
const AWAKE_MS = 60_000

interface Expected {
  said: Said
  atMs: number
  row: BesideRow
}

/**
 * What the board said beside what the design says to the same. `capture`: of this link; its times
 * are ms, and those that have none come one after another.
 */
export function beside(design: Design, link: Link, capture: Capture): Beside {
  const none = { rows: [], both: 0, board: 0, missing: 0 }
  if (link.auth.kind !== 'none')
    return { ...none, why: 'what it asks is proved by a key that is not in the capture' }
  // What has no times comes in its order.
  const pieces = directed(new Decoder(design, link), capture.pieces).map((p, i) => ({
    ...p,
    atMs: p.atMs ?? (i + 1) * STEP_MS,
  }))
  const run = new Run(design, link)
  const steps = [
    ...pieces.flatMap(piece => (piece.way === 'up' ? [{ atMs: piece.atMs, piece }] : [])),
    ...decoded(new Decoder(design, link), pieces).map(line => ({ atMs: line.atMs!, line })),
  ].sort((a, b) => a.atMs - b.atMs)
  for (const step of steps) {
    if ('piece' in step) run.told(step.piece, step.atMs)
    else run.said(step.line, step.atMs)
  }
  const rows = run.rows.sort((a, b) => a.atMs - b.atMs)
  const of = (test: (r: BesideRow) => boolean) => rows.filter(test).length
  return {
    rows,
    both: of(r => r.line?.way === 'down' && r.design !== null),
    board: of(r => r.line?.way === 'down' && r.design === null),
    missing: of(r => r.line === null),
    why: '',
  }
}

const clock = (atMs: number) => Math.round(atMs) + AWAKE_MS

class Run {
  readonly rows: BesideRow[] = []
  private readonly twin: Twin
  private readonly decoder: Decoder
  private open: Expected[] = []

  constructor(
    private readonly design: Design,
    private readonly link: Link,
  ) {
    this.twin = new Twin(partOf(design, link.controllerId))
    this.decoder = new Decoder(design, link)
    this.twin.boot(0)
    this.twin.link(link.id, true, 0)
    this.until(-1)
    this.rows.length = 0
    this.open = []
  }

  /** What it does by itself before then. Its clock has whole ms, and is ahead by what it ran. */
  private until(atMs: number): void {
    const now = clock(atMs)
    for (let due = this.twin.due, last = -1; due !== null && due <= now; due = this.twin.due) {
      // What is due again at once would be so for ever.
      if (due === last) return
      last = due
      this.expect(this.twin.tick(due), due - AWAKE_MS)
    }
  }

  told(piece: Piece, atMs: number): void {
    this.until(atMs)
    this.expect(this.twin.hears(this.link.id, piece.text, clock(atMs)), atMs)
  }

  private expect(sayings: readonly Saying[], atMs: number): void {
    for (const { linkId, text, via } of sayings)
      if (linkId === this.link.id)
        for (const said of this.decoder.read('down', text, via)) {
          const row = { atMs, line: null, design: { atMs, words: said.words } }
          this.rows.push(row)
          this.open.push({ said, atMs, row })
        }
  }

  said(line: Captured, atMs: number): void {
    this.until(atMs)
    if (line.way === 'up') {
      this.rows.push({ atMs, line, design: null })
      return
    }
    const at = this.open.findIndex(
      ({ said, atMs: began }) =>
        said.words === line.words && atMs >= began - EARLY_MS && atMs - began <= APART_MS,
    )
    const [found] = at < 0 ? [] : this.open.splice(at, 1)
    if (found) {
      Object.assign(found.row, { atMs, line })
      return
    }
    this.rows.push({ atMs, line, design: null })
    // Somebody at the switches, or another link: from here on both have the same again.
    const load = this.design.loads[line.load]
    if (line.kind === 'report' && load && line.value !== null) this.twin.takes(load.id, line.value)
  }
}

/** Steps of a script for the bench: what the capture asked for, by the link's first surface. */
export function askedFor(
  design: Design,
  link: Link,
  lines: readonly Captured[],
): { atMs: number; action: Action }[] {
  const surface = farSurfaces(design).find(s => s.linkId === link.id)
  if (!surface) return []
  return lines.flatMap((line): { atMs: number; action: Action }[] => {
    const load = design.loads[line.load]
    if (line.way !== 'up' || line.kind !== 'command' || !load || line.value === null) return []
    const action: Action = {
      do: 'key',
      surfaceId: surface.id,
      loadId: load.id,
      want: line.value,
    }
    return [{ atMs: Math.round(line.atMs ?? line.n * STEP_MS), action }]
  })
}
