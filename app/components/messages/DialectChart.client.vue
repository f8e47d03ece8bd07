<script setup lang="ts">
/** Bytes and time of the longest command, dialect by dialect, for the same table. */
import VueApexCharts from 'vue3-apexcharts'
import type { Compared } from '../../../core/links/budget'
import { DIALECTS } from '../../../core/design/dialects/rows'

const props = defineProps<{ compared: readonly Compared[]; now: string }>()
const ink = (name: string) =>
  getComputedStyle(document.documentElement).getPropertyValue(name).trim()
const names = computed(() =>
  props.compared.map(
    c =>
      `${DIALECTS[c.kind].short ?? DIALECTS[c.kind].name}${c.kind === props.now ? ' (now)' : ''}`,
  ),
)
const series = computed(() => [
  { name: 'longest command', data: props.compared.map(c => Number(c.commandMs.toFixed(2))) },
])
const options = computed(() => ({
  chart: {
    type: 'bar' as const,
    toolbar: { show: false },
    animations: { enabled: false },
    fontFamily: 'inherit',
    background: 'transparent',
    foreColor: ink('--ink'),
    parentHeightOffset: 0,
  },
  plotOptions: {
    bar: {
      horizontal: true,
      distributed: true,
      barHeight: '58%',
      dataLabels: { position: 'bottom' as const },
    },
  },
  colors: props.compared.map(c => ink(c.kind === props.now ? '--ink' : '--second')),
  dataLabels: {
    enabled: true,
    textAnchor: 'start' as const,
    offsetX: 4,
    style: { colors: [ink('--raised')], fontSize: '11px' },
    formatter: (_: number, at: { dataPointIndex: number }) =>
      `${props.compared[at.dataPointIndex]?.bytes} B`,
  },
  legend: { show: false },
  grid: { borderColor: ink('--rule'), padding: { left: 0, right: 12, top: -18, bottom: -4 } },
  xaxis: {
    categories: names.value,
    title: { text: 'ms on the wire', style: { fontWeight: 400 } },
    labels: { formatter: (ms: string) => Number(ms).toFixed(0) },
  },
  yaxis: { labels: { maxWidth: 130 } },
  tooltip: { enabled: false },
  states: { hover: { filter: { type: 'none' } }, active: { filter: { type: 'none' } } },
}))
</script>

<template>
  <VueApexCharts
    type="bar"
    :height="34 * compared.length + 50"
    :options="options"
    :series="series"
  />
</template>
