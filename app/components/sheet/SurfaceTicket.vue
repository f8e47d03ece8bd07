<script setup lang="ts">
/** The selected surface: belief of a panel, its link and timing, or sight of hand controls. */
import { speakersOn } from '../../../core/design/seats'
import { SHIPPED } from '../../../core/boards/boards'
import { linkOf, loadOf, surfaceOf } from '../../../core/design/find'
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
/** Who else speaks over its link. */
const shares = computed(() =>
  link.value ? speakersOn(props.design, link.value.id).filter(s => s.id !== props.surfaceId) : [],
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
/** What is wired to its board asks for, in words. */
const asksFor = computed(() => {
  const box = surface.value
  if (box?.kind !== 'peer') return ''
  return [
    ...box.keys.map(k => loadOf(props.design, k.loadId).name),
    ...box.scenes.map(id => `scene ${props.design.scenes.find(s => s.id === id)?.name ?? id}`),
  ].join(', ')
})
const NEW = 'new '
const others = computed(() =>
  props.design.controllers.filter(c => c.id !== link.value?.controllerId),
)
const newBoards = computed(() => [...SHIPPED, ...props.design.boards])
function takeBoard(id: string): void {
  const { surfaceId } = props
  designs.apply(
    id.startsWith(NEW)
      ? { type: 'setBoxBoard', surfaceId, board: id.slice(NEW.length) }
      : { type: 'setBoxBoard', surfaceId, boardId: id || null },
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
          <template
            v-if="surface.kind === 'peer' && surface.boardId === null && design.scenes.length"
          >
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
      <section v-if="surface.kind === 'peer'">
        <h3 class="title">What is inside</h3>
        <dl class="facts">
          <dt>Its board</dt>
          <dd>
            <el-select
              :model-value="surface.boardId ?? ''"
              :empty-values="[null]"
              size="small"
              aria-label="Its board"
              @change="takeBoard"
              ><el-option value="" label="not drawn here" /><el-option
                v-for="c in others"
                :key="c.id"
                :value="c.id"
                :label="c.name" /><el-option
                v-for="b in newBoards"
                :key="b.id"
                :value="NEW + b.id"
                :label="`new: ${b.name}`"
            /></el-select>
          </dd>
          <template v-if="surface.boardId !== null">
            <dt>Sends every</dt>
            <dd>
              <NumberField
                :value="surface.leastMs"
                :max="10000"
                unit="ms"
                label="Sends at most every, 0 is as often as asked"
                @change="
                  leastMs => designs.apply({ type: 'setPeer', surfaceId, patch: { leastMs } })
                "
              />
            </dd>
            <dt>Asks for</dt>
            <dd>{{ asksFor || 'nothing yet' }}</dd>
          </template>
        </dl>
        <p v-if="surface.boardId === null" class="second small">
          As a board of the design it has pins, buttons, knobs and sensors of its own, and the bench
          plays them.
        </p>
        <p v-else class="second small">
          Buttons and switches: press a cell of its column. Knobs, sticks and sensors: on the
          <NuxtLink :to="`/d/${design.id}/wiring`">wiring</NuxtLink> of its board.
        </p>
      </section>
      <p v-if="shares.length" class="second small">
        {{ shares.map(s => s.name).join(' and ') }}
        {{ shares.length > 1 ? 'share' : 'shares' }} this link: codes and settings are the same for
        all, each has a connection and a belief of its own.
      </p>
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
dl + p {
  margin-top: 6px;
}
h3 {
  margin-bottom: 6px;
}
</style>
