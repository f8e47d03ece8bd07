<script setup lang="ts">
/**
 * What a push button does beside a single press: twice, three times, held down; each for a load of
 * its own.
 */
import type { Control, Design } from '../../../core/design/schema'
import { linkOf, loadOf, maybeMessage } from '../../../core/design/find'
import { targetOf, wishesFor, wishOf } from '../../composables/wishes'
import { useDesignStore } from '../../stores/design'
import { isHeld } from '../../../core/design/outputs/traits'

type Push = Extract<Control, { kind: 'push' }>
type Row = Push['gestures'][number]
const props = defineProps<{ design: Design; control: Push }>()
const designs = useDesignStore()
const WORDS: Record<Row['on'], string> = {
  double: 'Pressed twice',
  triple: 'Pressed three times',
  hold: 'Held down',
}
const set = (patch: Partial<Pick<Push, 'gestures' | 'doubleMs' | 'holdMs'>>) =>
  designs.apply({ type: 'setControl', controlId: props.control.id, patch })
/** A load that is on while held takes the button for itself. */
const takes = computed(() => !isHeld(loadOf(props.design, props.control.loadId).output))
const wishes = computed(() => {
  const box = props.design.surfaces.find(
    s => s.kind === 'peer' && s.controls.some(c => c.id === props.control.id),
  )
  const link = box?.kind === 'peer' ? linkOf(props.design, box.linkId) : null
  const { controllerId } = loadOf(props.design, props.control.loadId)
  return wishesFor(
    props.design,
    props.design.loads.filter(
      l =>
        !isHeld(l.output)
        && (link ? maybeMessage(link, l.id) !== undefined : l.controllerId === controllerId),
    ),
  )
})
const of = (on: Row['on']) => props.control.gestures.find(g => g.on === on)
const knows = (on: Row['on']) => of(on) !== undefined
function choose(on: Row['on'], wish: string): void {
  const others = props.control.gestures.filter(g => g.on !== on)
  set({
    gestures: wish
      ? [...others, { on, ...targetOf(wish) }].toSorted(
          (a, b) => Object.keys(WORDS).indexOf(a.on) - Object.keys(WORDS).indexOf(b.on),
        )
      : others,
  })
}
const value = (on: Row['on']) => {
  const row = of(on)
  return row ? wishOf(row) : ''
}
</script>

<template>
  <template v-if="takes">
    <WishSelect
      v-for="(words, on) in WORDS"
      :key="on"
      :words="words"
      :value="value(on)"
      :wishes="wishes"
      @change="wish => choose(on, wish)"
    />
    <template v-if="knows('double') || knows('triple')">
      <dt>Next press within</dt>
      <dd>
        <NumberField
          :value="control.doubleMs"
          :min="150"
          :max="2000"
          unit="ms"
          label="Next press within"
          @change="doubleMs => set({ doubleMs })"
        />
      </dd>
    </template>
    <template v-if="knows('hold')">
      <dt>Held from</dt>
      <dd>
        <NumberField
          :value="control.holdMs"
          :min="300"
          :max="10000"
          unit="ms"
          label="Held from"
          @change="holdMs => set({ holdMs })"
        />
      </dd>
    </template>
  </template>
</template>
