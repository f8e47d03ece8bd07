<script setup lang="ts">
/** One wired hand control as it feels: a lever flips, a button is pressed, one of a held load is held. */
import type { Control, Load } from '../../../core/design/schema'
import { useBenchStore } from '../../stores/bench'

const props = defineProps<{ load: Load, control: Control }>()
const bench = useBenchStore()
const closed = computed(() => (void bench.tick, bench.bench?.leverClosed(props.control.id) === true))
const held = computed(() => props.control.kind === 'push' && props.load.output.kind === 'held')
/** What it asks for, where that is not plain. */
const what = computed(() => props.control.asks === 'toggle' || held.value || props.load.output.kind === 'pulsed' ? '' : ` ${props.control.asks}`)
function act(what: 'press' | 'hold' | 'letGo'): void {
  bench.act({ do: what, controlId: props.control.id })
  bench.run()
}
</script>

<template>
  <HoldKey v-if="held" @down="act('hold')" @up="act('letGo')">hold</HoldKey>
  <button v-else type="button" :class="{ lever: control.kind === 'latching', closed }" @click="act('press')">{{ control.kind === 'push' ? 'press' : closed ? 'flip to off' : 'flip to on' }}{{ what }}</button>
</template>
