<script setup lang="ts">
/** The circuit of the board, sheet by sheet; a press on a part opens what belongs to its pin. */
import { circuitSheets } from '../../../core/sides/circuit/draw'
import type { Design } from '../../../core/design/schema'

const props = defineProps<{ design: Design; selected: string | null }>()
const emit = defineEmits<{ select: [needId: string | null] }>()
const sheets = computed(() => circuitSheets(props.design, { cropped: true }))
const root = useTemplateRef<HTMLElement>('root')

function press(event: MouseEvent): void {
  const part = (event.target as Element).closest<SVGElement>('[data-need]')
  emit('select', part?.dataset.need ?? null)
}
/** What is chosen stands out. */
watch(
  [() => props.selected, sheets, root],
  () =>
    root.value
      ?.querySelectorAll<SVGElement>('[data-need]')
      .forEach(p => p.classList.toggle('chosen', p.dataset.need === props.selected)),
  { flush: 'post', immediate: true },
)
</script>

<template>
  <div ref="root" class="sheets" @click="press">
    <!-- eslint-disable vue/no-v-html -- drawn here; names of makers are escaped -->
    <figure v-for="(s, i) in sheets" :key="i" :aria-label="s.title" v-html="s.svg" />
    <!-- eslint-enable vue/no-v-html -->
  </div>
</template>

<style scoped>
.sheets {
  display: grid;
  gap: 16px;
  padding: 14px 20px 24px;
}
figure {
  margin: 0;
  border: 1px solid var(--rule-strong);
  background: #fff;
}
figure :deep(svg) {
  display: block;
  width: 100%;
  height: auto;
}
figure :deep([data-need]) {
  cursor: pointer;
}
figure :deep(.chosen .symbol) {
  stroke-width: 3;
}
</style>
