<script setup lang="ts">
/**
 * The time line: one canvas that draws what is visible of the run, from 10 us a pixel to a day on
 * the screen; beside it the whole run, small.
 */
import { useElementSize, useRafFn } from '@vueuse/core'
import { nextWrong, type Trace } from '../../../core/bench/trace'
import type { Design } from '../../../core/design/schema'
import { OVERVIEW_PX, type BenchColumn } from '../../composables/bench-columns'
import { drawOverview } from '../../drawing/overview'
import { drawTimeline } from '../../drawing/timeline/timeline'
import { timelineColours } from '../../drawing/timeline/view'
import { useBenchViewStore } from '../../stores/bench-view'
import { useBenchStore } from '../../stores/bench'
import { useEmulatedStore } from '../../stores/emulated'

const props = defineProps<{ design: Design; columns: BenchColumn[] }>()
const bench = useBenchStore()
const look = useBenchViewStore()
const emulated = useEmulatedStore()
const area = useTemplateRef<HTMLElement>('area')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const overview = useTemplateRef<HTMLCanvasElement>('overview')
const { width, height } = useElementSize(area)
/** Free space below now, px. */
const BELOW_PX = 60
let drawn = ''
let overviewDrawn = ''
let overviewAt = 0
/** The strip does not show the newest yet. */
let overviewWaits = false
/** The whole run is looked through not more often than this. */
const OVERVIEW_MS = 500
const nowMs = () => bench.bench?.now ?? 0
const canvasWidth = computed(() => Math.max(0, width.value - OVERVIEW_PX))
const endPx = () => nowMs() * look.pxPerMs + BELOW_PX

function scrollTo(fromMs: number): void {
  const last = Math.max(0, (endPx() - height.value) / look.pxPerMs)
  look.fromMs = Math.max(0, Math.min(fromMs, last))
}
/** Whoever moves away from the end wants to stay there; at the end the run is followed again. */
function scrollBy(px: number): void {
  const before = look.fromMs
  scrollTo(look.fromMs + px / look.pxPerMs)
  if (px < 0 && look.fromMs < before) look.follow = false
  else if (px > 0 && (look.fromMs + height.value / look.pxPerMs) * look.pxPerMs >= endPx() - 2)
    look.follow = true
}
/** Closer or wider, around a place of the canvas, or its middle. */
function zoom(by: number, aroundPx = height.value / 2): void {
  const around = look.fromMs + aroundPx / look.pxPerMs
  look.scaleTo(look.pxPerMs * by)
  scrollTo(around - aroundPx / look.pxPerMs)
}
/** The whole run on the screen. */
function whole(): void {
  look.scaleTo((height.value - BELOW_PX) / Math.max(1, nowMs()))
  look.fromMs = 0
}
function intoView(t: number): void {
  const y = (t - look.fromMs) * look.pxPerMs
  if (y < 30 || y > height.value - 30) scrollTo(t - height.value / 2 / look.pxPerMs)
}

useRafFn(() => {
  const run = bench.bench
  const element = area.value
  const context = canvas.value?.getContext('2d')
  if (!run || !element || !context || canvasWidth.value === 0) return
  if (look.follow) look.fromMs = Math.max(0, (endPx() - height.value) / look.pxPerMs)
  const ratio = window.devicePixelRatio || 1
  const key = [
    bench.tick,
    bench.loadId,
    look.fromMs,
    canvasWidth.value,
    height.value,
    look.pxPerMs,
    look.cursorMs,
    look.hoverMs,
    look.markers.join(),
    look.allMessages,
    bench.probe?.atMs,
    emulated.news?.now,
    emulated.news?.differences.length,
    bench.probe?.recording.name,
    ratio,
    document.documentElement.className,
    props.columns.length,
  ].join(' ')
  if (key === drawn && !(overviewWaits && performance.now() - overviewAt > OVERVIEW_MS)) return
  drawn = key
  const colours = timelineColours(element)
  size(canvas.value, canvasWidth.value, ratio)
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  drawTimeline(context, {
    trace: run.trace,
    design: props.design,
    columns: props.columns,
    loadId: bench.loadId,
    nowMs: run.now,
    cursorMs: look.cursorMs,
    hoverMs: look.hoverMs,
    markers: look.markers,
    allMessages: look.allMessages,
    probe: bench.probe,
    board: boardView(),
    fromMs: look.fromMs,
    pxPerMs: look.pxPerMs,
    width: canvasWidth.value,
    height: height.value,
    colours,
  })
  drawSmall(run.trace, run.now, colours, ratio)
})
function boardView() {
  const { news } = emulated
  const loadIndex = props.design.loads.findIndex(l => l.id === bench.loadId)
  if (!news) return null
  const { now, lines, texts, differences } = news
  return { now, lines: lines[loadIndex] ?? [], texts, differences, loadIndex }
}
/**
 * The whole run is looked through twice a second at most: what is wrong in it has to be searched
 * for.
 */
function drawSmall(
  trace: Trace,
  now: number,
  colours: ReturnType<typeof timelineColours>,
  ratio: number,
): void {
  const context = overview.value?.getContext('2d')
  if (!context) return
  const content = [bench.loadId, height.value, now, ratio, document.documentElement.className].join(
    ' ',
  )
  const stale = content !== overviewDrawn && performance.now() - overviewAt > OVERVIEW_MS
  size(overview.value, OVERVIEW_PX, ratio)
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  drawOverview(
    context,
    {
      trace,
      design: props.design,
      loadId: bench.loadId,
      nowMs: now,
      fromMs: look.fromMs,
      toMs: look.fromMs + height.value / look.pxPerMs,
      width: OVERVIEW_PX,
      height: height.value,
      colours,
      markers: look.markers,
    },
    stale,
  )
  overviewWaits = content !== overviewDrawn && !stale
  if (!stale) return
  overviewDrawn = content
  overviewAt = performance.now()
}
function size(element: HTMLCanvasElement | null, w: number, ratio: number): void {
  const [wide, high] = [Math.round(w * ratio), Math.round(height.value * ratio)]
  if (element && (element.width !== wide || element.height !== high))
    Object.assign(element, { width: wide, height: high })
}

function timeAt(event: PointerEvent | WheelEvent): number {
  return Math.max(
    0,
    Math.min(
      nowMs(),
      look.fromMs
        + (event.clientY - (canvas.value?.getBoundingClientRect().top ?? 0)) / look.pxPerMs,
    ),
  )
}
function pin(event: PointerEvent): void {
  look.cursorMs = timeAt(event)
  canvas.value?.setPointerCapture(event.pointerId)
}
function hover(event: PointerEvent): void {
  if (event.buttons) look.cursorMs = timeAt(event)
  look.hoverMs = event.buttons || event.pointerType === 'touch' ? null : timeAt(event)
}
function wheel(event: WheelEvent): void {
  event.preventDefault()
  if (event.ctrlKey || event.metaKey)
    zoom(
      Math.exp(-event.deltaY / 300),
      event.clientY - (canvas.value?.getBoundingClientRect().top ?? 0),
    )
  else scrollBy(event.deltaMode === 1 ? event.deltaY * 30 : event.deltaY)
  if (look.hoverMs !== null) look.hoverMs = timeAt(event)
}
function jump(event: PointerEvent): void {
  if (event.type === 'pointermove' && !event.buttons) return
  overview.value?.setPointerCapture(event.pointerId)
  const t = (event.offsetY / height.value) * nowMs()
  look.follow = false
  scrollTo(t - height.value / 2 / look.pxPerMs)
}

/** Moments at which something changes for the load shown. */
function stepTo(back: boolean): number | null {
  const trace = bench.bench?.trace
  if (!trace) return null
  const at = look.cursorMs ?? nowMs()
  const lists = [
    trace.truth[bench.loadId] ?? [],
    ...Object.values(trace.beliefs).map(b => b[bench.loadId] ?? []),
    ...Object.values(trace.contacts),
  ]
  return lists.reduce<number | null>((best, list) => {
    let low = 0
    let high = list.length
    while (low < high) {
      const mid = (low + high) >> 1
      if ((list[mid]?.t ?? 0) < at + (back ? 0 : 1e-6)) low = mid + 1
      else high = mid
    }
    const t = list[back ? low - 1 : low]?.t
    return t === undefined || (best !== null && (back ? t <= best : t >= best)) ? best : t
  }, null)
}
function toChange(back: boolean): void {
  const t = stepTo(back)
  if (t !== null) place(t)
}
function toNow(): void {
  look.cursorMs = null
  look.follow = true
}
function search(back = false): void {
  const trace = bench.bench?.trace
  if (!trace) return
  const found = nextWrong(
    trace,
    props.design.surfaces.flatMap(s => (s.kind === 'hand' ? [] : [s.id])),
    bench.loadId,
    look.cursorMs ?? (back ? nowMs() : -1),
    nowMs(),
    back,
  )
  if (found) place(found.t)
  else
    ElMessage({
      message: `No ${back ? 'earlier' : 'later'} disagreement about this load`,
      type: 'info',
      plain: true,
    })
}
function place(t: number): void {
  look.show(Math.max(0, Math.min(t, nowMs())))
  intoView(look.cursorMs ?? 0)
}
function keyboard(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  const pixel = 1 / look.pxPerMs
  const cursor = look.cursorMs ?? nowMs()
  const act: Record<string, () => void> = {
    ArrowUp: () => place(cursor - pixel * (event.shiftKey ? 1 : 10)),
    ArrowDown: () => place(cursor + pixel * (event.shiftKey ? 1 : 10)),
    ArrowLeft: () => toChange(true),
    ArrowRight: () => toChange(false),
    PageUp: () => scrollBy(-height.value * 0.8),
    PageDown: () => scrollBy(height.value * 0.8),
    Home: () => place(0),
    End: toNow,
    '+': () => zoom(1.4, cursorPx()),
    '=': () => zoom(1.4, cursorPx()),
    '-': () => zoom(1 / 1.4, cursorPx()),
    '0': whole,
    n: () => search(),
    N: () => search(true),
    k: () => look.mark(cursor),
    Escape: () => {
      look.cursorMs = null
    },
  }
  const does = act[event.key]
  if (!does) return
  event.preventDefault()
  event.stopPropagation()
  does()
}
function cursorPx(): number {
  const y = ((look.cursorMs ?? nowMs()) - look.fromMs) * look.pxPerMs
  return y >= 0 && y <= height.value ? y : height.value / 2
}
// What somebody else points at is brought into view; where the pointer is, it is there already.
watch(
  () => look.cursorMs,
  t => {
    const y = t === null ? 0 : (t - look.fromMs) * look.pxPerMs
    if (t !== null && (y < 0 || y > height.value)) scrollTo(t - height.value / 2 / look.pxPerMs)
  },
)
watch(
  () => bench.bench,
  () => {
    look.forget()
    bench.probe = null
  },
)
const scaleWords = computed(() => {
  const ms = 100 / look.pxPerMs
  return ms < 1
    ? `${Math.round(ms * 1000)} µs`
    : ms < 1000
      ? `${Number(ms.toPrecision(2))} ms`
      : ms < 60_000
        ? `${Number((ms / 1000).toPrecision(2))} s`
        : ms < 3_600_000
          ? `${Number((ms / 60_000).toPrecision(2))} min`
          : `${Number((ms / 3_600_000).toPrecision(2))} h`
})
</script>

<template>
  <div class="bar">
    <el-button
      size="small"
      title="The next moment at which a surface begins to show this load wrongly (n; back: Shift n)"
      @click="search()"
      >next disagreement</el-button
    >
    <el-button
      size="small"
      title="A marker at the cursor, to measure from (k)"
      @click="look.mark(look.cursorMs ?? nowMs())"
      >mark</el-button
    >
    <el-checkbox v-model="look.allMessages" size="small">all messages</el-checkbox>
    <span class="push second small scale" title="What a hundred pixels stand for"
      >{{ scaleWords }} / 100 px</span
    >
    <el-button size="small" aria-label="Wider" title="Wider (−)" @click="zoom(1 / 1.6, cursorPx())"
      >−</el-button
    >
    <el-button size="small" aria-label="Closer" title="Closer (+)" @click="zoom(1.6, cursorPx())"
      >+</el-button
    >
    <el-button size="small" title="The whole run (0)" @click="whole()">whole run</el-button>
    <el-button
      size="small"
      :disabled="look.follow && look.cursorMs === null"
      title="Back to now (End)"
      @click="toNow()"
      >now</el-button
    >
  </div>
  <div
    ref="area"
    class="area"
    tabindex="0"
    role="group"
    aria-label="Time line. Up and down move the cursor, left and right go to the next change, plus and minus zoom, n finds the next disagreement, k sets a marker."
    @wheel="wheel"
    @keydown="keyboard"
  >
    <canvas
      ref="canvas"
      class="lanes"
      :style="{ width: `${canvasWidth}px`, height: `${height}px` }"
      aria-hidden="true"
      @pointerdown="pin"
      @pointermove="hover"
      @pointerleave="look.hoverMs = null"
    />
    <canvas
      ref="overview"
      class="overview"
      :style="{ width: `${OVERVIEW_PX}px`, height: `${height}px` }"
      aria-hidden="true"
      title="The whole run; drag to go there"
      @pointerdown="jump"
      @pointermove="jump"
    />
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 6px;
  padding: 5px 12px 5px 20px;
  border-bottom: 1px solid var(--rule);
  flex-wrap: wrap;
}
.bar :deep(.el-button) {
  margin: 0;
}
.bar .push {
  margin-left: auto;
}
.bar :deep(.el-checkbox) {
  margin-left: 6px;
}
.scale {
  font-variant-numeric: tabular-nums;
}
.area {
  position: relative;
  flex: 1;
  min-height: 0;
  display: flex;
  overflow: hidden;
}
.area:focus-visible {
  outline-offset: -2px;
}
.lanes {
  display: block;
  cursor: crosshair;
  touch-action: none;
}
@media (max-width: 900px) {
  .area {
    min-height: 460px;
  }
}
.overview {
  display: block;
  cursor: grab;
  border-left: 1px solid var(--rule-strong);
  touch-action: none;
}
</style>
