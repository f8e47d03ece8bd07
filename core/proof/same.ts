/**
 * Symmetry: two searches are the same when they differ in names, places and codes only. Loads that
 * are built alike on surfaces that are alike are searched once; the paths found are told anew for
 * each, in its own words, and replayed on the bench as its own.
 */
import { answersAskers, isBluetooth, speaksRoutes } from '../design/links/traits'
import type { Design, Link, Message, Sensor } from '../design/schema'
import { clashes } from '../messages/clashes'
import type { Bounds } from './bounds'
import type { Find } from './explore'
import type { SystemOptions } from './system'
import { isKnob, isReceiver, asksByWay } from '../design/sensors/traits'
import { scenesOn } from '../design/find'

/**
 * What a search came to. `underWay`, `suffices`: as in a verdict. Paths are numbers of events: they
 * mean the same in every system of the same shape.
 */
export interface Outcome {
  finds: { what: Find['what']; path: number[]; event: number }[]
  situations: number
  transitions: number
  exhausted: boolean
  underWay: number
  suffices: boolean
}

export class Searched {
  private readonly outcomes = new Map<string, Outcome>()

  get(key: string): Outcome | undefined {
    return this.outcomes.get(key)
  }

  set(key: string, outcome: Outcome): void {
    if (this.outcomes.size >= MOST_KEPT) this.outcomes.clear()
    this.outcomes.set(key, outcome)
  }
}
const MOST_KEPT = 2000

/** What is asked of a system, besides its shape. `times`: what else counts. */
export function searchKey(
  shape: string,
  bounds: Bounds,
  { question, inTime }: SystemOptions,
  times: unknown,
): string {
  return `${shape} ${JSON.stringify([bounds, question, inTime, times])}`
}

/**
 * `design`: projected, the load examined first. Two systems with the same shape have the same
 * situations.
 */
export function shapeOf(design: Design, surfaceId: string | null): string {
  const names = new Map<string, string>()
  const name = (id: string, prefix: string) => {
    if (!names.has(id)) names.set(id, `${prefix}${names.size}`)
    return names.get(id) as string
  }
  // The surface that is looked at stands first, with its link: of two that are alike each sees the
  // other the same way.
  const looked = design.surfaces.find(s => s.id === surfaceId)
  const firstLink = looked && looked.kind !== 'hand' ? looked.linkId : ''
  const links = design.links.toSorted(
    (a, b) => Number(b.id === firstLink) - Number(a.id === firstLink),
  )
  const inOrder = design.surfaces.toSorted(
    (a, b) => Number(b.id === surfaceId) - Number(a.id === surfaceId),
  )
  const loads = design.loads.map(l => ({
    id: name(l.id, 'l'),
    output: { ...l.output, pin: 0, reversePin: 0, enablePin: null },
  }))
  const surfaces = inOrder.map((s): unknown => {
    if (s.kind === 'hand')
      return {
        kind: s.kind,
        controls: s.controls.map(c => ({
          ...c,
          id: name(c.id, 'c'),
          loadId: name(c.loadId, 'l'),
          sceneId: c.sceneId && name(c.sceneId, 's'),
          pin: 0,
          leadMeters: 0,
          pullOhms: null,
        })),
      }
    return {
      kind: s.kind === 'panel' || s.shows,
      looked: s.id === surfaceId,
      link: links.findIndex(l => l.id === s.linkId),
      pollMs: Math.sign(s.pollMs),
      belief: s.belief,
      keys: s.keys.map(k => [name(k.loadId, 'l'), k.form, 'asks' in k ? k.asks : null]),
      scenes: scenesOn(s).map(id => name(id, 's')),
    }
  })
  const sensors = design.sensors.map(s => sensorShape(s, name))
  return JSON.stringify([
    loads,
    surfaces,
    sensors,
    links.map(l => linkShape(design, l, name)),
    design.scenes.map(s => [name(s.id, 's'), s.sets.map(x => [name(x.loadId, 'l'), x.value])]),
    design.rules.map(r => [name(r.sensorId, 'x'), r.sets.map(x => [name(x.loadId, 'l'), x.value])]),
  ])
}

function sensorShape(s: Sensor, name: (id: string, prefix: string) => string): unknown {
  const { kind } = s
  if (isReceiver(s))
    return {
      kind,
      id: name(s.id, 'x'),
      keys: s.keys.map(k =>
        'sceneId' in k ? [name(k.sceneId, 's')] : [name(k.loadId, 'l'), k.asks],
      ),
    }
  if (asksByWay(s))
    return {
      kind,
      id: name(s.id, 'x'),
      ways: s.ways.map(w =>
        'sceneId' in w ? [w.on, name(w.sceneId, 's')] : [w.on, name(w.loadId, 'l'), w.asks],
      ),
    }
  if (isKnob(s))
    return { kind, loadId: name(s.loadId, 'l'), counts: s.countsPerDetent, fast: s.accelerated }
  return { kind, id: name(s.id, 'x') }
}

/**
 * Codes that cannot be mistaken for one another count as marks without letters; where they can, the
 * letters count.
 */
function linkShape(
  design: Design,
  link: Link,
  name: (id: string, prefix: string) => string,
): unknown {
  const apart = clashes(design, link).length === 0
  const messages = (link.messages as Message[]).map(m => ({
    load: name(m.loadId, 'l'),
    ack: m.ack,
    change: m.change,
    codes: Object.entries(m.codes).map(([value, code]) => [value, apart ? code !== '' : code]),
  }))
  const base = {
    kind: link.kind,
    messages,
    scenes: Object.entries(link.scenes).map(([id, code]) => [
      name(id, 's'),
      apart ? code !== '' : code,
    ]),
    onConnect: link.onConnect,
    timing: link.timing,
    numbered: link.numbered !== null,
    every: link.everyMs,
    least: link.leastMs,
    queue: link.queue,
    askers: answersAskers(link),
  }
  if (speaksRoutes(link)) return { ...base, answers: link.answers, matching: link.matching }
  return {
    // What comes back is read by its letters.
    ...base,
    words: link.echoes ? link.messages : null,
    dialect: link.dialect,
    mark: link.reportMark,
    ask: link.askCode,
    restart: link.restartMark,
    error: link.errorText,
    echoes: link.echoes,
    ...(isBluetooth(link) ? { radio: link.radio, status: link.statusPin !== null } : {}),
    // One letter more or less makes another half-read message.
    lengths: apart
      ? (link.messages as Message[]).map(m => Object.values(m.codes).map(c => c.length))
      : null,
  }
}
