/** Loads and their outputs. */
import { defineEdit, type PatchOf } from './define'
import { DEFAULT_WIRING, type Output, type Wiring } from '../schema'
import { KIND_WORDS } from '../outputs/kinds'
import {
  changeKind,
  changeOutput,
  controllerOf,
  dropControls,
  dropKey,
  dropMessage,
  dropSceneKeys,
  forgetScenes,
  keepTargets,
  listed,
  move,
  nextPin,
} from './parts'
import { freshId } from '../ids'
import { isKnob } from '../sensors/traits'
import { loadOf } from '../find'

/** What can be changed of an output without making it another kind. */
export type OutputPatch = PatchOf<Output, 'kind'>

export const loadsEdits = {
  addLoad: defineEdit<{ name: string; id?: string; controllerId?: string }>({
    apply: (d, a) => {
      const { id: controllerId } = controllerOf(d, a.controllerId)
      d.loads.push({
        id: a.id ?? freshId(a.name, 'load', d.loads),
        name: a.name,
        controllerId,
        note: '',
        room: '',
        wiring: DEFAULT_WIRING,
        output: {
          kind: 'switched',
          pin: nextPin(d, controllerId, { as: 'output', activeLevel: 'low' }),
          activeLevel: 'low',
          powerUp: 'off',
          saveDelayMs: 2000,
          timers: null,
          limits: null,
        },
      })
    },
    words: (_, a) => `Load ${a.name} added`,
  }),
  renameLoad: defineEdit<{ loadId: string; name: string }>({
    apply: (d, a) => {
      loadOf(d, a.loadId).name = a.name
    },
    words: (d, a) => `Load ${loadOf(d, a.loadId).name} renamed to ${a.name}`,
  }),
  noteLoad: defineEdit<{ loadId: string; note: string }>({
    apply: (d, a) => {
      loadOf(d, a.loadId).note = a.note
    },
    words: (d, a) => `Note of ${loadOf(d, a.loadId).name} changed`,
  }),
  setRoom: defineEdit<{ loadId: string; room: string }>({
    apply: (d, a) => {
      loadOf(d, a.loadId).room = a.room
    },
    words: (d, a) => `${loadOf(d, a.loadId).name} is in ${a.room || 'no room of its own'}`,
  }),
  moveLoad: defineEdit<{ loadId: string; to: number }>({
    apply: (d, a) => move(d.loads, a.loadId, a.to),
    words: (d, a) => `Load ${loadOf(d, a.loadId).name} moved to row ${a.to + 1}`,
  }),
  removeLoad: defineEdit<{ loadId: string }>({
    apply: (d, a) => {
      loadOf(d, a.loadId)
      d.loads = d.loads.filter(l => l.id !== a.loadId)
      for (const link of d.links) dropMessage(link, a.loadId)
      for (const s of d.surfaces) {
        if (s.kind === 'hand') dropControls(s, a.loadId)
        else dropKey(s, a.loadId)
      }
      d.sensors = d.sensors.filter(s => !isKnob(s) || s.loadId !== a.loadId)
      for (const scene of d.scenes) scene.sets = scene.sets.filter(x => x.loadId !== a.loadId)
      for (const { id } of d.scenes.filter(x => !x.sets.length))
        for (const link of d.links) Reflect.deleteProperty(link.scenes, id)
      d.scenes = d.scenes.filter(x => x.sets.length)
      dropSceneKeys(d)
      for (const rule of d.rules) rule.sets = rule.sets.filter(x => x.loadId !== a.loadId)
      forgetScenes(d)
      d.rules = d.rules.filter(r => r.sets.length || r.sceneId !== null)
      keepTargets(d, target => !('loadId' in target) || target.loadId !== a.loadId)
    },
    words: (d, a) => `Load ${loadOf(d, a.loadId).name} removed with its codes, keys and controls`,
  }),
  setOutput: defineEdit<{ loadId: string; patch: OutputPatch }>({
    apply: (d, a) => changeOutput(d, loadOf(d, a.loadId), a.patch),
    words: (d, a) => `Output of ${loadOf(d, a.loadId).name}: ${listed(a.patch)}`,
  }),
  setKind: defineEdit<{ loadId: string; kind: Output['kind'] }>({
    apply: (d, a) => changeKind(d, loadOf(d, a.loadId), a.kind),
    words: (d, a) =>
      `${loadOf(d, a.loadId).name} becomes ${KIND_WORDS[a.kind]}, with keys and controls to match`,
  }),
  setWiring: defineEdit<{ loadId: string; patch: Partial<Wiring> }>({
    apply: (d, a) => {
      Object.assign(loadOf(d, a.loadId).wiring, a.patch)
    },
    words: (d, a) => `Wiring of ${loadOf(d, a.loadId).name}: ${listed(a.patch)}`,
  }),
}
