<script setup lang="ts">
/** What the world does to the board beside switches: sensors, knobs with detents, a remote. */
import { readingText } from '../../../core/controller/readings'
import { hasReading, readingWords } from '../../../core/design/items'
import { loadOf } from '../../../core/design/find'
import type { Design, Sensor } from '../../../core/design/schema'
import { targetWords } from '../../../core/design/targets'
import { useBenchStore } from '../../stores/bench'
import { rawOf } from '../../../core/controller/sticks'
import { wholeOf } from '../../../core/design/part'
import { sensorsOfBoxes } from '../../../core/design/wired'
import { asksByWay, isKnob, isReceiver } from '../../../core/design/sensors/traits'

const props = defineProps<{ design: Design }>()
const bench = useBenchStore()
/** Those of this board, then those of boxes that speak to it. */
const things = computed(() => [
  ...props.design.sensors.map(sensor => ({ sensor, whose: '' })),
  ...sensorsOfBoxes(props.design).map(({ sensor, box }) => ({ sensor, whose: `${box.name}: ` })),
])
const whole = computed(() => wholeOf(props.design))
const SIDES = [
  ['left', '←', 'to the left'],
  ['up', '↑', 'up'],
  ['down', '↓', 'down'],
  ['right', '→', 'to the right'],
] as const
const raw = (s: Sensor) => (void bench.tick, bench.bench?.raw(s.id) ?? [])
const words = (s: Sensor) => readingWords(s, readingText(s, raw(s)))
type Remote = Extract<Sensor, { kind: 'infrared' }>
const keyWords = (s: Remote, i: number) => {
  const key = s.keys[i]
  if (!key) return ''
  const words = targetWords(whole.value, key)
  return 'loadId' in key ? `${loadOf(whole.value, key.loadId).name} ${words}` : words
}
/** One frame: a key that is tapped. */
function down(sensorId: string, key: number): void {
  bench.act({ do: 'remote', sensorId, key, repeats: 0 })
  bench.run()
}
function turn(sensorId: string, detents: number): void {
  bench.act({ do: 'turn', sensorId, detents })
  bench.run()
}
function sense(sensorId: string, value: number[]): void {
  bench.act({ do: 'sense', sensorId, raw: value })
  bench.run()
}
</script>

<template>
  <div class="world">
    <div v-for="{ sensor: s, whose } in things" :key="s.id" class="thing">
      <span class="name"
        >{{ whose }}{{ s.name }}<span v-if="hasReading(s)" class="wire"> {{ words(s) }}</span></span
      >
      <span v-if="isKnob(s)" class="row" @wheel.prevent="turn(s.id, $event.deltaY < 0 ? 1 : -1)">
        <el-button size="small" :aria-label="`${s.name} down`" @click="turn(s.id, -1)">↺</el-button
        ><el-button size="small" :aria-label="`${s.name} up`" @click="turn(s.id, 1)">↻</el-button>
      </span>
      <span v-else-if="isReceiver(s)" class="row">
        <el-button v-for="(_, i) in s.keys" :key="i" size="small" @click="down(s.id, i)">{{
          keyWords(s, i)
        }}</el-button>
        <span v-if="!s.keys.length" class="second small">no keys learnt</span>
      </span>
      <span v-else-if="asksByWay(s)" class="row">
        <HoldKey
          v-for="[side, sign, where] in SIDES"
          :key="side"
          class="side"
          :aria-label="`${s.name}, push ${where}`"
          :title="`push ${where}`"
          @down="sense(s.id, [...rawOf(s, side)])"
          @up="sense(s.id, [...rawOf(s, 'rest')])"
          >{{ sign }}</HoldKey
        >
      </span>
      <WorldKnob v-else :sensor="s" :raw="raw(s)" @change="sense(s.id, $event)" />
    </div>
  </div>
</template>

<style scoped>
.world {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 26px;
  padding: 5px 20px;
  border-bottom: 1px solid var(--rule);
  align-items: center;
  max-height: 118px;
  overflow-y: auto;
}
.thing {
  display: flex;
  gap: 10px;
  align-items: center;
}
.row {
  display: flex;
  gap: 4px;
  flex-wrap: wrap;
}
.row :deep(.el-button) {
  margin: 0;
}
.side {
  min-width: 28px;
  min-height: 26px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--raised);
  color: inherit;
}
.name {
  white-space: nowrap;
}
.name .wire {
  display: inline-block;
  min-width: 62px;
  margin-left: 8px;
}
.thing :deep(.knob) {
  display: flex;
  gap: 4px 12px;
  align-items: center;
}
.thing :deep(.el-checkbox) {
  margin: 0;
  height: 28px;
}
.thing :deep(.el-slider) {
  width: 120px;
}
</style>
