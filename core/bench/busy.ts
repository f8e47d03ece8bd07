/**
 * A busy stretch for the bench: presses and keys at random, a link out of reach now and then. Same
 * seed, same steps.
 */
import { handSurfaces, loadOf, farSurfaces } from '../design/find'
import { wantsOf } from '../design/values'
import type { Control, Design, Gesture } from '../design/schema'
import { seededRandom } from '../units/random'
import type { BenchScript } from './script'

/** A button that knows one gesture is not asked for it by name. */
function pressOf(control: Control, gesture: Gesture): BenchScript['steps'][number]['action'] {
  return { do: 'press', controlId: control.id, ...(gesture === 'single' ? {} : { gesture }) }
}

/** Four steps a second on the average; a link stays out of reach for 4 s. */
export function busySteps(design: Design, seed: number, untilMs: number): BenchScript['steps'] {
  const random = seededRandom(seed)
  const pick = <T>(list: readonly T[]) => list[Math.floor(random.next() * list.length)]
  const controls = handSurfaces(design).flatMap(s => s.controls)
  const keys = farSurfaces(design).flatMap(s =>
    s.keys.flatMap(k =>
      wantsOf(loadOf(design, k.loadId).output, k.form === 'pair' ? 'state' : k.form).map(want => ({
        surfaceId: s.id,
        loadId: k.loadId,
        want,
      })),
    ),
  )
  const steps: BenchScript['steps'] = []
  for (let atMs = 800; atMs < untilMs; atMs += 100 + Math.floor(random.next() * 300)) {
    const control = pick(controls)
    const key = pick(keys)
    const link = pick(design.links)
    const draw = random.next()
    if (draw < 0.02 && link)
      steps.push(
        { atMs, action: { do: 'linkDown', linkId: link.id } },
        { atMs: atMs + 4000, action: { do: 'linkUp', linkId: link.id } },
      )
    else if (draw < 0.5 && control)
      steps.push({
        atMs,
        action: pressOf(
          control,
          pick([
            'single',
            ...(control.kind === 'push' ? control.gestures.map(g => g.on) : []),
          ] as const) ?? 'single',
        ),
      })
    else if (key) steps.push({ atMs, action: { do: 'key', ...key } })
  }
  return steps
}
