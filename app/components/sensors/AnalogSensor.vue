<script setup lang="ts">
/** An analog input: divider, unit, two known points. */
import type { SensorOf } from '../../../core/design/schema'
import { typedNumber } from './typed-number'

const props = defineProps<{ sensor: SensorOf<'analog'> }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ change: [patch: Record<string, unknown>] }>()
const wrong = ref('')
type Calibration = NonNullable<SensorOf<'analog'>['calibration']>
type Divider = NonNullable<SensorOf<'analog'>['divider']>
function calibrate(patch: Partial<Calibration>): void {
  const { calibration } = props.sensor
  emit('change', {
    calibration: { raw1: 0, value1: 0, raw2: 1023, value2: 100, ...calibration, ...patch },
  })
}
function divide(patch: Partial<Divider>): void {
  const { divider } = props.sensor
  emit('change', { divider: { upperOhms: 10_000, lowerOhms: 10_000, ...divider, ...patch } })
}
function read(event: Event, take: (value: number) => void): void {
  wrong.value = typedNumber(event, take)
}
</script>

<template>
  <dl class="facts">
    <slot />
    <dt>Divider, above</dt>
    <dd>
      <QuantityField
        :value="sensor.divider?.upperOhms ?? null"
        unit="Ω"
        label="Divider, above"
        placeholder="none"
        :min="10"
        :max="1e8"
        @change="upperOhms => divide({ upperOhms })"
      />
    </dd>
    <dt>Divider, below</dt>
    <dd>
      <QuantityField
        :value="sensor.divider?.lowerOhms ?? null"
        unit="Ω"
        label="Divider, below"
        placeholder="none"
        :min="10"
        :max="1e8"
        @change="lowerOhms => divide({ lowerOhms })"
      />
    </dd>
    <dt>Unit</dt>
    <dd>
      <input
        class="box"
        :value="sensor.unit"
        aria-label="Unit of the value"
        maxlength="8"
        @change="event => emit('change', { unit: (event.target as HTMLInputElement).value })"
      />
    </dd>
    <template v-for="n in [1, 2] as const" :key="n">
      <dt>Known point {{ n }}</dt>
      <dd class="point">
        <input
          class="box narrow"
          :value="sensor.calibration?.[`raw${n}`] ?? ''"
          placeholder="reading"
          :aria-label="`Reading ${n}`"
          inputmode="numeric"
          @change="
            event =>
              read(event, v =>
                calibrate({
                  [`raw${n}`]: Math.round(v),
                }),
              )
          "
        />
        <span>is</span>
        <input
          class="box narrow"
          :value="sensor.calibration?.[`value${n}`] ?? ''"
          placeholder="value"
          :aria-label="`True value ${n}`"
          inputmode="decimal"
          @change="
            event =>
              read(event, v =>
                calibrate({
                  [`value${n}`]: v,
                }),
              )
          "
        />
      </dd>
    </template>
  </dl>
  <div class="under">
    <el-button v-if="sensor.divider" size="small" @click="emit('change', { divider: null })"
      >No divider</el-button
    >
    <el-button v-if="sensor.calibration" size="small" @click="emit('change', { calibration: null })"
      >No calibration</el-button
    >
  </div>
  <p v-if="wrong" class="differs small" role="alert">{{ wrong }}</p>
</template>

<style scoped>
.point {
  display: flex;
  gap: 6px;
  justify-content: flex-end;
  align-items: center;
}
.under {
  display: flex;
  gap: 6px;
  margin-top: 6px;
}
.under :deep(.el-button) {
  margin: 0;
}
</style>
