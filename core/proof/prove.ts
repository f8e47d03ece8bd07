/**
 * Promise P1 for one load: at rest, every surface that shows the load shows the truth. The search is exhaustive
 * within its bounds; a break comes with the shortest story, replayed on the bench.
 */
import { linkOf, maybeMessage, remotes, showsState, surfaceOf } from '../design/find'
import { partOfLoad } from '../design/part'
import type { Design } from '../design/schema'
import { Exploration } from './explore'
import { tellStory, type Story } from './story'
import { System, THOROUGH, TooLarge, type Bounds } from './system'

/** in step: never wrong nor unsure at rest. unsure: can stay unknown or marked stale. stale: can show the opposite for good. */
export type SurfaceState = 'in step' | 'unsure' | 'stale' | 'not examined'
export interface SurfaceVerdict { surfaceId: string, state: SurfaceState, reason: string, story: Story | null }
export interface Verdict {
  promise: 'P1'
  loadId: string
  result: 'holds' | 'broken' | 'gave up' | 'nothing to show'
  reason: string
  surfaces: SurfaceVerdict[]
  situations: number
  transitions: number
  bounds: Bounds
  /** Paths cut short because more messages were under way than the bound allows. */
  cutShort: number
}

/** A search that can be run in slices: one exploration for each panel that shows the load. */
export class Proof {
  private readonly explorations: { surfaceId: string, search: Exploration | TooLarge }[]
  private at = 0

  private readonly design: Design

  constructor(whole: Design, private readonly loadId: string, private readonly bounds: Bounds = THOROUGH) {
    this.design = partOfLoad(whole, loadId)
    const shows = remotes(this.design).filter(p => showsState(p) && maybeMessage(linkOf(this.design, p.linkId), loadId))
    this.explorations = shows.map(({ id }) => ({ surfaceId: id, search: this.open(id) }))
  }

  get situations(): number { return this.searches().reduce((sum, s) => sum + s.count, 0) }

  /** True when done. */
  run(slice: number): boolean {
    const search = this.explorations[this.at]?.search
    if (!search) return true
    if (search instanceof TooLarge || search.run(slice)) this.at++
    return this.at >= this.explorations.length
  }

  verdict(): Verdict {
    const surfaces = this.explorations.map(({ surfaceId, search }) => this.surfaceVerdict(surfaceId, search))
    const searches = this.searches()
    const { result, reason } = this.summary(surfaces)
    return {
      promise: 'P1', loadId: this.loadId, bounds: this.bounds, surfaces, result, reason,
      situations: this.situations, transitions: searches.reduce((sum, s) => sum + s.transitions, 0), cutShort: searches.reduce((sum, s) => sum + s.system.overflows, 0),
    }
  }

  private open(surfaceId: string): Exploration | TooLarge {
    try { return new Exploration(new System(this.design, this.loadId, surfaceId, this.bounds)) }
    catch (error) {
      if (error instanceof TooLarge) return error
      throw error
    }
  }

  private searches(): Exploration[] {
    return this.explorations.flatMap(e => e.search instanceof TooLarge ? [] : [e.search])
  }

  private surfaceVerdict(surfaceId: string, search: Exploration | TooLarge): SurfaceVerdict {
    if (search instanceof TooLarge) return { surfaceId, state: 'not examined', reason: search.message, story: null }
    const { wrong, unsure } = search.found
    const index = wrong >= 0 ? wrong : unsure
    const story = index >= 0 ? tellStory(this.design, search.system, search.path(index), surfaceId) : null
    const name = surfaceOf(this.design, surfaceId).name
    if (wrong >= 0) return { surfaceId, story, state: 'stale', reason: `${name} can show the wrong state for good` }
    if (unsure >= 0) return { surfaceId, story, state: 'unsure', reason: `${name} can stay unsure for good` }
    if (search.exhausted) return { surfaceId, story, state: 'not examined', reason: `${name}: no break in ${search.count} situations, then the bound ended the search` }
    return { surfaceId, story, state: 'in step', reason: `${name} shows the truth whenever all is at rest` }
  }

  private summary(surfaces: SurfaceVerdict[]): Pick<Verdict, 'result' | 'reason'> {
    const of = (...states: SurfaceState[]) => surfaces.filter(s => states.includes(s.state)).map(s => s.reason).join('; ')
    if (surfaces.length === 0) return { result: 'nothing to show', reason: 'No panel shows this load.' }
    const broken = of('stale', 'unsure')
    if (broken) return { result: 'broken', reason: broken }
    const open = of('not examined')
    return open ? { result: 'gave up', reason: open } : { result: 'holds', reason: 'At rest every panel shows the truth.' }
  }
}

/** Run a whole search at once. */
export function prove(design: Design, loadId: string, bounds: Bounds = THOROUGH): Verdict {
  const proof = new Proof(design, loadId, bounds)
  while (!proof.run(20_000)) { /* the next slice */ }
  return proof.verdict()
}
