/** Parameters of routes: "/set?pin=5&value=1". */

/** Names of those that stand behind a command: its number, its time, its proof. */
export const BEHIND: ReadonlySet<string> = new Set(['no', 'ms', 'key', 'n', 'tag'])

/** Parameters of a route, as "name=value". */
export function parametersOf(route: string): string[] {
  const [, asked = ''] = route.split('?')
  return asked.split('&').filter(p => p !== '')
}

/** A route with its parameters in one order, so that they may be asked for in any. */
export function inOrder(route: string): string {
  if (!route.includes('?')) return route
  const [path = '', asked = ''] = route.split('?')
  return `${path}?${asked.split('&').toSorted().join('&')}`
}

/** What is wrong with the parameters of a route, or "". */
export function parameterTrouble(route: string): string {
  const names = parametersOf(route).map(p => p.split('=')[0] ?? '')
  const kept = names.find(n => BEHIND.has(n))
  if (kept !== undefined)
    return `"${kept}" is the name of what stands behind a command; call the parameter otherwise`
  const twice = names.find((n, i) => names.indexOf(n) !== i)
  return twice === undefined ? '' : `the parameter "${twice}" stands there twice`
}
