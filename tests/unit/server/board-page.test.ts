/** The page of a board, routes of single readings, and parameters that stand in a body. */
import { get, type IncomingMessage } from 'node:http'
import fc from 'fast-check'
import { afterEach, describe, expect, it } from 'vitest'
import { check } from '../../../core/checks/check'
import { requestOf, routeWith } from '../../../core/design/links/bodies'
import { applyEdit, type Edit } from '../../../core/design/edits/edits'
import type { Design, HttpLink } from '../../../core/design/schema'
import { validateDesign } from '../../../core/design/validate'
import { boardPage, NEW_TEMPLATE, templateTroubles } from '../../../core/sides/board-page'
import { openApi } from '../../../core/sides/openapi'
import { StandIn } from '../../../server/live/stand-in'
import { edited, linkOn, twoPanelDesign } from '../../fixtures/designs'

const set = (patch: object): Edit => ({ type: 'setLink', linkId: 'browser-link', patch })
const page = (template: string, route = '/'): Edit => set({ page: { route, template } })
const withHeat = (...more: Edit[]) =>
  edited(
    twoPanelDesign(),
    { type: 'addSensor', kind: 'thermometer', name: 'Kiln' },
    { type: 'setReading', linkId: 'browser-link', sensorId: 'kiln', patch: { route: '/kiln' } },
    ...more,
  )
const http = (design: Design) => linkOn(design, 'http') as HttpLink
const state = (values: Record<string, string>) => ({
  value: (id: string) => values[id] ?? 'off',
  reading: (id: string) => values[id] ?? '',
})

const open: StandIn[] = []
afterEach(async () => {
  for (const x of open.splice(0)) await x.close()
})
async function at(design: Design): Promise<string> {
  const standIn = new StandIn('s', design, 1)
  await standIn.listen('127.0.0.1', [])
  open.push(standIn)
  return standIn.info().address
}

describe('the page of a board', () => {
  it('has its places filled in, what is so standing out, and nothing that could be read as code', () => {
    const design = edited(withHeat(page('{name}|{load fan}|{keys fan}|{reading kiln}|{state}')), {
      type: 'renameDesign',
      name: 'A & "c"',
    })
    const shown = boardPage(design, http(design), state({ fan: 'on', kiln: '21.5' }))
    expect(shown.split('|').slice(0, 4)).toEqual([
      'A &amp; &quot;c&quot;',
      'on',
      '<b>on</b> <a href="/fan/off" aria-label="Fan off">off</a>',
      '21.5 °C',
    ])
    expect(shown).toContain('<tr><th scope="row">Kiln</th><td>21.5 °C</td></tr>')
  })

  it('asks by forms where commands come by POST, parameters within them', () => {
    const design = edited(withHeat(set({ method: 'post', bodies: 'form' }), page('{keys fan}')), {
      type: 'assignCodes',
      linkId: 'browser-link',
      codes: { fan: { on: '/set?pin=5&value=1', off: '/set?pin=5&value=0' } },
    })
    expect(boardPage(design, http(design), state({}))).toBe(
      '<form method="post" action="/set"><input type="hidden" name="pin" value="5"><input type="hidden" name="value" value="1"><button aria-label="Fan on">on</button></form> <b>off</b>',
    )
  })

  it.each([
    ['{load pump}', 'no load "pump" on this link'],
    ['{keys pump}', 'no load "pump" on this link'],
    ['{reading door}', '"door" is not told on this link'],
    ['{scene night}', 'scene "night" has no route on this link'],
    ['{state fan}', '{state} stands alone'],
    ['{colour fan}', 'nothing is called {colour fan}'],
  ])('%s is found and served as it stands', (place, why) => {
    const design = withHeat(page(`<p>\n${place}`))
    expect(templateTroubles(design, http(design), `<p>\n${place}`)).toEqual([
      { place, line: 2, why },
    ])
    expect(boardPage(design, http(design), state({}))).toContain(place)
    const found = check(design).findings.filter(f => f.code === 'page-places')
    expect(found.map(f => f.reason).join()).toContain(`${place} in line 2: ${why}`)
  })

  it('of a new one nothing is wrong, and styles are no places', () => {
    const design = withHeat(page(NEW_TEMPLATE))
    expect(templateTroubles(design, http(design), NEW_TEMPLATE)).toEqual([])
    expect(check(design).findings.map(f => f.code)).not.toContain('page-places')
  })

  it.each(['<script>x()</script>', '<p onclick="x()">', '<a href="javascript:x()">'])(
    'holds no program: %s',
    template => {
      const refused = applyEdit(withHeat(), page(template))
      expect(JSON.stringify(refused)).toContain('no program runs in the page of a board')
    },
  )

  it('clashes with a route that is there already', () => {
    const found = check(withHeat(page('{name}', '/fan/on'))).findings
    const clash = found.find(f => f.title === 'Two meanings for "/fan/on"')
    expect(JSON.stringify(clash)).toContain('page of the board')
  })

  it('is served with the state, and leads whoever pressed something back to it', async () => {
    const base = await at(withHeat(page('{load fan} {reading kiln}')))
    const look = async () => (await fetch(`${base}/`)).text()
    expect(await look()).toBe('off 20 °C')
    // As a browser opens an address.
    const asked = await new Promise<IncomingMessage>(resolve =>
      get(`${base}/fan/on`, { headers: { 'sec-fetch-mode': 'navigate' } }, resolve),
    )
    asked.resume()
    expect([asked.statusCode, asked.headers.location]).toEqual([303, '/'])
    expect(await look()).toBe('on 20 °C')
    const program = await fetch(`${base}/fan/off`)
    expect([program.status, await program.text()]).toEqual([200, 'fan=0\n'])
    const served = await fetch(`${base}/`)
    expect(served.headers.get('content-type')).toContain('text/html')
    expect(served.headers.get('content-security-policy')).toContain("default-src 'none'")
  })
})

describe('a reading by itself', () => {
  it.each([
    ['text', '20'],
    ['json', '{"kiln":20}'],
    ['page', '<!doctype html><title>State</title><p>kiln: <b id="kiln">20</b></p>'],
  ] as const)('is answered as %s', async (answers, says) => {
    const base = await at(withHeat(set({ answers })))
    expect((await (await fetch(`${base}/kiln`)).text()).trim()).toBe(says)
  })

  it('is in the description of the link', () => {
    const design = withHeat(page('{name}', '/look'))
    const { paths } = JSON.parse(openApi(design, http(design))) as {
      paths: Record<string, { get?: { summary: string } }>
    }
    expect(paths['/kiln']?.get?.summary).toBe('Kiln alone')
    expect(paths['/look']?.get?.summary).toBe('The page of the board, for people')
  })
})

describe('parameters in a body', () => {
  const asked = (bodies: 'form' | 'json') =>
    edited(twoPanelDesign(), set({ method: 'post', bodies }), {
      type: 'assignCodes',
      linkId: 'browser-link',
      codes: { fan: { on: '/set?pin=5&value=on', off: '/set?pin=5&value=off' } },
    })

  it.each(['form', 'json'] as const)('as %s do what the route says', async bodies => {
    const design = asked(bodies)
    const base = await at(design)
    const send = async (route: string) => {
      const { path, ...rest } = requestOf(http(design), 'POST', route)
      expect(path).toBe('/set')
      const answer = await fetch(base + path, rest)
      return `${answer.status} ${(await answer.text()).trim()}`
    }
    expect(await send('/set?pin=5&value=on')).toBe('200 fan=1')
    expect(await send('/set?value=off&pin=5')).toBe('200 fan=0')
    expect(await send('/set?value=off&pin=6')).toBe('404 no such route')
  })

  it('that are no form and no object are refused, and nothing happens', async () => {
    const base = await at(asked('json'))
    const answer = await fetch(`${base}/set`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: '[1',
    })
    expect(answer.status).toBe(400)
    expect(await (await fetch(`${base}/state`)).text()).toBe('fan=0\n')
  })

  it('come back as they were, in their order', () => {
    const name = fc.stringMatching(/^[a-z][a-z0-9]{0,6}$/)
    const value = fc.stringMatching(/^[A-Za-z0-9._~-]{0,6}$/)
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.tuple(name, value), { selector: ([n]) => n, minLength: 1, maxLength: 4 }),
        fc.constantFrom('form' as const, 'json' as const),
        (list, bodies) => {
          const route = `/set?${list.map(([n, v]) => `${n}=${v}`).join('&')}`
          const { path, headers = {}, body = '' } = requestOf({ bodies }, 'POST', route)
          expect(routeWith(path, headers['content-type'] ?? '', body)).toBe(route)
        },
      ),
    )
  })

  it('go with POST only', () => {
    const design = structuredClone(asked('json'))
    http(design).method = 'get'
    expect(JSON.stringify(validateDesign(design))).toContain('a body goes with POST')
  })

  it('are members of a body in the description of the link', () => {
    const design = asked('form')
    const { paths } = JSON.parse(openApi(design, http(design))) as {
      paths: Record<string, { post?: { parameters?: object[]; requestBody?: object } }>
    }
    expect(paths['/set']?.post).toMatchObject({
      requestBody: {
        content: {
          'application/x-www-form-urlencoded': {
            schema: { required: ['pin', 'value'], properties: { value: { enum: ['on', 'off'] } } },
          },
        },
      },
    })
    expect(paths['/set']?.post?.parameters).toBeUndefined()
  })
})
