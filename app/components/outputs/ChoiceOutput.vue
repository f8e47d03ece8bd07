<script setup lang="ts">
/** A choice that pages show: its words and pictures. */
import type { OutputPatch } from '../../../core/design/edits/loads'
import type { OutputOf } from '../../../core/design/schema'

defineProps<{ output: OutputOf<'choice'> }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ change: [patch: OutputPatch] }>()
</script>

<template>
  <ChoiceRows :choices="output.choices" @change="choices => emit('change', { choices })" />
</template>
