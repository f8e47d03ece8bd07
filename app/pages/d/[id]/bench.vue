<script setup lang="ts">
import { useDesignStore } from '../../../stores/design'
import { useBenchStore } from '../../../stores/bench'
import { useSelectionStore } from '../../../stores/selection'
import { benchColumns } from '../../../composables/bench-columns'

const designs = useDesignStore()
const bench = useBenchStore()
const selection = useSelectionStore()
const cursorMs = ref<number | null>(null)
const columns = computed(() => bench.part ? benchColumns(bench.part) : [])

onMounted(() => {
  const wanted = designs.design?.loads.find(l => l.id === selection.loadId)
  if (!bench.title && wanted) bench.loadId = wanted.id
})
onBeforeUnmount(() => bench.pause())
useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (event.key !== ' ' || isTyping(event.target) || event.target instanceof HTMLButtonElement) return
  event.preventDefault()
  if (bench.running) bench.pause()
  else bench.run()
})
</script>

<template>
  <div v-if="designs.design && bench.part && bench.bench" class="view bench">
    <div class="work">
      <BenchTools :design="bench.part" :loads="designs.design.loads" />
      <template v-if="bench.part.loads.length">
        <BenchHead :design="bench.part" :columns="columns" />
        <BenchTimeline v-model:cursor="cursorMs" :design="bench.part" :columns="columns" />
      </template>
      <p v-else class="second empty">Nothing to switch yet: name the first load on the <NuxtLink :to="`/d/${designs.design.id}/sheet`">sheet</NuxtLink>.</p>
    </div>
    <aside class="ticket" aria-label="Readout"><BenchReadout v-if="bench.loadId" :design="bench.part" :cursor-ms="cursorMs" /></aside>
  </div>
</template>

<style scoped>
.bench > .work { overflow: hidden; }
.empty { padding: 24px 20px; }
</style>
