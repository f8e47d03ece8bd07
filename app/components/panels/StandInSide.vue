<script setup lang="ts">
/** Beside the pages of a stand-in: which ones run, and the way to their walls. */
import type { Design } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design }>()
const designs = useDesignStore()
const { list, start, stop } = useStandIns(() => props.design.id)
async function anew(s: (typeof list.value)[number]): Promise<void> {
  await stop(s.id)
  await designs.flush()
  await start([s.controllerId], s.runs)
}
const PHASES = { making: ', being compiled', running: '', ended: ', ended' }
const boardOf = (id: string) => props.design.controllers.find(c => c.id === id)?.name ?? id
</script>

<template>
  <aside class="side">
    <h2>Stand-ins</h2>
    <p class="second small">
      Simulated controllers with the real bytes. Their walls have the switches, lamps and sensors;
      each panel opens on a phone in the same network.
    </p>
    <section v-for="s in list" :key="s.id">
      <strong>{{ boardOf(s.controllerId) }}</strong>
      <p v-if="s.runs === 'program'" class="second small">
        The program itself{{ PHASES[s.phase] }}
      </p>
      <p v-if="s.fingerprint !== designs.fingerprint" class="differs small">
        It runs table {{ s.fingerprint }}, the design is {{ designs.fingerprint }}: stop it and
        start another.
      </p>
      <p v-else-if="s.revision !== designs.revision" class="second small">
        It runs revision {{ s.revision }}; the design is at {{ designs.revision }}.
      </p>
      <p><a :href="`${s.address}/_wall`" target="_blank" rel="noopener">Open its wall</a></p>
      <p class="wire small">{{ s.address }}</p>
      <div class="does">
        <el-button
          v-if="s.revision !== designs.revision"
          size="small"
          type="primary"
          @click="anew(s)"
          >Start anew</el-button
        ><el-button size="small" @click="stop(s.id)">Stop it</el-button>
      </div>
    </section>
    <p v-if="!list.length" class="second">None runs yet.</p>
  </aside>
</template>

<style scoped>
.side {
  width: 206px;
  flex: none;
  border-right: 1px solid var(--rule-strong);
  padding: 14px 14px 20px 20px;
  overflow: auto;
  display: grid;
  grid-auto-rows: max-content;
  gap: 10px;
  align-content: start;
}
.does {
  display: flex;
  gap: 6px;
}
.does :deep(.el-button) {
  margin: 0;
}
section {
  display: grid;
  gap: 4px;
  justify-items: start;
  border-top: 1px solid var(--rule);
  padding-top: 10px;
}
</style>
