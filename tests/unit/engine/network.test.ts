/**
 * Programs of boards with a network beside the stand-in of the same part: the same requests,
 * streams, datagrams, presses and cuts come to the same.
 */
import { afterAll, describe, expect, it } from 'vitest'
import type { Design } from '../../../core/design/schema'
import { partOf } from '../../../core/design/part'
import { kilnCorridor } from '../../fixtures/designs'
import { Both } from '../../fixtures/network-board/both'
import { networkParts } from '../../fixtures/network-board/parts'
import { besieged, NetworkProgram, WifiProgram } from '../../fixtures/network-board/program'
import { Rounds } from '../../fixtures/network-board/rounds'
import { canRun, has } from '../../fixtures/tools'

const there = canRun('the program of a computer', { 'g++': has('g++') })
/** NOLVI_ROUNDS: so many on each part; NOLVI_EACH: one part in so many. */
const ROUNDS = Number(process.env.NOLVI_ROUNDS ?? 40)
const EACH = Number(process.env.NOLVI_EACH ?? 9)
const SEED = Number(process.env.NOLVI_SEED ?? 1)

/** Rounds on both, until they differ. */
async function play(program: NetworkProgram | WifiProgram, part: Design, seed: number) {
  const both = await Both.of(program, part)
  try {
    const rounds = new Rounds(both.part, seed, () => both.clockS)
    const first = rounds.deliberate()
    for (let n = 0; n < ROUNDS + first.length; n++) {
      const round = first[n] ?? rounds.next()
      expect(await both.round(round), `${n}: ${JSON.stringify(round)}`).toBeNull()
    }
  } finally {
    await both.close()
  }
}

const chosen = (parts: readonly { name: string; part: Design }[]) =>
  parts
    .filter((_, i) => i % EACH === SEED % EACH)
    .map((p, i) => [p.name, p.part, 1000 * SEED + i] as const)

describe.skipIf(!there)('the program of a computer does as the stand-in does', () => {
  const program = there ? new NetworkProgram() : null
  afterAll(() => program?.dispose())

  it.each(chosen(networkParts(60)))('%s', (_, part, seed) =>
    play(program as NetworkProgram, part, seed),
  )
})

describe.skipIf(!there)('the program of a small board with Wi-Fi does as the stand-in does', () => {
  const program = there ? new WifiProgram() : null
  afterAll(() => program?.dispose())
  // It has no clock of the day, and its sensors are its own.
  const parts = networkParts(60).filter(
    ({ part }) => !part.sensors.length && part.links.every(l => l.auth.kind !== 'time'),
  )

  it.each(chosen(parts))('%s', (_, part, seed) => play(program as WifiProgram, part, seed))
})

describe.skipIf(!there)('the program of a computer, besieged', () => {
  const COUNT = Number(process.env.NOLVI_SIEGE ?? 20_000)

  it('answers a plain request after all of it', () => {
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
