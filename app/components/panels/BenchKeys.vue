<script setup lang="ts">
/** Beside live panels: the wall controls and lamps of the bench, so that both can be watched. */
import type { Design } from '../../../core/design/schema'
import { useBenchStore } from '../../stores/bench'

const props = defineProps<{ design: Design }>()
const bench = useBenchStore()
const controls = computed(() => props.design.surfaces.flatMap(s => s.kind === 'hand' ? s.controls : []))
const isOn = (loadId: string) => (void bench.tick, bench.bench?.isOn(loadId) === true)

function press(controlId: string): void {
  bench.act({ do: 'press', controlId })
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
          <th scope="row">{{ load.name }}</th><td :data-on="isOn(load.id)">{{ isOn(load.id) ? '● on' : '○ off' }}</td>
          <td><el-button v-for="c in controls.filter(x => x.loadId === load.id)" :key="c.id" size="small" @click="press(c.id)">{{ c.kind === 'push' ? 'press' : 'flip' }}</el-button></td>
        </tr>
      </tbody>
    </table>
    <p class="second small">Same run as on the <NuxtLink :to="`/d/${design.id}/bench`">bench</NuxtLink>.</p>
  </aside>
</template>

<style scoped>
.lamps { width: 270px; flex: none; margin-top: 42px; display: grid; gap: 8px; }
td { white-space: nowrap; }
</style>
