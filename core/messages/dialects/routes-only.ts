/**
 * Stands for `rows.ts` in the program of panel pages over HTTP: they speak in routes alone.
 */
import { routesSpeech } from './routes'

/** How routes say what is not in their table. */
export function speechOf(): typeof routesSpeech {
  return routesSpeech
}
/** No mark. */
export function markOf(): string {
  return ''
}
