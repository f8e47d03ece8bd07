/** What is connected of the open design, as the server tells it. */
import { useEventSource, useIntervalFn } from '@vueuse/core'
import type { DeskView, TrafficNews } from '../../core/live/view'

/** Messages that a page keeps. */
const MOST_LINES = 600

export type Reached =
  | { by: 'port'; path: string }
  | { by: 'address' }
  | { by: 'here'; standIn: string }
  | { by: 'page' }

export function useLive(designId: () => string) {
  const view = shallowRef<DeskView>({
    now: 0,
    connections: [],
    rows: [],
    commissioning: null,
    trials: null,
  })
  const traffic = shallowRef<TrafficNews[]>([])
  const trouble = ref('')
  /** Before the server told what is connected nothing is known. */
  const known = ref(false)
  const base = () => `/api/designs/${encodeURIComponent(designId())}/live`
  /** What the clock of the server says, ms, between one news and the next. */
  const now = ref(0)
  let toldAt = 0
  let told = 0

  const { data, status } = useEventSource(
    // Without a design nobody is asked: an empty address would be this very page.
    computed(() => (designId() ? `${base()}/events` : undefined)),
    [],
    {
      autoReconnect: { retries: -1, delay: 1000 },
    },
  )
  watch(data, text => {
    if (!text) return
    const news = JSON.parse(text) as DeskView & { traffic: TrafficNews[] }
    const { traffic: lines, ...desk } = news
    view.value = desk
    known.value = true
    ;[told, toldAt, now.value] = [news.now, performance.now(), news.now]
    const there = new Set(news.connections.map(c => c.id))
    traffic.value = [...traffic.value, ...lines]
      .filter(line => there.has(line.connection))
      .slice(-MOST_LINES)
  })
  useIntervalFn(() => {
    if (toldAt) now.value = Math.round(told + performance.now() - toldAt)
  }, 500)

  async function answered<T>(path: string, options: Parameters<typeof ask>[1]): Promise<T | null> {
    const answer = await ask<T>(base() + path, options)
    trouble.value = answer.ok ? '' : refusalWords(answer.refusal)
    return answer.ok ? (answer.value ?? ({} as T)) : null
  }
  const connect = (linkId: string, reached: Reached, as?: string | null) =>
    answered<{ id: string }>('', {
      method: 'POST',
      body: { linkId, reached, ...(as === undefined ? {} : { as }) },
    })
  const letGo = (id: string) => answered(`/${id}`, { method: 'DELETE' })
  const does = (id: string, body: object) => answered(`/${id}`, { method: 'POST', body })

  return { view, known, traffic, trouble, now, status, base, connect, letGo, does }
}

export type LiveState = ReturnType<typeof useLive>
