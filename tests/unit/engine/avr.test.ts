/** The engine as machine code of an 8-bit chip: all scenarios, and random events. */
import { describe, expect, it } from 'vitest'
import { randomRuns, scenarioRun, scenarios } from '../../fixtures/engine-board/corpus'
import { AvrEngine } from '../../fixtures/engine-board/avr'
import { difference } from '../../fixtures/engine-board/run'
import { avrTools, canRun } from '../../fixtures/tools'

const SCENARIOS = scenarios()
const there = canRun('the engine as 8-bit machine code', avrTools())

describe.skipIf(!there)('8-bit machine code of the engine', () => {
  const avr = there ? new AvrEngine() : null

  it.each(SCENARIOS.map(s => [`${s.file}: ${s.title}`, s] as const))('%s', (_, scenario) => {
    const reference = scenarioRun(scenario)
    expect(difference(reference, avr?.play(reference.table, reference.events) ?? [])).toBeNull()
  })

  it('does as `step` does, whatever happens', () => {
    const runs = randomRuns(20, 11, 8)
    const differing = runs.flatMap(({ name, reference }) => {
      const found = difference(reference, avr?.play(reference.table, reference.events) ?? [])
      return found === null ? [] : [`${name}, ${found}`]
    })
    expect(differing).toEqual([])
    expect(runs.reduce((sum, r) => sum + r.reference.events.length, 0)).toBeGreaterThan(5000)
  })
})
