<script setup lang="ts">
/**
 * Loads and promises: each cell a verdict. Arrows move; Enter plays the story that breaks it, or
 * proves what is not proved yet.
 */
import { PROMISE_IDS, PROMISES, notAsked, type PromiseId } from '../../../core/proof/promises'
import type { PromiseState, Verdict } from '../../../core/proof/prove'
import type { Design, Load } from '../../../core/design/schema'
import { useProofStore } from '../../stores/proof'

const props = defineProps<{ design: Design; promise: PromiseId; loadId: string | null }>()
const emit = defineEmits<{
  choose: [loadId: string, promise: PromiseId]
  act: [loadId: string, promise: PromiseId]
}>()
const proofs = useProofStore()
const grid = useTemplateRef<HTMLElement>('grid')

type Asked = Exclude<Verdict['result'], 'not asked'>
const STATES: Record<Asked, PromiseState> = {
  holds: 'holds',
  broken: 'broken',
  'by timing': 'in time',
  'in part': 'in part',
  'gave up': 'not examined',
}
const SHORT: Record<Asked, string> = {
  holds: 'holds',
  broken: 'broken',
  'by timing': 'by timing',
  'in part': 'in part',
  'gave up': 'undecided',
}
/** `assumed`: what the verdict takes for granted, for whoever rests on it. */
interface Cell {
  promise: PromiseId
  label: string
  state: PromiseState | null
  words: string
  old: boolean
  broken: boolean
  assumed: string
}
function cellOf(load: Load, promise: PromiseId): Cell {
  const result = proofs.resultOf(promise, load.id)
  const found = result?.verdict.result
  const label = (words: string) => `${promise} of ${load.name}: ${words}`
  if (found === 'not asked' || notAsked(load, promise) !== '')
    return {
      promise,
      label: label('does not apply'),
      state: null,
      words: '–',
      old: false,
      broken: false,
      assumed: '',
    }
  if (!result || !found)
    return {
      promise,
      label: label('not proved yet'),
      state: null,
      words: '·',
      old: false,
      broken: false,
      assumed: '',
    }
  return {
    promise,
    label: label(SHORT[found]),
    state: STATES[found],
    words: SHORT[found],
    old: !result.current,
    broken: found === 'broken',
    assumed: assumedWords(result.verdict),
  }
}
function assumedWords({ assumptions }: Verdict): string {
  const told = [...new Set(assumptions.map(a => `${a.open ? 'Not examined: ' : ''}${a.words}`))]
  return told.length ? `Taken for granted: ${told.join('; ')}` : ''
}
/** A row is drawn again only where it says something new. */
const rows = computed(() =>
  props.design.loads.map(load => {
    const cells = PROMISE_IDS.map(promise => cellOf(load, promise))
    return {
      load,
      cells,
      searching: proofs.running.includes(load.id),
      chosen: load.id === props.loadId ? props.promise : null,
      says: cells.map(c => `${c.label}${c.old ? ' before' : ''}`).join(),
    }
  }),
)
const STEPS: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
}
function move(event: KeyboardEvent, row: number, column: number): void {
  const step = STEPS[event.key]
  if (!step) return
  event.preventDefault()
  grid.value
    ?.querySelector<HTMLElement>(`[data-at="${row + step[0]},${column + step[1]}"]`)
    ?.focus()
}
</script>

<template>
  <table ref="grid" class="ruled matrix">
    <thead>
      <tr>
        <th scope="col">Load</th>
        <th
          v-for="p in PROMISE_IDS"
          :key="p"
          scope="col"
          :class="{ chosen: p === promise }"
          :title="PROMISES[p].words"
        >
          <span class="id">{{ p }}</span><br /><span class="short">{{ PROMISES[p].short }}</span>
        </th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="({ load, cells, searching, chosen, says }, row) in rows"
        :key="load.id"
        v-memo="[row, says, searching, chosen]"
      >
        <th scope="row">
          {{ load.name }}
          <div v-if="searching" class="second small" role="status">searching</div>
        </th>
        <td v-for="(c, column) in cells" :key="c.promise" :class="{ chosen: c.promise === chosen }">
          <button
            type="button"
            class="plain cell"
            :data-at="`${row},${column}`"
            :aria-label="c.label"
            :title="c.assumed || undefined"
            @click="emit('choose', load.id, c.promise)"
            @focus="emit('choose', load.id, c.promise)"
            @keydown="move($event, row, column)"
            @keydown.enter.prevent="emit('act', load.id, c.promise)"
          >
            <StateGlyph v-if="c.state" :state="c.state" :class="{ old: c.old }" />
            <span :class="{ differs: c.broken, old: c.old, second: !c.state }">{{ c.words }}</span>
          </button>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.matrix th {
  font-size: 13.5px;
}
.matrix thead th {
  padding-right: 6px;
  line-height: 1.25;
}
.id {
  font-weight: 700;
}
.short {
  font-weight: 400;
  color: var(--second);
  font-size: 12.5px;
}
thead th.chosen .short {
  color: var(--ink);
}
.matrix td {
  padding: 0;
  border-left: 1px solid var(--rule);
}
.matrix td.chosen {
  background: var(--raised);
  box-shadow: inset 0 0 0 2px var(--ink);
}
.cell {
  display: flex;
  gap: 5px;
  align-items: center;
  width: 100%;
  min-height: 40px;
  padding: 4px 6px;
  font-size: 13px;
  white-space: nowrap;
}
.old {
  opacity: 0.45;
}
</style>
