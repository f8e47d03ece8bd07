/**
 * What edits are made of: finding what they change, pins and ids for what is new, and bringing
 * along what hangs on it.
 */
import { partOf, parts, pathInWhole } from '../part'
import {
  farSurfaceOf,
  farSurfaces,
  linkOf,
  loadOf,
  panelOf,
  panels,
  surfaceOf,
  wiredSurfaces,
} from '../find'
import { maybeShipped } from '../../boards/boards'
import type { PinUse } from '../../boards/hazards'
import { boardOf, controlUse, freePin, needs, type Need } from '../pins'
import { driversOf, NEW_DRIVERS } from '../drivers'
import {
  asksOf,
  formsOf,
  linesOf,
  relativeOf,
  spokenValues,
  valuesOf,
  wantsOn,
  NUMBER,
} from '../values'
import { KIND_WORDS, outputOfKind } from '../outputs/kinds'
import { NO_GESTURES } from '../schema'
import { freshId } from '../ids'
import type {
  BeliefPolicy,
  Control,
  Controller,
  Design,
  HandSurface,
  Link,
  Load,
  Codes,
  Expander,
  Lamp,
  Regulator,
  LinkReading,
  Message,
  Output,
  PanelItem,
  PanelKey,
  PanelSurface,
  FarSurface,
  PeerSurface,
  Rule,
  Scene,
  Sensor,
  Surface,
  OutputOf,
  WiredSurface,
} from '../schema'
import { hasCoils, isDriven, isFollower, isHeld, isOpposed } from '../outputs/traits'
import { isReceiver, isStick } from '../sensors/traits'
import type { Target } from '../targets'
import { atHost, freeAddress, hostOf } from '../links/host'
import { linkRow } from '../links/rows'
import { onNetwork, throughRouter } from '../links/traits'
import { LIMITS } from '../shapes'
import { first, last } from '../../units/lists'

/**
 * Raised by an edit whose target is not there or whose arguments make no sense; caught in
 * `applyEdit` only.
 */
export class EditRefused extends Error {}

/** What an edit is about; refused where it is not there. */
function found<T>(item: T | undefined, words: () => string): T {
  if (item === undefined) throw new EditRefused(words())
  return item
}

/**
 * Another kind of output has other values, so codes, keys and hand controls follow. New codes are
 * empty: messages/kinds.ts.
 */
export function changeKind(design: Design, load: Load, kind: Output['kind']): void {
  if (load.output.kind === kind) return
  const unpinned = !isDriven(load.output)
  const output = outputOfKind(kind, load.output, [])
  load.output = output
  // Further lines get pins of their own, as if each were added by hand.
  for (const line of linesOf(output))
    if (line.key !== 'pin' || unpinned)
      (load.output as Record<string, unknown>)[line.key] = nextPin(
        design,
        load.controllerId,
        line.use,
      )
  matchDriver(load)
  matchLoad(design, load)
}

/** A driver that cannot do what the output wants gives way to the first that can. */
export function matchDriver(load: Load): void {
  const fits = driversOf(load.output)
  if (!fits.includes(load.wiring.driver.kind)) load.wiring.driver = NEW_DRIVERS[first(fits)]
}

/** Changes figures of an output. Throws `EditRefused` for one that it does not have. */
export function changeOutput(
  design: Design,
  load: Load,
  patch: Partial<Record<string, unknown>>,
): void {
  const strange = Object.keys(patch).find(key => !(key in load.output))
  if (strange) throw new EditRefused(`${KIND_WORDS[load.output.kind]} has no ${strange}`)
  const before = wishesOf(load.output)
  Object.assign(load.output, patch)
  if (isFollower(load.output)) nameEnds(load.output)
  if (isOpposed(load.output) && hasCoils(load.output))
    for (const key of ['thirdPin', 'fourthPin'] as const)
      load.output[key] ??= nextPin(design, load.controllerId, {
        as: 'output',
        activeLevel: load.output.activeLevel,
      })
  matchDriver(load)
  if (wishesOf(load.output) !== before) matchLoad(design, load)
}

/** Named positions that fit: of a knob with more than can be named the ends and the quarters. */
function nameEnds(output: OutputOf<'follower'>): void {
  const last = output.positions - 1
  if (output.stops === null && output.positions > LIMITS.values)
    output.stops = [0, 0.25, 0.5, 0.75, 1].map(share => Math.round(share * last))
  else if (output.stops !== null) output.stops = [...output.stops.filter(stop => stop < last), last]
}

/** All that can be asked of an output, as one text. */
export function wishesOf(output: Output): string {
  return [...valuesOf(output), ...relativeOf(output)].join()
}

/**
 * Codes, key forms and hand controls brought to the values that the load has now; codes of values
 * that stay are kept.
 */
export function matchLoad(design: Design, load: Load): void {
  const { output } = load
  for (const link of design.links) {
    const message = (link.messages as Message[]).find(m => m.loadId === load.id)
    if (!message) continue
    const { codes } = message
    message.codes = Object.fromEntries([
      ...spokenValues(output).map(v => [v, codes[v] ?? '']),
      ...relativeOf(output)
        .filter(r => r in codes)
        .map(r => [r, codes[r]]),
    ])
  }
  for (const surface of design.surfaces) {
    if (surface.kind !== 'hand')
      for (const key of surface.keys)
        if (key.loadId === load.id && !formsOf(output).includes(key.form))
          key.form = first(formsOf(output))
    if (surface.kind === 'panel') continue
    for (const c of surface.controls) {
      if (c.loadId === load.id && !asksOf(output, c.kind).includes(c.asks))
        c.asks = first(asksOf(output, c.kind))
      // What is on while held takes the button for itself.
      if (isHeld(output)) dropGestures(c, c.loadId === load.id ? null : load.id)
      else if (c.kind === 'push')
        for (const g of c.gestures)
          if ('loadId' in g && g.loadId === load.id && !asksOf(output, 'push').includes(g.asks))
            g.asks = first(asksOf(output, 'push'))
    }
  }
}

/** Gestures of a button that act on a load; all of them for null. */
export function dropGestures(control: Control, loadId: string | null): void {
  if (control.kind === 'push')
    control.gestures = control.gestures.filter(
      g => loadId !== null && (!('loadId' in g) || g.loadId !== loadId),
    )
}

/** Codes in the order of the values: "E / e". */
export function listedCodes(design: Design, loadId: string, codes: Codes): string {
  const number = codes[NUMBER] ?? ''
  const named = spokenValues(loadOf(design, loadId).output).map(v => codes[v] ?? '')
  return [
    ...named.filter(code => code !== '' || number === '').map(code => code || 'no code'),
    ...(number === '' ? [] : [number]),
  ].join(' / ')
}

/** A new link with the pins that it needs. */
export function wireUp(design: Design, link: Link): void {
  design.links.push(link)
  const added = last(design.links)
  linkRow(added).wireUp(added, use => nextPin(design, added.controllerId, use))
  findPlace(design, added)
}

/** A board is at one address in a network, and no other board is. */
function findPlace(design: Design, added: Link): void {
  if (!onNetwork(added)) return
  const others = design.links.filter(l => l !== added).filter(onNetwork)
  const own = others.find(l => l.controllerId === added.controllerId)
  const host = own ? hostOf(own.address) : hostOf(added.address)
  const isTaken = !own && others.some(l => throughRouter(l) && hostOf(l.address) === host)
  const place = isTaken ? freeAddress(design.links) : host
  added.address = atHost(added.address, place)
}

export const NEW_BELIEF: BeliefPolicy = {
  policy: 'confirm',
  timeoutMs: 1000,
  retries: 1,
  onLoss: 'stale',
}

/** The next pin free for a use. Throws `EditRefused` where none is left. */
export function nextPin(design: Design, controllerId: string, use: PinUse): number {
  const part = partOf(design, controllerId)
  const pin = freePin(part, use)
  if (pin === undefined)
    throw new EditRefused(
      `${boardOf(part).name} has no pin left for this; free one first, or take a larger board`,
    )
  return pin
}

/** Moves an item of a list to a place. Throws `EditRefused` where it is not there. */
export function move(list: { id: string }[], id: string, to: number): void {
  const from = list.findIndex(item => item.id === id)
  if (from < 0) throw new EditRefused(`no "${id}" to move`)
  const [item] = list.splice(from, 1)
  if (item) list.splice(Math.max(0, Math.min(to, list.length)), 0, item)
}

/** Takes the messages of a load off a link. */
export function dropMessage(link: Link, loadId: string): void {
  ;(link as { messages: Message[] }).messages = (link.messages as Message[]).filter(
    m => m.loadId !== loadId,
  )
}

/** The messages of a load on a link. Throws `EditRefused` where there are none. */
export function messageOf(design: Design, linkId: string, loadId: string): Message {
  return found(
    (linkOf(design, linkId).messages as Message[]).find(m => m.loadId === loadId),
    () => `${loadOf(design, loadId).name} has no message on ${linkOf(design, linkId).name}`,
  )
}

/** The hand surface of that id. Throws `EditRefused` where it is none. */
export function handOf(design: Design, surfaceId: string): HandSurface {
  const surface: Surface = surfaceOf(design, surfaceId)
  if (surface.kind !== 'hand') throw new EditRefused(`${surface.name} has no hand controls`)
  return surface
}

/** The hand control of that id. Throws `EditRefused` where there is none. */
export function controlOf(design: Design, controlId: string): Control {
  return found(
    wiredSurfaces(design)
      .flatMap(s => s.controls)
      .find(c => c.id === controlId),
    () => `no hand control "${controlId}"`,
  )
}

/** The rule of that id. Throws `EditRefused` where there is none. */
export function ruleOf(design: Design, ruleId: string): Rule {
  return found(
    design.rules.find(r => r.id === ruleId),
    () => `no rule "${ruleId}"`,
  )
}

/** The sensor of that id. Throws `EditRefused` where there is none. */
export function sensorOf(design: Design, sensorId: string): Sensor {
  return found(
    design.sensors.find(s => s.id === sensorId),
    () => `no sensor "${sensorId}"`,
  )
}

/** The lamp of that id. Throws `EditRefused` where there is none. */
export function lampOf(design: Design, lampId: string): Lamp {
  return found(
    design.controllers.flatMap(c => c.lamps).find(l => l.id === lampId),
    () => `no lamp "${lampId}"`,
  )
}

/** The expander of that id. Throws `EditRefused` where there is none. */
export function expanderOf(design: Design, expanderId: string): Expander {
  return found(
    design.controllers.flatMap(c => c.expanders).find(e => e.id === expanderId),
    () => `no expander "${expanderId}"`,
  )
}

/** The regulator of that id. Throws `EditRefused` where there is none. */
export function regulatorOf(design: Design, regulatorId: string): Regulator {
  return found(
    design.regulators.find(r => r.id === regulatorId),
    () => `no regulator "${regulatorId}"`,
  )
}

/** Changes what is there. Throws `EditRefused` for what it does not have, or is `fixed`. */
export function patch(of: { name: string }, changes: object, fixed: readonly string[] = []): void {
  const strange = Object.keys(changes).find(key => !(key in of) || fixed.includes(key))
  if (strange) throw new EditRefused(`${of.name} has no ${strange}`)
  Object.assign(of, changes)
}

/** Sets what a JSON Pointer leads to. The pointers of needs hold no escapes. */
export function setAt(design: Design, path: string, value: unknown): void {
  const parts = path.split('/').slice(1)
  const last = parts.pop() as string
  const holder = parts.reduce<unknown>((at, part) => (at as Record<string, unknown>)[part], design)
  ;(holder as Record<string, unknown>)[last] = value
}

/** Off whatever a surface has of a load. */
export function dropKey(surface: FarSurface, loadId: string): void {
  if (surface.kind === 'panel') surface.keys = surface.keys.filter(k => k.loadId !== loadId)
  else {
    surface.keys = surface.keys.filter(k => k.loadId !== loadId)
    dropControls(surface, loadId)
  }
}

/** Off whatever on a surface asks a load for something by hand. */
export function dropControls(surface: WiredSurface, loadId: string): void {
  surface.controls = surface.controls.filter(c => c.loadId !== loadId)
  for (const c of surface.controls) dropGestures(c, loadId)
}

/** The box of that id. Throws `EditRefused` where it is none. */
export function boxOf(design: Design, surfaceId: string): PeerSurface {
  const surface: Surface = surfaceOf(design, surfaceId)
  if (surface.kind !== 'peer') throw new EditRefused(`${surface.name} is no box`)
  return surface
}

/** Keys that are chosen, not those that follow from what is wired to a board. */
export function ownKeysOf(surface: FarSurface): FarSurface {
  if (surface.kind === 'peer' && surface.boardId !== null)
    throw new EditRefused(`keys of ${surface.name} follow from what is wired to its board`)
  return surface
}

/** What every hand control has; its pin is for the caller to choose. */
export function newContact(id: string, loadId: string, asks: string) {
  const base = { id, loadId, sceneId: null as string | null, asks, pin: NO_PIN }
  return { ...base, debounceMs: 30, leadMeters: 1, pullOhms: null }
}

/** A push button; its pin is for the caller to choose. */
export function newButton(id: string, loadId: string, asks: string): Control {
  return { kind: 'push', ...newContact(id, loadId, asks), lockoutMs: 300, ...NO_GESTURES }
}
/** A pin that no board has stands for none while lines get theirs, one after another. */
export const NO_PIN = 99

/** A button for each thing that a box asks for, on pins of its board. */
export function buttonsFor(design: Design, box: PeerSurface): void {
  const add = (loadId: string, asks: string, sceneId: string | null = null) => {
    const known = wiredSurfaces(design).flatMap(s => s.controls)
    const id = freshId(`${box.id}-${sceneId ?? loadId}`, 'button', known)
    box.controls.push({ ...newButton(id, loadId, asks), sceneId, leadMeters: 0.1 })
    const button = last(box.controls)
    button.pin = nextPin(design, box.boardId ?? '', controlUse(button))
  }
  for (const load of design.loads) {
    if (!box.keys.some(k => k.loadId === load.id)) continue
    const able = asksOf(load.output, 'push')
    const wants = isHeld(load.output) ? ['on'] : wantsOn(box.keys, load)
    for (const want of wants.map(w => (w === 'flip' ? 'toggle' : w)))
      if (able.includes(want)) add(load.id, want)
  }
  for (const scene of design.scenes)
    if (box.scenes.includes(scene.id) && scene.sets[0])
      add(
        scene.sets[0].loadId,
        asksOf(loadOf(design, scene.sets[0].loadId).output, 'push')[0] ?? '',
        scene.id,
      )
}

/** A surface with controls of its own. Throws `EditRefused` where it is none. */
export function wiredOf(design: Design, surfaceId: string): WiredSurface {
  const surface: Surface = surfaceOf(design, surfaceId)
  if (surface.kind === 'hand' || (surface.kind === 'peer' && surface.boardId !== null))
    return surface
  throw new EditRefused(`${surface.name} has no hand controls`)
}

/** The controller whose pins the controls of a surface for a load are wired to. */
export function wiredTo(design: Design, surface: WiredSurface, loadId: string): string {
  return (surface.kind === 'peer' && surface.boardId) || loadOf(design, loadId).controllerId
}

/** A key of a panel by its id, of a box by its load. */
export function anyKeyOf(
  design: Design,
  surfaceId: string,
  keyId: string,
): { loadId: string; form: PanelKey['form']; asks?: string[] | null } {
  const remote = farSurfaceOf(design, surfaceId)
  const key: ReturnType<typeof anyKeyOf> | undefined =
    remote.kind === 'panel'
      ? remote.keys.find(k => k.id === keyId)
      : remote.keys.find(k => k.loadId === keyId)
  return found(key, () => `"${keyId}" is not placed on ${remote.name}`)
}

/** Anything on a panel by its id. */
export function itemOf(design: Design, surfaceId: string, keyId: string): PanelItem {
  const panel = panelOf(design, surfaceId)
  return found(
    panel.keys.find(k => k.id === keyId) ?? panel.parts.find(p => p.id === keyId),
    () => `"${keyId}" is not placed on ${panel.name}`,
  )
}

/** A page of a panel, from 0. Throws `EditRefused` where there is none. */
export function pageOf(
  design: Design,
  surfaceId: string,
  page: number,
): PanelSurface['pages'][number] {
  const panel = panelOf(design, surfaceId)
  return found(panel.pages[page], () => `${panel.name} has no page ${page + 1}`)
}

/** A reading that is no longer told on a link, with what showed it there. */
export function dropReading(design: Design, link: Link, sensorId: string): void {
  ;(link as { readings: LinkReading[] }).readings = (link.readings as LinkReading[]).filter(
    r => r.sensorId !== sensorId,
  )
  for (const panel of panels(design))
    if (panel.linkId === link.id)
      panel.parts = panel.parts.filter(p => !('sensorId' in p) || p.sensorId !== sensorId)
}

/** Keys of scenes that cannot be asked for any more. */
export function dropSceneKeys(design: Design): void {
  for (const surface of farSurfaces(design)) {
    const has = (sceneId: string) => (linkOf(design, surface.linkId).scenes[sceneId] ?? '') !== ''
    if (surface.kind === 'peer') surface.scenes = surface.scenes.filter(has)
    else surface.parts = surface.parts.filter(p => !('sceneId' in p) || has(p.sceneId))
  }
}

/** Nobody asks for scenes that are gone, nor by a control of a load that the scene does not set. */
export function forgetScenes(design: Design): void {
  const gone = (sceneId: string) => !design.scenes.some(s => s.id === sceneId)
  for (const c of wiredSurfaces(design).flatMap(s => s.controls)) {
    const scene = design.scenes.find(s => s.id === c.sceneId)
    if (c.sceneId !== null && !scene?.sets.some(x => x.loadId === c.loadId)) c.sceneId = null
    if (c.kind === 'push')
      c.gestures = c.gestures.filter(g => !('sceneId' in g) || !gone(g.sceneId))
  }
  keepTargets(design, target => !('sceneId' in target) || !gone(target.sceneId))
  design.rules = design.rules.filter(r => r.sceneId === null || !gone(r.sceneId))
}

/** Takes from remotes and sticks what they can ask for no more. */
export function keepTargets(design: Design, stays: (target: Target) => boolean): void {
  for (const s of design.sensors) {
    if (isReceiver(s)) s.keys = s.keys.filter(stays)
    if (isStick(s)) s.ways = s.ways.filter(stays)
  }
}

/** The scene of that id. Throws `EditRefused` where there is none. */
export function sceneOf(design: Design, sceneId: string): Scene {
  return found(
    design.scenes.find(s => s.id === sceneId),
    () => `no scene "${sceneId}"`,
  )
}

/** The first one where none is named. */
export function controllerOf(design: Design, controllerId?: string): Controller {
  return found(
    design.controllers.find(c => controllerId === undefined || c.id === controllerId),
    () => `there is no controller "${controllerId ?? ''}"`,
  )
}

/** The name of a board, shipped or own; its id where it is not known. */
export function boardNameOf(design: Design, id: string): string {
  return design.boards.find(b => b.id === id)?.name ?? maybeShipped(id)?.name ?? id
}

/** A need with its path in the whole design. */
export function needOf(design: Design, needId: string): Need & { controllerId: string } {
  return found(
    parts(design).flatMap(({ controller, part }) =>
      needs(part)
        .filter(n => n.id === needId)
        .map(n => ({ ...n, path: pathInWhole(design, part, n.path), controllerId: controller.id })),
    )[0],
    () => `nothing called "${needId}" needs a pin`,
  )
}

/** What is changed, in words: "ratedAmps 10, inrushAmps 30". */
export function listed(patch: object): string {
  return Object.entries(patch)
    .map(
      ([key, value]) =>
        `${key} ${typeof value === 'object' && value ? listed(value) : String(value)}`,
    )
    .join(', ')
}
