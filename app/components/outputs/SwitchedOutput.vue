<script setup lang="ts">
/** On and off: timers that can be asked for, and limits. */
import type { OutputPatch } from '../../../core/design/edits/loads'
import type { OutputOf } from '../../../core/design/schema'

const props = defineProps<{ output: OutputOf<'switched'> }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ change: [patch: OutputPatch] }>()

function timer(patch: Partial<NonNullable<OutputOf<'switched'>['timers']>>): void {
  const { timers } = props.output
  if (timers) emit('change', { timers: { ...timers, ...patch } })
}
function limit(patch: Partial<NonNullable<OutputOf<'switched'>['limits']>>): void {
  const { limits } = props.output
  if (limits) emit('change', { limits: { ...limits, ...patch } })
}
</script>

<template>
  <dt>Timers</dt>
  <dd>
    <el-checkbox
      :model-value="output.timers !== null"
      aria-label="It has timers"
      @change="
        v =>
          emit('change', {
            timers: v === true ? { onDelayMs: 5000, offDelayMs: 180_000, blinkMs: 500 } : null,
          })
      "
      >can be asked for</el-checkbox
    >
  </dd>
  <template v-if="output.timers">
    <dt>"after": on in</dt>
    <dd>
      <NumberField
        :value="output.timers.onDelayMs"
        :min="10"
        :max="86400000"
        unit="ms"
        label="On after"
        @change="onDelayMs => timer({ onDelayMs })"
      />
    </dd>
    <dt>"for": on for</dt>
    <dd>
      <NumberField
        :value="output.timers.offDelayMs"
        :min="10"
        :max="86400000"
        unit="ms"
        label="On for this time"
        @change="offDelayMs => timer({ offDelayMs })"
      />
    </dd>
    <dt>"blink": each way</dt>
    <dd>
      <NumberField
        :value="output.timers.blinkMs"
        :min="50"
        :max="60000"
        unit="ms"
        label="Blinks"
        @change="blinkMs => timer({ blinkMs })"
      />
    </dd>
  </template>
  <dt>Limits</dt>
  <dd>
    <el-checkbox
      :model-value="output.limits !== null"
      aria-label="It has limits"
      @change="
        v =>
          emit('change', {
            limits:
              v === true
                ? { minOnMs: 0, minOffMs: 180_000, tooSoon: 'wait', longestOnMs: 0 }
                : null,
          })
      "
      >how often, how long</el-checkbox
    >
  </dd>
  <template v-if="output.limits">
    <dt>Least time on</dt>
    <dd>
      <NumberField
        :value="output.limits.minOnMs"
        :max="86400000"
        unit="ms"
        label="Least time on"
        @change="minOnMs => limit({ minOnMs })"
      />
    </dd>
    <dt>Least time off</dt>
    <dd>
      <NumberField
        :value="output.limits.minOffMs"
        :max="86400000"
        unit="ms"
        label="Least time off"
        @change="minOffMs => limit({ minOffMs })"
      />
    </dd>
    <dt>Asked too soon</dt>
    <dd>
      <el-select
        :model-value="output.limits.tooSoon"
        size="small"
        aria-label="Asked too soon"
        @change="(tooSoon: 'wait' | 'refuse') => limit({ tooSoon })"
        ><el-option value="wait" label="it is done when allowed" /><el-option
          value="refuse"
          label="it is refused"
      /></el-select>
    </dd>
    <dt>Longest time on</dt>
    <dd>
      <NumberField
        :value="output.limits.longestOnMs"
        :max="86400000"
        unit="ms"
        label="Longest time on, 0 = no limit"
        @change="longestOnMs => limit({ longestOnMs })"
      />
    </dd>
  </template>
</template>
