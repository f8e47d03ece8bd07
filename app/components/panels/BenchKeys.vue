<script setup lang="ts">
/** Beside live panels: the wall controls and lamps of the bench, so that both can be watched. */
import type { Design, Load } from '../../../core/design/schema'
import { restOf, valueWords } from '../../../core/design/values'
import { isLit } from '../../../core/panels/words'
import { useBenchStore } from '../../stores/bench'

const props = defineProps<{ design: Design }>()
const bench = useBenchStore()
const controls = computed(() => props.design.surfaces.flatMap(s => s.kind === 'hand' ? s.controls : []))
const value = (load: Load) => (void bench.tick, bench.bench?.value(load.id) ?? restOf(load.output))

onMounted(() => bench.run())
</script>

<template>
  <aside class="lamps">
    <h2>The room</h2>
    <table class="ruled">
      <tbody>
        <tr v-for="load in design.loads" :key="load.id">
          <th scope="row">{{ load.name }}</th><td :data-on="isLit(load.output, value(load))">{{ isLit(load.output, value(load)) ? '●' : '○' }} {{ valueWords(load.output, value(load)) }}</td>
          <td><WallControl v-for="c in controls.filter(x => x.loadId === load.id)" :key="c.id" class="wall" :load="load" :control="c" /></td>
        </tr>
      </tbody>
    </table>
    <p class="second small">Same run as on the <NuxtLink :to="`/d/${design.id}/bench`">bench</NuxtLink>.</p>
  </aside>
</template>

<style scoped>
.lamps { width: 270px; flex: none; margin-top: 42px; display: grid; gap: 8px; }
td { white-space: nowrap; }
.wall { min-height: 30px; border: 1px solid var(--ink); border-radius: 3px; background: var(--raised); color: var(--ink); padding: 2px 10px; cursor: pointer; }
.wall + .wall { margin-left: 4px; }
</style>
