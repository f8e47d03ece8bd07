<script setup lang="ts">
/**
 * One cell: verdict, what the surface says, what it hears. Enter or a double press edits the codes
 * in place.
 */
import type { Cell } from '../../../core/checks/sheet'
import { linkOf, maybeMessage } from '../../../core/design/find'
import type { Design, Load, Surface } from '../../../core/design/schema'
import { wishLabel } from '../../../core/messages/clashes'
import { wishesShown } from '../../../core/messages/table'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{
  cell: Cell
  load: Load
  surface: Surface
  design: Design
  at: string
}>()
const emit = defineEmits<{ select: [] }>()
const designs = useDesignStore()
const editing = ref(false)
const codes = ref<Record<string, string>>({})
const editor = useTemplateRef<HTMLFormElement>('editor')
const message = computed(() =>
  props.surface.kind !== 'hand'
    ? maybeMessage(linkOf(props.design, props.surface.linkId), props.load.id)
    : undefined,
)

async function edit(): Promise<void> {
  emit('select')
  if (!message.value) return
  codes.value = { ...message.value.codes }
  editing.value = true
  await nextTick()
  editor.value?.querySelector('input')?.select()
}
function keep(): void {
  if (!editing.value || props.surface.kind === 'hand' || !message.value) return
  const trimmed = Object.fromEntries(
    Object.entries(codes.value).map(([v, code]) => [v, code.trim()]),
  )
  const before = message.value.codes
  if (Object.keys(before).every(v => before[v] === trimmed[v])) editing.value = false
  else if (
    designs.apply({
      type: 'assignCodes',
      linkId: props.surface.linkId,
      codes: { [props.load.id]: trimmed },
    })
  )
    editing.value = false
}
function left(event: FocusEvent): void {
  if (!(event.currentTarget as HTMLElement).contains(event.relatedTarget as Node | null)) keep()
}
</script>

<template>
  <form
    v-if="editing"
    ref="editor"
    class="editor"
    @submit.prevent="keep"
    @keydown.escape.stop="editing = false"
    @focusout="left"
  >
    <label v-for="v in message ? wishesShown(load, message) : []" :key="v"
      >{{ wishLabel(load.output, v) }}
      <input
        v-model="codes[v]"
        class="wire"
        :aria-label="`${load.name} ${v}, ${surface.name}`"
        maxlength="80"
    /></label>
    <button type="submit" class="visually-hidden">Keep</button>
  </form>
  <button
    v-else
    type="button"
    class="plain cell"
    :data-at="at"
    :title="message ? 'Enter or a double press edits the codes' : undefined"
    @click="emit('select')"
    @dblclick="edit"
    @keydown.enter.prevent="edit"
  >
    <StateGlyph :state="cell.state" />
    <span class="strips">
      <span class="says wire"><span class="arrow">→</span> {{ cell.says }}</span>
      <span class="hears" :class="{ silent: cell.hears === 'hears nothing' }"
        ><span class="arrow">←</span> {{ cell.hears }}</span
      >
    </span>
  </button>
</template>

<style scoped>
.cell {
  display: flex;
  gap: 8px;
  width: 100%;
  min-height: 75px;
  padding: 11px 8px 8px 10px;
  align-items: flex-start;
}
.cell :deep(svg) {
  margin-top: 2px;
}
.strips {
  display: grid;
  gap: 4px;
  min-width: 0;
}
.says {
  overflow-wrap: anywhere;
  line-height: 1.3;
}
.hears {
  color: var(--second);
  font-size: 13px;
  line-height: 1.3;
}
.hears.silent {
  color: var(--differs);
  font-weight: 700;
}
.arrow {
  color: var(--ink);
  font-family: var(--sans);
}
.editor {
  display: grid;
  gap: 4px;
  padding: 8px;
}
.editor label {
  display: flex;
  gap: 6px;
  align-items: center;
  font-size: 13px;
  color: var(--second);
}
.editor input {
  width: 100%;
  min-width: 0;
  background: var(--raised);
  color: var(--ink);
  border: 1px solid var(--cursor);
  border-radius: 2px;
  padding: 3px 5px;
}
</style>
