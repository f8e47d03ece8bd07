<script setup lang="ts">
/** The selected surface: belief of a panel, its link and timing, or sight of hand controls. */
import { linkOf, surfaceOf } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'
import { useFindingsStore } from '../../stores/findings'

const props = defineProps<{ design: Design; surfaceId: string }>()
const designs = useDesignStore()
const findings = useFindingsStore()
const surface = computed(() =>
  props.design.surfaces.some(s => s.id === props.surfaceId)
    ? surfaceOf(props.design, props.surfaceId)
    : null,
)
const link = computed(() =>
  surface.value && surface.value.kind !== 'hand'
    ? linkOf(props.design, surface.value.linkId)
    : null,
)
const belief = (patch: Record<string, unknown>) =>
  designs.apply({ type: 'setBelief', surfaceId: props.surfaceId, patch })
</script>

<template>
  <div v-if="surface">
    <h2>{{ surface.name }}</h2>
    <section v-if="surface.kind === 'hand'">
      <el-checkbox
        :model-value="surface.inSight"
        @change="v => designs.apply({ type: 'setInSight', surfaceId, inSight: v === true })"
        >The loads can be seen from here</el-checkbox
      >
    </section>
    <template v-else-if="link">
      <section>
        <h3 class="title">What its keys show</h3>
        <el-checkbox
          v-if="surface.kind === 'peer'"
          :model-value="surface.shows"
          @change="v => designs.apply({ type: 'setPeer', surfaceId, patch: { shows: v === true } })"
          >It has a lamp or pointer for what it switches</el-checkbox
        >
        <dl class="facts">
          <dt>After a press</dt>
          <dd>
            <el-select
              :model-value="surface.belief.policy"
              size="small"
              aria-label="After a press"
              @change="(policy: string) => belief({ policy })"
              ><el-option value="assume" label="what was asked" /><el-option
                value="confirm"
                label="waiting, until confirmed" /><el-option
                value="report"
                label="only what is reported"
            /></el-select>
          </dd>
          <template v-if="surface.belief.policy === 'confirm'">
            <dt>Waits</dt>
            <dd>
              <NumberField
                :value="surface.belief.timeoutMs"
                :min="50"
                :max="60000"
                unit="ms"
                label="Waits"
                @change="timeoutMs => belief({ timeoutMs })"
              />
            </dd>
            <dt>Asks again</dt>
            <dd>
              <NumberField
                :value="surface.belief.retries"
                :max="5"
                unit="times"
                label="Asks again"
                @change="retries => belief({ retries })"
              />
            </dd>
          </template>
          <dt>Link lost</dt>
          <dd>
            <el-select
              :model-value="surface.belief.onLoss"
              size="small"
              aria-label="When the link is lost"
              @change="(onLoss: string) => belief({ onLoss })"
              ><el-option value="keep" label="as it was, unmarked" /><el-option
                value="stale"
                label="as it was, marked" /><el-option value="unknown" label="not known"
            /></el-select>
          </dd>
          <dt>Asks every</dt>
          <dd>
            <NumberField
              :value="surface.pollMs"
              :max="3600000"
              unit="ms"
              label="Asks every, 0 is never"
              @change="pollMs => designs.apply({ type: 'setPoll', surfaceId, pollMs })"
            />
          </dd>
        </dl>
      </section>
      <LinkFields :design="design" :link="link" />
    </template>
    <section v-for="(f, i) in findings.of(surfaceId, null)" :key="f.code + i">
      <FindingItem :finding="f" />
    </section>
  </div>
</template>

<style scoped>
section :deep(.finding) {
  padding: 0;
}
dd {
  overflow-wrap: anywhere;
}
h3 {
  margin-bottom: 6px;
}
</style>
