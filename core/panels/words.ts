/** How a key words what it believes. The same words in the built page, its preview and the bench. */
import type { Shown } from '../surfaces/panel'

export function shownLabel(shown: Shown, asked: boolean | null, connected: boolean): string {
  switch (shown) {
    case 'on': return 'on'
    case 'off': return 'off'
    case 'waiting': return `asked for ${asked ? 'on' : 'off'}`
    case 'unknown': return connected ? 'not known' : 'no link'
    case 'stale-on': return 'was on'
    case 'stale-off': return 'was off'
  }
}
