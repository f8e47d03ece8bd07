/**
 * What a promise comes to: its verdict, the parts it is made of, and what was taken for granted on
 * the way.
 */
import type { Bounds } from './bounds'
import type { PromiseId } from './promises'
import type { Story } from './story/story'

/**
 * Of a surface, for P1: in step: never wrong nor unsure at rest. unsure: can stay unknown or marked
 * stale. stale: can show the opposite for good. Of any other part of a promise: holds or broken. in
 * time: only delays beyond the stated ones break it. in part: nothing breaks it in what was
 * examined, and something that may break it was not.
 */
export type PromiseState =
  'in step' | 'unsure' | 'stale' | 'not examined' | 'holds' | 'broken' | 'in time' | 'in part'

/**
 * A part of a verdict: a surface, a hand control, an outage, or the load itself (surfaceId null).
 * `subject`: what it is about, in words.
 */
export interface SurfaceVerdict {
  surfaceId: string | null
  subject: string
  state: PromiseState
  reason: string
  story: Story | null
}

/**
 * Something of the design that a verdict left out or took for granted, in words. `open`: it may
 * break the promise, so that a plain "holds" would say too much; else a reason stands in the words
 * why it cannot. `surfaceId`: the surface it concerns, or null for all. `unless`: it is open only
 * where the verdict about that other surface is not a good one.
 */
export interface Assumption {
  id: string
  words: string
  open: boolean
  surfaceId: string | null
  unless?: string
}

/**
 * by timing: broken only with delays outside the stated ones. in part: holds, and the open
 * assumptions were not examined.
 */
export type Result = 'holds' | 'broken' | 'by timing' | 'in part' | 'gave up' | 'not asked'

export interface Verdict {
  promise: PromiseId
  loadId: string
  result: Result
  reason: string
  surfaces: SurfaceVerdict[]
  assumptions: Assumption[]
  situations: number
  transitions: number
  bounds: Bounds
  underWay: UnderWay | null
}

/**
 * Messages on a link at once, both ways together, up to which it was searched. `suffices`: with one
 * more nothing new came about for board and surface, or no more can be; else the search stopped
 * there. null where no link is in it.
 */
export interface UnderWay {
  most: number
  suffices: boolean
}

/** "up to 3 messages under way at once, and one more adds nothing new". */
export function underWayWords({ most, suffices }: UnderWay): string {
  return `up to ${most} ${most === 1 ? 'message' : 'messages'} under way at once${suffices ? ', and one more adds nothing new' : '; more were not tried'}`
}

/** A search with what is made of it; several promises may share one. */
export interface Part {
  promises: readonly PromiseId[]
  /** Does up to `slice` situations, or as much; true when done. */
  run(slice: number): boolean
  situations: number
  transitions: number
  underWay: UnderWay | null
  verdicts(promise: PromiseId): SurfaceVerdict[]
}

/** Broken is only what the bench comes to. */
export const UNREPLAYED =
  'Undecided: a story was found, but the bench does not come to it with the delays that the links state'

/** Nothing was found that breaks it. */
export function isGood(state: PromiseState): boolean {
  return state === 'in step' || state === 'holds' || state === 'in time'
}

/** What one part says of itself at once, without a search. */
export function settledPart(promise: PromiseId, tell: () => SurfaceVerdict[]): Part {
  let told: SurfaceVerdict[] | null = null
  return {
    promises: [promise],
    situations: 0,
    transitions: 0,
    underWay: null,
    run() {
      told ??= tell()
      return true
    },
    verdicts: () => (told ??= tell()),
  }
}
