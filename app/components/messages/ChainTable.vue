<script setup lang="ts">
/** One command followed from the key to the contact, and its report back, hop by hop. */
import { maybeMessage } from '../../../core/design/find'
import type { Design, Link } from '../../../core/design/schema'
import { spokenValues, valueWords } from '../../../core/design/values'
import { chainOf } from '../../../core/links/chain'

const props = defineProps<{ design: Design; link: Link }>()
const loads = computed(() => props.design.loads.filter(l => maybeMessage(props.link, l.id)))
const loadId = ref('')
const load = computed(() => loads.value.find(l => l.id === loadId.value) ?? loads.value[0])
const chain = computed(() =>
  load.value
    ? chainOf(props.design, props.link, load.value.id, spokenValues(load.value.output)[0] ?? '')
    : null,
)
const hops = computed(() => (chain.value ? [...chain.value.command, ...chain.value.report] : []))
</script>

<template>
  <div v-if="load" class="chain">
    <div class="row">
      <h2>Hop by hop</h2>
      <el-select
        :model-value="load.id"
        size="small"
        class="which"
        aria-label="Load whose command is followed"
        @change="
          (id: string) => {
            loadId = id
          }
        "
        ><el-option
          v-for="l in loads"
          :key="l.id"
          :value="l.id"
          :label="`${l.name} ${valueWords(l.output, spokenValues(l.output)[0] ?? '')}`"
      /></el-select>
    </div>
    <table v-if="hops.length" class="ruled">
      <thead>
        <tr>
          <th>From</th>
          <th>To</th>
          <th>Over</th>
          <th>Carries</th>
          <th>Means</th>
          <th class="number">On the wire</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(h, i) in hops" :key="i" :class="{ turn: i === chain?.command.length }">
          <td>{{ h.from }}</td>
          <td>{{ h.to }}</td>
          <td>{{ h.over }}</td>
          <td class="wire carries">{{ h.carries }}</td>
          <td>{{ h.means }}</td>
          <td class="number" :title="h.reason">{{ h.wireMs.toFixed(2) }} ms</td>
        </tr>
      </tbody>
    </table>
    <p v-if="chain && !chain.report.length" class="differs small">
      Nothing comes back: this command is neither answered nor reported.
    </p>
    <p v-if="!chain" class="second small">It has no code for this value yet.</p>
  </div>
</template>

<style scoped>
.chain {
  padding: 0 20px 24px;
  overflow-x: auto;
  flex: none;
}
.row {
  display: flex;
  gap: 14px;
  align-items: center;
  margin-bottom: 4px;
}
.which {
  width: 230px;
}
.carries {
  overflow-wrap: anywhere;
}
.turn > * {
  border-top: 1px solid var(--ink) !important;
}
</style>
