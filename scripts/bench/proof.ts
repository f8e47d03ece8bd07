/** Measurements of the proof: against Debian's model checker, a program written for one system, and the plain search of the tests. */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { finished, repairs } from '../../core/checks/repairs'
import { Study } from '../../core/bench/study'
import { THOROUGH, type Bounds } from '../../core/proof/bounds'
import { Exploration } from '../../core/proof/explore'
import { promela } from '../../core/proof/promela'
import { PROMISE_IDS } from '../../core/proof/promises'
import { proveAll } from '../../core/proof/prove'
import { Searched } from '../../core/proof/same'
import { System } from '../../core/proof/system'
import { demoDesigns } from '../../demo/demo'
import { corpus } from '../../tests/fixtures/corpus'
import { edited } from '../../tests/fixtures/designs'
import { naiveSearch } from '../../tests/fixtures/naive-search'
import { exploredByHand } from './by-hand'
import { tenLoads } from './designs'
import { timed, type Measure } from './table'

const WIDE = { presses: 12, commands: 12, drops: 6, powerCuts: 3 }

export function proofMeasures(measure: Measure): void {
  const told = corpus.find(c => c.name === 'bt shows reports only')
  if (!told) throw new Error('the design that is measured is gone')
  const phone = edited(told.design, { type: 'setKeyForm', surfaceId: 'phone', keyId: 'fan', form: 'pair' })
  const explore = (bounds: Bounds, design = phone, loadId = 'fan', surfaceId = 'phone') => {
    const search = new Exploration(new System(design, loadId, surfaceId, bounds), [])
    while (!search.run(50_000)) { /* on */ }
    return search
  }
  const wide = { ...THOROUGH, ...WIDE, situations: 16_000_000 }
  const { count } = explore(wide)
  same('the program written by hand', exploredByHand(WIDE), count)
  measure(`Proof: a phone that is told, ${count.toLocaleString('en')} situations, against a program written for it alone`, { unit: 'situations/s', ours: () => explore(wide).count, other: () => exploredByHand(WIDE), otherName: 'written by hand', counts: true })

  const ten = tenLoads()
  const box = { ...THOROUGH, presses: 5, commands: 5, drops: 4, situations: 16_000_000 }
  for (const [name, design, loadId, surfaceId, bounds] of [['a phone that is told', phone, 'fan', 'phone', wide], ['a box over radio among four surfaces', ten, 'lamp-0', 'box', box]] as const) {
    const checker = modelChecker(promela(design, explore(bounds, design, loadId, surfaceId)))
    if (!checker) continue
    const situations = explore(bounds, design, loadId, surfaceId).count
    same('the model checker', checker.run(), situations)
    measure(`Proof: ${name}, ${situations.toLocaleString('en')} situations, against spin (safety, breadth first, no reduction, -O3)`, { unit: 'situations/s', ours: () => explore(bounds, design, loadId, surfaceId).count, other: () => checker.run(), otherName: 'spin', counts: true })
    checker.done()
  }
  measure('Proof: memory per situation', { unit: 'bytes', value: () => explore(wide).bytesPerSituation() })

  const glaze = demoDesigns().find(d => d.id === 'glaze-room')
  if (!glaze) throw new Error('the demo is gone')
  const small = { ...THOROUGH, losses: 0, commands: 1 }
  measure('Proof: situations a second, against the plain search of the tests', { unit: 'situations/s', ours: () => explore(small, glaze, 'wheel-lights', 'apron-phone').count, other: () => naiveSearch(glaze, 'wheel-lights', 'apron-phone', small).situations, otherName: 'plain search', counts: true })

  const all = (design: typeof ten, searched?: Searched) => design.loads.map(l => proveAll(design, l.id, THOROUGH, { promises: PROMISE_IDS, ...searched ? { searched } : {} }))
  measure('Proof: ten loads, four surfaces, all nine promises, default bounds, one core', { unit: 'ms', value: () => timed(() => all(ten, new Searched())) })
  measure('the same, each load searched for itself', { unit: 'ms', value: () => timed(() => all(ten)) })
  measure('Proof: the glaze room, all nine promises, default bounds, one core', { unit: 'ms', value: () => timed(() => all(glaze, new Searched())) })
  measure('Repairs: of the phone that shows an extractor wrongly', { unit: 'ms', value: () => timed(() => finished(repairs({ design: glaze, loadId: 'booth-extractor', promise: 'P1', surfaceId: 'apron-phone', bounds: THOROUGH }))) })
  measure('Timing study: runs a second, ten loads, four surfaces', { unit: 'runs/s', counts: true, ours: () => {
    const study = new Study(ten, { runs: 200, seed: 1, away: 0.3 })
    study.run(200)
    return study.done
  } })
}

function same(who: string, theirs: number, ours: number): void {
  if (theirs !== ours) throw new Error(`${who} finds ${theirs} situations, the search ${ours}: what is not the same cannot be compared`)
}

/** The model checker made ready; null, and said, where it is not installed. */
function modelChecker(text: string): { run: () => number, done: () => void } | null {
  const dir = mkdtempSync(join(tmpdir(), 'nolvi-spin-'))
  try {
    writeFileSync(join(dir, 'system.pml'), text)
    execFileSync('spin', ['-a', 'system.pml'], { cwd: dir, stdio: 'ignore' })
    execFileSync('gcc', ['-O3', '-w', '-DSAFETY', '-DBFS', '-DNOREDUCE', '-o', 'pan', 'pan.c'], { cwd: dir })
  }
  catch {
    console.log('SKIPPED: the comparison with spin needs spin and gcc')
    return null
  }
  return {
    run: () => Number(/(\d+) states, stored/.exec(execFileSync('./pan', ['-E', '-m1000000'], { cwd: dir, encoding: 'utf8' }))?.[1]),
    done: () => rmSync(dir, { recursive: true, force: true }),
  }
}
