/**
 * Workers over the core: one for findings after each edit, two for proofs, one for repairs, one for
 * weeks of use, so that none waits for another.
 */
import type { CoreWorker } from '../workers/core.worker'
import { workerPort, type Calls } from './worker-port'

type Purpose = 'check' | 'proof' | 'proof-2' | 'repair' | 'weeks'
const workers = new Map<Purpose, Calls<CoreWorker>>()

export function coreWorker(purpose: Purpose): Calls<CoreWorker> {
  let worker = workers.get(purpose)
  if (!worker) {
    worker = workerPort<CoreWorker>(
      () =>
        new Worker(new URL('../workers/core.worker.ts', import.meta.url), {
          type: 'module',
          name: purpose,
        }),
    )
    workers.set(purpose, worker)
  }
  return worker
}
