/**
 * The part of a design that can affect one load: the load, neighbours whose codes are mistaken for
 * its own, the surfaces, links, remotes, knobs and rules that speak of it. Durations are taken out:
 * for the search, time is order only.
 */
import { linkOf, loadOf } from '../design/find'
import { isAnswered, isDatagram, speaksBytes, worstWayMs } from '../design/links/traits'
import type {
  Control,
  Design,
  Gesture,
  Link,
  Message,
  Output,
  FarSurface,
  Rule,
  Sensor,
  Surface,
} from '../design/schema'
import { NUMBER, relativeOf, valuesOf } from '../design/values'
import { TIMED } from '../design/outputs/timed'
import { clashes, clashLoads } from '../messages/clashes'
import { codeOf } from '../messages/setpoints'
import { isLevel, endsOf } from '../design/outputs/traits'
import { timelessOutput } from './timeless'
import { isContact, isKnob, isReceiver, asksByWay, targetsOn } from '../design/sensors/traits'
import { actsOn, askedBy, ruleSets } from '../design/targets'

/**
 * `keepsProofs`: commands are signed as designed; else anybody may command, which is what all
 * promises but that of a stranger look at.
 */
export interface ProjectOptions {
  neighbours?: Map<string, string[]>
  keepsProofs?: boolean
}

/** The part of a design that matters to one load: it, its neighbours, whoever speaks of them. */
export function project(
  design: Design,
  loadId: string,
  { neighbours = neighboursOf(design), keepsProofs = false }: ProjectOptions = {},
): Design {
  loadOf(design, loadId)
  const ids = new Set([loadId, ...(neighbours.get(loadId) ?? [])])
  const loads = [...design.loads]
    .filter(l => ids.has(l.id))
    .sort((a, b) => Number(b.id === loadId) - Number(a.id === loadId))
    .map(l => ({
      ...l,
      output: fewerLevels(timelessOutput(l.output), valuesAskedOf(design, l.id)),
    }))
  const outputs = new Map(loads.map(l => [l.id, l.output]))
  const links = design.links
    .map(l => keepMessages(l, outputs, keepsProofs, remembersLongEnough(design, l)))
    .filter(l => l.messages.length > 0)
  const linkIds = new Set(links.map(l => l.id))
  const scenes = design.scenes
    .map(s => ({ ...s, sets: s.sets.filter(x => ids.has(x.loadId)) }))
    .filter(s => s.sets.length)
  const sceneIds = new Set(scenes.map(s => s.id))
  const surfaces = design.surfaces.flatMap((s): Surface[] => {
    if (s.kind !== 'hand') {
      if (!linkIds.has(s.linkId)) return []
      return [
        {
          ...s,
          keys: s.keys.filter(k => ids.has(k.loadId)),
          ...(s.kind === 'panel'
            ? { parts: s.parts.filter(p => 'sceneId' in p && sceneIds.has(p.sceneId)) }
            : { scenes: s.scenes.filter(id => sceneIds.has(id)) }),
        } as Surface,
      ]
    }
    const controls = s.controls
      .flatMap(c => gesturesApart(c))
      .flatMap(c => standsWith(scenes, c, loads))
      .map(c =>
        c.kind === 'push' ? { ...c, debounceMs: 0, lockoutMs: 0 } : { ...c, debounceMs: 0 },
      )
    return controls.length ? [{ ...s, controls }] : []
  })
  const rules = design.rules
    .map(r => ({ ...r, sets: ruleSets(design, r).filter(x => ids.has(x.loadId)) }))
    .filter(r => r.sets.length)
  const ends = new Set(loads.flatMap(({ output }) => endsOf(output)))
  const sensors = design.sensors.flatMap((s): Sensor[] => {
    if (isReceiver(s))
      return s.keys.some(k => askedBy(design, k).some(a => ids.has(a.loadId))) ? [s] : []
    if (asksByWay(s))
      return s.ways.some(w => askedBy(design, w).some(a => ids.has(a.loadId)))
        ? [{ ...s, repeatMs: 0 }]
        : []
    if (isKnob(s)) return ids.has(s.loadId) ? [s] : []
    return isContact(s) && ends.has(s.id) ? [{ ...s, debounceMs: 0 }] : []
  })
  return {
    ...design,
    // Lamps tell nobody anything that a key could know.
    controllers: design.controllers.map(c => ({ ...c, lamps: [] })),
    loads,
    surfaces,
    links,
    scenes,
    // Whatever a reading has to do to cross its limit, for the search a rule is a contact that
    // closes and opens.
    sensors: [...sensors, ...rules.map(r => crossing(design, r))],
    rules: rules.map(({ id, name, sets }): Rule => ({
      when: 'is',
      id,
      name,
      sensorId: crossingId(id),
      sets,
      sceneId: null,
      atStart: false,
      text: 'closed',
    })),
  }
}

/** The contact that stands for the crossing of a rule's limit. */
export function crossingId(ruleId: string): string {
  return `crossing-of-${ruleId}`
}

function crossing(design: Design, { id, name }: Rule): Sensor {
  return {
    kind: 'contact',
    id: crossingId(id),
    name,
    controllerId: design.controllers[0]?.id ?? '',
    pin: 0,
    debounceMs: 0,
    pullOhms: null,
    leadMeters: 0,
  }
}

/**
 * A button of several gestures as one of a single gesture for each: which of them a person makes is
 * free, and waiting for another press is no more than pressing later. The ids of the further ones
 * are "fan-button:double".
 */
function gesturesApart(control: Control): Control[] {
  if (control.kind === 'latching' || !control.gestures.length) return [control]
  return [
    { ...control, gestures: [] },
    ...control.gestures.map(g => ({
      ...control,
      id: `${control.id}:${g.on}`,
      ...('sceneId' in g
        ? { sceneId: g.sceneId }
        : { sceneId: null, loadId: g.loadId, asks: g.asks }),
      gestures: [],
    })),
  ]
}

/** The control, standing with a load that is looked at; none where it asks nothing of any. */
function standsWith(
  scenes: Design['scenes'],
  control: Control,
  loads: readonly { id: string }[],
): Control[] {
  const asks = (id: string) => actsOn({ scenes }, control, id).length > 0
  const load = loads.find(l => asks(l.id))
  return load ? [{ ...control, loadId: load.id }] : []
}

/** The control and gesture that an id of a projected one stands for. */
export function gestureOf(id: string): { controlId: string; gesture: Gesture } {
  const [controlId = '', gesture = 'single'] = id.split(':')
  return { controlId, gesture: gesture as Gesture }
}

/** Values that somebody asks for by name. */
function valuesAskedOf(design: Design, loadId: string): string[] {
  return [
    ...[...design.scenes, ...design.rules].flatMap(s =>
      s.sets.filter(x => x.loadId === loadId).map(x => x.value),
    ),
    ...design.surfaces.flatMap(s =>
      s.kind === 'hand' ? s.controls.flatMap(c => actsOn(design, c, loadId).map(a => a.asks)) : [],
    ),
    ...design.sensors.flatMap(s =>
      targetsOn(s).flatMap(k =>
        askedBy(design, k).flatMap(a => (a.loadId === loadId ? [a.asks] : [])),
      ),
    ),
  ]
}

/**
 * Of many levels the first ones, the last, and those that somebody asks for stand for all: the
 * others differ from them in nothing but their number.
 */
function fewerLevels(output: Output, asked: readonly string[]): Output {
  if (!isLevel(output)) return output
  return {
    ...output,
    stops: output.stops.filter(
      (stop, i) => i < 3 || i === output.stops.length - 1 || asked.includes(String(stop)),
    ),
  }
}

/** By load: the loads whose codes clash with its own. Made once where many loads are projected. */
export function neighboursOf(design: Design): Map<string, string[]> {
  const neighbours = new Map<string, string[]>()
  for (const link of design.links) {
    for (const ids of clashes(design, link).map(clashLoads)) {
      for (const id of ids) neighbours.set(id, [...(neighbours.get(id) ?? []), ...ids])
    }
  }
  return neighbours
}

function keepMessages(
  link: Link,
  outputs: ReadonlyMap<string, Output>,
  keepsProofs: boolean,
  keepsNumbers: boolean,
): Link {
  return {
    ...link,
    ...(keepsProofs ? {} : { auth: { kind: 'none' } }),
    readings: [],
    ...(keepsNumbers ? {} : { numbered: null }),
    leastMs: Math.sign(link.leastMs),
    everyMs: Math.sign(link.everyMs),
    messages: (link.messages as Message[]).flatMap(m => {
      const output = outputs.get(m.loadId)
      return output ? [{ ...m, codes: codesLeft(link, output, m) }] : []
    }),
  } as Link
}

/** Codes of the values that are left; where a number says them, the code with it. */
function codesLeft(link: Link, output: Output, message: Message): Message['codes'] {
  const left = new Set<string>([...valuesOf(output), ...relativeOf(output), ...TIMED])
  left.delete(NUMBER)
  return Object.fromEntries(
    Object.keys(message.codes).flatMap(value =>
      left.has(value) ? [[value, codeOf(link, output, message, value)]] : [],
    ),
  )
}

/**
 * What is sent comes back to its sender, and a search follows it: not where a number or a proof
 * stands behind commands, which a search knows by other words than those that come back.
 */
export function searchesEchoes(design: Design, linkId: string): boolean {
  const link = linkOf(design, linkId)
  return speaksBytes(link) && link.echoes && !link.numbered && link.auth.kind === 'none'
}

/**
 * Longest time until a command arrives, ms: where the board hands out a number to sign it is said,
 * refused and said again.
 */
export function commandMs(link: Link): number {
  return (isAnswered(link.auth) ? 3 : 1) * worstWayMs(link)
}

/** Longest time until it is answered too, ms. */
export function roundTripMs(link: Link): number {
  return commandMs(link) + worstWayMs(link)
}

/**
 * A number is forgotten after its window. Where every repeat of a command arrives within it,
 * numbers count for the search as remembered for ever; where one may come later they count as not
 * there.
 */
function remembersLongEnough(design: Design, link: Link): boolean {
  const surface = design.surfaces.find(
    (s): s is FarSurface => s.kind !== 'hand' && s.linkId === link.id,
  )
  if (!link.numbered || !surface) return false
  const { policy, timeoutMs, retries } = surface.belief
  return (
    link.numbered.windowMs
    >= (policy === 'confirm' ? timeoutMs * retries : 0)
      + (isDatagram(link) ? 2 : 1) * commandMs(linkOf(design, link.id))
  )
}
