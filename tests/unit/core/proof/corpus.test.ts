/**
 * Right and wrong designs: every promise as it was reasoned out, every story told again on a fresh
 * bench, and what holds tried at random.
 */
import { describe, expect, it } from 'vitest'
import { Bench, runScript } from '../../../../core/bench/bench'
import { studyScript } from '../../../../core/bench/study'
import { differs } from '../../../../core/bench/trace'
import { farSurfaces, showsState } from '../../../../core/design/find'
import { PROMISE_IDS } from '../../../../core/proof/promises'
import { proveAll, type Verdict } from '../../../../core/proof/prove'
import type { Story } from '../../../../core/proof/story/story'
import { corpus } from '../../../fixtures/corpus'

const LETTERS: Record<Verdict['result'], string> = {
  holds: 'h',
  broken: 'b',
  'by timing': 't',
  'in part': 'i',
  'not asked': '-',
  'gave up': '?',
}
const proved = new Map(corpus.map(c => [c.name, proveAll(c.design, 'fan')]))
const storiesOf = (name: string): [Verdict, Story][] =>
  (proved.get(name) ?? []).flatMap(v =>
    v.surfaces.flatMap(s => (s.story ? [[v, s.story] as [Verdict, Story]] : [])),
  )

describe('verdicts of the corpus', () => {
  it('are of at least a hundred and twenty designs, with each promise both kept and broken', () => {
    expect(corpus.length).toBeGreaterThanOrEqual(120)
    expect(new Set(corpus.map(c => c.name)).size).toBe(corpus.length)
    PROMISE_IDS.forEach((id, i) => {
      const letters = new Set(corpus.map(c => c.expects[i]))
      expect([...letters], id).toEqual(expect.arrayContaining(['h', 'b']))
    })
  })
  it.each(corpus.map(c => [c.name, c.why, c] as const))('%s: %s', (name, _, { expects }) => {
    expect((proved.get(name) ?? []).map(v => LETTERS[v.result]).join('')).toBe(expects)
  })
})

describe('stories of the corpus', () => {
  it('are many', () => expect(corpus.flatMap(c => storiesOf(c.name)).length).toBeGreaterThan(40))
  it.each(corpus.filter(c => storiesOf(c.name).length).map(c => [c.name, c] as const))(
    'of "%s" end on a fresh bench as told',
    (name, { design }) => {
      for (const [verdict, story] of storiesOf(name)) {
        expect(story.replayed, `${verdict.promise}: ${story.ending}`).toBe(true)
        const bench = runScript(design, story.script)
        const value = bench.value('fan')
        const surfaceId = story.surfaceId ?? ''
        switch (story.what) {
          case 'wrong':
            expect(differs(bench.shown(surfaceId, 'fan'), value)).toBe(true)
            break
          case 'unsure':
            expect(bench.shown(surfaceId, 'fan')).toMatch(/^(unknown|stale-.*|waiting)$/)
            break
          case 'stuck':
            expect(value).toBe('on')
            break
          case 'vanished':
            if (showsState(farSurfaces(design).find(s => s.id === surfaceId)!))
              expect(differs(bench.shown(surfaceId, 'fan'), value)).toBe(true)
            break
          case 'boots on':
            expect(
              bench.trace.lines.fan?.[0]?.some(c => c.t >= 3000 && c.t <= 5000 && c.level === 1),
            ).toBe(true)
            break
          case 'clashed': {
            // The one line rises in the very millisecond in which the other falls.
            const [forward = [], reverse = []] = bench.trace.lines.fan ?? []
            expect(
              forward.some(f => f.t > 0 && reverse.some(r => r.t === f.t)),
              story.ending,
            ).toBe(true)
            break
          }
          case 'twice':
          case 'replayed by a stranger':
            expect(bench.trace.moves.fan).toBeGreaterThanOrEqual(2)
            break
          case 'kept back by a stranger':
            expect(bench.trace.moves.fan).toBeGreaterThanOrEqual(1)
            break
          // Seconds after the last of it messages still cross, more than anybody asks for.
          case 'restless':
            expect(
              bench.trace.messages.filter(m => m.sentMs > bench.now - 500).length,
              story.ending,
            ).toBeGreaterThanOrEqual(5)
            break
          default:
            expect(['dead', 'astray', 'jumped', 'moved', 'cut off']).toContain(story.what)
        }
      }
    },
  )
  it('are told with how the load is and what the surface shows, and end in a difference', () => {
    for (const c of corpus) {
      for (const [verdict, story] of storiesOf(c.name)) {
        const last = story.steps.at(-1)
        // What is so from the first connection on has no step; a trial tells only what is done.
        if (
          verdict.promise === 'P1'
          && story.what === 'wrong'
          && last
          && (last.is !== null || last.shows !== null)
        )
          expect(differs(last.shows ?? undefined, last.is ?? undefined), c.name).toBe(true)
      }
    }
  })
})

describe('what holds', () => {
  const right = corpus.filter(c => c.expects[0] === 'h')
  // Runs with links out of reach, within the links' own delays: at their end everybody is at rest.
  it.each(right.map(c => [c.name, c] as const))(
    '"%s" shows nothing wrong at the end of random runs',
    (_, { design }) => {
      for (let seed = 1; seed <= 25; seed++) {
        const script = studyScript(design, seed, 0.5)
        const bench = new Bench(design, seed)
        bench.plan([
          ...script.steps,
          ...(seed % 3 ? [] : [{ atMs: 6000, action: { do: 'restart' as const } }]),
        ])
        while (!bench.advance((script.untilMs ?? 0) + 20_000)) {
          /* the next slice */
        }
        for (const s of farSurfaces(design))
          if (showsState(s))
            expect(differs(bench.shown(s.id, 'fan'), bench.value('fan')), `seed ${seed}`).toBe(
              false,
            )
      }
    },
  )
})
