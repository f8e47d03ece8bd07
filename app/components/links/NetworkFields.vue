<script setup lang="ts">
/** The network that a link is on, and the address of the board there. */
import type { Design, Link } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'

defineProps<{ design: Design; link: Extract<Link, { network: unknown }> }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ change: [patch: Record<string, unknown>] }>()
const designs = useDesignStore()
function setNetworks(text: string): void {
  designs.apply({
    type: 'setNetworks',
    networks: text
      .split(',')
      .map(n => n.trim())
      .filter(Boolean),
  })
}
</script>

<template>
  <dt>Network</dt>
  <dd>
    <el-select
      :model-value="link.network"
      size="small"
      aria-label="Network"
      @change="(network: string) => emit('change', { network })"
      ><el-option value="own" label="own access point" /><el-option
        value="router"
        label="house router"
    /></el-select>
  </dd>
  <dt>{{ link.network === 'own' ? 'It is called' : 'Joins, in order' }}</dt>
  <dd>
    <InlineText
      :value="design.networks.join(', ') || 'no name yet'"
      :maxlength="140"
      label="names of networks, in the order in which they are tried"
      @change="setNetworks"
    />
  </dd>
  <dt>Address</dt>
  <dd>
    <InlineText
      mono
      :value="link.address"
      :maxlength="80"
      label="address"
      @change="address => emit('change', { address })"
    />
  </dd>
</template>
