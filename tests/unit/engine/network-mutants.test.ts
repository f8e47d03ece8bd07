/** Each small wrong in what a board does on its network is found by rounds side by side. */
import { readFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { isHeld } from '../../../core/design/outputs/traits'
import { isUdp, speaksRoutes } from '../../../core/design/links/traits'
import type { Design } from '../../../core/design/schema'
import { Both } from '../../fixtures/network-board/both'
import { NETWORK_MUTANTS } from '../../fixtures/network-board/mutants'
import { networkParts } from '../../fixtures/network-board/parts'
import { NetworkProgram } from '../../fixtures/network-board/program'
import { Rounds } from '../../fixtures/network-board/rounds'
import { QUICK } from '../../fixtures/engine-board/run'
import { canRun, has } from '../../fixtures/tools'

const there = canRun('mutants of the program of a computer', { 'g++': has('g++') })
/** Tried in turn until a wrong shows. */
const ROUNDS = 120
const MOST_PARTS = 60

const rich = ({ links, loads }: Design) =>
  8 * links.filter(l => speaksRoutes(l) && l.page !== null).length
  + links.filter(l => l.auth.kind !== 'none').length
  + 2 * links.filter(isUdp).length
  + 2 * loads.filter(l => isHeld(l.output)).length

describe.skipIf(!there)('a wrong in what a board does on its network', () => {
  // Those with pages, proofs and held loads first.
  const parts = networkParts(60).toSorted((a, b) => Number(rich(b.part)) - Number(rich(a.part)))

  let program: NetworkProgram
  beforeAll(() => (program = new NetworkProgram(QUICK)))
  afterAll(() => program.dispose())

  it.each(NETWORK_MUTANTS)('%s: %s', async (file, text, instead) => {
    const is = readFileSync(`engine/${file}`, 'utf8')
    expect(is.split(text).length, 'stands there once').toBe(2)
    expect(await found(program.changed(file, is.replace(text, instead)))).not.toBeNull()
  })

  async function found(wrong: NetworkProgram): Promise<string | null> {
    for (let nth = 0; nth < MOST_PARTS; nth++) {
      const { part } = parts[nth] as (typeof parts)[number]
      const both = await Both.of(wrong, part)
      try {
        const rounds = new Rounds(both.part, 100 + nth, () => both.clockS)
        const first = rounds.deliberate()
        for (let n = 0; n < ROUNDS; n++) {
          const how = await both.round(first[n] ?? rounds.next())
          if (how !== null) return how
        }
      } finally {
        await both.close()
      }
    }
    return null
  }
})
