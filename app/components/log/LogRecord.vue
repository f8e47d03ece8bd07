<script setup lang="ts">
/**
 * A record of proofs or of drills: what did not hold with how it came about, to be played again,
 * and what held.
 */
import type { UploadRun } from '../../../core/boards/upload-record'
import { drillsFor } from '../../../core/bench/drills'
import { missingFor } from '../../../core/bench/fits'
import type { DrillsRun, KeptRecord } from '../../../core/bench/record'
import type { BenchScript } from '../../../core/bench/script'
import { partOf } from '../../../core/design/part'
import type { Design } from '../../../core/design/schema'
import type { Commissioning } from '../../../core/live/commissioning/record'
import type { MeasuredRun, Note, TriedRun } from '../../../core/live/record'
import { PROMISES } from '../../../core/proof/promises'
import type { ProofRun } from '../../../core/proof/record'
import { count } from '../../../core/units/format'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design; record: KeptRecord }>()
const designs = useDesignStore()
const { playScript } = useFixing()
const proofs = shallowRef<ProofRun['results'] | null>(null)
const drills = shallowRef<DrillsRun['results'] | null>(null)
const upload = shallowRef<Pick<UploadRun, 'chip' | 'bytes' | 'fingerprint'> | null>(null)
const measured = shallowRef<Omit<MeasuredRun, 'kind' | 'revision' | 'title'> | null>(null)
const note = shallowRef<Pick<Note, 'text' | 'pictures'> | null>(null)
const run = shallowRef<Omit<Commissioning, 'kind' | 'revision'> | null>(null)
const triedRun = shallowRef<TriedRun | null>(null)
const trouble = ref('')
const resultOf = (id: string) => run.value?.results.find(r => r.stepId === id)
const differing = computed(
  () => run.value?.steps.filter(s => resultOf(s.id)?.state === 'differs') ?? [],
)

onMounted(async () => {
  const answer = await ask<never>(`/api/designs/${props.design.id}/records/${props.record.id}`)
  if (!answer.ok) trouble.value = refusalWords(answer.refusal)
  else if (props.record.kind === 'proof') proofs.value = answer.value
  else if (props.record.kind === 'upload') upload.value = answer.value
  else if (props.record.kind === 'measured') measured.value = answer.value
  else if (props.record.kind === 'tried') triedRun.value = answer.value
  else if (props.record.kind === 'note') note.value = answer.value
  else if (props.record.kind === 'commissioning') run.value = answer.value
  else drills.value = answer.value
})
const nameOf = (loadId: string) =>
  props.design.loads.find(l => l.id === loadId)?.name ?? `${loadId} (gone since)`
const told = computed(() => proofs.value?.filter(p => p.stories.length) ?? [])
const kept = computed(() => proofs.value?.filter(p => !p.stories.length) ?? [])
const failed = computed(() => drills.value?.filter(d => !d.passed) ?? [])
const held = computed(() => drills.value?.filter(d => d.passed) ?? [])
const WORDS: Record<string, string> = {
  holds: 'hold',
  'by timing': 'hold by timing',
  'in part': 'hold in part',
  broken: 'broken',
  'gave up': 'undecided',
}
/** The same verdict of the same promise, with all loads it is about. */
const verdicts = computed(() =>
  [...Map.groupBy(kept.value, p => `${p.promise} ${p.result}`)].map(([key, of]) => ({
    key,
    promise: of[0]!.promise,
    result: of[0]!.result,
    loads: of.map(p => nameOf(p.loadId)).join(', '),
    open: [
      ...new Set(of.flatMap(p => (p.assumptions ?? []).filter(a => a.open).map(a => a.words))),
    ],
  })),
)

async function play(loadId: string, script: BenchScript, title: string): Promise<void> {
  const missing = missingFor(props.design, loadId, script)
  trouble.value = missing
    ? `It cannot be played on the design as it is now: ${missing}. Open revision ${props.record.revision} from the list to play it there.`
    : ''
  if (!missing) await playScript(script, title, loadId)
}
/** Drills are made anew from the design: the same seed makes the same drill. */
async function playDrill(d: DrillsRun['results'][number]): Promise<void> {
  const load = props.design.loads.find(l => l.id === d.loadId)
  const drill =
    load
    && drillsFor(partOf(props.design, load.controllerId), load.id, d.seed).find(
      x => x.id === d.drillId,
    )
  if (drill) await play(d.loadId, drill.script, drill.title)
  else trouble.value = 'The design as it is now has no such drill any more.'
}
</script>

<template>
  <div>
    <h2 class="words">{{ record.title }}</h2>
    <p class="second">
      {{ whenWords(record.createdAt) }}, with revision {{ record.revision
      }}{{
        record.revision === designs.revision
          ? ''
          : `; the design is at revision ${designs.revision} now`
      }}.
    </p>
    <p v-if="trouble" class="differs small" role="alert">{{ trouble }}</p>
    <section v-if="upload">
      <p>
        {{ count(upload.bytes) }} bytes were written to an {{ upload.chip }}, read back and equal.
      </p>
      <p v-if="upload.fingerprint" :class="{ differs: upload.fingerprint !== designs.fingerprint }">
        The program was made of <code>{{ upload.fingerprint }}</code>{{
          upload.fingerprint === designs.fingerprint
            ? ', as the design is now.'
            : `; the design is ${designs.fingerprint} now: the board has an older one.`
        }}
      </p>
      <p v-else class="differs">The program carried no fingerprint.</p>
    </section>
    <section v-if="run">
      <p>
        {{ run.results.filter(r => r.state === 'passed').length }} of {{ run.steps.length }} steps
        as designed, table <code>{{ run.fingerprint }}</code>.
      </p>
      <p>
        <a
          :href="`/api/designs/${design.id}/records/${record.id}/sheet`"
          target="_blank"
          rel="noopener"
          >As a sheet to print</a
        >
      </p>
      <template v-for="s in differing" :key="s.id">
        <h3 class="title differs">{{ s.about }}</h3>
        <p>{{ s.does }}</p>
        <p>{{ resultOf(s.id)?.cause }}</p>
      </template>
    </section>
    <section v-if="triedRun">
      <p>
        {{ triedRun.messages.passed }} of {{ triedRun.messages.of }} messages,
        {{ triedRun.drills.passed }} of {{ triedRun.drills.of }} drills as the design has them.
      </p>
      <template v-for="(f, i) in triedRun.failed" :key="i">
        <h3 class="title differs">{{ f.words }}</h3>
        <p>{{ f.found }}.</p>
      </template>
    </section>
    <section v-if="measured">
      <p>
        {{ count(measured.count) }} answers, {{ count(measured.lost) }} lost. There and back:
        {{ measured.leastMs }} ms at least, {{ measured.typicalMs }} ms typical, 99 of 100 within
        {{ measured.p99Ms }} ms.
      </p>
      <p class="second">Its times were taken over into the link.</p>
    </section>
    <section v-if="note">
      <p class="note">{{ note.text }}</p>
      <img v-for="(p, i) in note.pictures" :key="i" :src="p" :alt="`Picture ${i + 1}`" />
    </section>
    <template v-for="p in told" :key="`${p.promise} ${p.loadId}`">
      <section v-for="(s, i) in p.stories" :key="i">
        <h3 class="title" :class="{ differs: p.result === 'broken' }">
          {{ p.promise }} · {{ nameOf(p.loadId) }}
        </h3>
        <p class="second small">{{ PROMISES[p.promise].words }}.</p>
        <ol>
          <li v-for="(words, n) in s.steps" :key="n">{{ words }}</li>
        </ol>
        <p>
          <strong>{{ s.ending }}.</strong>
        </p>
        <el-button size="small" @click="play(p.loadId, s.script, s.ending)"
          >Play on bench</el-button
        >
      </section>
    </template>
    <section v-if="verdicts.length">
      <h3 class="title">Without a story</h3>
      <p v-for="v in verdicts" :key="v.key" class="small">
        <strong>{{ v.promise }}</strong> {{ WORDS[v.result] ?? v.result }}: {{ v.loads }}.<span
          v-if="v.open.length"
          class="second"
        >
          Not examined: {{ v.open.join('; ') }}.</span
        >
      </p>
    </section>
    <section v-for="d in failed" :key="`${d.drillId} ${d.loadId}`">
      <h3 class="title" :class="{ differs: !d.unsure }">{{ d.title }} · {{ nameOf(d.loadId) }}</h3>
      <p v-for="(h, n) in d.held.filter(x => !x.held)" :key="n" class="small">
        {{ h.words }}. <span :class="{ differs: !h.unsure }">{{ h.found }}.</span>
      </p>
      <el-button size="small" @click="playDrill(d)">Play on bench</el-button>
    </section>
    <section v-if="held.length">
      <h3 class="title">{{ count(held.length) }} held</h3>
      <p v-for="d in held" :key="`${d.drillId} ${d.loadId}`" class="small">
        {{ d.title }}<span class="second"> · {{ nameOf(d.loadId) }}</span>
      </p>
    </section>
  </div>
</template>

<style scoped>
.words::first-letter {
  text-transform: uppercase;
}
p {
  margin: 3px 0;
}
.note {
  white-space: pre-wrap;
}
img {
  max-width: 100%;
  margin-top: 8px;
  border: 1px solid var(--rule);
}
ol {
  margin: 6px 0;
  padding-left: 22px;
}
li {
  padding: 2px 0;
}
li::first-letter {
  text-transform: uppercase;
}
section {
  margin-top: 14px;
  padding-top: 14px;
  border-top: 1px solid var(--rule);
}
</style>
