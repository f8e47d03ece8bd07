/**
 * Counterexamples that were met: a plain "holds" that the bench refuted, stories that did not come
 * true, and what each should be.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { Bench, runScript } from '../../../../core/bench/bench'
import type { BenchScript } from '../../../../core/bench/script'
import { at } from '../../../../core/bench/trace'
import type { Design } from '../../../../core/design/schema'
import type { PromiseId } from '../../../../core/proof/promises'
import { proveAll, type Verdict } from '../../../../core/proof/prove'
import { valid } from '../../../fixtures/designs'

interface Case {
  promise: PromiseId
  load: string
  script: BenchScript
  design: Design
}
const FOLDER = new URL('../../../fixtures/cases/', import.meta.url)
const read = (name: string): Case => {
  const known = JSON.parse(readFileSync(new URL(`${name}.json`, FOLDER), 'utf8')) as Case
  return { ...known, design: valid(known.design) }
}
const proved = new Map<string, Verdict[]>()
const verdictOf = (name: string): Verdict => {
  const { design, load, promise } = read(name)
  const all = proved.get(name) ?? proveAll(design, load)
  proved.set(name, all)
  return all.find(v => v.promise === promise)!
}
const run = (name: string): Bench => {
  const { design, script } = read(name)
  const bench = new Bench(design, script.seed)
  bench.plan(script.steps)
  while (!bench.advance(script.untilMs ?? 0)) {
    /* the next slice */
  }
  return bench
}
/** Stretches in which a line was driven. */
const driven = (bench: Bench, load: string, line: number): [number, number][] => {
  const changes = bench.trace.lines[load]?.[line] ?? []
  return changes.flatMap((c, i) =>
    c.level === 0 ? [[c.t, changes[i + 1]?.t ?? Infinity] as [number, number]] : [],
  )
}
/** The shortest rest between the two directions; negative where both were on. */
const shortestRest = (bench: Bench, load: string): number =>
  Math.min(
    ...driven(bench, load, 0).flatMap(([a, b]) =>
      driven(bench, load, 1).map(([c, d]) => Math.max(c - b, a - d)),
    ),
  )

describe('what was said wrongly', () => {
  it('is kept as files, one for each', () =>
    expect(readdirSync(FOLDER).length).toBeGreaterThanOrEqual(30))

  it.each(['bridge-shoots-through-after-brownout', 'deadtime-across-cut'])(
    '%s: the dead time lasts across a start',
    name => {
      const output = read(name).design.loads.find(l => l.id === read(name).load)!.output
      expect(output.kind === 'opposed' && output.activeLevel).toBe('low')
      expect(verdictOf(name).result).toBe('holds')
      expect(shortestRest(run(name), read(name).load)).toBeGreaterThanOrEqual(2000)
    },
  )
  it.each(['queue-drops-report', 'queue-drops-report-by-hand'])(
    '%s: a queue that gives up reports is no plain holds',
    name => {
      const verdict = verdictOf(name)
      expect(['broken', 'in part']).toContain(verdict.result)
      expect(verdict.assumptions).toContainEqual(
        expect.objectContaining({ id: 'queue', open: true }),
      )
    },
  )
  it('rule-at-start: the rule that acts at the start is seen', () =>
    expect(verdictOf('rule-at-start')).toMatchObject({
      result: 'broken',
      reason: expect.stringContaining('acts on the first reading'),
    }))
  it('lockout-dead-press: a lock-out that is longer than people wait is a dead press', () =>
    expect(verdictOf('lockout-dead-press').result).toBe('broken'))
  it('minoff-refuse-dead-press: its story comes true', () =>
    expect(
      verdictOf('minoff-refuse-dead-press').surfaces.flatMap(s =>
        s.story ? [s.story.replayed] : [],
      ),
    ).toEqual([true]))
  it('jam-and-replay: a command that is kept back is told', () =>
    expect(verdictOf('jam-and-replay').surfaces.map(s => s.story?.what)).toContain(
      'kept back by a stranger',
    ))
  it('infrared-opens-lock: light can be recorded', () =>
    expect(verdictOf('infrared-opens-lock').surfaces).toContainEqual(
      expect.objectContaining({
        state: 'broken',
        reason: expect.stringContaining('recorded its light'),
      }),
    ))
  it('echo-oscillates: it never comes to rest', () =>
    expect(verdictOf('echo-oscillates').surfaces.map(s => s.story?.what)).toContain('restless'))
  it('echo-false-confirm: nothing plain is said of it', () =>
    expect(verdictOf('echo-false-confirm').result).not.toBe('holds'))
  it('reading-passes-for-report: the reading is taken for a report', () =>
    expect(verdictOf('reading-passes-for-report').result).toBe('broken'))
  it('bootlog-board-8bit-5v-1: the pin chatters, and the bench draws it', () => {
    expect(verdictOf('bootlog-board-8bit-5v-1').result).toBe('broken')
    const lines = run('bootlog-board-8bit-5v-1').trace.lines.pump?.[0] ?? []
    expect(lines.filter(c => c.t > 3000 && c.t < 5900).length).toBeGreaterThan(5)
  })
  it.each(['P1', 'P2', 'P7'])(
    'counter-panel-restart-%s: a page keeps its counter, so its next press counts',
    promise => {
      const bench = run(`counter-panel-restart-${promise}`)
      expect([bench.value('lock'), bench.shown('panel0', 'lock')]).toEqual(['on', 'on'])
    },
  )
  it.each(['P1', 'P2', 'P7'])(
    'mark-swallows-first-press-%s: the first press after a start acts',
    promise => expect(run(`mark-swallows-first-press-${promise}`).value('fan')).toBe('on'),
  )
  it('udp-who-asked-last: nobody asked since the board started, so nobody is told', () => {
    const bench = run('udp-who-asked-last')
    expect(bench.trace.messages.filter(m => m.dir === 'down' && m.sentMs > 4000)).toEqual([])
    expect(verdictOf('udp-who-asked-last').result).not.toBe('holds')
  })
  it.each(['P4', 'P6'])('for-timer-after-cut-%s: on for five seconds is not on for good', promise =>
    expect(run(`for-timer-after-cut-${promise}`).value('tap')).toBe('off'),
  )
  it('blink-wears-memory: blinking writes nothing', () =>
    expect(run('blink-wears-memory').figures.memoryWrites).toBe(0))
  it('scene-across-controllers: the load on the other board is examined', () =>
    expect(verdictOf('scene-across-controllers-lamp')).toMatchObject({
      result: 'broken',
      reason: expect.stringContaining('does not pass it on'),
    }))
  it('numbered-window-32: how many numbers are remembered is said', () =>
    expect(verdictOf('numbered-window-32').assumptions).toContainEqual(
      expect.objectContaining({ id: 'numbers', words: expect.stringContaining('32 numbers') }),
    ))

  it('no story is told that does not come true', () => {
    for (const name of readdirSync(FOLDER)
      .map(f => f.replace('.json', ''))
      .filter(n => !n.startsWith('hw-'))) {
      verdictOf(name)
      for (const v of proved.get(name) ?? []) {
        for (const s of v.surfaces) {
          if (!s.story || s.state === 'not examined') continue
          expect(s.story.replayed, `${name} ${v.promise}: ${s.story.ending}`).toBe(true)
          // A fresh run of the script is what the maker sees.
          const bench = runScript(read(name).design, s.story.script)
          expect(at(bench.trace.truth[v.loadId] ?? [], bench.now), name).toBeDefined()
        }
      }
    }
  })
})
