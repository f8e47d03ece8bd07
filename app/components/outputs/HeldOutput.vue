<script setup lang="ts">
/** Held as long as somebody holds it. */
import type { OutputPatch } from '../../../core/design/edits/loads'
import type { OutputOf } from '../../../core/design/schema'

defineProps<{ output: OutputOf<'held'> }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ change: [patch: OutputPatch] }>()
</script>

<template>
  <dt>Lets go after</dt>
  <dd>
    <NumberField
      :value="output.timeoutMs"
      :max="60000"
      unit="ms"
      label="Lets go after"
      @change="timeoutMs => emit('change', { timeoutMs })"
    />
  </dd>
</template>
