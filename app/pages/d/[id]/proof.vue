<script setup lang="ts">
import { linkOf, maybeMessage } from '../../../../core/design/find'
import type { Bounds } from '../../../../core/proof/system'
import { count } from '../../../../core/units/format'
import { useDesignStore } from '../../../stores/design'
import { useFindingsStore } from '../../../stores/findings'
import { useProofStore } from '../../../stores/proof'
import { useSelectionStore } from '../../../stores/selection'

const designs = useDesignStore()
const findings = useFindingsStore()
const proofs = useProofStore()
const selection = useSelectionStore()
const { play, fix } = useFixing()
const design = computed(() => designs.design)
const loadId = computed(() => selection.loadId ?? design.value?.loads[0]?.id ?? null)
const BOUNDS: { key: keyof Bounds, words: string, max: number }[] = [
  { key: 'presses', words: 'changes from elsewhere', max: 8 }, { key: 'commands', words: 'presses on the panel', max: 8 },
  { key: 'drops', words: 'link drops', max: 4 }, { key: 'powerCuts', words: 'power cuts', max: 3 },
]
const chosen = computed(() => loadId.value ? proofs.resultOf(loadId.value) : null)
const WORDS = { 'holds': 'holds', 'broken': 'broken', 'gave up': 'gave up', 'nothing to show': 'nothing to show' }
const fixesFor = (surfaceId: string) => findings.of(surfaceId, loadId.value).filter(f => f.code.startsWith('surface-')).flatMap(f => f.fixes)
const shows = (surfaceId: string, id: string) => {
  const surface = design.value?.surfaces.find(s => s.id === surfaceId)
  return design.value && surface !== undefined && surface.kind !== 'hand' && maybeMessage(linkOf(design.value, surface.linkId), id) !== undefined
}
</script>

<template>
  <div v-if="design" class="view">
    <div class="work">
      <div class="strip">
        <el-button v-if="!proofs.running" type="primary" :disabled="!design.loads.length" @click="proofs.prove(design.loads.map(l => l.id))">Prove all loads</el-button>
        <el-button v-else @click="proofs.stop()">Stop</el-button>
        <span v-if="proofs.running" class="second" role="status">{{ design.loads.find(l => l.id === proofs.running)?.name }}: {{ count(proofs.situations) }} situations so far</span>
        <span class="push second small">Within</span>
        <label v-for="b in BOUNDS" :key="b.key" class="bound second small"><el-input-number v-model="proofs.bounds[b.key]" :min="0" :max="b.max" :controls="false" size="small" :aria-label="b.words" /> {{ b.words }}</label>
      </div>
      <div class="body">
        <h2>P1 · At rest, every surface that shows a load shows the truth</h2>
        <table class="ruled proof">
          <thead>
            <tr><th>Load</th><th>Verdict</th><th v-for="s in design.surfaces" :key="s.id">{{ s.name }}</th><th class="number">Situations</th><th /></tr>
          </thead>
          <tbody>
            <tr v-for="load in design.loads" :key="load.id" :class="{ chosen: load.id === loadId }" @click="selection.select(load.id, selection.surfaceId)">
              <th scope="row"><button type="button" class="plain" @click="selection.select(load.id, selection.surfaceId)">{{ load.name }}</button></th>
              <td>
                <template v-if="proofs.resultOf(load.id)">
                  <strong :class="{ differs: proofs.resultOf(load.id)!.verdict.result === 'broken' }">{{ WORDS[proofs.resultOf(load.id)!.verdict.result] }}</strong>
                  <div v-if="!proofs.resultOf(load.id)!.current" class="second small">before the last edit</div>
                </template>
                <span v-else class="second">{{ proofs.running === load.id ? 'searching' : 'not asked yet' }}</span>
              </td>
              <td v-for="s in design.surfaces" :key="s.id">
                <span v-if="shows(s.id, load.id) && proofs.resultOf(load.id)" class="state"><StateGlyph :state="proofs.resultOf(load.id)!.verdict.surfaces.find(x => x.surfaceId === s.id)?.state ?? 'not examined'" />{{ proofs.resultOf(load.id)!.verdict.surfaces.find(x => x.surfaceId === s.id)?.state }}</span>
                <span v-else class="second">{{ s.kind === 'hand' ? 'shows nothing' : shows(s.id, load.id) ? '' : '–' }}</span>
              </td>
              <td class="number wire">{{ proofs.resultOf(load.id) ? count(proofs.resultOf(load.id)!.verdict.situations) : '' }}</td>
              <td class="number"><el-button size="small" :disabled="proofs.running !== null" @click.stop="selection.select(load.id, selection.surfaceId); proofs.prove([load.id])">Prove</el-button></td>
            </tr>
          </tbody>
        </table>
        <p v-if="!design.loads.length" class="second">No loads to prove anything about yet.</p>
        <p class="second small note">The search runs the controller's and the panels' own steps through every order of presses, arrivals, link drops and power cuts within the bounds. Time is order only. Messages are lost with their link; on a link that is up only where it is designed to lose some. At most two messages are under way in one direction of a link. Each story is replayed on the bench and says whether it ends the same way there.</p>
      </div>
    </div>
    <aside class="ticket" aria-label="Story">
      <template v-if="loadId && design.loads.some(l => l.id === loadId)">
        <h2>{{ design.loads.find(l => l.id === loadId)?.name }}</h2>
        <p v-if="!chosen" class="second">Ask for a proof: it examines every order of events, and tells the shortest story that breaks the promise.</p>
        <template v-else>
          <p>{{ chosen.verdict.reason }}.</p>
          <p class="second small">{{ count(chosen.verdict.situations) }} situations examined, {{ count(chosen.verdict.transitions) }} steps<template v-if="chosen.verdict.cutShort">; {{ count(chosen.verdict.cutShort) }} steps left out, because they would put a third message under way</template>.</p>
          <section v-for="s in chosen.verdict.surfaces.filter(x => x.story)" :key="s.surfaceId">
            <h3 class="title differs">{{ s.reason }}</h3>
            <ol class="story"><li v-for="(step, i) in s.story!.steps" :key="i">{{ step.words }}</li></ol>
            <p><strong>{{ s.story!.ending }}.</strong></p>
            <p class="second small">{{ s.story!.replayed ? 'Replayed on the bench: it ends the same way.' : 'On the bench, with the links\' own times, it does not end this way.' }}</p>
            <div class="fixes">
              <el-button size="small" @click="play(s.story!, loadId)">Play on bench</el-button>
              <template v-if="chosen.current"><el-button v-for="(f, i) in fixesFor(s.surfaceId)" :key="f.words" size="small" :type="i === 0 ? 'primary' : 'default'" @click="fix(f); proofs.prove([loadId!])">{{ f.words }}</el-button></template>
            </div>
          </section>
        </template>
      </template>
    </aside>
  </div>
</template>

<style scoped>
.body { padding: 16px 20px; overflow: auto; }
h2 { margin-bottom: 8px; }
.bound { display: inline-flex; gap: 6px; align-items: center; white-space: nowrap; }
.bound :deep(.el-input-number) { width: 44px; }
.proof tr.chosen > * { background: var(--raised); }
.proof tbody tr { cursor: pointer; }
.state { display: inline-flex; gap: 6px; align-items: center; white-space: nowrap; }
.note { margin-top: 14px; max-width: 78ch; }
.story { padding-left: 20px; margin: 6px 0; }
.fixes { display: flex; flex-wrap: wrap; gap: 6px; margin-top: 8px; }
.fixes :deep(.el-button) { margin: 0; }
.ticket p { margin: 4px 0; }
.ticket section { margin-top: 12px; padding-top: 12px; border-top: 1px solid var(--rule); }
</style>
