/** The emulated board beside the bench: fed with what happens there, in a worker of its own. */
import { proxy } from 'comlink'
import { defineStore } from 'pinia'
import { workerPort, type Calls } from '../composables/worker-port'
import type { BoardNews, BoardStarted, BoardWorker } from '../workers/board.worker'
import { useBenchStore } from './bench'

/** While the bench runs the board stays so far behind: what arrives has begun a little before. */
const BEHIND_MS = 150

export const useEmulatedStore = defineStore('emulated', () => {
  const bench = useBenchStore()
  const on = ref(false)
  const started = shallowRef<BoardStarted | null>(null)
  const news = shallowRef<BoardNews | null>(null)
  const trouble = ref('')
  let worker: Calls<BoardWorker> | null = null
  /** How much of what was heard on the bench the board was given. */
  let fed = { happens: 0, does: 0 }
  /** Counts boards: what an earlier one tells is of no matter. */
  let nth = 0

  async function begin(): Promise<void> {
    const part = bench.plainPart
    const mine = ++nth
    news.value = null
    started.value = null
    if (!part) return
    worker ??= workerPort<BoardWorker>(
      () =>
        new Worker(new URL('../workers/board.worker.ts', import.meta.url), {
          type: 'module',
          name: 'board',
        }),
    )
    let answer: BoardStarted
    try {
      answer = await worker.start(
        toRaw(part),
        proxy((it: BoardNews) => {
          if (mine === nth && on.value) take(it)
        }),
      )
    } catch (error) {
      if (mine === nth) fell(error)
      return
    }
    if (mine !== nth) return
    started.value = answer
    fed = { happens: 0, does: 0 }
    give()
  }

  /** News are what is new; what is shown is all. */
  function take(it: BoardNews): void {
    const before = news.value
    const lines = it.lines.map((all, load) =>
      all.map((changes, n) => {
        const known = before?.lines[load]?.[n] ?? []
        known.push(...changes)
        return known
      }),
    )
    const texts = before?.texts ?? []
    texts.splice(it.textsBefore, texts.length, ...it.texts)
    news.value = { ...it, lines, texts }
  }

  function give(): void {
    const { bench: run } = bench
    if (!on.value || !started.value?.ok || !run || !worker) return
    const heard = bench.heardSoFar()
    const happens = heard.happens.slice(fed.happens)
    const does = heard.does.slice(fed.does)
    fed = { happens: heard.happens.length, does: heard.does.length }
    const until = bench.running ? run.now - BEHIND_MS : run.now
    const mine = nth
    worker.feed(happens, does, until).catch((error: unknown) => {
      if (mine === nth) fell(error)
    })
  }

  function fell(error: unknown): void {
    // It is gone already.
    worker = null
    turn(false)
    trouble.value = (error as Error).message
  }

  function turn(yes: boolean): void {
    on.value = yes
    trouble.value = ''
    if (yes) return void begin()
    nth++
    news.value = null
    started.value = null
    worker?.stop().catch(() => undefined)
  }

  watch(
    () => bench.bench,
    () => {
      if (on.value) void begin()
    },
    { flush: 'sync' },
  )
  watch(() => [bench.tick, bench.running], give)

  return { on, started, news, trouble, turn }
})
