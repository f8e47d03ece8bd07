<script setup lang="ts">
/**
 * What can stand on panels, in the sheet's order: drag it onto a glass, or press the panel's name
 * beside it.
 */
import interact from 'interactjs'
import { hasReading } from '../../../core/design/items'
import type { Design, PanelSurface } from '../../../core/design/schema'
import { restOf } from '../../../core/design/values'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{
  design: Design
  panels: PanelSurface[]
  canPlace: boolean
  selected: { surfaceId: string; ids: readonly string[] } | null
}>()
const emit = defineEmits<{
  place: [panel: PanelSurface, thing: Placeable, at: { xMm: number; yMm: number } | null]
  select: [surfaceId: string, id: string]
}>()
const designs = useDesignStore()
const list = useTemplateRef<HTMLElement>('list')
const ghost = ref<{ x: number; y: number; name: string } | null>(null)
let drag: ReturnType<typeof interact> | undefined

interface Row {
  thing: Placeable
  name: string
}
const rooms = computed(() => [...new Set(props.design.loads.map(l => l.room))])
const groups = computed((): { title: string; rows: Row[] }[] =>
  [
    ...rooms.value.map(room => ({
      title: room || 'Loads',
      rows: props.design.loads
        .filter(l => l.room === room)
        .map(l => ({ thing: { kind: 'load' as const, id: l.id }, name: l.name })),
    })),
    {
      title: 'Readings',
      rows: props.design.sensors
        .filter(hasReading)
        .map(s => ({ thing: { kind: 'reading' as const, id: s.id }, name: s.name })),
    },
    {
      title: 'Scenes',
      rows: props.design.scenes.map(s => ({
        thing: { kind: 'scene' as const, id: s.id },
        name: s.name,
      })),
    },
    {
      title: 'Lines',
      rows: [
        {
          thing: { kind: 'line' as const, id: 'connection' as const },
          name: 'Connection, and why not',
        },
        { thing: { kind: 'line' as const, id: 'answers' as const }, name: 'Last answer' },
        { thing: { kind: 'line' as const, id: 'countdown' as const }, name: 'Kitchen timer' },
        { thing: { kind: 'line' as const, id: 'device' as const }, name: 'Reading of the device' },
        { thing: { kind: 'line' as const, id: 'text' as const }, name: 'Text' },
      ],
    },
  ].filter(g => g.rows.length),
)
/** What belongs to another controller cannot stand there. */
function canStand(panel: PanelSurface, thing: Placeable): boolean {
  const own = props.design.links.find(l => l.id === panel.linkId)?.controllerId
  const of =
    thing.kind === 'load'
      ? props.design.loads.find(l => l.id === thing.id)?.controllerId
      : thing.kind === 'reading'
        ? props.design.sensors.find(s => s.id === thing.id)?.controllerId
        : own
  return own === of
}
const isChosen = (panel: PanelSurface, thing: Placeable) =>
  props.selected?.surfaceId === panel.id
  && props.selected.ids.includes(placedAs(panel, thing)?.id ?? '-')

function press(panel: PanelSurface, thing: Placeable): void {
  const there = placedAs(panel, thing)
  if (there) emit('select', panel.id, there.id)
  else if (props.canPlace) emit('place', panel, thing, null)
}
/** One key that brings all loads to rest. */
function allOff(): void {
  designs.apply({
    type: 'addScene',
    name: 'All off',
    sets: props.design.loads.map(l => ({ loadId: l.id, value: restOf(l.output) })),
  })
}
function landed(row: HTMLElement, x: number, y: number): void {
  const glass = document
    .elementsFromPoint(x, y)
    .map(e => e.closest<HTMLElement>('[data-panel]'))
    .find(Boolean)
  const panel = props.panels.find(p => p.id === glass?.dataset.panel)
  const thing = { kind: row.dataset.kind, id: row.dataset.thing } as Placeable
  if (!glass || !panel || !canStand(panel, thing)) return
  const rect = glass.getBoundingClientRect()
  const pxPerMm = Number(glass.dataset.pxPerMm)
  emit('place', panel, thing, { xMm: (x - rect.left) / pxPerMm, yMm: (y - rect.top) / pxPerMm })
}

onMounted(() => {
  if (!list.value) return
  drag = interact('.tray-row', { context: list.value }).draggable({
    autoScroll: false,
    ignoreFrom: 'button, input',
    listeners: {
      move: (event: { target: HTMLElement; clientX: number; clientY: number }) => {
        if (props.canPlace)
          ghost.value = {
            x: event.clientX,
            y: event.clientY,
            name: event.target.dataset.name ?? '',
          }
      },
      end: (event: { target: HTMLElement; clientX: number; clientY: number }) => {
        ghost.value = null
        if (props.canPlace) landed(event.target, event.clientX, event.clientY)
      },
    },
  })
})
onBeforeUnmount(() => drag?.unset())
</script>

<template>
  <div ref="list" class="tray">
    <p class="second small">Drag onto a glass, or press a panel's name.</p>
    <section v-for="group in groups" :key="group.title">
      <h3>{{ group.title }}</h3>
      <div
        v-for="row in group.rows"
        :key="row.thing.id"
        class="tray-row"
        :class="{ live: canPlace }"
        :data-kind="row.thing.kind"
        :data-thing="row.thing.id"
        :data-load="row.thing.kind === 'load' ? row.thing.id : undefined"
        :data-name="row.name"
      >
        <strong>{{ row.name }}</strong>
        <div class="on">
          <button
            v-for="panel in panels.filter(p => canStand(p, row.thing))"
            :key="panel.id"
            type="button"
            class="plain small"
            :class="{ placed: placedAs(panel, row.thing), chosen: isChosen(panel, row.thing) }"
            @click="press(panel, row.thing)"
          >
            <span aria-hidden="true">{{ placedAs(panel, row.thing) ? '■' : '□' }}</span>
            {{ panel.name
            }}<span class="visually-hidden"
              >: {{ placedAs(panel, row.thing) ? 'placed' : 'place' }} {{ row.name }}</span
            >
          </button>
        </div>
      </div>
    </section>
    <button
      v-if="canPlace && design.loads.length > 1 && !design.scenes.length"
      type="button"
      class="plain small second alloff"
      @click="allOff"
    >
      + a scene that ends all
    </button>
    <p v-if="!design.loads.length" class="second">
      No loads yet: name the first on the <NuxtLink :to="`/d/${design.id}/sheet`">sheet</NuxtLink>.
    </p>
    <div v-if="ghost" class="ghost" :style="{ left: `${ghost.x}px`, top: `${ghost.y}px` }">
      {{ ghost.name }}
    </div>
  </div>
</template>

<style scoped>
.tray {
  width: 206px;
  flex: none;
  border-right: 1px solid var(--rule-strong);
  padding: 12px 14px 20px 20px;
  overflow: auto;
}
h3 {
  font-weight: 600;
  color: var(--second);
  font-size: 13px;
  margin-top: 14px;
  padding-bottom: 4px;
  border-bottom: 1px solid var(--rule-strong);
}
.tray-row {
  border-bottom: 1px solid var(--rule);
  padding: 7px 0;
  user-select: none;
  touch-action: none;
}
.tray-row.live {
  cursor: grab;
}
.on {
  display: flex;
  flex-wrap: wrap;
  gap: 0 10px;
  margin-top: 1px;
}
.on button {
  min-height: 26px;
  color: var(--second);
}
.on button.placed {
  color: var(--ink);
}
.on button.chosen {
  font-weight: 700;
  color: var(--cursor);
}
.alloff {
  text-decoration: underline;
  margin-top: 10px;
}
.ghost {
  position: fixed;
  translate: -50% -50%;
  pointer-events: none;
  border: 2px solid var(--cursor);
  background: var(--raised);
  padding: 8px 14px;
  font-weight: 700;
  z-index: 50;
}
</style>
