/** What comes of the steps of a run: what was heard, and what a person answered. */

/** `not heard`: nothing is connected that would tell it. */
export type HeardState = 'waiting' | 'held' | 'late' | 'not heard'
export interface Heard {
  words: string
  state: HeardState
  /** After the deed, or the first sign of it; null = not measured. */
  ms: number | null
}
export const ANSWERS = ['yes', 'no', 'another', 'opposite'] as const
export type Answer = (typeof ANSWERS)[number]
export type ResultState = 'passed' | 'differs' | 'later' | 'left out'
export interface Result {
  stepId: string
  state: ResultState
  heard: Heard[]
  answer: Answer | null
  /** The load that moved instead. */
  otherId: string | null
  /** What is the matter, in words; "" = nothing. */
  cause: string
  /** ISO 8601. */
  at: string
}
