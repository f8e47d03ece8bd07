<script setup lang="ts">
/** The selected surface: belief of a panel, its link and timing, or sight of hand controls. */
import { linkOf, surfaceOf } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'
import { useFindingsStore } from '../../stores/findings'

const props = defineProps<{ design: Design, surfaceId: string }>()
const designs = useDesignStore()
const findings = useFindingsStore()
const surface = computed(() => props.design.surfaces.some(s => s.id === props.surfaceId) ? surfaceOf(props.design, props.surfaceId) : null)
const link = computed(() => surface.value?.kind === 'panel' ? linkOf(props.design, surface.value.linkId) : null)
const belief = (patch: Record<string, unknown>) => designs.apply({ type: 'setBelief', surfaceId: props.surfaceId, patch })
const setLink = (patch: Record<string, unknown>) => { if (link.value) designs.apply({ type: 'setLink', linkId: link.value.id, patch }) }
const TIMES = [['minMs', 'Fastest'], ['typicalMs', 'Typical'], ['p99Ms', '99 of 100 within'], ['dropDetectMs', 'Loss noticed after'], ['reconnectMs', 'Connects in']] as const
</script>

<template>
  <div v-if="surface">
    <h2>{{ surface.name }}</h2>
    <section v-if="surface.kind === 'hand'">
      <el-checkbox :model-value="surface.inSight" @change="v => designs.apply({ type: 'setInSight', surfaceId, inSight: v === true })">The loads can be seen from here</el-checkbox>
    </section>
    <template v-else-if="link">
      <section>
        <h3 class="title">What its keys show</h3>
        <dl class="facts">
          <dt>After a press</dt>
          <dd><el-select :model-value="surface.belief.policy" size="small" aria-label="After a press" @change="(policy: string) => belief({ policy })"><el-option value="assume" label="what was asked" /><el-option value="confirm" label="waiting, until confirmed" /><el-option value="report" label="only what is reported" /></el-select></dd>
          <template v-if="surface.belief.policy === 'confirm'">
            <dt>Waits</dt><dd><NumberField :value="surface.belief.timeoutMs" :min="50" :max="60000" unit="ms" label="Waits" @change="timeoutMs => belief({ timeoutMs })" /></dd>
            <dt>Asks again</dt><dd><NumberField :value="surface.belief.retries" :max="5" unit="times" label="Asks again" @change="retries => belief({ retries })" /></dd>
          </template>
          <dt>Link lost</dt>
          <dd><el-select :model-value="surface.belief.onLoss" size="small" aria-label="When the link is lost" @change="(onLoss: string) => belief({ onLoss })"><el-option value="keep" label="as it was, unmarked" /><el-option value="stale" label="as it was, marked" /><el-option value="unknown" label="not known" /></el-select></dd>
          <dt>Asks every</dt><dd><NumberField :value="surface.pollMs" :max="3600000" unit="ms" label="Asks every, 0 is never" @change="pollMs => designs.apply({ type: 'setPoll', surfaceId, pollMs })" /></dd>
        </dl>
      </section>
      <section>
        <h3 class="title">{{ link.kind === 'http' ? 'HTTP' : 'Serial Bluetooth' }}</h3>
        <el-checkbox :model-value="link.onConnect" @change="v => designs.apply({ type: 'reportOnConnect', linkId: link!.id, onConnect: v === true })">Whole state is sent on connect</el-checkbox>
        <dl class="facts">
          <template v-if="link.kind === 'bluetooth-serial'">
            <dt>Connected line</dt><dd><PinSelect optional :design="design" :pin="link.statusPin" label="Pin of the connected line" @change="statusPin => setLink({ statusPin })" @clear="setLink({ statusPin: null })" /></dd>
            <dt>Baud</dt><dd><el-select :model-value="link.baud" size="small" aria-label="Baud" @change="(baud: number) => setLink({ baud })"><el-option v-for="b in [9600, 19200, 38400, 57600, 115200]" :key="b" :value="b" :label="String(b)" /></el-select></dd>
          </template>
          <template v-else>
            <dt>Network</dt><dd><el-select :model-value="link.network" size="small" aria-label="Network" @change="(network: string) => setLink({ network })"><el-option value="own" label="own access point" /><el-option value="router" label="house router" /></el-select></dd>
            <dt>Address</dt><dd><InlineText mono :value="link.address" :maxlength="80" label="address" @change="address => setLink({ address })" /></dd>
          </template>
          <template v-for="[key, words] in TIMES" :key="key">
            <dt>{{ words }}</dt><dd><NumberField :value="link.timing[key]" :max="120000" unit="ms" :label="words" @change="v => setLink({ timing: { [key]: v } })" /></dd>
          </template>
          <dt>Lost while up</dt><dd><NumberField :value="link.timing.lossPerMille" :max="500" unit="‰" label="Lost while up, per thousand" @change="lossPerMille => setLink({ timing: { lossPerMille } })" /></dd>
        </dl>
      </section>
    </template>
    <section v-for="(f, i) in findings.of(surfaceId, null)" :key="f.code + i"><FindingItem :finding="f" /></section>
  </div>
</template>

<style scoped>
section :deep(.finding) { padding: 0; }
dd { overflow-wrap: anywhere; }
h3 { margin-bottom: 6px; }
</style>
