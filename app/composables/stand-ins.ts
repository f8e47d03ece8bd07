/** Stand-ins of the open design: started, listed and stopped through the server. */
import { useIntervalFn } from '@vueuse/core'

export interface StandInView { id: string, controllerId: string, revision: number, fingerprint: string, address: string, values: Record<string, string>, clients: number, datagramPorts: Record<string, number>, startedAt: string }

export function useStandIns(designId: () => string) {
  const list = ref<StandInView[]>([])
  const refused = ref('')
  const path = () => `/api/designs/${designId()}/stand-ins`

  async function refresh(): Promise<void> {
    const answer = await ask<StandInView[]>(path())
    if (answer.ok) list.value = answer.value
  }
  /** One for each controller. */
  async function start(controllerIds: readonly string[]): Promise<void> {
    refused.value = ''
    for (const id of controllerIds) {
      const answer = await ask<StandInView>(`${path()}?controller=${encodeURIComponent(id)}`, { method: 'POST' })
      if (!answer.ok) refused.value = refusalWords(answer.refusal)
    }
    await refresh()
  }
  async function stop(id: string): Promise<void> {
    await ask(`${path()}/${id}`, { method: 'DELETE' })
    await refresh()
  }
  useIntervalFn(refresh, 1000, { immediate: true, immediateCallback: true })
  return { list, refused, start, stop, refresh }
}
