<script setup lang="ts">
/** Lamps that nobody switches, as they are at the end of the run. */
import type { Lamp } from '../../../core/design/schema'
import { useBenchStore } from '../../stores/bench'

defineProps<{ lamps: readonly Lamp[] }>()
const bench = useBenchStore()
const isLit = (lamp: Lamp) => (
  void bench.tick,
  bench.bench?.trace.lamps[lamp.id]?.at(-1)?.level === (lamp.activeLevel === 'high' ? 1 : 0)
)
</script>

<template>
  <div v-if="lamps.length" class="lamps small">
    <span v-for="l in lamps" :key="l.id" :aria-label="`${l.name} ${isLit(l) ? 'lit' : 'dark'}`"
      ><i :class="{ lit: isLit(l) }" />{{ l.name }}</span
    >
  </div>
</template>

<style scoped>
.lamps {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
}
.lamps span {
  display: flex;
  align-items: center;
  gap: 4px;
}
.lamps i {
  width: 9px;
  height: 9px;
  border: 1.5px solid var(--ink);
  border-radius: 50%;
}
.lamps i.lit {
  background: var(--ink);
}
</style>
