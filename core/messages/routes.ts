/**
 * Which route a request is taken for, by how the board matches: whole, by its beginning, or by
 * containing it.
 */
import type { Design, HttpLink, Message } from '../design/schema'
import { filled, goesByNumber, numberCode, numberSaid } from './setpoints'
import { numberCodes, saidBy } from './places'
import { codeUses, commandWords, type CodeUse } from './clashes'
import { BEHIND, inOrder, parametersOf } from '../design/links/parameters'
import { nth } from '../units/lists'

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
  const uses = codeUses(design, link).filter(u => !goesByNumber(link, u.loadId, u.value))
  const routes = uses.map(u => u.code)
  return [
    ...numbersOvershadowed(design, link, uses, routes),
    ...fixedOvershadowed(link, uses, routes),
  ].sort((a, b) => a.route.length - b.route.length)
}

/** The first number of each load that is taken for a route of its own. */
function numbersOvershadowed(
  design: Design,
  link: HttpLink,
  uses: readonly CodeUse[],
  routes: readonly string[],
): Overshadowed[] {
  if (link.matching === 'exact') return []
  return numberCodes(design, link).flatMap(of => {
    const { load, code, high, step } = of
    for (let number = step === null ? 0 : 1; number <= high; number++) {
      const route = filled(link, code, number)
      const by = uses[matchRoute(link.matching, routes, route)]
      // One that is the same is told as a clash.
      if (by && by.code !== route)
        return [
          {
            route,
            by: by.code,
            loadId: load.id,
            means: commandWords(design, load.id, saidBy(of, number)),
            does: by.what,
          },
        ]
    }
    return []
  })
}

function fixedOvershadowed(
  link: HttpLink,
  uses: readonly CodeUse[],
  routes: readonly string[],
): Overshadowed[] {
  return uses.flatMap((use, i) => {
    const at = matchRoute(link.matching, routes, use.code)
    const by = nth(uses, at)
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
}

/** "GET /booth/on HTTP/1.1", a whole address or a bare route all give the path. */
export function pathOf(input: string): string {
  return targetOf(input).split('?')[0] || '/'
}

/**
 * The route that a request is taken for: with its parameters where `isKnown` says so, else without.
 * Numbers and proofs behind it are left out.
 */
export function routeOf(input: string, isKnown: (route: string) => boolean): string {
  const path = pathOf(input)
  const own = ownParameters(targetOf(input))
  const route = own.length ? `${path}?${own.join('&')}` : path
  return own.length && isKnown(route) ? route : path
}

/** Whether a route stands in the table of a link, its parameters in whatever order. */
export function hasRoute(link: HttpLink, route: string): boolean {
  const asked = inOrder(route)
  const messages = link.messages as Message[]
  if (messages.some(m => numberSaid(link, numberCode(m), route, 'command') !== null)) return true
  return [
    link.askRoute,
    link.eventsRoute,
    link.helloRoute,
    ...Object.values(link.scenes),
    ...link.messages.flatMap(m => Object.values(m.codes)),
  ].some(code => code !== undefined && inOrder(code) === asked)
}

function targetOf(input: string): string {
  return shortened(/^\s*(?:GET|POST|PUT)\s+(\S+)/i.exec(input)?.[1] ?? input.trim())
}

/** What is asked for, without address and without what a browser keeps for itself. */
export function shortened(target: string): string {
  return target.replace(/^[a-z]+:\/\/[^/]*/i, '').split('#')[0] || '/'
}

/** Parameters of a route itself; not those that stand behind a command. */
function ownParameters(route: string): string[] {
  return parametersOf(route).filter(p => !BEHIND.has(p.split('=')[0] ?? ''))
}
