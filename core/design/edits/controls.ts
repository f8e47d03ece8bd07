/** Buttons and switches of hand surfaces. */
import { defineEdit, type PatchOf } from './define'
import type { Control } from '../schema'
import { asksOf } from '../values'
import { controlOf, listed, newButton, newContact, nextPin, wiredOf, wiredTo } from './parts'
import { controlUse } from '../pins'
import { freshId } from '../ids'
import { loadOf, surfaceOf, wiredSurfaces } from '../find'

type ControlPatch = PatchOf<Control, 'id' | 'kind' | 'loadId'>

export const controlsEdits = {
  addControl: defineEdit<{
    surfaceId: string
    loadId: string
    kind: 'push' | 'latching'
    asks?: string
  }>({
    apply: (d, a) => {
      const surface = wiredOf(d, a.surfaceId)
      const id = freshId(
        `${loadOf(d, a.loadId).id}-${a.kind === 'push' ? 'button' : 'switch'}`,
        'control',
        wiredSurfaces(d).flatMap(s => s.controls),
      )
      const asks = a.asks ?? asksOf(loadOf(d, a.loadId).output, a.kind)[0] ?? 'toggle'
      const control: Control =
        a.kind === 'push'
          ? newButton(id, a.loadId, asks)
          : {
              kind: 'latching',
              ...newContact(id, a.loadId, asks),
              acts: 'movement',
              atStart: 'stay',
            }
      control.pin = nextPin(d, wiredTo(d, surface, a.loadId), controlUse(a))
      surface.controls.push(control)
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
      for (const s of wiredSurfaces(d)) s.controls = s.controls.filter(c => c.id !== a.controlId)
    },
    words: (d, a) => `Hand control of ${loadOf(d, controlOf(d, a.controlId).loadId).name} removed`,
  }),
}
