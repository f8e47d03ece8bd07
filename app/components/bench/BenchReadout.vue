<script setup lang="ts">
/** What is so at the cursor, or now: truth, beliefs, what is under way, and why. Figures of the run below. */
import { refThrottled } from '@vueuse/core'
import { momentOf } from '../../../core/bench/why'
import { wrongMs } from '../../../core/bench/trace'
import { loadOf, surfaceOf } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import { valueWords } from '../../../core/design/values'
import { shownWords } from '../../../core/proof/story'
import { count, seconds } from '../../../core/units/format'
import { useBenchStore } from '../../stores/bench'
import { useFindingsStore } from '../../stores/findings'

const props = defineProps<{ design: Design, cursorMs: number | null }>()
const bench = useBenchStore()
const findings = useFindingsStore()
const { fix } = useFixing()
// Four times a second is enough for reading, and keeps long runs smooth.
const slow = refThrottled(toRef(() => bench.tick), 250)
const t = computed(() => (void slow.value, Math.min(props.cursorMs ?? Infinity, bench.bench?.now ?? 0)))
const moment = computed(() => (void slow.value, bench.bench ? momentOf(props.design, bench.bench.trace, bench.loadId, t.value) : null))
const output = computed(() => loadOf(props.design, bench.loadId).output)
const name = (surfaceId: string) => surfaceOf(props.design, surfaceId).name
const run = computed(() => {
  void slow.value
  const { trace, now } = bench.bench ?? {}
  if (!trace || now === undefined) return null
  const panels = props.design.surfaces.filter(s => s.kind !== 'hand')
  return {
    wrong: panels.map(p => ({ name: p.name, ms: wrongMs(trace, p.id, bench.loadId, now) })),
    messages: trace.messages.length, lost: trace.messages.filter(m => m.lost).length, moves: trace.moves[bench.loadId] ?? 0, events: trace.events,
  }
})
/** The first way out of each finding about a surface that is wrong here. */
const waysOut = computed(() => (moment.value?.surfaces ?? []).filter(s => s.wrongForMs !== null).flatMap((s) => {
  const found = findings.findings.find(f => f.surfaceId === s.surfaceId && f.loadId === bench.loadId && f.fixes.length)
  return found?.fixes[0] ? [{ surfaceId: s.surfaceId, fix: found.fixes[0] }] : []
}))
</script>

<template>
  <div v-if="moment && run">
    <section v-if="bench.title" class="playing">
      <p>Playing: <strong>{{ bench.title }}</strong></p>
      <el-button size="small" @click="bench.clear()">Back to my own run</el-button>
    </section>
    <h2>{{ cursorMs === null ? 'Now' : 'At' }} {{ seconds(t) }}</h2>
    <section>
      <dl class="facts">
        <dt>Truth</dt><dd class="wire">{{ moment.powered ? valueWords(output, moment.value ?? '') : 'no power' }}</dd>
        <template v-for="s in moment.surfaces" :key="s.surfaceId">
          <dt>{{ name(s.surfaceId) }}</dt>
          <dd class="wire" :class="{ differs: s.wrongForMs !== null }">{{ shownWords(output, s.shown) }}<template v-if="s.wrongForMs !== null"> · {{ seconds(s.wrongForMs) }} wrong</template></dd>
        </template>
        <dt>Under way</dt><dd class="wire">{{ moment.inFlight.join(', ').replaceAll('\n', ' ') || 'nothing' }}</dd>
      </dl>
      <p v-for="s in moment.surfaces.filter(x => x.why)" :key="s.surfaceId" class="why">{{ s.why }}</p>
      <div class="ways">
        <el-button v-for="w in waysOut" :key="w.surfaceId" size="small" @click="fix(w.fix)">{{ name(w.surfaceId) }}: {{ w.fix.words }}</el-button>
      </div>
    </section>
    <section>
      <h3 class="title">This run</h3>
      <dl class="facts">
        <template v-for="w in run.wrong" :key="w.name"><dt>{{ w.name }} wrong</dt><dd class="wire">{{ seconds(w.ms) }}</dd></template>
        <dt>Messages</dt><dd class="wire">{{ count(run.messages) }}, {{ count(run.lost) }} lost</dd>
        <dt>Relay moves</dt><dd class="wire">{{ count(run.moves) }}</dd>
        <dt>Events</dt><dd class="wire">{{ count(run.events) }}</dd>
      </dl>
    </section>
  </div>
</template>

<style scoped>
.ways { display: flex; flex-wrap: wrap; gap: 6px; }
.ways :deep(.el-button) { margin: 0; height: auto; white-space: normal; text-align: left; padding: 5px 10px; }
.why { margin: 10px 0; color: var(--second); }
h2 { margin-top: 0; }
.playing + h2 { margin-top: 14px; border-top: 1px solid var(--rule); padding-top: 14px; }
.playing p { margin-bottom: 6px; }
h3 { margin-bottom: 6px; }
dd.wire { font-size: 13px; }
</style>
