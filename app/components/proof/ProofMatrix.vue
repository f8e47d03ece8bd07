<script setup lang="ts">
/** Loads and promises: each cell a verdict. Arrows move; Enter plays the story that breaks it, or proves what is not proved yet. */
import { PROMISE_IDS, PROMISES, notAsked, type PromiseId } from '../../../core/proof/promises'
import type { SurfaceState, Verdict } from '../../../core/proof/prove'
import type { Design } from '../../../core/design/schema'
import { useProofStore } from '../../stores/proof'

const props = defineProps<{ design: Design, promise: PromiseId, loadId: string | null }>()
const emit = defineEmits<{ choose: [loadId: string, promise: PromiseId], act: [loadId: string, promise: PromiseId] }>()
const proofs = useProofStore()
const grid = useTemplateRef<HTMLElement>('grid')

const STATES: Record<Verdict['result'], SurfaceState> = { 'holds': 'holds', 'broken': 'broken', 'by timing': 'in time', 'gave up': 'not examined', 'not asked': 'not examined' }
const SHORT: Record<Verdict['result'], string> = { 'holds': 'holds', 'broken': 'broken', 'by timing': 'by timing', 'gave up': 'undecided', 'not asked': '–' }
const cellOf = (promise: PromiseId, loadId: string) => proofs.resultOf(promise, loadId)
const isAsked = (promise: PromiseId, loadId: string) => {
  const load = props.design.loads.find(l => l.id === loadId)
  return load !== undefined && notAsked(load, promise) === ''
}
const STEPS: Record<string, [number, number]> = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }
function move(event: KeyboardEvent, row: number, column: number): void {
  const step = STEPS[event.key]
  if (!step) return
  event.preventDefault()
  grid.value?.querySelector<HTMLElement>(`[data-at="${row + step[0]},${column + step[1]}"]`)?.focus()
}
</script>

<template>
  <table ref="grid" class="ruled matrix">
    <thead>
      <tr>
        <th scope="col">Load</th>
        <th v-for="p in PROMISE_IDS" :key="p" scope="col" :class="{ chosen: p === promise }" :title="PROMISES[p].words"><span class="id">{{ p }}</span><br><span class="short">{{ PROMISES[p].short }}</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(load, row) in design.loads" :key="load.id">
        <th scope="row">{{ load.name }}<div v-if="proofs.running.includes(load.id)" class="second small" role="status">searching</div></th>
        <td v-for="(p, column) in PROMISE_IDS" :key="p" :class="{ chosen: p === promise && load.id === loadId }">
          <button type="button" class="plain cell" :data-at="`${row},${column}`" :aria-label="`${p} of ${load.name}: ${!isAsked(p, load.id) || cellOf(p, load.id)?.verdict.result === 'not asked' ? 'does not apply' : cellOf(p, load.id) ? SHORT[cellOf(p, load.id)!.verdict.result] : 'not proved yet'}`" @click="emit('choose', load.id, p)" @focus="emit('choose', load.id, p)" @keydown="move($event, row, column)" @keydown.enter.prevent="emit('act', load.id, p)">
            <template v-if="cellOf(p, load.id) && cellOf(p, load.id)!.verdict.result !== 'not asked'">
              <StateGlyph :state="STATES[cellOf(p, load.id)!.verdict.result]" :class="{ old: !cellOf(p, load.id)!.current }" />
              <span :class="{ differs: cellOf(p, load.id)!.verdict.result === 'broken', old: !cellOf(p, load.id)!.current }">{{ SHORT[cellOf(p, load.id)!.verdict.result] }}</span>
            </template>
            <span v-else-if="cellOf(p, load.id) || !isAsked(p, load.id)" class="second">–</span>
            <span v-else class="second">·</span>
          </button>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.matrix th { font-size: 13.5px; }
.matrix thead th { padding-right: 6px; line-height: 1.25; }
.id { font-weight: 700; }
.short { font-weight: 400; color: var(--second); font-size: 12.5px; }
thead th.chosen .short { color: var(--ink); }
.matrix td { padding: 0; border-left: 1px solid var(--rule); }
.matrix td.chosen { background: var(--raised); box-shadow: inset 0 0 0 2px var(--ink); }
.cell { display: flex; gap: 5px; align-items: center; width: 100%; min-height: 40px; padding: 4px 6px; font-size: 13px; white-space: nowrap; }
.old { opacity: .45; }
</style>
