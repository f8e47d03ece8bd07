<script setup lang="ts">
/**
 * A panel at real size. Laid out: items are drawn to the millimetre grid and to each other, several
 * at once. Live: the view of the built page, with the run on the bench behind it.
 */
import interact from 'interactjs'
import { itemMarkup, themeProperties } from '../../../core/sides/panel-markup'
import { isKey, itemPath, itemsOf, itemTitle } from '../../../core/design/items'
import type { Edit } from '../../../core/design/edits/edits'
import type { Design, PanelItem, PanelSurface } from '../../../core/design/schema'
import { attracted, shifted, type Guide } from '../../../core/panels/arrange'
import type { Sight } from '../../../core/panels/colour'
import { deviceOf, HEAD_MM } from '../../../core/panels/devices'
import { boxOf, itemId, overlaps, snap, type Box } from '../../../core/panels/layout'
import type { Hand } from '../../../core/panels/reach'
import type { TapRates } from '../../../core/panels/taps'
import { RichView } from '../../panel-page/rich-view'
import { useBenchStore } from '../../stores/bench'
import { useDesignStore } from '../../stores/design'
import { useFindingsStore } from '../../stores/findings'

const props = defineProps<{
  design: Design
  panel: PanelSurface
  page: number
  pxPerMm: number
  live: boolean
  night: boolean
  selected: readonly string[]
  hand: Hand | null
  sight: Sight | null
  taps: readonly TapRates[] | null
}>()
const emit = defineEmits<{ select: [ids: string[]]; page: [page: number] }>()
const designs = useDesignStore()
const bench = useBenchStore()
const findings = useFindingsStore()
const glass = useTemplateRef<HTMLElement>('glass')
const device = computed(() => deviceOf(props.panel))
const items = computed(() => itemsOf(props.panel).filter(i => i.page === props.page))
const markups = computed(() => new Map(items.value.map(i => [i.id, itemMarkup(props.design, i)])))
/** What changes when elements do; places alone do not. */
const drawn = computed(() => JSON.stringify([...markups.value]) + String(props.live))
const guides = ref<Guide[]>([])
const marquee = ref<Box | null>(null)
const picture = computed(() => props.panel.pages[props.page]?.picture ?? null)
const px = (mm: number) => `${mm * props.pxPerMm}px`
const styleOf = (box: Box) => ({
  left: px(box.xMm),
  top: px(box.yMm),
  width: px(box.widthMm),
  height: px(box.heightMm),
})
const isNight = computed(
  () => props.panel.theme.look === 'night' || (props.night && props.panel.theme.look === 'auto'),
)
const theme = computed(() => themeProperties(props.panel.theme, isNight.value))
const connected = computed(
  () => (void bench.tick, props.live && bench.bench?.panelConnected(props.panel.id) === true),
)

let view: RichView | null = null
function attach(): void {
  view?.close()
  const host = props.live ? benchHost(props.panel.id) : restingHost(props.design, props.panel.id)
  view = glass.value && host ? new RichView(glass.value, host, !props.live) : null
  if (!props.live) view?.course(sensorId => sampleCourse(props.design, sensorId))
  // While it is laid out its keys are none: boxes are moved, whatever stands in them.
  glass.value?.querySelectorAll<HTMLElement>('.np-box > *').forEach(e => (e.inert = !props.live))
  view?.draw()
}
const hear = (surfaceId: string, heard: Parameters<RichView['heard']>[0]) => {
  if (props.live && surfaceId === props.panel.id) view?.heard(heard)
}
watch([drawn, () => bench.bench], attach, { flush: 'post' })
watch(
  () => bench.tick,
  () => {
    if (props.live) view?.draw()
  },
)

const boxesOf = (list: readonly PanelItem[]): Box[] => list.map(boxOf)
/** Moves as one edit, whatever their number. */
function moveAll(list: readonly PanelItem[], boxes: readonly Box[]): void {
  const edits = list.flatMap((item, i): Edit[] => {
    const to = boxes[i]
    return !to
      || (to.xMm === item.xMm
        && to.yMm === item.yMm
        && to.widthMm === item.widthMm
        && to.heightMm === item.heightMm)
      ? []
      : [{ type: 'moveKey', surfaceId: props.panel.id, keyId: item.id, box: to }]
  })
  designs.applyAll(edits, `${edits.length} parts of ${props.panel.name} moved`)
}
const chosen = computed(() => items.value.filter(i => props.selected.includes(i.id)))

const STEPS: Record<string, [number, number]> = {
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
}
function keyboard(item: PanelItem, event: KeyboardEvent): void {
  if (props.live) return
  const ctrl = event.ctrlKey || event.metaKey
  const group = chosen.value.some(i => i.id === item.id) ? chosen.value : [item]
  const did = () => event.preventDefault()
  const [x, y] = STEPS[event.key] ?? [0, 0]
  if (x || y) {
    did()
    const by = ctrl ? 5 : 1
    if (event.shiftKey)
      moveAll(
        group,
        boxesOf(group).map(b =>
          snap({ ...b, widthMm: b.widthMm + x * by, heightMm: b.heightMm + y * by }, device.value),
        ),
      )
    else moveAll(group, shifted(boxesOf(group), x * by, y * by, device.value))
    return
  }
  switch (event.key) {
    case 'Delete':
    case 'Backspace':
      did()
      remove(group)
      return
    case 'd':
    case 'D':
      if (!ctrl) return
      did()
      duplicate(group)
      return
    case 'a':
    case 'A':
      if (!ctrl) return
      did()
      emit(
        'select',
        items.value.map(i => i.id),
      )
      return
    case ' ':
      did()
      toggle(item.id)
      return
    case 'Escape':
      did()
      emit('select', [])
      return
    case 'Enter':
      did()
      nextForm(item)
      return
    case 'PageDown':
    case 'PageUp': {
      const to = props.page + (event.key === 'PageDown' ? 1 : -1)
      if (to < 0 || to >= props.panel.pages.length) return
      did()
      designs.apply({
        type: 'together',
        words: `${group.length === 1 ? itemTitle(props.design, item) : `${group.length} parts`} moved to page ${props.panel.pages[to]?.name ?? ''}`,
        edits: group.map(i => ({
          type: 'moveKey',
          surfaceId: props.panel.id,
          keyId: i.id,
          box: { page: to },
        })),
      })
      emit('page', to)
    }
  }
}
function remove(group: readonly PanelItem[]): void {
  const edits = group.map((i): Edit => ({
    type: 'removeKey',
    surfaceId: props.panel.id,
    keyId: i.id,
  }))
  designs.applyAll(edits, `${edits.length} parts taken off ${props.panel.name}`)
  emit('select', [])
}
/** Beside the original, as far as the glass goes. */
function duplicate(group: readonly PanelItem[]): void {
  const taken = { keys: [...props.panel.keys], parts: [...props.panel.parts] }
  const copies = group.map((item, i) => {
    const copy = {
      ...item,
      id: itemId(taken, item.id),
      ...shifted(boxesOf(group), 4, 4, device.value)[i],
    } as PanelItem
    taken.parts.push({ ...copy } as never)
    return copy
  })
  const edits = copies.map((c): Edit =>
    isKey(c)
      ? { type: 'placeKey', surfaceId: props.panel.id, key: c }
      : { type: 'placePart', surfaceId: props.panel.id, part: c },
  )
  if (
    designs.apply({
      type: 'together',
      edits,
      words: `${copies.length === 1 && copies[0] ? itemTitle(props.design, copies[0]) : `${copies.length} parts`} copied on ${props.panel.name}`,
    })
  )
    emit(
      'select',
      copies.map(c => c.id),
    )
}
function nextForm(item: PanelItem): void {
  const edit = nextFormEdit(props.design, props.panel, item)
  if (edit) designs.apply(edit)
}
function toggle(id: string): void {
  emit(
    'select',
    props.selected.includes(id) ? props.selected.filter(s => s !== id) : [...props.selected, id],
  )
}
/**
 * With Shift or Ctrl one more is chosen, or one less; a press on one of several keeps all of them.
 */
function pressed(item: PanelItem, event: PointerEvent): void {
  if (props.live) return
  if (event.shiftKey || event.ctrlKey || event.metaKey) toggle(item.id)
  else if (!props.selected.includes(item.id)) emit('select', [item.id])
}
function focused(item: PanelItem): void {
  if (!props.live && !props.selected.includes(item.id)) emit('select', [item.id])
}

// Dragging moves the elements themselves; the design changes once, when the finger leaves.
type Moved = {
  target: HTMLElement
  dx: number
  dy: number
  deltaRect?: { left: number; top: number; width: number; height: number }
}
let moving: {
  list: PanelItem[]
  from: Box[]
  dx: number
  dy: number
  d: { left: number; top: number; width: number; height: number }
  now: Box[]
  elements: HTMLElement[]
} | null = null
let drag: ReturnType<typeof interact> | undefined
function start(event: Moved, alone: boolean): void {
  const item = items.value.find(i => i.id === event.target.dataset.id)
  if (!item) return
  const list = !alone && chosen.value.includes(item) ? chosen.value : [item]
  const elements = list
    .map(i => glass.value?.querySelector<HTMLElement>(`[data-id="${i.id}"]`))
    .filter((e): e is HTMLElement => !!e)
  moving = {
    list,
    from: boxesOf(list),
    now: boxesOf(list),
    dx: 0,
    dy: 0,
    d: { left: 0, top: 0, width: 0, height: 0 },
    elements,
  }
  if (list.length === 1 && !props.selected.includes(item.id)) emit('select', [item.id])
}
function shift(event: Moved): void {
  const m = moving
  const [first] = m?.from ?? []
  if (!m || !first) return
  const mm = (pixels: number) => pixels / props.pxPerMm
  const others = boxesOf(items.value.filter(i => !m.list.includes(i)))
  if (event.deltaRect) {
    for (const side of ['left', 'top', 'width', 'height'] as const)
      m.d[side] += mm(event.deltaRect[side])
    m.now = [
      snap(
        {
          xMm: first.xMm + m.d.left,
          yMm: first.yMm + m.d.top,
          widthMm: first.widthMm + m.d.width,
          heightMm: first.heightMm + m.d.height,
        },
        device.value,
      ),
    ]
  } else {
    m.dx += mm(event.dx)
    m.dy += mm(event.dy)
    if (m.list.length === 1) {
      const met = attracted(
        { ...first, xMm: first.xMm + m.dx, yMm: first.yMm + m.dy },
        others,
        device.value,
      )
      m.now = [met.box]
      if (JSON.stringify(met.guides) !== JSON.stringify(guides.value)) guides.value = met.guides
    } else m.now = shifted(m.from, Math.round(m.dx), Math.round(m.dy), device.value)
  }
  m.elements.forEach((element, i) => Object.assign(element.style, styleOf(m.now[i] as Box)))
}
function end(): void {
  const m = moving
  moving = null
  guides.value = []
  if (!m) return
  // Until the design answers, each stands where it was let go; what is refused goes back.
  moveAll(m.list, m.now)
  void nextTick(() =>
    m.elements.forEach(element => {
      const item = items.value.find(i => i.id === element.dataset.id)
      if (item) Object.assign(element.style, styleOf(item))
    }),
  )
}
/** A rectangle drawn over empty glass chooses what it touches. */
function startMarquee(event: PointerEvent): void {
  if (
    props.live
    || event.button !== 0
    || (event.target as HTMLElement).closest('.np-box, .np-tabs')
  )
    return
  const rect = (glass.value as HTMLElement).getBoundingClientRect()
  const at = (e: PointerEvent) => ({
    x: (e.clientX - rect.left) / props.pxPerMm,
    y: (e.clientY - rect.top) / props.pxPerMm,
  })
  const from = at(event)
  emit('select', [])
  const move = (e: PointerEvent) => {
    const to = at(e)
    marquee.value = {
      xMm: Math.min(from.x, to.x),
      yMm: Math.min(from.y, to.y),
      widthMm: Math.abs(to.x - from.x),
      heightMm: Math.abs(to.y - from.y),
    }
    const m = marquee.value
    const hit = items.value.filter(i => overlaps(i, m)).map(i => i.id)
    if (hit.join() !== props.selected.join()) emit('select', hit)
  }
  const done = () => {
    marquee.value = null
    removeEventListener('pointermove', move)
    removeEventListener('pointerup', done)
  }
  addEventListener('pointermove', move)
  addEventListener('pointerup', done)
}

onMounted(() => {
  bench.listeners.add(hear)
  attach()
  if (!glass.value) return
  drag = interact('.np-box.movable', { context: glass.value })
    .draggable({ listeners: { start: (e: Moved) => start(e, false), move: shift, end } })
    .resizable({
      edges: { left: true, right: true, top: true, bottom: true },
      margin: 7,
      listeners: { start: (e: Moved) => start(e, true), move: shift, end },
    })
})
onBeforeUnmount(() => {
  drag?.unset()
  view?.close()
  bench.listeners.delete(hear)
})
/** The worst finding of each part, at its upper corner. */
const flags = computed(() => {
  const whole = designs.design
  return items.value.flatMap(item => {
    const path = whole && itemPath(whole, props.panel, item)
    const [worst] = findings.findings.filter(f => f.path === path && f.severity !== 'note')
    return worst
      ? [
          {
            id: item.id,
            severity: worst.severity,
            title: worst.title,
            xMm: item.xMm,
            yMm: item.yMm,
          },
        ]
      : []
  })
})
const missOf = (id: string) => {
  const rates = props.taps?.filter(t => t.itemId === id) ?? []
  return rates.length ? Math.max(...rates.map(t => 1 - t.hit)) : null
}
defineExpose({
  duplicate: () => duplicate(chosen.value),
  remove: () => remove(chosen.value),
  moveAll: (boxes: Box[]) => moveAll(chosen.value, boxes),
})
</script>

<template>
  <div
    ref="glass"
    class="np glass"
    :class="{ 'np-night': isNight, grid: !live }"
    :data-panel="panel.id"
    :data-px-per-mm="pxPerMm"
    :style="{
      '--mm': `${pxPerMm}px`,
      width: px(device.widthMm),
      height: px(device.heightMm),
      '--head': px(HEAD_MM),
      filter: sight ? `url(#sight-${sight})` : undefined,
      ...theme,
    }"
    @pointerdown="startMarquee"
  >
    <img v-if="picture" class="np-behind" alt="" :src="picture" />
    <header class="np-head">
      <nav v-if="panel.pages.length > 1" class="np-tabs" aria-label="Pages">
        <button
          v-for="(p, i) in panel.pages"
          :key="i"
          type="button"
          :aria-current="i === page ? 'page' : undefined"
          @click="emit('page', i)"
        >
          {{ p.name }}
        </button>
      </nav>
      <h3 v-else class="np-title">{{ design.name }}</h3>
      <div class="np-link" :data-up="connected || !live">
        <span>{{ live ? (connected ? 'connected' : 'not connected') : 'connected' }}</span><i
          class="np-dot"
        />
      </div>
    </header>
    <ReachOverlay v-if="hand && !live" :device="device" :hand="hand" :px-per-mm="pxPerMm" />
    <!-- The markup of the built page, whose texts are escaped there. -->
    <!-- eslint-disable vue/no-v-html -->
    <div
      v-for="item in items"
      :key="item.id"
      class="np-box"
      :class="{ movable: !live, chosen: selected.includes(item.id) }"
      v-bind="markups.get(item.id)?.attributes"
      :style="styleOf(item)"
      :tabindex="live ? undefined : 0"
      :role="live ? undefined : 'group'"
      :aria-label="
        live ? undefined : `${itemTitle(design, item)}, ${item.widthMm} by ${item.heightMm} mm`
      "
      @focus="focused(item)"
      @pointerdown="pressed(item, $event)"
      @keydown="keyboard(item, $event)"
      v-html="markups.get(item.id)?.inner"
    />
    <!-- eslint-enable vue/no-v-html -->
    <template v-if="!live">
      <i
        v-for="f in flags"
        :key="`flag-${f.id}`"
        class="flag"
        :class="f.severity"
        :style="{ left: px(f.xMm), top: px(f.yMm) }"
        :title="f.title"
        >{{ f.severity === 'stop' ? '■' : f.severity === 'warn' ? '▲' : '●' }}</i
      >
    </template>
    <template v-if="taps && !live">
      <b
        v-for="item in items.filter(i => missOf(i.id) !== null)"
        :key="`miss-${item.id}`"
        class="miss"
        :class="{ much: (missOf(item.id) ?? 0) > 0.05 }"
        :style="{ left: px(item.xMm + item.widthMm), top: px(item.yMm) }"
        title="Taps that miss, of those meant for it"
        >{{ ((missOf(item.id) ?? 0) * 100).toFixed(1) }} %</b
      >
    </template>
    <i
      v-for="(g, n) in guides"
      :key="n"
      class="guide"
      :class="g.along"
      :style="g.along === 'x' ? { left: px(g.atMm) } : { top: px(g.atMm) }"
    />
    <i v-if="marquee" class="marquee" :style="styleOf(marquee)" />
    <p v-if="!items.length && !live" class="hint">
      Drag loads onto this glass, or let Nolvi lay it out.
    </p>
  </div>
</template>

<style scoped>
.glass {
  border-radius: 16px;
  outline: 2px solid var(--rule-strong);
  outline-offset: 4px;
  margin: 6px;
  flex: none;
}
.grid {
  background-image:
    linear-gradient(#8c837338 1px, transparent 1px),
    linear-gradient(90deg, #8c837338 1px, transparent 1px);
  background-size: calc(5 * var(--mm)) calc(5 * var(--mm));
}
.movable {
  cursor: move;
  touch-action: none;
}
.movable > :deep(*) {
  pointer-events: none;
}
.chosen {
  outline: 2px solid var(--cursor);
  outline-offset: 2px;
  z-index: 2;
}
.guide {
  position: absolute;
  background: var(--cursor);
  z-index: 4;
  pointer-events: none;
}
.guide.x {
  top: 0;
  bottom: 0;
  width: 1px;
}
.guide.y {
  left: 0;
  right: 0;
  height: 1px;
}
.marquee {
  position: absolute;
  border: 1px dashed var(--cursor);
  z-index: 4;
  pointer-events: none;
}
.miss {
  position: absolute;
  translate: -100% -50%;
  z-index: 3;
  background: var(--raised);
  color: var(--ink);
  border: 1px solid var(--ink);
  font-size: 12.5px;
  padding: 0 4px;
  pointer-events: none;
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
.miss.much {
  color: var(--differs);
  border-color: var(--differs);
}
.flag {
  position: absolute;
  translate: -50% -50%;
  z-index: 3;
  font-style: normal;
  font-size: 13px;
  line-height: 18px;
  width: 18px;
  height: 18px;
  text-align: center;
  background: var(--raised);
  border: 1px solid currentColor;
  border-radius: 50%;
  pointer-events: none;
}
.flag.stop {
  color: var(--differs);
}
.flag.warn {
  color: var(--wait);
}
.hint {
  position: absolute;
  inset: 40% 12px auto;
  text-align: center;
  color: var(--second);
  font-size: 14px;
}
</style>
