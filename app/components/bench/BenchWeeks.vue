<script setup lang="ts">
/**
 * Weeks of use, played in a worker: how often people press, how often something fails; the same
 * figures a day, with their intervals.
 */
import { newProfile, type ProfileReport, type UseProfile } from '../../../core/bench/profile'
import { loadOf, surfaceOf } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import type { Estimate } from '../../../core/units/student'
import { count, seconds } from '../../../core/units/format'
import { useBenchStore } from '../../stores/bench'

const props = defineProps<{ design: Design }>()
const bench = useBenchStore()
const profile = ref<UseProfile>(newProfile(props.design))
watch(
  () => props.design,
  design => {
    profile.value = {
      ...profile.value,
      pressesADay: { ...newProfile(design).pressesADay, ...profile.value.pressesADay },
    }
  },
)
const report = shallowRef<ProfileReport | null>(null)
const days = ref<number | null>(null)
const took = ref(0)
const trouble = ref('')

async function run(): Promise<void> {
  days.value = 0
  trouble.value = ''
  const since = performance.now()
  try {
    const known = new Set(props.design.surfaces.map(s => s.id))
    const asked = {
      ...toRaw(profile.value),
      seed: bench.seed,
      pressesADay: Object.fromEntries(
        Object.entries(toRaw(profile.value).pressesADay).filter(([id]) => known.has(id)),
      ),
    }
    const found = await coreWorker('weeks').weeks(toRaw(props.design), asked, n => {
      days.value = n
    })
    if (found) report.value = found
    took.value = performance.now() - since
  } catch (error) {
    trouble.value = (error as Error).message
  }
  days.value = null
}
const stop = () => coreWorker('weeks').stop()
onBeforeUnmount(() => {
  if (days.value !== null) void stop()
})
const name = (id: string) => surfaceOf(props.design, id).name
/** A mean with its interval: "12 ± 3". */
const give = (e: Estimate, unit = '') =>
  `${short(e.mean)}${e.plusMinus === null || e.mean === 0 ? '' : ` ± ${short(e.plusMinus)}`}${unit}`
/** The same in time: "11 h 46 min ± 2 h". */
const spell = (e: Estimate) =>
  e.mean === 0
    ? 'never'
    : `${seconds(e.mean * 1000)}${e.plusMinus === null ? '' : ` ± ${seconds(e.plusMinus * 1000)}`}`
const short = (n: number) =>
  n === 0 ? '0' : n >= 100 ? count(n) : String(Number(n.toPrecision(2)))
const between = (low: number | null, high: number | null) =>
  low === null || high === null ? '' : `${seconds(low)} to ${seconds(high)}`
</script>

<template>
  <div>
    <h2>Weeks of use</h2>
    <p class="second">
      How this design does in daily life, not on one evening. Days are played in the background;
      nothing here disturbs the run beside it.
    </p>
    <dl class="facts">
      <dt>How long</dt>
      <dd>
        <NumberField
          :value="profile.days"
          unit="days"
          label="How long"
          :min="2"
          :max="60"
          @change="profile.days = $event"
        />
      </dd>
      <template v-for="s in design.surfaces" :key="s.id"
        ><dt>{{ s.name }}</dt>
        <dd>
          <NumberField
            :value="profile.pressesADay[s.id] ?? 0"
            unit="a day"
            :label="`Presses on ${s.name}`"
            :max="2000"
            @change="profile.pressesADay[s.id] = $event"
          /></dd
      ></template>
      <dt title="Each link, so often">Out of reach</dt>
      <dd>
        <NumberField
          :value="profile.outagesAWeek"
          unit="a week"
          label="Out of reach"
          :max="100"
          @change="profile.outagesAWeek = $event"
        />
      </dd>
      <dt>each for</dt>
      <dd>
        <NumberField
          :value="profile.outageMinutes"
          unit="min"
          label="Out of reach for"
          :min="1"
          :max="600"
          @change="profile.outageMinutes = $event"
        />
      </dd>
      <dt>Power cuts</dt>
      <dd>
        <NumberField
          :value="profile.powerCutsAMonth"
          unit="a month"
          label="Power cuts"
          :max="100"
          @change="profile.powerCutsAMonth = $event"
        />
      </dd>
      <dt>each for</dt>
      <dd>
        <NumberField
          :value="profile.powerCutMinutes"
          unit="min"
          label="Power cuts of"
          :min="1"
          :max="600"
          @change="profile.powerCutMinutes = $event"
        />
      </dd>
    </dl>
    <el-checkbox v-model="profile.bounce">contacts bounce</el-checkbox>
    <div class="row">
      <el-button type="primary" :disabled="days !== null" @click="run()"
        >Play {{ profile.days }} days</el-button
      >
      <template v-if="days !== null"
        ><el-progress
          :percentage="Math.round((days / profile.days) * 100)"
          class="bar"
          :show-text="false"
        /><span class="second small">day {{ days }}</span
        ><el-button size="small" @click="stop()">stop</el-button></template
      >
    </div>
    <p v-if="trouble" class="differs small" role="alert">{{ trouble }}</p>
    <template v-if="report">
      <p class="second small" role="status">
        {{ report.days }} days, {{ count(report.events) }} events in {{ seconds(took) }}. Figures
        are means a day; ± is the 95 % interval over the days.
      </p>
      <section v-for="s in report.surfaces" :key="s.surfaceId">
        <h3 class="title">{{ name(s.surfaceId) }}</h3>
        <dl class="facts">
          <dt>Shows a load wrongly</dt>
          <dd class="wire" :class="{ differs: s.wrongSecondsADay.mean > 0 }">
            {{ spell(s.wrongSecondsADay) }}
          </dd>
          <dt>at one time, longest</dt>
          <dd class="wire">{{ seconds(s.longestWrongMs) }}</dd>
          <dt>Unsure</dt>
          <dd class="wire">{{ spell(s.unsureSecondsADay) }}</dd>
          <dt>Commands</dt>
          <dd class="wire">{{ give(s.pressesADay) }}</dd>
          <dt>never acted</dt>
          <dd class="wire" :class="{ differs: s.missedADay.mean > 0 }">{{ give(s.missedADay) }}</dd>
          <dt>acted twice</dt>
          <dd class="wire" :class="{ differs: s.doubledADay.mean > 0 }">
            {{ give(s.doubledADay) }}
          </dd>
          <dt :title="`Of ${count(s.delays.count)} changes`">Shown within: half</dt>
          <dd class="wire">
            {{ s.delays.medianMs === null ? 'none' : seconds(s.delays.medianMs) }}
          </dd>
          <dt>95 %</dt>
          <dd class="wire" :title="between(s.delays.p95.low, s.delays.p95.high)">
            {{ s.delays.p95.ms === null ? 'none' : seconds(s.delays.p95.ms) }}
          </dd>
          <template v-if="between(s.delays.p95.low, s.delays.p95.high)"
            ><dt class="second">its 95 % interval</dt>
            <dd class="wire second">
              {{ between(s.delays.p95.low, s.delays.p95.high) }}
            </dd></template
          >
          <dt>99 %</dt>
          <dd class="wire" :title="between(s.delays.p99.low, s.delays.p99.high)">
            {{ s.delays.p99.ms === null ? 'none' : seconds(s.delays.p99.ms) }}
          </dd>
        </dl>
      </section>
      <section>
        <h3 class="title">Until a change is shown</h3>
        <ClientOnly
          ><DelayChart
            :series="report.surfaces.map(s => ({ name: name(s.surfaceId), bars: s.bars }))"
        /></ClientOnly>
      </section>
      <section>
        <h3 class="title">Relays, memory, links: a day</h3>
        <dl class="facts">
          <template v-for="l in report.loads" :key="l.loadId"
            ><dt>{{ loadOf(design, l.loadId).name }}</dt>
            <dd class="wire">{{ give(l.cyclesADay, ' cycles') }}</dd></template
          >
          <dt>Memory</dt>
          <dd class="wire">{{ give(report.memoryWritesADay, ' writes') }}</dd>
          <template v-for="l in report.links" :key="l.linkId"
            ><dt>{{ design.links.find(x => x.id === l.linkId)?.name }}</dt>
            <dd class="wire">{{ give(l.messagesADay, ' messages') }}</dd></template
          >
        </dl>
      </section>
    </template>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 10px 0;
}
.row :deep(.el-button) {
  margin: 0;
}
.bar {
  flex: 1;
}
.facts {
  margin: 10px 0 6px;
}
dd.wire {
  font-size: 13px;
}
</style>
