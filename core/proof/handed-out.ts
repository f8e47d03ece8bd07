/**
 * Commands of promise P8 where the board hands out a number to sign: what is said, refused with a
 * number, and said again; and how long one can be kept back.
 */
import { step, type ControllerState } from '../controller/step'
import type { Program } from '../controller/program'
import { isAnswered, worstWayMs } from '../design/links/traits'
import { isHeld } from '../design/outputs/traits'
import type { Auth, FarSurface, Link, Output } from '../design/schema'
import { signingMs } from '../surfaces/asked'
import { surfaceStep, type SurfaceProgram, type SurfaceState } from '../surfaces/surface'
import { nth } from '../units/lists'

/** A board and a surface at the two ends of a link, by its number. */
export interface Ends {
  program: Program
  panel: SurfaceProgram
  link: number
}
export interface Exchanged {
  board: ControllerState
  state: SurfaceState
  /** All that was said by the surface. */
  texts: string[]
}

/** One text at the board, and what the surface says to its answer where it is handed a number. */
export function answered(
  { program, panel, link }: Ends,
  board: ControllerState,
  surface: SurfaceState,
  text: string,
): Exchanged {
  const stepped = step(program, board, { kind: 'received', now: board.now, link, text })
  const texts: string[] = []
  let state = surface
  if (isAnswered(panel.link.auth))
    for (const e of stepped.effects) {
      if ((e.kind !== 'send' && e.kind !== 'reply') || e.link !== link) continue
      const via = e.kind === 'send' ? 'stream' : e.to
      const heard = surfaceStep(panel, state, { kind: 'received', now: 0, text: e.text, via })
      ;({ state } = heard)
      texts.push(...heard.sends)
    }
  return { board: stepped.state, state, texts }
}

/** All that is said for a press, until nothing more is; `rested`: the board after each. */
export function exchanged(
  ends: Ends,
  before: ControllerState,
  surface: SurfaceState,
  first: readonly string[],
  rested: (board: ControllerState) => ControllerState,
): Exchanged {
  const texts = [...first]
  let board = before
  let state = surface
  for (let i = 0; i < texts.length; i++) {
    const after = answered(ends, board, state, nth(texts, i))
    board = rested(after.board)
    ;({ state } = after)
    texts.push(...after.texts)
  }
  return { board, state, texts }
}

/** The number that is good now on a link of a board, or null. */
export function handedOn(board: ControllerState, link: number): number | null {
  return board.links[link]?.handed?.number ?? null
}

/**
 * Whoever presses waits longer than what is signed is good: nobody can keep a command back beyond
 * that. The keep-alive of a finger is said by itself, and nobody waits for it.
 */
export function outwaitsNumbers(link: Link, { belief }: FarSurface, output: Output): boolean {
  return isAnswered(link.auth) && !isHeld(output) && signingMs(link, belief) < belief.timeoutMs
}

/** A stranger has time: an hour goes by between keeping back and sending. */
export const LATER_MS = 3_600_000

/**
 * How long after whoever pressed gave up a stranger sends what was kept back, ms. `heldUpMs`: how
 * late the number was handed out.
 */
export function keptBackMs(auth: Auth, jamMs: number, heldUpMs: number): number {
  if (auth.kind === 'time') return Math.min(LATER_MS, auth.toleranceS * 500)
  return isAnswered(auth)
    ? Math.min(LATER_MS, Math.floor(Math.max(1, heldUpMs + auth.validS * 1000 - jamMs) / 2))
    : LATER_MS
}

/** How long a stranger holds up the question for a number, so that it is good the longer, ms. */
export function heldUpMs(link: Link, { belief }: FarSurface): number {
  const ms = Math.floor(signingMs(link, belief) / 2)
  return belief.policy === 'confirm' && ms > 2 * worstWayMs(link) ? ms : 0
}
