/**
 * Properties are tried on the same cases every time, so that a failure is never a matter of luck;
 * NOLVI_SEED tries others.
 */
import fc from 'fast-check'

fc.configureGlobal({
  seed: Number(process.env.NOLVI_SEED ?? 4680),
  numRuns: Number(process.env.NOLVI_RUNS ?? 100),
})
