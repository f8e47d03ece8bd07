<script setup lang="ts">
/**
 * One promise of one load: the verdict, the stories that break it with what repairs them, or what
 * carries it.
 */
import { refDebounced } from '@vueuse/core'
import { linkOf, loadOf, surfaceOf } from '../../../core/design/find'
import { partOfLoad } from '../../../core/design/part'
import type { Design } from '../../../core/design/schema'
import { notAsked, PROMISES, type PromiseId } from '../../../core/proof/promises'
import type { SurfaceVerdict } from '../../../core/proof/prove'
import { underWayWords } from '../../../core/proof/verdict'
import { isSmall } from '../../../core/sides/program/can-program'
import { count } from '../../../core/units/format'
import { useDesignStore } from '../../stores/design'
import { keyOf, useProofStore } from '../../stores/proof'

const props = defineProps<{ design: Design; promise: PromiseId; loadId: string }>()
const designs = useDesignStore()
const proofs = useProofStore()
const { play } = useFixing()
const load = computed(() => loadOf(props.design, props.loadId))
/** Stories are drawn in a task after that of the table, so that neither keeps a finger waiting. */
const result = refDebounced(
  computed(() => proofs.resultOf(props.promise, props.loadId)),
  20,
)
const why = computed(() => notAsked(load.value, props.promise))
const parts = computed(() => result.value?.verdict.surfaces ?? [])
const TITLES = {
  holds: 'Holds',
  broken: 'Broken',
  'by timing': 'Holds by timing',
  'in part': 'Holds, in part',
  'gave up': 'Undecided',
  'not asked': 'Does not apply',
} as const
const isBroken = (p: SurfaceVerdict) =>
  p.state === 'broken' || p.state === 'stale' || p.state === 'unsure'
const same = computed(() => {
  const group = proofs.groups.find(
    g => g.promise === props.promise && g.loadIds.includes(props.loadId) && g.loadIds.length > 1,
  )
  return group
    ? group.loadIds.filter(id => id !== props.loadId).map(id => loadOf(props.design, id).name)
    : []
})
const search = (p: SurfaceVerdict) => ({
  promise: props.promise,
  loadId: props.loadId,
  surfaceId: p.surfaceId,
})
/** What was looked for before an edit counts no more. */
function entryOf<T>(all: Record<string, { found: T | null; design: Design }>, p: SurfaceVerdict) {
  const entry = all[keyOf(props.promise, props.loadId, p.surfaceId)]
  return entry && entry.design === designs.design ? entry : null
}
/** Parts that are not broken, one of each surface. */
const carried = computed(() =>
  props.promise === 'P8' || props.promise === 'P9' || props.promise === 'P4'
    ? []
    : parts.value.filter(
        (p, i, all) =>
          (p.state === 'in step' || p.state === 'holds' || p.state === 'in time')
          && all.findIndex(x => x.surfaceId === p.surfaceId) === i,
      ),
)
/** Only what the search itself found to hold, on the design as it is. */
const checkable = computed(
  () =>
    result.value?.current === true
    && ['P1', 'P2', 'P3', 'P4', 'P5', 'P6', 'P7'].includes(props.promise)
    && parts.value.some(p => p.state === 'in step' || p.state === 'holds'),
)
const again = computed(() => {
  const entry = proofs.checks[keyOf(props.promise, props.loadId)]
  return entry && entry.design === designs.design ? entry : null
})
/** The same thing is said once, whichever surface it concerns. */
const assumed = computed(() =>
  (result.value?.verdict.assumptions ?? []).filter(
    (a, i, all) => all.findIndex(x => x.words === a.words) === i,
  ),
)
function apply(edit: Parameters<typeof designs.apply>[0]): void {
  if (designs.apply(edit)) void proofs.prove([props.loadId])
}
async function save(p: SurfaceVerdict): Promise<void> {
  if (p.surfaceId === null) return
  const text = await coreWorker('repair').promela(toRaw(props.design), props.loadId, p.surfaceId)
  handOver(`${props.loadId}-${p.surfaceId}.pml`, text, 'text/plain')
}
/** Numbers of commands are counted anew at each step, which cannot be said there. */
const canWrite = (p: SurfaceVerdict) => {
  if (props.promise !== 'P1' || p.surfaceId === null) return false
  const surface = surfaceOf(props.design, p.surfaceId)
  return surface.kind !== 'hand' && linkOf(props.design, surface.linkId).numbered === null
}
</script>

<template>
  <div>
    <h2>{{ load.name }}</h2>
    <p class="second">{{ promise }} · {{ PROMISES[promise].words }}.</p>
    <p v-if="why">{{ why }}</p>
    <template v-else-if="!result">
      <p class="second">
        Not proved yet. A proof examines every order of presses, arrivals, link drops and power
        cuts, and tells the shortest story that breaks the promise.
      </p>
      <el-button
        type="primary"
        :disabled="proofs.running.length > 0"
        @click="proofs.prove([loadId])"
        >Prove {{ load.name }}</el-button
      >
    </template>
    <template v-else>
      <p class="verdict">
        <strong :class="{ differs: result.verdict.result === 'broken' }">{{
          TITLES[result.verdict.result]
        }}</strong><span v-if="!result.current" class="wait"> · before the last edit</span>
      </p>
      <p v-if="result.verdict.result !== 'broken'">
        {{ result.verdict.reason }}{{ result.verdict.reason.endsWith('.') ? '' : '.' }}
      </p>
      <section v-for="(p, i) in parts.filter(x => x.story)" :key="`${p.subject} ${i}`">
        <h3 class="title" :class="{ differs: isBroken(p) }">{{ p.reason }}</h3>
        <StoryTable :design="design" :story="p.story!" :load-id="loadId" />
        <p v-if="same.length" class="small">The same way: {{ same.join(', ') }}.</p>
        <p class="second small">
          {{
            p.story!.replayed
              ? 'Replayed on the bench: it ends the same way, within the delays that the links state.'
              : 'On the bench, within the delays that the links state, it does not end this way.'
          }}
        </p>
        <div class="acts">
          <el-button size="small" title="Enter, in the table" @click="play(p.story!, loadId)"
            >Play on bench</el-button
          >
          <el-button
            v-if="isSmall(partOfLoad(design, loadId))"
            size="small"
            title="The bench, and machine code of the ready-made program beside it"
            @click="play(p.story!, loadId, true)"
            >and on the emulated board</el-button
          >
          <el-button
            v-if="isBroken(p) && result.current && !entryOf(proofs.repairs, p)"
            size="small"
            type="primary"
            @click="proofs.findRepairs(search(p))"
            >Find what repairs it</el-button
          >
        </div>
        <template v-if="entryOf(proofs.repairs, p)">
          <p v-if="!entryOf(proofs.repairs, p)!.found" class="second small" role="status">
            {{ proofs.tries }} ways tried, each by proof.
            <el-button size="small" @click="proofs.stopRepairs()">stop</el-button>
          </p>
          <p v-else-if="!entryOf(proofs.repairs, p)!.found!.length" class="small">
            No way, nor three of them together, makes it hold without breaking something else.
          </p>
          <ol v-else class="repairs">
            <li v-for="(r, n) in entryOf(proofs.repairs, p)!.found!" :key="r.words">
              <div>{{ r.words }}</div>
              <div class="second small">
                Costs {{ r.cost.words }}. Proved in {{ count(r.situations) }} situations.
              </div>
              <el-button size="small" :type="n === 0 ? 'primary' : 'default'" @click="apply(r.edit)"
                >Do it</el-button
              >
            </li>
          </ol>
        </template>
      </section>
      <section v-if="carried.length && result.current && result.verdict.result !== 'not asked'">
        <h3 class="title">Why it holds</h3>
        <div v-for="p in carried" :key="p.surfaceId ?? ''" class="carried">
          <div class="small">{{ p.reason }}.</div>
          <el-button
            v-if="!entryOf(proofs.carriers, p)"
            size="small"
            @click="proofs.findCarriers(search(p))"
            >What carries it{{ carried.length > 1 ? ` for ${p.subject}` : '' }}?</el-button
          >
          <p v-else-if="!entryOf(proofs.carriers, p)!.found" class="second small" role="status">
            each thing is taken away in turn: {{ proofs.tries }}
          </p>
          <p v-else-if="!entryOf(proofs.carriers, p)!.found!.length" class="small">
            Nothing that could be taken away: it holds by what the load and its controls are.
          </p>
          <ul v-else class="repairs">
            <li v-for="c in entryOf(proofs.carriers, p)!.found!" :key="c.words" class="small">
              <span class="carrier">{{ c.words }}.</span>
              {{ ' ' }}
              <span class="second">Without it: {{ c.breaks }}.</span>
            </li>
          </ul>
          <el-button
            v-if="canWrite(p)"
            size="small"
            title="For the model checker that Debian ships: what it finds can be compared"
            @click="save(p)"
            >Write as Promela</el-button
          >
        </div>
      </section>
      <section v-if="checkable">
        <h3 class="title">Looked at again</h3>
        <el-button
          v-if="!again"
          size="small"
          title="A second, separate program goes through all situations and says whether any is missing or breaks the promise"
          @click="proofs.checkAgain(promise, loadId)"
          >Check again</el-button
        >
        <p v-else-if="!again.found" class="second small" role="status">
          going through all situations …
        </p>
        <p v-else-if="!again.found.length" class="small">
          Nothing of it has a certificate: it holds by timing, or together with something that
          breaks.
        </p>
        <p
          v-for="c in again?.found ?? []"
          :key="c.surfaceId ?? ''"
          class="small"
          :class="{ differs: c.wrong }"
        >
          {{ c.surfaceId ? `${surfaceOf(design, c.surfaceId).name}: ` : ''
          }}{{ c.wrong || `${c.words}: none is missing, each keeps the promise` }}.
        </p>
      </section>
      <section v-if="assumed.length">
        <h3 class="title">Taken for granted</h3>
        <ul class="assumed small">
          <li v-for="a in assumed" :key="a.words" :class="{ wait: a.open }">
            <strong v-if="a.open">Not examined: </strong>{{ a.words }}.
          </li>
        </ul>
      </section>
      <p v-if="result.verdict.situations" class="second small within">
        <template v-if="result.verdict.transitions"
          >Any number of presses, losses, link drops, starts and power cuts, at any moment: </template
        >{{ count(result.verdict.situations) }} situations<template
          v-if="result.verdict.transitions"
          >, {{ count(result.verdict.transitions) }} steps</template
        ><template v-if="result.verdict.underWay"
          >; {{ underWayWords(result.verdict.underWay) }}</template
        >.
      </p>
    </template>
  </div>
</template>

<style scoped>
p {
  margin: 4px 0;
}
.verdict {
  font-size: 17px;
  margin: 8px 0 2px;
}
.wait {
  color: var(--wait);
  font-size: 13px;
}
section {
  margin-top: 12px;
  padding-top: 12px;
  border-top: 1px solid var(--rule);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 8px;
}
.acts :deep(.el-button),
.repairs :deep(.el-button) {
  margin: 0;
}
.repairs {
  padding-left: 20px;
  margin: 8px 0 0;
}
.repairs li {
  margin-bottom: 9px;
}
.repairs :deep(.el-button) {
  margin-top: 4px;
}
.carried {
  margin-top: 6px;
}
.carrier::first-letter {
  text-transform: uppercase;
}
.assumed {
  padding-left: 18px;
  margin: 6px 0 0;
}
.assumed li {
  margin-bottom: 4px;
}
.within {
  margin-top: 14px;
}
</style>
