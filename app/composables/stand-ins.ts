/** Stand-ins and programs of the open design: started, listed and stopped through the server. */
import { useIntervalFn } from '@vueuse/core'

export interface StandInView {
  id: string
  controllerId: string
  revision: number
  fingerprint: string
  address: string
  values: Record<string, string>
  clients: number
  datagramPorts: Record<string, number>
  serialPorts: Record<string, { port: number; path: string | null }>
  startedAt: string
  runs: 'stand-in' | 'program'
  phase: 'making' | 'running' | 'ended'
  words: string
}

export function useStandIns(designId: () => string) {
  const list = ref<StandInView[]>([])
  const refused = ref('')
  const path = () => `/api/designs/${designId()}/stand-ins`

  async function refresh(): Promise<void> {
    const answer = await ask<StandInView[]>(path())
    if (answer.ok) list.value = answer.value.map(s => ({ ...s, address: reached(s.address) }))
  }
  /** One for each controller, or its program in its place. */
  async function start(
    controllerIds: readonly string[],
    runs: StandInView['runs'] = 'stand-in',
  ): Promise<void> {
    const not: string[] = []
    for (const controller of controllerIds) {
      const asked = new URLSearchParams({ controller, runs })
      const answer = await ask<StandInView>(`${path()}?${asked}`, { method: 'POST' })
      if (!answer.ok) not.push(refusalWords(answer.refusal))
    }
    refused.value = not.join(' ')
    await refresh()
  }
  async function stop(id: string): Promise<void> {
    await ask(`${path()}/${id}`, { method: 'DELETE' })
    await refresh()
  }
  useIntervalFn(refresh, 1000, { immediate: true, immediateCallback: true })
  return { list, refused, start, stop, refresh }
}

/**
 * One that listens on every address is reached by that of Nolvi itself, from another device too.
 */
function reached(address: string): string {
  const url = new URL(address)
  if (url.hostname === '0.0.0.0' || url.hostname === '[::]') url.hostname = location.hostname
  return url.origin
}
