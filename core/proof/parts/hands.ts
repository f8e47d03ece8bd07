/** P3: a hand control always does something. */
import type { BenchScript } from '../../bench/script'
import type { Context } from './context'
import type { Control, Design, Load } from '../../design/schema'
import { PATIENCE_MS } from '../assumptions'
import type { Story } from '../story/story'
import type { SurfaceVerdict } from '../verdict'
import type { System } from '../system'
import type { SystemEvent } from '../happenings'
import type { Told } from './truth'
import { UNREPLAYED } from '../verdict'
import { gestureOf } from '../project'
import { handSurfaces } from '../../design/find'
import { limitsOf } from '../../design/outputs/traits'
import { runScript } from '../../bench/bench'

/** One for each hand control of the load. */
export function handsVerdicts(
  { design, load: examined }: Pick<Context, 'design' | 'load'>,
  system: System,
  own: readonly Told[],
  outOfReach: string,
): SurfaceVerdict[] {
  return system.controller.program.inputs.flatMap((input, i): SurfaceVerdict[] => {
    if (input.load !== 0) return []
    const { controlId } = gestureOf(input.control.id)
    const surface = handSurfaces(design).find(s => s.controls.some(c => c.id === controlId))
    const subject = `${input.control.kind === 'push' ? 'The button' : 'The switch'} on ${surface?.name ?? ''}`
    const dead = own.find(s => isPressOf(system.events[s.event], i))
    const common = { surfaceId: surface?.id ?? null, subject }
    const real = surface?.controls.find(c => c.id === controlId)
    const lockedOut = real ? lockOut(design, examined, real, subject) : null
    if (dead?.story.replayed)
      return [
        {
          ...common,
          state: 'broken',
          reason: `${subject} can do nothing when it is pressed`,
          story: dead.story,
        },
      ]
    if (lockedOut)
      return [{ ...common, state: 'broken', reason: lockedOut.ending, story: lockedOut }]
    if (dead) return [{ ...common, state: 'not examined', reason: UNREPLAYED, story: dead.story }]
    if (outOfReach) return [{ ...common, state: 'not examined', reason: outOfReach, story: null }]
    const once =
      real?.kind === 'push' && real.lockoutMs
        ? `, once ${real.lockoutMs} ms have passed since the press before`
        : ''
    return [
      {
        ...common,
        state: 'holds',
        reason: `${subject} always does something${once}`,
        story: null,
      },
    ]
  })
}

/**
 * A lock-out that is longer than people wait: whoever saw nothing happen, or wants it back, presses
 * again, and nothing comes of it. Held against the same control without a lock-out, on the bench.
 */
function lockOut(design: Design, load: Load, control: Control, subject: string): Story | null {
  if (control.kind !== 'push' || control.lockoutMs <= PATIENCE_MS) return null
  const pressMs = 4000 + leastMs(load)
  const script: BenchScript = {
    seed: 1,
    steps: [0, PATIENCE_MS].map(after => ({
      atMs: pressMs + after,
      action: { do: 'press', controlId: control.id },
    })),
    untilMs: pressMs + PATIENCE_MS + 600,
  }
  const without: Design = {
    ...design,
    surfaces: design.surfaces.map(s =>
      s.kind === 'hand'
        ? {
            ...s,
            controls: s.controls.map(c =>
              c.id === control.id ? ({ ...c, lockoutMs: 0 } as Control) : c,
            ),
          }
        : s,
    ),
  }
  const moves = (d: Design) => runScript(d, script).trace.moves[load.id] ?? 0
  if (moves(design) >= moves(without)) return null
  const press = (words: string): Story['steps'][number] => ({
    words,
    kind: 'press',
    surfaceId: null,
    is: null,
    shows: null,
  })
  return {
    surfaceId: null,
    what: 'dead',
    script,
    replayed: true,
    steps: [
      press(`Somebody presses the button of ${load.name}`),
      press(`${PATIENCE_MS / 1000} s later they press it again`),
    ],
    ending: `${subject} does nothing for ${control.lockoutMs / 1000} s after a press: its lock-out is longer than people wait`,
  }
}

function leastMs({ output }: Load): number {
  const limits = limitsOf(output)
  return limits ? Math.max(limits.minOffMs, limits.minOnMs) : 0
}

function isPressOf(event: SystemEvent | undefined, input: number): boolean {
  return (event?.kind === 'press' || event?.kind === 'hold') && event.input === input
}
