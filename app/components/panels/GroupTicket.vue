<script setup lang="ts">
/** Several parts at once: aligned, spread, copied, taken off. */
import type { PanelItem } from '../../../core/design/schema'
import { aligned, distributed, type Side } from '../../../core/panels/arrange'
import { boxOf, type Box } from '../../../core/panels/layout'

const props = defineProps<{ items: readonly PanelItem[] }>()
const emit = defineEmits<{ move: [boxes: Box[]]; duplicate: []; remove: [] }>()
const SIDES: [Side, string][] = [
  ['left', 'left'],
  ['centre', 'centre'],
  ['right', 'right'],
  ['top', 'top'],
  ['middle', 'middle'],
  ['bottom', 'bottom'],
]
const boxes = computed(() => props.items.map(boxOf))
/** All as large as the first that was chosen. */
const sameSize = () =>
  emit(
    'move',
    boxes.value.map(b => ({
      ...b,
      widthMm: boxes.value[0]?.widthMm ?? b.widthMm,
      heightMm: boxes.value[0]?.heightMm ?? b.heightMm,
    })),
  )
</script>

<template>
  <aside class="group-ticket" aria-label="Chosen parts">
    <h2>{{ items.length }} parts</h2>
    <h3 class="second">Align</h3>
    <div class="does">
      <el-button
        v-for="[side, words] in SIDES"
        :key="side"
        size="small"
        @click="emit('move', aligned(boxes, side))"
        >{{ words }}</el-button
      >
    </div>
    <h3 class="second">Spread evenly</h3>
    <div class="does">
      <el-button
        size="small"
        :disabled="items.length < 3"
        @click="emit('move', distributed(boxes, 'x'))"
        >across</el-button
      >
      <el-button
        size="small"
        :disabled="items.length < 3"
        @click="emit('move', distributed(boxes, 'y'))"
        >down</el-button
      >
      <el-button size="small" @click="sameSize">same size</el-button>
    </div>
    <div class="does">
      <el-button size="small" title="Ctrl+D" @click="emit('duplicate')">Copy them</el-button>
      <el-button size="small" title="Delete" @click="emit('remove')">Take them off</el-button>
    </div>
    <p class="second small">Arrows move all of them. Ctrl+A chooses the whole page.</p>
  </aside>
</template>

<style scoped>
.group-ticket {
  display: grid;
  gap: 8px;
  align-content: start;
}
h3 {
  font-size: 13px;
}
.does {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
}
.does :deep(.el-button) {
  margin: 0;
}
</style>
