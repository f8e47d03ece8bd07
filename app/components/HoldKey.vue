<script setup lang="ts">
/**
 * A key that counts while a finger stays on it, wherever the finger goes then; leaving it, or
 * losing the page, lets go.
 */
import { useEventListener } from '@vueuse/core'

const emit = defineEmits<{ down: []; up: [] }>()
const down = ref(false)
function take(): void {
  if (down.value) return
  down.value = true
  emit('down')
}
function letGo(): void {
  if (!down.value) return
  down.value = false
  emit('up')
}
useEventListener(window, ['pointerup', 'pointercancel', 'blur'], letGo)
onBeforeUnmount(letGo)
</script>

<template>
  <button
    type="button"
    class="hold"
    @pointerdown="take"
    @keydown.space.prevent="take"
    @keydown.enter.prevent="take"
    @keyup="letGo"
    @blur="letGo"
    @contextmenu.prevent
  >
    <slot />
  </button>
</template>

<style scoped>
.hold {
  touch-action: none;
  user-select: none;
}
</style>
