/** The ways in which a path can be laid out in time, and paths that come to the same. */
import { surfaceOf } from '../../design/find'
import type { Design, FarSurface } from '../../design/schema'
import type { SystemEvent } from '../happenings'
import type { System } from '../system'
import { nth } from '../../units/lists'

const START_MS = 1000
/**
 * Between two things a person does: long enough to be seen apart on the bench; quicker where
 * something would come in between.
 */
export const PACES_MS = [400, 100, 30] as const

/**
 * How a path is laid out in time: between two things, when it begins, and whether who is out of
 * reach stays away.
 */
export interface Times {
  pace: number
  startMs: number
  lingers: boolean
}

/** All ways to lay a path out, the plainest first. */
export function* triesOf(
  design: Design,
  system: System,
  path: readonly number[],
  surfaceId: string | null,
): Generator<Times & { way: readonly number[] }> {
  for (const way of waysOf(system, path)) {
    const moments = startsOf(design, system, way, surfaceId).flatMap(startMs =>
      wayLingers(system, way).map(lingers => ({ startMs, lingers })),
    )
    yield* PACES_MS.flatMap(pace => moments.map(moment => ({ way, pace, ...moment })))
  }
}

/**
 * Whether who is out of reach stays away as long as connecting takes, so that it is back at any
 * moment after what happens meanwhile.
 */
function wayLingers(system: System, way: readonly number[]): boolean[] {
  const kinds = way.map(event => system.events[event]?.kind)
  const drop = kinds.indexOf('drop')
  return drop >= 0 && kinds.indexOf('return', drop) > drop + 1 ? [false, true] : [false]
}

/** The usual moment; where a least time runs from the first report on, moments within it too. */
function startsOf(
  design: Design,
  system: System,
  way: readonly number[],
  surfaceId: string | null,
): number[] {
  const surface = surfaceId === null ? undefined : (surfaceOf(design, surfaceId) as FarSurface)
  const leastMs = design.links.find(l => l.id === surface?.linkId)?.leastMs ?? 0
  if (!leastMs || !way.some(event => system.events[event]?.kind === 'least')) return [START_MS]
  return [
    START_MS,
    ...[0.3, 0.6, 0.9].map(share => Math.round(leastMs * share)).filter(ms => ms > START_MS),
  ]
}

/**
 * The path, and others that come to the same, each worked out only where those before it did not
 * come true.
 */
function* waysOf(system: System, path: readonly number[]): Generator<readonly number[]> {
  yield path
  const late = lateByItself(system, path)
  if (late.some((event, i) => event !== path[i])) yield late
  if (system.echoes) {
    // What comes back is quick: it comes before whatever it need not wait for, and keys that race
    // with it are pressed before.
    const { messages } = system
    yield swapped(system, path, (a, b) => !messages.isEcho(a.message) && messages.isEcho(b.message))
    yield swapped(
      system,
      path,
      (a, b) =>
        system.events[a.event]?.kind === 'deliverUp'
        && KEYS.includes(system.events[b.event]?.kind ?? 'save'),
    )
  }
  // One finger on one button is slow; somebody else may do the same at once.
  yield* byOthers(system, late)
}

/**
 * The same path with what only time brings about as late as it comes to the same: a value is saved
 * seconds after it changed, and what the story needs to be quick would have to wait for it.
 */
function lateByItself(system: System, path: readonly number[]): number[] {
  return swapped(system, path, ({ event }) => {
    const kind = system.events[event]?.kind
    return kind === 'save' || kind === 'timer'
  })
}

/**
 * One event of a path. `message`: what arrives or is lost, wherever it lies by then; 0 = the event
 * is about none.
 */
interface Move {
  event: number
  message: number
}

/** The same path with one event after the next wherever that is wanted and comes to the same. */
function swapped(
  system: System,
  path: readonly number[],
  wanted: (first: Move, second: Move) => boolean,
): number[] {
  let s = system.initial()
  const way = path.map((event): Move => {
    const message = messageOf(system, s, event)
    s = system.after(s, event) ?? s
    return { event, message }
  })
  const through = (s: Int32Array | null, ...moves: Move[]) =>
    moves.reduce<Int32Array | null>(
      (at, move) => at && system.after(at, placed(system, at, move)),
      s,
    )
  for (let i = way.length - 2; i >= 0; i--) {
    for (let at = i; at + 1 < way.length; at++) {
      const [a, b] = [nth(way, at), nth(way, at + 1)]
      if (!wanted(a, b)) break
      const before = through(system.initial(), ...way.slice(0, at))
      const other = through(before, b, a)
      if (!other || through(before, a, b)?.some((word, n) => word !== other[n])) break
      way[at] = b
      way[at + 1] = a
    }
  }
  s = system.initial()
  return way.map(move => {
    const event = placed(system, s, move)
    s = system.after(s, event) ?? s
    return event
  })
}

function messageOf(system: System, s: Int32Array, event: number): number {
  const e = system.events[event]
  return e && 'place' in e
    ? (system.queueOf(s, e.kind.endsWith('Up') ? 'up' : 'down')[e.place] ?? 0)
    : 0
}

/** The event of a move in a situation: a message that lies elsewhere by now is the same still. */
function placed(system: System, s: Int32Array, { event, message }: Move): number {
  const e = system.events[event]
  if (!e || !('place' in e) || message === 0) return event
  const place = system.queueOf(s, e.kind.endsWith('Up') ? 'up' : 'down').indexOf(message)
  const there = system.events.findIndex(x => x.kind === e.kind && 'place' in x && x.place === place)
  return there < 0 ? event : there
}

const KEYS: readonly SystemEvent['kind'][] = ['key', 'watchedKey', 'scene']

/**
 * The same path with all presses but the first made by other surfaces, where they come to the same.
 */
function byOthers(system: System, path: readonly number[]): number[][] {
  let s = system.initial()
  let presses = 0
  const way = path.map(event => {
    const instead = system.insteadOf(s, event)
    const takes = instead !== null && presses++ > 0 ? instead : event
    s = system.after(s, event) ?? s
    return takes
  })
  return way.some((event, i) => event !== path[i]) ? [way] : []
}
