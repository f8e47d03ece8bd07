<script setup lang="ts">
/** The selected load: its output and what was found about it. */
import { loadOf } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'
import { useFindingsStore } from '../../stores/findings'

const props = defineProps<{ design: Design; loadId: string }>()
const designs = useDesignStore()
const findings = useFindingsStore()
const load = computed(() =>
  props.design.loads.some(l => l.id === props.loadId) ? loadOf(props.design, props.loadId) : null,
)
</script>

<template>
  <div v-if="load">
    <h2>{{ load.name }}</h2>
    <section>
      <dl class="facts">
        <dt>Note</dt>
        <dd>
          <InlineText
            :value="load.note || 'add a note'"
            :maxlength="80"
            label="note"
            @change="note => designs.apply({ type: 'noteLoad', loadId, note })"
          />
        </dd>
      </dl>
      <OutputFields :design="design" :load="load" />
      <p
        v-if="'powerUp' in load.output && load.output.powerUp === 'on'"
        class="second small caution"
      >
        A heater, pump or motor that starts by itself after a power cut can hurt. Choose this only
        where nobody can be near, and as local rules allow.
      </p>
    </section>
    <section class="second small">
      Mains, heat and motors: have the wiring done or checked by somebody qualified; fuse it and
      close it in.
    </section>
    <section v-for="(f, i) in findings.of(null, loadId)" :key="f.code + i">
      <FindingItem :finding="f" />
    </section>
  </div>
</template>

<style scoped>
.caution {
  margin-top: 8px;
  color: var(--differs);
}
section :deep(.finding) {
  padding: 0;
}
</style>
