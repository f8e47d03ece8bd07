<script setup lang="ts">
/** The supply and the regulators behind it, and what feeds the board. */
import type { Design, Regulator } from '../../../core/design/schema'
import type { WiringSum } from '../../../core/electrical/wiring-sum'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design; sums: WiringSum[] }>()
const designs = useDesignStore()
const set = (regulatorId: string, patch: Partial<Omit<Regulator, 'id'>>) =>
  designs.apply({ type: 'setRegulator', regulatorId, patch })
const of = (r: Regulator) => props.sums.find(s => s.id === `regulator:${r.id} regulator`)
function add(): void {
  const volts = props.design.supply.volts > 6 ? 5 : 3.3
  designs.apply({
    type: 'addRegulator',
    name: `${volts} V rail`,
    kind: props.design.supply.volts > 9 ? 'switching' : 'linear',
    volts,
  })
}
</script>

<template>
  <section>
    <h3 class="title">Supply</h3>
    <dl class="facts">
      <dt>Voltage</dt>
      <dd>
        <QuantityField
          :value="design.supply.volts"
          unit="V"
          label="Supply voltage"
          :min="1"
          :max="60"
          @change="volts => designs.apply({ type: 'setSupply', patch: { volts } })"
        />
      </dd>
      <dt>Rating</dt>
      <dd>
        <QuantityField
          :value="design.supply.amps"
          unit="A"
          label="Supply rating"
          :min="0.05"
          :max="100"
          @change="amps => designs.apply({ type: 'setSupply', patch: { amps } })"
        />
      </dd>
      <template v-if="design.regulators.length">
        <dt>The board is fed by</dt>
        <dd>
          <FedBy
            :design="design"
            :fed-by="design.controllers[0]?.fedBy ?? null"
            label="What feeds the board"
            @change="
              fedBy =>
                designs.apply({
                  type: 'feedController',
                  controllerId: design.controllers[0]?.id ?? '',
                  fedBy,
                })
            "
          />
        </dd>
      </template>
    </dl>
  </section>
  <section v-for="r in design.regulators" :key="r.id" class="regulator">
    <h3 class="title">
      <InlineText :value="r.name" label="regulator" @change="name => set(r.id, { name })" />
    </h3>
    <dl class="facts">
      <dt>It is</dt>
      <dd>
        <el-select
          :model-value="r.kind"
          size="small"
          :aria-label="`Kind of ${r.name}`"
          @change="(kind: Regulator['kind']) => set(r.id, { kind })"
          ><el-option value="linear" label="linear" /><el-option
            value="switching"
            label="switching"
        /></el-select>
      </dd>
      <dt>Fed by</dt>
      <dd>
        <FedBy
          :design="design"
          :fed-by="r.fedBy"
          :up-to="r.id"
          :label="`What feeds ${r.name}`"
          @change="fedBy => set(r.id, { fedBy })"
        />
      </dd>
      <dt>Makes</dt>
      <dd>
        <QuantityField
          :value="r.volts"
          unit="V"
          :label="`Voltage of ${r.name}`"
          :min="0.8"
          :max="48"
          @change="volts => set(r.id, { volts })"
        />
      </dd>
      <dt>Limit</dt>
      <dd>
        <QuantityField
          :value="r.maxAmps"
          unit="A"
          :label="`Limit of ${r.name}`"
          :min="0.001"
          :max="100"
          @change="maxAmps => set(r.id, { maxAmps })"
        />
      </dd>
      <dt>Needs above its output</dt>
      <dd>
        <QuantityField
          :value="r.dropoutVolts"
          unit="V"
          :label="`Dropout of ${r.name}`"
          :min="0"
          :max="10"
          @change="dropoutVolts => set(r.id, { dropoutVolts })"
        />
      </dd>
      <template v-if="r.kind === 'switching'">
        <dt>Efficiency</dt>
        <dd>
          <QuantityField
            :value="r.efficiency * 100"
            unit="%"
            :label="`Efficiency of ${r.name}`"
            :min="30"
            :max="100"
            @change="percent => set(r.id, { efficiency: percent / 100 })"
          />
        </dd>
      </template>
    </dl>
    <el-button size="small" @click="designs.apply({ type: 'removeRegulator', regulatorId: r.id })"
      >Remove {{ r.name }}</el-button
    >
    <SumCard v-if="of(r)" :of="of(r)!" />
  </section>
  <div class="more">
    <el-button size="small" @click="add">Add a regulator</el-button>
  </div>
</template>

<style scoped>
.regulator .el-button {
  margin-top: 8px;
}
.more {
  margin: 10px 0 14px;
}
</style>
