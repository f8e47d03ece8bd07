<script setup lang="ts">
/** A wire: its pins, and how fast it is. */
import type { Design, LinkOf } from '../../../core/design/schema'

defineProps<{ part: Design; link: LinkOf<'wire'> }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ change: [patch: Record<string, unknown>] }>()
</script>

<template>
  <dt>Receives on</dt>
  <dd>
    <PinSelect
      :design="part"
      :pin="link.receivePin"
      label="Pin that receives"
      @change="receivePin => emit('change', { receivePin })"
    />
  </dd>
  <dt>Sends on</dt>
  <dd>
    <PinSelect
      :design="part"
      :pin="link.sendPin"
      label="Pin that sends"
      @change="sendPin => emit('change', { sendPin })"
    />
  </dd>
  <SpeedField :link="link" @change="patch => emit('change', patch)" />
</template>
