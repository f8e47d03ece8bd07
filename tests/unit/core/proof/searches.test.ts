/** What searches share and leave behind: the same found for what is alike, causes with their loads, records, bounds. */
import { describe, expect, it } from 'vitest'
import { runScript } from '../../../../core/bench/bench'
import { boundWords, QUICK, THOROUGH, WIDEST } from '../../../../core/proof/bounds'
import { Exploration } from '../../../../core/proof/explore'
import { generated, type Expand } from '../../../../core/proof/generate'
import { groupsOf } from '../../../../core/proof/groups'
import { project } from '../../../../core/proof/project'
import { Proof, prove, proveAll } from '../../../../core/proof/prove'
import { PROMISE_IDS } from '../../../../core/proof/promises'
import { keptOf, proofRunSchema } from '../../../../core/proof/record'
import { commanding } from '../../../../core/proof/replay'
import { Searched, shapeOf } from '../../../../core/proof/same'
import { rawsAcross } from '../../../../core/proof/story'
import { System } from '../../../../core/proof/system'
import { readScript, scriptText } from '../../../../core/bench/script-text'
import { tenLoads } from '../../../../scripts/bench/designs'
import { corpus } from '../../../fixtures/corpus'
import { edited, fanDesign, glazeRoom, kilnCorridor, showroom, twoPanelDesign } from '../../../fixtures/designs'

const caseOf = (name: string) => corpus.find(c => c.name === name)!.design

describe('searches that are the same', () => {
  it.each([['glaze room', glazeRoom()], ['corridor', kilnCorridor()], ['showroom', showroom()]])('are made once in the %s, and come to what each comes to alone', (_, design) => {
    const searched = new Searched()
    for (const load of design.loads) expect(proveAll(design, load.id, QUICK, { searched })).toEqual(proveAll(design, load.id, QUICK))
  })
  it('ten loads that are built alike are one search, told in the words of each', () => {
    const design = tenLoads()
    const shape = (loadId: string) => shapeOf(project(design, loadId), 'phone', QUICK, {}, null)
    expect(new Set(design.loads.map(l => shape(l.id))).size).toBe(1)
    const silent = edited(design, { type: 'setReport', linkId: 'phone-link', loadId: 'lamp-3', change: false })
    expect(shapeOf(project(silent, 'lamp-3'), 'phone', QUICK, {}, null)).not.toBe(shape('lamp-3'))
    const searched = new Searched()
    const deaf = design.loads.reduce((d, l) => edited(d, { type: 'setReport', linkId: 'phone-link', loadId: l.id, change: false }), design)
    const stories = deaf.loads.map(l => prove(deaf, l.id, QUICK, { searched }).surfaces.find(s => s.story)?.story)
    expect(stories.every(s => s?.replayed)).toBe(true)
    expect(stories[7]?.ending).toContain('Lamp 7')
  })
  it('two phones that are alike are one search, whichever is looked at', () => {
    const one = caseOf('web told everything')
    const alike = edited(one, { type: 'addPanel', name: 'Second', over: 'http' }, { type: 'addMessage', linkId: 'second-link', loadId: 'fan', codes: { on: '/second/fan/on', off: '/second/fan/off' } })
    const link = one.links[0]!
    const twins = edited(alike, { type: 'setLink', linkId: 'second-link', patch: { network: 'own', onConnect: true, timing: link.timing } }, { type: 'setBelief', surfaceId: 'second', patch: (one.surfaces[1] as { belief: object }).belief }, { type: 'setPoll', surfaceId: 'second', pollMs: 0 }, { type: 'setReport', linkId: 'second-link', loadId: 'fan', ack: true, change: true },
      { type: 'placeKey', surfaceId: 'second', key: { id: 'fan', page: 0, guard: 'none', loadId: 'fan', form: 'state', xMm: 3, yMm: 20, widthMm: 28, heightMm: 18 } })
    const shape = (surfaceId: string) => shapeOf(project(twins, 'fan'), surfaceId, QUICK, {}, null)
    expect(shape('second')).toBe(shape('phone'))
    const searched = new Searched()
    expect(proveAll(twins, 'fan', QUICK, { searched })).toEqual(proveAll(twins, 'fan', QUICK))
  })
  it('codes that can be mistaken for one another are no mere names', () => {
    const shape = (name: string) => shapeOf(project(caseOf(name), 'fan'), 'phone', QUICK, {}, null)
    expect(shape('bt codes begin alike')).not.toBe(shape('bt told everything'))
  })
})

describe('causes', () => {
  it('gather the loads that break the same way', () => {
    const design = glazeRoom()
    const groups = groupsOf(design.loads.flatMap(l => proveAll(design, l.id, QUICK, { promises: ['P1', 'P9'] })))
    expect(groups.find(g => g.loadIds.includes('wheel-lights'))?.loadIds).toEqual(['wheel-lights', 'cupboard-fan', 'rinse-pump'])
    expect(groups.filter(g => g.promise === 'P9').map(g => g.part.subject)).toEqual(['phone away', 'module out'])
    expect(groups.map(g => g.promise)).toEqual(groups.map(g => g.promise).toSorted())
  })
})

describe('what changes a load beside surfaces', () => {
  it('a rule crosses its limit on the bench as the story says', () => {
    const story = prove(caseOf('rule, and a phone that is not told'), 'fan', QUICK).surfaces[0]?.story
    expect(story?.steps.map(s => s.words).join()).toContain('"Warm" acts')
    expect(story?.script.steps.some(s => s.action.do === 'sense' && s.action.raw[0]! > 250)).toBe(true)
    expect(story?.replayed).toBe(true)
  })
  it('readings either side of a limit are found for every kind of rule', () => {
    const thermometer = caseOf('rule, and a phone that is told').sensors[0]!
    const base = { id: 'r', name: 'R', sensorId: 'room', sets: [{ loadId: 'fan', value: 'on' }], atStart: false }
    expect(rawsAcross(thermometer, { when: 'above', ...base, limit: 25, back: 1 })?.map(r => r[0]! > 250)).toEqual([false, true])
    expect(rawsAcross(thermometer, { when: 'below', ...base, limit: 5, back: 1 })?.map(r => r[0]! < 50)).toEqual([false, true])
    expect(rawsAcross(thermometer, { when: 'above', ...base, limit: 5000, back: 1 })).toBeNull()
  })
  it('end contacts close behind the movement, and forbid their direction', () => {
    const vent = edited(caseOf('vent with a dead time'), { type: 'addSensor', kind: 'contact', name: 'Open' }, { type: 'setOutput', loadId: 'fan', patch: { forwardEnd: 'open' } })
    const dead = proveAll(vent, 'fan', THOROUGH, { promises: ['P3', 'P5'] })
    expect(dead[0]?.result).toBe('broken')
    expect(dead[0]?.surfaces[0]?.story?.steps.map(s => s.words)).toContainEqual(expect.stringContaining('end contact of Fan closes'))
    expect(dead[0]?.surfaces[0]?.story?.replayed).toBe(true)
    expect(dead[1]?.result).toBe('holds')
  })
  it('a knob that is wired turns the load by a click', () => {
    const dimmer = edited(caseOf('dimmer with a key for each level'), { type: 'addSensor', kind: 'knob', name: 'Dial', loadId: 'fan' }, { type: 'setReport', linkId: 'phone-link', loadId: 'fan', change: false })
    const story = prove(dimmer, 'fan', QUICK).surfaces[0]?.story
    expect(story?.steps.map(s => s.words).join()).toContain('turns Dial up by a click')
    expect(story?.replayed).toBe(true)
  })
})

describe('bounds', () => {
  it('that are too wide end with what was seen, not with a promise', () => {
    const verdict = prove(twoPanelDesign(), 'fan', { ...WIDEST, queue: 2, situations: 5000 })
    expect(verdict).toMatchObject({ result: 'gave up', reason: expect.stringContaining('the bound ended the search') })
    expect(verdict.situations).toBeLessThan(2 * 7000)
  })
  it('queues of up to four take fewer kinds of messages, and say so', () => {
    expect(prove(fanDesign(), 'fan', { ...QUICK, queue: 4 }).situations).toBeGreaterThan(prove(fanDesign(), 'fan', { ...QUICK, queue: 2 }).situations)
    const many = edited(caseOf('dimmer with a key for each level'), { type: 'setOutput', loadId: 'fan', patch: { stops: [0, 5, 10] } })
    expect(prove(many, 'fan', { ...QUICK, queue: 4 }).result).not.toBe('gave up')
  })
  it('are told in words', () => {
    expect(boundWords(QUICK)).toBe('1 change from elsewhere, 1 press, 1 link drop, 1 power cut, 1 lost and 1 doubled messages where the link can, 2 messages under way each way')
  })
  it('what is stopped half-way is not examined, and what was done is kept', () => {
    const proof = new Proof(glazeRoom(), 'cupboard-fan', THOROUGH, { promises: PROMISE_IDS })
    while (!proof.run(2000) && proof.situations < 5000) { /* on */ }
    const results = proof.verdicts().map(v => v.result)
    expect(results).toContain('gave up')
    expect(proof.verdicts()[0]?.situations).toBeGreaterThan(0)
  })
  it('memory stays under 40 bytes a situation', () => {
    const search = new Exploration(new System(tenLoads(), 'lamp-0', 'box', THOROUGH), [])
    while (!search.run(50_000)) { /* on */ }
    expect(search.count).toBeGreaterThan(30_000)
    expect(search.bytesPerSituation()).toBeLessThan(41)
  })
})

describe('records', () => {
  it('keep verdicts with their stories, which play again from text', () => {
    const design = glazeRoom()
    const kept = keptOf(proveAll(design, 'cupboard-fan', QUICK))
    expect(proofRunSchema.safeParse({ kind: 'proof', revision: 1, title: 'promises', results: kept }).success).toBe(true)
    expect(kept.every(k => k.result !== 'not asked')).toBe(true)
    const story = kept.find(k => k.promise === 'P1')!.stories[0]!
    const again = readScript(scriptText(story.script))
    expect(again).toEqual(story.script)
    expect(runScript(design, again).trace.truth['cupboard-fan']).toEqual(runScript(design, story.script).trace.truth['cupboard-fan'])
  })
  it('a datagram that comes twice is written as such', () => {
    const story = proveAll(caseOf('udp toggles'), 'fan', QUICK, { promises: ['P2'] })[0]?.surfaces[0]?.story
    const text = scriptText(story!.script)
    expect(text).toMatch(/fate phone-link up \d+ arrives [\d.]+ s and [\d.]+ s/)
    expect(readScript(text)).toEqual(story!.script)
  })
})

describe('successor code made for a system', () => {
  /** What follows each situation, in order, as text. */
  const followers = (expand: Expand, situations: readonly (readonly [number, number, number])[], quiet: boolean) => situations.map(([w0, w1, w2]) => {
    const out = {
      words: new Int32Array(4096), at: 0,
      add: (...next: number[]) => {
        out.words.set(next, out.at)
        out.at += next.length
      },
      notice: () => { /* of other questions */ },
    }
    expand(w0, w1, w2, out, quiet)
    return out.words.slice(0, out.at).join(' ')
  })
  it.each([...corpus.map(c => [c.name, c.design, 'fan'] as const), ['a lever and saving', glazeRoom(), 'cupboard-fan'] as const, ['scenes and timers', kilnCorridor(), 'corridor-lights'] as const])('says the same as the general one, in the same order: %s', (_, design, loadId) => {
    for (const surface of commanding(design, loadId)) {
      for (const bounds of [QUICK, { ...QUICK, queue: 3 }]) {
        for (const inTime of [false, true]) {
          const system = new System(design, loadId, surface.id, bounds, { inTime, question: 'truth' })
          const made = generated(system)
          // Keep-alives that come in time are known to the general one only.
          if (!made && system.keepsAlive) continue
          if (!made) throw new Error('no code was made')
          const seen: [number, number, number][] = []
          const known = new Set<string>()
          const add = (w0: number, w1: number, w2: number) => {
            const key = `${w0} ${w1} ${w2}`
            if (!known.has(key)) seen.push([w0, w1, w2])
            known.add(key)
          }
          const [a = 0, b = 0, c = 0] = system.initial()
          add(a, b, c)
          for (let i = 0; i < seen.length && i < 400; i++) system.expand(...seen[i]!, { add, notice: () => { /* of other questions */ } }, false)
          for (const quiet of [false, true]) expect(followers(made, seen, quiet)).toEqual(followers((...args) => system.expand(...args), seen, quiet))
        }
      }
    }
  })
  it('is not made for questions that keep notes', () => {
    expect(generated(new System(fanDesign(), 'fan', 'phone', QUICK, { question: 'twice' }))).toBeNull()
    expect(generated(new System(fanDesign(), 'fan', null, QUICK))).toBeNull()
  })
})
