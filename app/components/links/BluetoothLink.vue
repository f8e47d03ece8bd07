<script setup lang="ts">
/** Serial Bluetooth: by which radio, and how fast its module is spoken to. */
import { hasModule } from '../../../core/design/links/traits'
import type { Design, LinkOf } from '../../../core/design/schema'

defineProps<{ part: Design; link: LinkOf<'bluetooth-serial'> }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ change: [patch: Record<string, unknown>] }>()
</script>

<template>
  <dt>Radio</dt>
  <dd>
    <el-select
      :model-value="link.radio"
      size="small"
      aria-label="Radio"
      @change="
        (radio: string) => emit('change', radio === 'chip' ? { radio, statusPin: null } : { radio })
      "
      ><el-option value="module" label="module on the serial port" /><el-option
        value="chip"
        label="of the chip itself"
    /></el-select>
  </dd>
  <template v-if="link.radio === 'module'"
    ><dt>Connected line</dt>
    <dd>
      <PinSelect
        optional
        :design="part"
        :pin="link.statusPin"
        label="Pin of the connected line"
        @change="statusPin => emit('change', { statusPin })"
        @clear="emit('change', { statusPin: null })"
      /></dd
  ></template>
  <SpeedField v-if="hasModule(link)" :link="link" @change="patch => emit('change', patch)" />
</template>
