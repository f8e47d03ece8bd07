<script setup lang="ts">
/** What an output does, field by field, by its kind. */
import type { OutputPatch } from '../../../core/design/edits/loads'
import type { Design, Load, Output } from '../../../core/design/schema'
import { LIMITS } from '../../../core/design/shapes'
import { linesOf, numbersOf, valuesOf } from '../../../core/design/values'
import { KIND_WORDS } from '../../../core/design/outputs/kinds'
import { kindEdit, outputEdit } from '../../../core/messages/kinds'
import { useDesignStore } from '../../stores/design'
import {
  hasCoils,
  isChoice,
  isDriven,
  isFollower,
  isHeld,
  isLevel,
  isOpposed,
  isPulse,
  isStepper,
  isSwitched,
  limitsOf,
  timersOf,
} from '../../../core/design/outputs/traits'
import { isContact } from '../../../core/design/sensors/traits'

const props = defineProps<{ design: Design; load: Load }>()
const designs = useDesignStore()
const output = computed(() => props.load.output)
const set = (patch: OutputPatch) => designs.apply(outputEdit(props.design, props.load.id, patch))
const stops = ref('')
const wrongStops = ref('')
watch(
  output,
  o => ((stops.value = numbersOf(o) ? valuesOf(o).join(', ') : ''), (wrongStops.value = '')),
  { immediate: true },
)
/** "0, 30, 60, 100": numbers in any order, told once each; 0 is always there. */
function keepStops(): void {
  const list = stops.value
    .split(/[\s,;%]+/)
    .filter(Boolean)
    .map(Number)
  // A knob ends at its last position; a level at the highest that is named.
  const last = isFollower(output.value) ? output.value.positions - 1 : 100
  if (list.some(n => !Number.isInteger(n) || n < 0 || n > last))
    wrongStops.value = `whole numbers from 0 to ${last}, with commas between`
  else {
    const sorted = [...new Set([0, ...list, ...(isFollower(output.value) ? [last] : [])])].sort(
      (a, b) => a - b,
    )
    wrongStops.value =
      sorted.length < 2 || sorted.length > LIMITS.values
        ? `two to ${LIMITS.values} values, 0 among them`
        : ''
    const all = isFollower(output.value) && sorted.length === last + 1
    if (!wrongStops.value) set({ stops: all ? null : sorted })
  }
}
function timer(patch: Partial<Record<'onDelayMs' | 'offDelayMs' | 'blinkMs', number>>): void {
  const timers = timersOf(output.value)
  if (timers) set({ timers: { ...timers, ...patch } })
}
type Limits = NonNullable<Extract<Output, { kind: 'switched' }>['limits']>
function limit(patch: Partial<Limits>): void {
  const limits = limitsOf(output.value)
  if (limits) set({ limits: { ...limits, ...patch } })
}
const contacts = computed(() =>
  props.design.sensors.filter(s => isContact(s) && s.controllerId === props.load.controllerId),
)
const DRIVES = {
  relays: 'two relays',
  bridge: 'a bridge',
  stepper: 'a stepper driver',
  coils: 'four coils',
}
</script>

<template>
  <dl class="facts">
    <dt>It is</dt>
    <dd>
      <el-select
        :model-value="output.kind"
        size="small"
        aria-label="Kind of output"
        @change="(kind: Output['kind']) => designs.apply(kindEdit(design, load.id, kind))"
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
    <template v-if="isSwitched(output)">
      <dt>Timers</dt>
      <dd>
        <el-checkbox
          :model-value="output.timers !== null"
          aria-label="It has timers"
          @change="
            v =>
              set({
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
    </template>
    <template v-if="isSwitched(output)">
      <dt>Limits</dt>
      <dd>
        <el-checkbox
          :model-value="output.limits !== null"
          aria-label="It has limits"
          @change="
            v =>
              set({
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
    <template v-if="isPulse(output)">
      <dt>On for</dt>
      <dd>
        <NumberField
          :value="output.lengthMs"
          :max="600000"
          unit="ms"
          label="On for"
          @change="lengthMs => set({ lengthMs })"
        />
      </dd>
      <dt>Asked again meanwhile</dt>
      <dd>
        <el-select
          :model-value="output.again"
          size="small"
          aria-label="Asked again meanwhile"
          @change="(again: 'restart' | 'ignore') => set({ again })"
          ><el-option value="restart" label="starts anew" /><el-option
            value="ignore"
            label="is ignored"
        /></el-select>
      </dd>
    </template>
    <template v-if="isHeld(output)">
      <dt>Lets go after</dt>
      <dd>
        <NumberField
          :value="output.timeoutMs"
          :max="60000"
          unit="ms"
          label="Lets go after"
          @change="timeoutMs => set({ timeoutMs })"
        />
      </dd>
    </template>
    <template v-if="isOpposed(output)">
      <dt>Driven by</dt>
      <dd>
        <el-select
          :model-value="output.drive"
          size="small"
          aria-label="Driven by"
          @change="(drive: keyof typeof DRIVES) => set({ drive })"
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
          @change="deadTimeMs => set({ deadTimeMs })"
        />
      </dd>
      <dt>Longest run</dt>
      <dd>
        <NumberField
          :value="output.runLimitMs"
          :max="600000"
          unit="ms"
          label="Longest run, 0 = no limit"
          @change="runLimitMs => set({ runLimitMs })"
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
              @change="(id: string) => set({ [end]: id || null })"
              ><el-option value="" label="no contact" /><el-option
                v-for="c in contacts"
                :key="c.id"
                :value="c.id"
                :label="c.name"
            /></el-select>
          </dd>
        </template>
      </template>
      <template v-if="isStepper(output) || hasCoils(output)"
        ><dt>Steps a second</dt>
        <dd>
          <NumberField
            :value="output.stepHz"
            :max="hasCoils(output) ? 1000 : 10000"
            unit="Hz"
            label="Steps a second"
            @change="stepHz => set({ stepHz })"
          /></dd
      ></template>
      <template v-if="hasCoils(output)">
        <dt>Steps are</dt>
        <dd>
          <el-select
            :model-value="output.sequence"
            size="small"
            aria-label="Steps of the coils"
            @change="(sequence: 'full' | 'half') => set({ sequence })"
            ><el-option value="half" label="half" /><el-option value="full" label="full"
          /></el-select>
        </dd>
        <dt>At rest</dt>
        <dd>
          <el-select
            :model-value="output.atRest"
            size="small"
            aria-label="Coils at rest"
            @change="(atRest: 'off' | 'held') => set({ atRest })"
            ><el-option value="off" label="off" /><el-option value="held" label="held"
          /></el-select>
        </dd>
      </template>
    </template>
    <ChoiceRows
      v-if="isChoice(output)"
      :choices="output.choices"
      @change="choices => set({ choices })"
    />
    <template v-if="isLevel(output)">
      <dt>Levels, %</dt>
      <dd>
        <span class="stops"
          ><input
            v-model="stops"
            class="wire"
            aria-label="Levels"
            maxlength="90"
            spellcheck="false"
            @change="keepStops"
          /><span v-if="wrongStops" class="differs small" role="alert">{{ wrongStops }}</span></span
        >
      </dd>
      <dt>Numbers between</dt>
      <dd>
        <el-select
          :model-value="output.step ?? 0"
          size="small"
          aria-label="Levels between the named ones"
          @change="(step: number) => set({ step: step || null })"
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
          @change="rampMs => set({ rampMs })"
        />
      </dd>
      <dt>Works from</dt>
      <dd>
        <NumberField
          :value="output.minimum"
          :max="100"
          unit="%"
          label="Works from"
          @change="minimum => set({ minimum })"
        />
      </dd>
      <dt>Below that</dt>
      <dd>
        <el-select
          :model-value="output.below"
          size="small"
          aria-label="Below that"
          @change="(below: 'off' | 'minimum') => set({ below })"
          ><el-option value="off" label="counts as off" /><el-option
            value="minimum"
            label="counts as that"
        /></el-select>
      </dd>
    </template>
    <template v-if="isFollower(output)">
      <dt>Positions</dt>
      <dd>
        <NumberField
          :value="output.positions"
          :min="2"
          :max="LIMITS.positions"
          unit=""
          label="Positions"
          @change="positions => set({ positions })"
        />
      </dd>
      <dt>Named ones</dt>
      <dd>
        <span class="stops"
          ><input
            v-model="stops"
            class="wire"
            aria-label="Named positions"
            maxlength="90"
            spellcheck="false"
            @change="keepStops"
          /><span v-if="wrongStops" class="differs small" role="alert">{{ wrongStops }}</span></span
        >
      </dd>
      <dt>Click</dt>
      <dd>
        <NumberField
          :value="output.pulseMs"
          :max="1000"
          unit="ms"
          label="Click"
          @change="pulseMs => set({ pulseMs })"
        />
      </dd>
      <dt>It turns</dt>
      <dd>
        <el-select
          :model-value="output.round"
          size="small"
          aria-label="How the knob turns"
          @change="(round: boolean) => set({ round })"
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
          @change="gapMs => set({ gapMs })"
        />
      </dd>
    </template>
  </dl>
</template>

<style scoped>
.stops {
  display: grid;
  justify-items: end;
}
.stops input {
  width: 138px;
  font-size: 11.5px;
  text-align: right;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--raised);
  color: inherit;
  padding: 3px 7px;
  min-height: 26px;
}
</style>
