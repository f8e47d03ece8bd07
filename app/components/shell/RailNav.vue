<script setup lang="ts">
/** The rail follows the work. */
import { VIEW_GROUPS, VIEWS } from '../../composables/views'

const props = defineProps<{
  designId: string
  night: boolean
  canUndo: boolean
  canRedo: boolean
}>()
const emit = defineEmits<{ night: []; undo: []; redo: []; keys: [] }>()
const nav = useTemplateRef('nav')
const route = useRoute()
/** On narrow glass the rail lies across and is longer than it: where one is has to be seen. */
function showHere(): void {
  nav.value?.querySelector('.here')?.scrollIntoView({ block: 'nearest', inline: 'center' })
}
onMounted(showHere)
watch(() => route.path, showHere, { flush: 'post' })
</script>

<template>
  <nav ref="nav" class="rail" aria-label="Views">
    <template v-for="view in VIEWS" :key="view.id">
      <hr v-if="VIEW_GROUPS.has(view.id)" />
      <NuxtLink
        :to="`/d/${props.designId}/${view.id}`"
        class="go"
        active-class="here"
        :title="view.purpose"
        ><kbd aria-hidden="true">{{ view.key.toUpperCase() }}</kbd
        >{{ view.name }}</NuxtLink
      >
    </template>
    <div class="foot">
      <button type="button" class="plain" :disabled="!canUndo" title="Ctrl+Z" @click="emit('undo')">
        undo
      </button>
      <button type="button" class="plain" :disabled="!canRedo" title="Ctrl+Y" @click="emit('redo')">
        redo
      </button>
      <button type="button" class="plain" :aria-pressed="night" @click="emit('night')">
        {{ night ? 'day' : 'night' }}
      </button>
      <button type="button" class="plain" title="?" @click="emit('keys')">keys</button>
    </div>
  </nav>
</template>

<style scoped>
.rail {
  width: 112px;
  border-right: 1px solid var(--rule-strong);
  display: flex;
  flex-direction: column;
  padding: 10px 0;
  flex: none;
}
.go {
  display: flex;
  align-items: center;
  gap: 8px;
  height: 42px;
  padding: 0 0 0 8px;
  border-left: 4px solid transparent;
  color: var(--second);
  text-decoration: none;
  font-size: 14px;
}
.go:hover {
  color: var(--ink);
}
.go.here {
  border-left-color: var(--ink);
  background: var(--raised);
  color: var(--ink);
  font-weight: 700;
}
hr {
  border: 0;
  border-top: 1px solid var(--rule-strong);
  margin: 8px 14px;
  width: auto;
}
.foot {
  margin-top: auto;
  display: flex;
  flex-direction: column;
  gap: 2px;
  padding: 0 14px;
}
.foot button {
  min-height: 26px;
  color: var(--second);
}
.foot button:disabled {
  opacity: 0.45;
  cursor: default;
}
@media (max-width: 900px) {
  .rail {
    width: 100%;
    flex-direction: row;
    overflow-x: auto;
    padding: 0;
    border-right: 0;
    border-bottom: 1px solid var(--rule-strong);
  }
  hr,
  .foot {
    display: none;
  }
}
</style>
