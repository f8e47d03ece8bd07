<script setup lang="ts">
/** A pulse: how long, and what another trigger meanwhile does. */
import type { OutputPatch } from '../../../core/design/edits/loads'
import type { OutputOf } from '../../../core/design/schema'

defineProps<{ output: OutputOf<'pulsed'> }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ change: [patch: OutputPatch] }>()
</script>

<template>
  <dt>On for</dt>
  <dd>
    <NumberField
      :value="output.lengthMs"
      :max="600000"
      unit="ms"
      label="On for"
      @change="lengthMs => emit('change', { lengthMs })"
    />
  </dd>
  <dt>Asked again meanwhile</dt>
  <dd>
    <el-select
      :model-value="output.again"
      size="small"
      aria-label="Asked again meanwhile"
      @change="(again: 'restart' | 'ignore') => emit('change', { again })"
      ><el-option value="restart" label="starts anew" /><el-option
        value="ignore"
        label="is ignored"
    /></el-select>
  </dd>
</template>
