import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { runScript } from '../../../../core/bench/bench'
import { check } from '../../../../core/checks/check'
import { VerdictCache } from '../../../../core/checks/verdicts'
import { panels, commanding } from '../../../../core/design/find'
import type { Design } from '../../../../core/design/schema'
import { Exploration, type What } from '../../../../core/proof/explore'
import { weightOf } from '../../../../core/proof/happenings'
import { project } from '../../../../core/proof/project'
import { Proof, prove, type PromiseState } from '../../../../core/proof/prove'
import { DEFAULT_BOUNDS } from '../../../../core/proof/bounds'
import { System } from '../../../../core/proof/system'
import { corpus } from '../../../fixtures/corpus'
import {
  anySmallDesign,
  smallDesigns,
  edited,
  over,
  fanDesign,
  glazeRoom,
  starter,
  twoPanelDesign,
} from '../../../fixtures/designs'
import { naiveSearch } from '../../../fixtures/naive-search'

/**
 * All situations of a system, past the first break too: how many, and the shortest and least
 * contrived ways to what is found.
 */
function exploreAll(
  design: Design,
  loadId: string,
  surfaceId: string,
  room: number,
  question: 'truth' | 'twice' | 'restart' = 'truth',
) {
  const system = new System(design, loadId, surfaceId, { question })
  system.room = room
  const search = new Exploration(system, [])
  while (!search.run(1000)) {
    /* the next slice */
  }
  if (question !== 'twice') search.settle()
  const after = Object.fromEntries(
    search.finds
      .filter(f => !OF_THE_BOARD.includes(f.what))
      .map(f => {
        const path = search.path(f)
        return [
          f.what,
          {
            events: path.length,
            weight:
              f.what === 'restless'
                ? 0
                : path.reduce((sum, e) => sum + weightOf(system.events[e]!), 0),
          },
        ]
      }),
  )
  return { situations: search.count, after }
}
const OF_THE_BOARD: readonly What[] = ['dead', 'clashed', 'astray', 'stuck']
const AGAINST_NAIVE: readonly string[] = [
  'bt told everything',
  'bt says it again',
  'bt says it again too soon',
  'bt loses messages',
  'bt codes begin alike',
  'web asks',
  'udp toggles',
  'lock with numbers',
  'rule, and a phone that is told',
  'remote, and a phone that is not told',
  'mixer held by phone',
  'strike that pulses',
]
/**
 * What is watched is left out once nothing can come of it, and commands with numbers are counted
 * anew: there only what is found is the same.
 */
const finds = ({ after }: { after: unknown }) => after

describe('the search against a naive one', () => {
  it('finds the same number of situations, and equally short and contrived breaks', () => {
    fc.assert(
      fc.property(anySmallDesign, design => {
        expect(exploreAll(design, 'one', 'panel', 2)).toEqual(
          naiveSearch(design, 'one', 'panel', 2),
        )
      }),
      { numRuns: 12 },
    )
  })
  it('of presses that are watched, and of starts, too', () => {
    fc.assert(
      fc.property(anySmallDesign, design => {
        expect(finds(exploreAll(design, 'one', 'panel', 2, 'twice'))).toEqual(
          finds(naiveSearch(design, 'one', 'panel', 2, { question: 'twice' })),
        )
        expect(exploreAll(design, 'one', 'panel', 2, 'restart')).toEqual(
          naiveSearch(design, 'one', 'panel', 2, { question: 'restart' }),
        )
      }),
      { numRuns: 3 },
    )
  })
  it('and over datagrams, where one may overtake another', () => {
    let overtook = 0
    fc.assert(
      fc.property(
        anySmallDesign.filter(d => d.links.every(l => l.kind !== 'http')),
        stream => {
          const design = over(stream, 'udp')
          const naive = naiveSearch(design, 'one', 'panel', 2)
          expect(exploreAll(design, 'one', 'panel', 2)).toEqual(naive)
          if (naive.situations > naiveSearch(over(stream, 'wire'), 'one', 'panel', 2).situations)
            overtook++
        },
      ),
      { numRuns: 5 },
    )
    expect(overtook).toBeGreaterThan(0)
  })
  it.each(corpus.filter(c => AGAINST_NAIVE.includes(c.name)).map(c => [c.name, c] as const))(
    'on "%s"',
    (name, { design }) => {
      for (const surface of commanding(design, 'fan')) {
        for (const question of ['truth', 'twice', 'restart'] as const) {
          // Numbers on datagrams: the naive search tells apart what is one and the same, and takes
          // minutes.
          if (name.includes('udp') && question !== 'truth') continue
          const { least, numbered } = new System(design, 'fan', surface.id, { question })
          const [fast, naive] = [
            exploreAll(design, 'fan', surface.id, least, question),
            naiveSearch(design, 'fan', surface.id, least, { question }),
          ]
          expect(fast.after, question).toEqual(naive.after)
          if (question !== 'twice' && !numbered)
            expect(fast.situations, question).toBe(naive.situations)
        }
      }
    },
  )
  it.each([
    ['waits', { tooSoon: 'wait' as const }],
    ['refuses', { tooSoon: 'refuse' as const }],
    ['trips', { tooSoon: 'wait' as const, longestOnMs: 60_000 }],
  ])('and on a load whose times are limited: it %s', (_, more) => {
    const limits = { minOnMs: 1000, minOffMs: 3000, longestOnMs: 0, ...more }
    for (const policy of ['assume', 'confirm'] as const) {
      const design = edited(
        fanDesign(),
        { type: 'setOutput', loadId: 'fan', patch: { limits } },
        { type: 'setBelief', surfaceId: 'phone', patch: { policy } },
      )
      expect(exploreAll(design, 'fan', 'phone', 2)).toEqual(naiveSearch(design, 'fan', 'phone', 2))
    }
  })
  it('a panel that assumes is wrong where a command may be refused; one that listens is not', () => {
    const limits = { minOnMs: 0, minOffMs: 3000, longestOnMs: 0, tooSoon: 'refuse' as const }
    const limited = (policy: 'assume' | 'confirm') =>
      edited(
        fanDesign(),
        { type: 'setOutput', loadId: 'fan', patch: { limits } },
        { type: 'setBelief', surfaceId: 'phone', patch: { policy } },
        { type: 'setReport', linkId: 'phone-link', loadId: 'fan', ack: false, change: true },
      )
    expect(exploreAll(limited('assume'), 'fan', 'phone', 2).after).toHaveProperty('wrong')
    expect(exploreAll(limited('confirm'), 'fan', 'phone', 2).after).not.toHaveProperty('wrong')
  })
  it('its story ends the same way on the bench', () => {
    const design = edited(
      fanDesign(),
      {
        type: 'setOutput',
        loadId: 'fan',
        patch: { limits: { minOnMs: 0, minOffMs: 3000, longestOnMs: 0, tooSoon: 'refuse' } },
      },
      { type: 'setBelief', surfaceId: 'phone', patch: { policy: 'assume' } },
      { type: 'setReport', linkId: 'phone-link', loadId: 'fan', ack: false, change: true },
    )
    expect(prove(design, 'fan').surfaces[0]?.story).toMatchObject({ replayed: true })
  })
  it('and on a design with two panels and lever', () => {
    const design = twoPanelDesign()
    for (const panel of panels(design)) {
      const naive = naiveSearch(design, 'fan', panel.id, 2)
      expect(naive.situations).toBeGreaterThan(50)
      expect(exploreAll(design, 'fan', panel.id, 2)).toEqual(naive)
    }
  })
})

const states = (design: Design): Record<string, Record<string, PromiseState>> =>
  Object.fromEntries(
    design.loads.map(l => [
      l.id,
      Object.fromEntries(prove(design, l.id).surfaces.map(s => [s.surfaceId, s.state])),
    ]),
  )

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
    expect(
      Object.values(states(starter()))
        .flatMap(s => Object.values(s))
        .every(s => s === 'in step'),
    ).toBe(true)
    expect(states(twoPanelDesign())).toEqual({ fan: { phone: 'in step', browser: 'in step' } })
  })
  it('report on connect turns the verdict of the wheel lights', () => {
    const told = edited(glazeRoom(), {
      type: 'reportOnConnect',
      linkId: 'apron-link',
      onConnect: true,
    })
    expect(states(told)['wheel-lights']).toEqual({
      'apron-phone': 'in step',
      'office-browser': 'in step',
    })
  })
  it('say within what they hold, and count what they looked at', () => {
    const verdict = prove(starter(), starter().loads[0]!.id)
    expect(verdict).toMatchObject({
      promise: 'P1',
      result: 'holds',
      bounds: DEFAULT_BOUNDS,
      underWay: { suffices: true },
    })
    expect(verdict.situations).toBeGreaterThan(50)
  })
  it('give up at the bound instead of promising', () => {
    const verdict = prove(twoPanelDesign(), 'fan', { ...DEFAULT_BOUNDS, situations: 30 })
    expect(verdict.result).toBe('gave up')
    expect(verdict.reason).toContain('the bound ended the search')
  })
  it('of a load that no panel shows is not asked for', () => {
    const bare = edited(fanDesign(), { type: 'removeSurface', surfaceId: 'phone' })
    expect(prove(bare, 'fan').result).toBe('not asked')
  })
  it('too many levers are told, not tried', () => {
    let many = fanDesign()
    for (let i = 0; i < 7; i++)
      many = edited(many, {
        type: 'addControl',
        surfaceId: 'wall',
        loadId: 'fan',
        kind: 'latching',
      })
    expect(prove(many, 'fan')).toMatchObject({
      result: 'gave up',
      reason: expect.stringContaining('latching switches'),
    })
  })
  it('are the same in slices of any size', () => {
    const whole = prove(glazeRoom(), 'wheel-lights')
    const proof = new Proof(glazeRoom(), 'wheel-lights')
    while (!proof.run(37)) {
      /* on */
    }
    expect(proof.verdict()).toEqual(whole)
  })
  it('of the cache are those without it', () => {
    const cache = new VerdictCache()
    cache.all(glazeRoom())
    const changed = edited(glazeRoom(), {
      type: 'setReport',
      linkId: 'apron-link',
      loadId: 'booth-extractor',
      change: true,
    })
    expect(cache.all(changed)).toEqual(new VerdictCache().all(changed))
  })
})

describe('stories', () => {
  it('of the glaze room end the same way on the bench', () => {
    const design = glazeRoom()
    for (const load of design.loads) {
      for (const s of prove(design, load.id).surfaces) {
        if (!s.story) continue
        expect(s.story.replayed, `${load.name} on ${s.surfaceId}`).toBe(true)
        const bench = runScript(design, s.story.script)
        expect(bench.shown(s.surfaceId!, load.id)).toBe(
          bench.value(load.id) === 'on' ? 'off' : 'on',
        )
      }
    }
  })
  it('the shortest of the extractor: asked on, then pressed off at the wall', () => {
    const story = prove(glazeRoom(), 'booth-extractor').surfaces[0]?.story
    expect(story?.steps.map(s => s.words)).toEqual([
      'Apron phone: On of Booth extractor',
      '"E" arrives at the board: Booth extractor goes on',
      '"+E" arrives at Apron phone',
      'Somebody presses the button of Booth extractor: Booth extractor goes off',
    ])
    expect(story?.ending).toBe('Apron phone shows on, Booth extractor is off')
  })
  // Pulses, holds and timers end by themselves: their stories may need delays outside the stated
  // ones.
  it('of any small design replay on the bench, but for panels that ask by themselves', () => {
    fc.assert(
      fc.property(
        smallDesigns(['switched', 'level', 'follower']).filter(
          d =>
            panels(d)[0]?.pollMs === 0
            && d.loads.every(l => l.output.kind !== 'switched' || !l.output.timers),
        ),
        design => {
          for (const s of prove(design, 'one').surfaces)
            if (s.story && s.state === 'stale')
              expect(s.story.replayed, JSON.stringify(s.story.steps.map(x => x.words))).toBe(true)
        },
      ),
      { numRuns: 120 },
    )
  })
})

describe('fixes', () => {
  it('every fix offered for a stale or unsure panel of a small design makes it better, or the finding goes', () => {
    const rank: PromiseState[] = ['in step', 'unsure', 'stale', 'not examined']
    fc.assert(
      fc.property(anySmallDesign, design => {
        for (const f of check(design).findings.filter(
          x => x.code === 'surface-stale' && x.loadId === 'one',
        )) {
          for (const fix of f.fixes) {
            const after = prove(edited(design, fix.edit), 'one').surfaces[0]!
            expect(
              rank.indexOf(after.state),
              `${fix.words}: ${after.story?.steps.map(s => s.words).join(' | ')}`,
            ).toBeLessThan(rank.indexOf('stale'))
          }
        }
      }),
      { numRuns: 150 },
    )
  })
})

describe('projection', () => {
  it('keeps the load and neighbours whose codes clash with its own, and nothing else', () => {
    expect(project(glazeRoom(), 'wheel-lights').loads.map(l => l.id)).toEqual(['wheel-lights'])
    const clash = edited(glazeRoom(), {
      type: 'renameCode',
      linkId: 'apron-link',
      loadId: 'rinse-pump',
      which: 'on',
      code: 'L',
    })
    expect(project(clash, 'wheel-lights').loads.map(l => l.id)).toEqual([
      'wheel-lights',
      'rinse-pump',
    ])
  })
  it('a load out of the projection changes no verdict: whole design against part, in the naive search', () => {
    const design = edited(
      fanDesign(),
      { type: 'addLoad', name: 'Lamp' },
      { type: 'addMessage', linkId: 'phone-link', loadId: 'lamp', codes: { on: 'L', off: 'l' } },
    )
    expect(naiveSearch(design, 'fan', 'phone', 2)).toEqual(
      naiveSearch(fanDesign(), 'fan', 'phone', 2),
    )
  })
})
