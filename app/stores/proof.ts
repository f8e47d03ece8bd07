/**
 * Proof runs of the open design: loads in two workers, with progress and stop; repairs and what
 * carries a promise in a third.
 */
import { defineStore } from 'pinia'
import type { Carrier, Repair, RepairSearch } from '../../core/checks/repairs'
import type { Design } from '../../core/design/schema'
import { DEFAULT_BOUNDS, type Bounds } from '../../core/proof/bounds'
import type { CheckedAgain } from '../../core/proof/certify'
import { groupsOf } from '../../core/proof/groups'
import { PROMISE_IDS, type PromiseId } from '../../core/proof/promises'
import type { Verdict } from '../../core/proof/prove'
import { keptOf, type ProofRun } from '../../core/proof/record'
import { coreWorker } from '../composables/core-worker'
import { told } from '../composables/told'
import { useDesignStore } from './design'

const WORKERS = ['proof', 'proof-2'] as const
export const keyOf = (promise: PromiseId, loadId: string, surfaceId: string | null = null) =>
  `${promise} ${loadId} ${surfaceId ?? ''}`
/** A record as it is, but for one key. */
function without<T>(of: Record<string, T>, key: string): Record<string, T> {
  const { [key]: _, ...others } = of
  return others
}
export type RepairPlan = Awaited<ReturnType<ReturnType<typeof coreWorker>['repairAll']>>

export const useProofStore = defineStore('proof', () => {
  const designs = useDesignStore()
  /** Verdicts with the design they were made for: after an edit they are out of date and say so. */
  const results = shallowRef<Record<string, { verdict: Verdict; design: Design }>>({})
  const running = ref<string[]>([])
  const situations = ref(0)
  const bounds = ref<Bounds>({ ...DEFAULT_BOUNDS })
  const took = ref(0)
  const trouble = ref('')
  /**
   * By promise, load and surface: repairs that were found, for the design they were found for; null
   * while they are looked for.
   */
  const repairs = shallowRef<Record<string, { found: Repair[] | null; design: Design }>>({})
  const carriers = shallowRef<Record<string, { found: Carrier[] | null; design: Design }>>({})
  const checks = shallowRef<Record<string, { found: CheckedAgain[] | null; design: Design }>>({})
  const plan = shallowRef<RepairPlan>(null)
  const planning = ref(false)
  const tries = ref(0)
  let run = 0

  /** In the order of the sheet, whichever worker was done first. */
  const verdicts = computed(() =>
    (designs.design?.loads ?? []).flatMap(l =>
      PROMISE_IDS.flatMap(p => {
        const result = results.value[keyOf(p, l.id)]
        return result && result.design === designs.design ? [result.verdict] : []
      }),
    ),
  )
  const groups = computed(() => groupsOf(verdicts.value))
  const broken = computed(() =>
    verdicts.value
      .filter(v => v.result === 'broken')
      .flatMap(v =>
        v.surfaces
          .filter(
            s => s.story && (s.state === 'broken' || s.state === 'stale' || s.state === 'unsure'),
          )
          .map(s => ({
            promise: v.promise,
            loadId: v.loadId,
            surfaceId: s.surfaceId,
            bounds: { ...bounds.value },
          })),
      ),
  )
  watch(
    () => designs.design,
    () => {
      plan.value = null
    },
  )

  async function prove(
    loadIds: readonly string[],
    promises: readonly PromiseId[] = PROMISE_IDS,
  ): Promise<void> {
    const mine = ++run
    const { design } = designs
    if (!design) return
    const since = performance.now()
    const waiting = [...loadIds]
    const counts = WORKERS.map(() => 0)
    let before = 0
    const within = { ...toRaw(bounds.value) }
    situations.value = 0
    const work = async (name: (typeof WORKERS)[number], n: number): Promise<void> => {
      for (let loadId = waiting.shift(); loadId !== undefined; loadId = waiting.shift()) {
        running.value = [...running.value, loadId]
        const found = await coreWorker(name).prove(
          design,
          loadId,
          within,
          promises,
          mine,
          count => {
            counts[n] = count
            situations.value = before + counts.reduce((a, b) => a + b, 0)
          },
        )
        if (mine !== run && found.whole) return
        counts[n] = 0
        before += found.verdicts.reduce((sum, v) => sum + v.situations, 0)
        // What was stopped half-way says so, and does not put away what is known.
        const news = found.verdicts.filter(
          v => found.whole || v.result === 'broken' || !results.value[keyOf(v.promise, v.loadId)],
        )
        results.value = {
          ...results.value,
          ...Object.fromEntries(
            news.map(verdict => [keyOf(verdict.promise, verdict.loadId), { verdict, design }]),
          ),
        }
        running.value = running.value.filter(id => id !== loadId)
        if (mine !== run) return
      }
    }
    await told(trouble, () =>
      Promise.all(
        WORKERS.slice(0, Math.max(1, Math.min(WORKERS.length, loadIds.length))).map(work),
      ),
    )
    if (mine !== run) return
    running.value = []
    took.value = performance.now() - since
    await keep(design, loadIds, promises)
  }

  /** The log keeps what was proved, with its stories. */
  async function keep(
    design: Design,
    loadIds: readonly string[],
    promises: readonly PromiseId[],
  ): Promise<void> {
    const kept = () =>
      keptOf(verdicts.value.filter(v => loadIds.includes(v.loadId) && promises.includes(v.promise)))
    await record(
      design,
      `promises of ${loadIds.length === 1 ? (design.loads.find(l => l.id === loadIds[0])?.name ?? '') : `${loadIds.length} loads`}`,
      kept,
    )
  }

  /**
   * `results`: asked for when all is saved, and only if the design is still the one that they are
   * about.
   */
  async function record(
    design: Design,
    title: string,
    results: () => ProofRun['results'],
  ): Promise<void> {
    await designs.flush()
    if (designs.design !== design) return
    const kept = results()
    if (!kept.length) return
    const answer = await ask(`/api/designs/${design.id}/records`, {
      method: 'POST',
      body: { kind: 'proof', revision: designs.revision, title, results: kept },
    })
    if (!answer.ok) trouble.value = refusalWords(answer.refusal)
  }

  async function stop(): Promise<void> {
    run++
    await Promise.all(WORKERS.map(name => coreWorker(name).stop()))
    running.value = []
  }

  async function findRepairs(search: Omit<RepairSearch, 'design' | 'bounds'>): Promise<void> {
    await inThird(search, repairs, (whole, onProgress) =>
      coreWorker('repair').repairs(whole, onProgress),
    )
  }

  /** Certificates of what holds are made and gone through; that is kept in the log, too. */
  async function checkAgain(promise: PromiseId, loadId: string): Promise<void> {
    const { design } = designs
    const result = results.value[keyOf(promise, loadId)]
    if (!design || !result || result.design !== design) return
    const key = keyOf(promise, loadId)
    checks.value = { ...checks.value, [key]: { found: null, design } }
    const found = await told(trouble, () =>
      coreWorker('repair').checkAgain(toRaw(design), result.verdict),
    )
    if (!found) {
      checks.value = without(checks.value, key)
      return
    }
    checks.value = { ...checks.value, [key]: { found, design } }
    await record(
      design,
      `${promise} of ${design.loads.find(l => l.id === loadId)?.name ?? ''}, checked again`,
      () =>
        keptOf([result.verdict]).map(k => ({ ...k, checked: found.map(c => c.wrong || c.words) })),
    )
  }

  async function findCarriers(search: Omit<RepairSearch, 'design' | 'bounds'>): Promise<void> {
    await inThird(search, carriers, (whole, onProgress) =>
      coreWorker('repair').carriers(whole, onProgress),
    )
  }

  async function inThird<T>(
    search: Omit<RepairSearch, 'design' | 'bounds'>,
    into: Ref<Record<string, { found: T | null; design: Design }>>,
    work: (whole: RepairSearch, onProgress: (n: number) => void) => Promise<T | null>,
  ): Promise<void> {
    const { design } = designs
    if (!design) return
    const key = keyOf(search.promise, search.loadId, search.surfaceId)
    into.value = { ...into.value, [key]: { found: null, design } }
    const found = await told(trouble, () =>
      work({ ...search, design, bounds: { ...toRaw(bounds.value) } }, n => {
        tries.value = n
      }),
    )
    const others = without(into.value, key)
    into.value = found ? { ...others, [key]: { found, design } } : others
  }

  async function planAll(): Promise<void> {
    const { design } = designs
    if (!design) return
    planning.value = true
    const found = await told(trouble, () =>
      coreWorker('repair').repairAll(design, broken.value, n => {
        tries.value = n
      }),
    )
    planning.value = false
    if (designs.design === design) plan.value = found
  }

  async function stopRepairs(): Promise<void> {
    await coreWorker('repair').stop()
  }

  function resultOf(
    promise: PromiseId,
    loadId: string,
  ): { verdict: Verdict; current: boolean } | null {
    const result = results.value[keyOf(promise, loadId)]
    return result ? { verdict: result.verdict, current: result.design === designs.design } : null
  }

  return {
    running,
    situations,
    bounds,
    took,
    trouble,
    prove,
    stop,
    resultOf,
    results,
    verdicts,
    groups,
    broken,
    repairs,
    carriers,
    checks,
    checkAgain,
    findRepairs,
    findCarriers,
    plan,
    planning,
    planAll,
    stopRepairs,
    tries,
  }
})
