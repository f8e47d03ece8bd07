/**
 * The engine with room for one design and no more, as it is given away: random events
 * come to the same as with room for all, and nothing is written beside its place.
 */
import { afterAll, describe, expect, it } from 'vitest'
import { engineSizes, sizesHeader } from '../../../core/sides/program/sizes'
import { engineDesigns } from '../../fixtures/engine-board/corpus'
import { randomRun } from '../../fixtures/engine-board/fuzz'
import { difference, EngineBoard } from '../../fixtures/engine-board/run'
import { canRun, has } from '../../fixtures/tools'

const there = canRun('the engine with no room to spare', { 'g++': has('g++') })
const FLAGS = [
  '-std=c++11',
  '-O0',
  '-w',
  '-g',
  '-fsanitize=address,undefined',
  '-fno-sanitize-recover=all',
]
/** One in so many designs of scenarios and demo, and at random; NOLVI_TIGHT tries others. */
const EACH = Number(process.env.NOLVI_TIGHT ?? 71)

describe.skipIf(!there)('with room for one design', () => {
  const whole = there ? new EngineBoard(FLAGS) : null
  afterAll(() => whole?.dispose())
  const chosen = engineDesigns(80).filter((_, i) => i % EACH === 3)

  it.each(chosen.map(d => [d.name, d.program] as const))('%s', (_, program) => {
    // The board of lines reads whole events.
    const sizes = sizesHeader(engineSizes(program)).replace('uint16_t ', 'uint16_t heard = 4096, ')
    const board = (whole as EngineBoard).changed('host/sizes.h', sizes)
    const references = [1, 2, 3].map(seed => randomRun(program, seed, 300))
    const came = board.play(references)
    board.dispose()
    expect(references.flatMap((r, i) => difference(r, came[i] ?? []) ?? [])).toEqual([])
  })
})
