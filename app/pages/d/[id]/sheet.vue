<script setup lang="ts">
import { outagesOf } from '../../../../core/proof/outages'
import { useDesignStore } from '../../../stores/design'
import { useFindingsStore } from '../../../stores/findings'
import { useSelectionStore } from '../../../stores/selection'

const designs = useDesignStore()
const findings = useFindingsStore()
const selection = useSelectionStore()
const outage = ref('none')
const design = computed(() => designs.design)
const outages = computed(() => (design.value ? outagesOf(design.value) : []))

// Tickets are fetched once the sheet is seen, before the first one is asked for.
onNuxtReady(() => preloadComponents(['CellTicket', 'LoadTicket', 'SurfaceTicket']))

// The first visit lands on what most needs a hand.
watch(
  () => findings.findings,
  list => {
    const known =
      design.value?.loads.some(l => l.id === selection.loadId)
      || design.value?.surfaces.some(s => s.id === selection.surfaceId)
    const worst = list.find(f => f.loadId && f.surfaceId && f.story.length)
    if (!known && (list.length || Object.keys(findings.verdicts).length))
      selection.select(
        worst?.loadId ?? design.value?.loads[0]?.id ?? null,
        worst?.surfaceId ?? null,
      )
  },
  { immediate: true },
)
</script>

<template>
  <div v-if="design" class="view">
    <div class="work">
      <div class="strip">
        <span class="second">What if</span>
        <el-radio-group v-model="outage" class="outages" aria-label="What if">
          <el-radio-button v-for="o in outages" :key="o.id" :value="o.id">{{
            o.name
          }}</el-radio-button>
        </el-radio-group>
      </div>
      <div class="sheet-body">
        <SheetMatrix :design="design" :outage="outage" />
        <p class="legend second small">
          <span><StateGlyph state="in step" /> in step</span
          ><span><StateGlyph state="stale" /> can go stale</span>
          <span><StateGlyph state="unsure" /> can stay unsure</span
          ><span><StateGlyph state="in part" /> in step, in part</span
          ><span><StateGlyph state="shows nothing" /> shows nothing</span>
          <span
            >each verdict is a proof, for any number of presses and faults;
            <NuxtLink :to="`/d/${design.id}/proof`">Proof</NuxtLink> tells the other promises</span
          >
        </p>
      </div>
    </div>
    <aside class="ticket" aria-label="Selected">
      <LazyCellTicket
        v-if="selection.loadId && selection.surfaceId"
        :key="`${selection.loadId} ${selection.surfaceId}`"
        :design="design"
        :load-id="selection.loadId"
        :surface-id="selection.surfaceId"
      />
      <LazyLoadTicket
        v-else-if="selection.loadId"
        :key="selection.loadId"
        :design="design"
        :load-id="selection.loadId"
      />
      <LazySurfaceTicket
        v-else-if="selection.surfaceId"
        :key="selection.surfaceId"
        :design="design"
        :surface-id="selection.surfaceId"
      />
      <p v-else-if="design.loads.length && !findings.known" class="second">
        {{ findings.trouble ? 'Not checked yet.' : 'Checking what most needs a hand …' }}
      </p>
      <div v-else>
        <h2>Begin here</h2>
        <p class="second">
          Name the loads at the left: what is switched. Then add the surfaces that command them:
          hand controls, a phone, a browser. Each + in the matrix puts a load on a surface.
        </p>
      </div>
    </aside>
  </div>
</template>

<style scoped>
.outages {
  flex: 1;
  row-gap: 4px;
}
.sheet-body {
  padding: 10px 20px 20px;
}
.strip :deep(.el-radio-button__inner) {
  padding: 7px 9px;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin-top: 14px;
}
.legend span {
  display: inline-flex;
  align-items: center;
  gap: 5px;
}
</style>
