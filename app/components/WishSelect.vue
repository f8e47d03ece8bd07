<script setup lang="ts">
/** What a press, a gesture or a side asks for: nothing, a load for something, a scene. */
import type { Wish } from '../composables/wishes'

defineProps<{ words: string; value: string; wishes: readonly Wish[] }>()
const emit = defineEmits<{ change: [wish: string] }>()
</script>

<template>
  <dt>{{ words }}</dt>
  <dd>
    <el-select
      :model-value="value"
      :empty-values="[null]"
      size="small"
      :aria-label="words"
      @change="(wish: string) => emit('change', wish)"
      ><el-option value="" label="nothing" /><el-option
        v-for="w in wishes"
        :key="w.value"
        :value="w.value"
        :label="w.label"
    /></el-select>
  </dd>
</template>
