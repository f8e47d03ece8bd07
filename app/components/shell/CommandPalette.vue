<script setup lang="ts">
/** Everything by typing: views, undo, fixes of findings. */
export interface Command {
  words: string
  hint: string
  run: () => void
}

const props = defineProps<{ commands: readonly Command[] }>()
const open = defineModel<boolean>({ required: true })
const text = ref('')
const at = ref(0)
const field = useTemplateRef<HTMLInputElement>('field')
const matching = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  return props.commands
    .filter(c => words.every(w => `${c.words} ${c.hint}`.toLowerCase().includes(w)))
    .slice(0, 12)
})

watch(open, async isOpen => {
  text.value = ''
  at.value = 0
  await nextTick()
  if (isOpen) field.value?.focus()
})
watch(text, () => {
  at.value = 0
})

function go(command: Command | undefined): void {
  open.value = false
  command?.run()
}
function move(by: number): void {
  at.value = Math.max(0, Math.min(matching.value.length - 1, at.value + by))
}
</script>

<template>
  <div
    v-if="open"
    class="palette"
    role="dialog"
    aria-label="Commands"
    @keydown.escape="open = false"
    @focusout="
      e => {
        if (e.relatedTarget && !(e.currentTarget as HTMLElement).contains(e.relatedTarget as Node))
          open = false
      }
    "
  >
    <input
      ref="field"
      v-model="text"
      placeholder="What do you want to do?"
      aria-label="Command"
      role="combobox"
      aria-controls="palette-list"
      aria-expanded="true"
      :aria-activedescendant="`palette-${at}`"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.enter.prevent="go(matching[at])"
    />
    <ul id="palette-list" role="listbox" aria-label="Commands">
      <li
        v-for="(command, i) in matching"
        :id="`palette-${i}`"
        :key="command.words + i"
        role="option"
        :aria-selected="i === at"
        @mousedown.prevent="go(command)"
        @mouseenter="at = i"
      >
        <span>{{ command.words }}</span><span class="second small">{{ command.hint }}</span>
      </li>
    </ul>
    <p v-if="!matching.length" class="second none">Nothing by that name.</p>
  </div>
</template>

<style scoped>
.palette {
  position: fixed;
  top: 60px;
  left: 50%;
  translate: -50% 0;
  width: min(560px, 94vw);
  background: var(--raised);
  border: 2px solid var(--ink);
  z-index: 40;
}
input {
  width: 100%;
  border: 0;
  border-bottom: 1px solid var(--rule-strong);
  background: none;
  color: inherit;
  font: 600 16px var(--sans);
  padding: 12px 14px;
  outline-offset: -4px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 4px 0;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 14px;
  padding: 7px 14px;
  cursor: pointer;
}
li[aria-selected='true'] {
  background: var(--ink);
  color: var(--raised);
}
li[aria-selected='true'] .second {
  color: inherit;
}
.none {
  padding: 4px 14px 12px;
}
</style>
