<script setup lang="ts">
/**
 * The usual evenings gone wrong, made for this design: run them all, see which fail, play one, keep
 * the record.
 */
import { drillsFor, runDrill, type Drill, type DrillRecord } from '../../../core/bench/drills'
import { looksAt } from '../../../core/bench/script'
import { loadOf } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import { seconds } from '../../../core/units/format'
import { useBenchStore } from '../../stores/bench'
import { useBenchViewStore } from '../../stores/bench-view'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design }>()
const bench = useBenchStore()
const look = useBenchViewStore()
const designs = useDesignStore()
const everyLoad = ref(false)
const drills = computed<Drill[]>(() =>
  (everyLoad.value ? props.design.loads.map(l => l.id) : [bench.loadId]).flatMap(id =>
    drillsFor(props.design, id, bench.seed),
  ),
)
const results = shallowRef(new Map<string, DrillRecord>())
const running = ref(0)
const isKept = ref(false)
const trouble = ref('')
const key = (d: { id: string; loadId: string }) => `${d.loadId} ${d.id}`
const recordOf = (d: Drill) => results.value.get(key(d))
const failed = computed(
  () => [...results.value.values()].filter(r => !r.passed && !r.unsure).length,
)
const unsure = computed(() => [...results.value.values()].filter(r => r.unsure).length)
const stateOf = (r: DrillRecord | undefined) =>
  !r
    ? ('not examined' as const)
    : r.passed
      ? ('in step' as const)
      : r.unsure
        ? ('unsure' as const)
        : ('stale' as const)
const WORDS = {
  'not examined': 'not run',
  'in step': 'holds',
  unsure: 'leaves somebody unsure',
  stale: 'does not hold',
}
const outcome = computed(
  () =>
    [
      failed.value ? `${failed.value} of ${results.value.size} do not hold` : '',
      unsure.value ? `${unsure.value} leave somebody unsure` : '',
    ]
      .filter(Boolean)
      .join(', ') || `all ${results.value.size} hold`,
)
watch(
  () => [props.design, bench.loadId, everyLoad.value],
  () => {
    results.value = new Map()
    isKept.value = false
  },
)

async function runAll(): Promise<void> {
  const design = props.design
  const list = drills.value
  const done = new Map<string, DrillRecord>()
  running.value = list.length
  for (const drill of list) {
    done.set(key(drill), runDrill(design, drill).record)
    running.value--
    // Each drill is a task of its own, so that the page stays alive.
    await new Promise(resolve => setTimeout(resolve))
    if (design !== props.design || running.value < 0) return void (running.value = 0)
  }
  running.value = 0
  results.value = done
  await designs.flush()
  const { revision, design: whole } = designs
  if (!whole || !done.size) return
  const title = everyLoad.value
    ? 'drills for every load'
    : `drills for ${loadOf(design, bench.loadId).name}`
  const answer = await ask<{ id: number }>(`/api/designs/${whole.id}/records`, {
    method: 'POST',
    body: { revision, title, results: [...done.values()] },
  })
  trouble.value = answer.ok ? '' : refusalWords(answer.refusal)
  isKept.value = answer.ok
}
function stop(): void {
  running.value = -1
}
async function play(drill: Drill): Promise<void> {
  await bench.playAtOnce({ script: drill.script, title: drill.title, loadId: drill.loadId })
  const first =
    drill.script.expects?.find((_, i) => recordOf(drill)?.held[i]?.held === false)
    ?? drill.script.expects?.[0]
  if (first) look.show(looksAt(first))
}
</script>

<template>
  <div>
    <h2>Drills</h2>
    <p class="second">
      Evenings gone wrong, made for this design. Each ends with what has to be so by then.
    </p>
    <div class="row">
      <el-button type="primary" :disabled="running > 0" @click="runAll()"
        >Run {{ drills.length }} drills</el-button
      >
      <el-button v-if="running > 0" @click="stop()">stop, {{ running }} left</el-button>
      <el-checkbox v-model="everyLoad">every load</el-checkbox>
    </div>
    <p v-if="results.size" role="status">
      <strong :class="{ differs: failed }">{{ outcome }}</strong><template v-if="isKept"
        >. Kept in the <NuxtLink :to="`/d/${designs.design?.id}/log`">log</NuxtLink>.</template
      >
    </p>
    <p v-if="trouble" class="differs small" role="alert">{{ trouble }}</p>
    <ul class="list">
      <li v-for="d in drills" :key="key(d)">
        <button type="button" class="plain drill" :title="d.words" @click="play(d)">
          <StateGlyph :state="stateOf(recordOf(d))" :label="WORDS[stateOf(recordOf(d))]" />
          <span
            >{{ d.title
            }}<span v-if="everyLoad" class="second">
              · {{ loadOf(design, d.loadId).name }}</span
            ></span
          >
        </button>
        <template v-if="recordOf(d) && !recordOf(d)!.passed">
          <p v-for="(h, i) in recordOf(d)!.held.filter(x => !x.held)" :key="i" class="small why">
            {{ h.words }}. <span :class="{ differs: !h.unsure }">{{ h.found }}.</span>
          </p>
        </template>
      </li>
    </ul>
    <p class="second small">
      {{ seconds(drills.reduce((sum, d) => sum + (d.script.untilMs ?? 0), 0)) }} of simulated time
      in all.
    </p>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  margin: 10px 0;
}
.row :deep(.el-button) {
  margin: 0;
}
.list {
  list-style: none;
  margin: 8px 0 14px;
  padding: 0;
}
.list li {
  border-bottom: 1px solid var(--rule);
}
.drill {
  display: flex;
  gap: 9px;
  align-items: center;
  width: 100%;
  min-height: 32px;
}
.why {
  margin: 0 0 7px 25px;
  color: var(--second);
}
</style>
