<script setup lang="ts">
/** The selected cell: codes, reports or the hand control, and what was found there. */
import { linkOf, loadOf, maybeMessage, surfaceOf } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import { wishLabel } from '../../../core/messages/clashes'
import { wishesShown } from '../../../core/messages/table'
import { useDesignStore } from '../../stores/design'
import { useFindingsStore } from '../../stores/findings'
import { useSelectionStore } from '../../stores/selection'

const props = defineProps<{ design: Design; loadId: string; surfaceId: string }>()
const designs = useDesignStore()
const findings = useFindingsStore()
const selection = useSelectionStore()
const load = computed(() =>
  props.design.loads.some(l => l.id === props.loadId) ? loadOf(props.design, props.loadId) : null,
)
const surface = computed(() =>
  props.design.surfaces.some(s => s.id === props.surfaceId)
    ? surfaceOf(props.design, props.surfaceId)
    : null,
)
const message = computed(() =>
  surface.value && surface.value.kind !== 'hand'
    ? maybeMessage(linkOf(props.design, surface.value.linkId), props.loadId)
    : undefined,
)
/** Controls stand on walls, and on boxes that are boards. */
const wired = computed(() =>
  surface.value?.kind === 'hand'
  || (surface.value?.kind === 'peer' && surface.value.boardId !== null)
    ? surface.value
    : null,
)
const controls = computed(() => wired.value?.controls.filter(c => c.loadId === props.loadId) ?? [])
const here = computed(() => findings.of(props.surfaceId, props.loadId))
const verdict = computed(() =>
  findings.verdicts[props.loadId]?.surfaces.find(s => s.surfaceId === props.surfaceId),
)
const linkId = computed(() =>
  surface.value && surface.value.kind !== 'hand' ? surface.value.linkId : '',
)

function takeOff(): void {
  if (message.value)
    designs.apply({ type: 'removeMessage', linkId: linkId.value, loadId: props.loadId })
  for (const c of controls.value) designs.apply({ type: 'removeControl', controlId: c.id })
  selection.select(props.loadId, null)
}
</script>

<template>
  <div v-if="load && surface">
    <h2>{{ load.name }} · {{ surface.name }}</h2>
    <section v-if="message">
      <dl class="facts">
        <template v-for="which in wishesShown(load, message)" :key="which">
          <dt>Says {{ wishLabel(load.output, which) }}</dt>
          <dd>
            <InlineText
              mono
              :value="message.codes[which] || 'no code'"
              :maxlength="80"
              :label="`code for ${which}`"
              @change="code => designs.apply({ type: 'renameCode', linkId, loadId, which, code })"
            />
          </dd>
        </template>
      </dl>
      <el-checkbox
        :model-value="message.ack"
        @change="v => designs.apply({ type: 'setReport', linkId, loadId, ack: v === true })"
        >Each command is answered with the state</el-checkbox
      >
      <el-checkbox
        :model-value="message.change"
        @change="v => designs.apply({ type: 'setReport', linkId, loadId, change: v === true })"
        >Every change is reported, whoever made it</el-checkbox
      >
      <el-button class="off" size="small" @click="takeOff">Take it off this surface</el-button>
    </section>
    <section v-for="control in controls" :key="control.id">
      <ControlTicket :design="design" :control="control" />
    </section>
    <section v-if="wired && (controls.length || message) && controls.length < 8">
      <el-button
        size="small"
        @click="designs.apply({ type: 'addControl', surfaceId, loadId, kind: 'push' })"
        >{{
          controls.length ? 'Another push button' : 'A push button on its board'
        }}</el-button><el-button
        v-if="wired.kind === 'peer'"
        size="small"
        @click="designs.apply({ type: 'addControl', surfaceId, loadId, kind: 'latching' })"
        >A switch</el-button
      >
    </section>
    <section v-if="!message && !controls.length" class="second">Nothing here yet.</section>
    <section v-if="verdict?.state === 'in step'" class="ok">
      <StateGlyph state="in step" /> In step: {{ verdict.reason }}, in
      {{ findings.verdicts[loadId]?.situations.toLocaleString('en') }} situations.
    </section>
    <section v-for="(f, i) in here" :key="f.code + i"><FindingItem :finding="f" /></section>
  </div>
</template>

<style scoped>
.off {
  margin-top: 8px;
}
.ok {
  color: var(--step);
  display: flex;
  gap: 8px;
  align-items: baseline;
}
section :deep(.finding) {
  padding: 0;
}
dd {
  overflow-wrap: anywhere;
}
</style>
