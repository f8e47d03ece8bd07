/**
 * What the stated times of a design leave out of a search in time: what is under way arrives before
 * a time runs out that is longer than its way. Without them anything may come at any moment.
 */
import { handSurfaces, loadOf } from '../design/find'
import type { Design, Link, Message, FarSurface } from '../design/schema'
import { spokenValues } from '../design/values'
import { wireOf } from '../design/wire'
import type { Program } from '../controller/program'
import { wireMs } from '../links/timing'
import { reportText, rows } from '../messages/table'
import { keepAliveMs } from '../surfaces/surface'
import { BUSY, QUEUED } from './tables/controller'
import { timerMs } from '../controller/outputs/rows'
import { leastGapMs } from './pace'
import { commandMs, gestureOf, roundTripMs } from './project'
import { isHeld } from '../design/outputs/traits'

/**
 * The longest time from a command to its answer, ms: two ways on the link, and all that the queue
 * can hold before it, once as reports and once as a whole state; and the same with the least time
 * between two reports, where a change is the answer.
 */
function answerMs(design: Design, link: Link): [soon: number, late: number] {
  const reports = rows(design, link).reduce(
    (sum, { load, message }) =>
      sum
      + Math.max(...spokenValues(load.output).map(v => reportText(link, load, message, v).length)),
    0,
  )
  const soon =
    roundTripMs(link)
    + (link.queue ? Math.ceil(wireMs(design, link, ' '.repeat(2 * reports + QUEUE_MORE_BYTES))) : 0)
  return [soon, soon + ((link.messages as Message[]).every(m => m.ack) ? 0 : link.leastMs)]
}

/**
 * Answers that are no reports wait in a queue too, and readings: so many bytes of them, at most.
 */
const QUEUE_MORE_BYTES = 64

/**
 * Whether what comes back is sooner there than whatever was sent with it or after it: echoes keep
 * their order, so that one may wait for that of the longest message; the shortest one takes its
 * time on the wire and the least latency.
 */
export function echoesFirst(design: Design, link: Link): boolean {
  const texts = rows(design, link).flatMap(({ load, message }) => [
    ...Object.values(message.codes).map(code => wireOf(link, code ?? '', 'command')),
    ...spokenValues(load.output).map(value => reportText(link, load, message, value)),
  ])
  const longest = Math.max(0, ...texts.map(text => text.length)) + QUEUE_MORE_BYTES
  return (
    Math.max(1, wireMs(design, link, ' '.repeat(longest)))
    < wireMs(design, link, '') + link.timing.minMs
  )
}

/** What is known of times; of a search out of time all is false. */
export interface StatedTimes {
  /** Waits for an answer longer than one can be on its way. */
  readonly patient: boolean
  /** An answer comes too late only where a least time holds it back. */
  readonly answered: boolean
  /** Nobody does anything in the moment that a message takes to leave. */
  readonly unhurried: boolean
  /** Whatever is under way arrives before a least time is over. */
  readonly sparse: boolean
  /** The fact of the board that a message has not left yet, as far as that counts. */
  readonly leaving: number
  /** What is sent comes back before it, or anything that is sent after it, arrives. */
  readonly echoesFirst: boolean
  /** Nobody moves the one hand control a second time while the first is still on its way. */
  readonly oneSlowHand: boolean
  /** By timer: it runs longer than a message and its answer are on their way. */
  readonly slow: readonly boolean[]
  /**
   * By timer: the surface that is looked at keeps it from running out, while its finger and its
   * link stay.
   */
  readonly keptAlive: readonly boolean[]
}

/** A search: the design and its projection, the surface looked at, the board, timers by number. */
interface Looked {
  full: Design
  projected: Design
  surface: FarSurface | null
  program: Program
  timers: readonly { load: number; slot: number }[]
  echoes: boolean
}

/** Nothing is known of times: anything may come at any moment. */
export function timeless({ timers }: Pick<Looked, 'timers'>): StatedTimes {
  const never = timers.map(() => false)
  return {
    patient: false,
    answered: false,
    unhurried: false,
    sparse: false,
    leaving: QUEUED,
    echoesFirst: false,
    oneSlowHand: false,
    slow: never,
    keptAlive: never,
  }
}

/** What the times of the design say, all in ms. */
export function statedTimes(looked: Looked): StatedTimes {
  const { full, projected, surface, timers, echoes } = looked
  const link = full.links.find(l => l.id === surface?.linkId)
  const outputOf = (load: number) => loadOf(full, projected.loads[load]?.id ?? '').output
  const [soon, late] = link ? answerMs(full, link) : [0, 0]
  const timeoutMs = surface?.belief.timeoutMs ?? 0
  const way = link ? commandMs(link) : 0
  const linkIndex = projected.links.findIndex(l => l.id === link?.id)
  return {
    patient: surface !== null && timeoutMs > soon,
    answered: surface !== null && timeoutMs > soon && timeoutMs <= late,
    unhurried: link !== undefined && link.queue > 0,
    sparse: link !== undefined && link.leastMs > way,
    leaving: BUSY,
    echoesFirst: echoes && link !== undefined && echoesFirst(full, link),
    oneSlowHand: link !== undefined && !echoes && oneSlowHand(looked, way),
    slow: timers.map(t => timerMs(outputOf(t.load), t.slot) > late),
    keptAlive: timers.map(({ load, slot }) => {
      const output = outputOf(load)
      if (!link || !isHeld(output) || slot !== linkIndex) return false
      return keepAliveMs(output) + way < output.timeoutMs
    }),
  }
}

function oneSlowHand({ full, program: { inputs } }: Looked, wayMs: number): boolean {
  const controlOf = (i: (typeof inputs)[number] | undefined) =>
    gestureOf(i?.control.id ?? '').controlId
  const id = controlOf(inputs[0])
  const real = handSurfaces(full)
    .flatMap(s => s.controls)
    .find(c => c.id === id)
  return real !== undefined && inputs.every(i => controlOf(i) === id) && wayMs < leastGapMs(real)
}
