<script setup lang="ts">
/** The level of a pin at which something is on. */
type Level = 'low' | 'high'
defineProps<{ level: Level; label: string }>()
const emit = defineEmits<{ change: [level: Level] }>()
</script>

<template>
  <el-select
    :model-value="level"
    size="small"
    :aria-label="label"
    @change="(l: Level) => emit('change', l)"
    ><el-option value="low" label="low" /><el-option value="high" label="high"
  /></el-select>
</template>
