/** The program of a box asks, says and believes what the box of the bench does. */
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import {
  boxBoard,
  boxDifference,
  BoxReference,
  refusedBox,
  routedBox,
  wildBox,
  type MadeBox,
} from '../../fixtures/engine-board/box'
import { random } from '../../fixtures/engine-board/fuzz'
import { BOX_MUTANTS } from '../../fixtures/engine-board/mutants'
import { QUICK, STRICT } from '../../fixtures/engine-board/run'
import { canRun, has } from '../../fixtures/tools'

const ROUNDS = Number(process.env.NOLVI_ROUNDS ?? 200)
const there = canRun('the program of a box', { 'g++': has('g++') })

function run({ part, whole, box }: MadeBox, seed: number, count: number): BoxReference {
  const reference = new BoxReference(part, whole, box)
  const [link] = reference.program.links
  const heard = { ...link!, link: { ...link!.link, auth: { kind: 'none' }, numbered: null } }
  const program = { ...reference.program, links: [heard] } as typeof reference.program
  return random(reference, program, seed, count, 'report')
}

describe.skipIf(!there)('a box', () => {
  const board = there ? boxBoard(STRICT) : null
  afterAll(() => board?.dispose())
  const boxes = [
    ...Array.from({ length: 200 }, (_, i) => wildBox(i)),
    ...Array.from({ length: 10 }, routedBox),
    ...Array.from({ length: 60 }, (_, i) => wildBox(i, true)),
  ].filter(b => b !== null)

  it('does as the box of the bench', () => {
    const runs = boxes.map((b, i) => run(b, i, ROUNDS))
    const came = board!.play(runs)
    const differences = runs.flatMap((r, n) => {
      const d = boxDifference(r, came[n] ?? [])
      return d === null ? [] : [`${boxes[n]?.name}: ${d}`]
    })
    expect(differences.slice(0, 4)).toEqual([])
  })

  it('signs once more what was refused for its count', () => {
    const reference = refusedBox()
    const [came = []] = board!.play([reference])
    expect(boxDifference(reference, came)).toBeNull()
    const said = came.flat().flatMap(line => /^say 0 0 (.*)$/.exec(line)?.[1] ?? [])
    const counts = said.flatMap(
      hex => /n=(\d+)/.exec(Buffer.from(hex, 'hex').toString())?.[1] ?? [],
    )
    expect(counts).toEqual(['1', '10', '11', '21'])
  })

  const quick = there ? boxBoard(QUICK) : null
  afterAll(() => quick?.dispose())
  const few = there ? [...boxes.map((b, i) => run(b, i + 1000, 120)), refusedBox()] : []
  it.each(BOX_MUTANTS.map(m => [`${m[0]}: ${m[1]}`, m] as const))(
    'a wrong is found: %s',
    (_, [file, is, becomes]) => {
      const text = readFileSync(join('engine', file), 'utf8')
      expect(text.split(is).length, 'stands there once').toBe(2)
      const changed = quick!.changed(
        file,
        text.replace(is, () => becomes),
      )
      const came = changed.play(few)
      changed.dispose()
      expect(few.some((r, n) => boxDifference(r, came[n] ?? []) !== null)).toBe(true)
    },
  )
})
