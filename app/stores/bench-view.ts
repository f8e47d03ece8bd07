/**
 * Where the bench is looked at: from when, how close, the cursor, markers. Kept apart from the run
 * itself.
 */
import { defineStore } from 'pinia'

/** Closest: a pixel is 10 us. Widest: a day is about as high as the screen. */
const CLOSEST_PX_PER_MS = 100
const WIDEST_PX_PER_MS = 8e-6
const MOST_MARKERS = 8

export const useBenchViewStore = defineStore('bench-view', () => {
  const fromMs = ref(0)
  const pxPerMs = ref(0.15)
  const cursorMs = ref<number | null>(null)
  /** Where the pointer is; it counts before the cursor. */
  const hoverMs = ref<number | null>(null)
  const follow = ref(true)
  const markers = ref<number[]>([])
  /** Messages of other loads are drawn too, faintly. */
  const allMessages = ref(false)
  const readMs = computed(() => hoverMs.value ?? cursorMs.value)

  function mark(t: number): void {
    const there = markers.value.findIndex(m => Math.abs(m - t) < 2 / pxPerMs.value)
    if (there >= 0) markers.value = markers.value.filter((_, i) => i !== there)
    else markers.value = [...markers.value, t].sort((a, b) => a - b).slice(-MOST_MARKERS)
  }

  function forget(): void {
    cursorMs.value = null
    hoverMs.value = null
    markers.value = []
    follow.value = true
    fromMs.value = 0
  }

  /** As close or as wide as asked for, within what can be drawn. */
  function scaleTo(asked: number): void {
    pxPerMs.value = Math.min(CLOSEST_PX_PER_MS, Math.max(WIDEST_PX_PER_MS, asked))
  }

  /** A moment to look at, wherever the time line is. */
  function show(t: number): void {
    follow.value = false
    cursorMs.value = t
  }

  return {
    fromMs,
    pxPerMs,
    cursorMs,
    hoverMs,
    readMs,
    follow,
    markers,
    allMessages,
    mark,
    scaleTo,
    forget,
    show,
  }
})
