/** Which icon stands beside the name of a key. */
import type { Load } from './schema'
import { isFollower, isHeld, isLevel, isOpposed, isPulse } from './outputs/traits'
import type { IconChoice, IconName } from './icon-names'

/** An icon by its name, in words: "arrow up down". */
export function iconWords(name: IconName): string {
  return name.replaceAll('-', ' ')
}

/** By what is switched, then by what it can do to somebody, then by how it is driven. */
export function iconOf({ output, wiring }: Pick<Load, 'output' | 'wiring'>): IconName {
  const { dangers, load } = wiring
  if (dangers.includes('lock') || load?.type === 'solenoid') return 'lock'
  if (isOpposed(output)) return 'arrow-up-down'
  if (dangers.includes('heat') || dangers.includes('gas')) return 'flame'
  if (dangers.includes('water')) return 'droplets'
  if (load?.type === 'motor') return 'fan'
  if (load?.type === 'led-driver' || load?.type === 'tungsten') return 'lightbulb'
  if (isLevel(output)) return 'sun-dim'
  if (isFollower(output)) return 'gauge'
  if (isHeld(output)) return 'hand'
  return isPulse(output) ? 'bell' : 'power'
}

/** The icon of a key; null for none. */
export function chosenIcon(choice: IconChoice, load: Pick<Load, 'output' | 'wiring'>) {
  if (choice === 'none') return null
  return choice === 'auto' ? iconOf(load) : choice
}
