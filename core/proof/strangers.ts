/**
 * Promise P8: what a stranger can do without a key. Three of them: one who listens and says again what was said (replay.ts); one who
 * also jams, so that a command never arrives, and sends it later, when it is as fresh as ever; one who records the light of a remote.
 */
import { runScript, type FateOf } from '../bench/bench'
import type { BenchScript } from '../bench/script'
import { movesOf } from '../bench/trace'
import { linkOf } from '../design/find'
import type { Design, Load, RemoteSurface, Sensor } from '../design/schema'
import { restOf, valueWords, wantsOn } from '../design/values'
import { askText } from '../surfaces/panel'
import { canBeOverheard, replaySearch } from './replay'
import type { Story } from './story'
import { settledPart, type Part, type SurfaceVerdict } from './verdict'

/** A stranger has time: an hour goes by between hearing and saying again. */
const LATER_MS = 3_600_000
const SETTLED_MS = 2000

export function strangerPart(design: Design, load: Load, surface: RemoteSurface): Part {
  let result: SurfaceVerdict | null = null
  const part: Part = {
    promises: ['P8'], situations: 0, transitions: 0, underWay: null,
    run() {
      const common = { surfaceId: surface.id, subject: surface.name }
      if (!canBeOverheard(design, surface)) {
        result = { ...common, state: 'holds', reason: `${surface.name} speaks over a wire: whoever listens has to touch it`, story: null }
        return true
      }
      const replayed = replaySearch(design, load.id, surface.id)
      part.situations = replayed.situations
      const kept = replayed.story ? null : keptBack(design, load, surface)
      const [story, reason] = replayed.story
        ? [replayed.story, `What ${surface.name} says can be recorded and said again`]
        : [kept, `A command of ${surface.name} that is jammed and kept back still counts when it is sent later`]
      result = story ? { ...common, state: 'broken', reason, story } : { ...common, state: 'holds', reason: `${surface.name}: ${replayed.why}`, story: null }
      return true
    },
    verdicts: () => result ? [result] : [],
  }
  return part
}

/** The command is lost on its way, which whoever jams can bring about; the panel gives up, and much later the recording is sent. */
function keptBack(design: Design, load: Load, surface: RemoteSurface): Story | null {
  const link = linkOf(design, surface.linkId)
  const rest = restOf(load.output)
  for (const want of wantsOn(surface.keys, load)) {
    const script: BenchScript = {
      seed: 1,
      steps: [{ atMs: SETTLED_MS, action: { do: 'key', surfaceId: surface.id, loadId: load.id, want } }, { atMs: SETTLED_MS + LATER_MS, action: { do: 'replay', linkId: link.id } }],
      untilMs: SETTLED_MS + LATER_MS + 2000,
    }
    // Every try of the command is jammed; what the surface asks is let through.
    const ask = askText(link)
    const fates: NonNullable<BenchScript['fates']> = {}
    const jam: FateOf = (key, dir, text, now) => {
      if (dir === 'down' || key.slice(0, key.indexOf(' ')) !== link.id || text === ask || now >= SETTLED_MS + LATER_MS) return undefined
      return fates[key] = 'lost'
    }
    const is = movedAfter(design, load, script, SETTLED_MS + LATER_MS, jam)
    if (is === null || is === rest) continue
    script.fates = fates
    return {
      surfaceId: surface.id, what: 'kept back by a stranger', script, replayed: true,
      steps: [
        { words: `${surface.name}: ${want === 'flip' ? 'key' : want} of ${load.name}; a stranger records it and jams the air, so that it does not arrive`, kind: 'key', surfaceId: surface.id, is: rest, shows: null },
        { words: `whoever pressed gives up and goes away`, kind: 'timeout', surfaceId: surface.id, is: rest, shows: null },
        { words: `an hour later the stranger sends it: ${load.name} goes ${valueWords(load.output, is)}`, kind: 'fault', surfaceId: null, is, shows: null },
      ],
      ending: `Nobody of the house is there, and ${load.name} goes from ${valueWords(load.output, rest)} to ${valueWords(load.output, is)}`,
    }
  }
  return null
}

/** Light can be recorded by anything that sees it: a key of a remote says the same every time. */
export function infraredParts(design: Design, load: Load): Part[] {
  return design.sensors.flatMap((sensor) => {
    if (sensor.kind !== 'infrared' || !sensor.keys.some(k => k.loadId === load.id)) return []
    return [settledPart('P8', () => [recordedLight(design, load, sensor)])]
  })
}

function recordedLight(design: Design, load: Load, sensor: Extract<Sensor, { kind: 'infrared' }>): SurfaceVerdict {
  const common = { surfaceId: null, subject: sensor.name }
  for (const [key, { loadId }] of sensor.keys.entries()) {
    if (loadId !== load.id) continue
    const script: BenchScript = { seed: 1, steps: [{ atMs: SETTLED_MS, action: { do: 'remote', sensorId: sensor.id, key, repeats: 0 } }], untilMs: SETTLED_MS + 2000 }
    const is = movedAfter(design, load, script, SETTLED_MS)
    if (is === null || is === restOf(load.output)) continue
    const ending = `Nobody of the house asked, and ${load.name} goes ${valueWords(load.output, is)}`
    return {
      ...common, state: 'broken', reason: `Key ${key + 1} of ${sensor.name} says the same every time: whoever recorded its light opens ${load.name}`,
      story: { surfaceId: null, what: 'replayed by a stranger', script, replayed: true, ending, steps: [{ words: `a stranger sends what key ${key + 1} of ${sensor.name} sends: ${load.name} goes ${valueWords(load.output, is)}`, kind: 'remote', surfaceId: null, is, shows: null }] },
    }
  }
  return { ...common, state: 'holds', reason: `no key of ${sensor.name} moves it away from rest`, story: null }
}

/** What the load goes to from `atMs` on, having stood still since all had settled; null where it does not move, or moved before. */
function movedAfter(design: Design, load: Load, script: BenchScript, atMs: number, fates?: FateOf): string | null {
  const first = movesOf(runScript(design, script, fates).trace, load.id).find(c => c.t >= SETTLED_MS)
  return first && first.t >= atMs ? first.value : null
}
