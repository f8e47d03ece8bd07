<script setup lang="ts">
/** The icon of a key; an empty place for none. */
import type { IconName } from '../../core/design/icon-names'
import { iconSvg } from '../../core/sides/icons'

const props = defineProps<{ name: IconName | null }>()
const drawing = computed(() => (props.name ? iconSvg(props.name) : ''))
</script>

<template>
  <!-- eslint-disable-next-line vue/no-v-html -- a drawing of the package, no text of a maker -->
  <span class="icon" v-html="drawing" />
</template>

<style scoped>
.icon {
  width: 20px;
  height: 20px;
  flex: none;
}
.icon :deep(svg) {
  display: block;
  width: 20px;
  height: 20px;
  fill: none;
  stroke: currentColor;
  stroke-width: 2;
  stroke-linecap: round;
  stroke-linejoin: round;
}
</style>
