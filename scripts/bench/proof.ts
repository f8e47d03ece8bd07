/**
 * Measurements of the proof: against Debian's model checker, a program written for one system, and
 * the plain search of the tests.
 */
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Design } from '../../core/design/schema'
import { finished, repairs } from '../../core/checks/repairs'
import { Study } from '../../core/bench/study'
import { VerdictCache } from '../../core/checks/verdicts'
import { DEFAULT_BOUNDS } from '../../core/proof/bounds'
import { certificate } from '../../core/proof/certify'
import { checked } from '../../core/proof/checker'
import { Exploration } from '../../core/proof/explore'
import { promela } from '../../core/proof/promela'
import { PROMISE_IDS } from '../../core/proof/promises'
import { proveAll } from '../../core/proof/prove'
import { Searched } from '../../core/proof/same'
import { System } from '../../core/proof/system'
import { Widening } from '../../core/proof/widen'
import { demoDesigns } from '../../demo/demo'
import { corpus } from '../../tests/fixtures/corpus'
import { edited } from '../../tests/fixtures/designs'
import { naiveSearch } from '../../tests/fixtures/naive-search'
import { exploredByHand } from './by-hand'
import { fortyLoads, tenLoads } from './designs'
import { timed, type Measure } from './table'

/** The two systems of reference, as they were counted before a proof could do without counters. */
const COUNTED = {
  phone: { presses: 12, commands: 12, drops: 6, losses: 1, doubles: 1, cuts: 3, each: 2 },
  box: { presses: 5, commands: 5, drops: 4, losses: 1, doubles: 1, cuts: 1, each: 2 },
}
const all = (design: Design, searched?: Searched) =>
  design.loads.map(l =>
    proveAll(design, l.id, DEFAULT_BOUNDS, {
      promises: PROMISE_IDS,
      ...(searched ? { searched } : {}),
    }),
  )

/** How long it takes to prove ten loads, ms. */
export function tenProved(): number {
  const ten = tenLoads()
  return timed(() => all(ten, new Searched()))
}

/** Room for a system that is large enough to be measured. */
const WIDE = 8

export function proofMeasures(measure: Measure): void {
  const told = corpus.find(c => c.name === 'bt shows reports only')
  const whole = corpus.find(c => c.name === 'bt told everything')
  if (!told || !whole) throw new Error('the design that is measured is gone')
  const phone = edited(told.design, {
    type: 'setKeyForm',
    surfaceId: 'phone',
    keyId: 'fan',
    form: 'pair',
  })
  const known = new Map<string, System>()
  /** What board and surface do is known from the first run on: measured is the search. */
  const explore = (room: number, design = phone, loadId = 'fan', surfaceId = 'phone') => {
    const key = `${design.id} ${loadId} ${surfaceId}`
    const system = known.get(key) ?? new System(design, loadId, surfaceId)
    known.set(key, system)
    system.room = Math.max(room, system.least)
    const search = new Exploration(system, [])
    while (!search.run(50_000)) {
      /* on */
    }
    return search
  }
  const { count } = explore(WIDE)
  same('the program written by hand', exploredByHand(WIDE), count)
  measure(
    `Proof: a phone that is told, ${WIDE} messages under way, ${count.toLocaleString('en')} situations, against a program written for it alone`,
    {
      unit: 'situations/s',
      ours: () => explore(WIDE).count,
      other: () => exploredByHand(WIDE),
      otherName: 'written by hand',
      counts: true,
    },
  )

  const ten = tenLoads()
  for (const [name, design, loadId, surfaceId, counted] of [
    ['a phone that is told', phone, 'fan', 'phone', COUNTED.phone],
    ['a box over radio among four surfaces', ten, 'lamp-0', 'box', COUNTED.box],
  ] as const) {
    const large = explore(WIDE, design, loadId, surfaceId)
    // The verdict for any number of presses, with as much under way as adds anything, against the
    // checker on the system that counts.
    const best = modelChecker(promela(design, large, counted), [])
    if (!best) continue
    const verdict = () => {
      const search = new Widening(new System(design, loadId, surfaceId), ['wrong'], DEFAULT_BOUNDS)
      while (!search.run(50_000)) {
        /* on */
      }
      return 1
    }
    const counting = best.run()
    measure(
      `Proof: verdicts of ${name} a second, any number of presses, against spin at its best (depth first, its reductions, -O3) on the system that counts, ${counting.toLocaleString('en')} situations`,
      {
        unit: 'verdicts/s',
        ours: verdict,
        other: () => best.run() && 1,
        otherName: 'spin',
        counts: true,
      },
    )
    best.done()
  }
  const dimmer = {
    ...(corpus.find(c => c.name === 'dimmer with a key for each level')?.design ?? phone),
    id: 'dimmer',
  }
  for (const [name, design, loadId, surfaceId, room] of [
    ['a box over radio among four surfaces', ten, 'lamp-0', 'box', WIDE],
    ['a dimmer with a key for each level', dimmer, 'fan', 'phone', 6],
  ] as const) {
    const large = explore(room, design, loadId, surfaceId)
    const checker = modelChecker(promela(design, large), ['-DBFS', '-DNOREDUCE'])
    if (!checker) continue
    same('the model checker', checker.run(), large.count)
    measure(
      `Proof: ${name}, ${room} messages under way, ${large.count.toLocaleString('en')} situations, against spin (safety, breadth first, no reduction, -O3)`,
      {
        unit: 'situations/s',
        ours: () => explore(room, design, loadId, surfaceId).count,
        other: () => checker.run(),
        otherName: 'spin',
        counts: true,
      },
    )
    checker.done()
  }
  measure('Proof: memory per situation', {
    unit: 'bytes',
    value: () => explore(6, dimmer).bytesPerSituation(),
  })

  const glaze = demoDesigns().find(d => d.id === 'glaze-room')
  if (!glaze) throw new Error('the demo is gone')
  measure('Proof: situations a second, against the plain search of the tests', {
    unit: 'situations/s',
    ours: () => explore(2, glaze, 'wheel-lights', 'apron-phone').count,
    other: () => naiveSearch(glaze, 'wheel-lights', 'apron-phone', 2).situations,
    otherName: 'plain search',
    counts: true,
  })

  measure('Proof: ten loads, four surfaces, all nine promises, one core', {
    unit: 'ms',
    warmUp: 8,
    value: () => timed(() => all(ten, new Searched())),
  })
  measure('the same, each load searched for itself', {
    unit: 'ms',
    warmUp: 2,
    value: () => timed(() => all(ten)),
  })
  const forty = fortyLoads()
  measure('Proof: forty loads, six surfaces, all nine promises, one core', {
    unit: 'ms',
    value: () => timed(() => all(forty, new Searched())),
  })
  // The phone waits a moment longer than ever before: every load has to be proved anew.
  const cache = new VerdictCache()
  cache.all(ten)
  let timeoutMs = 1000
  measure('Sheet: full proof after one edit that concerns all, ten loads, four surfaces', {
    unit: 'ms',
    value: () => {
      const changed = edited(ten, {
        type: 'setBelief',
        surfaceId: 'phone',
        patch: { timeoutMs: ++timeoutMs },
      })
      return timed(() => cache.all(changed))
    },
  })
  measure('Certificate: going through it, against making it, a phone that is told everything', {
    unit: 'certificates/s',
    counts: true,
    ours: () => {
      const made = certificate(whole.design, 'fan', 'phone', 'truth', DEFAULT_BOUNDS)
      return made && checked(whole.design, made) === null ? 1 : 0
    },
    other: () => (certificate(whole.design, 'fan', 'phone', 'truth', DEFAULT_BOUNDS) ? 1 : 0),
    otherName: 'making it alone',
  })
  measure('Proof: the glaze room, all nine promises, one core', {
    unit: 'ms',
    value: () => timed(() => all(glaze, new Searched())),
  })
  measure('Repairs: of the phone that shows an extractor wrongly', {
    unit: 'ms',
    value: () =>
      timed(() =>
        finished(
          repairs({
            design: glaze,
            loadId: 'booth-extractor',
            promise: 'P1',
            surfaceId: 'apron-phone',
            bounds: DEFAULT_BOUNDS,
          }),
        ),
      ),
  })
  measure('Timing study: runs a second, ten loads, four surfaces', {
    unit: 'runs/s',
    counts: true,
    ours: () => {
      const study = new Study(ten, { runs: 200, seed: 1, away: 0.3 })
      study.run(200)
      return study.done
    },
  })
}

function same(who: string, theirs: number, ours: number): void {
  if (theirs !== ours)
    throw new Error(
      `${who} finds ${theirs} situations, the search ${ours}: what is not the same cannot be compared`,
    )
}

/** The model checker made ready; null, and said, where it is not installed. */
function modelChecker(
  text: string,
  how: readonly string[],
): { run: () => number; done: () => void } | null {
  const dir = mkdtempSync(join(tmpdir(), 'nolvi-spin-'))
  try {
    writeFileSync(join(dir, 'system.pml'), text)
    execFileSync('spin', ['-a', 'system.pml'], { cwd: dir, stdio: 'ignore' })
    execFileSync('gcc', ['-O3', '-w', '-DSAFETY', ...how, '-o', 'pan', 'pan.c'], { cwd: dir })
  } catch {
    console.log('SKIPPED: the comparison with spin needs spin and gcc')
    return null
  }
  return {
    run: () =>
      Number(
        /(\d+) states, stored/.exec(
          execFileSync('./pan', ['-E', '-m10000000'], {
            cwd: dir,
            encoding: 'utf8',
            env: { LOOK: 'all' },
            maxBuffer: 1 << 26,
          }),
        )?.[1],
      ),
    done: () => rmSync(dir, { recursive: true, force: true }),
  }
}
