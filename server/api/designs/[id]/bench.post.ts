import { Bench } from '../../../../core/bench/bench'
import { scriptSchema } from '../../../../core/bench/script'
import { wrongMs } from '../../../../core/bench/trace'
import { pointer } from '../../../../core/design/validate'
import { panels } from '../../../../core/design/find'

/** Runs a script on the bench; answers with the trace and how long each surface was wrong, ms. */
export default defineEventHandler(async (event) => {
  const { design } = await storedDesign(event)
  const script = scriptSchema.safeParse(await readJson(event))
  if (!script.success) throw refuse(400, 'This is not a bench script', script.error.issues.map(i => ({ path: pointer(i.path), message: i.message })))
  const { seed, steps, fates, untilMs } = script.data
  const bench = new Bench(design, seed, fates)
  bench.plan(steps)
  const until = untilMs ?? steps.reduce((last, s) => Math.max(last, s.atMs), 0) + 5000
  try { while (!bench.advance(until, SLICE)) await nextTurn() }
  catch (error) {
    if (error instanceof RangeError) throw refuse(400, error.message)
    throw error
  }
  return {
    untilMs: until, trace: bench.trace,
    disagreements: panels(design).flatMap(s => design.loads.map(l => ({ surfaceId: s.id, loadId: l.id, wrongMs: wrongMs(bench.trace, s.id, l.id, until) }))).filter(d => d.wrongMs > 0),
  }
})

const SLICE = 2_000
