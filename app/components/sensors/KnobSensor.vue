<script setup lang="ts">
/** A knob with detents: how it counts, and what it turns. */
import type { Design, SensorOf } from '../../../core/design/schema'
import { loadsInReach } from '../../../core/design/wired'

const props = defineProps<{ design: Design; sensor: SensorOf<'knob'> }>()
const emit = defineEmits<{ change: [patch: Record<string, unknown>] }>()
/** Its own loads, and those that a box asks for over its link. */
const loads = computed(() => loadsInReach(props.design))
</script>

<template>
  <dl class="facts">
    <slot />
    <dt>Debounce</dt>
    <dd>
      <NumberField
        :value="sensor.debounceMs"
        :max="1000"
        unit="ms"
        label="Debounce"
        @change="debounceMs => emit('change', { debounceMs })"
      />
    </dd>
    <dt>Changes a detent</dt>
    <dd>
      <el-select
        :model-value="sensor.countsPerDetent"
        size="small"
        aria-label="Changes of its lines from detent to detent"
        @change="(countsPerDetent: number) => emit('change', { countsPerDetent })"
        ><el-option v-for="n in [1, 2, 4]" :key="n" :value="n" :label="String(n)"
      /></el-select>
    </dd>
    <dt>Turned fast</dt>
    <dd>
      <el-select
        :model-value="sensor.accelerated"
        size="small"
        aria-label="Turned fast"
        @change="(accelerated: boolean) => emit('change', { accelerated })"
        ><el-option :value="false" label="a detent is a detent" /><el-option
          :value="true"
          label="a detent counts twice"
      /></el-select>
    </dd>
    <dt>Turns</dt>
    <dd>
      <el-select
        :model-value="sensor.loadId"
        size="small"
        aria-label="Load that it turns"
        @change="(loadId: string) => emit('change', { loadId })"
        ><el-option v-for="l in loads" :key="l.id" :value="l.id" :label="l.name"
      /></el-select>
    </dd>
  </dl>
</template>
