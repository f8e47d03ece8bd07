<script setup lang="ts">
/**
 * Scenes that can be asked for on a link: several loads told at once. What a scene sets holds for
 * every link.
 */
import { restOf, valuesOf, valueWords } from '../../../core/design/values'
import { sceneCode } from '../../../core/messages/assign'
import type { Design, Link, Scene } from '../../../core/design/schema'
import { loadOf } from '../../../core/design/find'
import { freshId } from '../../../core/design/ids'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{
  design: Design
  link: Link
  maxLength: number
  columns: number
  indent: boolean
}>()
const designs = useDesignStore()
const editing = ref('')
const own = computed(() =>
  props.design.loads.filter(l => l.controllerId === props.link.controllerId),
)

function add(): void {
  const taken = props.design.scenes.some(s => s.name === 'All off')
  const name = taken ? `Scene ${props.design.scenes.length + 1}` : 'All off'
  const sets = own.value.map(l => ({ loadId: l.id, value: restOf(l.output) }))
  const id = freshId(name, 'scene', designs.design?.scenes ?? [])
  const code = sceneCode(props.design, props.link, { id, name, sets })
  if (
    designs.apply({
      type: 'together',
      words: `Scene ${name} added, asked for by ${code}`,
      edits: [
        { type: 'addScene', name, sets },
        { type: 'setSceneCode', linkId: props.link.id, sceneId: id, code },
      ],
    })
  )
    editing.value = id
}
function setCode(scene: Scene, event: Event): void {
  const input = event.target as HTMLInputElement
  if (
    !designs.apply({
      type: 'setSceneCode',
      linkId: props.link.id,
      sceneId: scene.id,
      code: input.value.trim(),
    })
  )
    input.value = props.link.scenes[scene.id] ?? ''
}
function setValue(scene: Scene, loadId: string, value: string): void {
  const sets =
    value === ''
      ? scene.sets.filter(s => s.loadId !== loadId)
      : scene.sets.some(s => s.loadId === loadId)
        ? scene.sets.map(s => (s.loadId === loadId ? { loadId, value } : s))
        : [...scene.sets, { loadId, value }]
  if (sets.length) designs.apply({ type: 'setScene', sceneId: scene.id, patch: { sets } })
}
const boardName = (id: string) => props.design.controllers.find(c => c.id === id)?.name ?? id
const several = computed(() => props.design.controllers.length > 1)
/** What it sets, board by board where there are several: this link reaches one of them. */
const words = (scene: Scene) => {
  const said = (controllerId: string) =>
    scene.sets
      .map(s => ({ load: loadOf(props.design, s.loadId), value: s.value }))
      .filter(s => s.load.controllerId === controllerId)
      .map(s => `${s.load.name} ${valueWords(s.load.output, s.value)}`)
      .join(', ')
  return props.design.controllers
    .flatMap(c => {
      const sets = said(c.id)
      if (!sets) return []
      if (!several.value) return [`sets ${sets}`]
      return c.id === props.link.controllerId
        ? [`sets ${sets} on ${c.name}`]
        : [`leaves ${sets} to ${c.name}, which has to be asked too`]
    })
    .join('; ')
}
</script>

<template>
  <template v-for="scene in design.scenes" :key="scene.id">
    <tr>
      <th scope="row">
        <InlineText
          :value="scene.name"
          label="scene"
          @change="name => designs.apply({ type: 'setScene', sceneId: scene.id, patch: { name } })"
        />
      </th>
      <td>
        <input
          class="wire code"
          :class="{ indent }"
          :value="link.scenes[scene.id] ?? ''"
          :maxlength="maxLength"
          :aria-label="`Code of scene ${scene.name}`"
          placeholder="no code"
          spellcheck="false"
          autocomplete="off"
          @change="setCode(scene, $event)"
        />
      </td>
      <td :colspan="columns - 2" class="second">
        {{ words(scene) }}
        <button
          type="button"
          class="plain under"
          :aria-expanded="editing === scene.id"
          @click="editing = editing === scene.id ? '' : scene.id"
        >
          {{ editing === scene.id ? 'done' : 'change' }}
        </button>
        <button
          type="button"
          class="plain under"
          @click="designs.apply({ type: 'removeScene', sceneId: scene.id })"
        >
          remove
        </button>
      </td>
    </tr>
    <tr v-if="editing === scene.id">
      <td />
      <td :colspan="columns - 1">
        <div class="sets">
          <label v-for="l in design.loads" :key="l.id"
            ><span
              >{{ l.name
              }}<span v-if="l.controllerId !== link.controllerId" class="second">
                ({{ boardName(l.controllerId) }})</span
              ></span
            >
            <el-select
              :model-value="scene.sets.find(s => s.loadId === l.id)?.value ?? ''"
              :empty-values="[null]"
              size="small"
              :aria-label="`${l.name} in ${scene.name}`"
              @change="(value: string) => setValue(scene, l.id, value)"
            >
              <el-option value="" label="as it is" /><el-option
                v-for="v in valuesOf(l.output)"
                :key="v"
                :value="v"
                :label="valueWords(l.output, v)"
              />
            </el-select>
          </label>
        </div>
      </td>
    </tr>
  </template>
  <tr class="ask">
    <td :colspan="columns">
      <el-button v-if="own.length" size="small" @click="add">{{
        design.scenes.length ? 'Another scene' : 'A scene: several loads at once'
      }}</el-button>
    </td>
  </tr>
</template>

<style scoped>
.code.indent {
  margin-left: 64px;
}
.code {
  width: 172px;
  background: var(--raised);
  color: var(--ink);
  border: 1px solid var(--rule-strong);
  border-radius: 2px;
  padding: 4px 7px;
}
.sets {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
}
.sets label {
  display: inline-flex;
  gap: 8px;
  align-items: center;
}
.sets :deep(.el-select) {
  width: 110px;
}
.under {
  text-decoration: underline;
  min-height: 24px;
  padding: 0 4px;
}
td,
th {
  vertical-align: middle !important;
}
</style>
