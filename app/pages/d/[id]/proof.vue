<script setup lang="ts">
import type { KeptRecord } from '../../../../core/bench/record'
import type { Bounds } from '../../../../core/proof/bounds'
import { WIDEST } from '../../../../core/proof/bounds'
import type { Group } from '../../../../core/proof/groups'
import type { PromiseId } from '../../../../core/proof/promises'
import { count, seconds } from '../../../../core/units/format'
import { useDesignStore } from '../../../stores/design'
import { useProofStore } from '../../../stores/proof'
import { useSelectionStore } from '../../../stores/selection'

const designs = useDesignStore()
const proofs = useProofStore()
const selection = useSelectionStore()
const { play } = useFixing()
const design = computed(() => designs.design)
const loadId = computed(
  () =>
    (design.value?.loads.some(l => l.id === selection.loadId) ? selection.loadId : null)
    ?? design.value?.loads[0]?.id
    ?? null,
)
/** What was proved last, before this page was opened. */
const last = ref<KeptRecord | null>(null)
onMounted(async () => {
  const path = `/api/designs/${encodeURIComponent(design.value?.id ?? '')}/records`
  const answer = await ask<KeptRecord[]>(path)
  if (answer.ok) last.value = answer.value.find(r => r.kind === 'proof') ?? null
})
const promise = ref<PromiseId>('P1')
const VIEWS = [
  { id: 'promises', name: 'Promises' },
  { id: 'causes', name: 'Causes' },
  { id: 'outages', name: 'Outages' },
  { id: 'timing', name: 'How long' },
] as const
const view = ref<(typeof VIEWS)[number]['id']>('promises')
const BOUNDS: { key: keyof Bounds; words: string; why: string; min: number }[] = [
  {
    key: 'underWay',
    words: 'messages under way at most',
    why: 'at once on a link, both ways together; answers always find room',
    min: 2,
  },
  {
    key: 'situations',
    words: 'situations at most',
    why: 'about 35 bytes each; then the search gives up',
    min: 1000,
  },
]
function choose(id: string, which: PromiseId): void {
  promise.value = which
  selection.select(id, selection.surfaceId)
}
/** Enter on a cell: its story on the bench, or the proof that is missing. */
function act(id: string, which: PromiseId): void {
  const result = proofs.resultOf(which, id)
  const story = result?.verdict.surfaces.find(s => s.story)?.story
  if (story) void play(story, id)
  else if (!result?.current && !proofs.running.length) void proofs.prove([id])
}
function look(group: Group): void {
  choose(group.loadIds[0] ?? '', group.promise)
  view.value = 'promises'
}
</script>

<template>
  <div v-if="design" class="view" :class="{ wide: view !== 'promises' }">
    <div class="work">
      <div class="strip">
        <el-button
          v-if="!proofs.running.length"
          type="primary"
          :disabled="!design.loads.length"
          @click="proofs.prove(design.loads.map(l => l.id))"
          >Prove all loads</el-button
        >
        <el-button v-else @click="proofs.stop()">Stop</el-button>
        <el-radio-group v-model="view" aria-label="What is looked at"
          ><el-radio-button v-for="v in VIEWS" :key="v.id" :value="v.id">{{
            v.name
          }}</el-radio-button></el-radio-group
        >
        <span v-if="proofs.running.length" class="second" role="status"
          >{{ count(proofs.situations) }} situations so far</span
        >
        <span v-else-if="proofs.took" class="second small">{{ seconds(proofs.took) }}</span>
        <span v-else-if="last" class="second small"
          >last: {{ last.passed }} of {{ last.of }} kept at revision {{ last.revision
          }}{{ last.revision === designs.revision ? '' : `, now ${designs.revision}` }},
          {{ whenWords(last.createdAt) }}</span
        >
        <el-popover trigger="click" width="330" placement="bottom-end">
          <template #reference
            ><el-button class="push" title="What a search is limited by"
              >Bounds …</el-button
            ></template
          >
          <p class="small">
            Presses, losses, link drops, starts and power cuts are not counted: any number of them
            may happen. Limited is only what is under way at once; it grows until one message more
            adds nothing new.
          </p>
          <dl class="facts bounds">
            <template v-for="b in BOUNDS" :key="b.key"
              ><dt :title="b.why">{{ b.words }}</dt>
              <dd>
                <el-input-number
                  v-model="proofs.bounds[b.key]"
                  :min="b.min"
                  :max="WIDEST[b.key]"
                  :controls="false"
                  size="small"
                  :aria-label="b.words"
                /></dd
            ></template>
          </dl>
        </el-popover>
      </div>
      <div class="body">
        <p v-if="proofs.trouble" class="differs" role="alert">{{ proofs.trouble }}</p>
        <p v-if="!design.loads.length" class="second">
          Nothing to prove yet: name the first load on the sheet, and promise something about it.
        </p>
        <template v-else-if="view === 'promises'">
          <ProofMatrix
            :design="design"
            :promise="promise"
            :load-id="loadId"
            @choose="choose"
            @act="act"
          />
          <ProofSurfaces :design="design" :promise="promise" :load-id="loadId" @choose="choose" />
        </template>
        <ProofCauses v-else-if="view === 'causes'" :design="design" @choose="look" />
        <ProofOutages v-else-if="view === 'outages'" :design="design" />
        <ProofTiming v-else :design="design" />
      </div>
    </div>
    <aside v-if="view === 'promises'" class="ticket" aria-label="Promise">
      <ProofTicket
        v-if="loadId"
        :key="`${promise} ${loadId}`"
        :design="design"
        :promise="promise"
        :load-id="loadId"
      />
    </aside>
  </div>
</template>

<style scoped>
.view {
  --ticket: 348px;
}
.view.wide {
  grid-template-columns: minmax(0, 1fr);
}
.body {
  padding: 16px 20px;
  overflow: auto;
}
.bounds {
  margin: 8px 0 0;
}
.bounds :deep(.el-input-number) {
  width: 96px;
}
</style>
