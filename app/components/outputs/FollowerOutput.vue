<script setup lang="ts">
/** A knob whose clicks are imitated: positions, clicks, ends. */
import type { OutputPatch } from '../../../core/design/edits/loads'
import type { OutputOf } from '../../../core/design/schema'
import { LIMITS } from '../../../core/design/shapes'
import { valuesOf } from '../../../core/design/values'

defineProps<{ output: OutputOf<'follower'> }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ change: [patch: OutputPatch] }>()
</script>

<template>
  <dt>Positions</dt>
  <dd>
    <NumberField
      :value="output.positions"
      :min="2"
      :max="LIMITS.positions"
      unit=""
      label="Positions"
      @change="positions => emit('change', { positions })"
    />
  </dd>
  <dt>Named ones</dt>
  <dd>
    <StopsField
      :stops="valuesOf(output).map(Number)"
      :last="output.positions - 1"
      ends
      label="Named positions"
      @change="stops => emit('change', { stops: stops.length === output.positions ? null : stops })"
    />
  </dd>
  <dt>Click</dt>
  <dd>
    <NumberField
      :value="output.pulseMs"
      :max="1000"
      unit="ms"
      label="Click"
      @change="pulseMs => emit('change', { pulseMs })"
    />
  </dd>
  <dt>It turns</dt>
  <dd>
    <el-select
      :model-value="output.round"
      size="small"
      aria-label="How the knob turns"
      @change="(round: boolean) => emit('change', { round })"
      ><el-option :value="false" label="between two ends" /><el-option
        :value="true"
        label="round and round"
    /></el-select>
  </dd>
  <dt>Pause between clicks</dt>
  <dd>
    <NumberField
      :value="output.gapMs"
      :max="1000"
      unit="ms"
      label="Pause between clicks"
      @change="gapMs => emit('change', { gapMs })"
    />
  </dd>
</template>
