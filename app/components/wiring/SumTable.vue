<script setup lang="ts">
/**
 * All sums at a glance, the worst first: how much of what is allowed each takes. A press opens the
 * part.
 */
import type { WiringSum } from '../../../core/electrical/wiring-sum'
import { loadOf } from '../../../core/design/find'
import { wiredControls } from '../../../core/design/wired'
import { needs } from '../../../core/design/pins'
import type { Design } from '../../../core/design/schema'

const props = defineProps<{ design: Design; sums: WiringSum[]; selected: string | null }>()
const emit = defineEmits<{ select: [needId: string | null] }>()
/** Where each sum belongs: the need that a press opens, and the name of its part. */
function partOf(of: WiringSum): string {
  // A control may ask for a load of another board.
  const wired = wiredControls(props.design).find(c => c.control.id === of.controlId)
  if (wired) return `${wired.loadName}, hand control`
  if (of.loadId) return loadOf(props.design, of.loadId).name
  if (of.path.startsWith('/front')) return props.design.front?.name ?? ''
  const linkId = linkIdOf(of)
  return (
    props.design.sensors.find(s => s.id === of.sensorId)?.name
    ?? props.design.links.find(l => l.id === linkId)?.name
    ?? 'Board'
  )
}
const linkIdOf = (of: WiringSum) =>
  of.id.startsWith('link:') ? of.id.slice(5).split(' ')[0] : null
const rows = computed(() =>
  props.sums
    .map(of => {
      const all = needs(props.design)
      const worst = of.sum?.limits.toSorted((a, b) => b.used - a.used)[0]
      const linkId = linkIdOf(of)
      const needId = of.path.startsWith('/front')
        ? 'front:receive'
        : (all.find(n =>
            of.controlId
              ? n.controlId === of.controlId
              : of.sensorId
                ? n.sensorId === of.sensorId
                : of.loadId
                  ? n.loadId === of.loadId && n.line !== null
                  : linkId !== null && n.linkId === linkId,
          )?.id ?? null)
      return { of, needId, worst, used: of.sum ? (worst?.used ?? 0) : Infinity, part: partOf(of) }
    })
    .sort((a, b) => b.used - a.used),
)
const percent = (used: number) =>
  Number.isFinite(used) ? (used > 99 ? '> 9900 %' : `${Math.round(used * 100)} %`) : 'not computed'
</script>

<template>
  <div class="sums">
    <h2>Sums, what is nearest to its limit first</h2>
    <table class="ruled">
      <thead>
        <tr>
          <th>Part</th>
          <th>Sum</th>
          <th>Limit</th>
          <th class="number">Used</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="r in rows"
          :key="r.of.id"
          :class="{ chosen: selected !== null && r.needId === selected }"
        >
          <th scope="row">
            <button type="button" class="plain" @click="emit('select', r.needId)">
              {{ r.part }}
            </button>
          </th>
          <td>{{ r.of.title }}</td>
          <td class="second">{{ r.worst?.words ?? r.of.refused }}</td>
          <td class="number" :class="{ differs: !r.of.sum?.ok }">
            <StateGlyph :state="r.of.sum?.ok ? 'in step' : 'stale'" /> {{ percent(r.used) }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.sums {
  padding: 6px 20px 24px;
}
.sums h2 {
  margin-bottom: 6px;
}
tr.chosen > * {
  background: var(--raised);
}
.ruled td,
.ruled tbody th {
  padding-top: 4px !important;
  padding-bottom: 4px !important;
  vertical-align: middle !important;
}
.number :deep(.glyph) {
  vertical-align: -2px;
}
</style>
