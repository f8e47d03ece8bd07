import { describe, expect, it } from 'vitest'
import fc from 'fast-check'
import { check } from '../../../../core/checks/check'
import { compileController } from '../../../../core/controller/program'
import { startController, step } from '../../../../core/controller/step'
import { applyEdit } from '../../../../core/design/edits/edits'
import type { Design, HttpLink } from '../../../../core/design/schema'
import { assign, schoolsOf } from '../../../../core/messages/assign'
import { clashes } from '../../../../core/messages/clashes'
import { explain } from '../../../../core/messages/explain'
import { openApi } from '../../../../core/sides/openapi'
import { compileSurface, startSurface, surfaceStep } from '../../../../core/surfaces/surface'
import { edited, fanDesign } from '../../../fixtures/designs'

/** A fan with timers over HTTP, on one route with three parameters. */
function asked(patch: Partial<HttpLink> = {}): Design {
  const design = edited(
    fanDesign(),
    { type: 'removeSurface', surfaceId: 'phone' },
    { type: 'addPanel', name: 'Browser', over: 'http' },
    {
      type: 'setOutput',
      loadId: 'fan',
      patch: { timers: { onDelayMs: 1000, offDelayMs: 700, blinkMs: 500 } },
    },
  )
  const link = design.links[0] as HttpLink
  return edited(
    design,
    {
      type: 'addMessage',
      linkId: link.id,
      loadId: 'fan',
      codes: Object.fromEntries(
        ['on', 'off', 'for', 'after', 'blink'].map(v => [v, `/set?room=shed&pin=5&value=${v}`]),
      ),
    },
    { type: 'setLink', linkId: link.id, patch },
  )
}

/** What the fan is after a request, and how that was answered. */
function after(design: Design, route: string): [value: string, status: number | undefined] {
  const program = compileController(design)
  const booted = step(program, startController(program), { kind: 'boot', now: 0, levels: [1] })
  const { state, effects } = step(program, booted.state, {
    kind: 'received',
    now: 100,
    link: 0,
    text: route,
  })
  const reply = effects.find(e => e.kind === 'reply')
  return [state.value[0] as string, reply?.kind === 'reply' ? reply.status : undefined]
}

describe('routes with parameters', () => {
  it('are taken in any order, and nothing else is', () => {
    const design = asked()
    for (const order of [
      'room=shed&pin=5&value=on',
      'room=shed&value=on&pin=5',
      'pin=5&room=shed&value=on',
      'pin=5&value=on&room=shed',
      'value=on&room=shed&pin=5',
      'value=on&pin=5&room=shed',
    ])
      expect(after(design, `/set?${order}`), order).toEqual(['on', 200])
    for (const other of [
      '/set',
      '/set?',
      '/set?pin=5&value=on',
      '/set?room=shed&pin=5&value=on&value=off',
      '/set?room=shed&pin=6&value=on',
      '/set?room=shed&pin=5&value=On',
      '/seT?room=shed&pin=5&value=on',
    ])
      expect(after(design, other), other).toEqual(['off', 404])
  })
  it('any order of any parameters means the same: a property', () => {
    const word = fc.stringMatching(/^[A-Za-z0-9._~-]{1,6}$/)
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.tuple(word, word), { minLength: 1, maxLength: 4, selector: p => p[0] }),
        fc.infiniteStream(fc.nat()),
        (own, draws) => {
          if (own.some(([name]) => ['no', 'ms', 'key', 'n', 'tag'].includes(name))) return
          const code = `/go?${own.map(p => p.join('=')).join('&')}`
          const applied = applyEdit(asked(), {
            type: 'renameCode',
            linkId: asked().links[0]!.id,
            loadId: 'fan',
            which: 'on',
            code,
          })
          if (!applied.ok) throw new Error(JSON.stringify(applied.problems))
          const shuffled = own
            .map(p => ({ p, at: draws.next().value as number }))
            .toSorted((a, b) => a.at - b.at)
            .map(x => x.p.join('='))
          expect(after(applied.design, `/go?${shuffled.join('&')}`)).toEqual(['on', 200])
        },
      ),
      { numRuns: 200 },
    )
  })
  it('carry times, numbers and proofs as further parameters, and pages say them so', () => {
    for (const patch of [
      {},
      { numbered: { windowMs: 5000 } },
      { auth: { kind: 'word' } },
      { auth: { kind: 'counter', tagBytes: 8, window: 4 } },
      { auth: { kind: 'pin', digits: 4 }, numbered: { windowMs: 5000 } },
    ] as const) {
      const design = asked(patch as Partial<HttpLink>)
      const program = compileSurface(design, 'browser')
      const up = surfaceStep(program, startSurface(program), { kind: 'linkUp', now: 0 })
      const { sends } = surfaceStep(program, up.state, {
        kind: 'key',
        now: 10,
        load: 0,
        want: 'for:4200',
      })
      expect(sends, JSON.stringify(patch)).toHaveLength(1)
      expect(sends[0], JSON.stringify(patch)).toMatch(
        /^\/set\?room=shed&pin=5&value=for&ms=4200(&|$)/,
      )
      expect(after(design, sends[0] as string), JSON.stringify(patch)).toEqual(['on', 200])
    }
  })
  it('equal but for their order clash, and the board says which it would take', () => {
    const design = edited(asked(), {
      type: 'renameCode',
      linkId: 'browser-link',
      loadId: 'fan',
      which: 'off',
      code: '/set?value=on&pin=5&room=shed',
    })
    const [clash] = clashes(design, design.links[0]!)
    expect(clash?.kind).toBe('duplicate')
    expect(check(design).findings.map(f => f.code)).toContain('code-duplicate')
    expect(
      explain(asked(), asked().links[0]!, 'GET /set?pin=5&room=shed&value=off HTTP/1.1'),
    ).toMatchObject({ codes: ['/set?room=shed&pin=5&value=off'], bytes: [{ says: 'Fan off' }] })
  })
  it('are one operation of the OpenAPI document, each parameter with its values', () => {
    const design = asked()
    const api = JSON.parse(openApi(design, design.links[0] as HttpLink)) as {
      paths: Record<
        string,
        { get: { description: string; parameters: { name: string; schema: object }[] } }
      >
    }
    const { get } = api.paths['/set']!
    expect(get.parameters.map(p => p.name)).toEqual(['room', 'pin', 'value', 'ms'])
    expect(get.parameters[2]!.schema).toEqual({
      type: 'string',
      enum: ['on', 'off', 'after', 'for', 'blink'],
    })
    expect(get.description.split('\n')).toHaveLength(5)
    expect(get.description).toContain('?room=shed&pin=5&value=off: Fan off')
  })
  it('can be assigned: one route for everything, told apart', () => {
    const design = asked()
    const link = design.links[0] as HttpLink
    expect(schoolsOf(link)).toContain('parameters')
    const codes = assign(design, link, 'parameters')
    expect(codes.fan).toMatchObject({
      on: '/set?load=fan&value=on',
      off: '/set?load=fan&value=off',
    })
    const given = edited(design, { type: 'assignCodes', linkId: link.id, codes })
    expect(clashes(given, given.links[0]!)).toEqual([])
  })
  it('none is called as what stands behind a command, none stands there twice', () => {
    const linkId = asked().links[0]!.id
    for (const name of ['no', 'ms', 'key', 'n', 'tag'])
      for (const edit of [
        { type: 'setLink', linkId, patch: { askRoute: `/state?${name}=1` } },
        {
          type: 'renameCode',
          linkId,
          loadId: 'fan',
          which: 'on',
          code: `/set?pin=5&${name}=1`,
        },
      ] as const)
        expect(applyEdit(asked(), edit), name).toMatchObject({
          ok: false,
          problems: [{ message: expect.stringContaining(`"${name}"`) as string }],
        })
    expect(
      applyEdit(asked(), {
        type: 'renameCode',
        linkId,
        loadId: 'fan',
        which: 'on',
        code: '/set?pin=5&pin=6',
      }),
    ).toMatchObject({ ok: false, problems: [{ path: '/links/0/messages/0/codes/on' }] })
  })
  it('what is no parameter is refused with its place', () => {
    for (const code of [
      '/set?',
      '/set?pin',
      '/set?pin=5&',
      '/set?pin=a b',
      '/set?=5',
      '/set?a=1?b=2',
    ])
      expect(
        applyEdit(asked(), {
          type: 'renameCode',
          linkId: 'browser-link',
          loadId: 'fan',
          which: 'on',
          code,
        }),
        code,
      ).toMatchObject({ ok: false, problems: [{ path: '/links/0/messages/0/codes/on' }] })
  })
})
