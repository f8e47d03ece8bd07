<script setup lang="ts">
/**
 * The board drawn from its profile, each pin with what is on it. Needs are dragged from pin to pin;
 * with the keyboard, arrows move the chosen one to the next pin that can take it.
 */
import interact from 'interactjs'
import { troubles, type PinUse } from '../../../core/boards/hazards'
import type { BoardPin } from '../../../core/boards/schema'
import { boardOf, needs, type Need } from '../../../core/design/pins'
import type { Design } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design; selected: string | null }>()
const emit = defineEmits<{ select: [needId: string | null] }>()
const designs = useDesignStore()
const plan = useTemplateRef<HTMLElement>('plan')
const dragging = ref<{ need: Need; x: number; y: number; over: number | null } | null>(null)
let drag: ReturnType<typeof interact> | undefined

const ROW = 34
const WIDTH = 210
const board = computed(() => boardOf(props.design))
const all = computed(() => needs(props.design))
const usable = computed(() => board.value.pins.filter(p => p.can.length))
const half = computed(() => Math.ceil(usable.value.length / 2))
const sides = computed(() => [usable.value.slice(0, half.value), usable.value.slice(half.value)])
const homeless = computed(() => all.value.filter(n => !usable.value.some(p => p.chip === n.chip)))
const on = (chip: number) => all.value.filter(n => n.chip === chip)
const stays = (need: Need) =>
  need.fixed ? 'serial port' : props.design.controllers[0]?.kept.includes(need.id) ? 'kept' : ''
const worst = (pin: BoardPin, need: Need) =>
  on(pin.chip).length > 1 ? 'stop' : (troubles(pin, need.use)[0]?.severity ?? 'fine')
const chosen = computed(
  () => dragging.value?.need ?? all.value.find(n => n.id === props.selected) ?? null,
)
/** How the chosen need would fare on each pin. */
const fares = (pin: BoardPin) =>
  chosen.value ? (troubles(pin, chosen.value.use)[0]?.severity ?? 'fine') : ''
/** What most things that are switched would make of it. */
const ANY: PinUse = { as: 'output', activeLevel: 'low' }
type Grade = 'stop' | 'warn' | 'quiet'
/** How much its hazards matter to what is on it, or would be. */
function grade(pin: BoardPin): Grade {
  const uses = on(pin.chip).map(n => n.use)
  const found = (uses.length ? uses : [chosen.value?.use ?? ANY]).flatMap(
    use => troubles(pin, use)[0]?.severity ?? [],
  )
  if (found.includes('stop')) return 'stop'
  return found.includes('warn') ? 'warn' : 'quiet'
}
const GRADES: Record<Grade, { shape: string; words: string }> = {
  stop: { shape: 'M-6 -6 L6 6 M6 -6 L-6 6', words: 'cannot do it' },
  warn: { shape: 'M0 -7 L7 6 L-7 6 Z', words: 'mind its hazard' },
  quiet: { shape: 'M-2.4 0 a2.4 2.4 0 1 0 4.8 0 a2.4 2.4 0 1 0 -4.8 0', words: 'harmless here' },
}
const hazardWords = (pin: BoardPin) => pin.hazards.map(h => `${pin.label} ${h.words}`).join('; ')

function put(need: Need, chip: number): void {
  if (!need.fixed && need.chip !== chip)
    designs.apply({ type: 'setPins', pins: { [need.id]: chip } })
}
const STEPS: Record<string, number> = { ArrowUp: -1, ArrowDown: 1 }
function keyboard(need: Need, event: KeyboardEvent): void {
  const step = STEPS[event.key]
  if (!step || need.fixed) return
  event.preventDefault()
  const list = usable.value
  const from = list.findIndex(p => p.chip === need.chip)
  for (let i = 1; i <= list.length; i++) {
    const pin = list[(from + step * i + list.length * i) % list.length]
    if (pin && on(pin.chip).length === 0 && troubles(pin, need.use)[0]?.severity !== 'stop') {
      put(need, pin.chip)
      void nextTick(() =>
        plan.value?.querySelector<HTMLElement>(`[data-need="${need.id}"]`)?.focus(),
      )
      return
    }
  }
}

type Moved = { target: HTMLElement; clientX: number; clientY: number }
const pinAt = (x: number, y: number) => {
  const slot = document
    .elementsFromPoint(x, y)
    .map(e => e.closest<HTMLElement>('[data-chip]'))
    .find(Boolean)
  return slot ? Number(slot.dataset.chip) : null
}
onMounted(() => {
  if (!plan.value) return
  drag = interact('.need.movable', { context: plan.value }).draggable({
    autoScroll: false,
    listeners: {
      start: (event: Moved) => emit('select', event.target.dataset.need ?? null),
      move: (event: Moved) => {
        const need = all.value.find(n => n.id === event.target.dataset.need)
        if (need)
          dragging.value = {
            need,
            x: event.clientX,
            y: event.clientY,
            over: pinAt(event.clientX, event.clientY),
          }
      },
      end: (event: Moved) => {
        const need = dragging.value?.need
        dragging.value = null
        const chip = pinAt(event.clientX, event.clientY)
        if (need && chip !== null) put(need, chip)
      },
    },
  })
})
onBeforeUnmount(() => drag?.unset())
</script>

<template>
  <div ref="plan" class="plan" :style="{ '--row': `${ROW}px` }">
    <div
      v-for="(side, s) in sides"
      :key="s"
      class="side"
      :class="s ? 'right' : 'left'"
      :style="{ gridColumn: s ? 3 : 1 }"
    >
      <div
        v-for="pin in side"
        :key="pin.chip"
        class="slot"
        :class="[fares(pin), { over: dragging?.over === pin.chip, clash: on(pin.chip).length > 1 }]"
        :data-chip="pin.chip"
      >
        <button
          v-for="need in on(pin.chip)"
          :key="need.id"
          type="button"
          class="need"
          :class="[worst(pin, need), { movable: !need.fixed, chosen: selected === need.id }]"
          :data-need="need.id"
          :aria-pressed="selected === need.id"
          :title="troubles(pin, need.use)[0]?.words ?? need.what"
          @click="emit('select', need.id)"
          @keydown="keyboard(need, $event)"
        >
          <span class="name">{{ need.what }}</span><span
            v-if="stays(need)"
            class="keep small"
            title="stays on this pin"
            >{{ stays(need) }}</span
          >
        </button>
        <span v-if="!on(pin.chip).length" class="free second small">{{
          chosen && fares(pin) === 'stop' ? 'cannot' : 'free'
        }}</span>
      </div>
    </div>
    <svg
      class="board"
      :width="WIDTH"
      :height="half * ROW"
      :viewBox="`0 0 ${WIDTH} ${half * ROW}`"
      role="img"
      :aria-label="`${board.name}, ${usable.length} pins`"
    >
      <rect x="8" y="1" :width="WIDTH - 16" :height="half * ROW - 2" rx="5" class="body" />
      <g v-for="(side, s) in sides" :key="s">
        <g
          v-for="(pin, i) in side"
          :key="pin.chip"
          class="pin"
          :transform="`translate(${s ? WIDTH - 8 : 8} ${i * ROW + ROW / 2})`"
        >
          <title>{{ hazardWords(pin) || `${pin.label}: no hazards` }}</title>
          <circle r="6" class="pad" />
          <text :x="s ? -14 : 14" y="5" :text-anchor="s ? 'end' : 'start'" class="label">
            {{ pin.label }}
          </text>
          <text
            v-if="!pin.label.endsWith(String(pin.chip))"
            :x="s ? -20 - pin.label.length * 9 : 20 + pin.label.length * 9"
            y="5"
            :text-anchor="s ? 'end' : 'start'"
            class="chip"
          >
            {{ pin.chip }}
          </text>
          <path
            v-if="pin.hazards.length"
            :transform="`translate(${s ? -84 : 84} 0)`"
            :d="GRADES[grade(pin)].shape"
            class="hazard"
            :class="grade(pin)"
          />
        </g>
      </g>
    </svg>
    <p class="legend second small">
      <span v-for="(g, id) in GRADES" :key="id" class="grade"
        ><svg width="14" height="14" viewBox="-8 -8 16 16" aria-hidden="true">
          <path :d="g.shape" class="hazard" :class="id" />
        </svg>
        {{ g.words }}</span
      >
      <span>drag a part to another pin, or move it with the arrows</span>
    </p>
    <p v-if="homeless.length" class="homeless">
      <strong class="differs">Without a pin on this board:</strong>
      <button
        v-for="need in homeless"
        :key="need.id"
        type="button"
        class="need stop"
        :class="{ movable: !need.fixed, chosen: selected === need.id }"
        :data-need="need.id"
        @click="emit('select', need.id)"
        @keydown="keyboard(need, $event)"
      >
        {{ need.what }}
      </button>
    </p>
    <div v-if="dragging" class="ghost" :style="{ left: `${dragging.x}px`, top: `${dragging.y}px` }">
      {{ dragging.need.what }}
    </div>
  </div>
</template>

<style scoped>
.plan {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto minmax(0, 1fr);
  align-items: start;
  padding: 16px 20px;
}
.board {
  grid-column: 2;
  grid-row: 1;
  display: block;
}
.side {
  grid-row: 1;
}
.body {
  fill: var(--raised);
  stroke: var(--ink);
  stroke-width: 2;
}
.pad {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 1.6;
}
.label {
  font: 600 14px var(--mono);
  fill: var(--ink);
}
.chip {
  font: 600 12px var(--mono);
  fill: var(--second);
}
.hazard {
  fill: none;
  stroke: var(--differs);
  stroke-width: 1.8;
  stroke-linejoin: round;
}
.hazard.warn {
  stroke: var(--wait);
}
.hazard.quiet {
  stroke: var(--second);
}
.grade {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  margin-right: 14px;
}
.slot {
  height: var(--row);
  display: flex;
  align-items: center;
  gap: 4px;
  border-bottom: 1px solid var(--rule);
  padding: 0 8px;
  min-width: 0;
}
.left .slot {
  justify-content: flex-end;
}
.slot.over {
  outline: 2px solid var(--cursor);
  outline-offset: -2px;
}
.slot.over.stop {
  outline-color: var(--differs);
  outline-style: dashed;
}
.need {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  min-height: 26px;
  max-width: 100%;
  min-width: 0;
  background: var(--raised);
  border: 1px solid var(--ink);
  border-radius: 3px;
  padding: 1px 8px;
  cursor: pointer;
  font-weight: 600;
}
.need.movable {
  cursor: grab;
  touch-action: none;
}
.need.warn {
  border-color: var(--wait);
  border-style: dashed;
}
.need.stop {
  border: 2px dashed var(--differs);
}
.need.chosen {
  background: var(--ink);
  color: var(--raised);
}
.need .name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.keep {
  font-weight: 400;
  opacity: 0.8;
}
.legend {
  grid-column: 1 / -1;
  display: flex;
  gap: 6px;
  align-items: center;
  justify-content: center;
  margin-top: 8px;
}
.homeless {
  grid-column: 1 / -1;
  margin-top: 14px;
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
.ghost {
  position: fixed;
  pointer-events: none;
  translate: 10px 10px;
  background: var(--ink);
  color: var(--raised);
  padding: 3px 9px;
  border-radius: 3px;
  font-weight: 700;
  z-index: 20;
}
</style>
