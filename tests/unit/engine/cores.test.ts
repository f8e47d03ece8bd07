/** The engine on 32-bit cores in emulated machines: all scenarios, and random events. */
import { afterAll, describe, expect, it } from 'vitest'
import { CoreEngine, CORES } from '../../fixtures/engine-board/core'
import { randomRuns, scenarioRun, scenarios } from '../../fixtures/engine-board/corpus'
import { difference } from '../../fixtures/engine-board/run'
import { canRun } from '../../fixtures/tools'

for (const [name, core] of Object.entries(CORES)) {
  const there = canRun(`the engine on the core ${name}`, core.needs())

  describe.skipIf(!there)(`the engine on ${name}`, () => {
    const engine = there ? new CoreEngine(core) : null
    afterAll(() => engine?.dispose())

    it('plays all scenarios, and does as `step` does whatever happens', () => {
      const all = scenarios()
      const references = [...all.map(scenarioRun), ...randomRuns(4, 17, 4).map(r => r.reference)]
      const came = (engine as CoreEngine).play(references)
      expect(references.flatMap((r, i) => difference(r, came[i] ?? []) ?? [])).toEqual([])
      expect(all.length).toBeGreaterThan(200)
    })
  })
}
