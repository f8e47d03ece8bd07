/**
 * Outages on the bench: the fault happens, and every control of a surface is pressed. What nothing
 * works in any more is told with its story.
 */
import { Bench } from '../bench/bench'
import type { Action, BenchScript } from '../bench/script'
import { linkOf, loadOf, surfaceOf } from '../design/find'
import type { Design, Surface } from '../design/schema'
import { seated } from '../design/seats'
import { actsOn } from '../design/targets'
import { wantsOn } from '../design/values'
import { commandsLoad, outagesOf, survives, type Outage } from './outages'
import { roundTripMs } from './project'
import type { Story } from './story/story'

const FAULT_MS = 1000

/**
 * The faults happen, then the surface does to the load whatever it can, one thing after another.
 */
export function tried(
  given: Design,
  { id: surfaceId }: Pick<Surface, 'id'>,
  loadId: string,
  outages: readonly Outage[],
): { works: boolean; script: BenchScript } {
  const design = seated(given)
  const surface = surfaceOf(design, surfaceId)
  const script: BenchScript = {
    seed: 1,
    steps: outages.flatMap(o => o.faults).map(action => ({ atMs: FAULT_MS, action })),
  }
  const wait = surface.kind === 'hand' ? 800 : 2 * roundTripMs(linkOf(design, surface.linkId)) + 200
  let t =
    FAULT_MS
    + 3000
    + (surface.kind === 'hand' ? 0 : linkOf(design, surface.linkId).timing.dropDetectMs)
  for (const action of pressesOf(design, surface, loadId)) {
    script.steps.push({ atMs: t, action })
    t += wait
  }
  script.untilMs = t
  const bench = new Bench(design, 1)
  bench.plan(script.steps)
  while (!bench.advance(FAULT_MS + 2000)) {
    /* the next slice */
  }
  const before = bench.trace.moves[loadId] ?? 0
  while (!bench.advance(t)) {
    /* the next slice */
  }
  return { works: (bench.trace.moves[loadId] ?? 0) > before, script }
}

function pressesOf(design: Design, surface: Surface, loadId: string): Action[] {
  if (surface.kind !== 'hand')
    return wantsOn(surface.keys, loadOf(design, loadId)).map(want => ({
      do: 'key',
      surfaceId: surface.id,
      loadId,
      want,
    }))
  return surface.controls.flatMap(c =>
    actsOn(design, c, loadId).map(({ on }): Action => ({
      do: 'press',
      controlId: c.id,
      ...(on === 'single' ? {} : { gesture: on }),
    })),
  )
}

/** Promise P9 for a load: outages in which nothing works any more, each with its story. */
export function deadOutages(design: Design, loadId: string): { outage: Outage; story: Story }[] {
  const surfaces = design.surfaces.filter(s => commandsLoad(design, s, loadId))
  return outagesOf(design)
    .filter(o => o.bears && o.id !== 'none' && !surfaces.some(s => survives(design, s, o)))
    .map(outage => {
      const runs = surfaces.map(s => ({ s, run: tried(design, s, loadId, [outage]) }))
      const steps: Story['steps'] = [
        { words: outage.name, kind: 'fault', surfaceId: null, is: null, shows: null },
        ...runs.map(({ s }) => ({
          words: `${s.name} is tried: nothing moves`,
          kind: 'key' as const,
          surfaceId: s.id,
          is: null,
          shows: null,
        })),
      ]
      const longest = runs.toSorted(
        (a, b) => (b.run.script.untilMs ?? 0) - (a.run.script.untilMs ?? 0),
      )[0]
      return {
        outage,
        story: {
          surfaceId: null,
          what: 'cut off',
          steps,
          ending: `${loadOf(design, loadId).name} cannot be switched from anywhere`,
          script: longest?.run.script ?? { seed: 1, steps: [] },
          replayed: runs.every(r => !r.run.works),
        },
      }
    })
}
