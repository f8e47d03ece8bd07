/** Small wrongs put into the engine are found by scenarios and random events. */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import { randomRuns, scenarioRun, scenarios } from '../../fixtures/engine-board/corpus'
import { MUTANTS } from '../../fixtures/engine-board/mutants'
import { difference, EngineBoard, QUICK } from '../../fixtures/engine-board/run'
import { canRun, has } from '../../fixtures/tools'

const there = canRun('mutants of the engine', { 'g++': has('g++') })

describe.skipIf(!there)('a wrong in the engine is found', () => {
  const whole = there ? new EngineBoard(QUICK) : null
  afterAll(() => whole?.dispose())
  const references = there
    ? [...scenarios().map(scenarioRun), ...randomRuns(60, 1, 60).map(r => r.reference)]
    : []

  it.each(MUTANTS.map(m => [`${m[0]}: ${m[1].split('\n')[0]}`, m] as const))(
    '%s',
    (_, [file, is, becomes]) => {
      const text = readFileSync(join('engine', file), 'utf8')
      expect(text.split(is).length, 'stands there once').toBe(2)
      const board = (whole as EngineBoard).changed(
        file,
        text.replace(is, () => becomes),
      )
      const came = board.play(references)
      board.dispose()
      expect(references.some((r, n) => difference(r, came[n] ?? []) !== null)).toBe(true)
    },
  )
})
