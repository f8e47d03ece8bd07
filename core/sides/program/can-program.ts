/** Whether a program can be made of a part at all. */
import { classOf, type Target } from '../../boards/classes'
import { boardOf } from '../../design/pins'
import type { Design, Link, PeerSurface } from '../../design/schema'
import { boxesOf } from '../../design/boxes'
import { partOf, wholeOf } from '../../design/part'
import { readForItself, whyNotBeside } from './beside'
import { boxLacks, boxPart, sharesBoard } from './box'
import { portsOf } from './carried'
import { frontPart } from './front'
import { engineOutput } from './outputs'
import { canScript } from './router'

/** What a program of the board of a part is made of; null = none is made for it. */
export function targetOf(part: Design): Target | null {
  return classOf(boardOf(part)).program
}

/**
 * True when a program can be made: it needs at least one load, and a board for which there is one;
 * proofs by the time of day are not looked at on boards without a clock.
 */
export function canProgram(part: Design): boolean {
  if (targetOf(part) === 'router') return canScript(part)
  return (
    part.loads.length > 0
    && part.loads.every(l => engineOutput(l.output) !== null)
    && targetOf(part) !== null
    && !unproved(part)
  )
}

/** The board in front of a part, where there is one and a program is made for it. */
export function programmedFront(part: Design): Design | null {
  const front = frontPart(part)
  return front && canProgram(front) ? front : null
}

/**
 * What the program of a board is made of: its part, or that of the box that it is; null = none is
 * made.
 */
export function programmed(part: Design): Design | null {
  return enginesOf(part)[0] ?? null
}

/** The engines of a board, and by box why it has none. */
interface Made {
  engines: Design[]
  whyNot: ReadonlyMap<string, string>
}

/**
 * The part itself, where a program can be made of it, then each box that its board is: an engine
 * for each.
 */
export function enginesOf(part: Design): Design[] {
  return madeOf(part).engines
}

/** Sizes, files and findings ask for them one after another; a design never changes. */
const made = new WeakMap<Design, Made>()

function madeOf(part: Design): Made {
  const known = made.get(part) ?? make(part)
  made.set(part, known)
  return known
}

/** One after another: what is in the program already may keep a box out of it. */
function make(part: Design): Made {
  const whole = wholeOf(part)
  const own = canProgram(part) ? [readForItself(part)] : []
  const isLost = part.loads.length > 0 && !own.length
  const boxes: Design[] = []
  const whyNot = new Map<string, string>()
  for (const box of boxesOf(whole, part.controllers[0]?.id ?? '')) {
    const asks = boxPart(whole, box)
    if (!asks) continue
    const others = isLost ? null : [...own, ...boxes]
    const why =
      whyNotAlone(whole, box, asks) ?? (sharesBoard(whole, box) ? whyNotBeside(asks, others) : null)
    if (why === null) boxes.push(asks)
    else whyNot.set(box.id, why)
  }
  return { engines: boxes.length ? [...own, ...boxes] : own.map(() => part), whyNot }
}

/** Why no program is made for a box, in words; null where one is. */
export function whyNoBox(whole: Design, box: PeerSurface): string | null {
  const isDrawn = whole.controllers.some(c => c.id === box.boardId)
  if (box.boardId === null || !isDrawn) return boxLacks(whole, box)
  return madeOf(partOf(whole, box.boardId)).whyNot.get(box.id) ?? null
}

/** The same, of a board that does nothing else. */
function whyNotAlone(whole: Design, box: PeerSurface, part: Design): string | null {
  const lacks = boxLacks(whole, box)
  if (lacks !== null) return lacks
  const board = boardOf(part).name
  const target = targetOf(part)
  if (target === null || target === 'router' || !portsOf(part).length)
    return `Its board has nothing that speaks on ${part.links[0]?.name ?? 'the link'}, or no program is made for its class: ${board}.`
  const timed = unproved(part)
  if (timed) return `It has no clock for the times that ${timed.name} asks to be signed.`
  return canProgram(part) ? null : 'Nothing that is wired to it asks a load for anything.'
}

/** Whether the program is one of an 8-bit board: ready-made, and emulated beside the bench. */
export function isSmall(part: Design): boolean {
  return targetOf(part) === 'avr8' && canProgram(part)
}

/** The first link whose proofs the program cannot look at. */
export function unproved(part: Design): Link | undefined {
  const hasClock = targetOf(part) === 'linux'
  return portsOf(part)
    .map(c => c.link)
    .find(l => l.auth.kind === 'time' && !hasClock)
}
