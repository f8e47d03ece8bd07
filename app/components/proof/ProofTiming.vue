<script setup lang="ts">
/**
 * How long surfaces show something else than is so: many short runs, and what each setting of the
 * links is worth.
 */
import {
  NEW_STUDY,
  studyScript,
  type StudyCell,
  type StudyPlan,
  type StudyReport,
} from '../../../core/bench/study'
import type { Edit } from '../../../core/design/edits/edits'
import { loadOf, surfaceOf } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import { variantsOf, type Variant } from '../../../core/checks/study-variants'
import { count, seconds } from '../../../core/units/format'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design }>()
const designs = useDesignStore()
const { playScript } = useFixing()
const runs = ref(NEW_STUDY.runs)
const away = ref(false)
const seed = ref(1)
const loadId = ref(props.design.loads[0]?.id ?? '')
const done = ref<number | null>(null)
const doing = ref('')
const trouble = ref('')
const report = shallowRef<{ report: StudyReport; design: Design } | null>(null)
const effects = shallowRef<
  { variant: Variant; p95Ms: number | null; worstMs: number; never: number }[]
>([])
const took = ref(0)

// Each board is studied for itself: only its own surfaces have to do with it.
const part = computed(
  () =>
    designs.parts.find(p => p.part.loads.some(l => l.id === loadId.value))?.part ?? props.design,
)
const plan = computed(() => ({ runs: runs.value, seed: seed.value, away: away.value ? 0.3 : 0 }))
/** Runs of the first look, which nobody has to ask for. */
const FEW = 200
async function study(most = runs.value): Promise<void> {
  const since = performance.now()
  doing.value = ''
  done.value = 0
  effects.value = []
  const found = await studied({ ...plan.value, runs: most }, null)
  done.value = null
  if (!found) return
  took.value = performance.now() - since
  report.value = { report: found, design: part.value }
}
/** Null when stopped, and when it fell over: why stands in `trouble` then. */
const studied = (of: StudyPlan, edit: Edit | null): Promise<StudyReport | null> =>
  told(trouble, () =>
    coreWorker('weeks').study(toRaw(props.design), loadId.value, of, edit, n => {
      done.value = n
    }),
  )
async function tryVariants(): Promise<void> {
  const design = toRaw(part.value)
  const few = { ...plan.value, runs: Math.min(400, runs.value) }
  effects.value = []
  for (const variant of variantsOf(design)) {
    doing.value = `${surfaceOf(design, variant.surfaceId).name} ${variant.words}`
    done.value = 0
    const found = await studied(few, variant.edit)
    if (!found) break
    const cell = found.cells.find(
      c => c.surfaceId === variant.surfaceId && c.loadId === loadId.value,
    )
    if (cell)
      effects.value = [
        ...effects.value,
        { variant, p95Ms: cell.p95Ms, worstMs: cell.worstMs, never: cell.never },
      ]
  }
  done.value = null
}
onMounted(() => {
  if (loadId.value) void study(FEW)
})
const stop = () => coreWorker('weeks').stop()
onBeforeUnmount(() => {
  if (done.value !== null) void stop()
})
const current = computed(() => (report.value?.design === part.value ? report.value.report : null))
const cells = computed(() => current.value?.cells.filter(c => c.loadId === loadId.value) ?? [])
const give = (ms: number | null) =>
  ms === null ? 'none' : ms < 1000 ? `${Math.round(ms)} ms` : seconds(Math.round(ms))
const cellOf = (surfaceId: string) => cells.value.find(c => c.surfaceId === surfaceId)
async function playWorst(cell: StudyCell): Promise<void> {
  const script = studyScript(part.value, cell.worstSeed, plan.value.away)
  await playScript(
    script,
    `${surfaceOf(props.design, cell.surfaceId).name} at its slowest: ${give(cell.worstMs)}`,
    cell.loadId,
  )
}
</script>

<template>
  <section>
    <h2>How long surfaces disagree</h2>
    <p class="second small">
      Each run has a seed of its own: every load is changed once by somebody, somewhere, and it is
      counted from there until a surface shows what is so without doubt.
    </p>
    <div class="row">
      <el-select v-model="loadId" class="load" aria-label="Load"
        ><el-option v-for="l in design.loads" :key="l.id" :value="l.id" :label="l.name"
      /></el-select>
      <NumberField
        :value="runs"
        unit="runs"
        label="Runs"
        :min="100"
        :max="20000"
        @change="runs = $event"
      />
      <NumberField
        :value="seed"
        unit="seed"
        label="Seed"
        :min="1"
        :max="999999"
        @change="seed = $event"
      />
      <el-checkbox v-model="away">links out of reach in a third of them</el-checkbox>
      <el-button type="primary" :disabled="done !== null || !design.loads.length" @click="study()"
        >Run them</el-button
      >
      <template v-if="done !== null"
        ><span class="second small" role="status">{{ doing }} {{ count(done) }} done</span
        ><el-button size="small" @click="stop()">stop</el-button></template
      >
    </div>
    <p v-if="trouble" class="differs small" role="alert">{{ trouble }}</p>
    <template v-if="current">
      <table class="ruled">
        <thead>
          <tr>
            <th scope="col">{{ loadOf(part, loadId).name }} on</th>
            <th class="number">changes</th>
            <th class="number">half within</th>
            <th class="number">95 % within</th>
            <th class="number">99 % within</th>
            <th class="number">longest</th>
            <th class="number">never in the run</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in cells" :key="c.surfaceId">
            <th scope="row">{{ surfaceOf(design, c.surfaceId).name }}</th>
            <td class="number wire">{{ count(c.count) }}</td>
            <td class="number wire">{{ give(c.medianMs) }}</td>
            <td class="number wire">{{ give(c.p95Ms) }}</td>
            <td class="number wire">{{ give(c.p99Ms) }}</td>
            <td class="number wire">{{ give(c.worstMs) }}</td>
            <td class="number wire" :class="{ differs: c.never }">
              {{ c.never ? count(c.never) : '–' }}
            </td>
            <td class="number">
              <el-button size="small" :disabled="!c.count" @click="playWorst(c)"
                >Play the longest</el-button
              >
            </td>
          </tr>
        </tbody>
      </table>
      <p class="second small">
        {{ count(current.runs) }} runs, {{ count(current.events) }} events in {{ seconds(took) }}.
        Percentiles are at most 2 % too high: durations are counted in cells of that width.
      </p>
      <div class="pair">
        <div>
          <h3 class="title">Share of changes shown by then</h3>
          <ClientOnly
            ><DelayChart
              :series="
                cells.map(c => ({ name: surfaceOf(design, c.surfaceId).name, bars: c.bars }))
              "
          /></ClientOnly>
        </div>
        <div>
          <h3 class="title">What each setting is worth</h3>
          <el-button
            v-if="!effects.length"
            size="small"
            :disabled="done !== null"
            @click="tryVariants()"
            >Try each setting otherwise</el-button
          >
          <table v-else class="ruled small">
            <thead>
              <tr>
                <th scope="col">{{ loadOf(part, loadId).name }}, one setting otherwise</th>
                <th class="number">95 % within</th>
                <th class="number">now</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="e in effects" :key="e.variant.surfaceId + e.variant.words">
                <td>{{ surfaceOf(design, e.variant.surfaceId).name }} {{ e.variant.words }}</td>
                <td class="number wire" :class="{ differs: e.never }">
                  {{ e.never ? `${count(e.never)} never` : give(e.p95Ms) }}
                </td>
                <td class="number wire second">
                  {{
                    cellOf(e.variant.surfaceId)?.never
                      ? `${count(cellOf(e.variant.surfaceId)!.never)} never`
                      : give(cellOf(e.variant.surfaceId)?.p95Ms ?? null)
                  }}
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </div>
    </template>
    <p v-else-if="report" class="second">The design has changed since: run them again.</p>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 14px;
  align-items: center;
  margin: 10px 0 14px;
}
.row :deep(.el-button) {
  margin: 0;
}
.load {
  width: 180px;
}
.pair {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 28px;
  margin-top: 16px;
}
p {
  margin: 5px 0;
}
</style>
