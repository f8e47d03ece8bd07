import { Bench } from '../../../../core/bench/bench'
import { judged, type Held } from '../../../../core/bench/drills'
import { scriptSchema } from '../../../../core/bench/script'
import { wrongMs } from '../../../../core/bench/trace'
import { pointer } from '../../../../core/design/validate'
import { remotes } from '../../../../core/design/find'
import { partOf } from '../../../../core/design/part'

/** Runs a script on the bench of one controller (`?controller=`, else the first); answers with the trace, how long each surface was wrong, ms, and how each expectation of the script was met. */
export default defineEventHandler(async (event) => {
  const { design } = await storedDesign(event)
  const script = scriptSchema.safeParse(await readJson(event))
  if (!script.success) throw refuse(400, 'This is not a bench script', script.error.issues.map(i => ({ path: pointer(i.path), message: i.message })))
  const { seed, steps, fates, untilMs, expects } = script.data
  const { controller } = getQuery(event)
  const controllerId = typeof controller === 'string' ? controller : design.controllers[0]?.id ?? ''
  if (!design.controllers.some(c => c.id === controllerId)) throw refuse(400, 'There is no such controller', [{ path: '', message: `no controller "${controllerId}" in this design` }])
  const part = partOf(design, controllerId)
  const bench = new Bench(part, seed, fates)
  bench.plan(steps)
  const until = untilMs ?? steps.reduce((last, s) => Math.max(last, s.atMs), 0) + 5000
  let expected: Held[]
  try {
    while (!bench.advance(until, SLICE)) await nextTurn()
    expected = (expects ?? []).map(e => judged(part, bench.trace, e))
  }
  catch (error) {
    if (error instanceof RangeError) throw refuse(400, error.message)
    throw error
  }
  return {
    untilMs: until, trace: bench.trace, expected,
    disagreements: remotes(part).flatMap(s => part.loads.map(l => ({ surfaceId: s.id, loadId: l.id, wrongMs: wrongMs(bench.trace, s.id, l.id, until) }))).filter(d => d.wrongMs > 0),
  }
})

const SLICE = 2_000
