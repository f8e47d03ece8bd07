/** Findings about scenes: what somebody asks for and a board cannot do alone. */
import { handSurfaces } from '../design/find'
import type { Design } from '../design/schema'
import { targetsOf, type Target } from '../design/targets'
import { gestureWords } from '../bench/fingers'
import { isReceiver } from '../design/sensors/traits'
import { finding, type Finding, type Rule } from './finding'

/** Something wired to a board that asks for a scene. */
interface Asking {
  path: string
  words: string
  controllerId: string
  sceneId: string
}

function sceneOf(target: Target): string | null {
  return 'sceneId' in target ? target.sceneId : null
}

/** All that is wired to boards and asks for scenes. */
function askings(design: Design): Asking[] {
  const boardOfLoad = (loadId: string) =>
    design.loads.find(l => l.id === loadId)?.controllerId ?? ''
  const byHand = handSurfaces(design).flatMap(s =>
    s.controls.flatMap((c, j) =>
      targetsOf(c).map(({ on, target }) => ({
        path: `/surfaces/${design.surfaces.indexOf(s)}/controls/${j}`,
        words: `${s.name}${on === 'single' ? '' : `, ${gestureWords(on)}`}`,
        controllerId: boardOfLoad(c.loadId),
        sceneId: sceneOf(target),
      })),
    ),
  )
  const byRemote = design.sensors.flatMap((s, i) =>
    isReceiver(s)
      ? s.keys.map((k, j) => ({
          path: `/sensors/${i}/keys/${j}`,
          words: `key ${j + 1} of ${s.name}`,
          controllerId: s.controllerId,
          sceneId: sceneOf(k),
        }))
      : [],
  )
  const byRule = design.rules.map((r, i) => ({
    path: `/rules/${i}`,
    words: `the rule ${r.name}`,
    controllerId: design.sensors.find(s => s.id === r.sensorId)?.controllerId ?? '',
    sceneId: r.sceneId,
  }))
  return [...byHand, ...byRemote, ...byRule].flatMap(({ sceneId, ...rest }) =>
    sceneId === null ? [] : [{ ...rest, sceneId }],
  )
}

/** What a board is asked for and another one switches is never told to that other one. */
export const sceneElsewhere: Rule = design =>
  askings(design).flatMap(({ path, words, controllerId, sceneId }): Finding[] => {
    const scene = design.scenes.find(s => s.id === sceneId)
    const board = design.controllers.find(c => c.id === controllerId)?.name ?? controllerId
    const there = (scene?.sets ?? []).flatMap(x => {
      const load = design.loads.find(l => l.id === x.loadId)
      return load && load.controllerId !== controllerId ? [load] : []
    })
    if (!scene || !there.length) return []
    const names = there.map(l => l.name).join(', ')
    const boards = [
      ...new Set(there.map(l => design.controllers.find(c => c.id === l.controllerId)?.name ?? '')),
    ].join(', ')
    const all = there.length === scene.sets.length
    return [
      finding({
        code: 'scene-elsewhere',
        severity: all ? 'stop' : 'warn',
        path,
        loadId: there[0]?.id ?? null,
        title: `"${scene.name}", asked for by ${words}, leaves out ${names}`,
        reason: `${words.charAt(0).toUpperCase() + words.slice(1)} is wired to ${board}. ${names} ${there.length === 1 ? 'is' : 'are'} switched by ${boards}, which hears nothing of it: boards of a design tell each other nothing by themselves. Ask for it there too, by a control of its own or a panel.`,
      }),
    ]
  })
