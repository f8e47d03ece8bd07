/**
 * The part of a design that can affect one load: the load, neighbours whose codes are mistaken for its own, the
 * surfaces and links that speak of it. Durations are taken out: for the search, time is order only.
 */
import { loadOf } from '../design/find'
import type { Control, Design, Gesture, Link, Message, Output, Surface } from '../design/schema'
import { clashes, clashLoads } from '../messages/clashes'

export function project(design: Design, loadId: string, neighbours = neighboursOf(design)): Design {
  loadOf(design, loadId)
  const ids = new Set([loadId, ...neighbours.get(loadId) ?? []])
  const loads = [...design.loads].filter(l => ids.has(l.id)).sort((a, b) => Number(b.id === loadId) - Number(a.id === loadId))
    .map(l => ({ ...l, output: timelessOutput(l.output) }))
  const links = design.links.map(l => keepMessages(l, ids)).filter(l => l.messages.length > 0)
  const linkIds = new Set(links.map(l => l.id))
  const surfaces = design.surfaces.flatMap((s): Surface[] => {
    if (s.kind !== 'hand') return linkIds.has(s.linkId) ? [{ ...s, keys: s.keys.filter(k => ids.has(k.loadId)), ...(s.kind === 'panel' ? { parts: [] } : {}) } as Surface] : []
    const controls = s.controls.flatMap(c => gesturesApart(c)).filter(c => ids.has(c.loadId)).map(c => c.kind === 'push' ? { ...c, debounceMs: 0, lockoutMs: 0 } : { ...c, debounceMs: 0 })
    return controls.length ? [{ ...s, controls }] : []
  })
  // Readings move no load; scenes are commands of their loads, which may come at any time anyway.
  return { ...design, loads, surfaces, links, sensors: [], rules: [] }
}

/**
 * A button of several gestures as one of a single gesture for each: which of them a person makes is free, and waiting for
 * another press is no more than pressing later. The ids of the further ones are "fan-button:double".
 */
function gesturesApart(control: Control): Control[] {
  if (control.kind === 'latching' || !control.gestures.length) return [control]
  return [{ ...control, gestures: [] }, ...control.gestures.map(g => ({ ...control, id: `${control.id}:${g.on}`, loadId: g.loadId, asks: g.asks, gestures: [] }))]
}

/** The control and gesture that an id of a projected one stands for. */
export function gestureOf(id: string): { controlId: string, gesture: Gesture } {
  const [controlId = '', gesture = 'single'] = id.split(':')
  return { controlId, gesture: gesture as Gesture }
}

/** Whether a time is there counts, its length does not; ramps and clicks happen at once, for what is told is the target. */
function timelessOutput(output: Output): Output {
  const once = (ms: number) => ms ? 1 : 0
  switch (output.kind) {
    // Their lengths do not matter, and each has to be armed at the same moment wherever it is armed.
    // A longest time has to lie above a least one.
    case 'switched': return { ...output, limits: output.limits && { ...output.limits, minOnMs: once(output.limits.minOnMs), minOffMs: once(output.limits.minOffMs), longestOnMs: output.limits.longestOnMs ? 2 : 0 }, saveDelayMs: once(output.saveDelayMs), timers: output.timers && { onDelayMs: 10, offDelayMs: 10, blinkMs: 50 } }
    case 'level': return { ...output, saveDelayMs: once(output.saveDelayMs), rampMs: 0 }
    case 'opposed': return { ...output, deadTimeMs: once(output.deadTimeMs), runLimitMs: once(output.runLimitMs), forwardEnd: null, reverseEnd: null }
    // Its clicks are told to nobody: for the search a knob is a level of so many steps.
    case 'follower': return { kind: 'level', pin: output.pin, activeLevel: output.activeLevel, drive: 'pwm', powerUp: 'off', saveDelayMs: 0, stops: Array.from({ length: output.positions }, (_, i) => i), rampMs: 0, minimum: 0, below: 'off' }
    default: return output
  }
}

/** By load: the loads whose codes clash with its own. Made once where many loads are projected. */
export function neighboursOf(design: Design): Map<string, string[]> {
  const neighbours = new Map<string, string[]>()
  for (const link of design.links) {
    for (const ids of clashes(design, link).map(clashLoads)) {
      for (const id of ids) neighbours.set(id, [...neighbours.get(id) ?? [], ...ids])
    }
  }
  return neighbours
}

function keepMessages(link: Link, ids: ReadonlySet<string>): Link {
  // Who may command is for another promise: here everybody can.
  return { ...link, auth: { kind: 'none' }, readings: [], numbered: null, leastMs: 0, everyMs: 0, queue: 0, messages: (link.messages as Message[]).filter(m => ids.has(m.loadId)) } as Link
}
