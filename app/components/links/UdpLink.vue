<script setup lang="ts">
/** Datagrams: in which network, on which port, to whom. */
import type { Design, LinkOf } from '../../../core/design/schema'

defineProps<{ design: Design; link: LinkOf<'udp'> }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ change: [patch: Record<string, unknown>] }>()
</script>

<template>
  <NetworkFields :design="design" :link="link" @change="patch => emit('change', patch)" />
  <dt>Port</dt>
  <dd>
    <NumberField
      :value="link.port"
      :min="1"
      :max="65535"
      unit=""
      label="Port"
      @change="port => emit('change', { port })"
    />
  </dd>
  <dt>Reports go to</dt>
  <dd>
    <el-select
      :model-value="link.toAll"
      size="small"
      aria-label="Reports go to"
      @change="(toAll: boolean) => emit('change', { toAll })"
      ><el-option :value="false" label="who asked last" /><el-option
        :value="true"
        label="everybody in the network"
    /></el-select>
  </dd>
</template>
