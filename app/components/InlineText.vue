<script setup lang="ts">
/** A text that is edited where it stands: press it or Enter, type, Enter keeps, Escape leaves. */
const props = defineProps<{ value: string; label: string; mono?: boolean; maxlength?: number }>()
const emit = defineEmits<{ change: [text: string] }>()
const editing = ref(false)
const text = ref('')
const field = useTemplateRef<HTMLInputElement>('field')

async function start(): Promise<void> {
  text.value = props.value
  editing.value = true
  await nextTick()
  field.value?.select()
}
function keep(): void {
  if (!editing.value) return
  editing.value = false
  const next = text.value.trim()
  if (next !== props.value) emit('change', next)
}
defineExpose({ start })
</script>

<template>
  <input
    v-if="editing"
    ref="field"
    v-model="text"
    class="field"
    :class="{ wire: mono }"
    :aria-label="label"
    :maxlength="maxlength ?? 40"
    @keydown.enter.prevent="keep"
    @keydown.escape.stop="editing = false"
    @blur="keep"
  />
  <button
    v-else
    type="button"
    class="plain shown"
    :class="{ wire: mono }"
    :title="`Rename: ${label}`"
    @click="start"
  >
    <slot>{{ value }}</slot>
  </button>
</template>

<style scoped>
.shown {
  font: inherit;
  cursor: text;
  border-bottom: 1px dotted transparent;
}
.shown.wire,
.field.wire {
  font-family: var(--mono);
  font-weight: 600;
}
.shown:hover {
  border-bottom-color: var(--second);
}
.field {
  font: inherit;
  color: inherit;
  background: var(--raised);
  border: 1px solid var(--cursor);
  border-radius: 2px;
  padding: 1px 4px;
  width: 100%;
  min-width: 0;
}
</style>
