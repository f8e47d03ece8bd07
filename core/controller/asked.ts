/**
 * Which link a request over HTTP is for, and what it says there; as `ownRoute` and `whoTakes` of
 * engine/boards/web/http.cpp have it.
 */
import { speaksRoutes } from '../design/links/traits'
import { routeOf } from '../messages/routes'
import type { ProgramLink } from './program'
import { meaningOf } from '../messages/meaning'

/** `route`: as the table has it. `text`: what the controller hears. */
export interface Asked {
  link: number
  route: string
  text: string
}

/**
 * `target`: with the parameters of a body behind it. Parameters that no route has (a browser's own)
 * are passed over; null where nobody takes it.
 */
export function askedOf(links: readonly ProgramLink[], target: string): Asked | null {
  const route = routeOf(target, r => links.some(l => takesRoute(l, r)))
  const link = links.findIndex(l => takesRoute(l, route))
  const taken = links[link]
  if (!taken) return null
  // Number, time and proof stand behind the route.
  const whole =
    taken.link.auth.kind !== 'none'
    || taken.link.numbered !== null
    || meaningOf(taken, target) !== undefined
  return { link, route, text: whole ? target : route }
}

/** Whether a link has such a route. */
function takesRoute(link: ProgramLink, route: string): boolean {
  return speaksRoutes(link.link) && (isStream(link, route) || meaningOf(link, route) !== undefined)
}

/** Whether a route opens a stream of events. */
export function isStream({ link, streams }: ProgramLink, route: string): boolean {
  return streams && speaksRoutes(link) && link.eventsRoute === route
}
