/** P1: what a surface shows at rest is the truth. */
import type { What } from '../explore'
import type { Story } from '../story/story'
import type { FarSurface } from '../../design/schema'
import type { SurfaceVerdict } from '../verdict'
import { UNREPLAYED } from '../verdict'

/** A find of a search, with its story; `event`: the last of its path. */
export interface Told {
  what: What
  event: number
  story: Story
}

/**
 * The verdict from what was found. `outOfReach`: why the search did not end, "" where it did;
 * `byTiming`: why what was found does not count.
 */
export function truthOf(
  surface: FarSurface | null,
  own: readonly Told[],
  outOfReach: string,
  byTiming: () => string,
): SurfaceVerdict {
  const { name = '', id = '' } = surface ?? {}
  const story = (what: What) => own.find(s => s.what === what)?.story
  const common = { surfaceId: id, subject: name }
  const [wrong, unsure, restless] = [story('wrong'), story('unsure'), story('restless')]
  // What the bench came to counts before what it did not.
  if (wrong?.replayed)
    return {
      ...common,
      story: wrong,
      state: 'stale',
      reason: `${name} can show the wrong state for good`,
    }
  if (unsure?.replayed)
    return {
      ...common,
      story: unsure,
      state: 'unsure',
      reason: `${name} can stay unsure for good`,
    }
  const undecided = wrong ?? unsure
  if (undecided) return { ...common, story: undecided, state: 'not examined', reason: UNREPLAYED }
  if (restless && !restless.replayed)
    return { ...common, story: restless, state: 'not examined', reason: UNREPLAYED }
  if (restless)
    return {
      ...common,
      story: restless,
      state: 'unsure',
      reason: `${name} may never come to rest`,
    }
  if (outOfReach) return { ...common, story: null, state: 'not examined', reason: outOfReach }
  const timed = byTiming()
  return {
    ...common,
    story: null,
    state: timed ? 'in time' : 'in step',
    reason: timed || `${name} shows the truth whenever all is at rest`,
  }
}
