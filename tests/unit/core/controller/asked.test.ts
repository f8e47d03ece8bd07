import { expect, it } from 'vitest'
import { askedOf, isStream } from '../../../../core/controller/asked'
import { compileController } from '../../../../core/controller/program'
import { partOf } from '../../../../core/design/part'
import { routeWith } from '../../../../core/design/links/bodies'
import type { Design, HttpLink } from '../../../../core/design/schema'
import { kilnCorridor } from '../../../fixtures/designs'

const part = () => partOf(kilnCorridor(), kilnCorridor().controllers[0]?.id ?? '')

/** The first link with parameters in its routes, and a code that starts a timer. */
function withParameters(): Design {
  const design = part()
  const [first, ...others] = design.links
  const link = first as HttpLink
  const messages = link.messages.map(m =>
    m.loadId === 'corridor-lights'
      ? {
          ...m,
          codes: { ...m.codes, on: '/set?load=lights&do=on', for: '/set?load=lights&do=for' },
        }
      : m,
  )
  return { ...design, links: [{ ...link, messages } as HttpLink, ...others] }
}

it('finds the link and what is said there', () => {
  const { links } = compileController(part())
  expect(askedOf(links, '/humidifier/on')).toEqual({
    link: 0,
    route: '/humidifier/on',
    text: '/humidifier/on',
  })
  expect(askedOf(links, '/nothing')).toBeNull()
  const stream = askedOf(links, '/office/events')
  expect(stream?.link).toBe(1)
  expect(isStream(links[1]!, '/office/events')).toBe(true)
})

it('passes over parameters that no route has', () => {
  const { links } = compileController(part())
  expect(askedOf(links, '/humidifier/on?utm=1')?.text).toBe('/humidifier/on')
})

it('keeps a time behind a route with parameters', () => {
  const { links } = compileController(withParameters())
  const asked = askedOf(links, '/set?do=for&load=lights&ms=5000')
  expect(asked?.route).toBe('/set?do=for&load=lights')
  expect(asked?.text).toBe('/set?do=for&load=lights&ms=5000')
})

it.each([
  ['{"load":"lights","do":"on"}', '/set?load=lights&do=on'],
  ['{ "b" : 2 , "1" : "x" }', '/set?b=2&1=x'],
  ['{"on":true,"n":-5,"text":"a\\\\\\"b\\/"}', '/set?on=true&n=-5&text=a\\"b/'],
  ['{}', '/set'],
  ['{"a":01}', null],
  ['{"a":1.5}', null],
  ['{"a":null}', null],
  ['{"a":{"b":1}}', null],
  ['{"a":1,}', null],
  ['{"a":1} x', null],
  ['[1]', null],
  ['{"a":"\\u0041"}', null],
])('a JSON body %s', (body, route) => {
  expect(routeWith('/set', 'application/json', body)).toBe(route)
})
