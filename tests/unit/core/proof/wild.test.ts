/**
 * Designs and scripts made at random, in bad combinations too: what is said to hold plainly is not
 * refuted by the bench, what is told as a story comes true. NOLVI_WILD tries more of them, from
 * another seed: "300 1000".
 */
import { describe, expect, it } from 'vitest'
import { proveAll } from '../../../../core/proof/prove'
import { farSurfaces } from '../../../../core/design/find'
import { canBeOverheard } from '../../../../core/proof/replay'
import { opens, refutes, runWild } from '../../../fixtures/refutes'
import { strangerRun, wildDesign, wildScript } from '../../../fixtures/wild'

const [COUNT = 24, FROM = 1000] = (process.env.NOLVI_WILD ?? '')
  .split(' ')
  .filter(Boolean)
  .map(Number)
const SCRIPTS = 12
/** The widest of them take long beside other work. */
const PATIENCE_MS = 300_000
describe('random designs', () => {
  const seeds = Array.from({ length: COUNT }, (_, i) => FROM + i)
  it.each(seeds)(
    'of seed %i: nothing that holds plainly is refuted, every story comes true',
    seed => {
      const design = wildDesign(seed)
      const verdicts = design.loads.map(load => ({ load, all: proveAll(design, load.id) }))
      for (const { load, all } of verdicts) {
        for (const v of all) {
          // A plain "holds" leaves nothing out that may break it.
          if (v.result === 'holds')
            expect(
              v.assumptions.filter(
                a =>
                  a.open
                  && (a.surfaceId === null || v.surfaces.some(s => s.surfaceId === a.surfaceId)),
              ),
              `${v.promise} of ${load.id}`,
            ).toEqual([])
          for (const s of v.surfaces)
            if (s.story && s.state !== 'not examined')
              expect(s.story.replayed, `${v.promise} of ${load.id}: ${s.story.ending}`).toBe(true)
        }
      }
      for (let n = 1; n <= SCRIPTS; n++) {
        const script = wildScript(design, seed * 100 + n)
        const bench = runWild(design, script)
        if (!bench) continue
        for (const { load, all } of verdicts)
          for (const v of all)
            expect(
              refutes(design, load, v, script, bench),
              `${v.promise} of ${load.id}, script ${n}`,
            ).toBe('')
      }
    },
    PATIENCE_MS,
  )
  it.each(seeds)(
    'of seed %i: what is safe from strangers is not opened by one who records, jams and waits',
    seed => {
      const design = wildDesign(seed)
      for (const l of design.loads) l.wiring.dangers = ['lock']
      for (const load of design.loads) {
        const [verdict] = proveAll(design, load.id, undefined, { promises: ['P8'] })
        for (const s of verdict?.surfaces ?? []) {
          if (s.story) expect(s.story.replayed, s.story.ending).toBe(s.state !== 'not examined')
          const surface = farSurfaces(design).find(r => r.id === s.surfaceId)
          if (s.state === 'holds' && surface && canBeOverheard(design, surface))
            for (let n = 1; n <= SCRIPTS; n++)
              expect(
                opens(design, load, strangerRun(design, load.id, surface, seed * 100 + n)),
                `${load.id}, ${surface.name}, run ${n}`,
              ).toBe('')
        }
      }
    },
    PATIENCE_MS,
  )
  it(
    'are not all alike: every promise is kept and broken by some, and some verdicts hold in part',
    () => {
      const results = new Set(
        seeds.slice(0, 24).flatMap(seed => {
          const design = wildDesign(seed)
          return design.loads.flatMap(l =>
            proveAll(design, l.id, undefined, {
              promises: ['P1', 'P3', 'P4', 'P5', 'P6'],
              trials: false,
            }).map(v => `${v.promise} ${v.result}`),
          )
        }),
      )
      expect([...results]).toEqual(
        expect.arrayContaining([
          'P1 holds',
          'P1 broken',
          'P3 holds',
          'P3 broken',
          'P4 holds',
          'P5 holds',
          'P5 broken',
          'P6 holds',
        ]),
      )
    },
    PATIENCE_MS,
  )
})
