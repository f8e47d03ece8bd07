<script setup lang="ts">
/** Where the walk is, and what is next. */
import { useFindingsStore } from '../../stores/findings'
import { WALK } from './walk-steps'

const props = defineProps<{ view: string }>()
const emit = defineEmits<{ go: [view: string] }>()
const walk = useWalk()
const findings = useFindingsStore()
const step = computed(() => WALK[walk.value.done])

const isDone = computed(() => step.value?.done(props.view) === true)
// What the next one looks at is looked at once the one before is done.
watch(
  [isDone, () => walk.value.done],
  ([yes]) => {
    if (yes) walk.value = { ...walk.value, done: walk.value.done + 1 }
  },
  { immediate: true },
)
const there = computed(
  () => props.view === step.value?.view && (findings.open || !step.value.beside),
)
function show(): void {
  if (!step.value) return
  findings.open = step.value.beside === true
  emit('go', step.value.view)
}
</script>

<template>
  <section class="walk" aria-label="Walk" aria-live="polite">
    <ol class="marks" aria-hidden="true">
      <li v-for="(s, i) in WALK" :key="s.title" :class="{ past: i < walk.done }" />
    </ol>
    <p v-if="step" class="words">
      <strong>{{ walk.done + 1 }} of {{ WALK.length }} · {{ step.title }}</strong>
      {{ ' ' }}<ExplainedText :text="step.words" />
    </p>
    <p v-else class="words">
      <strong>That is the whole way.</strong> Found, seen, repaired, proved, built, and pressed on
      its machine code. Your own begins on the shelf.
    </p>
    <el-button v-if="step && !there" type="primary" size="small" @click="show">Show me</el-button>
    <NuxtLink v-if="!step" to="/" class="el-button el-button--small">To the shelf</NuxtLink>
    <el-button size="small" @click="walk = { designId: '', done: 0 }">{{
      step ? 'Leave the walk' : 'Done'
    }}</el-button>
  </section>
</template>

<style scoped>
.walk {
  flex: none;
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 8px 20px;
  border-top: 2px solid var(--ink);
  background: var(--raised);
}
.walk :deep(.el-button) {
  margin: 0;
}
.marks {
  display: flex;
  gap: 3px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.marks li {
  width: 9px;
  height: 9px;
  border: 1.5px solid var(--ink);
}
.marks .past {
  background: var(--ink);
}
.words {
  flex: 1;
  min-width: 0;
  margin: 0;
}
@media (max-width: 700px) {
  .walk {
    flex-wrap: wrap;
    gap: 8px;
    padding: 8px 12px;
  }
  .words {
    flex-basis: 100%;
    order: -1;
  }
}
</style>
