<script setup lang="ts">
/** Two directions, or rest: how it is driven, where it ends, its steps. */
import type { OutputPatch } from '../../../core/design/edits/loads'
import { hasCoils, isStepper } from '../../../core/design/outputs/traits'
import type { Design, Load, OutputOf } from '../../../core/design/schema'
import { isContact } from '../../../core/design/sensors/traits'

const props = defineProps<{ design: Design; load: Load; output: OutputOf<'opposed'> }>()
const emit = defineEmits<{ change: [patch: OutputPatch] }>()
const contacts = computed(() =>
  props.design.sensors.filter(s => isContact(s) && s.controllerId === props.load.controllerId),
)
const stepper = computed(() => isStepper(props.output))
const coils = computed(() => hasCoils(props.output))
const DRIVES: Record<OutputOf<'opposed'>['drive'], string> = {
  relays: 'two relays',
  bridge: 'a bridge',
  stepper: 'a stepper driver',
  coils: 'four coils',
}
</script>

<template>
  <dt>Driven by</dt>
  <dd>
    <el-select
      :model-value="output.drive"
      size="small"
      aria-label="Driven by"
      @change="(drive: keyof typeof DRIVES) => emit('change', { drive })"
      ><el-option v-for="(words, drive) in DRIVES" :key="drive" :value="drive" :label="words"
    /></el-select>
  </dd>
  <dt>Rest between directions</dt>
  <dd>
    <NumberField
      :value="output.deadTimeMs"
      :max="60000"
      unit="ms"
      label="Rest between directions"
      @change="deadTimeMs => emit('change', { deadTimeMs })"
    />
  </dd>
  <dt>Longest run</dt>
  <dd>
    <NumberField
      :value="output.runLimitMs"
      :max="600000"
      unit="ms"
      label="Longest run, 0 = no limit"
      @change="runLimitMs => emit('change', { runLimitMs })"
    />
  </dd>
  <template v-if="contacts.length">
    <template v-for="end in ['forwardEnd', 'reverseEnd'] as const" :key="end">
      <dt>{{ end === 'forwardEnd' ? 'Forward ends at' : 'Reverse ends at' }}</dt>
      <dd>
        <el-select
          :model-value="output[end] ?? ''"
          :empty-values="[null]"
          size="small"
          :aria-label="
            end === 'forwardEnd' ? 'Contact where forward ends' : 'Contact where reverse ends'
          "
          @change="(id: string) => emit('change', { [end]: id || null })"
          ><el-option value="" label="no contact" /><el-option
            v-for="c in contacts"
            :key="c.id"
            :value="c.id"
            :label="c.name"
        /></el-select>
      </dd>
    </template>
  </template>
  <template v-if="stepper || coils"
    ><dt>Steps a second</dt>
    <dd>
      <NumberField
        :value="output.stepHz"
        :max="coils ? 1000 : 10000"
        unit="Hz"
        label="Steps a second"
        @change="stepHz => emit('change', { stepHz })"
      /></dd
  ></template>
  <template v-if="coils">
    <dt>Steps are</dt>
    <dd>
      <el-select
        :model-value="output.sequence"
        size="small"
        aria-label="Steps of the coils"
        @change="(sequence: 'full' | 'half') => emit('change', { sequence })"
        ><el-option value="half" label="half" /><el-option value="full" label="full"
      /></el-select>
    </dd>
    <dt>At rest</dt>
    <dd>
      <el-select
        :model-value="output.atRest"
        size="small"
        aria-label="Coils at rest"
        @change="(atRest: 'off' | 'held') => emit('change', { atRest })"
        ><el-option value="off" label="off" /><el-option value="held" label="held"
      /></el-select>
    </dd>
  </template>
</template>
