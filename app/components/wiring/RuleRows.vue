<script setup lang="ts">
/** What the controller does by itself when a reading crosses a limit. */
import { loadOf } from '../../../core/design/find'
import { unitOf } from '../../../core/design/items'
import { wholeOf } from '../../../core/design/part'
import { loadsInReach, scenesInReach } from '../../../core/design/wired'
import type { Design, Rule, Sensor } from '../../../core/design/schema'
import { fullOf, restOf, valuesOf, valueWords } from '../../../core/design/values'
import { useDesignStore } from '../../stores/design'
import { isContact, isStick } from '../../../core/design/sensors/traits'

const props = defineProps<{ design: Design; sensor: Sensor }>()
const designs = useDesignStore()
/** With what they ask of other boards, which a part leaves out. */
const whole = computed(() => wholeOf(props.design))
const rules = computed(() => whole.value.rules.filter(r => r.sensorId === props.sensor.id))
const own = computed(() => loadsInReach(props.design))
const scenes = computed(() => scenesInReach(props.design))
const worded = computed(() => isContact(props.sensor) || isStick(props.sensor))
const WHENS: Record<Rule['when'], string> = {
  above: 'rises above',
  below: 'falls below',
  moved: 'has moved by',
  is: 'becomes',
}
const set = (rule: Rule, patch: Record<string, unknown>) =>
  designs.apply({ type: 'setRule', ruleId: rule.id, patch })

function add(): void {
  const [load] = own.value
  if (!load) return
  const base = {
    id: 'new',
    name: `${props.sensor.name} rule`,
    sensorId: props.sensor.id,
    atStart: false,
    sets: [{ loadId: load.id, value: fullOf(load.output) }],
    sceneId: null,
  }
  designs.apply({
    type: 'addRule',
    rule: worded.value
      ? { ...base, when: 'is', text: 'open' }
      : { ...base, when: 'above', limit: 30, back: 1 },
  })
}
function setWhen(rule: Rule, when: Rule['when']): void {
  const base = {
    id: rule.id,
    name: rule.name,
    sensorId: rule.sensorId,
    atStart: rule.atStart,
    sets: rule.sets,
    sceneId: rule.sceneId,
  }
  const limit = 'limit' in rule ? rule.limit : 30
  set(
    rule,
    when === 'is'
      ? { ...base, when, text: worded.value ? 'open' : 'broken' }
      : when === 'moved'
        ? { ...base, when, limit }
        : { ...base, when, limit, back: 'back' in rule ? rule.back : 1 },
  )
}
function number(event: Event, take: (value: number) => void): void {
  const input = event.target as HTMLInputElement
  const value = Number(input.value.replace(',', '.'))
  if (input.value.trim() !== '' && Number.isFinite(value)) take(value)
}
function setScene(rule: Rule, id: string): void {
  const [load] = own.value
  if (id !== '') set(rule, { sceneId: id, sets: [] })
  else if (load)
    set(rule, { sceneId: null, sets: [{ loadId: load.id, value: restOf(load.output) }] })
}
function setLoad(rule: Rule, i: number, loadId: string): void {
  set(rule, {
    sets: rule.sets.map((s, j) =>
      j === i ? { loadId, value: restOf(loadOf(whole.value, loadId).output) } : s,
    ),
  })
}
</script>

<template>
  <section>
    <h3 class="title">Rules</h3>
    <p v-if="!rules.length" class="second small">
      The board can act by itself when this reading crosses a limit.
    </p>
    <div v-for="r in rules" :key="r.id" class="rule">
      <InlineText :value="r.name" label="rule" @change="name => set(r, { name })" />
      <div class="line">
        <el-select
          :model-value="r.when"
          size="small"
          class="when"
          aria-label="Condition"
          @change="(w: Rule['when']) => setWhen(r, w)"
          ><el-option v-for="(words, w) in WHENS" :key="w" :value="w" :label="words"
        /></el-select>
        <input
          v-if="r.when === 'is'"
          class="box"
          :value="r.text"
          aria-label="Text of the reading"
          maxlength="16"
          @change="event => set(r, { text: (event.target as HTMLInputElement).value.trim() })"
        />
        <template v-else
          ><input
            class="box"
            :value="r.limit"
            aria-label="Limit"
            inputmode="decimal"
            @change="event => number(event, limit => set(r, { limit }))"
          />
          {{ ' ' }}
          <span class="second">{{ unitOf(sensor) }}</span></template
        >
      </div>
      <div v-if="'back' in r" class="line">
        <span class="second">again once back by</span
        ><input
          class="box"
          :value="r.back"
          aria-label="Hysteresis"
          inputmode="decimal"
          @change="event => number(event, back => set(r, { back }))"
        />
        {{ ' ' }}
        <span class="second">{{ unitOf(sensor) }}</span>
      </div>
      <div v-if="scenes.length" class="line">
        <el-select
          :model-value="r.sceneId ?? ''"
          :empty-values="[null]"
          size="small"
          aria-label="What it sets"
          @change="(id: string) => setScene(r, id)"
          ><el-option value="" label="sets loads" /><el-option
            v-for="s in scenes"
            :key="s.id"
            :value="s.id"
            :label="`scene ${s.name}`"
        /></el-select>
      </div>
      <div v-for="(s, i) in r.sets" :key="i" class="line">
        <el-select
          :model-value="s.loadId"
          size="small"
          aria-label="Load"
          @change="(id: string) => setLoad(r, i, id)"
          ><el-option v-for="l in own" :key="l.id" :value="l.id" :label="l.name"
        /></el-select>
        <el-select
          :model-value="s.value"
          size="small"
          class="value"
          aria-label="Value"
          @change="
            (value: string) =>
              set(r, { sets: r.sets.map((x, j) => (j === i ? { ...x, value } : x)) })
          "
          ><el-option
            v-for="v in valuesOf(loadOf(whole, s.loadId).output)"
            :key="v"
            :value="v"
            :label="valueWords(loadOf(whole, s.loadId).output, v)"
        /></el-select>
        <button
          v-if="r.sets.length > 1"
          type="button"
          class="plain"
          aria-label="Not this load"
          @click="set(r, { sets: r.sets.filter((_, j) => j !== i) })"
        >
          ×
        </button>
      </div>
      <div class="line">
        <el-checkbox
          :model-value="r.atStart"
          size="small"
          @change="v => set(r, { atStart: v === true })"
          >also at a start</el-checkbox
        >
        <button
          v-if="r.sceneId === null && r.sets.length < own.length"
          type="button"
          class="plain under"
          @click="
            set(r, { sets: [...r.sets, { loadId: own[0]!.id, value: restOf(own[0]!.output) }] })
          "
        >
          another load
        </button>
        <button
          type="button"
          class="plain under"
          @click="designs.apply({ type: 'removeRule', ruleId: r.id })"
        >
          remove
        </button>
      </div>
    </div>
    <el-button v-if="own.length && whole.rules.length < 20" size="small" @click="add()">{{
      rules.length ? 'Another rule' : 'A rule'
    }}</el-button>
  </section>
</template>

<style scoped>
section {
  border-top: 1px solid var(--rule);
  margin-top: 14px;
  padding-top: 12px;
}
.rule {
  border-left: 2px solid var(--rule-strong);
  padding: 2px 0 4px 10px;
  margin: 6px 0 10px;
  display: grid;
  gap: 5px;
}
.line {
  display: flex;
  gap: 7px;
  align-items: center;
  flex-wrap: wrap;
}
.box {
  width: 60px;
}
.line :deep(.el-select) {
  width: 128px;
}
.line :deep(.el-select.value) {
  width: 84px;
}
.line :deep(.el-checkbox) {
  margin: 0;
  height: 24px;
}
.under {
  text-decoration: underline;
  min-height: 24px;
  padding: 0 4px;
}
</style>
