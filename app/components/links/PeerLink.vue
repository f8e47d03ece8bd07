<script setup lang="ts">
/** Radio from board to board: channel, both ends, length. */
import { EVERYBODY } from '../../../core/design/links/peer'
import type { LinkOf } from '../../../core/design/schema'

defineProps<{ link: LinkOf<'peer'> }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ change: [patch: Record<string, unknown>] }>()
</script>

<template>
  <dt>Channel</dt>
  <dd>
    <NumberField
      :value="link.channel"
      :min="1"
      :max="13"
      unit=""
      label="Channel"
      @change="channel => emit('change', { channel })"
    />
  </dd>
  <dt>Controller is</dt>
  <dd>
    <InlineText
      mono
      :value="link.boardAddress"
      :maxlength="17"
      label="hardware address of the controller"
      @change="boardAddress => emit('change', { boardAddress: boardAddress.toUpperCase() })"
    />
  </dd>
  <dt>Other side is</dt>
  <dd>
    <InlineText
      mono
      :value="link.otherAddress === EVERYBODY ? 'everybody' : link.otherAddress"
      :maxlength="17"
      label="hardware address of the other side, or everybody"
      @change="
        a => emit('change', { otherAddress: a === 'everybody' ? EVERYBODY : a.toUpperCase() })
      "
    />
  </dd>
  <dt>At most</dt>
  <dd>
    <NumberField
      :value="link.payloadBytes"
      :min="16"
      :max="1470"
      unit="bytes"
      label="Longest message"
      @change="payloadBytes => emit('change', { payloadBytes })"
    />
  </dd>
</template>
