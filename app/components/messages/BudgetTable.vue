<script setup lang="ts">
/**
 * From finger to key: where the time of each load's command goes, and how old what the panel shows
 * can be.
 */
import { maybeFarSurfaceOn } from '../../../core/design/find'
import type { Design, Link } from '../../../core/design/schema'
import { budgetOf, pollingLoad } from '../../../core/links/budget'
import { reach } from '../../../core/links/reach'
import { seconds } from '../../../core/units/format'

const props = defineProps<{ design: Design; link: Link }>()
const panel = computed(() => maybeFarSurfaceOn(props.design, props.link.id))
const rows = computed(() =>
  panel.value
    ? props.design.loads.flatMap(load => {
        const budget = budgetOf(props.design, panel.value!, load.id)
        return budget ? [{ load, budget }] : []
      })
    : [],
)
const longest = computed(() => Math.max(1, ...rows.value.map(r => r.budget.worstMs)))
const polling = computed(() => pollingLoad(props.design))
const places = computed(() => reach(props.design).filter(r => r.surfaceId === panel.value?.id))
const WORKS = { yes: 'in step', sometimes: 'unsure', no: 'stale' } as const
</script>

<template>
  <div v-if="panel" class="budget">
    <h2>From finger to key</h2>
    <table v-if="rows.length" class="ruled">
      <thead>
        <tr>
          <th>Load</th>
          <th>Worst case, part by part</th>
          <th class="number">Typical</th>
          <th class="number">Worst</th>
          <th class="number">Change elsewhere known within</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ load, budget } in rows" :key="load.id">
          <th scope="row">{{ load.name }}</th>
          <td>
            <div
              class="track"
              role="img"
              :aria-label="
                budget.parts.map(p => `${p.words} ${p.worstMs.toFixed(1)} ms`).join(', ')
              "
            >
              <i
                v-for="(p, i) in budget.parts"
                :key="i"
                :class="i % 2 ? 'latency' : 'wired'"
                :style="{ width: `${(p.worstMs / longest) * 100}%` }"
                :title="`${p.words}: ${p.worstMs.toFixed(1)} ms. ${p.reason}`"
              />
            </div>
          </td>
          <td class="number">{{ budget.typicalMs.toFixed(0) }} ms</td>
          <td class="number">{{ budget.worstMs.toFixed(0) }} ms</td>
          <td class="number" :class="{ differs: budget.staleMs === null }">
            {{ budget.staleMs === null ? 'never' : seconds(Math.round(budget.staleMs)) }}
          </td>
        </tr>
      </tbody>
    </table>
    <p class="second small">
      <i class="key wired" /> on the wire <i class="key latency" /> latency of the link, there and
      back. Rest on a part for its reckoning; the latencies are the link's own, on the
      sheet.<template v-if="polling">
        Asking for the state costs the board {{ polling.requestsPerSecond.toFixed(1) }} requests and
        {{ polling.bytesPerSecond.toFixed(0) }} bytes a second: {{ polling.reason }}.</template
      >
    </p>
    <h2>Where {{ panel.name }} works</h2>
    <table class="ruled places">
      <tbody>
        <tr v-for="r in places" :key="r.from">
          <th scope="row"><StateGlyph :state="WORKS[r.works]" /> {{ r.from }}</th>
          <td>
            {{ r.works }}: {{ r.why
            }}<template v-if="r.instead"
              >. <span class="second">Instead: {{ r.instead }}.</span></template
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.budget {
  padding: 0 20px 24px;
}
.budget h2 {
  margin: 10px 0 4px;
}
.track {
  display: flex;
  height: 12px;
  width: 100%;
  min-width: 120px;
  border: 1px solid var(--rule-strong);
}
.track i {
  display: block;
  min-width: 1px;
}
.wired {
  background: var(--ink);
}
.latency {
  background: repeating-linear-gradient(135deg, var(--second) 0 2px, transparent 2px 5px);
  border-right: 1px solid var(--ink);
}
.key {
  display: inline-block;
  width: 18px;
  height: 9px;
  border: 1px solid var(--ink);
}
.ruled td,
.ruled tbody th {
  padding-top: 5px !important;
  padding-bottom: 5px !important;
  vertical-align: middle !important;
}
.places th {
  white-space: nowrap;
  width: 1%;
  padding-right: 18px !important;
}
p {
  margin: 6px 0;
}
</style>
