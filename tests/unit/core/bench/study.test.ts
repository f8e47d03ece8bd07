import { describe, expect, it } from 'vitest'
import { runScript } from '../../../../core/bench/bench'
import { disagreements, Study, studyScript } from '../../../../core/bench/study'
import { emptyTrace } from '../../../../core/bench/trace'
import { variantsOf } from '../../../../core/checks/study-variants'
import { edited, fanDesign, glazeRoom, kilnCorridor, starter } from '../../../fixtures/designs'

const done = (study: Study) => {
  while (!study.run(50)) {
    /* on */
  }
  return study.report()
}

describe('disagreements', () => {
  const trace = (truth: [number, string][], shown: [number, string][]) => {
    const t = emptyTrace(fanDesign())
    t.truth.fan = truth.map(([at, value]) => ({ t: at, value, powered: true }))
    t.beliefs.phone = { fan: shown.map(([at, is]) => ({ t: at, shown: is })) }
    return t
  }
  it('last from a change until it is shown without doubt', () => {
    expect(
      disagreements(
        trace(
          [
            [0, 'off'],
            [100, 'on'],
          ],
          [
            [5, 'off'],
            [130, 'waiting'],
            [180, 'on'],
          ],
        ),
        'phone',
        'fan',
        50,
        1000,
      ),
    ).toEqual([{ ms: 80, ended: true }])
  })
  it('last to the end where it is never shown', () => {
    expect(
      disagreements(
        trace(
          [
            [0, 'off'],
            [100, 'on'],
          ],
          [[5, 'off']],
        ),
        'phone',
        'fan',
        50,
        1000,
      ),
    ).toEqual([{ ms: 900, ended: false }])
  })
  it('count from the change on where nothing was known before, and not what lies before', () => {
    expect(
      disagreements(
        trace(
          [
            [0, 'off'],
            [100, 'on'],
          ],
          [[0, 'unknown']],
        ),
        'phone',
        'fan',
        50,
        400,
      ),
    ).toEqual([{ ms: 300, ended: false }])
    expect(
      disagreements(
        trace(
          [
            [0, 'off'],
            [10, 'on'],
          ],
          [
            [0, 'off'],
            [40, 'on'],
          ],
        ),
        'phone',
        'fan',
        50,
        400,
      ),
    ).toEqual([])
  })
})

describe('the timing study', () => {
  it('is the same for the same seed, however it is cut', () => {
    const plan = { runs: 60, seed: 7, away: 0.3 }
    const whole = new Study(starter(), plan)
    whole.run(60)
    const cut = new Study(starter(), plan)
    while (!cut.run(7)) {
      /* on */
    }
    expect(cut.report()).toEqual(whole.report())
  })
  it('agrees with what its runs say one by one', () => {
    const design = starter()
    const report = done(new Study(design, { runs: 40, seed: 3, away: 0 }))
    const [cell] = report.cells
    const script = studyScript(design, cell!.worstSeed, 0)
    const bench = runScript(design, script)
    const worst = Math.max(
      ...disagreements(bench.trace, cell!.surfaceId, cell!.loadId, 2999, script.untilMs!).map(
        d => d.ms,
      ),
    )
    expect(worst).toBe(cell!.worstMs)
    expect(cell!.medianMs).toBeLessThanOrEqual(cell!.p95Ms!)
    expect(cell!.bars.reduce((n, b) => n + b.count, 0)).toBe(cell!.count)
  })
  it('stays within what the links can take, where nothing is out of reach', () => {
    // There and back at the worst, the wire, and what a wall button takes to be believed: 1.5 x p99
    // each way.
    for (const cell of done(new Study(kilnCorridor(), { runs: 150, seed: 1, away: 0 })).cells) {
      expect(cell.worstMs, `${cell.surfaceId} ${cell.loadId}`).toBeLessThan(2 * 1.5 * 120 + 60)
      expect(cell.never).toBe(0)
    }
  })
  it('finds who never hears', () => {
    const phone = done(new Study(glazeRoom(), { runs: 60, seed: 1, away: 0 })).cells.filter(
      c => c.surfaceId === 'apron-phone' && c.loadId === 'booth-extractor',
    )
    expect(phone[0]?.never).toBeGreaterThan(0)
  })
  it('each setting otherwise is a design, and asking seldom shows later', () => {
    const design = kilnCorridor()
    const variants = variantsOf(design)
    expect(variants.length).toBeGreaterThan(6)
    for (const v of variants) expect(() => edited(design, v.edit), v.words).not.toThrow()
    const p95 = (d: typeof design) =>
      done(new Study(d, { runs: 120, seed: 1, away: 0 })).cells.find(
        c => c.surfaceId === 'corridor-phone' && c.loadId === 'humidifier',
      )!.p95Ms!
    const silent = variants.find(
      v => v.surfaceId === 'corridor-phone' && v.words === 'without reports of changes',
    )!
    expect(p95(edited(design, silent.edit))).toBeGreaterThan(3 * p95(design))
  })
})
