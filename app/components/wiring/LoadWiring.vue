<script setup lang="ts">
/** What drives a load, what it is, its contact and its lead: the inputs of its sums. */
import { LOAD_TYPES, type LoadType } from '../../../core/electrical/contact'
import type { Driver, Load, Wiring } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ load: Load }>()
const designs = useDesignStore()
const wiring = computed(() => props.load.wiring)
const set = (patch: Partial<Wiring>) => designs.apply({ type: 'setWiring', loadId: props.load.id, patch })

const DRIVERS: Record<Driver['kind'], { name: string, start: Driver }> = {
  'relay-module': { name: 'relay module', start: { kind: 'relay-module', amps: 0.07 } },
  'coil': { name: 'relay coil behind an NPN', start: { kind: 'coil', volts: 5, ohms: 70, henries: 0.1, gainMin: 100, transistorMaxAmps: 0.6 } },
  'mosfet': { name: 'MOSFET', start: { kind: 'mosfet', onOhms: 0.025, onAtGateVolts: 4.5, maxAmps: 20 } },
}
const drive = (patch: object) => set({ driver: { ...wiring.value.driver, ...patch } as Driver })
function say(patch: Partial<NonNullable<Wiring['load']>>): void {
  set({ load: { type: 'resistive', volts: 12, amps: 1, mains: false, ...wiring.value.load, ...patch } })
}
function rate(patch: Partial<NonNullable<Wiring['contact']>>): void {
  set({ contact: { ratedAmps: 10, inrushAmps: 30, ...wiring.value.contact, ...patch } })
}
function lay(patch: Partial<NonNullable<Wiring['run']>>): void {
  set({ run: { lengthMeters: 5, sectionMm2: 0.75, ...wiring.value.run, ...patch } })
}
</script>

<template>
  <dl class="facts">
    <dt>Driven by</dt>
    <dd><el-select :model-value="wiring.driver.kind" size="small" aria-label="Driven by" @change="(kind: Driver['kind']) => set({ driver: DRIVERS[kind].start })"><el-option v-for="(d, kind) in DRIVERS" :key="kind" :value="kind" :label="d.name" /></el-select></dd>
    <template v-if="wiring.driver.kind === 'relay-module'">
      <dt>Module takes</dt><dd><QuantityField :value="wiring.driver.amps" unit="A" label="Module takes" :min="0.0001" :max="100" @change="amps => drive({ amps })" /></dd>
    </template>
    <template v-else-if="wiring.driver.kind === 'coil'">
      <dt>Coil</dt><dd><QuantityField :value="wiring.driver.volts" unit="V" label="Coil voltage" :min="1" :max="60" @change="volts => drive({ volts })" /></dd>
      <dt /><dd><QuantityField :value="wiring.driver.ohms" unit="Ω" label="Coil resistance" :min="1" :max="100000" @change="ohms => drive({ ohms })" /></dd>
      <dt /><dd><QuantityField :value="wiring.driver.henries" unit="H" label="Coil inductance" :min="0.000001" :max="100" @change="henries => drive({ henries })" /></dd>
      <dt>Transistor</dt><dd><QuantityField :value="wiring.driver.transistorMaxAmps" unit="A" label="Transistor limit" :min="0.01" :max="50" @change="transistorMaxAmps => drive({ transistorMaxAmps })" /></dd>
      <dt>Gain at least</dt><dd><QuantityField :value="wiring.driver.gainMin" unit="" label="Gain at least" :min="5" :max="5000" @change="gainMin => drive({ gainMin })" /></dd>
    </template>
    <template v-else>
      <dt>On-resistance</dt><dd><QuantityField :value="wiring.driver.onOhms" unit="Ω" label="On-resistance" :min="0.0001" :max="100" @change="onOhms => drive({ onOhms })" /></dd>
      <dt>stated at gate</dt><dd><QuantityField :value="wiring.driver.onAtGateVolts" unit="V" label="Gate voltage of the on-resistance" :min="1" :max="15" @change="onAtGateVolts => drive({ onAtGateVolts })" /></dd>
      <dt>Drain limit</dt><dd><QuantityField :value="wiring.driver.maxAmps" unit="A" label="Drain limit" :min="0.001" :max="100" @change="maxAmps => drive({ maxAmps })" /></dd>
    </template>
    <dt>Load is a</dt>
    <dd><el-select :model-value="wiring.load?.type" size="small" placeholder="not said" aria-label="Load is a" @change="(type: LoadType) => say({ type })"><el-option v-for="(t, type) in LOAD_TYPES" :key="type" :value="type" :label="t.name" /></el-select></dd>
    <template v-if="wiring.load">
      <dt>Load current</dt><dd><QuantityField :value="wiring.load.amps" unit="A" label="Load current" :min="0.001" :max="100" @change="amps => say({ amps })" /></dd>
      <dt>Load voltage</dt><dd><QuantityField :value="wiring.load.volts" unit="V" label="Load voltage" :min="0.5" :max="1000" @change="volts => say({ volts, mains: volts > 60 ? true : wiring.load?.mains ?? false })" /></dd>
      <template v-if="wiring.driver.kind !== 'mosfet'">
        <dt>Contact rating</dt><dd><QuantityField :value="wiring.contact?.ratedAmps ?? null" unit="A" label="Contact rating" placeholder="not said" :min="0.1" :max="100" @change="ratedAmps => rate({ ratedAmps })" /></dd>
        <dt>its inrush</dt><dd><QuantityField :value="wiring.contact?.inrushAmps ?? null" unit="A" label="Contact inrush rating" placeholder="not said" :min="0.1" :max="2000" @change="inrushAmps => rate({ inrushAmps })" /></dd>
      </template>
      <template v-if="!wiring.load.mains">
        <dt>Lead, one way</dt><dd><QuantityField :value="wiring.run?.lengthMeters ?? null" unit="m" label="Lead, one way" placeholder="not said" :min="0.01" :max="1000" @change="lengthMeters => lay({ lengthMeters })" /></dd>
        <dt>Cross-section</dt><dd><QuantityField :value="wiring.run?.sectionMm2 ?? null" unit="mm²" label="Cross-section" placeholder="not said" :min="0.01" :max="100" @change="sectionMm2 => lay({ sectionMm2 })" /></dd>
      </template>
    </template>
  </dl>
  <el-checkbox v-if="wiring.load" :model-value="wiring.load.mains" @change="v => say({ mains: v === true })">On mains: a closed box here, wired by a qualified person</el-checkbox>
</template>
