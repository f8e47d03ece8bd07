<script setup lang="ts">
/** Beside the pages of a stand-in: which ones run, and the way to their walls. */
import type { Design } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design }>()
const designs = useDesignStore()
const { list, stop } = useStandIns(() => props.design.id)
const boardOf = (id: string) => props.design.controllers.find(c => c.id === id)?.name ?? id
</script>

<template>
  <aside class="side">
    <h2>Stand-ins</h2>
    <p class="second small">Simulated controllers with the real bytes. Their walls have the switches, lamps and sensors; each panel opens on a phone in the same network.</p>
    <section v-for="s in list" :key="s.id">
      <strong>{{ boardOf(s.controllerId) }}</strong>
      <p v-if="s.fingerprint !== designs.fingerprint" class="differs small">It runs table {{ s.fingerprint }}, the design is {{ designs.fingerprint }}: stop it and start another.</p>
      <p><a :href="`${s.address}/_wall`" target="_blank" rel="noopener">Open its wall</a></p>
      <p class="wire small">{{ s.address }}</p>
      <el-button size="small" @click="stop(s.id)">Stop it</el-button>
    </section>
    <p v-if="!list.length" class="second">None runs yet.</p>
  </aside>
</template>

<style scoped>
.side { width: 206px; flex: none; border-right: 1px solid var(--rule-strong); padding: 14px 14px 20px 20px; overflow: auto; display: grid; gap: 10px; align-content: start; }
section { display: grid; gap: 4px; justify-items: start; border-top: 1px solid var(--rule); padding-top: 10px; }
</style>
