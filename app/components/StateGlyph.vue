<script setup lang="ts">
/** Verdict as a shape: filled = in step, hatched = can go stale, half = can stay unsure, hollow = shows nothing, dotted = not examined. */
import type { CellState } from '../../core/checks/sheet'

const props = defineProps<{ state: CellState, label?: string }>()
const WORDS: Record<CellState, string> = { 'in step': 'in step', 'stale': 'can go stale', 'unsure': 'can stay unsure', 'shows nothing': 'shows nothing', 'not examined': 'not examined' }
const id = useId()
</script>

<template>
  <svg
    class="glyph" :class="props.state.replace(' ', '-')" viewBox="0 0 14 14" width="14" height="14"
    role="img" :aria-label="props.label ?? WORDS[props.state]"
  >
    <defs>
      <pattern :id="id" width="3.2" height="3.2" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="1.5" height="3.2" fill="currentColor" />
      </pattern>
    </defs>
    <circle cx="7" cy="7" r="5.6" :fill="props.state === 'in step' ? 'currentColor' : props.state === 'stale' ? `url(#${id})` : 'none'" stroke="currentColor" stroke-width="1.6" :stroke-dasharray="props.state === 'not examined' ? '1.6 1.9' : undefined" />
    <path v-if="props.state === 'unsure'" d="M7 1.4a5.6 5.6 0 0 1 0 11.2z" fill="currentColor" />
  </svg>
</template>

<style scoped>
.glyph { flex: none; color: var(--rule-strong); }
.in-step { color: var(--step); }
.stale { color: var(--differs); }
.unsure { color: var(--wait); }
.not-examined { color: var(--second); }
</style>
