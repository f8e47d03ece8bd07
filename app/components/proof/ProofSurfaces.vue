<script setup lang="ts">
/** One promise, load by load and surface by surface, in the columns of the sheet. */
import type { Design } from '../../../core/design/schema'
import { PROMISES, type PromiseId } from '../../../core/proof/promises'
import { count } from '../../../core/units/format'
import { useProofStore } from '../../stores/proof'

const props = defineProps<{ design: Design; promise: PromiseId; loadId: string | null }>()
const emit = defineEmits<{ choose: [loadId: string, promise: PromiseId] }>()
const proofs = useProofStore()
const rows = computed(() =>
  props.design.loads.map(load => ({ load, found: proofs.resultOf(props.promise, load.id) })),
)
const WORDS = {
  'in step': 'in step',
  unsure: 'can stay unsure',
  stale: 'can go stale',
  'not examined': 'undecided',
  holds: 'holds',
  broken: 'broken',
  'in time': 'by timing',
  'in part': 'holds, in part',
} as const
const bySurface = computed(() =>
  rows.value.some(r => r.found?.verdict.surfaces.some(s => s.surfaceId !== null)),
)
</script>

<template>
  <section>
    <h2>{{ promise }} · {{ PROMISES[promise].words }}</h2>
    <table class="ruled">
      <thead>
        <tr>
          <th scope="col">Load</th>
          <template v-if="bySurface"
            ><th v-for="s in design.surfaces" :key="s.id" scope="col">{{ s.name }}</th></template
          >
          <th v-else scope="col">Verdict</th>
          <th class="number" scope="col">Situations</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="{ load, found } in rows"
          :key="load.id"
          :class="{ chosen: load.id === loadId }"
          @click="emit('choose', load.id, promise)"
        >
          <th scope="row">{{ load.name }}</th>
          <template v-if="bySurface">
            <td v-for="s in design.surfaces" :key="s.id">
              <div
                v-for="(part, i) in found?.verdict.surfaces.filter(x => x.surfaceId === s.id) ?? []"
                :key="i"
                class="state"
              >
                <StateGlyph :state="part.state" />{{ WORDS[part.state] }}
              </div>
              <span
                v-if="found && !found.verdict.surfaces.some(x => x.surfaceId === s.id)"
                class="second"
                >–</span
              >
            </td>
          </template>
          <td v-else>
            <template v-if="found">
              <div v-for="(part, i) in found.verdict.surfaces" :key="i" class="state">
                <StateGlyph :state="part.state" />{{ part.reason }}
              </div>
              <span v-if="!found.verdict.surfaces.length" class="second">{{
                found.verdict.reason
              }}</span>
            </template>
            <span v-else class="second">not proved yet</span>
          </td>
          <td class="number wire">
            {{ found?.verdict.situations ? count(found.verdict.situations) : '' }}
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
section {
  margin-top: 26px;
}
h2 {
  margin-bottom: 6px;
}
tbody tr {
  cursor: pointer;
}
tr.chosen > * {
  background: var(--raised);
}
.state {
  display: flex;
  gap: 7px;
  align-items: center;
  min-height: 22px;
}
</style>
