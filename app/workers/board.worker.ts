/**
 * The emulated board beside the bench: it goes on in slices towards the time that the bench has
 * reached, and tells ten times a second what is new.
 */
import { expose } from 'comlink'
import type { LineChange } from '../../core/bench/trace'
import type { Design } from '../../core/design/schema'
import { BesideBoard, type SaidText } from '../../core/emulated/beside'
import type { Difference } from '../../core/emulated/compare'
import type { Does, Happens } from '../../core/emulated/happens'
import { practiceSecrets, programImage } from '../../core/sides/program/image'
import { imageFit } from '../../core/sides/program/image-fit'
import { isSmall } from '../../core/sides/program/can-program'

export type BoardStarted =
  { ok: true; image: string; bytes: number } | { ok: false; lacks: string[] }
export interface BoardNews {
  /** Time of the run that it has come to, ms. */
  now: number
  running: boolean
  /** By load, then line: what is new. */
  lines: LineChange[][][]
  /** What is new; the first may be the last one before, grown. */
  texts: SaidText[]
  /** How many texts there were before those. */
  textsBefore: number
  differences: Difference[]
  behindMs: number
  unplayed: string[]
  /** Simulated time by time of the machine while it was at work. */
  speed: number
}

/** Work between two looks at what has come, and between two pieces of news, ms. */
const SLICE_MS = 12
const NEWS_MS = 100

let board: BesideBoard | null = null
let loads = 0
let target = 0
let busy = false
let played = 0
let worked = 0
let newsMs = NEWS_MS
let tell: (news: BoardNews) => void = () => undefined

/** How much of each line, by load, and of the texts was told. */
let told: { lines: number[][]; texts: number } = { lines: [], texts: 0 }

function news(): BoardNews {
  const it = board as BesideBoard
  const changes = Array.from({ length: loads }, (_, load) => it.changes(load))
  const lines = changes.map((all, load) => all.map((x, n) => x.slice(told.lines[load]?.[n] ?? 0)))
  const textsBefore = Math.max(0, told.texts - 1)
  told = { lines: changes.map(all => all.map(x => x.length)), texts: it.texts.length }
  return {
    now: it.now,
    running: it.running,
    lines,
    texts: it.texts.slice(textsBefore),
    textsBefore,
    differences: it.differences,
    behindMs: it.behindMs,
    unplayed: [...it.unplayed],
    speed: worked ? played / worked : 0,
  }
}

async function work(): Promise<void> {
  if (busy) return
  busy = true
  let toldAt = 0
  for (let it = board; it && it === board && it.now < target; it = board) {
    const from = performance.now()
    const before = it.now
    it.runTo(target, () => performance.now() - from > SLICE_MS)
    played += it.now - before
    worked += performance.now() - from
    if (performance.now() - toldAt > newsMs) {
      toldAt = performance.now()
      tell(news())
    }
    await new Promise(resolve => setTimeout(resolve))
  }
  busy = false
  if (board) tell(news())
}

const api = {
  /**
   * A new board with the ready-made program of the part, and practice secrets. `everyMs`: between
   * two pieces of news.
   */
  start(part: Design, onNews: (news: BoardNews) => void, everyMs = NEWS_MS): BoardStarted {
    newsMs = everyMs
    board = null
    target = 0
    played = worked = 0
    told = { lines: [], texts: 0 }
    if (!isSmall(part)) return { ok: false, lacks: [] }
    const image = programImage(part, practiceSecrets(part))
    const { name, lacks } = imageFit(part)
    if (!image) return { ok: false, lacks }
    board = new BesideBoard(part, image)
    loads = part.loads.length
    tell = onNews
    return { ok: true, image: name, bytes: image.length }
  },

  /** What happened meanwhile, and how far the bench is. */
  feed(happens: readonly Happens[], does: readonly Does[], untilMs: number): void {
    board?.feed(happens, does)
    target = Math.max(target, untilMs)
    void work()
  },

  stop(): void {
    board = null
  },
}

export type BoardWorker = typeof api
expose(api)
