<script setup lang="ts">
/** The sheet's rows as the source: drag a load onto a panel, or press its name beside the panel. */
import interact from 'interactjs'
import type { Design, PanelSurface } from '../../../core/design/schema'

const props = defineProps<{ design: Design, panels: PanelSurface[], canPlace: boolean, selected: { surfaceId: string, loadId: string } | null }>()
const emit = defineEmits<{ place: [panel: PanelSurface, loadId: string, at: { xMm: number, yMm: number } | null], select: [key: { surfaceId: string, loadId: string }] }>()
const list = useTemplateRef<HTMLElement>('list')
const ghost = ref<{ x: number, y: number, name: string } | null>(null)
let drag: ReturnType<typeof interact> | undefined

const isPlaced = (panel: PanelSurface, loadId: string) => panel.keys.some(k => k.loadId === loadId)

function press(panel: PanelSurface, loadId: string): void {
  if (isPlaced(panel, loadId)) emit('select', { surfaceId: panel.id, loadId })
  else if (props.canPlace) emit('place', panel, loadId, null)
}
function landed(loadId: string, x: number, y: number): void {
  const glass = document.elementsFromPoint(x, y).map(e => e.closest<HTMLElement>('[data-panel]')).find(Boolean)
  const panel = props.panels.find(p => p.id === glass?.dataset.panel)
  if (!glass || !panel) return
  const rect = glass.getBoundingClientRect()
  const pxPerMm = Number(glass.dataset.pxPerMm)
  emit('place', panel, loadId, { xMm: (x - rect.left) / pxPerMm, yMm: (y - rect.top) / pxPerMm })
}

onMounted(() => {
  if (!list.value) return
  drag = interact('.source-row', { context: list.value }).draggable({
    autoScroll: false,
    listeners: {
      start: () => undefined,
      move: (event: { target: HTMLElement, clientX: number, clientY: number }) => {
        if (props.canPlace) ghost.value = { x: event.clientX, y: event.clientY, name: event.target.dataset.name ?? '' }
      },
      end: (event: { target: HTMLElement, clientX: number, clientY: number }) => {
        ghost.value = null
        if (props.canPlace) landed(event.target.dataset.load ?? '', event.clientX, event.clientY)
      },
    },
  })
})
onBeforeUnmount(() => drag?.unset())
</script>

<template>
  <div ref="list" class="source">
    <p class="second small">Drag a load onto a panel, or press the panel's name beside it. Arrows move the chosen key, Shift and arrows size it.</p>
    <div v-for="load in design.loads" :key="load.id" class="source-row" :class="{ live: canPlace }" :data-load="load.id" :data-name="load.name">
      <strong>{{ load.name }}</strong>
      <div class="on">
        <button v-for="panel in panels" :key="panel.id" type="button" class="plain small" :class="{ placed: isPlaced(panel, load.id), chosen: selected?.surfaceId === panel.id && selected?.loadId === load.id }" @click="press(panel, load.id)">
          <span aria-hidden="true">{{ isPlaced(panel, load.id) ? '■' : '□' }}</span> {{ panel.name }}<span class="visually-hidden">: {{ isPlaced(panel, load.id) ? 'placed' : 'place' }} {{ load.name }}</span>
        </button>
      </div>
    </div>
    <p v-if="!design.loads.length" class="second">No loads yet: name the first on the <NuxtLink :to="`/d/${design.id}/sheet`">sheet</NuxtLink>.</p>
    <div v-if="ghost" class="ghost" :style="{ left: `${ghost.x}px`, top: `${ghost.y}px` }">{{ ghost.name }}</div>
  </div>
</template>

<style scoped>
.source { width: 206px; flex: none; border-right: 1px solid var(--rule-strong); padding: 14px 14px 20px 20px; overflow: auto; }
.source-row { border-bottom: 1px solid var(--rule); padding: 10px 0; user-select: none; touch-action: none; }
.source-row.live { cursor: grab; }
.on { display: grid; gap: 1px; margin-top: 3px; }
.on button { min-height: 26px; color: var(--second); }
.on button.placed { color: var(--ink); }
.on button.chosen { font-weight: 700; color: var(--cursor); }
.ghost { position: fixed; translate: -50% -50%; pointer-events: none; border: 2px solid var(--cursor); background: var(--raised); padding: 8px 14px; font-weight: 700; z-index: 50; }
</style>
