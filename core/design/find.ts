/**
 * Look-ups in a design that many rooms need. `maybe...` may return undefined; the others throw on a
 * caller's bug.
 */
import type {
  Controller,
  Design,
  HandSurface,
  Link,
  Load,
  Message,
  PanelSurface,
  FarSurface,
  Surface,
  WiredSurface,
} from './schema'

/** The load of that id. Throws `RangeError` where there is none. */
export function loadOf({ loads }: Pick<Design, 'loads'>, loadId: string): Load {
  // Everything asks for loads by id. A list that is being changed may have moved on: then it is
  // looked through.
  const there = loads[placesOf(loads).get(loadId) ?? -1]
  return there?.id === loadId
    ? there
    : found(
        loads.find(l => l.id === loadId),
        'load',
        loadId,
      )
}

/** Places of loads by id, as they were when the list was first asked. */
function placesOf(loads: readonly Load[]): ReadonlyMap<string, number> {
  let known = places.get(loads)
  if (!known)
    places.set(loads, (known = new Map(loads.map((l, i) => [l.id, i] as const).reverse())))
  return known
}
const places = new WeakMap<readonly Load[], ReadonlyMap<string, number>>()

/** The link of that id. Throws `RangeError` where there is none. */
export function linkOf(design: Design, linkId: string): Link {
  return found(
    design.links.find(l => l.id === linkId),
    'link',
    linkId,
  )
}
/** The surface of that id. Throws `RangeError` where there is none. */
export function surfaceOf(design: Design, surfaceId: string): Surface {
  return found(
    design.surfaces.find(s => s.id === surfaceId),
    'surface',
    surfaceId,
  )
}
/** The panel of that id. Throws `RangeError` for none, `TypeError` for another surface. */
export function panelOf(design: Design, surfaceId: string): PanelSurface {
  const surface = surfaceOf(design, surfaceId)
  if (surface.kind !== 'panel') throw new TypeError(`surface "${surfaceId}" is not a panel`)
  return surface
}
/** A surface that speaks over a link. */
export function farSurfaceOf(design: Design, surfaceId: string): FarSurface {
  const surface = surfaceOf(design, surfaceId)
  if (surface.kind === 'hand') throw new TypeError(`surface "${surfaceId}" speaks over no link`)
  return surface
}
/** Who speaks over a link; undefined where nobody does. */
export function maybeFarSurfaceOn(design: Design, linkId: string): FarSurface | undefined {
  return farSurfaces(design).find(s => s.linkId === linkId)
}
/** What people call a link: its surface, where one speaks over it; else its own name. */
export function linkTitle(design: Design, link: Link): string {
  const [first, ...others] = farSurfaces(design).filter(s => s.linkId === link.id)
  return first && !others.length ? first.name : link.name
}
/** Panels and boxes: what commands or shows over a link. */
export function farSurfaces(design: Pick<Design, 'surfaces'>): FarSurface[] {
  return design.surfaces.filter((s): s is FarSurface => s.kind !== 'hand')
}
/** Whether it shows what it switches at all: a panel does, a box may have no lamp. */
export function showsState(surface: FarSurface): boolean {
  return surface.kind === 'panel' || surface.shows
}
/** All panels. */
export function panels(design: Pick<Design, 'surfaces'>): PanelSurface[] {
  return design.surfaces.filter((s): s is PanelSurface => s.kind === 'panel')
}
/** All surfaces of hand controls. */
export function handSurfaces(design: Design): HandSurface[] {
  return design.surfaces.filter((s): s is HandSurface => s.kind === 'hand')
}
/** Surfaces with controls on pins: hand controls, and boxes that are boards of the design. */
export function wiredSurfaces(design: Pick<Design, 'surfaces'>): WiredSurface[] {
  return design.surfaces.filter((s): s is WiredSurface => s.kind !== 'panel')
}
/** The messages of a load on a link; undefined where it has none. */
export function maybeMessage(link: Link, loadId: string): Message | undefined {
  return (link.messages as Message[]).find(m => m.loadId === loadId)
}

function found<T>(item: T | undefined, what: string, id: string): T {
  if (item === undefined) throw new RangeError(`no ${what} "${id}" in this design`)
  return item
}

/** Ids of the scenes that keys of a surface ask for. */
export function scenesOn(surface: FarSurface): string[] {
  return surface.kind === 'panel'
    ? surface.parts.flatMap(p => ('sceneId' in p ? [p.sceneId] : []))
    : surface.scenes
}

/** Lamps of the board of a design of one controller, in order. */
export function lampsOf(design: Design): Controller['lamps'] {
  return design.controllers[0]?.lamps ?? NONE
}

/** Expanders of that board, in order. */
export function expandersOf(design: Design): Controller['expanders'] {
  return design.controllers[0]?.expanders ?? NONE
}
const NONE: never[] = []

/** Panels and boxes that can command a load. */
export function commanding(design: Design, loadId: string): FarSurface[] {
  return farSurfaces(design).filter(s => maybeMessage(linkOf(design, s.linkId), loadId))
}
