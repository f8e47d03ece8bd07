/** Which search answers which promise, and which of its finds break it. */
import type { What } from './explore'
import type { Question } from './frame'
import type { PromiseId } from './promises'

export const BREAKS: Partial<Record<PromiseId, readonly What[]>> = {
  P1: ['wrong', 'unsure', 'restless'],
  P2: ['twice', 'vanished'],
  P3: ['dead'],
  P4: ['astray'],
  P5: ['clashed'],
  P6: ['stuck'],
  P7: ['moved', 'jumped'],
}

/** The promises that a search answers; what is shown is found beside what a start does, too. */
export const ANSWERS: Record<Question, readonly PromiseId[]> = {
  truth: ['P1'],
  twice: ['P2'],
  restart: ['P1', 'P7'],
  board: ['P3', 'P4', 'P5', 'P6'],
}

/** All finds of a search that break something. */
export function breaksOf(question: Question): readonly What[] {
  return ANSWERS[question].flatMap(p => BREAKS[p] ?? [])
}
