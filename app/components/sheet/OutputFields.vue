<script setup lang="ts">
/** What an output does: what all kinds have in common, then what is its kind's own. */
import type { OutputPatch } from '../../../core/design/edits/loads'
import { KIND_WORDS } from '../../../core/design/outputs/kinds'
import { isDriven, isStepper } from '../../../core/design/outputs/traits'
import type { Design, Load, OutputKind } from '../../../core/design/schema'
import { linesOf } from '../../../core/design/values'
import { kindEdit, outputEdit } from '../../../core/messages/kinds'
import { useDesignStore } from '../../stores/design'
import { OUTPUT_FIELDS } from '../outputs/output-rows'

const props = defineProps<{ design: Design; load: Load }>()
const designs = useDesignStore()
const output = computed(() => props.load.output)
const set = (patch: OutputPatch) => designs.apply(outputEdit(props.design, props.load.id, patch))
</script>

<template>
  <dl class="facts">
    <dt>It is</dt>
    <dd>
      <el-select
        :model-value="output.kind"
        size="small"
        aria-label="Kind of output"
        @change="(kind: OutputKind) => designs.apply(kindEdit(design, load.id, kind))"
        ><el-option v-for="(words, kind) in KIND_WORDS" :key="kind" :value="kind" :label="words"
      /></el-select>
    </dd>
    <template v-for="line in linesOf(output)" :key="line.key">
      <dt>{{ line.name ? `Pin, ${line.name}` : 'Pin' }}</dt>
      <dd>
        <PinSelect
          :design="design"
          :pin="line.pin"
          :label="line.name ? `Pin of the load, ${line.name}` : 'Pin of the load'"
          @change="pin => set({ [line.key]: pin })"
        />
      </dd>
    </template>
    <template v-if="isDriven(output) && !isStepper(output)">
      <dt>On when pin is</dt>
      <dd>
        <LevelSelect
          :level="output.activeLevel"
          label="Active level"
          @change="activeLevel => set({ activeLevel })"
        />
      </dd>
    </template>
    <template v-if="'powerUp' in output">
      <dt>At power-up</dt>
      <dd>
        <el-select
          :model-value="output.powerUp"
          size="small"
          aria-label="At power-up"
          @change="(powerUp: 'off' | 'on' | 'last') => set({ powerUp })"
          ><el-option value="off" label="off" /><el-option value="on" label="on" /><el-option
            value="last"
            label="as it was"
        /></el-select>
      </dd>
      <template v-if="output.powerUp === 'last'">
        <dt>Saved after</dt>
        <dd>
          <NumberField
            :value="output.saveDelayMs"
            :max="600000"
            unit="ms"
            label="Saved after"
            @change="saveDelayMs => set({ saveDelayMs })"
          />
        </dd>
      </template>
    </template>
    <component
      :is="OUTPUT_FIELDS[output.kind]"
      :design="design"
      :load="load"
      :output="output"
      @change="set"
    />
  </dl>
</template>
