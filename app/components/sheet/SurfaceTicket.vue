<script setup lang="ts">
/** The selected surface: belief of a panel, its link and timing, or sight of hand controls. */
import { linkOf, surfaceOf } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import { applyEdit, describeEdit, type Edit } from '../../../core/design/edits/edits'
import { sceneCode } from '../../../core/messages/assign'
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
/** What it asks for needs a code on its link; one that has none gets it. */
function askFor(scenes: string[]): void {
  const over = link.value
  if (!over) return
  const edits: Edit[] = []
  let { design } = props
  for (const scene of design.scenes) {
    if (!scenes.includes(scene.id) || (over.scenes[scene.id] ?? '') !== '') continue
    const code = sceneCode(design, linkOf(design, over.id), scene)
    const edit: Edit = { type: 'setSceneCode', linkId: over.id, sceneId: scene.id, code }
    const next = applyEdit(design, edit)
    if (!next.ok) continue
    ;({ design } = next)
    edits.push(edit)
  }
  const set: Edit = { type: 'setPeer', surfaceId: props.surfaceId, patch: { scenes } }
  designs.apply(
    edits.length
      ? { type: 'together', edits: [...edits, set], words: describeEdit(props.design, set) }
      : set,
  )
}
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
          <template v-if="surface.kind === 'peer' && design.scenes.length">
            <dt>Asks for scenes</dt>
            <dd>
              <el-select
                multiple
                :model-value="surface.scenes"
                size="small"
                placeholder="none"
                aria-label="Scenes that it asks for"
                @change="askFor"
                ><el-option v-for="s in design.scenes" :key="s.id" :value="s.id" :label="s.name"
              /></el-select>
            </dd>
          </template>
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
