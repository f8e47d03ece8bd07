/**
 * Designs and scripts made at random, in bad combinations too: what is said to hold plainly is not refuted by the bench, what is told as a
 * story comes true. NOLVI_WILD tries more of them, from another seed: "300 1000".
 */
import { describe, expect, it } from 'vitest'
import { Bench } from '../../../../core/bench/bench'
import type { BenchScript } from '../../../../core/bench/script'
import type { Design, Load } from '../../../../core/design/schema'
import { restOf } from '../../../../core/design/values'
import { proveAll, type Verdict } from '../../../../core/proof/prove'
import { wildDesign, wildScript } from '../../../fixtures/wild'

const [COUNT = 24, FROM = 1000] = (process.env.NOLVI_WILD ?? '').split(' ').filter(Boolean).map(Number)
const SCRIPTS = 12
/** What goes round for ever on an echo is stopped after so many events. */
const MOST_EVENTS = 200_000

function run(design: Design, script: BenchScript): Bench | null {
  const bench = new Bench(design, script.seed)
  bench.plan(script.steps)
  return bench.advance(script.untilMs ?? 0, MOST_EVENTS) ? bench : null
}

/** What a run shows against a verdict; "" where it does not. */
function refutes(design: Design, load: Load, verdict: Verdict, script: BenchScript, bench: Bench): string {
  const { output } = load
  const truth = bench.trace.truth[load.id] ?? []
  const movedIn = (from: number, to: number) => truth.some((c, i) => i > 0 && c.t >= from && c.t <= to && c.value !== truth[i - 1]?.value)
  const alone = (at: number, before: number, after: number) => script.steps.every(s => s.atMs === at || s.atMs < at - before || s.atMs > at + after) && script.steps.filter(s => s.atMs === at).length === 1
  switch (verdict.promise) {
    case 'P1': {
      if (script.steps.some(s => 'want' in s.action && s.action.want.startsWith('blink'))) return ''
      const wrong = verdict.surfaces.find(s => s.state === 'in step' && bench.shown(s.surfaceId ?? '', load.id) !== bench.value(load.id))
      return wrong ? `${wrong.subject} shows ${bench.shown(wrong.surfaceId ?? '', load.id)}, it is ${bench.value(load.id)}` : ''
    }
    case 'P3': {
      if (verdict.result !== 'holds' || output.kind !== 'switched' || output.limits || output.timers) return ''
      const toggles = design.surfaces.flatMap(s => s.kind === 'hand' ? s.controls : []).filter(c => c.loadId === load.id && c.asks === 'toggle').map(c => c.id)
      const dead = script.steps.find(s => s.action.do === 'press' && toggles.includes(s.action.controlId) && alone(s.atMs, 7000, 1500) && !movedIn(s.atMs, s.atMs + 1000))
      return dead ? `a press at ${dead.atMs} did nothing` : ''
    }
    case 'P4': {
      if (verdict.result !== 'holds' || ('powerUp' in output && output.powerUp !== 'off')) return ''
      // A press in the very millisecond of the start is a press.
      const starts = bench.trace.powerCuts.filter(cut => script.steps.every(s => s.atMs !== cut.toMs))
      const after = starts.flatMap(cut => truth.filter(c => c.t === cut.toMs && c.powered)).find(c => c.value !== restOf(output))
      return after ? `after a start it is ${after.value}` : ''
    }
    case 'P5': {
      if (verdict.result !== 'holds' || output.kind !== 'opposed') return ''
      const [forward = [], reverse = []] = (bench.trace.lines[load.id] ?? []).map(changes => driven(changes, output.activeLevel === 'high' ? 1 : 0))
      return forward.some(([a, b]) => reverse.some(([c, d]) => a < d + output.deadTimeMs && c < b + output.deadTimeMs)) ? `both directions within ${output.deadTimeMs} ms` : ''
    }
    case 'P6': {
      const held = script.steps.some(s => s.action.do === 'key' && s.action.loadId === load.id && s.action.want === 'on') && output.kind === 'held'
      return verdict.result === 'holds' && !held && bench.value(load.id) === 'on' ? 'it is still on after a minute' : ''
    }
    default: return ''
  }
}

function driven(changes: readonly { t: number, level: number | null }[], active: number): [number, number][] {
  return changes.flatMap((c, i): [number, number][] => c.level === active && changes[i - 1]?.level !== active ? [[c.t, changes.slice(i + 1).find(x => x.level !== active)?.t ?? Infinity]] : [])
}

describe('random designs', () => {
  const seeds = Array.from({ length: COUNT }, (_, i) => FROM + i)
  it.each(seeds)('of seed %i: nothing that holds plainly is refuted, every story comes true', (seed) => {
    const design = wildDesign(seed)
    const verdicts = design.loads.map(load => ({ load, all: proveAll(design, load.id) }))
    for (const { load, all } of verdicts) {
      for (const v of all) {
        // A plain "holds" leaves nothing out that may break it.
        if (v.result === 'holds') expect(v.assumptions.filter(a => a.open && (a.surfaceId === null || v.surfaces.some(s => s.surfaceId === a.surfaceId))), `${v.promise} of ${load.id}`).toEqual([])
        for (const s of v.surfaces) if (s.story && s.state !== 'not examined') expect(s.story.replayed, `${v.promise} of ${load.id}: ${s.story.ending}`).toBe(true)
      }
    }
    for (let n = 1; n <= SCRIPTS; n++) {
      const script = wildScript(design, seed * 100 + n)
      const bench = run(design, script)
      if (!bench) continue
      for (const { load, all } of verdicts) for (const v of all) expect(refutes(design, load, v, script, bench), `${v.promise} of ${load.id}, script ${n}`).toBe('')
    }
  })
  it('are not all alike: every promise is kept and broken by some, and some verdicts hold in part', () => {
    const results = new Set(seeds.slice(0, 24).flatMap((seed) => {
      const design = wildDesign(seed)
      return design.loads.flatMap(l => proveAll(design, l.id, undefined, { promises: ['P1', 'P3', 'P4', 'P5', 'P6'], trials: false }).map(v => `${v.promise} ${v.result}`))
    }))
    expect([...results]).toEqual(expect.arrayContaining(['P1 holds', 'P1 broken', 'P3 holds', 'P3 broken', 'P4 holds', 'P5 holds', 'P5 broken', 'P6 holds']))
  })
})
