/**
 * Outages: what still works when something is out. `survives` says it from the kinds of links;
 * `tried` finds it out on the bench, where the fault happens and every control of a surface is
 * pressed. Tests hold the two together.
 */
import { Bench } from '../bench/bench'
import type { Action, BenchScript } from '../bench/script'
import { linkOf, loadOf, maybeMessage, farSurfaces, farSurfaceOf, surfaceOf } from '../design/find'
import { hasModule, throughRouter, onNetwork } from '../design/links/traits'
import type { Design, FarSurface, Surface } from '../design/schema'
import { wantsOn } from '../design/values'
import { roundTripMs } from './project'
import type { Story } from './story/story'
import { mediumOf } from '../design/links/media'
import { actsOn } from '../design/targets'
import { seated } from '../design/seats'

/** `bears`: whether anything could work at all, the board being there. */
export interface Outage {
  id: string
  name: string
  faults: readonly Action[]
  bears: boolean
}

const NONE: Outage = { id: 'none', name: 'all is well', faults: [], bears: true }

/** Outages that a design can meet, "all is well" first. */
export function outagesOf(given: Design): Outage[] {
  const design = seated(given)
  const down = (surfaces: readonly FarSurface[]): Action[] =>
    surfaces.map(s => ({ do: 'linkDown', linkId: s.linkId }))
  const boxes = farSurfaces(design).filter(s => s.kind === 'peer')
  return [
    NONE,
    // Nothing in a design asks anything of the internet: that is the point.
    { id: 'internet', name: 'no internet', faults: [], bears: true },
    { id: 'router', name: 'router down', faults: [{ do: 'routerDown' }], bears: true },
    {
      id: 'phone',
      name: 'phone away',
      faults: down(farSurfaces(design).filter(s => inPocket(design, s))),
      bears: true,
    },
    {
      id: 'module',
      name: 'module out',
      faults: down(farSurfaces(design).filter(s => hasModule(linkOf(design, s.linkId)))),
      bears: true,
    },
    ...(design.front
      ? [
          {
            id: 'front',
            name: `${design.front.name} stops`,
            faults: [{ do: 'frontDown' }] satisfies Action[],
            bears: true,
          },
        ]
      : []),
    ...boxes.map(s => ({
      id: `box-${s.id}`,
      name: `${s.name} out`,
      faults: down([s]),
      bears: true,
    })),
    { id: 'restart', name: 'restart', faults: [{ do: 'powerOff' }], bears: false },
    { id: 'power', name: 'power cut', faults: [{ do: 'powerOff' }], bears: false },
  ]
}

/** The outage of that id, or none. */
export function outageOf(design: Design, id: string): Outage {
  return outagesOf(design).find(o => o.id === id) ?? NONE
}

/** A box on a shelf goes nowhere, nor does a browser on a desk. */
function inPocket(design: Design, surface: FarSurface): boolean {
  return surface.kind === 'panel' && mediumOf(linkOf(design, surface.linkId)).inPocket
}

/** Does a surface still command its loads while all of these are out at once. */
export function survives(design: Design, surface: Surface, ...outages: readonly Outage[]): boolean {
  if (outages.some(o => !o.bears)) return false
  if (surface.kind === 'hand') return true
  const each = seated(design)
  const link = linkOf(each, farSurfaceOf(each, surface.id).linkId)
  return outages.every(o =>
    o.faults.every(f => {
      switch (f.do) {
        case 'routerDown':
          return !throughRouter(link)
        case 'frontDown':
          return !onNetwork(link)
        case 'linkDown':
          return f.linkId !== link.id
        default:
          return true
      }
    }),
  )
}

/** Whether a surface can command a load. */
export function commandsLoad(design: Design, surface: Surface, loadId: string): boolean {
  return surface.kind === 'hand'
    ? surface.controls.some(c => actsOn(design, c, loadId).length > 0)
    : maybeMessage(linkOf(design, surface.linkId), loadId) !== undefined
}

export interface OutageRow {
  outages: Outage[]
  name: string
  cells: { surfaceId: string; loads: number; works: number }[]
}

export type Works = (surface: Surface, loadId: string, outages: readonly Outage[]) => boolean

/**
 * For each outage, and each two of them where asked: how many of its loads every surface still
 * commands.
 */
export function outageTable(
  design: Design,
  {
    doubles = false,
    works = (s, _, outages) => survives(design, s, ...outages),
  }: { doubles?: boolean; works?: Works } = {},
): OutageRow[] {
  const single = outagesOf(design).filter(o => o.id !== 'none')
  const bearable = single.filter(o => o.bears && o.faults.length > 0)
  const pairs = doubles ? bearable.flatMap((a, i) => bearable.slice(i + 1).map(b => [a, b])) : []
  return [...single.map(o => [o]), ...pairs].map(outages => ({
    outages,
    name: outages.map(o => o.name).join(' and '),
    cells: design.surfaces.map(s => {
      const loads = design.loads.filter(l => commandsLoad(design, s, l.id))
      return {
        surfaceId: s.id,
        loads: loads.length,
        works: loads.filter(l => works(s, l.id, outages)).length,
      }
    }),
  }))
}

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
