/**
 * The bench run of the open design: live or from a script, paced by frames within a budget of a few
 * milliseconds.
 */
import { defineStore } from 'pinia'
import { Bench } from '../../core/bench/bench'
import { busySteps } from '../../core/bench/busy'
import type { Action, BenchScript } from '../../core/bench/script'
import type { Recording, Role } from '../../core/bench/recording'
import type { Design } from '../../core/design/schema'
import { seated } from '../../core/design/seats'
import { listenerOf, type Heard } from '../../core/emulated/happens'
import type { Understood } from '../../core/surfaces/surface'
import { useDesignStore } from './design'

/** Simulated seconds per second. */
export const SPEEDS = [
  { value: 0.25, name: '¼×' },
  { value: 1, name: '1×' },
  { value: 20, name: '20×' },
  { value: 600, name: '600×' },
] as const
/** Work per frame, ms; a frame has 16. */
const BUDGET_MS = 7
const SLICE_EVENTS = 200
/** What is kept of a run for a board beside it. */
const MOST_HEARD = 200_000

export const useBenchStore = defineStore('bench', () => {
  const designs = useDesignStore()
  const bench = shallowRef<Bench | null>(null)
  /** Counts changes of the run, because the trace itself is not reactive. */
  const tick = ref(0)
  const running = ref(false)
  const speed = ref<number>(1)
  const seed = ref(1)
  const loadId = ref('')
  const title = ref('')
  /** A recording of the real thing beside the run; it begins at `atMs` of it. */
  const probe = shallowRef<{ recording: Recording; roles: Role[]; atMs: number } | null>(null)
  /** End of a script that is being played; the run stops there. */
  const playUntil = ref<number | null>(null)
  /** Those who draw panels hear what each of them understands. */
  const listeners = new Set<(surfaceId: string, heard: readonly Understood[]) => void>()
  let frame = 0
  let last = 0
  const script = shallowRef<BenchScript | null>(null)

  /** The part with the controller of the load shown: one board is played at a time. */
  const plainPart = computed(
    () =>
      (designs.parts.find(p => p.part.loads.some(l => l.id === loadId.value)) ?? designs.parts[0])
        ?.part ?? null,
  )
  /** The same with a link for each who speaks. */
  const part = computed(() => (plainPart.value ? seated(plainPart.value) : null))
  /** What happened to the controller since the start of the run, and what it did; grows with it. */
  let heard: Heard = { happens: [], does: [] }

  watch(
    part,
    design => {
      if (!design) bench.value = null
      else if (design !== bench.value?.design) restart(design)
    },
    { immediate: true },
  )

  /** A new run of the design, from the start; with the same seed it goes the same way. */
  function restart(design: Design, play: BenchScript | null = null): void {
    pause()
    script.value = play
    heard = { happens: [], does: [] }
    const mine = heard
    const listen = plainPart.value ? listenerOf(plainPart.value) : null
    bench.value = new Bench(
      design,
      play?.seed ?? seed.value,
      play?.fates,
      true,
      (event, effects) => {
        const { happens, does } = listen?.(event, effects) ?? mine
        if (mine.happens.length < MOST_HEARD) mine.happens.push(...happens)
        if (mine.does.length < MOST_HEARD) mine.does.push(...does)
      },
    )
    bench.value.onHeard = (surfaceId, understood) => {
      for (const hear of listeners) hear(surfaceId, understood)
    }
    if (play) bench.value.plan(play.steps)
    playUntil.value = play ? (play.untilMs ?? null) : null
    if (!play) title.value = ''
    if (!design.loads.some(l => l.id === loadId.value)) loadId.value = design.loads[0]?.id ?? ''
    bench.value.advance(0)
    tick.value++
  }

  function reset(): void {
    if (part.value) restart(part.value, script.value)
  }

  function clear(): void {
    if (part.value) restart(part.value)
  }

  function run(): void {
    if (running.value || !bench.value) return
    running.value = true
    last = performance.now()
    frame = requestAnimationFrame(advance)
  }

  function pause(): void {
    running.value = false
    cancelAnimationFrame(frame)
  }

  function advance(now: number): void {
    const current = bench.value
    if (!current || !running.value) return
    const elapsed = Math.min(100, now - last) * speed.value
    last = now
    const until = Math.round(Math.min(current.now + elapsed, playUntil.value ?? Infinity))
    const deadline = performance.now() + BUDGET_MS
    while (!current.advance(until, SLICE_EVENTS) && performance.now() < deadline) {
      /* the next slice of this frame */
    }
    tick.value++
    if (playUntil.value !== null && current.now >= playUntil.value) {
      pause()
      playUntil.value = null
      return
    }
    frame = requestAnimationFrame(advance)
  }

  /** The next event, whenever it is. */
  function step(): void {
    pause()
    bench.value?.step()
    tick.value++
  }

  function act(action: Action): void {
    bench.value?.act(action)
    tick.value++
  }

  /** Play a story: slow enough to be followed, and it stops at its end. */
  function play(story: { script: BenchScript; title: string; loadId: string }): void {
    loadId.value = story.loadId
    if (!part.value) return
    restart(part.value, story.script)
    title.value = story.title
    speed.value = 1
    run()
  }

  /** Play a script to its end at once. */
  async function playAtOnce(story: {
    script: BenchScript
    title: string
    loadId: string
  }): Promise<void> {
    if (designs.parts.some(p => p.part.loads.some(l => l.id === story.loadId)))
      loadId.value = story.loadId
    if (!part.value) return
    restart(part.value, story.script)
    title.value = story.title
    const last = story.script.steps.reduce((most, s) => Math.max(most, s.atMs), 0)
    await rush(story.script.untilMs ?? last + 5000)
    playUntil.value = null
  }

  /**
   * Ten busy minutes at once: presses and keys at random, a link lost now and then. Same seed, same
   * minutes.
   */
  async function busyTenMinutes(): Promise<void> {
    const design = part.value
    if (!design) return
    restart(design, { seed: seed.value, steps: busySteps(design, seed.value, TEN_MINUTES_MS) })
    title.value = 'ten busy minutes'
    await rush(TEN_MINUTES_MS)
  }

  /** Works up to a time as fast as frames allow. */
  async function rush(untilMs: number): Promise<void> {
    const current = bench.value
    while (current && current === bench.value) {
      const deadline = performance.now() + BUDGET_MS
      let done = false
      do done = current.advance(untilMs, SLICE_EVENTS)
      while (!done && performance.now() < deadline)
      tick.value++
      if (done) return
      await new Promise(resolve => requestAnimationFrame(resolve))
    }
  }

  return {
    bench,
    part,
    plainPart,
    heardSoFar: () => heard,
    tick,
    listeners,
    running,
    speed,
    seed,
    loadId,
    title,
    probe,
    script,
    playUntil,
    reset,
    clear,
    run,
    pause,
    step,
    act,
    play,
    playAtOnce,
    busyTenMinutes,
  }
})

const TEN_MINUTES_MS = 600_000
