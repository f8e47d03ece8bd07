<script setup lang="ts">
/** One wired hand control: pin, kind of action, debounce and lock-out. */
import type { Control, Design } from '../../../core/design/schema'
import { loadOf } from '../../../core/design/find'
import { asksOf } from '../../../core/design/values'
import { asksWords, wishOf } from '../../composables/wishes'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design; control: Control }>()
const designs = useDesignStore()
const output = computed(() => loadOf(props.design, props.control.loadId).output)
/** The board whose pins it is wired to. */
const part = computed(() => {
  const box = props.design.surfaces.find(
    s => s.kind === 'peer' && s.controls.some(c => c.id === props.control.id),
  )
  const boardId =
    box?.kind === 'peer' ? box.boardId : loadOf(props.design, props.control.loadId).controllerId
  return designs.partOf(boardId ?? '') ?? props.design
})
const asks = computed(() => asksOf(output.value, props.control.kind))
/** Scenes that set its load, so that it can ask for them. */
const scenes = computed(() =>
  props.design.scenes.filter(s => s.sets.some(x => x.loadId === props.control.loadId)),
)
const asked = computed(() =>
  props.control.sceneId === null ? props.control.asks : wishOf({ sceneId: props.control.sceneId }),
)
function ask(what: string): void {
  const scene = props.design.scenes.find(s => wishOf({ sceneId: s.id }) === what)
  designs.apply({
    type: 'setControl',
    controlId: props.control.id,
    patch: scene ? { sceneId: scene.id } : { sceneId: null, asks: what },
  })
}
</script>

<template>
  <h3 class="title">{{ control.kind === 'push' ? 'Push button' : 'Latching switch' }}</h3>
  <dl class="facts">
    <dt>Pin</dt>
    <dd>
      <PinSelect
        :design="part"
        :pin="control.pin"
        label="Pin of the control"
        @change="
          pin => designs.apply({ type: 'setControl', controlId: control.id, patch: { pin } })
        "
      />
    </dd>
    <template v-if="control.kind === 'latching'">
      <dt>Acts</dt>
      <dd>
        <el-select
          :model-value="control.acts"
          size="small"
          aria-label="How the switch acts"
          @change="
            (acts: 'position' | 'movement') =>
              designs.apply({ type: 'setControl', controlId: control.id, patch: { acts } })
          "
        >
          <el-option
            value="position"
            :label="control.sceneId === null ? 'position decides' : 'when it is closed'"
          /><el-option
            value="movement"
            :label="control.sceneId === null ? 'any movement toggles' : 'at any movement'"
          />
        </el-select>
      </dd>
    </template>
    <template
      v-if="control.kind === 'latching' && control.acts === 'position' && control.sceneId === null"
    >
      <dt>At a start</dt>
      <dd>
        <el-select
          :model-value="control.atStart"
          size="small"
          aria-label="At a start"
          @change="
            (atStart: 'stay' | 'follow') =>
              designs.apply({ type: 'setControl', controlId: control.id, patch: { atStart } })
          "
          ><el-option value="stay" label="the load does as it is set to" /><el-option
            value="follow"
            label="the load follows the lever"
        /></el-select>
      </dd>
    </template>
    <template v-if="asks.length > 1 || scenes.length">
      <dt>Asks for</dt>
      <dd>
        <el-select
          :model-value="asked"
          size="small"
          aria-label="What the control asks for"
          @change="ask"
          ><el-option
            v-for="a in asks"
            :key="a"
            :value="a"
            :label="asksWords({ output }, a)" /><el-option
            v-for="s in scenes"
            :key="`scene ${s.id}`"
            :value="wishOf({ sceneId: s.id })"
            :label="`scene ${s.name}`"
        /></el-select>
      </dd>
    </template>
    <dt>Debounce</dt>
    <dd>
      <NumberField
        :value="control.debounceMs"
        :max="1000"
        unit="ms"
        label="Debounce"
        @change="
          debounceMs =>
            designs.apply({ type: 'setControl', controlId: control.id, patch: { debounceMs } })
        "
      />
    </dd>
    <template v-if="control.kind === 'push'">
      <dt>Lock-out</dt>
      <dd>
        <NumberField
          :value="control.lockoutMs"
          :max="10000"
          unit="ms"
          label="Lock-out"
          @change="
            lockoutMs =>
              designs.apply({ type: 'setControl', controlId: control.id, patch: { lockoutMs } })
          "
        />
      </dd>
      <GestureRows :design="design" :control="control" />
    </template>
  </dl>
  <el-button
    size="small"
    style="margin-top: 8px"
    @click="designs.apply({ type: 'removeControl', controlId: control.id })"
    >Remove this control</el-button
  >
</template>
