<script setup lang="ts">
/** Beside live panels: the wall controls and lamps of the bench, so that both can be watched. */
import { readingText, restingRaw } from '../../../core/controller/readings'
import { hasReading, readingWords } from '../../../core/design/items'
import type { Design, Load, Sensor } from '../../../core/design/schema'
import { restOf, valueWords } from '../../../core/design/values'
import { isLit } from '../../../core/panels/words'
import { useBenchStore } from '../../stores/bench'

const props = defineProps<{ design: Design }>()
const bench = useBenchStore()
const controls = computed(() =>
  props.design.surfaces.flatMap(s => (s.kind === 'hand' ? s.controls : [])),
)
const value = (load: Load) => (void bench.tick, bench.bench?.value(load.id) ?? restOf(load.output))

const sensors = computed(() => props.design.sensors.filter(hasReading))
const rawOf = (s: Sensor) => (void bench.tick, bench.bench?.raw(s.id) ?? restingRaw(s))
const given = (s: Sensor) => readingWords(s, readingText(s, rawOf(s)))
function sense(s: Sensor, raw: number[]): void {
  bench.act({ do: 'sense', sensorId: s.id, raw })
  bench.run()
}

onMounted(() => bench.run())
</script>

<template>
  <aside class="lamps">
    <h2>The room</h2>
    <table class="ruled">
      <tbody>
        <tr v-for="load in design.loads" :key="load.id">
          <th scope="row">{{ load.name }}</th>
          <td :data-on="isLit(load.output, value(load))">
            {{ isLit(load.output, value(load)) ? '●' : '○' }}
            {{ valueWords(load.output, value(load)) }}
          </td>
          <td>
            <WallControl
              v-for="c in controls.filter(x => x.loadId === load.id)"
              :key="c.id"
              class="wall"
              :load="load"
              :control="c"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <table v-if="sensors.length" class="ruled">
      <tbody>
        <tr v-for="s in sensors" :key="s.id">
          <th scope="row">
            {{ s.name }}<br /><span class="second">{{ given(s) }}</span>
          </th>
          <td><WorldKnob :sensor="s" :raw="rawOf(s)" @change="raw => sense(s, raw)" /></td>
        </tr>
      </tbody>
    </table>
    <p class="second small">
      Same run as on the <NuxtLink :to="`/d/${design.id}/bench`">bench</NuxtLink>.
    </p>
  </aside>
</template>

<style scoped>
.lamps {
  width: 288px;
  flex: none;
  border-right: 1px solid var(--rule-strong);
  padding: 14px 16px 20px 20px;
  overflow: auto;
  display: grid;
  grid-auto-rows: max-content;
  gap: 8px;
  align-content: start;
}
td {
  white-space: nowrap;
}
.wall {
  min-height: 30px;
  border: 1px solid var(--ink);
  border-radius: 3px;
  background: var(--raised);
  color: var(--ink);
  padding: 2px 10px;
  cursor: pointer;
}
.wall + .wall {
  margin-left: 4px;
}
</style>
