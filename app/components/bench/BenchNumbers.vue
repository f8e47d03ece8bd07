<script setup lang="ts">
/** The figures of the run on the time line: by surface and load, by link, by relay. */
import { refThrottled } from '@vueuse/core'
import { delayFigures } from '../../../core/bench/profile'
import { traceCsv, traceVcd } from '../../../core/bench/export'
import { linkOf, maybeMessage, farSurfaces } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import { count, seconds } from '../../../core/units/format'
import { useBenchStore } from '../../stores/bench'
import { handOver } from '../../composables/save-file'

const props = defineProps<{ design: Design }>()
const bench = useBenchStore()
const slow = refThrottled(
  toRef(() => bench.tick),
  500,
)
const run = computed(() => (void slow.value, bench.bench))
const now = computed(() => (void slow.value, bench.bench?.now ?? 0))
const surfaces = computed(
  () => (
    void slow.value,
    farSurfaces(props.design).map((s, i) => {
      const figures = run.value?.figures
      const commands = figures?.commands[i]
      return {
        id: s.id,
        name: s.name,
        pressed: commands?.pressed ?? 0,
        missed: run.value?.missed(s.id) ?? 0,
        doubled: commands?.doubled ?? 0,
        loads: props.design.loads.flatMap((l, load) => {
          const cell = figures?.cells[i]?.[load]
          if (!cell || !maybeMessage(linkOf(props.design, s.linkId), l.id)) return []
          const delays = delayFigures(cell.delays)
          return [
            {
              id: l.id,
              name: l.name,
              wrong: figures.wrongMs(i, load, now.value),
              longest: figures.longestWrongMs(i, load, now.value),
              median: delays.medianMs,
              p95: delays.p95.ms,
            },
          ]
        }),
      }
    })
  ),
)
const links = computed(
  () => (
    void slow.value,
    props.design.links.map((l, i) => ({
      name: l.name,
      id: l.id,
      dropped: run.value?.linkState(l.id).dropped ?? 0,
      ...(run.value?.figures.traffic[i] ?? { up: NONE, down: NONE, refused: 0 }),
    }))
  ),
)
const NONE = { messages: 0, bytes: 0, lost: 0 }
const loads = computed(
  () => (
    void slow.value,
    props.design.loads.map((l, i) => ({
      id: l.id,
      name: l.name,
      cycles: run.value?.figures.cycles[i] ?? 0,
    }))
  ),
)
const bars = computed(
  () => (
    void slow.value,
    farSurfaces(props.design).map((s, i) => ({
      name: s.name,
      bars: run.value?.figures.cells[i]?.flatMap(c => c.delays.bars()) ?? [],
    }))
  ),
)
const ms = (n: number | null) => (n === null ? 'none' : seconds(n))
function save(kind: 'vcd' | 'csv'): void {
  const current = bench.bench
  if (!current) return
  if (kind === 'vcd')
    handOver(
      `${props.design.id}-bench.vcd`,
      traceVcd(props.design, current.trace, current.now),
      'text/plain',
    )
  else handOver(`${props.design.id}-bench.csv`, traceCsv(props.design, current.trace), 'text/csv')
}
</script>

<template>
  <div>
    <h2>This run, {{ seconds(now) }}</h2>
    <section v-for="s in surfaces" :key="s.id">
      <h3 class="title">{{ s.name }}</h3>
      <p class="second small">
        {{ count(s.pressed) }} commands; {{ count(s.missed) }} never acted,
        {{ count(s.doubled) }} acted twice
      </p>
      <table class="ruled small">
        <thead>
          <tr>
            <th scope="col">load</th>
            <th scope="col" class="number">wrong</th>
            <th scope="col" class="number">longest</th>
            <th
              scope="col"
              class="number"
              title="From a change until it is shown: half of them take this long at most"
            >
              half by
            </th>
            <th scope="col" class="number">95 % by</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in s.loads" :key="l.id" :class="{ here: l.id === bench.loadId }">
            <th scope="row">
              <button type="button" class="plain" @click="bench.loadId = l.id">{{ l.name }}</button>
            </th>
            <td class="number" :class="{ differs: l.wrong > 0 }">{{ seconds(l.wrong) }}</td>
            <td class="number">{{ seconds(l.longest) }}</td>
            <td class="number">{{ ms(l.median) }}</td>
            <td class="number">{{ ms(l.p95) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <section>
      <h3 class="title">Until a change is shown</h3>
      <ClientOnly><DelayChart :series="bars" /></ClientOnly>
    </section>
    <section>
      <h3 class="title">Links</h3>
      <table class="ruled small">
        <thead>
          <tr>
            <th scope="col">link</th>
            <th scope="col" class="number">to board</th>
            <th scope="col" class="number">from board</th>
            <th scope="col" class="number">lost</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in links" :key="l.id">
            <th scope="row">{{ l.name }}</th>
            <td class="number">
              {{ count(l.up.messages) }}<br /><span class="second">{{ count(l.up.bytes) }} B</span>
            </td>
            <td class="number">
              {{ count(l.down.messages) }}<br /><span class="second"
                >{{ count(l.down.bytes) }} B</span
              >
            </td>
            <td class="number">
              {{ count(l.up.lost + l.down.lost)
              }}<template v-if="l.dropped"
                ><br /><span class="second">{{ count(l.dropped) }} given up</span></template
              >
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <section>
      <h3 class="title">Relays and memory</h3>
      <dl class="facts">
        <template v-for="l in loads" :key="l.id"
          ><dt>{{ l.name }}</dt>
          <dd class="wire">{{ count(l.cycles) }} cycles</dd></template
        >
        <dt>Memory</dt>
        <dd class="wire">{{ count(run?.figures.memoryWrites ?? 0) }} writes</dd>
      </dl>
    </section>
    <section class="save">
      <el-button
        size="small"
        title="Value change dump, IEEE 1364: for any wave viewer"
        @click="save('vcd')"
        >Save as VCD</el-button
      >
      <el-button
        size="small"
        title="Every change, message and action as a table"
        @click="save('csv')"
        >Save as CSV</el-button
      >
    </section>
  </div>
</template>

<style scoped>
table.ruled.small td,
table.ruled.small th {
  padding: 5px 8px 5px 0;
}
table.ruled.small .number:last-child {
  padding-right: 0;
}
h3 {
  margin-bottom: 4px;
}
.here th {
  text-decoration: underline;
  text-decoration-color: var(--cursor);
  text-underline-offset: 3px;
}
.save :deep(.el-button) {
  margin: 0 6px 0 0;
}
</style>
