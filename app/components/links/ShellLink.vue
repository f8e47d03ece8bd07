<script setup lang="ts">
/** A console that somebody logs in to: as whom, and what it starts. */
import type { Design, LinkOf } from '../../../core/design/schema'

defineProps<{ design: Design; link: LinkOf<'shell'> }>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ change: [patch: Record<string, unknown>] }>()
</script>

<template>
  <NetworkFields :design="design" :link="link" @change="patch => emit('change', patch)" />
  <dt>Logs in as</dt>
  <dd>
    <InlineText
      mono
      :value="link.account"
      :maxlength="32"
      label="account"
      @change="account => emit('change', { account })"
    />
  </dd>
  <dt>Starts</dt>
  <dd>
    <InlineText
      mono
      :value="link.command"
      :maxlength="80"
      label="command of the console"
      @change="command => emit('change', { command })"
    />
  </dd>
  <dt>Sessions at once</dt>
  <dd>
    <NumberField
      :value="link.clients"
      :min="1"
      :max="8"
      unit=""
      label="Sessions at once"
      @change="clients => emit('change', { clients })"
    />
  </dd>
</template>
