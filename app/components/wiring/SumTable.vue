<script setup lang="ts">
/** All sums at a glance, the worst first: how much of what is allowed each takes. A press opens the part. */
import type { WiringSum } from '../../../core/electrical/of-design'
import { loadOf } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'

const props = defineProps<{ design: Design, sums: WiringSum[], selected: string | null }>()
const emit = defineEmits<{ select: [needId: string | null] }>()
const rows = computed(() => props.sums.map((of) => {
  const worst = of.sum?.limits.toSorted((a, b) => b.used - a.used)[0]
  const needId = of.controlId ? `control:${of.controlId}` : of.loadId ? `load:${of.loadId}` : null
  return { of, needId, worst, used: of.sum ? worst?.used ?? 0 : Infinity, part: of.loadId ? `${loadOf(props.design, of.loadId).name}${of.controlId ? ', hand control' : ''}` : 'Board' }
}).sort((a, b) => b.used - a.used))
const percent = (used: number) => Number.isFinite(used) ? used > 99 ? '> 9900 %' : `${Math.round(used * 100)} %` : 'not computed'
</script>

<template>
  <div class="sums">
    <h2>Sums, what is nearest to its limit first</h2>
    <table class="ruled">
      <thead><tr><th>Part</th><th>Sum</th><th>Limit</th><th class="number">Used</th></tr></thead>
      <tbody>
        <tr v-for="r in rows" :key="r.of.id" :class="{ chosen: selected !== null && r.needId === selected }">
          <th scope="row"><button type="button" class="plain" @click="emit('select', r.needId)">{{ r.part }}</button></th>
          <td>{{ r.of.title }}</td>
          <td class="second">{{ r.worst?.words ?? r.of.refused }}</td>
          <td class="number" :class="{ differs: !r.of.sum?.ok }"><StateGlyph :state="r.of.sum?.ok ? 'in step' : 'stale'" /> {{ percent(r.used) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.sums { padding: 6px 20px 24px; }
.sums h2 { margin-bottom: 6px; }
tr.chosen > * { background: var(--raised); }
.ruled td, .ruled tbody th { padding-top: 4px !important; padding-bottom: 4px !important; vertical-align: middle !important; }
.number :deep(.glyph) { vertical-align: -2px; }
</style>
