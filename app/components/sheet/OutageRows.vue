<script setup lang="ts">
/** When something is down: what each surface still works for, in the sheet's own columns. */
import { outageTable } from '../../../core/proof/outages'
import type { Design } from '../../../core/design/schema'

const props = defineProps<{ design: Design }>()
const rows = computed(() => outageTable(props.design))
</script>

<template>
  <tbody class="outages">
    <tr class="title-row">
      <th scope="rowgroup" :colspan="design.surfaces.length + 1">When something is down</th>
      <td class="add" />
    </tr>
    <tr v-for="row in rows" :key="row.name">
      <th scope="row">{{ row.name }}</th>
      <td
        v-for="cell in row.cells"
        :key="cell.surfaceId"
        :class="{ none: !cell.works && cell.loads }"
      >
        {{
          cell.loads === 0
            ? 'switches nothing'
            : cell.works
              ? `works for all ${cell.loads}`
              : 'works for none'
        }}
      </td>
      <td class="add" />
    </tr>
  </tbody>
</template>

<style scoped>
.title-row th {
  font-weight: 700;
  font-size: 15px;
  padding: 18px 0 6px;
  border-bottom: 1px solid var(--rule-strong);
  text-align: left;
}
th {
  text-align: left;
  font-weight: 400;
  padding: 5px 10px 5px 0;
  border-bottom: 1px solid var(--rule);
}
th::first-letter {
  text-transform: uppercase;
}
td {
  padding: 5px 10px;
  border-bottom: 1px solid var(--rule);
  border-left: 1px solid var(--rule);
  color: var(--second);
  font-size: 13.5px;
}
td.none {
  color: var(--differs);
  font-weight: 700;
  text-decoration: line-through;
}
td.add {
  border-left: 0;
  border-bottom-color: transparent;
}
</style>
