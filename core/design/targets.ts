/** What hand controls, gestures, keys of a remote and rules ask for: one load, or a scene. */
import { isHeld } from './outputs/traits'
import type { Control, Design, Gesture, Output, Rule, Scene } from './schema'

export type Target = { loadId: string; asks: string } | { sceneId: string }

/** What a load is asked for; `asks` of a scene is a value. */
export interface Asked {
  loadId: string
  asks: string
}
type Scenes = Pick<Design, 'scenes'>

/** What each gesture of a hand control asks for. */
export function targetsOf(control: Control): { on: Gesture; target: Target }[] {
  const { sceneId, loadId, asks } = control
  return [
    { on: 'single', target: sceneId === null ? { loadId, asks } : { sceneId } },
    ...(control.kind === 'push'
      ? control.gestures.map(({ on, ...target }) => ({ on, target }))
      : []),
  ]
}

/** What a scene sets; nothing where there is no such scene. */
export function setsOf({ scenes }: Scenes, sceneId: string): Scene['sets'] {
  return scenes.find(s => s.id === sceneId)?.sets ?? []
}

/** A button whose load is on only while a finger stays: not one that asks for a scene. */
export function holdsLoad(control: Control, output: Output | undefined): boolean {
  return control.kind === 'push' && control.sceneId === null && isHeld(output)
}

/** The loads that a target acts on, and what each is asked for. */
export function askedBy({ scenes }: Scenes, target: Target): Asked[] {
  if (!('sceneId' in target)) return [{ loadId: target.loadId, asks: target.asks }]
  return setsOf({ scenes }, target.sceneId).map(({ loadId, value }) => ({ loadId, asks: value }))
}

/** What a hand control does to a load: by which gestures, and what each asks for. */
export function actsOn(
  design: Scenes,
  control: Control,
  loadId: string,
): { on: Gesture; asks: string }[] {
  return targetsOf(control).flatMap(({ on, target }) =>
    askedBy(design, target).flatMap(a => (a.loadId === loadId ? [{ on, asks: a.asks }] : [])),
  )
}

/** What a rule tells the loads. */
export function ruleSets({ scenes }: Scenes, rule: Rule): Scene['sets'] {
  return rule.sceneId === null ? rule.sets : setsOf({ scenes }, rule.sceneId)
}

/** What a target is called where there is room for a word or two: "toggle", "scene Night". */
export function targetWords({ scenes }: Scenes, target: Target): string {
  if (!('sceneId' in target)) return target.asks
  return `scene ${scenes.find(s => s.id === target.sceneId)?.name ?? target.sceneId}`
}
