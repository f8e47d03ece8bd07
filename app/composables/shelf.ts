/** The shelf: designs that are there, and how each stands, found out one after another. */
import { useLocalStorage } from '@vueuse/core'
import { counted, toldOnce } from '../../core/checks/told-once'
import type { Design } from '../../core/design/schema'
import type { DesignSummary } from '../../core/design/summary'

/** `stale`: cells of its sheet that can go stale for good. */
export interface Stand {
  stops: number
  warns: number
  stale: number
}
/**
 * By design and revision, as far as this build of Nolvi found it out: kept by the browser, for a
 * design with many loads is proved for seconds.
 */
interface Known {
  build: string
  stands: Record<string, Stand>
}
const keyOf = ({ id, revision, updatedAt }: DesignSummary) => `${id} ${revision} ${updatedAt}`

export function useShelf() {
  const build = useRuntimeConfig().app.buildId
  const known = useLocalStorage<Known>('nolvi stands', { build, stands: {} })
  if (known.value.build !== build) known.value = { build, stands: {} }
  const list = ref<DesignSummary[] | null>(null)
  const stands = shallowRef(new Map<string, Stand>())
  const refused = ref<Refusal | null>(null)
  let round = 0

  async function load(): Promise<void> {
    const answer = await ask<DesignSummary[]>('/api/designs')
    if (!answer.ok) {
      refused.value = answer.refusal
      return
    }
    list.value = answer.value
    void lookAtAll(++round)
  }
  async function lookAtAll(mine: number): Promise<void> {
    for (const design of list.value ?? []) {
      if (mine !== round) return
      const stand = known.value.stands[keyOf(design)] ?? (await look(design))
      if (!stand) continue
      known.value.stands[keyOf(design)] = stand
      stands.value = new Map([...stands.value, [design.id, stand]])
    }
    const there = new Set((list.value ?? []).map(keyOf))
    const of = Object.entries(known.value.stands).filter(([key]) => there.has(key))
    known.value.stands = Object.fromEntries(of)
  }
  async function look(summary: DesignSummary): Promise<Stand | null> {
    if (summary.unreadable !== null) return null
    const answer = await ask<{ design: Design }>(`/api/designs/${summary.id}`)
    if (!answer.ok) return null
    const { findings, verdicts } = await coreWorker('check').check(answer.value.design)
    const { stop, warn } = counted(toldOnce(findings))
    const cells = Object.values(verdicts).flatMap(v => v.surfaces)
    return {
      stops: stop,
      warns: warn,
      stale: cells.filter(c => c.state === 'stale').length,
    }
  }
  onBeforeUnmount(() => round++)
  return { list, stands, refused, load }
}
