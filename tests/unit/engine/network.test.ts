/**
 * The program of a computer beside the stand-in of the same part: the same requests, streams,
 * datagrams, presses and cuts come to the same.
 */
import { afterAll, describe, expect, it } from 'vitest'
import { partOf } from '../../../core/design/part'
import { kilnCorridor } from '../../fixtures/designs'
import { Both } from '../../fixtures/network-board/both'
import { networkParts } from '../../fixtures/network-board/parts'
import { besieged, NetworkProgram } from '../../fixtures/network-board/program'
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
      const first = rounds.deliberate()
      for (let n = 0; n < ROUNDS + first.length; n++) {
        const round = first[n] ?? rounds.next()
        expect(await both.round(round), `${n}: ${JSON.stringify(round)}`).toBeNull()
      }
    } finally {
      await both.close()
    }
  })
})

describe.skipIf(!there)('the program of a computer, besieged', () => {
  const COUNT = Number(process.env.NOLVI_SIEGE ?? 20_000)

  it('answers a plain request after all of it', { timeout: 600_000 }, () => {
    const design = kilnCorridor()
    const part = partOf(design, design.controllers[0]?.id ?? '')
    const rounds = new Rounds(part, 7, () => 1_795_896_000)
    const plain = ['GET /state HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n']
    while (plain.length < 60) {
      const round = rounds.next()
      if ('bytes' in round) plain.push(round.bytes)
    }
    const said = besieged(part, COUNT, plain)
    if (process.env.NOLVI_SIEGE) console.info(said)
    const count = (status: number) =>
      Number(new RegExp(`status ${status}: (\\d+)`).exec(said)?.[1] ?? 0)
    expect(count(-1)).toBe(0)
    for (const status of [200, 400, 403, 404, 405, 414, 421])
      expect(count(status), `${status}`).toBeGreaterThan(0)
    expect(said).toContain('HTTP/1.1 200 OK')
    expect(said.split('\n').at(-3)).toMatch(/=/)
  })
})
