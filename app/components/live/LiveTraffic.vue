<script setup lang="ts">
/** What crosses the links, in words, the newest first; filtered, paused, and something said. */
import { linkOf } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import type { TrafficNews } from '../../../core/live/view'
import { upperFirst } from '../../../core/units/format'
import type { LiveState } from '../../composables/live'

const props = defineProps<{ design: Design; live: LiveState }>()
const FILTERS = [
  { id: 'all', name: 'all' },
  { id: 'loads', name: 'loads' },
  { id: 'not understood', name: 'not understood' },
] as const
const SHOWN = 60

const filter = ref<(typeof FILTERS)[number]['id']>('all')
const paused = shallowRef<TrafficNews[] | null>(null)
const connections = computed(() => props.live.view.value.connections)
const nameOf = (id: string) => {
  const c = connections.value.find(x => x.id === id)
  return c ? linkOf(props.design, c.linkId).name : ''
}
const isLost = ({ kind }: TrafficNews) =>
  kind === 'unknown' || kind === 'half' || kind === 'refused'
const lines = computed(() => paused.value ?? props.live.traffic.value)
const counts = computed(() => ({
  all: lines.value.length,
  loads: lines.value.filter(l => l.load >= 0).length,
  'not understood': lines.value.filter(isLost).length,
}))
const shown = computed(() =>
  lines.value
    .filter(l =>
      filter.value === 'all' ? true : filter.value === 'loads' ? l.load >= 0 : isLost(l),
    )
    .slice(-SHOWN)
    .toReversed(),
)
const when = (line: TrafficNews) =>
  preciseTimeWords(new Date(Date.now() - (props.live.now.value - line.atMs)).toISOString())

const to = ref('')
const text = ref('')
const ups = computed(() => connections.value.filter(c => c.up))
const at = computed(() => ups.value.find(c => c.id === to.value) ?? ups.value[0])
async function say(): Promise<void> {
  if (!at.value || !text.value) return
  const done = await props.live.does(at.value.id, { do: 'say', text: text.value })
  if (done) text.value = ''
}
</script>

<template>
  <section class="traffic">
    <div class="bar">
      <h2>Traffic</h2>
      <el-radio-group v-model="filter" size="small" aria-label="Which messages"
        ><el-radio-button v-for="f in FILTERS" :key="f.id" :value="f.id"
          >{{ f.name }} {{ counts[f.id] }}</el-radio-button
        ></el-radio-group
      >
      <el-button
        size="small"
        :aria-pressed="paused !== null"
        @click="paused = paused ? null : live.traffic.value"
        >{{ paused ? 'Go on' : 'Pause' }}</el-button
      >
      <form v-if="at" class="say" @submit.prevent="say">
        <el-select
          v-if="ups.length > 1"
          :model-value="at.id"
          size="small"
          aria-label="Over which link"
          class="over"
          @change="(v: string) => (to = v)"
          ><el-option v-for="c in ups" :key="c.id" :value="c.id" :label="nameOf(c.id)"
        /></el-select>
        <el-input
          v-model="text"
          size="small"
          class="wire"
          placeholder="any text"
          :aria-label="`Say over ${nameOf(at.id)}`"
        />
        <el-button size="small" native-type="submit" :disabled="!text">Say it</el-button>
      </form>
    </div>
    <table v-if="shown.length">
      <tbody>
        <tr v-for="l in shown" :key="`${l.connection} ${l.n}`" :class="{ lost: isLost(l) }">
          <td class="wire at">{{ when(l) }}</td>
          <td class="link second">
            <span :aria-label="l.way === 'up' ? 'to the board' : 'from the board'">{{
              l.way === 'up' ? '→' : '←'
            }}</span>
            {{ nameOf(l.connection) }}
          </td>
          <td class="wire text">{{ l.text }}</td>
          <td>{{ upperFirst(l.words) }}</td>
          <td class="second number">{{ l.afterMs === null ? '' : `after ${l.afterMs} ms` }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else class="second">
      {{
        lines.length
          ? 'None of this kind.'
          : 'Nothing crossed yet: what is connected is asked for its state at once.'
      }}
    </p>
  </section>
</template>

<style scoped>
.traffic {
  padding: 8px 20px 20px;
}
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  margin-bottom: 6px;
}
.say {
  display: flex;
  gap: 6px;
  margin-left: auto;
  width: 330px;
}
.over {
  width: 150px;
  flex: none;
}
table {
  width: 100%;
  border-collapse: collapse;
}
td {
  padding: 5px 12px 5px 0;
  border-bottom: 1px solid var(--rule);
  vertical-align: top;
}
.at {
  white-space: nowrap;
  width: 116px;
}
.link {
  white-space: nowrap;
}
.text {
  overflow-wrap: anywhere;
  max-width: 220px;
}
.lost {
  background: var(--differs-ground);
}
@media (max-width: 900px) {
  .say {
    margin-left: 0;
    width: 100%;
  }
  .link {
    white-space: normal;
  }
}
</style>
