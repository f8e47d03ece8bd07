<script setup lang="ts">
/** A contact to ground: bounce and pull-up. */
import type { SensorOf } from '../../../core/design/schema'

defineProps<{ sensor: SensorOf<'contact'> }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ change: [patch: Record<string, unknown>] }>()
</script>

<template>
  <dl class="facts">
    <slot />
    <dt>Debounce</dt>
    <dd>
      <NumberField
        :value="sensor.debounceMs"
        :max="1000"
        unit="ms"
        label="Debounce"
        @change="debounceMs => emit('change', { debounceMs })"
      />
    </dd>
    <dt>Pull-up</dt>
    <dd>
      <QuantityField
        :value="sensor.pullOhms"
        unit="Ω"
        label="Pull-up"
        placeholder="on board"
        :min="100"
        :max="1000000"
        @change="pullOhms => emit('change', { pullOhms })"
      />
    </dd>
  </dl>
  <el-button
    v-if="sensor.pullOhms !== null"
    size="small"
    class="under"
    @click="emit('change', { pullOhms: null })"
    >Use the board's own pull-up</el-button
  >
</template>

<style scoped>
.under {
  margin-top: 6px;
}
</style>
