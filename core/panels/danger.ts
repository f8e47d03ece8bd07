/** Which loads need a guard on a panel. */
import type { Danger, Load, PanelKey } from '../design/schema'

/** Water does harm as well, but slowly: a valve that is opened can be closed again. */
const GUARDED: readonly Danger[] = ['heat', 'gas', 'motion', 'lock']

/** Dangers of a load for which its keys should be guarded. */
export function guardedDangers(load: Pick<Load, 'wiring'>): Danger[] {
  return load.wiring.dangers.filter(d => GUARDED.includes(d))
}

/** A key that acts only while a finger stays needs no other guard: letting go ends it. */
export function wantsGuard(
  load: Pick<Load, 'wiring'>,
  key: Pick<PanelKey, 'form' | 'guard'>,
): boolean {
  return guardedDangers(load).length > 0 && key.guard === 'none' && key.form !== 'hold'
}
