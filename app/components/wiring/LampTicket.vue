<script setup lang="ts">
/** A lamp that nobody switches: what it shows, and how it is wired. */
import { linksShown } from '../../../core/design/boxes'
import { wholeOf } from '../../../core/design/part'
import type { Design, Lamp } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design; lamp: Lamp }>()
const emit = defineEmits<{ removed: [] }>()
const designs = useDesignStore()
const links = computed(() =>
  linksShown(wholeOf(props.design), props.design.controllers[0]?.id ?? ''),
)
type Patch = Partial<{ name: string; activeLevel: Lamp['activeLevel']; linkId: string }>
const set = (patch: Patch) => designs.apply({ type: 'setLamp', lampId: props.lamp.id, patch })
const SHOWS: Record<Lamp['shows'], string> = {
  link: 'is on while the link is connected; where it has no connection, shortly at each message.',
  network: 'is on while the board is in its network.',
  waiting: 'is on while a load is not yet where it was asked to be.',
}
function remove(): void {
  if (designs.apply({ type: 'removeLamp', lampId: props.lamp.id })) emit('removed')
}
</script>

<template>
  <p class="second">It {{ SHOWS[lamp.shows] }}</p>
  <dl class="facts">
    <dt>Called</dt>
    <dd><InlineText :value="lamp.name" label="lamp" @change="name => set({ name })" /></dd>
    <template v-if="lamp.shows === 'link'">
      <dt>Link</dt>
      <dd>
        <el-select
          :model-value="lamp.linkId"
          size="small"
          aria-label="Link that the lamp shows"
          @change="(linkId: string) => set({ linkId })"
          ><el-option v-for="l in links" :key="l.id" :value="l.id" :label="l.name"
        /></el-select>
      </dd>
    </template>
    <dt>On when pin is</dt>
    <dd>
      <LevelSelect
        :level="lamp.activeLevel"
        label="Active level of the lamp"
        @change="activeLevel => set({ activeLevel })"
      />
    </dd>
  </dl>
  <el-button size="small" @click="remove">Remove the lamp</el-button>
</template>

<style scoped>
p {
  margin: 0 0 8px;
}
.el-button {
  margin-top: 8px;
}
</style>
