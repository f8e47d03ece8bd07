/**
 * The program of a computer beside the stand-in of the same part: the same requests, streams,
 * datagrams, presses and cuts come to the same.
 */
import { afterAll, describe, expect, it } from 'vitest'
import { Both } from '../../fixtures/network-board/both'
import { networkParts } from '../../fixtures/network-board/parts'
import { NetworkProgram } from '../../fixtures/network-board/program'
import { Rounds } from '../../fixtures/network-board/rounds'
import { canRun, has } from '../../fixtures/tools'

const there = canRun('the program of a computer', { 'g++': has('g++') })
/** NOLVI_ROUNDS: so many on each part; NOLVI_EACH: one part in so many. */
const ROUNDS = Number(process.env.NOLVI_ROUNDS ?? 40)
const EACH = Number(process.env.NOLVI_EACH ?? 9)
const SEED = Number(process.env.NOLVI_SEED ?? 1)

describe.skipIf(!there)('the program of a computer does as the stand-in does', () => {
  const program = there ? new NetworkProgram() : null
  afterAll(() => program?.dispose())
  const parts = networkParts(60).filter((_, i) => i % EACH === SEED % EACH)

  it.each(parts.map((p, i) => [p.name, p.part, i] as const))('%s', async (_, part, i) => {
    const both = await Both.of(program as NetworkProgram, part)
    try {
      const rounds = new Rounds(both.part, 1000 * SEED + i, () => both.clockS)
      for (let n = 0; n < ROUNDS; n++) {
        const round = rounds.next()
        expect(await both.round(round), `${n}: ${JSON.stringify(round)}`).toBeNull()
      }
    } finally {
      await both.close()
    }
  })
})
