import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { runScript } from '../../../../core/bench/bench'
import { check } from '../../../../core/checks/check'
import { VerdictCache } from '../../../../core/checks/verdicts'
import { panels } from '../../../../core/design/find'
import type { Design } from '../../../../core/design/schema'
import { Exploration, type What } from '../../../../core/proof/explore'
import { project } from '../../../../core/proof/project'
import { Proof, prove, type SurfaceState } from '../../../../core/proof/prove'
import { QUICK, THOROUGH, type Bounds } from '../../../../core/proof/bounds'
import { System } from '../../../../core/proof/system'
import { anySmallDesign, smallDesigns, edited, over, fanDesign, glazeRoom, starter, twoPanelDesign } from '../../../fixtures/designs'
import { naiveSearch } from '../../../fixtures/naive-search'

const anyBounds: fc.Arbitrary<Bounds> = fc.record({ presses: fc.nat({ max: 2 }), commands: fc.nat({ max: 1 }), drops: fc.nat({ max: 1 }), losses: fc.constant(0), doubles: fc.nat({ max: 1 }), powerCuts: fc.nat({ max: 1 }), restarts: fc.constant(0), queue: fc.constantFrom(1, 2, 3), situations: fc.constant(1_000_000) })

/** All situations of a system, past the first break too. */
function exploreAll(design: Design, loadId: string, surfaceId: string, bounds: Bounds) {
  const search = new Exploration(new System(design, loadId, surfaceId, bounds), [])
  while (!search.run(1000)) { /* the next slice */ }
  search.settle()
  const after = (what: What) => {
    const find = search.found(what)
    return find && search.path(find).length
  }
  return { situations: search.count, wrongAfter: after('wrong'), unsureAfter: after('unsure'), restlessAfter: after('restless') }
}

describe('the search against a naive one', () => {
  it('finds the same number of situations and breaks after equally many events', () => {
    fc.assert(fc.property(anySmallDesign, anyBounds, (design, bounds) => {
      const naive = naiveSearch(design, 'one', 'panel', bounds)
      const fast = exploreAll(design, 'one', 'panel', bounds)
      expect(fast).toEqual(naive)
    }), { numRuns: 60 })
  })
  it('and over datagrams, where one may overtake another', () => {
    let overtook = 0
    fc.assert(fc.property(anySmallDesign.filter(d => d.links.every(l => l.kind !== 'http')), anyBounds, (stream, bounds) => {
      const design = over(stream, 'udp')
      const naive = naiveSearch(design, 'one', 'panel', bounds)
      expect(exploreAll(design, 'one', 'panel', bounds)).toEqual(naive)
      if (naive.situations > naiveSearch(over(stream, 'wire'), 'one', 'panel', bounds).situations) overtook++
    }), { numRuns: 40 })
    expect(overtook).toBeGreaterThan(0)
  })
  it.each([['waits', { tooSoon: 'wait' as const }], ['refuses', { tooSoon: 'refuse' as const }], ['trips', { tooSoon: 'wait' as const, longestOnMs: 60_000 }]])('and on a load whose times are limited: it %s', (_, more) => {
    const limits = { minOnMs: 1000, minOffMs: 3000, longestOnMs: 0, ...more }
    for (const policy of ['assume', 'confirm'] as const) {
      const design = edited(fanDesign(), { type: 'setOutput', loadId: 'fan', patch: { limits } }, { type: 'setBelief', surfaceId: 'phone', patch: { policy } })
      const naive = naiveSearch(design, 'fan', 'phone', QUICK)
      expect(exploreAll(design, 'fan', 'phone', QUICK)).toEqual(naive)
    }
  })
  it('a panel that assumes is wrong where a command may be refused; one that listens is not', () => {
    const limits = { minOnMs: 0, minOffMs: 3000, longestOnMs: 0, tooSoon: 'refuse' as const }
    const limited = (policy: 'assume' | 'confirm') => edited(fanDesign(), { type: 'setOutput', loadId: 'fan', patch: { limits } }, { type: 'setBelief', surfaceId: 'phone', patch: { policy } }, { type: 'setReport', linkId: 'phone-link', loadId: 'fan', ack: false, change: true })
    expect(exploreAll(limited('assume'), 'fan', 'phone', QUICK).wrongAfter).not.toBeNull()
    expect(exploreAll(limited('confirm'), 'fan', 'phone', QUICK).wrongAfter).toBeNull()
  })
  it('its story ends the same way on the bench', () => {
    const design = edited(fanDesign(), { type: 'setOutput', loadId: 'fan', patch: { limits: { minOnMs: 0, minOffMs: 3000, longestOnMs: 0, tooSoon: 'refuse' } } }, { type: 'setBelief', surfaceId: 'phone', patch: { policy: 'assume' } }, { type: 'setReport', linkId: 'phone-link', loadId: 'fan', ack: false, change: true })
    const verdict = prove(design, 'fan', QUICK)
    expect(verdict.surfaces[0]?.story).toMatchObject({ replayed: true })
  })
  it('and on a design with two panels and lever', () => {
    const design = twoPanelDesign()
    for (const panel of panels(design)) {
      const naive = naiveSearch(design, 'fan', panel.id, QUICK)
      expect(naive.situations).toBeGreaterThan(500)
      expect(exploreAll(design, 'fan', panel.id, QUICK)).toEqual(naive)
    }
  })
})

const states = (design: Design, bounds = QUICK): Record<string, Record<string, SurfaceState>> =>
  Object.fromEntries(design.loads.map(l => [l.id, Object.fromEntries(prove(design, l.id, bounds).surfaces.map(s => [s.surfaceId, s.state]))]))

describe('verdicts', () => {
  it('of the glaze room', () => {
    expect(states(glazeRoom())).toEqual({
      'booth-extractor': { 'apron-phone': 'stale', 'office-browser': 'in step' },
      'wheel-lights': { 'apron-phone': 'stale', 'office-browser': 'in step' },
      'cupboard-fan': { 'apron-phone': 'stale', 'office-browser': 'in step' },
      'rinse-pump': { 'apron-phone': 'stale' },
    })
  })
  it('of the starter and of a design that reports everything: in step', () => {
    expect(Object.values(states(starter())).flatMap(s => Object.values(s)).every(s => s === 'in step')).toBe(true)
    expect(states(twoPanelDesign(), { ...THOROUGH, presses: 2, commands: 2 })).toEqual({ fan: { phone: 'in step', browser: 'in step' } })
  })
  it('report on connect turns the verdict of the wheel lights', () => {
    const told = edited(glazeRoom(), { type: 'reportOnConnect', linkId: 'apron-link', onConnect: true })
    expect(states(told)['wheel-lights']).toEqual({ 'apron-phone': 'in step', 'office-browser': 'in step' })
  })
  it('say within what they hold, and count what they looked at', () => {
    const verdict = prove(starter(), starter().loads[0]!.id, QUICK)
    expect(verdict).toMatchObject({ promise: 'P1', result: 'holds', bounds: QUICK })
    expect(verdict.situations).toBeGreaterThan(100)
  })
  it('give up at the bound instead of promising', () => {
    const verdict = prove(twoPanelDesign(), 'fan', { ...THOROUGH, situations: 300 })
    expect(verdict.result).toBe('gave up')
    expect(verdict.reason).toContain('the bound ended the search')
  })
  it('of a load that no panel shows is not asked for', () => {
    const bare = edited(fanDesign(), { type: 'removeSurface', surfaceId: 'phone' })
    expect(prove(bare, 'fan').result).toBe('not asked')
  })
  it('too many levers are told, not tried', () => {
    let many = fanDesign()
    for (let i = 0; i < 5; i++) many = edited(many, { type: 'addControl', surfaceId: 'wall', loadId: 'fan', kind: 'latching' })
    expect(prove(many, 'fan', QUICK)).toMatchObject({ result: 'gave up', reason: expect.stringContaining('latching switches') })
  })
  it('are the same in slices of any size', () => {
    const whole = prove(glazeRoom(), 'wheel-lights', QUICK)
    const proof = new Proof(glazeRoom(), 'wheel-lights', QUICK)
    while (!proof.run(37)) { /* on */ }
    expect(proof.verdict()).toEqual(whole)
  })
  it('of the cache are those without it', () => {
    const cache = new VerdictCache()
    cache.all(glazeRoom())
    const changed = edited(glazeRoom(), { type: 'setReport', linkId: 'apron-link', loadId: 'booth-extractor', change: true })
    expect(cache.all(changed)).toEqual(new VerdictCache().all(changed))
  })
})

describe('stories', () => {
  it('of the glaze room end the same way on the bench', () => {
    const design = glazeRoom()
    for (const load of design.loads) {
      for (const s of prove(design, load.id, THOROUGH).surfaces) {
        if (!s.story) continue
        expect(s.story.replayed, `${load.name} on ${s.surfaceId}`).toBe(true)
        const bench = runScript(design, s.story.script)
        expect(bench.shown(s.surfaceId!, load.id)).toBe(bench.value(load.id) === 'on' ? 'off' : 'on')
      }
    }
  })
  it('the shortest of the extractor: asked on, then pressed off at the wall', () => {
    const story = prove(glazeRoom(), 'booth-extractor', QUICK).surfaces[0]?.story
    expect(story?.steps.map(s => s.words)).toEqual(['Apron phone: On of Booth extractor', '"E" arrives at the board: Booth extractor goes on', '"+E" arrives at Apron phone', 'Somebody presses the button of Booth extractor: Booth extractor goes off'])
    expect(story?.ending).toBe('Apron phone shows on, Booth extractor is off')
  })
  // Pulses, holds and timers end by themselves: their stories may need delays outside the stated ones.
  it('of any small design replay on the bench, but for panels that ask by themselves', () => {
    fc.assert(fc.property(smallDesigns(['switched', 'level', 'follower']).filter(d => panels(d)[0]?.pollMs === 0 && d.loads.every(l => l.output.kind !== 'switched' || !l.output.timers)), (design) => {
      for (const s of prove(design, 'one', QUICK).surfaces) if (s.story && s.state === 'stale') expect(s.story.replayed, JSON.stringify(s.story.steps.map(x => x.words))).toBe(true)
    }), { numRuns: 120 })
  })
})

describe('fixes', () => {
  it('every fix offered for a stale or unsure panel of a small design makes it better, or the finding goes', () => {
    const rank: SurfaceState[] = ['in step', 'unsure', 'stale', 'not examined']
    fc.assert(fc.property(anySmallDesign, (design) => {
      for (const f of check(design).findings.filter(x => x.code === 'surface-stale' && x.loadId === 'one')) {
        for (const fix of f.fixes) {
          const after = prove(edited(design, fix.edit), 'one', QUICK).surfaces[0]!
          expect(rank.indexOf(after.state), `${fix.words}: ${after.story?.steps.map(s => s.words).join(' | ')}`).toBeLessThan(rank.indexOf('stale'))
        }
      }
    }), { numRuns: 150 })
  })
})

describe('projection', () => {
  it('keeps the load and neighbours whose codes clash with its own, and nothing else', () => {
    expect(project(glazeRoom(), 'wheel-lights').loads.map(l => l.id)).toEqual(['wheel-lights'])
    const clash = edited(glazeRoom(), { type: 'renameCode', linkId: 'apron-link', loadId: 'rinse-pump', which: 'on', code: 'L' })
    expect(project(clash, 'wheel-lights').loads.map(l => l.id)).toEqual(['wheel-lights', 'rinse-pump'])
  })
  it('a load out of the projection changes no verdict: whole design against part, in the naive search', () => {
    const design = edited(fanDesign(), { type: 'addLoad', name: 'Lamp' }, { type: 'addMessage', linkId: 'phone-link', loadId: 'lamp', codes: { on: 'L', off: 'l' } })
    expect(naiveSearch(design, 'fan', 'phone', QUICK)).toEqual(naiveSearch(fanDesign(), 'fan', 'phone', QUICK))
  })
})
