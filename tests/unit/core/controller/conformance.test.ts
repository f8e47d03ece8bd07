/**
 * The conformance scenarios, run against `step`: as a pure function, and as the machine that the
 * bench keeps.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { compileController } from '../../../../core/controller/program'
import { Machine } from '../../../../core/controller/machine'
import {
  matched,
  played,
  scenariosIn,
  BadScenario,
  type Implementation,
  type Scenario,
} from '../../../../core/controller/scenario'
import { startWorking } from '../../../../core/controller/state'
import { nextDue, startController, step } from '../../../../core/controller/step'
import { validateDesign } from '../../../../core/design/validate'

const FILES = readdirSync('conformance').filter(f => f.endsWith('.txt') && f !== 'surfaces.txt')
const SCENARIOS = FILES.flatMap(f => scenariosIn(readFileSync(`conformance/${f}`, 'utf8'), f))

function pure({ design }: Scenario): Implementation {
  const program = compileController(design)
  let state = startController(program)
  return {
    handle(event) {
      const before = JSON.stringify(state)
      const kept = state
      const stepped = step(program, state, event)
      // Nothing of the state before may have changed.
      expect(JSON.stringify(kept)).toBe(before)
      state = stepped.state
      return stepped.effects
    },
    due: () => nextDue(state),
    value: load => state.value[load] as string,
  }
}

function working({ design }: Scenario): Implementation {
  const program = compileController(design)
  const machine = new Machine(program, startWorking(program))
  return {
    handle: event => machine.handle(event),
    due: () => machine.nextDue,
    value: load => machine.state.value[load] as string,
  }
}

describe.each(FILES)('%s', file => {
  it.each(SCENARIOS.filter(s => s.file === file).map(s => [s.title, s] as const))(
    '%s',
    (_, scenario) => {
      expect(validateDesign(scenario.design)).toMatchObject({ ok: true })
      for (const implementation of [pure(scenario), working(scenario)]) {
        const { outputs, told } = played(scenario, implementation)
        expect(matched(scenario.expected, outputs)).toEqual(scenario.expected)
        expect(told).toEqual(scenario.told)
      }
    },
  )
})

it('what a full queue gives up is counted', () => {
  const scenario = SCENARIOS.find(s => s.title === 'a full queue gives up its oldest report')!
  const program = compileController(scenario.design)
  const machine = new Machine(program, startWorking(program))
  played(scenario, {
    handle: event => machine.handle(event),
    due: () => machine.nextDue,
    value: load => machine.state.value[load] as string,
  })
  expect(machine.state.links.map(l => l.dropped)).toEqual([1, 0])
})

it('transitions that no turning makes are counted', () => {
  const scenario = SCENARIOS.find(
    s => s.title === 'knob: a transition that no turning makes is ignored',
  )!
  const program = compileController(scenario.design)
  const machine = new Machine(program, startWorking(program))
  played(scenario, {
    handle: event => machine.handle(event),
    due: () => machine.nextDue,
    value: load => machine.state.value[load] as string,
  })
  expect(machine.state.knobs[0]?.invalid).toBe(1)
})

describe('the scenarios themselves', () => {
  it('are many, each with the sentence it holds up and a title of its own', () => {
    expect(SCENARIOS.length).toBeGreaterThanOrEqual(120)
    expect(SCENARIOS.filter(s => s.says === '').map(s => s.title)).toEqual([])
    expect(new Set(SCENARIOS.map(s => `${s.file} ${s.title}`)).size).toBe(SCENARIOS.length)
  })
  it('a controller that does nothing fails all of them that expect a move; one that is a millisecond late too', () => {
    const asleep: Implementation = { handle: () => [], due: () => null, value: () => '' }
    for (const s of SCENARIOS)
      if (s.expected.length) expect(played(s, asleep).outputs).not.toEqual(s.expected)
    const later = (due: number | null) => (due === null ? null : (due + 1) >>> 0)
    const late = (s: Scenario): Implementation => {
      const inner = working(s)
      return { ...inner, due: () => later(inner.due()) }
    }
    const caught = SCENARIOS.filter(s => played(s, late(s)).outputs.join() !== s.expected.join())
    expect(caught.length).toBeGreaterThan(60)
  })
  it.each([
    ['> x boot\n= a off', /no time/],
    ['> 0 close nothing\n< 0 x', /no hand control/],
    ['colour red\n< 0 x', /not known/],
    ['> 0 boot', /expects nothing/],
  ])('%j is refused with its place', (body, words) => {
    expect(() => scenariosIn(`== t\n${body}`, 'f.txt')).toThrow(BadScenario)
    expect(() => scenariosIn(`== t\n${body}`, 'f.txt')).toThrow(words)
    expect(() => scenariosIn(`== t\n${body}`, 'f.txt')).toThrow(/^f\.txt:\d/)
  })
})
