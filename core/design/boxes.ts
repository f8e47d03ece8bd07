/**
 * Boxes that are boards of the design: what is wired to such a board, and what that asks for over
 * the link of its surface. A board with loads of its own asks other boards in the same way.
 */
import { linkOf, loadOf, maybeMessage } from './find'
import { isHeld, isOpposed } from './outputs/traits'
import type { Control, Design, Link, Output, PanelKey, PeerSurface } from './schema'
import { asksByWay, isKnob, isReceiver } from './sensors/traits'
import { setsOf, targetsOf, type Target } from './targets'
import { asked, formsOf, restOf, wantsOf } from './values'
import { first } from '../units/lists'

/** Surfaces by which a controller speaks to others. */
export function boxesOf(
  { surfaces }: Pick<Design, 'surfaces'>,
  controllerId: string,
): PeerSurface[] {
  return surfaces.filter((s): s is PeerSurface => s.kind === 'peer' && s.boardId === controllerId)
}

/** The surface by which a controller asks a load of another; undefined where there is none. */
export function carrierOf(
  design: Design,
  controllerId: string,
  loadId: string,
): PeerSurface | undefined {
  return boxesOf(design, controllerId).find(
    box => maybeMessage(linkOf(design, box.linkId), loadId) !== undefined,
  )
}

/** Links that a lamp on a board can show: its own, and those over which it asks others. */
export function linksShown(
  { links, surfaces }: Pick<Design, 'links' | 'surfaces'>,
  controllerId: string,
): Link[] {
  const asks = new Set(boxesOf({ surfaces }, controllerId).map(b => b.linkId))
  return links.filter(l => l.controllerId === controllerId || asks.has(l.id))
}

/** What a board asks for: a key for a load, or a scene. */
export type BoxAsk = { loadId: string; want: string } | { sceneId: string }

/** What a target comes to on a surface: a scene without a code there is asked for load by load. */
export function asksOfTarget(design: Design, box: PeerSurface, target: Target): BoxAsk[] {
  const link = linkOf(design, box.linkId)
  if (!('sceneId' in target)) return [{ loadId: target.loadId, want: wantFor(target.asks) }]
  if ((link.scenes[target.sceneId] ?? '') !== '') return [{ sceneId: target.sceneId }]
  return setsOf(design, target.sceneId).flatMap(({ loadId, value }) =>
    maybeMessage(link, loadId) ? [{ loadId, want: value }] : [],
  )
}

/** A key flips what a hand toggles. */
export function wantFor(asks: string): string {
  return asks === 'toggle' ? 'flip' : asks
}

/** All that a control on a box can ask its load for; none where it asks for a scene. */
export function wantsOfControl(control: Control, output: Output): string[] {
  const rest = restOf(output)
  if (control.sceneId !== null) return []
  if (control.kind === 'latching' && (control.acts === 'position' || isHeld(output)))
    return [asked(output, rest, control.asks), rest]
  return wantsOfPress(output, control.asks)
}

/** All that a press comes to: a direction that runs is stopped, what is held is let go. */
function wantsOfPress(output: Output, asks: string): string[] {
  if (isHeld(output)) return ['on', 'off']
  const want = wantFor(asks)
  return isOpposed(output) && want !== restOf(output) ? [want, restOf(output)] : [want]
}

/** A stick that points to a side asks for what it says; what is held is let go after it. */
function wantsOfWay(design: Design, { loadId, asks }: { loadId: string; asks: string }): string[] {
  return isHeld(loadOf(design, loadId).output) ? ['on', 'off'] : [wantFor(asks)]
}

/**
 * What is wired to a box asks for, as keys and scenes of its surface, in the order of the design.
 */
export function keysOfBox(design: Design, box: PeerSurface): Pick<PeerSurface, 'keys' | 'scenes'> {
  const wants = new Map<string, Set<string>>()
  const scenes = new Set<string>()
  const want = (loadId: string, list: readonly string[]) => {
    const known = wants.get(loadId) ?? new Set()
    for (const w of list) known.add(w)
    wants.set(loadId, known)
  }
  const take = (target: Target) => {
    for (const ask of asksOfTarget(design, box, target))
      if ('sceneId' in ask) scenes.add(ask.sceneId)
      else want(ask.loadId, wantsOfPress(loadOf(design, ask.loadId).output, ask.want))
  }
  for (const control of box.controls) {
    want(control.loadId, wantsOfControl(control, loadOf(design, control.loadId).output))
    for (const { on, target } of targetsOf(control))
      if (on !== 'single' || 'sceneId' in target) take(target)
  }
  const carries = (loadId: string) => carrierOf(design, box.boardId ?? '', loadId) === box
  const takeOwn = (target: Target) => {
    if ('sceneId' in target || carries(target.loadId)) take(target)
  }
  for (const s of design.sensors) {
    if (s.controllerId !== box.boardId) continue
    if (isKnob(s) && carries(s.loadId)) want(s.loadId, ['up', 'down'])
    if (isReceiver(s)) s.keys.forEach(takeOwn)
    if (asksByWay(s))
      for (const way of s.ways)
        if (!('loadId' in way)) take(way)
        else if (carries(way.loadId)) want(way.loadId, wantsOfWay(design, way))
  }
  for (const r of design.rules) {
    if (design.sensors.find(s => s.id === r.sensorId)?.controllerId !== box.boardId) continue
    if (r.sceneId !== null) take({ sceneId: r.sceneId })
    for (const { loadId, value } of r.sets) if (carries(loadId)) want(loadId, [value])
  }
  return {
    keys: design.loads.flatMap(({ id, output }) => {
      const asks = [...(wants.get(id) ?? [])]
      return asks.length ? [{ loadId: id, form: formFor(output, asks), asks }] : []
    }),
    scenes: design.scenes.flatMap(s => (scenes.has(s.id) ? [s.id] : [])),
  }
}

/** The form that offers all of it, as a bench draws the box; else the usual one. */
function formFor(output: Output, asks: readonly string[]): PanelKey['form'] {
  const forms = formsOf(output)
  const fits = forms.find(form => asks.every(want => wantsOf(output, form).includes(want)))
  return fits ?? first(forms)
}
