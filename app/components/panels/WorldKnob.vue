<script setup lang="ts">
/** Stands for the world before a sensor: how warm, how full, how far tilted. */
import { rawRange } from '../../../core/controller/readings'
import type { Sensor } from '../../../core/design/schema'
import { isContact, isLadder } from '../../../core/design/sensors/traits'

const props = defineProps<{ sensor: Sensor; raw: readonly number[] }>()
const emit = defineEmits<{ change: [raw: number[]] }>()
const range = computed(() => rawRange(props.sensor))
const flip = (bit: number) => emit('change', [(props.raw[0] ?? 0) ^ (1 << bit)])
const turn = (axis: number, value: number | number[]) =>
  emit(
    'change',
    props.raw.map((r, i) => (i === axis ? Number(value) : r)),
  )
</script>

<template>
  <div class="knob">
    <template v-if="isLadder(sensor)">
      <el-checkbox
        v-for="(f, i) in sensor.floats"
        :key="i"
        :model-value="(((raw[0] ?? 0) >> i) & 1) === 1"
        @change="flip(i)"
        >wet at {{ f.level }}</el-checkbox
      >
    </template>
    <el-checkbox v-else-if="isContact(sensor)" :model-value="raw[0] === 1" @change="flip(0)"
      >closed</el-checkbox
    >
    <template v-else
      ><el-slider
        v-for="(r, i) in raw"
        :key="i"
        :model-value="r"
        :min="range.low"
        :max="range.high"
        size="small"
        :show-tooltip="false"
        :aria-label="`${sensor.name}${raw.length > 1 ? `, axis ${i + 1}` : ''}`"
        @input="(v: number | number[]) => turn(i, v)"
    /></template>
  </div>
</template>

<style scoped>
.knob {
  display: grid;
  min-width: 130px;
}
</style>
