/** Workers over the core: one for findings after each edit, one for proofs, so that neither waits for the other. */
import { wrap, type Remote } from 'comlink'
import type { CoreWorker } from '../workers/core.worker'

const workers = new Map<'check' | 'proof', Remote<CoreWorker>>()

export function coreWorker(purpose: 'check' | 'proof'): Remote<CoreWorker> {
  let worker = workers.get(purpose)
  if (!worker) {
    worker = wrap<CoreWorker>(new Worker(new URL('../workers/core.worker.ts', import.meta.url), { type: 'module', name: purpose }))
    workers.set(purpose, worker)
  }
  return worker
}
