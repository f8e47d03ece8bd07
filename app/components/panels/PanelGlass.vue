<script setup lang="ts">
/** A panel as its page draws it, so many pixels wide, with whatever host is given behind it. */
import { itemMarkup, themeProperties } from '../../../core/sides/panel-markup'
import { PANEL_STYLE } from '../../../core/sides/panel-style'
import { itemsOf } from '../../../core/design/items'
import type { Design, PanelSurface } from '../../../core/design/schema'
import { deviceOf, HEAD_MM } from '../../../core/panels/devices'
import { RichView } from '../../panel-page/rich-view'
import type { PanelHost } from '../../panel-page/view'

/** `silent`: only drawn. `tick`: whatever changes when it is to be drawn again. */
const props = defineProps<{
  design: Design
  panel: PanelSurface
  page: number
  widthPx: number
  host: PanelHost
  tick?: unknown
  silent?: boolean
  connection: string
  night?: boolean
}>()
const emit = defineEmits<{ drawn: [glass: HTMLElement] }>()
useHead({ style: [{ key: 'panel-style', innerHTML: PANEL_STYLE }] })

const glass = useTemplateRef<HTMLElement>('glass')
const device = computed(() => deviceOf(props.panel))
const pxPerMm = computed(() => props.widthPx / device.value.widthMm)
const markups = computed(() =>
  itemsOf(props.panel)
    .filter(i => i.page === props.page)
    .map(item => ({ item, ...itemMarkup(props.design, item) })),
)
const isNight = computed(() => {
  const { look } = props.panel.theme
  return look === 'night' || (look === 'auto' && props.night === true)
})
const px = (mm: number) => `${mm * pxPerMm.value}px`

let view: RichView | null = null
function attach(): void {
  view?.close()
  view = glass.value ? new RichView(glass.value, props.host, props.silent) : null
  if (props.silent) view?.course(sensorId => sampleCourse(props.design, sensorId))
  draw()
}
function draw(): void {
  view?.draw()
  if (glass.value) emit('drawn', glass.value)
}
onMounted(attach)
watch([() => JSON.stringify(markups.value), () => props.host], attach, { flush: 'post' })
watch(() => props.tick, draw, { flush: 'post' })
onBeforeUnmount(() => view?.close())
</script>

<template>
  <div
    ref="glass"
    class="np glass"
    :class="{ 'np-night': isNight }"
    :style="{
      '--mm': `${pxPerMm}px`,
      width: `${widthPx}px`,
      height: px(device.heightMm),
      '--head': px(HEAD_MM),
      ...themeProperties(panel.theme, isNight),
    }"
  >
    <header class="np-head">
      <h3 class="np-title">{{ design.name }}</h3>
      <div class="np-link" :data-up="connection === 'connected'">
        <span>{{ connection }}</span><i class="np-dot" />
      </div>
    </header>
    <!-- The markup of the built page, whose texts are escaped there. -->
    <!-- eslint-disable vue/no-v-html -->
    <div
      v-for="{ item, attributes, inner } in markups"
      :key="item.id"
      class="np-box"
      v-bind="attributes"
      :style="{
        left: px(item.xMm),
        top: px(item.yMm),
        width: px(item.widthMm),
        height: px(item.heightMm),
      }"
      v-html="inner"
    />
    <!-- eslint-enable vue/no-v-html -->
  </div>
</template>

<style scoped>
.glass {
  border-radius: 14px;
  outline: 2px solid var(--rule-strong);
  flex: none;
}
</style>
