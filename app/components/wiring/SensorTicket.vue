<script setup lang="ts">
/** A sensor or remote input: its name and figures, what is its kind's own, its rules. */
import { sensorFields } from '../../../core/design/fields'
import { hasReading } from '../../../core/design/items'
import { SENSORS } from '../../../core/design/sensors/rows'
import type { Design, Sensor } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'
import { SENSOR_FIELDS } from '../sensors/sensor-rows'

const props = defineProps<{ design: Design; sensor: Sensor }>()
const emit = defineEmits<{ removed: [] }>()
const designs = useDesignStore()
const set = (patch: Record<string, unknown>) =>
  designs.apply({ type: 'setSensor', sensorId: props.sensor.id, patch })

function rename(event: Event): void {
  const name = (event.target as HTMLInputElement).value.trim()
  if (name && name !== props.sensor.name) set({ name })
}
function remove(): void {
  if (designs.apply({ type: 'removeSensor', sensorId: props.sensor.id })) emit('removed')
}
</script>

<template>
  <div>
    <p class="second small">Kind: {{ SENSORS[sensor.kind].words }}.</p>
    <component
      :is="SENSOR_FIELDS[sensor.kind]"
      :key="sensor.id"
      :design="design"
      :sensor="sensor"
      @change="set"
    >
      <dt>Name</dt>
      <dd>
        <input
          class="box wide"
          :value="sensor.name"
          aria-label="Name of the sensor"
          maxlength="40"
          @change="rename"
        />
      </dd>
      <PartFields :fields="sensorFields(sensor.kind)" :values="sensor" @change="set" />
    </component>
    <RuleRows v-if="hasReading(sensor)" :design="design" :sensor="sensor" />
    <el-button size="small" class="remove" @click="remove">Remove {{ sensor.name }}</el-button>
  </div>
</template>

<style scoped>
.remove {
  margin-top: 12px;
}
p {
  margin: 6px 0;
}
</style>
