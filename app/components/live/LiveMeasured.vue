<script setup lang="ts">
/** Times of one link: measured beside designed, and taken over into the design by one press. */
import { isDatagram } from '../../../core/design/links/traits'
import type { Link } from '../../../core/design/schema'
import { ENOUGH, fitted } from '../../../core/live/delays'
import type { ConnectionView } from '../../../core/live/view'
import { count, plural } from '../../../core/units/format'
import type { LiveState } from '../../composables/live'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ link: Link; connection: ConnectionView; live: LiveState }>()
const designs = useDesignStore()
const { take } = useMeasuredRecord()

const TIMES = 200
const measured = computed(() => props.connection.measured)
const asked = computed(() => (measured.value ? measured.value.count + measured.value.lost : 0))
const perMille = (share: number) => `${Math.round(share * 10_000) / 10} ‰`
const designedLoss = computed(() =>
  isDatagram(props.link) ? 1 - (1 - props.link.timing.lossPerMille / 1000) ** 2 : 0,
)
const rows = computed(() => {
  const m = measured.value
  const d = props.connection.designed
  return [
    { name: 'least', of: m && m.count ? `${m.leastMs} ms` : '', design: `${d.leastMs} ms` },
    { name: 'typical', of: m && m.count ? `${m.typicalMs} ms` : '', design: `${d.typicalMs} ms` },
    { name: '99th percentile', of: m && m.count ? `${m.p99Ms} ms` : '', design: `${d.p99Ms} ms` },
    {
      name: 'lost',
      of: m ? perMille(m.lost / Math.max(1, asked.value)) : '',
      design: perMille(designedLoss.value),
    },
  ]
})
const timing = computed(() =>
  measured.value && measured.value.count
    ? fitted(props.link.timing, measured.value, props.connection.wireMs, isDatagram(props.link))
    : null,
)
const differs = computed(
  () => timing.value && JSON.stringify(timing.value) !== JSON.stringify(props.link.timing),
)
async function takeOver(): Promise<void> {
  if (!timing.value || !measured.value) return
  const { minMs, typicalMs, p99Ms, lossPerMille } = timing.value
  designs.apply({
    type: 'setLink',
    linkId: props.link.id,
    patch: { timing: { ...props.link.timing, minMs, typicalMs, p99Ms, lossPerMille } },
  })
  await take(props.link, props.connection.where, measured.value)
}
</script>

<template>
  <section>
    <h2>{{ link.name }}</h2>
    <p class="second small">
      There and back, {{ count(measured?.count ?? 0) }} answers<template
        v-if="connection.outagesMs.length"
        >; lost {{ plural(connection.outagesMs.length, 'time') }}, back after
        {{ (connection.outagesMs.at(-1)! / 1000).toFixed(1) }} s</template
      >
    </p>
    <LiveDelays
      v-if="connection.bars.length"
      :bars="connection.bars"
      :designed="connection.designed"
    />
    <table class="ruled times">
      <thead>
        <tr>
          <th scope="col"></th>
          <th scope="col" class="number">measured</th>
          <th scope="col" class="number">designed</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.name">
          <td>{{ r.name }}</td>
          <td class="number wire">{{ r.of || '–' }}</td>
          <td class="number wire">{{ r.design }}</td>
        </tr>
      </tbody>
    </table>
    <p class="keys">
      <el-button
        v-if="connection.measuring"
        size="small"
        @click="live.does(connection.id, { do: 'measure', times: 0 })"
        >Enough: {{ connection.measuring }} to come</el-button
      >
      <el-button
        v-else
        size="small"
        :disabled="!connection.up"
        @click="live.does(connection.id, { do: 'measure', times: TIMES })"
        >Ask {{ TIMES }} times</el-button
      >
      <el-button v-if="differs" size="small" type="primary" @click="takeOver"
        >Take these over</el-button
      >
    </p>
    <p v-if="measured && measured.count < ENOUGH" class="second small">
      Of fewer than {{ ENOUGH }} answers the 99th percentile says little. Asking for the state
      switches nothing.
    </p>
    <p v-else-if="differs && timing" class="second small">
      One way: {{ timing.minMs }}, {{ timing.typicalMs }}, {{ timing.p99Ms }} ms; both ways are
      taken for alike.
    </p>
  </section>
</template>

<style scoped>
.times {
  margin: 4px 0;
}
.times th,
.times td {
  padding: 5px 0;
}
.keys {
  margin: 8px 0 4px;
}
</style>
