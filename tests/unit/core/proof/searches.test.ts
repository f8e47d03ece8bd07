/**
 * What searches share and leave behind: the same found for what is alike, causes with their loads,
 * records, bounds.
 */
import { describe, expect, it } from 'vitest'
import { runScript } from '../../../../core/bench/bench'
import { DEFAULT_BOUNDS, WIDEST } from '../../../../core/proof/bounds'
import { Exploration } from '../../../../core/proof/explore'
import { expand } from '../../../../core/proof/expand'
import { generated, walked, type Expand } from '../../../../core/proof/generate'
import { groupsOf } from '../../../../core/proof/groups'
import { project } from '../../../../core/proof/project'
import { Proof, prove, proveAll } from '../../../../core/proof/prove'
import { PROMISE_IDS } from '../../../../core/proof/promises'
import { keptOf, proofRunSchema } from '../../../../core/proof/record'
import { commanding } from '../../../../core/design/find'
import { Searched, shapeOf } from '../../../../core/proof/same'
import { rawsAcross } from '../../../../core/proof/story/clock'
import { Messages } from '../../../../core/proof/tables/messages'
import { System } from '../../../../core/proof/system'
import { readScript, scriptText } from '../../../../core/bench/script-text'
import { tenLoads } from '../../../../scripts/bench/designs'
import { corpus } from '../../../fixtures/corpus'
import {
  edited,
  glazeRoom,
  kilnCorridor,
  showroom,
  twoPanelDesign,
} from '../../../fixtures/designs'

const caseOf = (name: string) => corpus.find(c => c.name === name)!.design

describe('what comes back to its sender', () => {
  const messages = new Messages()
  const [a, b] = ['a', 'b'].map(text => messages.number(text, 'command')) as [number, number]
  const [echoA, echoB] = [messages.echoed(a), messages.echoed(b)]
  const queue = (...list: number[]) => list.reduce((all, m, i) => all | (m << (8 * i)), 0)
  const quick = { datagrams: true, echoesFirst: true }
  const arrives = { keeps: false }
  it('is sooner there than what was sent with it, where the wire is quicker than the way', () => {
    expect(
      messages.mayCome(queue(a), queue(echoA), 0, arrives, { ...quick, echoesFirst: false }),
    ).toBe(true)
    expect(messages.mayCome(queue(a), queue(echoA), 0, arrives, quick)).toBe(false)
    expect(messages.mayCome(queue(a), 0, 0, arrives, quick)).toBe(true)
    // Of two alike the first can be there.
    expect(messages.mayCome(queue(a, a), queue(echoA), 1, arrives, quick)).toBe(true)
    expect(messages.mayCome(queue(a, a), queue(echoA, echoA), 1, arrives, quick)).toBe(false)
    // An echo is none of another message, and what is lost need not have come back.
    expect(messages.mayCome(queue(a), queue(echoB), 0, arrives, quick)).toBe(true)
    expect(messages.mayCome(queue(a), queue(echoA), 0, { keeps: false, lost: true }, quick)).toBe(
      true,
    )
    expect(messages.mayCome(queue(a), queue(echoA), 0, { keeps: true }, quick)).toBe(false)
  })
  it('is sooner there than what is sent after it', () => {
    expect(messages.mayCome(queue(echoB, a), 0, 1, arrives, quick)).toBe(false)
    expect(messages.mayCome(queue(a, echoB), 0, 0, arrives, quick)).toBe(true)
    expect(messages.mayCome(queue(a, echoB), 0, 1, arrives, quick)).toBe(true)
    expect(messages.mayCome(queue(echoA, echoB), 0, 1, arrives, quick)).toBe(false)
  })
  it('lies where it was sent, with what may come in any order sorted between; where it may come at any time, behind all', () => {
    const [low, high] = [a, b].toSorted((x, y) => x - y) as [number, number]
    expect(messages.laned(queue(high, low, echoA, low), 0, quick).queue).toBe(
      queue(low, high, echoA, low),
    )
    expect(
      messages.laned(queue(high, echoA, low), 0b100, { ...quick, echoesFirst: false }),
    ).toEqual({ queue: queue(low, high, echoA), tags: 0b001 })
    expect(messages.laned(queue(high, echoA, low), 0b100, quick)).toEqual({
      queue: queue(high, echoA, low),
      tags: 0b100,
    })
    expect(messages.laned(queue(high, low), 0, { datagrams: false, echoesFirst: true }).queue).toBe(
      queue(high, low),
    )
  })
})

describe('searches that are the same', () => {
  it.each([
    ['glaze room', glazeRoom()],
    ['corridor', kilnCorridor()],
    ['showroom', showroom()],
  ])('are made once in the %s, and come to what each comes to alone', (_, design) => {
    const searched = new Searched()
    for (const load of design.loads)
      expect(proveAll(design, load.id, DEFAULT_BOUNDS, { searched })).toEqual(
        proveAll(design, load.id, DEFAULT_BOUNDS),
      )
  })
  it('ten loads that are built alike are one search, told in the words of each', () => {
    const design = tenLoads()
    const shape = (loadId: string) => shapeOf(project(design, loadId), 'phone')
    expect(new Set(design.loads.map(l => shape(l.id))).size).toBe(1)
    const silent = edited(design, {
      type: 'setReport',
      linkId: 'phone-link',
      loadId: 'lamp-3',
      change: false,
    })
    expect(shapeOf(project(silent, 'lamp-3'), 'phone')).not.toBe(shape('lamp-3'))
    const searched = new Searched()
    const deaf = design.loads.reduce(
      (d, l) => edited(d, { type: 'setReport', linkId: 'phone-link', loadId: l.id, change: false }),
      design,
    )
    const stories = deaf.loads.map(
      l => prove(deaf, l.id, DEFAULT_BOUNDS, { searched }).surfaces.find(s => s.story)?.story,
    )
    expect(stories.every(s => s?.replayed)).toBe(true)
    expect(stories[7]?.ending).toContain('Lamp 7')
  })
  it('two phones that are alike are one search, whichever is looked at', () => {
    const one = caseOf('web told everything')
    const alike = edited(
      one,
      { type: 'addPanel', name: 'Second', over: 'http' },
      {
        type: 'addMessage',
        linkId: 'second-link',
        loadId: 'fan',
        codes: { on: '/second/fan/on', off: '/second/fan/off' },
      },
    )
    const link = one.links[0]!
    const twins = edited(
      alike,
      {
        type: 'setLink',
        linkId: 'second-link',
        patch: { network: 'own', onConnect: true, timing: link.timing },
      },
      {
        type: 'setBelief',
        surfaceId: 'second',
        patch: (one.surfaces[1] as { belief: object }).belief,
      },
      { type: 'setPoll', surfaceId: 'second', pollMs: 0 },
      { type: 'setReport', linkId: 'second-link', loadId: 'fan', ack: true, change: true },
      {
        type: 'placeKey',
        surfaceId: 'second',
        key: {
          id: 'fan',
          page: 0,
          guard: 'none',
          icon: 'none',
          loadId: 'fan',
          form: 'state',
          xMm: 3,
          yMm: 20,
          widthMm: 28,
          heightMm: 18,
        },
      },
    )
    const shape = (surfaceId: string) => shapeOf(project(twins, 'fan'), surfaceId)
    expect(shape('second')).toBe(shape('phone'))
    const searched = new Searched()
    expect(proveAll(twins, 'fan', DEFAULT_BOUNDS, { searched })).toEqual(
      proveAll(twins, 'fan', DEFAULT_BOUNDS),
    )
  })
  it('a queue, a least time and an echo are no mere names', () => {
    const shapes = [
      'bt told everything',
      'bt with a queue',
      'bt told at most every second',
      'bt echoes',
    ].map(name => shapeOf(project(caseOf(name), 'fan'), 'phone'))
    expect(new Set(shapes).size).toBe(4)
  })
  it('codes that can be mistaken for one another are no mere names', () => {
    const shape = (name: string) => shapeOf(project(caseOf(name), 'fan'), 'phone')
    expect(shape('bt codes begin alike')).not.toBe(shape('bt told everything'))
  })
})

describe('causes', () => {
  it('gather the loads that break the same way', () => {
    const design = glazeRoom()
    const groups = groupsOf(
      design.loads.flatMap(l => proveAll(design, l.id, DEFAULT_BOUNDS, { promises: ['P1', 'P9'] })),
    )
    expect(groups.find(g => g.loadIds.includes('wheel-lights'))?.loadIds).toEqual([
      'wheel-lights',
      'cupboard-fan',
      'rinse-pump',
    ])
    expect(groups.filter(g => g.promise === 'P9').map(g => g.part.subject)).toEqual([
      'phone away',
      'module out',
    ])
    expect(groups.map(g => g.promise)).toEqual(groups.map(g => g.promise).toSorted())
  })
})

describe('what changes a load beside surfaces', () => {
  it('a rule crosses its limit on the bench as the story says', () => {
    const story = prove(caseOf('rule, and a phone that is not told'), 'fan', DEFAULT_BOUNDS)
      .surfaces[0]?.story
    expect(story?.steps.map(s => s.words).join()).toContain('"Warm" acts')
    expect(story?.script.steps.some(s => s.action.do === 'sense' && s.action.raw[0]! > 250)).toBe(
      true,
    )
    expect(story?.replayed).toBe(true)
  })
  it('readings either side of a limit are found for every kind of rule', () => {
    const thermometer = caseOf('rule, and a phone that is told').sensors[0]!
    const base = {
      id: 'r',
      name: 'R',
      sensorId: 'room',
      sets: [{ loadId: 'fan', value: 'on' }],
      sceneId: null,
      atStart: false,
    }
    expect(
      rawsAcross(thermometer, { when: 'above', ...base, limit: 25, back: 1 })?.map(
        r => r[0]! > 250,
      ),
    ).toEqual([false, true])
    expect(
      rawsAcross(thermometer, { when: 'below', ...base, limit: 5, back: 1 })?.map(r => r[0]! < 50),
    ).toEqual([false, true])
    expect(rawsAcross(thermometer, { when: 'above', ...base, limit: 5000, back: 1 })).toBeNull()
  })
  it('end contacts close behind the movement, and forbid their direction', () => {
    const vent = edited(
      caseOf('vent with a dead time'),
      { type: 'addSensor', kind: 'contact', name: 'Open' },
      { type: 'setOutput', loadId: 'fan', patch: { forwardEnd: 'open' } },
    )
    const dead = proveAll(vent, 'fan', DEFAULT_BOUNDS, { promises: ['P3', 'P5'] })
    expect(dead[0]?.result).toBe('broken')
    expect(dead[0]?.surfaces[0]?.story?.steps.map(s => s.words)).toContainEqual(
      expect.stringContaining('end contact of Fan closes'),
    )
    expect(dead[0]?.surfaces[0]?.story?.replayed).toBe(true)
    expect(dead[1]?.result).toBe('holds')
  })
  it('a knob that is wired turns the load by a click', () => {
    const dimmer = edited(
      caseOf('dimmer with a key for each level'),
      { type: 'addSensor', kind: 'knob', name: 'Dial', loadId: 'fan' },
      { type: 'setReport', linkId: 'phone-link', loadId: 'fan', change: false },
    )
    const story = prove(dimmer, 'fan', DEFAULT_BOUNDS).surfaces[0]?.story
    expect(story?.steps.map(s => s.words).join()).toContain('turns Dial up by a click')
    expect(story?.replayed).toBe(true)
  })
})

describe('bounds', () => {
  it('that are too wide end with what was seen, not with a promise', () => {
    const verdict = prove(twoPanelDesign(), 'fan', { ...WIDEST, situations: 20 })
    expect(verdict).toMatchObject({
      result: 'gave up',
      reason: expect.stringContaining('the bound ended the search'),
    })
    expect(verdict.situations).toBeLessThan(2 * 1000)
  })
  it('as many are under way as add anything new, and it is said whether more would', () => {
    const verdict = prove(caseOf('bt shows reports only'), 'fan')
    expect(verdict.underWay).toEqual({ most: 2, suffices: true })
    const narrow = prove(caseOf('bt says it again'), 'fan', { ...DEFAULT_BOUNDS, underWay: 2 })
    expect(narrow.underWay).toEqual({ most: 2, suffices: false })
    expect(prove(caseOf('bt says it again'), 'fan').underWay).toEqual({ most: 4, suffices: true })
  })
  it('where one message more adds nothing, two and three more add nothing either', () => {
    let known = 0
    for (const { name, design } of corpus) {
      for (const surface of commanding(design, 'fan')) {
        for (const question of ['truth', 'twice'] as const) {
          const system = new System(design, 'fan', surface.id, { question })
          if (system.numbered) continue
          const faces = [0, 1, 2, 3, 4].map(more => {
            system.room = system.least + more * system.copies
            const search = new Exploration(system, [], 4000)
            while (!search.run(4000)) {
              /* on */
            }
            return search.exhausted ? null : search.faces()
          })
          const at = faces.findIndex((f, i) => f !== null && i > 0 && f === faces[i - 1])
          if (at < 0) continue
          for (const f of faces.slice(at))
            if (f !== null)
              expect(f, `${name} ${surface.id} ${question}: ${faces.join()}`).toBe(faces[at])
          if (faces[at + 1] !== null && faces[at + 1] !== undefined) known++
        }
      }
    }
    expect(known).toBeGreaterThan(80)
  })
  it('what is stopped half-way is not examined, and what was done is kept', () => {
    const proof = new Proof(glazeRoom(), 'cupboard-fan', DEFAULT_BOUNDS, { promises: PROMISE_IDS })
    while (!proof.run(200) && proof.situations < 500) {
      /* on */
    }
    const results = proof.verdicts().map(v => v.result)
    expect(results).toContain('gave up')
    expect(proof.verdicts()[0]?.situations).toBeGreaterThan(0)
  })
  it('memory stays under 40 bytes a situation', () => {
    const system = new System(caseOf('dimmer with a key for each level'), 'fan', 'phone')
    system.room = 6
    const search = new Exploration(system, [])
    while (!search.run(50_000)) {
      /* on */
    }
    expect(search.count).toBeGreaterThan(200_000)
    expect(search.bytesPerSituation()).toBeLessThan(41)
  })
})

describe('records', () => {
  it('keep verdicts with their stories, which play again from text', () => {
    const design = glazeRoom()
    const kept = keptOf(proveAll(design, 'cupboard-fan', DEFAULT_BOUNDS))
    expect(
      proofRunSchema.safeParse({ kind: 'proof', revision: 1, title: 'promises', results: kept })
        .success,
    ).toBe(true)
    expect(kept.every(k => k.result !== 'not asked')).toBe(true)
    const story = kept.find(k => k.promise === 'P1')!.stories[0]!
    const again = readScript(scriptText(story.script))
    expect(again).toEqual(story.script)
    expect(runScript(design, again).trace.truth['cupboard-fan']).toEqual(
      runScript(design, story.script).trace.truth['cupboard-fan'],
    )
  })
  it('a datagram that comes twice is written as such', () => {
    const story = proveAll(caseOf('udp toggles'), 'fan', DEFAULT_BOUNDS, { promises: ['P2'] })[0]
      ?.surfaces[0]?.story
    const text = scriptText(story!.script)
    expect(text).toMatch(/fate phone-link up \d+ arrives [\d.]+ s and [\d.]+ s/)
    expect(readScript(text)).toEqual(story!.script)
  })
})

describe('successor code made for a system', () => {
  /** What follows each situation, in order, as text. */
  const followers = (
    system: System,
    expand: Expand,
    situations: readonly (readonly [number, number, number, number])[],
    quiet: boolean,
  ) =>
    situations.map(([w0, w1, up, down]) => {
      const noticed: number[][] = []
      const out = {
        words: new Int32Array(8192),
        at: 0,
        add: (...next: number[]) => {
          out.words.set(next, out.at)
          out.at += next.length
        },
        notice: (...what: number[]) => noticed.push(what),
      }
      system.overflows = 0
      expand(w0, w1, up, down, out, quiet)
      return `${out.words.slice(0, out.at).join(' ')} ${JSON.stringify(noticed)} ${system.overflows}`
    })
  it.each([
    ...corpus.map(c => [c.name, c.design, 'fan'] as const),
    ['a lever and saving', glazeRoom(), 'cupboard-fan'] as const,
    ['scenes and timers', kilnCorridor(), 'corridor-lights'] as const,
  ])('says the same as the table of transitions, in the same order: %s', (_, design, loadId) => {
    const asked = [
      [null, 'board'] as const,
      ...commanding(design, loadId).flatMap(s =>
        (['truth', 'twice', 'restart'] as const).map(q => [s.id, q] as const),
      ),
    ]
    for (const [surfaceId, question] of asked) {
      for (const inTime of [false, true]) {
        const system = new System(design, loadId, surfaceId, { inTime, question })
        system.room = 3
        const made = generated(system)
        if (!made) throw new Error('no code was made')
        const seen: [number, number, number, number][] = []
        const known = new Set<string>()
        const add = (w0: number, w1: number, up: number, down: number) => {
          const key = `${w0} ${w1} ${up} ${down}`
          if (!known.has(key)) seen.push([w0, w1, up, down])
          known.add(key)
        }
        const [a = 0, b = 0, c = 0, d = 0] = system.initial()
        add(a, b, c, d)
        const table = walked(system)
        for (let i = 0; i < seen.length && i < 150; i++)
          expand(
            system,
            ...seen[i]!,
            {
              add,
              notice: () => {
                /* of other questions */
              },
            },
            false,
          )
        for (const quiet of [false, true])
          expect(followers(system, made, seen.slice(0, 400), quiet)).toEqual(
            followers(system, table, seen.slice(0, 400), quiet),
          )
      }
    }
  })
})
