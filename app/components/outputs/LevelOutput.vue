<script setup lang="ts">
/** A level: the named ones, numbers between them, ramp and least. */
import type { OutputPatch } from '../../../core/design/edits/loads'
import type { OutputOf } from '../../../core/design/schema'
import { valuesOf } from '../../../core/design/values'

defineProps<{ output: OutputOf<'level'> }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ change: [patch: OutputPatch] }>()
</script>

<template>
  <dt>Levels, %</dt>
  <dd>
    <StopsField
      :stops="valuesOf(output).map(Number)"
      :last="100"
      label="Levels"
      @change="stops => emit('change', { stops })"
    />
  </dd>
  <dt>Numbers between</dt>
  <dd>
    <el-select
      :model-value="output.step ?? 0"
      size="small"
      aria-label="Levels between the named ones"
      @change="(step: number) => emit('change', { step: step || null })"
      ><el-option :value="0" label="none" /><el-option
        v-for="s in [1, 2, 5, 10]"
        :key="s"
        :value="s"
        :label="`in steps of ${s} %`"
    /></el-select>
  </dd>
  <dt>Ramp, a per cent in</dt>
  <dd>
    <NumberField
      :value="output.rampMs"
      :max="1000"
      unit="ms"
      label="Ramp, time for one per cent"
      @change="rampMs => emit('change', { rampMs })"
    />
  </dd>
  <dt>Works from</dt>
  <dd>
    <NumberField
      :value="output.minimum"
      :max="100"
      unit="%"
      label="Works from"
      @change="minimum => emit('change', { minimum })"
    />
  </dd>
  <dt>Below that</dt>
  <dd>
    <el-select
      :model-value="output.below"
      size="small"
      aria-label="Below that"
      @change="(below: 'off' | 'minimum') => emit('change', { below })"
      ><el-option value="off" label="counts as off" /><el-option
        value="minimum"
        label="counts as that"
    /></el-select>
  </dd>
</template>
