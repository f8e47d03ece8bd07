/** Proof runs of the open design, load by load in a worker, with progress and stop. */
import { proxy } from 'comlink'
import { defineStore } from 'pinia'
import type { Verdict } from '../../core/proof/prove'
import { THOROUGH, type Bounds } from '../../core/proof/system'
import type { Design } from '../../core/design/schema'
import { coreWorker } from '../composables/core-worker'
import { useDesignStore } from './design'

export const useProofStore = defineStore('proof', () => {
  const designs = useDesignStore()
  /** Verdicts with the design they were made for: after an edit they are out of date and say so. */
  const results = shallowRef<Record<string, { verdict: Verdict, design: Design }>>({})
  const running = ref<string | null>(null)
  const situations = ref(0)
  const bounds = ref<Bounds>({ ...THOROUGH })
  let run = 0

  async function prove(loadIds: readonly string[]): Promise<void> {
    const mine = ++run
    for (const loadId of loadIds) {
      const { design } = designs
      if (!design || mine !== run) return
      running.value = loadId
      situations.value = 0
      const verdict = await coreWorker('proof').prove(design, loadId, { ...bounds.value }, proxy((n: number) => { situations.value = n }))
      if (!verdict || mine !== run) return
      results.value = { ...results.value, [loadId]: { verdict, design } }
    }
    running.value = null
  }

  async function stop(): Promise<void> {
    run++
    running.value = null
    await coreWorker('proof').stop()
  }

  function resultOf(loadId: string): { verdict: Verdict, current: boolean } | null {
    const result = results.value[loadId]
    return result ? { verdict: result.verdict, current: result.design === designs.design } : null
  }

  return { running, situations, bounds, prove, stop, resultOf, results }
})
