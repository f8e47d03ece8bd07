/**
 * The systems of the corpus in Debian's model checker: as many situations, the same verdict, a
 * story as short.
 */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import type { Design } from '../../../../core/design/schema'
import { Exploration, type What } from '../../../../core/proof/explore'
import { promela } from '../../../../core/proof/promela'
import { commanding } from '../../../../core/design/find'
import { System } from '../../../../core/proof/system'
import { corpus } from '../../../fixtures/corpus'
import { glazeRoom } from '../../../fixtures/designs'
import { canRun, has } from '../../../fixtures/tools'

/** Most of these are compiled for longer than they run. */
const COMPILER = has('tcc') ? 'tcc' : 'gcc'
const ready = canRun('the comparison with a model checker', { spin: has('spin'), gcc: has('gcc') })

type Asked = System['question']
const LOOKS: Record<Asked, readonly What[]> = {
  truth: ['wrong', 'unsure'],
  twice: ['twice', 'vanished'],
  restart: ['moved', 'jumped'],
  board: ['dead', 'clashed', 'astray', 'stuck'],
}

/** All situations; what is watched is followed to its end, as the checker does. */
function explored(
  design: Design,
  loadId: string,
  surfaceId: string | null,
  question: Asked,
  room = 2,
) {
  const system = new System(design, loadId, surfaceId, { question })
  system.watch.ends = false
  system.room = Math.max(system.least, room)
  const search = new Exploration(system, [])
  while (!search.run(50_000)) {
    /* the next slice */
  }
  return search
}

/**
 * Events of the shortest story of a kind; what is so from the start takes none, and the checker
 * looks after steps only.
 */
function lengthOf(search: Exploration, what: What): number | null {
  const lengths = search.finds.filter(f => f.what === what).map(f => search.path(f).length)
  return lengths.length ? Math.min(...lengths) : null
}

/** How many situations there are, and after how many steps the first of each kind is found. */
function checked(
  text: string,
  looks: readonly What[],
): { situations: number; after: Partial<Record<What, number | null>> } {
  const dir = mkdtempSync(join(tmpdir(), 'nolvi-spin-'))
  try {
    writeFileSync(join(dir, 'system.pml'), text)
    execFileSync('spin', ['-a', 'system.pml'], { cwd: dir, stdio: 'ignore' })
    execFileSync(COMPILER, ['-w', '-DSAFETY', '-DBFS', '-DNOREDUCE', '-o', 'pan', 'pan.c'], {
      cwd: dir,
    })
    const run = (look: string) =>
      execFileSync('./pan', ['-E', '-m100000', '-w16'], {
        cwd: dir,
        encoding: 'utf8',
        env: { LOOK: look },
      })
    // It counts the depth of a break from 0.
    const depth = (out: string) =>
      /at depth (\d+)/.test(out) ? Number(/at depth (\d+)/.exec(out)?.[1]) + 1 : null
    return {
      situations: Number(/(\d+) states, stored/.exec(run('all'))?.[1]),
      after: Object.fromEntries(looks.map(l => [l, depth(run(l))])),
    }
  } finally {
    rmSync(dir, { recursive: true, force: true })
  }
}

describe.skipIf(!ready)('a model checker agrees', () => {
  const cases = corpus
    .flatMap(c => [
      [c.name, null, 'board', c.design] as const,
      ...commanding(c.design, 'fan').flatMap(s =>
        (['truth', 'twice', 'restart'] as const).map(q => [c.name, s.id, q, c.design] as const),
      ),
    ])
    // What presses and starts do is the same matter on most of them: one in six is enough.
    .filter(([, , question], i) => question === 'truth' || question === 'board' || i % 6 === 0)
    // Numbers are counted anew at each step, which the checker is not told of.
    .filter(([, surfaceId, question, design]) => {
      const { numbered, echoes } = new System(design, 'fan', surfaceId, { question })
      return !numbered && !echoes
    })
  it.each(cases)('on "%s", %s, %s', (_, surfaceId, question, design) => {
    const search = explored(design, 'fan', surfaceId, question)
    const found = checked(promela(design, search), LOOKS[question])
    expect(found.situations).toBe(search.count)
    for (const what of LOOKS[question])
      if (lengthOf(search, what) !== 0) expect(found.after[what], what).toBe(lengthOf(search, what))
  })
  it('on a load with a lever, saving, and four messages under way', () => {
    const search = explored(glazeRoom(), 'cupboard-fan', 'apron-phone', 'truth', 4)
    expect(checked(promela(glazeRoom(), search), ['wrong'])).toEqual({
      situations: search.count,
      after: { wrong: lengthOf(search, 'wrong') },
    })
  })
  it('a system that counts is one with more situations', () => {
    const search = explored(corpus[0]!.design, 'fan', 'phone', 'truth')
    expect(
      checked(
        promela(corpus[0]!.design, search, {
          presses: 2,
          commands: 2,
          drops: 1,
          losses: 1,
          doubles: 1,
          cuts: 1,
          each: 2,
        }),
        [],
      ).situations,
    ).toBeGreaterThan(search.count)
  })
})

describe('as Promela', () => {
  it('commands that carry numbers cannot be written', () => {
    const numbered = corpus.find(c => c.name === 'lock with numbers')!
    expect(() =>
      promela(numbered.design, explored(numbered.design, 'fan', 'phone', 'truth')),
    ).toThrow('carry numbers')
  })
})
