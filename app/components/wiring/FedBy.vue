<script setup lang="ts">
/** What feeds something: the supply, or a regulator of the chain. Stands within a list of facts. */
import type { Design } from '../../../core/design/schema'
import { showQuantity } from '../../../core/units/quantity'

const props = defineProps<{ design: Design; fedBy: string | null; label: string; upTo?: string }>()
const emit = defineEmits<{ change: [fedBy: string | null] }>()
/** What stands before it in the chain. */
const able = computed(() => {
  const at = props.design.regulators.findIndex(r => r.id === props.upTo)
  return at < 0 ? props.design.regulators : props.design.regulators.slice(0, at)
})
</script>

<template>
  <el-select
    :model-value="fedBy ?? ''"
    :empty-values="[null]"
    size="small"
    :aria-label="label"
    @change="(id: string) => emit('change', id || null)"
    ><el-option
      value=""
      :label="`the supply, ${showQuantity(design.supply.volts, 'V')}`" /><el-option
      v-for="r in able"
      :key="r.id"
      :value="r.id"
      :label="`${r.name}, ${showQuantity(r.volts, 'V')}`"
  /></el-select>
</template>
