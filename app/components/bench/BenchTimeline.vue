<script setup lang="ts">
/** The time line: one canvas that draws what is visible of the trace; scrolled, zoomed and read with cursor or keys. */
import { useElementSize, useRafFn } from '@vueuse/core'
import type { Design } from '../../../core/design/schema'
import type { BenchColumn } from '../../composables/bench-columns'
import { drawTimeline, timelineColours } from '../../composables/draw-timeline'
import { useBenchStore } from '../../stores/bench'

const props = defineProps<{ design: Design, columns: BenchColumn[] }>()
const cursor = defineModel<number | null>('cursor', { required: true })
const bench = useBenchStore()
const scroller = useTemplateRef<HTMLElement>('scroller')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const { width, height } = useElementSize(scroller)
const pxPerSecond = ref(150)
const follow = ref(true)
const lengthPx = ref(0)
const MAX_PX = 12_000_000
let drawn = ''
let followedTo = -1
let topBefore = 0

const scale = computed(() => pxPerSecond.value / 1000)
function zoom(by: number): void {
  const middle = ((scroller.value?.scrollTop ?? 0) + height.value / 2) / scale.value
  pxPerSecond.value = Math.min(800, Math.max(6, pxPerSecond.value * by))
  void nextTick(() => scroller.value?.scrollTo({ top: middle * scale.value - height.value / 2 }))
}

useRafFn(() => {
  const { bench: run } = bench
  const box = scroller.value
  const context = canvas.value?.getContext('2d')
  if (!run || !box || !context || width.value === 0) return
  const wanted = Math.min(MAX_PX, Math.max(height.value, (run.now + 900) * scale.value))
  if (Math.abs(wanted - lengthPx.value) > (bench.running ? 0 : 0.5)) lengthPx.value = wanted
  if (follow.value && run.now !== followedTo) {
    const target = Math.max(0, Math.min(run.now * scale.value + 60, lengthPx.value) - height.value)
    box.scrollTop = target
    // The box grows a moment after its length was set; until then the end cannot be reached.
    if (Math.abs(box.scrollTop - target) < 2) followedTo = run.now
  }
  const ratio = window.devicePixelRatio || 1
  const key = [bench.tick, bench.loadId, box.scrollTop, width.value, height.value, pxPerSecond.value, cursor.value, ratio, document.documentElement.className, props.columns.length].join(' ')
  if (key === drawn) return
  drawn = key
  if (canvas.value && (canvas.value.width !== Math.round(width.value * ratio) || canvas.value.height !== Math.round(height.value * ratio))) {
    canvas.value.width = Math.round(width.value * ratio)
    canvas.value.height = Math.round(height.value * ratio)
  }
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  drawTimeline(context, {
    trace: run.trace, design: props.design, columns: props.columns, loadId: bench.loadId, nowMs: run.now, cursorMs: cursor.value,
    fromMs: box.scrollTop / scale.value, pxPerMs: scale.value, width: width.value, height: height.value, colours: timelineColours(box),
  })
})

function timeAt(event: PointerEvent): number {
  const box = canvas.value?.getBoundingClientRect()
  return Math.max(0, Math.min(bench.bench?.now ?? 0, ((scroller.value?.scrollTop ?? 0) + event.clientY - (box?.top ?? 0)) / scale.value))
}
function pinOrFree(event: PointerEvent): void {
  cursor.value = timeAt(event)
}
function wheel(event: WheelEvent): void {
  if (event.ctrlKey) {
    event.preventDefault()
    zoom(event.deltaY < 0 ? 1.2 : 1 / 1.2)
  }
  else if (event.deltaY < 0) follow.value = false
}
function scrolled(): void {
  const box = scroller.value
  if (!box) return
  // Whoever scrolls back, by whatever means, wants to stay there; at the end the run is followed again.
  if (box.scrollTop < topBefore - 2) follow.value = false
  if (box.scrollTop + box.clientHeight >= box.scrollHeight - 40) follow.value = true
  topBefore = box.scrollTop
}
const KEYS: Record<string, number> = { ArrowUp: -100, ArrowDown: 100, PageUp: -2000, PageDown: 2000 }
function keyboard(event: KeyboardEvent): void {
  const by = KEYS[event.key]
  if (event.key === 'Escape') cursor.value = null
  else if (event.key === '+' || event.key === '-') zoom(event.key === '+' ? 1.2 : 1 / 1.2)
  else if (by !== undefined) {
    event.preventDefault()
    cursor.value = Math.max(0, Math.min(bench.bench?.now ?? 0, (cursor.value ?? bench.bench?.now ?? 0) + by))
    const y = cursor.value * scale.value
    const box = scroller.value
    if (box && (y < box.scrollTop + 30 || y > box.scrollTop + box.clientHeight - 30)) box.scrollTop = y - box.clientHeight / 2
  }
}
watch(() => bench.bench, () => {
  cursor.value = null
  follow.value = true
})
</script>

<template>
  <div class="wrap">
    <div ref="scroller" class="scroller" tabindex="0" role="group" aria-label="Time line. Arrows move the cursor, plus and minus zoom." @scroll.passive="scrolled" @wheel="wheel" @keydown="keyboard" @pointerdown="pinOrFree">
      <canvas ref="canvas" :style="{ width: `${width}px`, height: `${height}px` }" aria-hidden="true" />
      <div :style="{ height: `${Math.max(0, lengthPx - height)}px` }" />
    </div>
    <div class="zoom">
      <el-button size="small" aria-label="Closer" @click="zoom(1.4)">+</el-button><el-button size="small" aria-label="Wider" @click="zoom(1 / 1.4)">−</el-button>
      <el-button v-if="cursor !== null" size="small" @click="cursor = null">now</el-button>
    </div>
  </div>
</template>

<style scoped>
.wrap { position: relative; flex: 1; min-height: 0; }
.scroller { position: absolute; inset: 0; overflow-y: scroll; overflow-x: hidden; }
.scroller:focus-visible { outline-offset: -2px; }
canvas { position: sticky; top: 0; display: block; cursor: crosshair; }
.zoom { position: absolute; right: 24px; bottom: 12px; display: flex; gap: 4px; }
.zoom :deep(.el-button) { margin: 0; }
</style>
