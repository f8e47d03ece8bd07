/**
 * Trials: what the search leaves out is tried on the bench, which leaves out nothing. Short scripts
 * are made at random from all that can be done about a load and its neighbours on the same link;
 * one that ends, at rest, with a promise broken is made as short as it can be and becomes a story.
 * Trials break; they never prove.
 */
import { Bench } from '../../bench/bench'
import { actionWords } from '../../bench/actions'
import type { Action, BenchScript } from '../../bench/script'
import { differs, isDefinite, movesOf } from '../../bench/trace'
import { farSurfaces, handSurfaces, linkOf, loadOf, scenesOn } from '../../design/find'
import { isDatagram, speaksBytes } from '../../design/links/traits'
import type { Design, FarSurface } from '../../design/schema'
import { valueWords, wantsOn } from '../../design/values'
import { rawRange } from '../../controller/readings'
import { seededRandom, type Random } from '../../units/random'
import type { PromiseId } from '../promises'
import { shownWords } from '../story/words'
import { roundTripMs } from '../project'
import { isGood, type Part, type SurfaceVerdict } from '../verdict'
import { isHeld, isSwitched } from '../../design/outputs/traits'
import { isStick, asksByWay } from '../../design/sensors/traits'
import { rawOf, stickWays } from '../../controller/sticks'

export const TRIALS = 60
const FIRST_MS = 2000
/**
 * Between two things: at the same moment, within a link's way, within a person's hand, and after
 * all has settled.
 */
const GAPS_MS = [0, 1, 5, 40, 300, 3000] as const
const MOST_STEPS = 5
/** A run that goes on and on is stopped after so many events. */
const MOST_EVENTS = 20_000
/** What moves as often as this in the last seconds of a run never comes to rest. */
const RESTLESS_MOVES = 4
const RESTLESS_MS = 3000
/** What has not moved for so long may have come to rest. */
const STILL_MS = 500

type Steps = BenchScript['steps']
interface Breach {
  what: 'wrong' | 'unsure' | 'restless' | 'twice'
  ending: string
  state: SurfaceVerdict['state']
  reason: string
}

/** After `before`, a part of the same verdict: what holds there only in part is tried. */
export function trialPart(
  design: Design,
  loadId: string,
  surface: FarSurface,
  promise: 'P1' | 'P2',
  before: Part,
): Part {
  const actions = actionsAbout(design, loadId, surface)
  let found: SurfaceVerdict | null = null
  let tried = 0
  const part: Part = {
    promises: [promise],
    situations: 0,
    transitions: 0,
    underWay: null,
    run() {
      if (
        !actions.length
        || !before.verdicts(promise).every(v => isGood(v.state) || v.state === 'not examined')
      )
        return true
      // Few at a time: a bench is no more than some milliseconds.
      for (let n = 0; n < 5 && tried < TRIALS && !found; n++)
        found = trial(design, loadId, surface, promise, actions, ++tried)
      return found !== null || tried >= TRIALS
    },
    verdicts: (asked: PromiseId) => (asked === promise && found ? [found] : []),
  }
  return part
}

function trial(
  design: Design,
  loadId: string,
  surface: FarSurface,
  promise: 'P1' | 'P2',
  actions: readonly Action[],
  seed: number,
): SurfaceVerdict | null {
  const random = seededRandom(seed)
  const steps = randomSteps(
    actions,
    random,
    promise === 'P2' ? keysOf(design, loadId, surface) : [],
  )
  const breach = breachOf(design, loadId, surface, promise, steps)
  if (!breach) return null
  const short = shortened(
    steps,
    some => breachOf(design, loadId, surface, promise, some)?.what === breach.what,
  )
  const told = breachOf(design, loadId, surface, promise, short) ?? breach
  return {
    surfaceId: surface.id,
    subject: surface.name,
    state: told.state,
    reason: told.reason,
    story: {
      surfaceId: surface.id,
      what: told.what,
      ending: told.ending,
      replayed: true,
      script: { seed: 1, steps: short, untilMs: untilOf(design, surface, short) },
      steps: short.map(({ action }) => ({
        words: actionWords(design, action),
        kind: action.do === 'key' || action.do === 'press' ? action.do : 'fault',
        surfaceId: 'surfaceId' in action ? action.surfaceId : null,
        is: null,
        shows: null,
      })),
    },
  }
}

/**
 * Everything that can be done about what shares a link with the load, but for faults that are
 * bounded elsewhere.
 */
function actionsAbout(design: Design, loadId: string, surface: FarSurface): Action[] {
  const link = linkOf(design, surface.linkId)
  const near = new Set([loadId, ...(link.messages as { loadId: string }[]).map(m => m.loadId)])
  const loads = design.loads.filter(l => near.has(l.id))
  const presses = handSurfaces(design)
    .flatMap(s => s.controls)
    .filter(c => near.has(c.loadId))
    .map((c): Action => ({ do: 'press', controlId: c.id }))
  const keys = farSurfaces(design).flatMap(s =>
    loads.flatMap(l =>
      (linkOf(design, s.linkId).messages as { loadId: string }[]).some(m => m.loadId === l.id)
      && !isHeld(l.output)
        ? wantsOn(s.keys, l).map((want): Action => ({
            do: 'key',
            surfaceId: s.id,
            loadId: l.id,
            want,
          }))
        : [],
    ),
  )
  const scenes = farSurfaces(design).flatMap(s =>
    scenesOn(s).map((sceneId): Action => ({ do: 'scene', surfaceId: s.id, sceneId })),
  )
  const senses = design.sensors.flatMap((s): Action[] => {
    const { low, high } = rawRange(s)
    if (asksByWay(s))
      return stickWays(s).map(way => ({ do: 'sense', sensorId: s.id, raw: [...rawOf(s, way)] }))
    return [0, 0.35, 0.7, 1].map((at): Action => ({
      do: 'sense',
      sensorId: s.id,
      raw: isStick(s)
        ? [Math.round(low + (high - low) * at), 0]
        : [Math.round(low + (high - low) * at)],
    }))
  })
  const mishaps: Action[] = [
    ...(link.timing.lossPerMille ? [{ do: 'loseNext', linkId: link.id } satisfies Action] : []),
    ...(isDatagram(link) ? [{ do: 'doubleNext', linkId: link.id } satisfies Action] : []),
  ]
  return [...presses, ...keys, ...scenes, ...senses, ...mishaps]
}

function keysOf(design: Design, loadId: string, surface: FarSurface): Action[] {
  return wantsOn(surface.keys, loadOf(design, loadId)).map((want): Action => ({
    do: 'key',
    surfaceId: surface.id,
    loadId,
    want,
  }))
}

/** `last`: one of them comes at the end, when all has settled. */
function randomSteps(actions: readonly Action[], random: Random, last: readonly Action[]): Steps {
  const any = <T>(list: readonly T[]): T => list[Math.floor(random.next() * list.length)] as T
  let t = FIRST_MS
  // Queues and buffers overflow in bursts: in half of the runs everything comes at once, each thing
  // once.
  const burst = random.next() < 0.5
  const left = [...actions]
  const next = () =>
    burst
      ? (left.splice(Math.floor(random.next() * left.length), 1)[0] ?? any(actions))
      : any(actions)
  const steps = Array.from({ length: 1 + Math.floor(random.next() * MOST_STEPS) }, () => ({
    atMs: (t += burst ? any([0, 1]) : any(GAPS_MS)),
    action: next(),
  }))
  return last.length ? [...steps, { atMs: t + 8000, action: any(last) }] : steps
}

function untilOf(design: Design, surface: FarSurface, steps: Steps): number {
  const { belief, pollMs } = surface
  const link = linkOf(design, surface.linkId)
  return (
    (steps.at(-1)?.atMs ?? 0)
    + 4000
    + (belief.policy === 'confirm' ? belief.timeoutMs * (belief.retries + 1) : 0)
    + 2 * pollMs
    + 2 * link.everyMs
    + 2 * link.leastMs
    + 2 * roundTripMs(link)
  )
}

function breachOf(
  design: Design,
  loadId: string,
  surface: FarSurface,
  promise: 'P1' | 'P2',
  steps: Steps,
): Breach | null {
  const bench = new Bench(design, 1)
  bench.plan(steps)
  const until = untilOf(design, surface, steps)
  bench.advance(until, MOST_EVENTS)
  const { name, output } = loadOf(design, loadId)
  const link = linkOf(design, surface.linkId)
  const truth = bench.value(loadId)
  const shown = bench.shown(surface.id, loadId)
  const changes = movesOf(bench.trace, loadId)
  const lately = changes.filter(c => c.t > bench.now - RESTLESS_MS).length
  const blinks = steps.some(s => 'want' in s.action && s.action.want.startsWith('blink'))
  // It may have come to rest after a while.
  const stillMoves = changes.some(c => c.t > bench.now - STILL_MS)
  if (lately >= RESTLESS_MOVES && stillMoves && !blinks)
    return {
      what: 'restless',
      state: promise === 'P1' ? 'unsure' : 'broken',
      reason:
        promise === 'P1'
          ? `${surface.name} may never come to rest`
          : `One press on ${surface.name} acts again and again`,
      ending: `It never comes to rest: ${name} moved ${lately} times in the last ${RESTLESS_MS / 1000} s`,
    }
  // What goes round comes back faster than a run can follow it.
  if (promise === 'P1' && bench.now < until && speaksBytes(link) && link.echoes)
    return {
      what: 'restless',
      state: 'unsure',
      reason: `${surface.name} may never come to rest`,
      ending: `It never comes to rest: something is always on its way on ${link.name}`,
    }
  if ((promise === 'P1' ? lately > 0 : stillMoves) || bench.now < until) return null
  if (promise === 'P2') {
    const press = steps.at(-1)
    if (!press || press.action.do !== 'key') return null
    const moves = changes.filter(c => c.t >= press.atMs)
    if (isSwitched(output) && !output.timers && !output.limits && moves.length > 1)
      return {
        what: 'twice',
        state: 'broken',
        reason: `One press on ${surface.name} acted twice on ${name}`,
        ending: `One press on ${surface.name}, and ${name} moved ${moves.length} times`,
      }
    return null
  }
  if (differs(shown, truth))
    return {
      what: 'wrong',
      state: 'stale',
      reason: `${surface.name} can show the wrong state for good`,
      ending: `${surface.name} shows ${shownWords(output, shown)}, ${name} is ${valueWords(output, truth)}`,
    }
  // What nobody has touched may be unknown from the start; the search knows of that.
  if (!isDefinite(shown) && bench.panelConnected(surface.id) && shown !== 'unknown')
    return {
      what: 'unsure',
      state: 'unsure',
      reason: `${surface.name} can stay unsure for good`,
      ending: `${surface.name} shows ${shownWords(output, shown)}, ${name} is ${valueWords(output, truth)}`,
    }
  return null
}

/** Without each step that is not needed. */
function shortened(steps: Steps, breaks: (steps: Steps) => boolean): Steps {
  let now = steps
  for (let i = now.length - 1; i >= 0; i--) {
    const without = now.filter((_, j) => j !== i)
    if (without.length && breaks(without)) now = without
  }
  return now
}
