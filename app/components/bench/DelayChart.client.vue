<script setup lang="ts">
/**
 * How long surfaces take to show a change: the share of changes that are shown within each time.
 */
import VueApexCharts from 'vue3-apexcharts'

const props = defineProps<{
  series: { name: string; bars: { fromMs: number; toMs: number; count: number }[] }[]
}>()
const ink = (name: string) =>
  getComputedStyle(document.documentElement).getPropertyValue(name).trim()
const TIMES = [10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000, 60_000, 600_000]
const words = (ms: number) =>
  ms < 1000 ? `${ms} ms` : ms < 60_000 ? `${ms / 1000} s` : `${ms / 60_000} min`
const series = computed(() =>
  props.series
    .filter(s => s.bars.length)
    .map(s => {
      const all = s.bars.reduce((n, b) => n + b.count, 0)
      return {
        name: s.name,
        data: TIMES.map(t =>
          Number(
            (
              (s.bars.filter(b => b.toMs <= t * 1.001).reduce((n, b) => n + b.count, 0) / all)
              * 100
            ).toFixed(1),
          ),
        ),
      }
    }),
)
const options = computed(() => ({
  chart: {
    type: 'line' as const,
    toolbar: { show: false },
    animations: { enabled: false },
    fontFamily: 'inherit',
    background: 'transparent',
    foreColor: ink('--ink'),
    parentHeightOffset: 0,
  },
  colors: [ink('--ink'), ink('--cursor'), ink('--wait'), ink('--second')],
  stroke: { width: 2, curve: 'stepline' as const, dashArray: [0, 5, 2, 8] },
  legend: {
    show: series.value.length > 1,
    position: 'top' as const,
    horizontalAlign: 'left' as const,
    offsetX: -8,
    markers: { size: 4 },
  },
  grid: { borderColor: ink('--rule'), padding: { left: 4, right: 8, top: -10, bottom: -4 } },
  xaxis: {
    categories: TIMES.map(words),
    labels: { rotate: -55, hideOverlappingLabels: false },
    tickPlacement: 'on' as const,
    tooltip: { enabled: false },
  },
  yaxis: {
    min: 0,
    max: 100,
    tickAmount: 4,
    labels: { formatter: (v: number) => `${v.toFixed(0)} %` },
  },
  tooltip: { enabled: true, shared: true, y: { formatter: (v: number) => `${v} % by then` } },
}))
</script>

<template>
  <VueApexCharts
    v-if="series.length"
    type="line"
    :height="210"
    :options="options"
    :series="series"
  />
  <p v-else class="second small">No change has been shown yet.</p>
</template>
