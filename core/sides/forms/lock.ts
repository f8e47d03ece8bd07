/** What is done before a guarded key does anything. */
import type { Guard } from '../../design/schema'
import { html } from '../escape'

/**
 * The guard: a lock to slide, a field for the PIN. Keys that are held to confirm need nothing more.
 */
export function lock(guard: Guard, name: string): string {
  if (guard === 'slide')
    return `<input class="np-lock" type="range" min="0" max="100" value="0" aria-label="${html(`Slide to free ${name}`)}"><span class="np-slide" aria-hidden="true">slide to free</span>`
  if (guard === 'pin')
    return `<input class="np-lock" type="password" inputmode="numeric" maxlength="12" autocomplete="off" placeholder="PIN" aria-label="${html(`PIN for ${name}`)}">`
  return ''
}
