/**
 * Verdicts looked at again: a certificate is made for each search that a "holds" rests on, and the
 * separate checker goes through it.
 */
import { partOfLoad } from '../design/part'
import type { Design } from '../design/schema'
import { count } from '../units/format'
import type { Bounds } from './bounds'
import { certificateOf, certificateWords, type Certificate } from './certificate'
import { checked } from './checker'
import { Exploration } from './explore'
import { asksRest, type Question } from './frame'
import type { PromiseId } from './promises'
import { breaksOf } from './questions'
import { System } from './system'
import { isGood, type Verdict } from './verdict'
import { Widening } from './widen'

const QUESTIONS: Partial<Record<PromiseId, Question>> = {
  P1: 'truth',
  P2: 'twice',
  P3: 'board',
  P4: 'board',
  P5: 'board',
  P6: 'board',
  P7: 'restart',
}

/**
 * The certificate of one search; null where something breaks, or the search does not come to its
 * end.
 */
export function certificate(
  whole: Design,
  loadId: string,
  surfaceId: string | null,
  question: Question,
  bounds: Bounds,
): Certificate | null {
  const design = partOfLoad(whole, loadId)
  const system = new System(design, loadId, surfaceId, { question })
  const widening = new Widening(system, [], bounds)
  while (!widening.run(20_000)) {
    /* the next slice */
  }
  const { finds, underWay, exhausted } = widening.outcome()
  if (exhausted || finds.some(f => breaksOf(question).includes(f.what))) return null
  // Once more with as much under way as suffices, for all that is in it.
  system.room = Math.max(underWay, system.least)
  const search = new Exploration(system, [], bounds.situations)
  while (!search.run(20_000)) {
    /* on */
  }
  if (asksRest(question)) search.settle()
  return certificateOf(search)
}

/** `words`: what was gone through; `wrong`: what does not hold, in words, or "". */
export interface CheckedAgain {
  surfaceId: string | null
  words: string
  wrong: string
}

/** The surfaces whose free search holds; null = that of the board, which all of them share. */
function searched(question: Question, surfaces: Verdict['surfaces']): (string | null)[] {
  if (question === 'board') return surfaces.every(s => isGood(s.state)) ? [null] : []
  return surfaces.filter(s => isGood(s.state) && s.state !== 'in time').map(s => s.surfaceId)
}

/**
 * What of a verdict holds in the free search, looked at again. What holds by timing, what was found
 * out otherwise (P8, P9), and surfaces that share their search with one that breaks have no
 * certificate.
 */
export function checkedAgain(
  whole: Design,
  { promise, loadId, surfaces, bounds }: Verdict,
): CheckedAgain[] {
  const question = QUESTIONS[promise]
  if (!question) return []
  return [...new Set(searched(question, surfaces))].flatMap(surfaceId => {
    const made = certificate(whole, loadId, surfaceId, question, bounds)
    return made
      ? [
          {
            surfaceId,
            words: certificateWords(made, count),
            wrong: checked(partOfLoad(whole, loadId), made) ?? '',
          },
        ]
      : []
  })
}
