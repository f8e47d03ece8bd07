/** Routes: /load/value. What stands behind a command is one more parameter of the address. */
import type { Codes, Load } from '../../design/schema'
import { spokenValues } from '../../design/values'
import { after, type LinkMaker, type Speech } from './facet'
import { claim, named } from './naming'

/** Routes with parameters for all values of a load: one path for everything. */
export function parameterCodes(load: Load): Codes {
  return named(
    load,
    spokenValues(load.output).map(v => parameterCode(load, v)),
  )
}

/** The route with parameters for one value, or for what stands in its place. */
export function parameterCode(load: Load, value: string): string {
  return `/set?load=${load.id}&value=${value}`
}

export const routesSpeech: Speech = {
  // What would be one more part of the path is one more parameter, where there are some.
  put: (body, { route }) =>
    body + (body.includes('?') ? route.replace('?', '&').replace(/^\//, '&ms=') : route),
  pattern: ({ route }) =>
    route.startsWith('/') ? `(?:/|&ms=)${route.slice(1)}` : route.replace('\\?', '[?&]'),
  closing: '',
  reading: (_, code, text) => `${code}=${text}`,
  value: (_, code, body) => after(body, `${code}=`),
  counter: (_, counter) => ` (n=${counter})`,
  error: () => '',
  counterPattern: /\(n=(\d{1,10})\)$/,
}

export const routesMaker: LinkMaker<null> = {
  schools: ['routes', 'parameters'],
  values: (_, load, { taken }) => routeCodes(load, taken),
  wish: (_, load, wish) =>
    (Object.values(routeCodes(load, new Set()))[0] ?? '').replace(/[^/]*$/, wish),
  scene: (_, sceneId) => `/scene/${sceneId}`,
}

function routeCodes(load: Load, taken: Set<string>): Codes {
  const short = load.id.split('-')[0] ?? load.id
  const values = spokenValues(load.output)
  const bases = [short, load.id, ...Array.from({ length: 40 }, (_, i) => `${load.id}-${i + 2}`)]
  const base = bases.find(b => values.every(v => !taken.has(`/${b}/${v}`))) ?? load.id
  const routes = values.map(v => `/${base}/${v}`)
  return claim(named(load, routes), taken)
}
