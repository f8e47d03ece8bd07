<script setup lang="ts">
/** A panel at real size: laid out by dragging on the millimetre grid, or live on the bench. */
import interact from 'interactjs'
import { loadOf } from '../../../core/design/find'
import { deviceOf, HEAD_MM } from '../../../core/panels/devices'
import { restOf, wantsOf } from '../../../core/design/values'
import { isRow, keyCount, KEYS_IN_ROW, snap, type Box } from '../../../core/panels/layout'
import { isLit, shownLabel, wantLabel } from '../../../core/panels/words'
import type { Design, PanelKey, PanelSurface } from '../../../core/design/schema'
import { useBenchStore } from '../../stores/bench'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design, panel: PanelSurface, pxPerMm: number, live: boolean, night: boolean, selected: string | null }>()
const emit = defineEmits<{ select: [loadId: string | null] }>()
const designs = useDesignStore()
const bench = useBenchStore()
const glass = useTemplateRef<HTMLElement>('glass')
const device = computed(() => deviceOf(props.panel.device))
/** The key under the finger, before it is dropped. */
const moving = ref<{ loadId: string, box: Box } | null>(null)
let drag: ReturnType<typeof interact> | undefined

const boxOf = (key: PanelKey): Box => moving.value?.loadId === key.loadId ? moving.value.box : key
function styleOf(key: PanelKey) {
  const box = boxOf(key)
  const px = (mm: number) => `${mm * props.pxPerMm}px`
  return { left: px(box.xMm), top: px(box.yMm), width: px(box.widthMm), height: px(box.heightMm) }
}
function shownOf(loadId: string) {
  void bench.tick
  return props.live ? bench.bench?.shown(props.panel.id, loadId) ?? 'unknown' : restOf(loadOf(props.design, loadId).output)
}
const outputOf = (key: PanelKey) => loadOf(props.design, key.loadId).output
const nameOf = (key: PanelKey) => loadOf(props.design, key.loadId).name
const labelOf = (key: PanelKey) => shownLabel(outputOf(key), shownOf(key.loadId), null, connected.value || !props.live)
const connected = computed(() => (void bench.tick, props.live && bench.bench?.panelConnected(props.panel.id) === true))

function change(key: PanelKey, box: Box): void {
  const next = snap(box, device.value)
  const same = next.xMm === key.xMm && next.yMm === key.yMm && next.widthMm === key.widthMm && next.heightMm === key.heightMm
  if (!same) designs.apply({ type: 'moveKey', surfaceId: props.panel.id, loadId: key.loadId, box: next })
}
const STEPS: Record<string, [number, number]> = { ArrowUp: [0, -1], ArrowDown: [0, 1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }
function keyboard(key: PanelKey, event: KeyboardEvent): void {
  if (props.live) return
  if (event.key === 'Delete' || event.key === 'Backspace') {
    event.preventDefault()
    designs.apply({ type: 'removeKey', surfaceId: props.panel.id, loadId: key.loadId })
    return
  }
  const [x, y] = STEPS[event.key] ?? [0, 0]
  if (!x && !y) return
  event.preventDefault()
  change(key, event.shiftKey ? { ...key, widthMm: key.widthMm + x, heightMm: key.heightMm + y } : { ...key, xMm: key.xMm + x, yMm: key.yMm + y })
}
function tap(loadId: string, want: string): void {
  if (!props.live) return
  bench.act({ do: 'key', surfaceId: props.panel.id, loadId, want })
  bench.run()
}

type Moved = { target: HTMLElement, dx: number, dy: number, deltaRect?: { left: number, top: number, width: number, height: number } }
let raw: Box | null = null
const keyOf = (event: Moved) => props.panel.keys.find(k => k.loadId === event.target.dataset.loadId)
function start(event: Moved): void {
  const key = keyOf(event)
  if (!key) return
  raw = { xMm: key.xMm, yMm: key.yMm, widthMm: key.widthMm, heightMm: key.heightMm }
  emit('select', key.loadId)
}
function shift(event: Moved): void {
  const key = keyOf(event)
  if (!key || !raw) return
  const mm = (px: number) => px / props.pxPerMm
  const d = event.deltaRect
  raw = d
    ? { xMm: raw.xMm + mm(d.left), yMm: raw.yMm + mm(d.top), widthMm: raw.widthMm + mm(d.width), heightMm: raw.heightMm + mm(d.height) }
    : { ...raw, xMm: raw.xMm + mm(event.dx), yMm: raw.yMm + mm(event.dy) }
  moving.value = { loadId: key.loadId, box: snap(raw, device.value) }
}
function end(event: Moved): void {
  const key = keyOf(event)
  if (key && moving.value) change(key, moving.value.box)
  moving.value = null
  raw = null
}
onMounted(() => {
  if (!glass.value) return
  const listeners = { start, move: shift, end }
  drag = interact('.np-box.movable', { context: glass.value })
    .draggable({ listeners })
    .resizable({ edges: { left: true, right: true, top: true, bottom: true }, margin: 7, listeners })
})
onBeforeUnmount(() => drag?.unset())
</script>

<template>
  <div
    ref="glass" class="np glass" :class="{ 'np-night': night, 'grid': !live }" :data-panel="panel.id" :data-px-per-mm="pxPerMm"
    :style="{ '--mm': `${pxPerMm}px`, 'width': `${device.widthMm * pxPerMm}px`, 'height': `${device.heightMm * pxPerMm}px`, '--head': `${HEAD_MM * pxPerMm}px` }"
    @pointerdown.self="emit('select', null)"
  >
    <header class="np-head"><h3>{{ design.name }}</h3><div class="np-link" :data-up="connected"><span>{{ live ? connected ? 'connected' : 'not connected' : 'link' }}</span><i class="np-dot" /></div></header>
    <div
      v-for="key in panel.keys" :key="key.loadId" class="np-box" :class="{ movable: !live, chosen: selected === key.loadId }" :data-load-id="key.loadId" :data-shown="shownOf(key.loadId)" :data-lit="isLit(outputOf(key), shownOf(key.loadId))" :style="styleOf(key)"
      :tabindex="live ? undefined : 0" :role="live ? undefined : 'group'" :aria-label="live ? undefined : `${loadOf(design, key.loadId).name}, ${key.widthMm} by ${key.heightMm} mm`"
      @focus="live || emit('select', key.loadId)" @keydown="keyboard(key, $event)"
    >
      <template v-if="isRow(key.form)">
        <div class="np-pairhead"><span class="np-name">{{ nameOf(key) }}</span><span class="np-state"><span>{{ labelOf(key) }}</span><i class="np-shape" /></span></div>
        <div class="np-row" :style="{ gridTemplateColumns: `repeat(${Math.min(keyCount(outputOf(key), key.form), KEYS_IN_ROW)}, 1fr)` }">
          <button v-for="want in wantsOf(outputOf(key), key.form)" :key="want" type="button" class="np-key np-half" :data-want="want" :data-marked="live && shownOf(key.loadId) === want" :tabindex="live ? 0 : -1" :aria-label="`${nameOf(key)} ${wantLabel(outputOf(key), want).toLowerCase()}`" @click="tap(key.loadId, want)">{{ wantLabel(outputOf(key), want) }}</button>
        </div>
      </template>
      <HoldKey v-else-if="key.form === 'hold'" class="np-key np-hold" :tabindex="live ? 0 : -1" @down="tap(key.loadId, 'on')" @up="tap(key.loadId, 'off')">
        <span class="np-name">{{ nameOf(key) }}</span><span class="np-state"><span>{{ labelOf(key) }}</span><i class="np-shape" /></span>
      </HoldKey>
      <button v-else type="button" class="np-key" :tabindex="live ? 0 : -1" @click="tap(key.loadId, wantsOf(outputOf(key), key.form)[0]!)">
        <span class="np-name">{{ nameOf(key) }}</span><span class="np-state"><span>{{ labelOf(key) }}</span><i class="np-shape" /></span>
      </button>
    </div>
    <p v-if="!panel.keys.length && !live" class="hint">Drag loads onto this glass.</p>
  </div>
</template>

<style scoped>
.glass { border-radius: 16px; outline: 2px solid var(--ink); outline-offset: 4px; margin: 6px; }
.glass h3 { margin: 0; font-size: calc(3.8 * var(--mm)); font-weight: 700; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.grid { background-image: linear-gradient(#c4baa838 1px, transparent 1px), linear-gradient(90deg, #c4baa838 1px, transparent 1px); background-size: calc(5 * var(--mm)) calc(5 * var(--mm)); }
.movable { cursor: move; touch-action: none; }
.movable > * { pointer-events: none; }
.chosen { outline: 2px solid var(--cursor); outline-offset: 2px; z-index: 2; }
.hint { position: absolute; inset: 40% 12px auto; text-align: center; color: var(--second); font-size: 14px; }
</style>
