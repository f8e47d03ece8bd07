/** The scenarios of surfaces, against the pure panel and the machine that the bench keeps. */
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import {
  compileSurface,
  panelDue,
  SurfaceMachine,
  surfaceStep,
  shown,
  startSurface,
  type SurfaceState,
} from '../../../../core/surfaces/surface'
import {
  SURFACE,
  surfacePlayed,
  surfaceScenariosIn,
  type SurfaceImplementation,
  type SurfaceScenario,
} from '../../../../core/surfaces/scenario'

const SCENARIOS = surfaceScenariosIn(
  readFileSync('conformance/surfaces.txt', 'utf8'),
  'surfaces.txt',
)

function pure({ design }: SurfaceScenario): SurfaceImplementation {
  const program = compileSurface(design, SURFACE)
  let state: SurfaceState = startSurface(program)
  return {
    handle(event) {
      const [kept, before] = [state, JSON.stringify(state)]
      const stepped = surfaceStep(program, state, event)
      expect(JSON.stringify(kept)).toBe(before)
      state = stepped.state
      return stepped.sends
    },
    due: () => panelDue(state),
    shown: load => shown(state.beliefs[load]!),
  }
}

function working({ design }: SurfaceScenario): SurfaceImplementation {
  const program = compileSurface(design, SURFACE)
  const machine = new SurfaceMachine(
    program,
    structuredClone(startSurface(program)) as SurfaceMachine['state'],
  )
  return {
    handle: event => machine.handle(event),
    due: () => machine.nextDue,
    shown: load => shown(machine.state.beliefs[load]!),
  }
}

describe('surfaces.txt', () => {
  it('has a scenario for each policy and more', () =>
    expect(SCENARIOS.length).toBeGreaterThanOrEqual(20))
  it.each(SCENARIOS.map(s => [s.title, s] as const))('%s', (_, scenario) => {
    expect(scenario.says).not.toBe('')
    for (const surface of [pure(scenario), working(scenario)])
      expect(surfacePlayed(scenario, surface)).toEqual(scenario.expected)
  })
  it.each([
    ['> 0 dance', /nothing that a surface is given/],
    ['> 0 up', /no link/],
  ])('%j is refused with its place', (line, words) => {
    expect(() =>
      surfaceScenariosIn(
        `== t\n${line.includes('dance') ? 'load a switched\nlink l wire\n' : ''}${line}\n< 0 x`,
        'f.txt',
      ),
    ).toThrow(words)
  })
})
