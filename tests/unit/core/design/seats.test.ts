/** Several panels and boxes on one link: one table, and a connection and a belief for each. */
import { describe, expect, it } from 'vitest'
import { Bench } from '../../../../core/bench/bench'
import { drillsFor, runDrill } from '../../../../core/bench/drills'
import { check } from '../../../../core/checks/check'
import { applyEdit, type Edit } from '../../../../core/design/edits/edits'
import { linkTitle } from '../../../../core/design/find'
import { fingerprint } from '../../../../core/design/fingerprint'
import type { Design } from '../../../../core/design/schema'
import { seated, seatsOf, speakersOn } from '../../../../core/design/seats'
import { outageTable } from '../../../../core/proof/outages'
import { proveAll } from '../../../../core/proof/prove'
import { edited, fanDesign, linkOn, twoPanelDesign } from '../../../fixtures/designs'

const KITCHEN: Edit = { type: 'addPanel', name: 'Kitchen', over: 'http', onLink: 'browser-link' }
const shared = (...more: Edit[]) => edited(twoPanelDesign(), KITCHEN, ...more)

describe('a link that takes several', () => {
  it('is shared by another panel, with the same codes and fingerprint', () => {
    const design = shared()
    expect(design.links).toHaveLength(2)
    expect(speakersOn(design, 'browser-link').map(s => s.id)).toEqual(['browser', 'kitchen'])
    expect(fingerprint(design)).toBe(fingerprint(twoPanelDesign()))
    expect(linkTitle(design, linkOn(design, 'http'))).toBe('Browser link')
  })

  it.each([
    ['a serial module', fanDesign(), 'bluetooth-serial', 'phone-link', /serves one at a time/],
    ['a fifth browser', shared(), 'http', 'browser-link', null],
  ] as const)('%s is told where there is no more room', (_, start, over, onLink, words) => {
    const add = (name: string): Edit => ({ type: 'addPanel', name, over, onLink })
    let design: Design = start
    for (let n = 0; seatsOf(linkOn(design, over)) > speakersOn(design, onLink).length; n++)
      design = edited(design, add(`More ${n}`))
    const refused = applyEdit(design, add('Too many'))
    expect(refused).toMatchObject({
      ok: false,
      problems: [{ message: expect.stringMatching(words ?? /serves 4 at a time/) }],
    })
  })

  it('stays as long as somebody speaks over it', () => {
    const one = edited(shared(), { type: 'removeSurface', surfaceId: 'browser' })
    expect(one.links.map(l => l.id)).toContain('browser-link')
    const none = edited(one, { type: 'removeSurface', surfaceId: 'kitchen' })
    expect(none.links.map(l => l.id)).not.toContain('browser-link')
  })

  it('takes a load off all of them', () => {
    const design = edited(
      shared(),
      {
        type: 'placeKey',
        surfaceId: 'kitchen',
        key: {
          ...{ id: 'fan', loadId: 'fan', form: 'state', guard: 'none', icon: 'none', page: 0 },
          ...{ xMm: 3, yMm: 3, widthMm: 20, heightMm: 12 },
        },
      },
      { type: 'removeMessage', linkId: 'browser-link', loadId: 'fan' },
    )
    expect(speakersOn(design, 'browser-link').map(s => s.keys.length)).toEqual([0, 0])
  })

  it('warns where several number their commands', () => {
    const design = shared({
      type: 'setLink',
      linkId: 'browser-link',
      patch: { numbered: { windowMs: 5000 } },
    })
    const codes = (d: Design) => check(d).findings.map(f => f.code)
    expect(codes(design)).toContain('numbers-shared')
    expect(codes(shared())).not.toContain('numbers-shared')
    const found = check(design).findings.find(f => f.code === 'numbers-shared')
    expect(codes(edited(design, found!.fixes[0]!.edit))).not.toContain('numbers-shared')
  })
})

describe('seats', () => {
  it('are a link each, the same again for the same design, and none where nobody shares', () => {
    const design = shared()
    const apart = seated(design)
    expect(apart.links.map(l => l.id)).toEqual([
      'phone-link',
      'browser-link',
      'browser-link--kitchen',
    ])
    expect(seated(design)).toBe(apart)
    expect(seated(apart)).toBe(apart)
    expect(seated(fanDesign())).toEqual(fanDesign())
    expect(fingerprint(apart)).toBe(fingerprint(design))
  })

  it('have ids that scripts take, however long those of link and surface are', () => {
    const long = 'a'.repeat(40)
    const design = structuredClone(shared())
    design.links[1]!.id = long
    for (const s of design.surfaces)
      if (s.kind === 'panel' && s.linkId !== 'phone-link') s.linkId = long
    for (const { id } of seated(design).links) expect(id).toMatch(/^[a-z][a-z0-9-]{0,39}$/)
  })
})

describe('on the bench', () => {
  it('what one asks for is shown by the other, which has its own belief', () => {
    const bench = new Bench(shared(), 2)
    bench.advance(500)
    bench.act({ do: 'key', surfaceId: 'kitchen', loadId: 'fan', want: 'flip' })
    expect(bench.shown('kitchen', 'fan')).toBe('waiting')
    expect(bench.shown('browser', 'fan')).toBe('off')
    bench.advance(2000)
    expect(['kitchen', 'browser', 'phone'].map(s => bench.shown(s, 'fan'))).toEqual([
      'on',
      'on',
      'on',
    ])
  })

  it('one is out of reach, the other goes on', () => {
    const bench = new Bench(shared(), 2)
    bench.act({ do: 'linkDown', linkId: 'browser-link--kitchen' })
    bench.advance(10_000)
    expect([bench.panelConnected('kitchen'), bench.panelConnected('browser')]).toEqual([
      false,
      true,
    ])
    bench.act({ do: 'key', surfaceId: 'browser', loadId: 'fan', want: 'flip' })
    bench.advance(12_000)
    expect(bench.value('fan')).toBe('on')
  })

  it('drills go through for each', () => {
    const drills = drillsFor(shared(), 'fan')
    expect(drills.length).toBeGreaterThan(4)
    for (const drill of drills) expect(runDrill(shared(), drill).record.events).toBeGreaterThan(0)
  })
})

describe('in the proof', () => {
  /** The same written out by hand: a link for each. */
  const apart = () =>
    edited(
      twoPanelDesign(),
      { type: 'addPanel', name: 'Kitchen', over: 'http' },
      {
        type: 'addMessage',
        linkId: 'kitchen-link',
        loadId: 'fan',
        codes: { on: '/k/fan/on', off: '/k/fan/off' },
      },
      { type: 'reportOnConnect', linkId: 'kitchen-link', onConnect: true },
    )
  const results = (d: Design) =>
    proveAll(d, 'fan').map(v => [v.promise, v.result, v.surfaces.map(s => [s.surfaceId, s.state])])

  it('it says the same as of two links that are alike', () => {
    expect(results(shared())).toEqual(results(apart()))
  })

  it('it tells which of two is not told', () => {
    const design = shared(
      { type: 'setReport', linkId: 'browser-link', loadId: 'fan', change: false },
      { type: 'reportOnConnect', linkId: 'browser-link', onConnect: false },
      { type: 'setPoll', surfaceId: 'browser', pollMs: 2000 },
      { type: 'setPoll', surfaceId: 'kitchen', pollMs: 0 },
    )
    const p1 = proveAll(design, 'fan').find(v => v.promise === 'P1')
    expect(p1?.result).toBe('broken')
    const states = Object.fromEntries((p1?.surfaces ?? []).map(s => [s.surfaceId, s.state]))
    expect(states.browser).not.toBe('stale')
    expect(states.kitchen).toBe('stale')
    expect(p1?.surfaces.every(s => !s.story || s.story.replayed)).toBe(true)
  })

  it('an outage of one box leaves the others on its link', () => {
    const design = edited(twoPanelDesign(), {
      type: 'addPeer',
      name: 'Box',
      over: 'http',
      onLink: 'browser-link',
    })
    const row = outageTable(design).find(r => r.name === 'Box out')
    expect(row?.cells.map(c => [c.surfaceId, c.works])).toEqual([
      ['wall', 1],
      ['phone', 1],
      ['browser', 1],
      ['box', 0],
    ])
  })
})
