<script setup lang="ts">
/** How fast a serial line is; both ends have to set it. */
import type { SerialLink } from '../../../core/design/schema'

defineProps<{ link: SerialLink }>()
const emit = defineEmits<{ change: [patch: Record<string, unknown>] }>()
const BAUDS = [9600, 19200, 38400, 57600, 115200]
</script>

<template>
  <dt>Baud</dt>
  <dd>
    <el-select
      :model-value="link.baud"
      size="small"
      aria-label="Baud"
      @change="(baud: number) => emit('change', { baud })"
      ><el-option v-for="b in BAUDS" :key="b" :value="b" :label="String(b)"
    /></el-select>
  </dd>
</template>
