<script setup lang="ts">
/** When something is down: what each surface still works for, in the sheet's columns. */
import { outageTable } from '../../../core/checks/sheet'
import type { Design } from '../../../core/design/schema'

const props = defineProps<{ design: Design }>()
const rows = computed(() => outageTable(props.design))
</script>

<template>
  <h2 class="head">When something is down</h2>
  <table class="outages">
    <tbody>
      <tr v-for="row in rows" :key="row.outage.id">
        <th scope="row">{{ row.outage.name }}</th>
        <td v-for="(cell, c) in row.cells" :key="c" :class="{ none: !cell.works && cell.loads }">
          {{ cell.loads === 0 ? 'switches nothing' : cell.works ? `works for all ${cell.loads}` : 'works for none' }}
        </td>
        <td class="add" />
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.head { margin: 22px 0 6px; }
.outages { border-collapse: collapse; width: 100%; border-top: 1px solid var(--rule-strong); }
.outages th { text-align: left; font-weight: 400; width: 206px; padding: 5px 10px 5px 0; border-bottom: 1px solid var(--rule); }
.outages th::first-letter { text-transform: uppercase; }
.outages td { padding: 5px 10px; border-bottom: 1px solid var(--rule); border-left: 1px solid var(--rule); color: var(--second); min-width: 142px; font-size: 13.5px; }
.outages td.none { color: var(--differs); font-weight: 700; text-decoration: line-through; }
.outages td.add { min-width: 0; width: 90px; border-left: 0; border-bottom-color: transparent; }
</style>
