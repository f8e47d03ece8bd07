<script setup lang="ts">
/**
 * Rows of quantities of one part, each told alone when it changes. Stands within a list of facts.
 */
import type { Field } from '../../../core/design/fields'

defineProps<{ fields: readonly Field[]; values: Record<string, unknown> }>()
const emit = defineEmits<{ change: [patch: Record<string, number>] }>()
</script>

<template>
  <template v-for="f in fields" :key="f.key">
    <dt>{{ f.words }}</dt>
    <dd>
      <QuantityField
        :value="values[f.key] as number"
        :unit="f.unit"
        :label="f.words"
        :min="f.min"
        :max="f.max"
        @change="value => emit('change', { [f.key]: f.whole ? Math.round(value) : value })"
      />
    </dd>
  </template>
</template>
