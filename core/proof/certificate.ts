/**
 * What a verdict "holds" rests on, so that it can be looked at again without the search: all
 * situations that there are, as numbers, with the states of board and surface and the messages that
 * the numbers stand for (the packing is that of packing.ts). `checker.ts` goes through it: the set
 * is closed, and each situation in it keeps the promise.
 */
import type { ControllerState } from '../controller/step'
import type { SurfaceState, Via } from '../surfaces/surface'
import type { Exploration } from './explore'
import { asksRest, type Question } from './frame'

export interface Certificate {
  kind: 'certificate'
  version: 1
  loadId: string
  /** null: the board alone. */
  surfaceId: string | null
  question: Question
  /** Messages under way at once, both ways together. */
  room: number
  boards: ControllerState[]
  surfaces: SurfaceState[]
  /** `echo`: it comes back to its sender. */
  messages: { text: string; via: Via; echo?: true }[]
  /** Four words each. */
  situations: number[]
  /**
   * By situation: something that needs nobody leads to one with a smaller number; 0 = it rests.
   * Empty where that is not asked.
   */
  ranks: number[]
}

/** Of a search that came to its end and found nothing. */
export function certificateOf(search: Exploration): Certificate {
  const { system } = search
  return {
    kind: 'certificate',
    version: 1,
    loadId: system.loadId,
    surfaceId: system.panel?.program.panel.id ?? null,
    question: system.question,
    room: system.room,
    boards: system.controller.states.slice(),
    surfaces: system.panel?.states.slice() ?? [],
    messages: system.messages.texts.slice(),
    situations: [...search.situations()],
    ranks: asksRest(system.question) ? [...search.ranks()] : [],
  }
}

/**
 * How large a certificate is, in words: "1,302 situations of 4 states of the board and 17 of the
 * surface".
 */
export function certificateWords(c: Certificate, count: (n: number) => string): string {
  return `${count(c.situations.length / 4)} situations of ${count(c.boards.length)} states of the board and ${count(c.surfaces.length)} of the surface`
}
