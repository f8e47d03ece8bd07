/**
 * Outages: what still works when something is out. `survives` says it from the kinds of links;
 * `tried` beside finds it out on the bench. Tests hold the two together.
 */
import type { Action } from '../bench/script'
import { linkOf, maybeMessage, farSurfaces, farSurfaceOf } from '../design/find'
import { hasModule, throughRouter, onNetwork } from '../design/links/traits'
import type { Design, FarSurface, Surface } from '../design/schema'
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
