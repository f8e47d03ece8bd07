/**
 * Findings and verdicts of the open design, made in a worker after each edit; the newest edit wins.
 */
import { defineStore } from 'pinia'
import type { Finding } from '../../core/checks/finding'
import { counted, toldOnce } from '../../core/checks/told-once'
import type { Verdict } from '../../core/proof/prove'
import { coreWorker } from '../composables/core-worker'
import { useDesignStore } from './design'

/**
 * After the next picture; where none is drawn, as in a hidden tab, soon. The table is shown before
 * the checks are fetched.
 */
function drawn(): Promise<void> {
  return new Promise(resolve => {
    setTimeout(resolve, 400)
    requestAnimationFrame(() => requestAnimationFrame(() => resolve()))
  })
}

export const useFindingsStore = defineStore('findings', () => {
  const designs = useDesignStore()
  const findings = shallowRef<Finding[]>([])
  const verdicts = shallowRef<Record<string, Verdict>>({})
  const checking = ref(false)
  /** Nothing is known before the first check of a design is done. */
  const known = ref(false)
  /** Why the design as it is was not checked. */
  const trouble = ref('')
  const open = ref(false)
  let turn = 0

  watch(
    () => designs.design,
    async (design, before) => {
      if (!design || design.id !== before?.id) known.value = false
      await look()
    },
    { immediate: true },
  )
  async function look(): Promise<void> {
    const mine = ++turn
    const { design } = designs
    trouble.value = ''
    if (!design) {
      findings.value = []
      verdicts.value = {}
      return
    }
    checking.value = true
    if (mine === 1) await drawn()
    try {
      const checked = await coreWorker('check').check(design)
      if (mine !== turn) return
      findings.value = checked.findings
      verdicts.value = checked.verdicts
      known.value = true
    } catch (error) {
      if (mine !== turn) return
      // What was found before may not be so any more.
      known.value = false
      trouble.value = (error as Error).message
    }
    checking.value = false
  }

  /** One cause once, with all the loads that it concerns; a cell looks at its own. */
  const told = computed(() => toldOnce(findings.value))
  const counts = computed(() => counted(told.value))
  const stops = computed(() => counts.value.stop)
  const warns = computed(() => counts.value.warn)
  const notes = computed(() => counts.value.note)
  const of = (surfaceId: string | null, loadId: string | null) =>
    findings.value.filter(
      f =>
        (surfaceId === null || f.surfaceId === surfaceId)
        && (loadId === null || f.loadId === loadId),
    )

  return {
    findings,
    told,
    verdicts,
    checking,
    known,
    trouble,
    look,
    open,
    stops,
    warns,
    notes,
    of,
  }
})
