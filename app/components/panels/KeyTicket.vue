<script setup lang="ts">
/** The chosen key's own ticket, beside its panel. */
import { linkOf, loadOf, maybeMessage } from '../../../core/design/find'
import { saysWords } from '../../../core/checks/sheet'
import { deviceOf, MIN_KEY_MM } from '../../../core/panels/devices'
import { FORM_WORDS } from '../../../core/design/edits'
import { formsOf, spokenValues } from '../../../core/design/values'
import { comfortable, keyCount, smallestSideMm } from '../../../core/panels/layout'
import type { Design, PanelKey, PanelSurface } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'
import { useFindingsStore } from '../../stores/findings'

const props = defineProps<{ design: Design, panel: PanelSurface, loadId: string }>()
const designs = useDesignStore()
const findings = useFindingsStore()
const key = computed(() => props.panel.keys.find(k => k.loadId === props.loadId) as PanelKey)
const message = computed(() => maybeMessage(linkOf(props.design, props.panel.linkId), props.loadId))
const output = computed(() => loadOf(props.design, props.loadId).output)
const side = computed(() => smallestSideMm(key.value, keyCount(output.value, key.value.form)))
const FORMS: Record<PanelKey['form'], string> = { state: 'one key', pair: 'pair of keys', trigger: 'trigger', hold: 'hold', each: 'key for each', stepper: 'more and less' }
/** Another form with the room that it wants. */
function change(form: PanelKey['form']): void {
  const { surfaceId, loadId } = { surfaceId: props.panel.id, loadId: props.loadId }
  const count = keyCount(output.value, form)
  designs.apply({ type: 'together', words: `${loadOf(props.design, loadId).name} on ${props.panel.name} becomes ${FORM_WORDS[form]}`, edits: [
    { type: 'setKeyForm', surfaceId, loadId, form },
    { type: 'moveKey', surfaceId, loadId, box: comfortable({ ...key.value, form }, deviceOf(props.panel.device), count) },
  ] })
}
const POLICY = { assume: 'what was asked', confirm: 'waits, then what is confirmed', report: 'what is reported' }
const here = computed(() => findings.of(props.panel.id, props.loadId).filter(f => f.code.startsWith('key-')))
</script>

<template>
  <aside class="key-ticket" aria-label="Chosen key">
    <h2>{{ loadOf(design, loadId).name }}</h2>
    <el-radio-group v-if="formsOf(output).length > 1" :model-value="key.form" aria-label="Form" @change="form => change(form as PanelKey['form'])">
      <el-radio-button v-for="form in formsOf(output)" :key="form" :value="form">{{ FORMS[form] }}</el-radio-button>
    </el-radio-group>
    <span v-else class="second">{{ FORM_WORDS[key.form] }}</span>
    <dl class="facts">
      <dt>Says</dt><dd class="wire">{{ message ? saysWords(spokenValues(output).map(v => message?.codes[v] ?? '')) : '' }}</dd>
      <dt>Shows</dt><dd>{{ POLICY[panel.belief.policy] }}</dd>
      <dt>Place</dt><dd>{{ key.xMm }}, {{ key.yMm }} mm</dd>
      <dt>Size</dt><dd>{{ key.widthMm }} × {{ key.heightMm }} mm</dd>
      <dt :title="`From ${MIN_KEY_MM} mm on, thumbs miss no more often than on larger keys`">Thumb side</dt><dd :class="{ differs: side < MIN_KEY_MM }">{{ side.toFixed(1) }} mm</dd>
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
