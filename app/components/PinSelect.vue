<script setup lang="ts">
/** A pin of the board; what else it serves is told beside it. */
import { boardOf, needs } from '../../core/design/pins'
import type { Design } from '../../core/design/schema'

const props = defineProps<{
  design: Design
  pin: number | null
  label: string
  optional?: boolean
}>()
const emit = defineEmits<{ change: [pin: number]; clear: [] }>()
const options = computed(() => {
  const all = needs(props.design)
  return boardOf(props.design)
    .pins.filter(p => p.can.length)
    .map(p => ({
      value: p.chip,
      label: p.label,
      note: all.find(n => n.chip === p.chip)?.what ?? p.hazards[0]?.words ?? 'free',
    }))
})
</script>

<template>
  <el-select
    :model-value="pin ?? -1"
    size="small"
    :aria-label="label"
    @change="(v: number) => (v < 0 ? emit('clear') : emit('change', v))"
  >
    <el-option v-if="optional" :value="-1" label="not wired" />
    <el-option v-for="o in options" :key="o.value" :value="o.value" :label="o.label"
      ><span class="wire">{{ o.label }}</span>
      {{ ' ' }}
      <span class="second small">{{ o.note }}</span></el-option
    >
  </el-select>
</template>
