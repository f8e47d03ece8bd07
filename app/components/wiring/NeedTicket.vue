<script setup lang="ts">
/** The chosen need: its pin and what is wrong with it, its parts, its sums. */
import { pinOf } from '../../../core/boards/boards'
import { sourceOf } from '../../../core/boards/schema'
import { troubles } from '../../../core/boards/hazards'
import { expandersOf, lampsOf } from '../../../core/design/find'
import { wiredControls } from '../../../core/design/wired'
import { boardOf, pinLabel, type Need } from '../../../core/design/pins'
import type { Design } from '../../../core/design/schema'
import type { WiringSum } from '../../../core/electrical/wiring-sum'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design; need: Need; sums: WiringSum[] }>()
const emit = defineEmits<{ removed: [] }>()
const designs = useDesignStore()
const load = computed(() =>
  props.need.line === null ? undefined : props.design.loads.find(l => l.id === props.need.loadId),
)
const control = computed(
  () => wiredControls(props.design).find(c => c.control.id === props.need.controlId)?.control,
)
const pin = computed(() => pinOf(boardOf(props.design), props.need.chip))
const wrong = computed(() => (pin.value ? troubles(pin.value, props.need.use) : []))
const kept = computed(() => props.design.controllers[0]?.kept.includes(props.need.id) === true)
const sensor = computed(() => props.design.sensors.find(s => s.id === props.need.sensorId))
const lamp = computed(() => lampsOf(props.design).find(l => props.need.id === `lamp:${l.id}`))
const expander = computed(() =>
  expandersOf(props.design).find(e => props.need.id.startsWith(`expander:${e.id} `)),
)
const mine = computed(() =>
  props.sums
    .filter(s =>
      props.need.controlId
        ? s.controlId === props.need.controlId
        : props.need.sensorId
          ? s.sensorId === props.need.sensorId
          : props.need.linkId
            ? s.id.startsWith(`link:${props.need.linkId} `)
            : expander.value
              ? s.id.startsWith(`expander:${expander.value.id} `)
              : load.value && s.loadId === load.value.id && s.controlId === null,
    )
    .toSorted((a, b) => Number(a.sum?.ok ?? false) - Number(b.sum?.ok ?? false)),
)
const board = computed(() => boardOf(props.design))
</script>

<template>
  <div>
    <h2>{{ need.what }}</h2>
    <section>
      <p v-if="need.fixed" class="second">
        {{
          need.chip < 0
            ? 'This board has no serial port for it.'
            : `On ${pinLabel(design, need.chip)}, the serial port of the board.`
        }}
      </p>
      <dl v-else class="facts">
        <dt>Pin</dt>
        <dd>
          <PinSelect
            :design="design"
            :pin="need.chip"
            label="Pin"
            @change="chip => designs.apply({ type: 'setPins', pins: { [need.id]: chip } })"
          />
        </dd>
      </dl>
      <el-checkbox
        v-if="!need.fixed"
        :model-value="kept"
        @change="v => designs.apply({ type: 'keepPin', needId: need.id, kept: v === true })"
        >Stays here when pins are assigned</el-checkbox
      >
      <p v-if="!pin" class="differs">{{ board.name }} has no pin {{ need.chip }}.</p>
      <p v-for="t in wrong" :key="t.words" :class="{ differs: t.severity === 'stop' }">
        <strong>{{ t.severity }}</strong> {{ t.words }}.
        <span class="second"
          >{{ t.wayOut }}; from:
          {{ sourceOf(board, t.hazard === 'ability' ? 'abilities' : t.hazard) }}</span
        >
      </p>
      <p v-if="pin && !wrong.length" class="second fine">
        <StateGlyph state="in step" /> Nothing is wrong with {{ pin.label }} for this.
      </p>
    </section>
    <section v-if="sensor">
      <SensorTicket :design="design" :sensor="sensor" @removed="emit('removed')" />
    </section>
    <section v-if="lamp">
      <LampTicket :design="design" :lamp="lamp" @removed="emit('removed')" />
    </section>
    <section v-if="expander">
      <ExpanderTicket :expander="expander" @removed="emit('removed')" />
    </section>
    <FrontBoard v-if="need.id.startsWith('front:')" :design="design" :sums="sums" />
    <section v-if="load"><LoadWiring :design="design" :load="load" /></section>
    <section v-if="control">
      <dl class="facts">
        <dt>Lead</dt>
        <dd>
          <QuantityField
            :value="control.leadMeters"
            unit="m"
            label="Lead"
            :max="500"
            @change="
              leadMeters =>
                designs.apply({ type: 'setControl', controlId: control!.id, patch: { leadMeters } })
            "
          />
        </dd>
        <dt>Pull-up</dt>
        <dd>
          <QuantityField
            :value="control.pullOhms"
            unit="Ω"
            label="Pull-up"
            placeholder="on board"
            :min="100"
            :max="1000000"
            @change="
              pullOhms =>
                designs.apply({ type: 'setControl', controlId: control!.id, patch: { pullOhms } })
            "
          />
        </dd>
        <dt>Debounce</dt>
        <dd>
          <NumberField
            :value="control.debounceMs"
            :max="1000"
            unit="ms"
            label="Debounce"
            @change="
              debounceMs =>
                designs.apply({ type: 'setControl', controlId: control!.id, patch: { debounceMs } })
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
                  designs.apply({
                    type: 'setControl',
                    controlId: control!.id,
                    patch: { lockoutMs },
                  })
              "
            />
          </dd>
          <GestureRows :design="design" :control="control" />
        </template>
      </dl>
      <el-button
        v-if="control.pullOhms !== null"
        size="small"
        @click="
          designs.apply({ type: 'setControl', controlId: control!.id, patch: { pullOhms: null } })
        "
        >Use the board's own pull-up</el-button
      >
      <BounceReader :control="control" />
    </section>
    <SumCard v-for="s in mine" :key="s.id" :of="s" />
  </div>
</template>

<style scoped>
section p {
  margin-top: 8px;
}
.fine {
  display: flex;
  align-items: center;
  gap: 6px;
}
</style>
