<script setup lang="ts">
/** The chosen key's own ticket, beside its panel. */
import { linkOf, loadOf, maybeMessage } from '../../../core/design/find'
import { saysWords } from '../../../core/checks/sheet'
import { MIN_KEY_MM } from '../../../core/panels/devices'
import { smallestSideMm } from '../../../core/panels/layout'
import type { Design, PanelKey, PanelSurface } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'
import { useFindingsStore } from '../../stores/findings'

const props = defineProps<{ design: Design, panel: PanelSurface, loadId: string }>()
const designs = useDesignStore()
const findings = useFindingsStore()
const key = computed(() => props.panel.keys.find(k => k.loadId === props.loadId) as PanelKey)
const message = computed(() => maybeMessage(linkOf(props.design, props.panel.linkId), props.loadId))
const POLICY = { assume: 'what was asked', confirm: 'waits, then what is confirmed', report: 'what is reported' }
const here = computed(() => findings.of(props.panel.id, props.loadId).filter(f => f.code.startsWith('key-')))
</script>

<template>
  <aside class="key-ticket" aria-label="Chosen key">
    <h2>{{ loadOf(design, loadId).name }}</h2>
    <el-radio-group :model-value="key.form" aria-label="Form" @change="form => designs.apply({ type: 'setKeyForm', surfaceId: panel.id, loadId, form: form as PanelKey['form'] })">
      <el-radio-button value="state">one key</el-radio-button><el-radio-button value="pair">pair of keys</el-radio-button>
    </el-radio-group>
    <dl class="facts">
      <dt>Says</dt><dd class="wire">{{ message ? saysWords(message.on, message.off) : '' }}</dd>
      <dt>Shows</dt><dd>{{ POLICY[panel.belief.policy] }}</dd>
      <dt>Place</dt><dd>{{ key.xMm }}, {{ key.yMm }} mm</dd>
      <dt>Size</dt><dd>{{ key.widthMm }} × {{ key.heightMm }} mm</dd>
      <dt :title="`From ${MIN_KEY_MM} mm on, thumbs miss no more often than on larger keys`">Thumb side</dt><dd :class="{ differs: smallestSideMm(key) < MIN_KEY_MM }">{{ smallestSideMm(key).toFixed(1) }} mm</dd>
    </dl>
    <FindingItem v-for="(f, i) in here" :key="f.code + i" :finding="f" />
    <el-button size="small" @click="designs.apply({ type: 'removeKey', surfaceId: panel.id, loadId })">Take it off</el-button>
  </aside>
</template>

<style scoped>
.key-ticket { width: 214px; flex: none; margin-top: 42px; border-top: 2px solid var(--cursor); padding-top: 10px; display: grid; gap: 10px; justify-items: start; }
.facts { width: 100%; }
.key-ticket :deep(.el-radio-button__inner) { padding: 6px 9px; }
.key-ticket :deep(.finding) { padding: 4px 0; border-top: 1px solid var(--rule); width: 100%; }
dd { overflow-wrap: anywhere; }
</style>
