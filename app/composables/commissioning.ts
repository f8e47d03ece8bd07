/** A commissioning run, as the server goes through it. */
import type { CommissioningView } from '../../core/live/view'

export interface KeptRun {
  id: number
  revision: number
  fingerprint: string
  startedAt: string
  passed: number
  differs: number
  open: number
  leftOut: number
  of: number
}

export function useCommissioning(designId: () => string) {
  const path = () => `/api/designs/${encodeURIComponent(designId())}/commissioning`
  const last = ref<KeptRun | null>(null)
  const trouble = ref('')

  async function refresh(): Promise<void> {
    const answer = await ask<{ last: KeptRun | null }>(path())
    if (answer.ok) last.value = answer.value.last
  }
  /** Whether it was taken. */
  async function does(wish: object): Promise<boolean> {
    const answer = await ask<CommissioningView | null>(path(), { method: 'POST', body: wish })
    trouble.value = answer.ok ? '' : refusalWords(answer.refusal)
    return answer.ok
  }
  return { last, trouble, refresh, does }
}
