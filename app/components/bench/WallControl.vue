<script setup lang="ts">
/**
 * One wired hand control as it feels: a lever flips, a button is pressed, one of a held load is
 * held.
 */
import type { Control, Load } from '../../../core/design/schema'
import { gestureWords } from '../../../core/bench/fingers'
import { useBenchStore } from '../../stores/bench'
import { isHeld, isPulse } from '../../../core/design/outputs/traits'

const props = defineProps<{ load: Load; control: Control }>()
const bench = useBenchStore()
const closed = computed(
  () => (void bench.tick, bench.bench?.leverClosed(props.control.id) === true),
)
const held = computed(() => props.control.kind === 'push' && isHeld(props.load.output))
/** How long and how often a finger presses counts. */
const byFinger = computed(
  () => held.value || (props.control.kind === 'push' && props.control.gestures.length > 0),
)
/** What it asks for, where that is not plain. */
const what = computed(() =>
  props.control.asks === 'toggle' || held.value || isPulse(props.load.output)
    ? ''
    : ` ${props.control.asks}`,
)
/** What its further gestures do, told where the pointer rests. */
const also = computed(() =>
  props.control.kind === 'push'
    ? props.control.gestures.map(g => `${gestureWords(g.on)}: ${g.asks}`).join('; ')
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
    {{ control.kind === 'push' ? 'press' : closed ? 'flip to off' : 'flip to on' }}{{ what }}
  </button>
</template>
