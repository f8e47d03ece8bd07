<script setup lang="ts">
/** Times there and back that were measured, with what the design expects beside them. */
import VueApexCharts from 'vue3-apexcharts'

const props = defineProps<{
  bars: readonly { fromMs: number; toMs: number; count: number }[]
  designed: { typicalMs: number; p99Ms: number }
}>()
const ink = (name: string) =>
  getComputedStyle(document.documentElement).getPropertyValue(name).trim()
/** As far as both reach. */
const most = computed(() => Math.max(props.designed.p99Ms * 1.1, ...props.bars.map(b => b.toMs)))
const series = computed(() => [
  { name: 'answers', data: props.bars.map(b => ({ x: (b.fromMs + b.toMs) / 2, y: b.count })) },
])
const line = (x: number, text: string) => ({
  x,
  borderColor: ink('--step'),
  strokeDashArray: 4,
  label: {
    text,
    orientation: 'horizontal',
    textAnchor: x > most.value / 2 ? 'end' : 'start',
    borderWidth: 0,
    offsetY: 2,
    style: { background: 'transparent', color: ink('--step'), fontSize: '12.5px' },
  },
})
const options = computed(() => ({
  chart: {
    type: 'bar' as const,
    toolbar: { show: false },
    zoom: { enabled: false },
    animations: { enabled: false },
    fontFamily: 'inherit',
    background: 'transparent',
    foreColor: ink('--ink'),
    parentHeightOffset: 0,
  },
  colors: [ink('--ink')],
  plotOptions: { bar: { columnWidth: '80%' } },
  dataLabels: { enabled: false },
  grid: { show: false, padding: { left: 14, right: 10, top: -14, bottom: -6 } },
  xaxis: {
    type: 'numeric' as const,
    min: 0,
    max: most.value,
    tickAmount: 4,
    labels: { formatter: (v: string) => `${Math.round(Number(v))} ms` },
    tooltip: { enabled: false },
  },
  yaxis: { show: false },
  tooltip: { enabled: true, y: { formatter: (v: number) => `${v} answers` } },
  annotations: {
    xaxis: [
      line(props.designed.typicalMs, 'typical, designed'),
      {
        ...line(props.designed.p99Ms, '99th'),
        label: { ...line(props.designed.p99Ms, '99th').label, offsetY: 18 },
      },
    ],
  },
}))
</script>

<template>
  <VueApexCharts type="bar" :height="150" :options="options" :series="series" />
</template>
