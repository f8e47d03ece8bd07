/** What a gesture, a key of a remote or a control can ask for, as choices of one list. */
import { asksOf, valuesOf, valueWords } from '../../core/design/values'
import type { Design, Load } from '../../core/design/schema'
import type { Target } from '../../core/design/targets'
import { loadsInReach, scenesInReach } from '../../core/design/wired'

export interface Wish {
  value: string
  label: string
}
const SCENE = '>'
const ASKS: Record<string, string> = {
  toggle: 'the other state',
  next: 'the next, then from the start',
  up: 'more',
  down: 'less',
}

/** In words: "the other state", "50 %". */
export function asksWords(load: Pick<Load, 'output'>, asks: string): string {
  return valuesOf(load.output).includes(asks) ? valueWords(load.output, asks) : (ASKS[asks] ?? asks)
}

/** What loads can be asked for by a press, then the scenes. */
export function wishesFor(design: Pick<Design, 'scenes'>, loads: readonly Load[]): Wish[] {
  return [
    ...loads.flatMap(l =>
      asksOf(l.output, 'push').map(asks => ({
        value: wishOf({ loadId: l.id, asks }),
        label: `${l.name}: ${asksWords(l, asks)}`,
      })),
    ),
    ...sceneWishes(design),
  ]
}

/** What can be asked for on a board: its own loads, and those that a box asks for over its link. */
export function wishesWithin(part: Design): Wish[] {
  return wishesFor({ scenes: scenesInReach(part) }, loadsInReach(part))
}

/** The scenes alone. */
export function sceneWishes(design: Pick<Design, 'scenes'>): Wish[] {
  return design.scenes.map(s => ({
    value: wishOf({ sceneId: s.id }),
    label: `scene ${s.name}`,
  }))
}

/** A target as the value of a choice. */
export function wishOf(target: Target): string {
  return 'sceneId' in target ? SCENE + target.sceneId : `${target.loadId} ${target.asks}`
}

/** The target of a choice. */
export function targetOf(wish: string): Target {
  if (wish.startsWith(SCENE)) return { sceneId: wish.slice(SCENE.length) }
  const [loadId = '', asks = ''] = wish.split(' ')
  return { loadId, asks }
}
