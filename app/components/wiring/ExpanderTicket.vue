<script setup lang="ts">
/** More pins: shift registers, or a port behind a two-wire bus. */
import { EXPANDERS } from '../../../core/boards/expanders'
import type { Expander } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ expander: Expander }>()
const emit = defineEmits<{ removed: [] }>()
const designs = useDesignStore()
const set = (patch: object) =>
  designs.apply({ type: 'setExpander', expanderId: props.expander.id, patch })
const sizes = computed(() => (props.expander.kind === 'shift' ? [8, 16, 24] : [8, 16]))
function remove(): void {
  if (designs.apply({ type: 'removeExpander', expanderId: props.expander.id })) emit('removed')
}
</script>

<template>
  <p class="second">
    {{ EXPANDERS[expander.kind].words }}; a change reaches its pins within
    {{ EXPANDERS[expander.kind].writeMs }} ms.
  </p>
  <dl class="facts">
    <dt>Called</dt>
    <dd><InlineText :value="expander.name" label="expander" @change="name => set({ name })" /></dd>
    <dt>Pins</dt>
    <dd>
      <el-select
        :model-value="expander.pins"
        size="small"
        aria-label="Pins of the expander"
        @change="(pins: number) => set({ pins })"
        ><el-option v-for="n in sizes" :key="n" :value="n" :label="String(n)"
      /></el-select>
    </dd>
    <template v-if="expander.kind === 'two-wire'">
      <dt>Address</dt>
      <dd>
        <NumberField
          :value="expander.address"
          :min="8"
          :max="119"
          unit=""
          label="Address on the bus"
          @change="address => set({ address })"
        />
      </dd>
    </template>
  </dl>
  <el-button size="small" @click="remove">Remove the expander</el-button>
</template>

<style scoped>
p {
  margin: 0 0 8px;
}
.el-button {
  margin-top: 8px;
}
</style>
