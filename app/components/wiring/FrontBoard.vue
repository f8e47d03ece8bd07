<script setup lang="ts">
/** A second board in front that talks to the network and passes codes on over a serial wire. */
import { pinOf, SHIPPED } from '../../../core/boards/boards'
import { frontOf, serialPins } from '../../../core/design/pins'
import type { Design, Front } from '../../../core/design/schema'
import type { WiringSum } from '../../../core/electrical/wiring-sum'
import { showQuantity } from '../../../core/units/quantity'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design; sums: WiringSum[] }>()
const designs = useDesignStore()
const set = (front: Partial<Front>) =>
  designs.apply({ type: 'setFront', front, controllerId: props.design.controllers[0]?.id })
const front = computed(() => props.design.front)
const ahead = computed(() => frontOf(props.design))
const port = computed(() => ahead.value && serialPins(ahead.value))
const label = (chip: number) => (ahead.value ? (pinOf(ahead.value, chip)?.label ?? '') : '')
const boards = computed(() => [...SHIPPED, ...props.design.boards])
const SHIFTS: Record<Front['shift'], string> = {
  divider: 'divider of 1 and 2 kΩ',
  shifter: 'level shifter',
  none: 'nothing',
}
function rename(event: Event): void {
  const name = (event.target as HTMLInputElement).value.trim()
  if (name && name !== front.value?.name) set({ name })
}
</script>

<template>
  <section>
    <h3 class="title">Board in front</h3>
    <template v-if="front">
      <dl class="facts">
        <dt>Name</dt>
        <dd>
          <input
            class="box wide"
            :value="front.name"
            aria-label="Name of the board in front"
            maxlength="40"
            @change="rename"
          />
        </dd>
        <dt>Board</dt>
        <dd>
          <el-select
            :model-value="front.board"
            size="small"
            aria-label="Kind of the board in front"
            @change="(board: string) => set({ board })"
            ><el-option v-for="b in boards" :key="b.id" :value="b.id" :label="b.name"
          /></el-select>
        </dd>
        <dt>It sends on</dt>
        <dd class="wire">{{ port ? label(port.send) : 'no port' }}</dd>
        <dt>heard here on</dt>
        <dd>
          <PinSelect
            :design="design"
            :pin="front.receivePin"
            label="Pin that hears the board in front"
            @change="receivePin => set({ receivePin })"
          />
        </dd>
        <dt>It hears on</dt>
        <dd class="wire">{{ port ? label(port.receive) : 'no port' }}</dd>
        <dt>told here on</dt>
        <dd>
          <PinSelect
            :design="design"
            :pin="front.sendPin"
            label="Pin that tells the board in front"
            @change="sendPin => set({ sendPin })"
          />
        </dd>
        <dt>Speed</dt>
        <dd>
          <el-select
            :model-value="front.baud"
            size="small"
            aria-label="Speed of the wire"
            @change="(baud: Front['baud']) => set({ baud })"
            ><el-option
              v-for="b in [9600, 19200, 38400, 57600, 115200]"
              :key="b"
              :value="b"
              :label="`${b} baud`"
          /></el-select>
        </dd>
        <dt>Between them</dt>
        <dd>
          <el-select
            :model-value="front.shift"
            size="small"
            aria-label="Between the voltages"
            @change="(shift: Front['shift']) => set({ shift })"
            ><el-option v-for="(words, shift) in SHIFTS" :key="shift" :value="shift" :label="words"
          /></el-select>
        </dd>
        <template v-if="ahead"
          ><dt>Its logic</dt>
          <dd class="wire">{{ showQuantity(ahead.logicVolts, 'V') }}</dd></template
        >
      </dl>
      <el-button size="small" class="away" @click="designs.apply({ type: 'setFront', front: null })"
        >Take it away</el-button
      >
      <SumCard v-for="s in sums.filter(x => x.path.startsWith('/front'))" :key="s.id" :of="s" />
    </template>
    <template v-else>
      <p class="second small">
        A small network board can take routes and pass codes on over a wire, while this board keeps
        the relays.
      </p>
      <el-button size="small" @click="set({})">Put a network board in front</el-button>
    </template>
  </section>
</template>

<style scoped>
.away {
  margin-top: 8px;
}
p {
  margin: 6px 0;
}
</style>
