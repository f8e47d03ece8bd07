<script setup lang="ts">
/** A stick: how it is mounted, and what it asks for pushed to a side. */
import type { Design, SensorOf } from '../../../core/design/schema'
import { loadsInReach } from '../../../core/design/wired'
import { targetOf, wishesWithin, wishOf } from '../../composables/wishes'

const props = defineProps<{ design: Design; sensor: SensorOf<'two-axis'> }>()
const emit = defineEmits<{ change: [patch: Record<string, unknown>] }>()
const loads = computed(() => loadsInReach(props.design))
const wishes = computed(() => wishesWithin(props.design))
type Side = SensorOf<'two-axis'>['ways'][number]['on']
const SIDES: Record<Side, string> = {
  up: 'Pushed up',
  down: 'Pushed down',
  left: 'Pushed left',
  right: 'Pushed right',
  rest: 'Let go',
}
function ask(on: Side, wish: string): void {
  const others = props.sensor.ways.filter(w => w.on !== on)
  const order = Object.keys(SIDES)
  emit('change', {
    ways: wish
      ? [...others, { on, ...targetOf(wish) }].toSorted(
          (a, b) => order.indexOf(a.on) - order.indexOf(b.on),
        )
      : others,
  })
}
function askedFor(on: Side): string {
  const way = props.sensor.ways.find(w => w.on === on)
  return way ? wishOf(way) : ''
}
</script>

<template>
  <dl class="facts">
    <slot />
    <dt>Mounted at</dt>
    <dd>
      <NumberField
        :value="sensor.degrees"
        :min="-180"
        :max="180"
        unit="°"
        label="Mounted at"
        @change="degrees => emit('change', { degrees })"
      />
    </dd>
    <template v-if="loads.length">
      <WishSelect
        v-for="(words, on) in SIDES"
        :key="on"
        :words="words"
        :value="askedFor(on)"
        :wishes="wishes"
        @change="wish => ask(on, wish)"
      />
    </template>
    <template v-if="sensor.ways.length">
      <dt>At rest below</dt>
      <dd>
        <NumberField
          :value="sensor.deadZone"
          :min="1"
          :max="90"
          unit="%"
          label="At rest below"
          @change="deadZone => emit('change', { deadZone })"
        />
      </dd>
      <dt>Steps again every</dt>
      <dd>
        <NumberField
          :value="sensor.repeatMs"
          :max="10000"
          unit="ms"
          label="Steps again every, 0 is never"
          @change="repeatMs => emit('change', { repeatMs })"
        />
      </dd>
    </template>
  </dl>
</template>
