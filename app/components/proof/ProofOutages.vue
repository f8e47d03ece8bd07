<script setup lang="ts">
/**
 * What still works when something is out, tried on the bench: each fault happens, then every
 * control is pressed.
 */
import type { Design } from '../../../core/design/schema'
import type { OutageRow } from '../../../core/proof/outages'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design }>()
const designs = useDesignStore()
const doubles = ref(false)
const rows = shallowRef<OutageRow[]>([])
const trying = ref(false)
const trouble = ref('')
let turn = 0
watch(
  () => [props.design, doubles.value] as const,
  async ([design, both]) => {
    const mine = ++turn
    trying.value = true
    trouble.value = ''
    const parts = await coreWorker('repair')
      .outages(
        designs.parts.map(p => toRaw(p.part)),
        both,
      )
      .catch((error: Error) => {
        if (mine === turn) trouble.value = error.message
        return []
      })
    if (mine !== turn || design !== props.design) return
    trying.value = false
    const names = [...new Set(parts.flat().map(r => r.name))]
    // A surface may be wired to several boards: its loads are counted together.
    rows.value = names.map(name => {
      const all = parts.flat().filter(r => r.name === name)
      return {
        outages: all[0]?.outages ?? [],
        name,
        cells: design.surfaces.map(s =>
          all
            .flatMap(r => r.cells.filter(c => c.surfaceId === s.id))
            .reduce(
              (sum, c) => ({
                surfaceId: s.id,
                loads: sum.loads + c.loads,
                works: sum.works + c.works,
              }),
              { surfaceId: s.id, loads: 0, works: 0 },
            ),
        ),
      }
    })
  },
  { immediate: true },
)
const words = (c: { loads: number; works: number }) =>
  c.loads === 0
    ? 'switches nothing'
    : c.works === c.loads
      ? `works for all ${c.loads}`
      : c.works
        ? `works for ${c.works} of ${c.loads}`
        : 'works for none'
</script>

<template>
  <section>
    <div class="row">
      <h2>What still works when something is out</h2>
      <el-checkbox v-model="doubles">two at once as well</el-checkbox
      ><span v-if="trying" class="second small" role="status">trying</span>
    </div>
    <p v-if="trouble" class="differs small" role="alert">{{ trouble }}</p>
    <p class="second small">
      Tried on the bench: the fault happens, then every key, button and switch is pressed, and it is
      seen whether the load moves.
    </p>
    <table class="ruled">
      <thead>
        <tr>
          <th scope="col">Out</th>
          <th v-for="s in design.surfaces" :key="s.id" scope="col">{{ s.name }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.name">
          <th scope="row" class="name">{{ row.name }}</th>
          <td v-for="c in row.cells" :key="c.surfaceId" :class="{ none: c.loads && !c.works }">
            {{ words(c) }}
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  gap: 18px;
  align-items: center;
  flex-wrap: wrap;
}
.name::first-letter {
  text-transform: uppercase;
}
.name {
  font-weight: 400;
}
td {
  color: var(--second);
}
td.none {
  color: var(--differs);
  font-weight: 700;
  text-decoration: line-through;
}
p {
  margin: 4px 0 8px;
}
</style>
