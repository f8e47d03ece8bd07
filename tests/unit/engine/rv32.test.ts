/** The engine on a 32-bit core in an emulated machine: all scenarios, and random events. */
import { afterAll, describe, expect, it } from 'vitest'
import { randomRuns, scenarioRun, scenarios } from '../../fixtures/engine-board/corpus'
import { Rv32Engine, rv32Tools } from '../../fixtures/engine-board/rv32'
import { difference } from '../../fixtures/engine-board/run'
import { canRun } from '../../fixtures/tools'

const there = canRun('the engine on an emulated 32-bit core', rv32Tools())

describe.skipIf(!there)('the engine on a 32-bit core', () => {
  const engine = there ? new Rv32Engine() : null
  afterAll(() => engine?.dispose())

  it('plays all scenarios, and does as `step` does whatever happens', () => {
    const all = scenarios()
    const references = [...all.map(scenarioRun), ...randomRuns(4, 17, 4).map(r => r.reference)]
    const came = (engine as Rv32Engine).play(references)
    expect(references.flatMap((r, i) => difference(r, came[i] ?? []) ?? [])).toEqual([])
    expect(all.length).toBeGreaterThan(200)
  })
})
