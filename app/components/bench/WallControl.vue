<script setup lang="ts">
/**
 * One wired hand control as it feels: a lever flips, a button is pressed, one of a held load is
 * held.
 */
import type { Control, Load } from '../../../core/design/schema'
import { gestureWords } from '../../../core/bench/fingers'
import { holdsLoad, targetWords } from '../../../core/design/targets'
import { useBenchStore } from '../../stores/bench'
import { useDesignStore } from '../../stores/design'
import { isPulse } from '../../../core/design/outputs/traits'

const props = defineProps<{ load: Load; control: Control }>()
const bench = useBenchStore()
const scenes = computed(() => ({ scenes: useDesignStore().design?.scenes ?? [] }))
const closed = computed(
  () => (void bench.tick, bench.bench?.leverClosed(props.control.id) === true),
)
const held = computed(() => holdsLoad(props.control, props.load.output))
/** How long and how often a finger presses counts. */
const byFinger = computed(
  () => held.value || (props.control.kind === 'push' && props.control.gestures.length > 0),
)
/** What it asks for, where that is not plain. */
const what = computed(() => {
  const { sceneId } = props.control
  if (sceneId !== null) return ` ${targetWords(scenes.value, { sceneId })}`
  return props.control.asks === 'toggle' || held.value || isPulse(props.load.output)
    ? ''
    : ` ${props.control.asks}`
})
/** What a hand does with it. */
const does = computed(() => {
  if (props.control.kind === 'push') return 'press'
  if (props.control.sceneId !== null) return 'flip:'
  return closed.value ? 'flip to off' : 'flip to on'
})
/** What its further gestures do, told where the pointer rests. */
const also = computed(() =>
  props.control.kind === 'push'
    ? props.control.gestures
        .map(g => `${gestureWords(g.on)}: ${targetWords(scenes.value, g)}`)
        .join('; ')
    : '',
)
function act(what: 'press' | 'hold' | 'letGo'): void {
  bench.act({ do: what, controlId: props.control.id })
  bench.run()
}
</script>

<template>
  <HoldKey v-if="byFinger" :title="also || undefined" @down="act('hold')" @up="act('letGo')">{{
    held ? 'hold' : `press${what}`
  }}</HoldKey>
  <button
    v-else
    type="button"
    :class="{ lever: control.kind === 'latching', closed }"
    @click="act('press')"
  >
    {{ does }}{{ what }}
  </button>
</template>
