/**
 * The engine compiled for this machine with sanitizers: all conformance scenarios, and random
 * events on designs of all kinds, line for line as `step` does it.
 */
import { afterAll, describe, expect, it } from 'vitest'
import { compileController } from '../../../core/controller/program'
import { engineLacks } from '../../../core/sides/program/tables'
import { randomRuns, scenarioRun, scenarios } from '../../fixtures/engine-board/corpus'
import { difference, EngineBoard } from '../../fixtures/engine-board/run'
import { canRun, has } from '../../fixtures/tools'

const SCENARIOS = scenarios()
const there = canRun('the engine on this machine', { 'g++': has('g++') })

describe.skipIf(!there)('the engine', () => {
  const board = there ? new EngineBoard() : null
  afterAll(() => board?.dispose())
  const references = SCENARIOS.map(scenarioRun)
  const came = board?.play(references) ?? []

  it.each(SCENARIOS.map((s, i) => [`${s.file}: ${s.title}`, i] as const))('%s', (_, i) => {
    const reference = references[i] as (typeof references)[number]
    expect(difference(reference, came[i] ?? [])).toBeNull()
    // What is expected was expected of `step` before; here it is what came out of the engine.
    expect(came[i]?.length).toBe(reference.events.length)
  })

  it('does all that they ask for', () => {
    expect(SCENARIOS.flatMap(s => engineLacks(compileController(s.design)))).toEqual([])
  })

  it('does as `step` does, whatever happens', () => {
    const runs = randomRuns(100, 7, 100)
    const all = board?.play(runs.map(r => r.reference)) ?? []
    const differing = runs.flatMap(({ name, reference }, i) => {
      const found = difference(reference, all[i] ?? [])
      return found === null ? [] : [`${name}, ${found}`]
    })
    expect(differing).toEqual([])
    // Far more than a few of all those runs.
    expect(runs.reduce((sum, r) => sum + r.reference.events.length, 0)).toBeGreaterThan(100_000)
  })
})
