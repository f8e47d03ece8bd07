/**
 * Promise P4 beyond the search: what pins do before the program runs (their level at reset, the
 * boot log), and rules that act on the first reading after a start. Each break is tried on the
 * bench.
 */
import { runScript, type Bench } from '../../bench/bench'
import type { BenchScript } from '../../bench/script'
import { pinOf } from '../../boards/boards'
import { boardOf } from '../../design/pins'
import type { Design, Load } from '../../design/schema'
import { fullOf, linesOf, restOf, valueWords } from '../../design/values'
import { readingText, rawRange, restingRaw, type Raw } from '../../controller/readings'
import { ruled } from '../../controller/rules'
import type { Story } from '../story/story'
import { policyWords } from '../story/words'
import { settledPart, type Part, type SurfaceVerdict } from '../verdict'
import { isOpposed, limitsOf, activeLevelOf } from '../../design/outputs/traits'
import { isStick } from '../../design/sensors/traits'
import { ruleSets } from '../../design/targets'

const CUT_MS = 1000
const RETURN_MS = 3000

/** What outputs do at a start: levels at reset, the boot log, rules (P4). */
export function bootPart(design: Design, load: Load): Part {
  return settledPart('P4', () => [
    ...resetLevels(design, load),
    ...bootLogs(design, load),
    ...rulesAtStart(design, load),
  ])
}

/** What happens to the load when the power is cut and returns. */
function cutRun(
  design: Design,
  more: BenchScript['steps'] = [],
  afterMs = 1500,
): { script: BenchScript; bench: Bench; bootMs: number } {
  const bootMs = design.controllers[0]?.bootMs ?? 0
  const script: BenchScript = {
    seed: 1,
    steps: [
      { atMs: CUT_MS, action: { do: 'powerOff' } },
      ...more,
      { atMs: RETURN_MS, action: { do: 'powerOn' } },
    ],
    untilMs: RETURN_MS + bootMs + afterMs,
  }
  return { script, bench: runScript(design, script), bootMs }
}

function broken(
  load: Load,
  ending: string,
  last: string,
  what: Story['what'],
  script: BenchScript,
  replayed: boolean,
  between: string[] = [],
): SurfaceVerdict {
  const step = (words: string, kind: Story['steps'][number]['kind']): Story['steps'][number] => ({
    words,
    kind,
    surfaceId: null,
    is: null,
    shows: null,
  })
  const steps = [
    step('the power is cut', 'cut'),
    ...between.map(words => step(words, 'rule')),
    step(last, 'powerOn'),
  ]
  return {
    surfaceId: null,
    subject: load.name,
    state: 'broken',
    reason: ending,
    story: { surfaceId: null, what, steps, ending, script, replayed },
  }
}

/** Whether a line stands at its active level while the board starts. */
function activeMeanwhile(run: ReturnType<typeof cutRun>, load: Load, nth: number): boolean {
  const active =
    activeLevelOf(load.output) === 'high'
      ? (level: number) => level > 0
      : (level: number) => level === 0
  return (
    run.bench.trace.lines[load.id]?.[nth]?.some(
      c => c.t >= RETURN_MS && c.t < RETURN_MS + run.bootMs && c.level !== null && active(c.level),
    ) ?? false
  )
}

function resetLevels(design: Design, load: Load): SurfaceVerdict[] {
  const board = boardOf(design)
  return linesOf(load.output).flatMap((line, nth): SurfaceVerdict[] => {
    const hazard = pinOf(board, line.pin)?.hazards.find(h => h.kind === 'reset-level')
    const active = line.use.as === 'output' || line.use.as === 'pwm' ? line.use.activeLevel : null
    if (hazard?.kind !== 'reset-level' || hazard.level !== active) return []
    const run = cutRun(design)
    const ending = `${load.name} is ${isOpposed(load.output) ? `driven ${line.name}` : 'on'} for ${run.bootMs} ms while the board starts`
    return [
      broken(
        load,
        ending,
        `the power returns: pin ${line.pin} is ${hazard.level} until the program starts`,
        'boots on',
        run.script,
        activeMeanwhile(run, load, nth),
      ),
    ]
  })
}

function bootLogs(design: Design, load: Load): SurfaceVerdict[] {
  const board = boardOf(design)
  return linesOf(load.output).flatMap((line, nth): SurfaceVerdict[] => {
    const pin = pinOf(board, line.pin)
    if (!pin?.hazards.some(h => h.kind === 'boot-log')) return []
    const run = cutRun(design)
    const ending = `${load.name} chatters for up to ${run.bootMs} ms while the board starts: ${pin.label} carries the boot log`
    return [
      broken(
        load,
        ending,
        `the power returns: pin ${line.pin} is driven both ways until the program starts`,
        'boots on',
        run.script,
        activeMeanwhile(run, load, nth),
      ),
    ]
  })
}

/**
 * A rule that takes the first reading after a start for a crossing moves the load although nobody
 * and nothing changed.
 */
function rulesAtStart(design: Design, load: Load): SurfaceVerdict[] {
  return design.rules.flatMap((rule): SurfaceVerdict[] => {
    const set = ruleSets(design, rule).findLast(s => s.loadId === load.id)
    const sensor = design.sensors.find(s => s.id === rule.sensorId)
    if (!rule.atStart || !set || !sensor) return []
    const raw = rawsOf(sensor).find(
      r => ruled(rule, { beyond: null, last: null, way: 0 }, readingText(sensor, r)).acts,
    )
    const output = load.output
    const policy = 'powerUp' in output ? output.powerUp : 'off'
    if (
      !raw
      || (policy !== 'last' && set.value === (policy === 'on' ? fullOf(output) : restOf(output)))
    )
      return []
    // A least time off may hold the rule back; it acts all the same.
    const leastMs = limitsOf(output)?.minOffMs ?? 0
    const run = cutRun(
      design,
      [
        {
          atMs: (CUT_MS + RETURN_MS) / 2,
          action: { do: 'sense', sensorId: sensor.id, raw: [...raw] },
        },
      ],
      1500 + leastMs,
    )
    const was = policy === 'on' ? fullOf(output) : restOf(output)
    const is = run.bench.trace.truth[load.id]?.find(
      c => c.t >= RETURN_MS + run.bootMs && c.value !== was,
    )?.value
    if (is === undefined) return []
    return [
      broken(
        load,
        `After the power returned ${load.name} is ${valueWords(output, is)}: "${rule.name}" acts on the first reading; ${policyWords(output)}`,
        `the power returns and the board starts: "${rule.name}" acts`,
        'astray',
        run.script,
        true,
        [`meanwhile ${sensor.name} reads ${readingText(sensor, raw)}`],
      ),
    ]
  })
}

function rawsOf(sensor: Design['sensors'][number]): Raw[] {
  const { low, high } = rawRange(sensor)
  const count = Math.min(2000, high - low)
  const raws = Array.from({ length: count + 1 }, (_, i) =>
    Math.round(low + ((high - low) * i) / Math.max(1, count)),
  )
  return [restingRaw(sensor), ...raws.map((r): Raw => (isStick(sensor) ? [r, 0] : [r]))]
}
