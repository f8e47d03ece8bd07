<script setup lang="ts">
/** What drives a load, what it is, its contact and its lead: the inputs of its sums. */
import { LOAD_TYPES, type LoadType } from '../../../core/electrical/contact'
import { DRIVER_WORDS, driversOf, NEW_DRIVERS } from '../../../core/design/drivers'
import { driverFields } from '../../../core/design/fields'
import { DANGER_WORDS } from '../../../core/design/words'
import type { Danger, Design, Driver, Load, Wiring } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'
import { useFindingsStore } from '../../stores/findings'
import { isPulse } from '../../../core/design/outputs/traits'

const props = defineProps<{ design: Design; load: Load }>()
const designs = useDesignStore()
const wiring = computed(() => props.load.wiring)
const set = (patch: Partial<Wiring>) =>
  designs.apply({ type: 'setWiring', loadId: props.load.id, patch })

/** What fits the output; what it has now stays in the list, so that it can be seen. */
const choices = computed(() => [
  ...new Set([...driversOf(props.load.output), wiring.value.driver.kind]),
])
const drive = (patch: object) => set({ driver: { ...wiring.value.driver, ...patch } as Driver })
const SMALL_GATE = { onOhms: 0.05, onAtGateVolts: 2.5, maxAmps: 3 }
const NEW_ISOLATOR = { lampVolts: 1.2, lampAmps: 0.005, transferMin: 1 }
const isolate = (patch: Partial<typeof NEW_ISOLATOR>) =>
  set({ isolator: { ...(wiring.value.isolator ?? NEW_ISOLATOR), ...patch } })
function say(patch: Partial<NonNullable<Wiring['load']>>): void {
  set({
    load: { type: 'resistive', volts: 12, amps: 1, mains: false, ...wiring.value.load, ...patch },
  })
}
function rate(patch: Partial<NonNullable<Wiring['contact']>>): void {
  set({ contact: { ratedAmps: 10, inrushAmps: 30, ...wiring.value.contact, ...patch } })
}
/** A solenoid that may be on a quarter of the time, five seconds at most. */
function work(patch: Partial<NonNullable<Wiring['duty']>>): void {
  set({
    duty: { ratedShare: 0.25, maxOnSeconds: 5, periodSeconds: 60, ...wiring.value.duty, ...patch },
  })
}
const findings = useFindingsStore()
/** Cautions stand where the danger is, every time. */
const mine = computed(() =>
  findings.findings.filter(f => f.loadId === props.load.id && f.code.startsWith('caution-')),
)
function warn(danger: Danger, is: boolean): void {
  set({
    dangers: (Object.keys(DANGER_WORDS) as Danger[]).filter(d =>
      d === danger ? is : wiring.value.dangers.includes(d),
    ),
  })
}
function lay(patch: Partial<NonNullable<Wiring['run']>>): void {
  set({ run: { lengthMeters: 5, sectionMm2: 0.75, ...wiring.value.run, ...patch } })
}
</script>

<template>
  <dl class="facts">
    <dt>Driven by</dt>
    <dd>
      <el-select
        :model-value="wiring.driver.kind"
        size="small"
        aria-label="Driven by"
        @change="(kind: Driver['kind']) => set({ driver: NEW_DRIVERS[kind] })"
        ><el-option v-for="kind in choices" :key="kind" :value="kind" :label="DRIVER_WORDS[kind]"
      /></el-select>
    </dd>
    <PartFields
      :fields="driverFields(wiring.driver.kind)"
      :values="wiring.driver"
      @change="drive"
    />
    <template v-if="wiring.driver.kind === 'coil'">
      <dt>Switched by</dt>
      <dd>
        <el-select
          :model-value="wiring.driver.gate ? 'mosfet' : 'npn'"
          size="small"
          aria-label="What switches the coil"
          @change="(by: string) => drive({ gate: by === 'mosfet' ? SMALL_GATE : null })"
          ><el-option value="npn" label="an NPN transistor" /><el-option
            value="mosfet"
            label="a MOSFET"
        /></el-select>
      </dd>
      <PartFields
        v-if="wiring.driver.gate"
        :fields="driverFields('mosfet')"
        :values="wiring.driver.gate"
        @change="
          patch =>
            wiring.driver.kind === 'coil'
            && drive({ gate: { ...(wiring.driver.gate ?? SMALL_GATE), ...patch } })
        "
      />
    </template>
    <template v-if="wiring.driver.kind !== 'none' && wiring.driver.kind !== 'opto'">
      <dt>Light isolator</dt>
      <dd>
        <el-checkbox
          :model-value="wiring.isolator !== null"
          aria-label="A light isolator between pin and driver"
          @change="v => set({ isolator: v === true ? NEW_ISOLATOR : null })"
          >between pin and driver</el-checkbox
        >
      </dd>
      <template v-if="wiring.isolator">
        <dt>its lamp</dt>
        <dd>
          <QuantityField
            :value="wiring.isolator.lampAmps"
            unit="A"
            label="Current of the isolator's lamp"
            :min="0.0001"
            :max="0.1"
            @change="lampAmps => isolate({ lampAmps })"
          />
        </dd>
        <dt>passes at least</dt>
        <dd>
          <QuantityField
            :value="wiring.isolator.transferMin * 100"
            unit="%"
            label="Least transfer of the isolator"
            :min="1"
            :max="2000"
            @change="percent => isolate({ transferMin: percent / 100 })"
          />
        </dd>
      </template>
      <template v-if="design.regulators.length">
        <dt>Driver fed by</dt>
        <dd>
          <FedBy
            :design="design"
            :fed-by="wiring.fedBy"
            label="What feeds the driver"
            @change="fedBy => set({ fedBy })"
          />
        </dd>
      </template>
    </template>
    <dt>Load is a</dt>
    <dd>
      <el-select
        :model-value="wiring.load?.type"
        size="small"
        placeholder="not said"
        aria-label="Load is a"
        @change="(type: LoadType) => say({ type })"
        ><el-option v-for="(t, type) in LOAD_TYPES" :key="type" :value="type" :label="t.name"
      /></el-select>
    </dd>
    <template v-if="wiring.load">
      <dt>Load current</dt>
      <dd>
        <QuantityField
          :value="wiring.load.amps"
          unit="A"
          label="Load current"
          :min="0.001"
          :max="100"
          @change="amps => say({ amps })"
        />
      </dd>
      <dt>Load voltage</dt>
      <dd>
        <QuantityField
          :value="wiring.load.volts"
          unit="V"
          label="Load voltage"
          :min="0.5"
          :max="1000"
          @change="
            volts => say({ volts, mains: volts > 60 ? true : (wiring.load?.mains ?? false) })
          "
        />
      </dd>
      <template v-if="wiring.driver.kind === 'relay-module' || wiring.driver.kind === 'coil'">
        <dt>Contact rating</dt>
        <dd>
          <QuantityField
            :value="wiring.contact?.ratedAmps ?? null"
            unit="A"
            label="Contact rating"
            placeholder="not said"
            :min="0.1"
            :max="100"
            @change="ratedAmps => rate({ ratedAmps })"
          />
        </dd>
        <dt>its inrush</dt>
        <dd>
          <QuantityField
            :value="wiring.contact?.inrushAmps ?? null"
            unit="A"
            label="Contact inrush rating"
            placeholder="not said"
            :min="0.1"
            :max="2000"
            @change="inrushAmps => rate({ inrushAmps })"
          />
        </dd>
      </template>
      <template v-if="wiring.load.type === 'solenoid' && isPulse(load.output)">
        <dt>Rated duty</dt>
        <dd>
          <QuantityField
            :value="wiring.duty ? wiring.duty.ratedShare * 100 : null"
            unit="%"
            label="Rated duty"
            placeholder="not said"
            :min="1"
            :max="100"
            @change="share => work({ ratedShare: share / 100 })"
          />
        </dd>
        <dt>On at most</dt>
        <dd>
          <QuantityField
            :value="wiring.duty?.maxOnSeconds ?? null"
            unit="s"
            label="On at most"
            placeholder="not said"
            :min="0.01"
            :max="1000000"
            @change="maxOnSeconds => work({ maxOnSeconds })"
          />
        </dd>
        <dt>Asked for every</dt>
        <dd>
          <QuantityField
            :value="wiring.duty?.periodSeconds ?? null"
            unit="s"
            label="Asked for every"
            placeholder="not said"
            :min="0.1"
            :max="1000000"
            @change="periodSeconds => work({ periodSeconds })"
          />
        </dd>
      </template>
      <template v-if="!wiring.load.mains">
        <dt>Lead, one way</dt>
        <dd>
          <QuantityField
            :value="wiring.run?.lengthMeters ?? null"
            unit="m"
            label="Lead, one way"
            placeholder="not said"
            :min="0.01"
            :max="1000"
            @change="lengthMeters => lay({ lengthMeters })"
          />
        </dd>
        <dt>Cross-section</dt>
        <dd>
          <QuantityField
            :value="wiring.run?.sectionMm2 ?? null"
            unit="mm²"
            label="Cross-section"
            placeholder="not said"
            :min="0.01"
            :max="100"
            @change="sectionMm2 => lay({ sectionMm2 })"
          />
        </dd>
      </template>
    </template>
  </dl>
  <el-checkbox
    v-if="wiring.load"
    :model-value="wiring.load.mains"
    @change="v => say({ mains: v === true })"
    >On mains: a closed box here, wired by a qualified person</el-checkbox
  >
  <fieldset class="dangers">
    <legend class="second">Can hurt by</legend>
    <el-checkbox
      v-for="(words, danger) in DANGER_WORDS"
      :key="danger"
      :model-value="wiring.dangers.includes(danger)"
      @change="v => warn(danger, v === true)"
      >{{ words }}</el-checkbox
    >
  </fieldset>
  <p v-for="c in mine" :key="c.code" class="small caution">{{ c.reason }}</p>
</template>

<style scoped>
.dangers {
  border: 0;
  padding: 0;
  margin: 8px 0 0;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: center;
}
.dangers legend {
  float: left;
  margin-right: 12px;
  padding: 0;
}
.caution {
  border-left: 3px solid var(--wait);
  padding-left: 8px;
  margin-top: 6px;
}
</style>
