/**
 * A design of several controllers, seen from one: what it switches, what is wired to it, its links
 * and who speaks over them. Controllers share nothing at run time but the links between them, so
 * each part is a whole design of one controller.
 */
import type { Controller, Design, Surface } from './schema'

/** The design itself where it has one controller only. */
export function partOf(design: Design, controllerId: string): Design {
  const controller = design.controllers.find(c => c.id === controllerId)
  if (!controller) throw new RangeError(`no controller "${controllerId}" in this design`)
  if (design.controllers.length === 1) return design
  return derivedFrom(design, cut(design, controller))
}

/** Remembers what a design was made from; returns it. */
export function derivedFrom(design: Design, derived: Design): Design {
  wholes.set(derived, wholeOf(design))
  return derived
}

/**
 * The design that a part was cut from; itself where it is none. What all sides agree on is agreed
 * on as a whole.
 */
export function wholeOf(design: Design): Design {
  return wholes.get(design) ?? design
}
const wholes = new WeakMap<Design, Design>()

function cut(design: Design, controller: Controller): Design {
  const { id: controllerId } = controller
  const loads = design.loads.filter(l => l.controllerId === controllerId)
  const own = new Set(loads.map(l => l.id))
  const links = design.links.filter(l => l.controllerId === controllerId)
  const linkIds = new Set(links.map(l => l.id))
  const sensors = design.sensors.filter(s => s.controllerId === controllerId)
  const sensorIds = new Set(sensors.map(s => s.id))
  const scenes = design.scenes
    .map(s => ({ ...s, sets: s.sets.filter(x => own.has(x.loadId)) }))
    .filter(s => s.sets.length)
  return {
    ...design,
    controllers: [controller],
    loads,
    links,
    scenes,
    // What a sensor of another board asks comes over a link, as a command.
    rules: design.rules
      .filter(r => sensorIds.has(r.sensorId))
      .map(r => ({ ...r, sets: r.sets.filter(x => own.has(x.loadId)) }))
      .filter(r => r.sets.length || r.sceneId !== null),
    front: design.front?.controllerId === controllerId ? design.front : null,
    sensors,
    surfaces: design.surfaces.flatMap((s): Surface[] => {
      if (s.kind !== 'hand') return linkIds.has(s.linkId) ? [s] : []
      const controls = s.controls.filter(c => own.has(c.loadId))
      return controls.length || !s.controls.length ? [{ ...s, controls }] : []
    }),
  }
}

/** Every controller with its part, in the order of the document. */
export function parts(design: Design): { controller: Controller; part: Design }[] {
  return design.controllers.map(controller => ({ controller, part: partOf(design, controller.id) }))
}

/** The part that a load belongs to. */
export function partOfLoad(design: Design, loadId: string): Design {
  return partOf(design, design.loads.find(l => l.id === loadId)?.controllerId ?? '')
}

/** Marks a JSON Pointer that leads into the whole design already. */
export function inWhole(path: string): string {
  return WHOLE + path
}
const WHOLE = '/whole'

/** A JSON Pointer into the part, as one into the whole design. */
export function pathInWhole(design: Design, part: Design, path: string): string {
  if (path.startsWith(WHOLE)) return path.slice(WHOLE.length)
  if (part === design) return path
  const [, list = '', index = '', rest = ''] =
    /^\/(controllers|loads|links|sensors|surfaces|scenes|rules)\/(\d+)(.*)$/.exec(path) ?? []
  const item = (part as unknown as Record<string, { id: string }[]>)[list]?.[Number(index)]
  const at = item
    ? ((design as unknown as Record<string, { id: string }[]>)[list]?.findIndex(
        x => x.id === item.id,
      ) ?? -1)
    : -1
  if (!item || at < 0) return path
  return `/${list}/${at}${list === 'surfaces' ? controlInWhole(design, part, Number(index), at, rest) : rest}`
}

/** Hand controls of a surface may be wired to several controllers: its part has fewer of them. */
function controlInWhole(
  design: Design,
  part: Design,
  partIndex: number,
  index: number,
  rest: string,
): string {
  const [, nth = '', tail = ''] = /^\/controls\/(\d+)(.*)$/.exec(rest) ?? []
  const [inPart, inWhole] = [part.surfaces[partIndex], design.surfaces[index]]
  if (nth === '' || inPart?.kind !== 'hand' || inWhole?.kind !== 'hand') return rest
  return `/controls/${inWhole.controls.findIndex(c => c.id === inPart.controls[Number(nth)]?.id)}${tail}`
}
