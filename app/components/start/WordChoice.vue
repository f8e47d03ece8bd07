<script setup lang="ts">
/** A word of the sentence that is a choice: press it, and choose another. */
defineProps<{
  /** Words that stand in the sentence. */
  words: string
  /** What is chosen, for who cannot see it. */
  label: string
  options: readonly { value: string; words: string; detail?: string; chosen?: boolean }[]
  /** An invitation rather than a word. */
  open?: boolean
}>()
const emit = defineEmits<{ choose: [value: string] }>()
</script>

<template>
  <el-dropdown
    :persistent="false"
    trigger="click"
    popper-class="word-choice"
    @command="(v: string) => emit('choose', v)"
  >
    <button type="button" class="choice-word" :class="{ open }" :aria-label="`${label}: ${words}`">
      {{ words }}
    </button>
    <template #dropdown>
      <el-dropdown-menu>
        <el-dropdown-item v-for="o in options" :key="o.value" :command="o.value">
          <span
            ><strong v-if="o.chosen">{{ o.words }}</strong
            ><template v-else>{{ o.words }}</template>
            <span v-if="o.detail" class="detail second small">{{ o.detail }}</span></span
          >
        </el-dropdown-item>
      </el-dropdown-menu>
    </template>
  </el-dropdown>
</template>

<style scoped>
.el-dropdown {
  font: inherit;
  color: inherit;
  line-height: inherit;
  vertical-align: baseline;
}
.choice-word.open {
  font-weight: 400;
  color: var(--second);
  border-bottom: 2px dashed var(--rule-strong);
}
.detail {
  display: block;
  max-width: 320px;
  white-space: normal;
  line-height: 1.35;
}
</style>
