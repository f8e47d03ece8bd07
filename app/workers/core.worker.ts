/** Thin port over the core: findings and proofs off the main thread. A proof runs in slices, so that it can be stopped. */
import { expose } from 'comlink'
import { check, type Checked } from '../../core/checks/check'
import { VerdictCache } from '../../core/checks/verdicts'
import type { Design } from '../../core/design/schema'
import { Proof, type Verdict } from '../../core/proof/prove'
import type { Bounds } from '../../core/proof/system'

const cache = new VerdictCache()
let stopped = false

const api = {
  check(design: Design): Checked {
    return check(design, cache)
  },

  /** Null when stopped. `onProgress` hears the number of situations about ten times a second. */
  async prove(design: Design, loadId: string, bounds: Bounds, onProgress: (situations: number) => void): Promise<Verdict | null> {
    stopped = false
    const proof = new Proof(design, loadId, bounds)
    let told = performance.now()
    while (!proof.run(SLICE)) {
      if (performance.now() - told > 100) {
        told = performance.now()
        onProgress(proof.situations)
        await new Promise(resolve => setTimeout(resolve))
        if (stopped) return null
      }
    }
    return proof.verdict()
  },

  stop(): void {
    stopped = true
  },
}

const SLICE = 5_000

export type CoreWorker = typeof api
expose(api)
