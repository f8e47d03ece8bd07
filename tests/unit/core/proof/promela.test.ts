/** The systems of the corpus in Debian's model checker: as many situations, the same verdict, a story as short. */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { remotes, showsState } from '../../../../core/design/find'
import type { Design } from '../../../../core/design/schema'
import { QUICK, THOROUGH, type Bounds } from '../../../../core/proof/bounds'
import { Exploration, type What } from '../../../../core/proof/explore'
import { promela } from '../../../../core/proof/promela'
import { System } from '../../../../core/proof/system'
import { corpus } from '../../../fixtures/corpus'
import { glazeRoom } from '../../../fixtures/designs'
import { canRun, has } from '../../../fixtures/tools'

const BOUNDS: Bounds = { ...THOROUGH, presses: 1, commands: 2, losses: 1, doubles: 1, drops: 1 }
const ready = canRun('the comparison with a model checker', { spin: has('spin'), gcc: has('gcc') })

function explored(design: Design, loadId: string, surfaceId: string, bounds: Bounds) {
  const search = new Exploration(new System(design, loadId, surfaceId, bounds), [])
  while (!search.run(50_000)) { /* the next slice */ }
  return search
}

function lengthOf(search: Exploration, what: What): number | null {
  const find = search.found(what)
  return find && search.path(find).length
}

/** How many situations there are, and after how many steps the first is wrong, or not certain. */
function checked(text: string): { situations: number, wrongAfter: number | null, uncertainAfter: number | null } {
  const dir = mkdtempSync(join(tmpdir(), 'nolvi-spin-'))
  try {
    writeFileSync(join(dir, 'system.pml'), text)
    execFileSync('spin', ['-a', 'system.pml'], { cwd: dir, stdio: 'ignore' })
    execFileSync('gcc', ['-O0', '-w', '-DSAFETY', '-DBFS', '-DNOREDUCE', '-o', 'pan', 'pan.c'], { cwd: dir })
    const run = (look: string) => execFileSync('./pan', ['-E', '-m1000000'], { cwd: dir, encoding: 'utf8', env: look ? { LOOK: look } : {} })
    // It counts the depth of a break from 0.
    const depth = (out: string) => /at depth (\d+)/.test(out) ? Number(/at depth (\d+)/.exec(out)?.[1]) + 1 : null
    return { situations: Number(/(\d+) states, stored/.exec(run('all'))?.[1]), wrongAfter: depth(run('')), uncertainAfter: depth(run('uncertain')) }
  }
  finally { rmSync(dir, { recursive: true, force: true }) }
}

describe.skipIf(!ready)('a model checker agrees', () => {
  const cases = corpus.flatMap(c => remotes(c.design).filter(showsState).map(s => [c.name, s.id, c.design] as const))
  it.each(cases)('on "%s" and its %s', (_, surfaceId, design) => {
    const search = explored(design, 'fan', surfaceId, BOUNDS)
    const wrong = lengthOf(search, 'wrong')
    const unsure = lengthOf(search, 'unsure')
    const uncertain = wrong === null ? unsure : unsure === null ? wrong : Math.min(wrong, unsure)
    const found = checked(promela(design, search))
    expect(found.situations).toBe(search.count)
    // What is so from the start takes no step; the checker looks after steps only.
    if (wrong !== 0) expect(found.wrongAfter).toBe(wrong)
    if (uncertain !== 0) expect(found.uncertainAfter).toBe(uncertain)
  }, 60_000)
  it('on a load with a lever, saving, and queues of three', () => {
    const search = explored(glazeRoom(), 'cupboard-fan', 'apron-phone', { ...QUICK, queue: 3 })
    expect(checked(promela(glazeRoom(), search))).toMatchObject({ situations: search.count, wrongAfter: lengthOf(search, 'wrong') })
  }, 60_000)
})

describe('as Promela', () => {
  it('only what a surface shows can be written', () => {
    const search = new Exploration(new System(corpus[0]!.design, 'fan', 'phone', QUICK, { question: 'twice' }), [])
    expect(() => promela(corpus[0]!.design, search)).toThrow('only what a surface shows')
  })
})
