/**
 * The verdict of each cell of the sheet, from the same search as the proof. Searches of loads that
 * an edit did not touch are remembered, so that one edit costs one or two searches.
 */
import { maybeMessage } from '../design/find'
import type { Design } from '../design/schema'
import { assumptionsOf } from '../proof/assumptions'
import { neighboursOf, project } from '../proof/project'
import { prove, type Verdict } from '../proof/prove'
import { Searched } from '../proof/same'
import { DEFAULT_BOUNDS } from '../proof/bounds'
import { seated } from '../design/seats'

export class VerdictCache {
  private readonly memo = new Map<string, Verdict>()
  private readonly searched = new Searched()

  verdict(given: Design, loadId: string, neighbours = neighboursOf(given)): Verdict {
    const design = seated(given)
    // Times count for the replay of a story, so the key holds the whole part of the design, not
    // only the projection. So do the settings of links that the search leaves out, and what is told
    // about them.
    const told = design.links
      .filter(l => maybeMessage(l, loadId))
      .map(l => [l.id, l.queue, l.leastMs, l.everyMs, l.auth.kind])
    const key = JSON.stringify([
      loadId,
      project(design, loadId, { neighbours }),
      design.surfaces.filter(s => s.kind === 'hand'),
      design.loads.find(l => l.id === loadId)?.output,
      told,
      assumptionsOf(design, loadId, 'P1'),
    ])
    const known = this.memo.get(key)
    if (known) return known
    const verdict = prove(design, loadId, DEFAULT_BOUNDS, {
      searched: this.searched,
      neighbours,
      trials: false,
    })
    if (this.memo.size >= MAX_REMEMBERED) this.memo.clear()
    this.memo.set(key, verdict)
    return verdict
  }

  all(design: Design): Record<string, Verdict> {
    const neighbours = neighboursOf(design)
    return Object.fromEntries(design.loads.map(l => [l.id, this.verdict(design, l.id, neighbours)]))
  }
}

const MAX_REMEMBERED = 500
