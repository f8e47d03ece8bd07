/** The engine on the core of the small Wi-Fi boards, emulated: all scenarios, and random events. */
import { afterAll, describe, expect, it } from 'vitest'
import { randomRuns, scenarioRun, scenarios } from '../../fixtures/engine-board/corpus'
import { Lx106Engine, lx106Tools } from '../../fixtures/engine-board/lx106'
import { difference } from '../../fixtures/engine-board/run'
import { canRun } from '../../fixtures/tools'

const there = canRun('the engine on the small Wi-Fi core', lx106Tools())

describe.skipIf(!there)('the engine on the core of the small Wi-Fi boards', () => {
  const engine = there ? new Lx106Engine() : null
  afterAll(() => engine?.dispose())

  it('plays all scenarios, and does as `step` does whatever happens', () => {
    const all = scenarios()
    const references = [...all.map(scenarioRun), ...randomRuns(4, 17, 4).map(r => r.reference)]
    const came = (engine as Lx106Engine).play(references)
    expect(references.flatMap((r, i) => difference(r, came[i] ?? []) ?? [])).toEqual([])
    expect(all.length).toBeGreaterThan(200)
  })
})
