/** Buttons and switches of hand surfaces. */
import { defineEdit, type PatchOf } from './define'
import { type Control, NO_GESTURES } from '../schema'
import { asksOf } from '../values'
import { controlOf, handOf, listed, nextPin } from './parts'
import { controlUse } from '../pins'
import { freshId } from '../ids'
import { handSurfaces, loadOf, surfaceOf } from '../find'

type ControlPatch = PatchOf<Control, 'id' | 'kind' | 'loadId'>

export const controlsEdits = {
  addControl: defineEdit<{
    surfaceId: string
    loadId: string
    kind: 'push' | 'latching'
    asks?: string
  }>({
    apply: (d, a) => {
      const surface = handOf(d, a.surfaceId)
      const id = freshId(
        `${loadOf(d, a.loadId).id}-${a.kind === 'push' ? 'button' : 'switch'}`,
        'control',
        handSurfaces(d).flatMap(s => s.controls),
      )
      const base = {
        id,
        loadId: a.loadId,
        sceneId: null,
        asks: a.asks ?? asksOf(loadOf(d, a.loadId).output, a.kind)[0] ?? 'toggle',
        pin: nextPin(d, loadOf(d, a.loadId).controllerId, controlUse(a)),
        debounceMs: 30,
        leadMeters: 1,
        pullOhms: null,
      }
      surface.controls.push(
        a.kind === 'push'
          ? { kind: 'push', ...base, lockoutMs: 300, ...NO_GESTURES }
          : { kind: 'latching', ...base, acts: 'movement', atStart: 'stay' },
      )
    },
    words: (d, a) =>
      `${a.kind === 'push' ? 'Push button' : 'Latching switch'} for ${loadOf(d, a.loadId).name} added to ${surfaceOf(d, a.surfaceId).name}`,
  }),
  setControl: defineEdit<{ controlId: string; patch: ControlPatch }>({
    apply: (d, a) => {
      Object.assign(controlOf(d, a.controlId), a.patch)
    },
    words: (d, a) =>
      `Hand control of ${loadOf(d, controlOf(d, a.controlId).loadId).name}: ${listed(a.patch)}`,
  }),
  removeControl: defineEdit<{ controlId: string }>({
    apply: (d, a) => {
      controlOf(d, a.controlId)
      for (const s of handSurfaces(d)) s.controls = s.controls.filter(c => c.id !== a.controlId)
    },
    words: (d, a) => `Hand control of ${loadOf(d, controlOf(d, a.controlId).loadId).name} removed`,
  }),
}
