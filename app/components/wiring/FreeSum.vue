<script setup lang="ts">
/**
 * Any sum by itself: for what the design does not hold yet, such as a battery or a divider. Nothing
 * of it is stored.
 */
import { CATALOGUE, type CatalogueEntry } from '../../../core/electrical/catalogue'
import type { WiringSum } from '../../../core/electrical/wiring-sum'

const id = ref(CATALOGUE[0]?.id ?? '')
const entry = computed(
  () => CATALOGUE.find(e => e.id === id.value) ?? (CATALOGUE[0] as CatalogueEntry),
)
const inputs = ref<Record<string, number>>({})
watch(
  entry,
  e => {
    inputs.value = { ...e.start }
  },
  { immediate: true },
)
const of = computed((): WiringSum => {
  const base = {
    id: entry.value.id,
    kind: entry.value.id,
    title: entry.value.title,
    path: '',
    loadId: null,
    controlId: null,
    sensorId: null,
    given: [],
    fixes: [],
  }
  try {
    return { ...base, sum: entry.value.compute(inputs.value), refused: '' }
  } catch (error) {
    return { ...base, sum: null, refused: (error as Error).message }
  }
})
</script>

<template>
  <div>
    <h2>A sum by itself</h2>
    <el-select v-model="id" aria-label="Which sum"
      ><el-option v-for="e in CATALOGUE" :key="e.id" :value="e.id" :label="e.title"
    /></el-select>
    <dl class="facts inputs">
      <template v-for="(r, key) in entry.ranges" :key="`${id} ${key}`">
        <dt>{{ r.words }}</dt>
        <dd>
          <QuantityField
            :value="inputs[key] ?? null"
            :unit="r.unit"
            :label="r.words"
            :min="r.min"
            :max="r.max"
            @change="
              value => {
                inputs = { ...inputs, [key]: value }
              }
            "
          />
        </dd>
      </template>
    </dl>
    <SumCard :of="of" />
    <p class="second small">
      Typed here only, nothing is stored. What belongs to a load or a hand control stands with that
      part.
    </p>
  </div>
</template>

<style scoped>
.inputs {
  margin-top: 12px;
}
</style>
