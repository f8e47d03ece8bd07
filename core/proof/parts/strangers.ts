/**
 * Promise P8: what a stranger can do without a key: one who listens, says again what was said, or
 * keeps it back and sends it later (replay.ts); one who records the light of a remote.
 */
import { runScript } from '../../bench/bench'
import type { BenchScript } from '../../bench/script'
import { movesOf } from '../../bench/trace'
import type { Design, Load, FarSurface, Sensor } from '../../design/schema'
import { restOf, valueWords } from '../../design/values'
import { canBeOverheard, replaySearch } from '../replay'
import { settledPart, UNREPLAYED, type Part, type SurfaceVerdict } from '../verdict'
import { isReceiver } from '../../design/sensors/traits'
import { askedBy, type Target } from '../../design/targets'

const SETTLED_MS = 2000

/** Whether a stranger can make a command act (P8). */
export function strangerPart(design: Design, load: Load, surface: FarSurface): Part {
  let result: SurfaceVerdict | null = null
  const part: Part = {
    promises: ['P8'],
    situations: 0,
    transitions: 0,
    underWay: null,
    run() {
      const common = { surfaceId: surface.id, subject: surface.name }
      if (!canBeOverheard(design, surface)) {
        result = {
          ...common,
          state: 'holds',
          reason: `${surface.name} speaks over a wire: whoever listens has to touch it`,
          story: null,
        }
        return true
      }
      const replayed = replaySearch(design, load.id, surface.id)
      part.situations = replayed.situations
      const { story } = replayed
      const reason =
        story?.what === 'kept back by a stranger'
          ? `A command of ${surface.name} that is jammed and kept back still counts when it is sent later`
          : `What ${surface.name} says can be recorded and said again`
      if (!story)
        result = { ...common, state: 'holds', reason: `${surface.name}: ${replayed.why}`, story }
      else if (story.replayed) result = { ...common, state: 'broken', reason, story }
      else result = { ...common, state: 'not examined', reason: UNREPLAYED, story }
      return true
    },
    verdicts: () => (result ? [result] : []),
  }
  return part
}

/** Light can be recorded by anything that sees it: a key of a remote says the same every time. */
export function infraredParts(design: Design, load: Load): Part[] {
  return design.sensors.flatMap(sensor => {
    if (!isReceiver(sensor) || !sensor.keys.some(k => acts(design, k, load))) return []
    return [settledPart('P8', () => [recordedLight(design, load, sensor)])]
  })
}

function recordedLight(
  design: Design,
  load: Load,
  sensor: Extract<Sensor, { kind: 'infrared' }>,
): SurfaceVerdict {
  const common = { surfaceId: null, subject: sensor.name }
  for (const [key, target] of sensor.keys.entries()) {
    if (!acts(design, target, load)) continue
    const script: BenchScript = {
      seed: 1,
      steps: [{ atMs: SETTLED_MS, action: { do: 'remote', sensorId: sensor.id, key, repeats: 0 } }],
      untilMs: SETTLED_MS + 2000,
    }
    const is = movedAfter(design, load, script, SETTLED_MS)
    if (is === null || is === restOf(load.output)) continue
    const ending = `Nobody of the house asked, and ${load.name} goes ${valueWords(load.output, is)}`
    return {
      ...common,
      state: 'broken',
      reason: `Key ${key + 1} of ${sensor.name} says the same every time: whoever recorded its light opens ${load.name}`,
      story: {
        surfaceId: null,
        what: 'replayed by a stranger',
        script,
        replayed: true,
        ending,
        steps: [
          {
            words: `a stranger sends what key ${key + 1} of ${sensor.name} sends: ${load.name} goes ${valueWords(load.output, is)}`,
            kind: 'remote',
            surfaceId: null,
            is,
            shows: null,
          },
        ],
      },
    }
  }
  return {
    ...common,
    state: 'holds',
    reason: `no key of ${sensor.name} moves it away from rest`,
    story: null,
  }
}

/**
 * What the load goes to from `atMs` on, having stood still since all had settled; null where it
 * does not move, or moved before.
 */
function movedAfter(design: Design, load: Load, script: BenchScript, atMs: number): string | null {
  const first = movesOf(runScript(design, script).trace, load.id).find(c => c.t >= SETTLED_MS)
  return first && first.t >= atMs ? first.value : null
}

function acts(design: Design, target: Target, load: Load): boolean {
  return askedBy(design, target).some(a => a.loadId === load.id)
}
