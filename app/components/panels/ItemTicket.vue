<script setup lang="ts">
/** The chosen part's own ticket, beside its panel. */
import { linkOf, loadOf, maybeMessage } from '../../../core/design/find'
import { saysWords } from '../../../core/checks/sheet'
import { codesShown } from '../../../core/messages/table'
import { ICON_CHOICES, type IconChoice } from '../../../core/design/icon-names'
import { chosenIcon, iconOf, iconWords } from '../../../core/design/icons'
import { DEVICE_READINGS, formWords } from '../../../core/design/forms/forms'
import {
  GUARD_WORDS,
  isKey,
  itemPath,
  itemsOf,
  itemTitle,
  unitOf,
} from '../../../core/design/items'
import {
  GUARDS,
  type Design,
  type Guard,
  type PanelItem,
  type PanelKey,
  type PanelSurface,
} from '../../../core/design/schema'
import { DANGER_GAP_MM, MIN_KEY_MM, deviceOf } from '../../../core/panels/devices'
import {
  gapMm,
  isTouched,
  keyCount,
  othersOn,
  smallestSideMm,
  snap,
} from '../../../core/panels/layout'
import type { TapRates } from '../../../core/panels/taps'
import { guardEdit } from '../../../core/checks/panel-rules'
import { readingBody } from '../../../core/messages/readings'
import type { EditArgs } from '../../../core/design/edits/edits'
import { useDesignStore } from '../../stores/design'
import { useFindingsStore } from '../../stores/findings'

const props = defineProps<{
  design: Design
  panel: PanelSurface
  item: PanelItem
  taps: readonly TapRates[] | null
}>()
defineEmits<{ duplicate: []; remove: [] }>()
const designs = useDesignStore()
const findings = useFindingsStore()
const link = computed(() => linkOf(props.design, props.panel.linkId))
const load = computed(() => (isKey(props.item) ? loadOf(props.design, props.item.loadId) : null))
const sensor = computed(() =>
  'sensorId' in props.item
    ? (props.design.sensors.find(s => 'sensorId' in props.item && s.id === props.item.sensorId)
      ?? null)
    : null,
)
const forms = computed(() => formsFor(props.design, props.item))
const says = computed(() => {
  if (load.value) {
    const message = maybeMessage(link.value, load.value.id)
    return message ? saysWords(codesShown(load.value, message)) : ''
  }
  return 'sceneId' in props.item ? (link.value.scenes[props.item.sceneId] ?? '') : ''
})
const hears = computed(() => {
  const reading =
    sensor.value
    && (link.value.readings as { sensorId: string }[]).find(r => r.sensorId === sensor.value?.id)
  return reading ? readingBody(link.value, reading as never, '…') : ''
})
const side = computed(() =>
  isTouched(props.item)
    ? smallestSideMm(
        props.item,
        load.value ? keyCount(load.value.output, props.item.form as PanelKey['form']) : 1,
      )
    : null,
)
const gap = computed(() => {
  const others = othersOn(props.panel, props.item).filter(isTouched)
  return isTouched(props.item) && others.length
    ? Math.min(...others.map(o => gapMm(o, props.item)))
    : null
})
const miss = computed(() => {
  const rates = props.taps?.filter(t => t.itemId === props.item.id) ?? []
  return rates.reduce<TapRates | null>(
    (worst, r) => (worst && worst.hit <= r.hit ? worst : r),
    null,
  )
})
const POLICY = {
  assume: 'what was asked',
  confirm: 'waits, then what is confirmed',
  report: 'what is reported',
}
const here = computed(() =>
  findings.findings.filter(f => f.path === itemPath(props.design, props.panel, props.item)),
)
const DEVICE_WAYS = (['battery', 'tilt', 'position'] as const).map(reads => ({
  reads,
  title: DEVICE_READINGS[reads].title,
}))
const icon = computed(() =>
  load.value && 'icon' in props.item ? chosenIcon(props.item.icon, load.value) : null,
)
const chosen = (choice: IconChoice) => load.value && chosenIcon(choice, load.value)
const iconLabel = (choice: IconChoice) =>
  choice === 'none'
    ? 'no icon'
    : choice === 'auto'
      ? `by what it is: ${load.value ? iconWords(iconOf(load.value)) : ''}`
      : iconWords(choice)
/** What the minutes of a part mean. */
const minutesWords = computed(() => ('sensorId' in props.item ? 'Reaches back' : 'Starts with'))
const set = (patch: EditArgs['setItem']['patch']) =>
  designs.apply({ type: 'setItem', surfaceId: props.panel.id, keyId: props.item.id, patch })
const move = (patch: Partial<Record<'xMm' | 'yMm' | 'widthMm' | 'heightMm', number>>) =>
  designs.apply({
    type: 'moveKey',
    surfaceId: props.panel.id,
    keyId: props.item.id,
    box: snap({ ...props.item, ...patch }, deviceOf(props.panel)),
  })
const BOX = [
  ['xMm', 'from the left'],
  ['yMm', 'from above'],
  ['widthMm', 'wide'],
  ['heightMm', 'high'],
] as const
const limitText = (value: number | null) => (value === null ? '' : String(value))
function setNumber(key: string, text: string, optional = false): void {
  const value = text.trim() === '' && optional ? null : Number(text.replace(',', '.'))
  if (value === null || Number.isFinite(value)) set({ [key]: value })
}
const otherName = (id: string) => {
  const other = itemsOf(props.panel).find(i => i.id === id)
  return other ? itemTitle(props.design, other) : id
}
</script>

<template>
  <aside class="item-ticket" aria-label="Chosen part">
    <h2>{{ itemTitle(design, item) }}</h2>
    <el-select
      v-if="forms.length > 3"
      :model-value="item.form"
      aria-label="Form"
      @change="(form: PanelItem['form']) => designs.apply(formEdit(design, panel, item, form))"
    >
      <el-option v-for="form in forms" :key="form" :value="form" :label="formWords(form).name" />
    </el-select>
    <el-radio-group
      v-else-if="forms.length > 1"
      :model-value="item.form"
      aria-label="Form"
      @change="form => designs.apply(formEdit(design, panel, item, form as PanelItem['form']))"
    >
      <el-radio-button v-for="form in forms" :key="form" :value="form">{{
        formWords(form).name
      }}</el-radio-button>
    </el-radio-group>
    <span v-else class="second">{{ formWords(item.form).words }}</span>
    <label v-if="'guard' in item" class="line"
      ><span class="second">Guard</span>
      <el-select
        :model-value="item.guard"
        size="small"
        aria-label="Guard"
        @change="(guard: Guard) => designs.apply(guardEdit(design, panel, item, guard))"
      >
        <el-option v-for="g in GUARDS" :key="g" :value="g" :label="GUARD_WORDS[g]" />
      </el-select>
    </label>
    <label v-if="'icon' in item && load" class="line"
      ><span class="second">Icon</span>
      <KeyIcon v-if="icon" :name="icon" />
      <el-select
        :model-value="item.icon"
        size="small"
        filterable
        aria-label="Icon"
        @change="(icon: IconChoice) => set({ icon })"
      >
        <el-option v-for="i in ICON_CHOICES" :key="i" :value="i" :label="iconLabel(i)">
          <span class="option"><KeyIcon :name="chosen(i)" />{{ iconLabel(i) }}</span></el-option
        >
      </el-select>
    </label>
    <p
      v-if="'guard' in item && (item.guard === 'pin' || item.guard === 'unlock')"
      class="second small"
    >
      {{
        item.guard === 'pin'
          ? 'Chosen at the first use, kept on the device. It keeps fingers off, not somebody who records the link.'
          : 'Asked of the phone where its browser allows it; elsewhere the key is held to confirm.'
      }}
    </p>
    <dl class="facts">
      <template v-if="says"
        ><dt>Says</dt>
        <dd class="wire">{{ says }}</dd></template
      >
      <template v-if="hears"
        ><dt>Hears</dt>
        <dd class="wire">{{ hears }}</dd></template
      >
      <template v-if="load"
        ><dt>Room</dt>
        <dd>
          <InlineText
            :value="load.room"
            :label="`Room of ${load.name}`"
            @change="room => load && designs.apply({ type: 'setRoom', loadId: load.id, room })"
            >{{ load.room || 'none yet' }}</InlineText
          >
        </dd></template
      >
      <template v-if="load"
        ><dt>Shows</dt>
        <dd>{{ POLICY[panel.belief.policy] }}</dd></template
      >
      <template v-if="'text' in item"
        ><dt>Text</dt>
        <dd>
          <InlineText
            :value="item.text"
            label="Text"
            :maxlength="160"
            @change="text => set({ text })"
          /></dd
      ></template>
      <template v-if="'low' in item">
        <dt>Scale</dt>
        <dd class="pair">
          <InlineText
            :value="String(item.low)"
            label="Lower end"
            @change="t => setNumber('low', t)"
          />
          to
          <InlineText
            :value="String(item.high)"
            label="Upper end"
            @change="t => setNumber('high', t)"
          />
          {{ sensor ? unitOf(sensor) : '' }}
        </dd>
      </template>
      <template v-if="'warnBelow' in item">
        <dt>Warns below</dt>
        <dd>
          <InlineText
            :value="limitText(item.warnBelow)"
            label="Warns below"
            @change="t => setNumber('warnBelow', t, true)"
            >{{ limitText(item.warnBelow) || 'no limit' }}</InlineText
          >
        </dd>
        <dt>Warns above</dt>
        <dd>
          <InlineText
            :value="limitText(item.warnAbove)"
            label="Warns above"
            @change="t => setNumber('warnAbove', t, true)"
            >{{ limitText(item.warnAbove) || 'no limit' }}</InlineText
          >
        </dd>
      </template>
      <template v-if="'minutes' in item"
        ><dt>{{ minutesWords }}</dt>
        <dd>
          <NumberField
            :value="item.minutes"
            unit="min"
            :label="minutesWords"
            :min="1"
            :max="'sensorId' in item ? 1440 : 600"
            @change="minutes => set({ minutes })"
          /></dd
      ></template>
      <template v-if="'reads' in item"
        ><dt>Reads</dt>
        <dd>
          <el-select
            :model-value="item.reads"
            size="small"
            aria-label="What it reads of the device"
            @change="(reads: (typeof DEVICE_WAYS)[number]['reads']) => set({ reads })"
            ><el-option v-for="r in DEVICE_WAYS" :key="r.reads" :value="r.reads" :label="r.title"
          /></el-select></dd
      ></template>
      <template v-for="[key, words] in BOX" :key="key"
        ><dt>{{ words }}</dt>
        <dd>
          <NumberField
            :value="item[key]"
            unit="mm"
            :label="words"
            :min="0"
            :max="600"
            @change="v => move({ [key]: v })"
          /></dd
      ></template>
      <template v-if="side !== null"
        ><dt
          :title="`From ${MIN_KEY_MM} mm on, thumbs miss no more often than on larger keys (Parhi, Karlson, Bederson 2006)`"
        >
          Thumb side
        </dt>
        <dd :class="{ differs: side < MIN_KEY_MM }">{{ side.toFixed(1) }} mm</dd></template
      >
      <template v-if="gap !== null"
        ><dt :title="`What can hurt somebody keeps ${DANGER_GAP_MM} mm`">Nearest key</dt>
        <dd>{{ gap.toFixed(1) }} mm</dd></template
      >
      <template v-if="miss"
        ><dt title="Of 4000 taps that were meant for it; the model is told above the panels">
          Missed taps
        </dt>
        <dd :class="{ differs: 1 - miss.hit > 0.05 }">
          {{ ((1 - miss.hit) * 100).toFixed(1) }} %
        </dd></template
      >
      <template v-if="miss?.instead && miss.other > 0.001"
        ><dt>Hit instead</dt>
        <dd>
          {{ otherName(miss.instead.itemId)
          }}{{ miss.instead.itemId === item.id ? ` (${miss.instead.want})` : '' }}:
          {{ (miss.other * 100).toFixed(1) }} %
        </dd></template
      >
    </dl>
    <FindingItem v-for="(f, i) in here" :key="f.code + i" :finding="f" />
    <div class="does">
      <el-button size="small" title="Ctrl+D" @click="$emit('duplicate')">Copy it</el-button>
      <el-button size="small" title="Delete" @click="$emit('remove')">Take it off</el-button>
    </div>
    <p class="second small">
      Arrows move by 1 mm, with Ctrl by 5, with Shift they size. Enter: next form. Space: one more.
    </p>
  </aside>
</template>

<style scoped>
.item-ticket {
  display: grid;
  gap: 10px;
  justify-items: start;
  align-content: start;
}
.facts {
  width: 100%;
}
.line {
  display: flex;
  gap: 10px;
  align-items: center;
  width: 100%;
}
.option {
  display: flex;
  gap: 10px;
  align-items: center;
}
.line .el-select {
  flex: 1;
}
.item-ticket :deep(.el-radio-button__inner) {
  padding: 6px 9px;
}
.item-ticket :deep(.finding) {
  padding: 4px 0;
  border-top: 1px solid var(--rule);
  width: 100%;
}
.pair {
  display: flex;
  gap: 4px;
  justify-content: flex-end;
  white-space: nowrap;
}
.does {
  display: flex;
  gap: 6px;
}
.does :deep(.el-button) {
  margin: 0;
}
dd {
  overflow-wrap: anywhere;
}
</style>
