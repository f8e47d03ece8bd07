<script setup lang="ts">
/**
 * Verdict as a shape: filled = in step or kept, hatched = can go stale or broken, half = can stay
 * unsure, filled with a hand like that of a watch = kept by timing, filled but for a quarter = kept
 * in what was examined, hollow = shows nothing, dotted = not examined.
 */
import type { CellState } from '../../core/checks/sheet'

const props = defineProps<{ state: CellState; label?: string }>()
const WORDS: Record<CellState, string> = {
  'in step': 'in step',
  holds: 'holds',
  'in time': 'holds by timing',
  'in part': 'holds, in part',
  stale: 'can go stale',
  broken: 'broken',
  unsure: 'can stay unsure',
  'shows nothing': 'shows nothing',
  'not examined': 'not examined',
}
const id = useId()
const filled = computed(
  () => props.state === 'in step' || props.state === 'holds' || props.state === 'in time',
)
const hatched = computed(() => props.state === 'stale' || props.state === 'broken')
</script>

<template>
  <svg
    class="glyph"
    :class="{
      kept: filled || props.state === 'in part',
      differs: hatched,
      wait: props.state === 'unsure',
      open: props.state === 'not examined',
    }"
    viewBox="0 0 14 14"
    width="14"
    height="14"
    role="img"
    :aria-label="props.label ?? WORDS[props.state]"
  >
    <defs>
      <pattern
        :id="id"
        width="3.2"
        height="3.2"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <rect width="1.5" height="3.2" fill="currentColor" />
      </pattern>
    </defs>
    <circle
      cx="7"
      cy="7"
      r="5.6"
      :fill="filled ? 'currentColor' : hatched ? `url(#${id})` : 'none'"
      stroke="currentColor"
      stroke-width="1.6"
      :stroke-dasharray="props.state === 'not examined' ? '1.6 1.9' : undefined"
    />
    <path v-if="props.state === 'unsure'" d="M7 1.4a5.6 5.6 0 0 1 0 11.2z" fill="currentColor" />
    <path
      v-if="props.state === 'in part'"
      d="M7 1.4a5.6 5.6 0 1 1-5.6 5.6h5.6z"
      fill="currentColor"
    />
    <path
      v-if="props.state === 'in time'"
      class="hand"
      d="M7 3.2v4h3"
      fill="none"
      stroke-width="1.5"
    />
  </svg>
</template>

<style scoped>
.glyph {
  flex: none;
  color: var(--rule-strong);
}
.kept {
  color: var(--step);
}
.differs {
  color: var(--differs);
}
.wait {
  color: var(--wait);
}
.open {
  color: var(--second);
}
.hand {
  stroke: var(--raised);
}
</style>
