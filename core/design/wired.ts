/**
 * Hand controls by the board whose pins they are wired to: those that act on its loads, and those
 * of the surfaces by which it asks other boards.
 */
import { boxesOf, carrierOf } from './boxes'
import { handSurfaces } from './find'
import { inWhole, wholeOf } from './part'
import type {
  Control,
  Design,
  Lamp,
  Load,
  PeerSurface,
  Scene,
  Sensor,
  Surface,
  WiredSurface,
} from './schema'

export interface WiredControl {
  control: Control
  surface: WiredSurface
  /** Name of the load that it stands with. */
  loadName: string
  /** It asks over a link. */
  afar: boolean
  /** JSON Pointer in the part, or marked as one in the whole design. */
  path: string
}

/** Of the board of a part, in the order of the surfaces. */
export function wiredControls(part: Design): WiredControl[] {
  const whole = wholeOf(part)
  const nameOf = (id: string) => whole.loads.find(l => l.id === id)?.name ?? id
  const on = (design: Design, surface: WiredSurface, afar: boolean): WiredControl[] =>
    surface.controls.map((control, j) => {
      const path = `/surfaces/${design.surfaces.indexOf(surface)}/controls/${j}`
      const loadName = nameOf(control.loadId)
      return { control, surface, loadName, afar, path: afar ? inWhole(path) : path }
    })
  return [
    ...handSurfaces(part).flatMap(s => on(part, s, false)),
    ...boxesOf(whole, part.controllers[0]?.id ?? '').flatMap(s => on(whole, s, true)),
  ]
}

/** Loads that a board can act on: its own, and those that it asks for over links of others. */
export function loadsInReach(part: Design): Load[] {
  const whole = wholeOf(part)
  const boardId = part.controllers[0]?.id ?? ''
  return whole.loads.filter(
    l => l.controllerId === boardId || carrierOf(whole, boardId, l.id) !== undefined,
  )
}

/** Scenes that set at least one load in its reach. */
export function scenesInReach(part: Design): Scene[] {
  const ids = new Set(loadsInReach(part).map(l => l.id))
  return wholeOf(part).scenes.filter(s => s.sets.some(x => ids.has(x.loadId)))
}

/** Sensors of the boxes that speak to the board of a part, each with its box. */
export function sensorsOfBoxes(part: Design): { sensor: Sensor; box: PeerSurface }[] {
  const { sensors } = wholeOf(part)
  const seen = new Set<string>()
  return part.surfaces.flatMap(box => {
    if (box.kind !== 'peer' || box.boardId === null || seen.has(box.boardId)) return []
    seen.add(box.boardId)
    return sensors.flatMap(sensor => (sensor.controllerId === box.boardId ? [{ sensor, box }] : []))
  })
}

/** Lamps of the board of a box, which show what the box knows; a panel has none. */
export function lampsOfBox(part: Design, surface: Surface): readonly Lamp[] {
  const boardId = surface.kind === 'peer' ? surface.boardId : null
  const { controllers } = wholeOf(part)
  return controllers.find(c => c.id === boardId && c.id !== part.controllers[0]?.id)?.lamps ?? []
}

/** Those of all its boxes. */
export function lampsOfBoxes(part: Design): Lamp[] {
  return [...new Set(part.surfaces.flatMap(s => lampsOfBox(part, s)))]
}
