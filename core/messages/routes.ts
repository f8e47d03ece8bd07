/**
 * Which route a request is taken for, by how the board matches: whole, by its beginning, or by
 * containing it.
 */
import type { Design, HttpLink } from '../design/schema'
import { codeUses, type CodeUse } from './clashes'

/** Index of the first route that a request matches, or -1. Routes in the order of the table. */
export function matchRoute(
  matching: HttpLink['matching'],
  routes: readonly string[],
  request: string,
): number {
  return routes.findIndex(route => {
    if (matching === 'exact') return request === route
    return matching === 'prefix' ? request.startsWith(route) : request.includes(route)
  })
}

export interface Overshadowed {
  route: string
  by: string
  loadId: string | null
  means: string
  does: string
}

/** Routes that are taken for an earlier one. */
export function overshadowed(design: Design, link: HttpLink): Overshadowed[] {
  const uses = codeUses(design, link)
  const routes = uses.map(u => u.code)
  return uses
    .flatMap((use, i) => {
      const at = matchRoute(link.matching, routes, use.code)
      const by = uses[at] as CodeUse
      return at === i || by.code === use.code
        ? []
        : [
            {
              route: use.code,
              by: by.code,
              loadId: use.loadId ?? by.loadId,
              means: use.what,
              does: by.what,
            },
          ]
    })
    .sort((a, b) => a.route.length - b.route.length)
}

/** "GET /booth/on HTTP/1.1", a whole address or a bare route all give the route. */
export function routeOf(input: string): string {
  const target = /^\s*(?:GET|POST|PUT)\s+(\S+)/i.exec(input)?.[1] ?? input.trim()
  const path = target.replace(/^[a-z]+:\/\/[^/]*/i, '')
  return path.split(/[?#]/)[0] || '/'
}
