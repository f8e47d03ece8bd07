<script setup lang="ts">
/** A text whose terms say what they mean, where the pointer rests or the keyboard is. */
import { explained } from '../composables/glossary'

const props = defineProps<{ text: string }>()
const words = useGlossary()
const pieces = computed(() => explained(props.text, words.value))
</script>

<template>
  <span
    ><template v-for="(p, i) in pieces" :key="i"
      ><el-tooltip
        v-if="p.means"
        :content="p.means"
        :trigger="['hover', 'focus']"
        popper-class="meaning"
        placement="bottom"
        ><span class="term" tabindex="0">{{ p.text }}</span></el-tooltip
      ><template v-else>{{ p.text }}</template></template
    ></span
  >
</template>

<style scoped>
.term {
  text-decoration: underline dotted;
  text-underline-offset: 3px;
  cursor: help;
}
</style>
<style>
.meaning {
  max-width: 320px;
}
</style>
