<script setup lang="ts">
/** A ladder of floats, from below. */
import { freePin } from '../../../core/design/pins'
import type { Design, SensorOf } from '../../../core/design/schema'
import { ladderReadings } from '../../../core/design/sensors/ladder'
import { typedNumber } from './typed-number'

const props = defineProps<{ design: Design; sensor: SensorOf<'floats'> }>()
const emit = defineEmits<{ change: [patch: Record<string, unknown>] }>()
const wrong = ref('')
const broken = computed(
  () => ladderReadings(props.sensor.floats.length).filter(r => r.broken).length,
)
function add(): void {
  const { floats } = props.sensor
  const pin = freePin(props.design, { as: 'contact', rests: 'either' })
  wrong.value = pin === undefined ? 'no pin is free for another float' : ''
  if (pin !== undefined)
    emit('change', { floats: [...floats, { pin, level: (floats.at(-1)?.level ?? 0) + 10 }] })
}
function read(event: Event, take: (value: number) => void): void {
  wrong.value = typedNumber(event, take)
}
</script>

<template>
  <dl class="facts">
    <slot />
    <dt>Unit</dt>
    <dd>
      <input
        class="box"
        :value="sensor.unit"
        aria-label="Unit of the level"
        maxlength="8"
        @change="event => emit('change', { unit: (event.target as HTMLInputElement).value })"
      />
    </dd>
  </dl>
  <table class="ruled rows">
    <thead>
      <tr>
        <th>Float, from below</th>
        <th>Closes at</th>
        <th><span class="visually-hidden">Remove</span></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(f, i) in sensor.floats" :key="i">
        <td>{{ i + 1 }}</td>
        <td>
          <input
            class="box narrow"
            :value="f.level"
            :aria-label="`Level of float ${i + 1}`"
            inputmode="decimal"
            @change="
              event =>
                read(event, level =>
                  emit('change', {
                    floats: sensor.floats.map((x, j) => (j === i ? { ...x, level } : x)),
                  }),
                )
            "
          />
          {{ sensor.unit }}
        </td>
        <td>
          <button
            v-if="sensor.floats.length > 1"
            type="button"
            class="plain"
            :aria-label="`Remove float ${i + 1}`"
            @click="emit('change', { floats: sensor.floats.filter((_, j) => j !== i) })"
          >
            ×
          </button>
        </td>
      </tr>
    </tbody>
  </table>
  <el-button v-if="sensor.floats.length < 8" size="small" @click="add()">Another float</el-button>
  <p class="second small">
    {{ sensor.floats.length + 1 }} levels can be read. The other {{ broken }} of
    {{ 2 ** sensor.floats.length }} readings have a dry float under a wet one: a float is stuck or
    its lead is broken.
  </p>
  <p v-if="wrong" class="differs small" role="alert">{{ wrong }}</p>
</template>

<style scoped>
p {
  margin: 6px 0;
}
</style>
