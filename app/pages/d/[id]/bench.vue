<script setup lang="ts">
import { sensorsOfBoxes } from '../../../../core/design/wired'
import { useDesignStore } from '../../../stores/design'
import { useBenchStore } from '../../../stores/bench'
import { useEmulatedStore } from '../../../stores/emulated'
import { useSelectionStore } from '../../../stores/selection'
import { benchColumns } from '../../../composables/bench-columns'

const SIDES = [
  { id: 'now', name: 'Now' },
  { id: 'numbers', name: 'Numbers' },
  { id: 'drills', name: 'Drills' },
  { id: 'script', name: 'Script' },
  { id: 'weeks', name: 'Weeks' },
  { id: 'probe', name: 'Probe' },
  { id: 'board', name: 'Board' },
] as const
type Side = (typeof SIDES)[number]['id']

const designs = useDesignStore()
const bench = useBenchStore()
const emulated = useEmulatedStore()
const selection = useSelectionStore()
const side = ref<Side>('now')
const columns = computed(() => (bench.part ? benchColumns(bench.part, emulated.on) : []))

onMounted(() => {
  const wanted = designs.design?.loads.find(l => l.id === selection.loadId)
  if (!bench.title && wanted) bench.loadId = wanted.id
  // From Build, where it is tried before it is written onto the real one.
  if (useRoute().query.board !== undefined) board(true)
})
onBeforeUnmount(() => {
  bench.pause()
  emulated.turn(false)
})
/** Whoever starts it wants to see it run. */
function board(on: boolean): void {
  emulated.turn(on)
  if (!on) return
  side.value = 'board'
  if (!bench.script) bench.run()
}
function turn(by: number): void {
  const at = (SIDES.findIndex(x => x.id === side.value) + by + SIDES.length) % SIDES.length
  side.value = (SIDES[at] as (typeof SIDES)[number]).id
  void nextTick(() => document.querySelector<HTMLElement>(`#side-${side.value}`)?.focus())
}
useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (event.key !== ' ' || isTyping(event.target) || event.target instanceof HTMLButtonElement)
    return
  event.preventDefault()
  if (bench.running) bench.pause()
  else bench.run()
})
</script>

<template>
  <div v-if="designs.design && bench.part && bench.bench" class="view bench">
    <div class="work">
      <BenchTools :design="bench.part" :loads="designs.design.loads" @board="board" />
      <template v-if="bench.part.loads.length">
        <BenchHead :design="bench.part" :columns="columns" />
        <BenchWorld
          v-if="bench.part.sensors.length || sensorsOfBoxes(bench.part).length"
          :design="bench.part"
        />
        <BenchTimeline :design="bench.part" :columns="columns" />
      </template>
      <p v-else class="second empty">
        Nothing to switch yet: name the first load on the
        <NuxtLink :to="`/d/${designs.design.id}/sheet`">sheet</NuxtLink>.
      </p>
    </div>
    <aside class="ticket" :aria-label="SIDES.find(x => x.id === side)?.name">
      <div
        class="sides"
        role="tablist"
        aria-label="Beside the time line"
        @keydown.left.prevent="turn(-1)"
        @keydown.right.prevent="turn(1)"
      >
        <button
          v-for="x in SIDES"
          :id="`side-${x.id}`"
          :key="x.id"
          type="button"
          role="tab"
          :aria-selected="side === x.id"
          :tabindex="side === x.id ? 0 : -1"
          aria-controls="bench-side"
          @click="side = x.id"
        >
          {{ x.name }}
        </button>
      </div>
      <div v-if="bench.loadId" id="bench-side" role="tabpanel" :aria-labelledby="`side-${side}`">
        <BenchReadout v-if="side === 'now'" :design="bench.part" />
        <BenchNumbers v-else-if="side === 'numbers'" :design="bench.part" />
        <BenchDrills v-else-if="side === 'drills'" :design="bench.part" />
        <BenchScript v-else-if="side === 'script'" :design="bench.part" />
        <BenchWeeks v-else-if="side === 'weeks'" :design="bench.part" />
        <BenchBoard v-else-if="side === 'board'" :design="bench.part" @board="board" />
        <BenchProbe v-else :design="bench.part" />
      </div>
    </aside>
  </div>
</template>

<style scoped>
.bench {
  --ticket: 330px;
}
.sides {
  position: sticky;
  top: -18px;
  z-index: 1;
  background: var(--raised);
  display: grid;
  grid-template-columns: repeat(7, auto);
  margin: -18px -18px 14px;
  border-bottom: 2px solid var(--ink);
}
.sides button {
  background: none;
  border: 0;
  padding: 10px 2px 8px;
  cursor: pointer;
  font-size: 13px;
  color: var(--second);
}
.sides button[aria-selected='true'] {
  color: var(--ink);
  font-weight: 700;
  background: var(--paper);
}
.bench > .work {
  overflow: hidden;
}
.empty {
  padding: 24px 20px;
}
</style>
