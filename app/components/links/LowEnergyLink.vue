<script setup lang="ts">
/** Low-energy Bluetooth: what it is found by, its packets, its phones. */
import type { LinkOf } from '../../../core/design/schema'

defineProps<{ link: LinkOf<'low-energy'> }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ change: [patch: Record<string, unknown>] }>()
const UUIDS = [
  ['service', 'Service'],
  ['writeTo', 'Commands go to'],
  ['notifyFrom', 'Reports come from'],
] as const
</script>

<template>
  <template v-for="[key, words] in UUIDS" :key="key">
    <dt>{{ words }}</dt>
    <dd>
      <InlineText
        mono
        :value="link[key]"
        :maxlength="36"
        :label="`UUID: ${words.toLowerCase()}`"
        @change="t => emit('change', { [key]: t.toLowerCase() })"
      />
    </dd>
  </template>
  <dt title="20 bytes, unless both sides agree on larger packets">In packets of</dt>
  <dd>
    <NumberField
      :value="link.packetBytes"
      :min="20"
      :max="512"
      unit="bytes"
      label="Bytes of a packet"
      @change="packetBytes => emit('change', { packetBytes })"
    />
  </dd>
  <dt>A packet every</dt>
  <dd>
    <NumberField
      :value="link.intervalMs"
      :min="8"
      :max="4000"
      unit="ms"
      label="From one connection event to the next"
      @change="intervalMs => emit('change', { intervalMs })"
    />
  </dd>
  <dt>Phones at once</dt>
  <dd>
    <NumberField
      :value="link.clients"
      :min="1"
      :max="8"
      unit=""
      label="Phones that it serves at once"
      @change="clients => emit('change', { clients })"
    />
  </dd>
</template>
