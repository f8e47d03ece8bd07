/** What can be asked: by the keys of the surface looked at, and by all that is elsewhere. */
import type { Act } from './tables/controller'
import type { Design, FarSurface } from '../design/schema'
import type { PanelKeyAct } from './tables/surface'
import type { SystemEvent } from './happenings'
import { asksByWay, isKnob, isReceiver } from '../design/sensors/traits'
import { stickWays } from '../controller/sticks'
import { linkOf, maybeFarSurfaceOn, scenesOn } from '../design/find'
import { wantsOn } from '../design/values'
import { wireOf } from '../design/wire'
import { askedBy } from '../design/targets'

/** What the keys of a surface ask for on its link. */
export function keysOf(design: Design, surface: FarSurface): PanelKeyAct[] {
  const link = linkOf(design, surface.linkId)
  const keys = design.loads.flatMap((load, i) =>
    (link.messages as { loadId: string }[]).some(m => m.loadId === load.id)
      ? wantsOn(surface.keys, load).map(want => ({ load: i, want }))
      : [],
  )
  const scenes = design.scenes.flatMap((s, scene) =>
    scenesOn(surface).includes(s.id) && (link.scenes[s.id] ?? '') !== '' ? [{ scene }] : [],
  )
  return [...keys, ...scenes]
}

/**
 * Whatever else commands the loads: other surfaces, remotes, knobs, rules. `own`: the link looked
 * at, by place; -1 for none.
 */
export function commandsFromElsewhere(design: Design, own: number): [SystemEvent, Act][] {
  const loadAt = (id: string) => design.loads.findIndex(l => l.id === id)
  const list: [SystemEvent, Act][] = []
  design.links.forEach((link, i) => {
    if (i === own) return
    const speaker = maybeFarSurfaceOn(design, link.id)
    for (const m of link.messages) {
      for (const [want, code] of Object.entries(m.codes)) {
        const text = wireOf(link, code ?? '', 'command')
        if (text !== '')
          list.push([
            { kind: 'other', link: i, load: loadAt(m.loadId), want },
            { do: 'command', link: i, text },
          ])
      }
    }
    design.scenes.forEach((scene, n) => {
      const text = wireOf(link, link.scenes[scene.id] ?? '', 'command')
      if (text !== '' && speaker && scenesOn(speaker).includes(scene.id))
        list.push([
          { kind: 'otherScene', link: i, scene: n },
          { do: 'command', link: i, text },
        ])
    })
  })
  let knob = 0
  design.sensors.forEach((sensor, s) => {
    if (isReceiver(sensor))
      sensor.keys.forEach((k, key) => {
        if (askedBy(design, k).some(a => loadAt(a.loadId) >= 0))
          list.push([
            { kind: 'remote', sensor: s, key },
            { do: 'remote', sensor: s, key },
          ])
      })
    if (asksByWay(sensor))
      for (const way of stickWays(sensor))
        list.push([
          { kind: 'push', sensor: s, way },
          { do: 'push', sensor: s, way },
        ])
    if (!isKnob(sensor)) return
    for (const detents of [1, -1] as const)
      list.push([
        { kind: 'turn', knob, detents },
        { do: 'turn', knob, detents },
      ])
    knob++
  })
  design.rules.forEach((r, rule) =>
    list.push([
      { kind: 'rule', rule },
      { do: 'cross', sensor: design.sensors.findIndex(s => s.id === r.sensorId) },
    ]),
  )
  return list
}
