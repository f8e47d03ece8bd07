<script setup lang="ts">
import { useHead } from '#imports'
import { useElementSize, useEventListener } from '@vueuse/core'
import { PANEL_STYLE } from '../../../../core/sides/panel-style'
import { linkOf, panels } from '../../../../core/design/find'
import { itemsOf } from '../../../../core/design/items'
import type { DeviceId, LinkKind, PanelSurface } from '../../../../core/design/schema'
import type { Edit } from '../../../../core/design/edits/edits'
import { refit } from '../../../../core/panels/auto'
import { SIGHT_MATRICES, SIGHT_WORDS, SIGHTS, type Sight } from '../../../../core/panels/colour'
import { deviceOf, devices } from '../../../../core/panels/devices'
import { offGlass, type Box } from '../../../../core/panels/layout'
import type { Hand } from '../../../../core/panels/reach'
import { TAP_MODEL, type TapRates } from '../../../../core/panels/taps'
import { coreWorker } from '../../../composables/core-worker'
import { useBenchStore } from '../../../stores/bench'
import { useDesignStore } from '../../../stores/design'

const designs = useDesignStore()
const { pxPerMm: scaled, zoom, fitted, ruler } = useScreenScale()
const mode = ref<'layout' | 'bench' | 'stand-in'>('layout')
/** A page in a frame is a page: it has its own size, and is not looked at from afar. */
const pxPerMm = computed(() =>
  mode.value === 'stand-in' && !zoom.value ? ruler.value : scaled.value,
)
const night = ref(false)
const handChoice = ref<Hand | ''>('')
const sightChoice = ref<Sight | ''>('')
const hand = computed(() => handChoice.value || null)
const sight = computed(() => sightChoice.value || null)
const tapping = ref(false)
const sigma = ref(TAP_MODEL.sigmaMm)
const selected = ref<{ surfaceId: string; ids: string[] } | null>(null)
const pages = reactive<Record<string, number>>({})
const bench = useBenchStore()
/** The bench plays one board at a time. */
const list = computed(() =>
  panels((mode.value === 'bench' ? bench.part : null) ?? designs.design ?? { surfaces: [] }),
)
const { place, layOutPanel } = usePanelPlacing()
useHead({ style: [{ key: 'panel-style', innerHTML: PANEL_STYLE }] })

/** The panel whose ticket is shown while nothing on one is chosen. */
const shownId = ref('')
const current = computed(
  () =>
    list.value.find(p => p.id === (selected.value?.surfaceId ?? shownId.value)) ?? list.value[0],
)

const ground = useTemplateRef<HTMLElement>('ground')
const room = useElementSize(ground)
const FIGURE_GAP = 22
/** Head of a figure with what lies about the glass, px. */
const FIGURE_HEAD = 92
const LEAST_FIGURE = 236
const widthOf = (panel: PanelSurface, px: number) =>
  Math.max(deviceOf(panel).widthMm * px + 12, LEAST_FIGURE)
/** Height as they stand in rows, px: with `wraps` one more where the next has no place. */
function rowsDown(px: number, wraps: boolean): number {
  let [down, across, tallest] = [0, 0, 0]
  for (const panel of list.value) {
    const width = widthOf(panel, px)
    if (wraps && across && across + width > room.width.value) {
      down += tallest + FIGURE_GAP
      across = tallest = 0
    }
    if (across + width > room.width.value) return Infinity
    across += width + FIGURE_GAP
    tallest = Math.max(tallest, deviceOf(panel).heightMm * px + FIGURE_HEAD)
  }
  return down + tallest
}
/** Side by side they are compared at a glance: rows have to be worth it. */
const WORTH_ROWS = 1.25
const inRows = ref(false)
// The largest scale at which every panel is seen whole.
watchEffect(() => {
  if (!room.width.value) return
  const [beside, rows] = [largest(false), largest(true)]
  // What no scale shows whole is scrolled down, not to the side.
  inRows.value = !fits(beside, false) || rows > beside * WORTH_ROWS
  fitted.value = inRows.value ? rows : beside
})
function fits(scale: number, wraps: boolean): boolean {
  return rowsDown(ruler.value * scale, wraps) <= room.height.value
}
function largest(wraps: boolean): number {
  let scale = 1
  while (scale > LEAST_SCALE && !fits(scale, wraps)) scale -= 0.01
  return scale
}
/** Smaller than this nothing can be read. */
const LEAST_SCALE = 0.36

const pageOf = (panel: PanelSurface) => Math.min(pages[panel.id] ?? 0, panel.pages.length - 1)
const partFor = (panel: PanelSurface) =>
  designs.design
    ? (designs.partOf(linkOf(designs.design, panel.linkId).controllerId) ?? designs.design)
    : null
const idsOn = (panel: PanelSurface) =>
  selected.value?.surfaceId === panel.id
    ? selected.value.ids.filter(id =>
        itemsOf(panel).some(i => i.id === id && i.page === pageOf(panel)),
      )
    : []
const itemsOn = (panel: PanelSurface) => itemsOf(panel).filter(i => idsOn(panel).includes(i.id))
function choose(surfaceId: string, ids: string[]): void {
  selected.value = ids.length ? { surfaceId, ids } : null
}
function drop(
  panel: PanelSurface,
  thing: Placeable,
  at: { xMm: number; yMm: number } | null,
): void {
  const id = place(panel, thing, pageOf(panel), at)
  if (id) showItem(panel.id, id)
}
/** Turns to the page where it stands. */
function showItem(surfaceId: string, id: string): void {
  const panel = panels(designs.design ?? { surfaces: [] }).find(p => p.id === surfaceId)
  const item = panel && itemsOf(panel).find(i => i.id === id)
  if (item) pages[surfaceId] = item.page
  choose(surfaceId, [id])
}
function layOutAll(panel: PanelSurface): void {
  if (layOutPanel(panel)) selected.value = null
}
/** The first panel of a design that has none. */
function addPanel(over: LinkKind, name: string): void {
  if (designs.apply({ type: 'addPanel', name, over }))
    void nextTick(() => document.querySelector<HTMLElement>('[data-lay-out]')?.focus())
}
const MODES = { 1: 'layout', 2: 'bench', 3: 'stand-in' } as const
useEventListener(document, 'keydown', (event: KeyboardEvent) => {
  if (
    event.ctrlKey
    || event.metaKey
    || event.altKey
    || event.defaultPrevented
    || takesLetters(event.target)
    || (!(event.key in MODES) && event.key !== '0')
  )
    return
  event.preventDefault()
  // Real size, or all at once.
  if (event.key === '0') return void (zoom.value = zoom.value === 1 ? 0 : 1)
  mode.value = MODES[Number(event.key) as keyof typeof MODES]
})
/** Another glass: what no longer fits is put in order again. */
function setGlass(
  panel: PanelSurface,
  patch: Partial<Pick<PanelSurface, 'device' | 'landscape' | 'ownMm'>>,
): void {
  const next = { ...panel, ...patch }
  const part = partFor(panel)
  const glass = deviceOf(next)
  const setting: Edit = { type: 'setPanel', surfaceId: panel.id, patch }
  if (!part || !itemsOf(panel).some(i => offGlass(i, glass))) designs.apply(setting)
  else
    designs.apply({
      type: 'together',
      edits: [setting, { type: 'setLayout', surfaceId: panel.id, ...refit(part, next) }],
      words: `${panel.name} laid out for ${glass.name}, ${glass.widthMm} × ${glass.heightMm} mm`,
    })
}
function setDevice(panel: PanelSurface, device: DeviceId): void {
  setGlass(panel, {
    device,
    landscape: device === 'browser' || (panel.landscape && device !== 'own'),
  })
}

interface Canvas {
  duplicate: () => void
  remove: () => void
  moveAll: (boxes: Box[]) => void
}
const canvases = new Map<string, Canvas>()
function keepCanvas(panel: PanelSurface, canvas: unknown): void {
  if (canvas) canvases.set(panel.id, canvas as Canvas)
  else canvases.delete(panel.id)
}
const canvasOf = (panel: PanelSurface) => canvases.get(panel.id)

const firstWay = useTemplateRef<{ ref?: HTMLElement }>('firstWay')
onMounted(() => firstWay.value?.ref?.focus())

// Taps are counted again after each change of what is shown, in a worker; the newest answer counts.
const taps = reactive<Record<string, TapRates[]>>({})
watchDebounced(
  [tapping, list, sigma, hand, () => ({ ...pages })],
  async () => {
    if (!tapping.value) return
    for (const panel of list.value) {
      const part = partFor(panel)
      if (part)
        taps[panel.id] = await coreWorker('proof').taps(
          part,
          panel.id,
          pageOf(panel),
          hand.value ?? 'right',
          { ...TAP_MODEL, sigmaMm: sigma.value },
        )
    }
  },
  { debounce: 120, deep: false },
)
</script>

<template>
  <div v-if="designs.design" class="panels-view">
    <div class="strip">
      <el-radio-group v-model="mode" aria-label="What the panels do">
        <el-radio-button value="layout" title="1">Lay out</el-radio-button>
        <el-radio-button value="bench" title="2">On the bench</el-radio-button>
        <el-radio-button value="stand-in" title="3">On a stand-in</el-radio-button>
      </el-radio-group>
      <el-radio-group
        v-if="mode === 'bench' && designs.parts.length > 1"
        :model-value="bench.part?.controllers[0]?.id"
        aria-label="Board"
        @change="
          (id: unknown) => {
            bench.loadId =
              designs.design?.loads.find(l => l.controllerId === id)?.id ?? bench.loadId
          }
        "
        ><el-radio-button
          v-for="p in designs.parts.filter(x => x.part.loads.length)"
          :key="p.controller.id"
          :value="p.controller.id"
          >{{ p.controller.name }}</el-radio-button
        ></el-radio-group
      >
      <el-radio-group v-model="night" aria-label="Look"
        ><el-radio-button :value="false">day</el-radio-button
        ><el-radio-button :value="true">night</el-radio-button></el-radio-group
      >
      <template v-if="mode === 'layout'">
        <el-select
          v-model="handChoice"
          class="narrow"
          aria-label="Reach of a thumb"
          :empty-values="[null]"
          ><el-option value="" label="Reach: none" /><el-option
            value="right"
            label="Reach: right" /><el-option value="left" label="Reach: left"
        /></el-select>
        <el-popover trigger="click" :width="360" placement="bottom">
          <template #reference
            ><el-button :type="tapping ? 'primary' : 'default'">Missed taps</el-button></template
          >
          <el-checkbox v-model="tapping">Count missed taps on each key</el-checkbox>
          <p class="small">
            4000 taps for each key, scattered normally about its middle. A careful finger scatters
            by about 1.5 mm (Bi, Li, Zhai 2013), a thumb in a hurry by about 2 mm; where a thumb has
            to stretch by a quarter more, out of reach by 60 % more: the last two are our
            assumption.
          </p>
          <label class="sigma"
            >scatter {{ sigma.toFixed(1) }} mm<el-slider
              v-model="sigma"
              :min="0.5"
              :max="4"
              :step="0.1"
              aria-label="Scatter of taps, mm"
          /></label>
        </el-popover>
      </template>
      <el-select
        v-model="sightChoice"
        class="narrow"
        aria-label="Seen by eyes"
        :empty-values="[null]"
        ><el-option value="" label="Eyes: usual" /><el-option
          v-for="s in SIGHTS"
          :key="s"
          :value="s"
          :label="`Eyes: ${SIGHT_WORDS[s]}`"
      /></el-select>
      <el-select v-model="zoom" class="zoom push" aria-label="Size on screen"
        ><el-option :value="0" label="all at once" /><el-option
          :value="0.5"
          label="0.5 ×" /><el-option :value="0.75" label="0.75 ×" /><el-option
          :value="1"
          label="real size" /><el-option :value="1.5" label="1.5 ×" /><el-option
          :value="2"
          label="2 ×"
      /></el-select>
      <el-popover trigger="click" :width="380" placement="bottom-end">
        <template #reference><el-button>Measure the screen</el-button></template>
        <p>
          Hold a bank card (85.6 mm wide) to the bar and move the slider until they match. One
          millimetre is then one millimetre.
        </p>
        <div class="ruler" :style="{ width: `${85.6 * ruler}px` }" />
        <el-slider
          v-model="ruler"
          :min="2.5"
          :max="8"
          :step="0.02"
          aria-label="Pixels per millimetre"
        />
      </el-popover>
    </div>
    <div class="body">
      <BenchKeys v-if="mode === 'bench'" :design="bench.part ?? designs.design" />
      <StandInSide v-else-if="mode === 'stand-in'" :design="designs.design" />
      <PanelTray
        v-else
        :design="designs.design"
        :panels="list"
        :can-place="mode === 'layout'"
        :selected="selected"
        @place="drop"
        @select="showItem"
      />
      <div ref="ground" class="ground" :class="{ wraps: inRows && !zoom }">
        <template v-for="panel in list" :key="panel.id">
          <figure :style="{ width: `${widthOf(panel, pxPerMm)}px` }">
            <figcaption>
              <button
                type="button"
                class="plain name"
                :aria-pressed="list.length > 1 ? current?.id === panel.id : undefined"
                @click="((selected = null), (shownId = panel.id))"
              >
                {{ panel.name }}
              </button>
              <el-button
                v-if="mode === 'layout'"
                size="small"
                type="primary"
                :aria-label="`Lay out ${panel.name} for me`"
                data-lay-out
                @click="layOutAll(panel)"
                >Lay out for me</el-button
              >
              <i class="row" />
              <template v-if="mode === 'layout'">
                <el-select
                  :model-value="panel.device"
                  size="small"
                  class="device"
                  :aria-label="`Size of ${panel.name}`"
                  @change="(device: DeviceId) => setDevice(panel, device)"
                >
                  <el-option
                    v-for="d in devices()"
                    :key="d.id"
                    :value="d.id"
                    :label="`${d.name}, ${d.widthMm} × ${d.heightMm} mm`"
                  /><el-option value="own" label="own size" />
                </el-select>
                <template v-if="panel.device === 'own'"
                  ><NumberField
                    :value="panel.ownMm.widthMm"
                    unit="×"
                    :label="`Width of ${panel.name}`"
                    :min="30"
                    :max="600"
                    @change="
                      widthMm => setGlass(panel, { ownMm: { ...panel.ownMm, widthMm } })
                    " /><NumberField
                    :value="panel.ownMm.heightMm"
                    unit="mm"
                    :label="`Height of ${panel.name}`"
                    :min="30"
                    :max="600"
                    @change="heightMm => setGlass(panel, { ownMm: { ...panel.ownMm, heightMm } })"
                /></template>
                <el-button
                  size="small"
                  :aria-label="`Turn ${panel.name}`"
                  @click="setGlass(panel, { landscape: !panel.landscape })"
                  >turn</el-button
                >
              </template>
            </figcaption>
            <StandInFrame
              v-if="mode === 'stand-in'"
              :design="designs.design"
              :panel="panel"
              :px-per-mm="pxPerMm"
            />
            <PanelCanvas
              v-else
              :ref="c => keepCanvas(panel, c)"
              :design="
                mode === 'bench'
                  ? (bench.part ?? designs.design)
                  : (partFor(panel) ?? designs.design)
              "
              :panel="panel"
              :page="pageOf(panel)"
              :px-per-mm="pxPerMm"
              :live="mode === 'bench'"
              :night="night"
              :selected="idsOn(panel)"
              :hand="hand"
              :sight="sight"
              :taps="tapping ? (taps[panel.id] ?? null) : null"
              @select="ids => choose(panel.id, ids)"
              @page="
                page => {
                  pages[panel.id] = page
                }
              "
            />
          </figure>
        </template>
        <div v-if="!list.length" class="first">
          <h2>The first panel</h2>
          <p class="second">
            A page with keys and readings, for a phone, a tablet or a browser. How does it reach the
            controller?
          </p>
          <div class="ways">
            <el-button ref="firstWay" size="large" type="primary" @click="addPanel('http', 'Phone')"
              >Over the network (HTTP)</el-button
            >
            <el-button size="large" @click="addPanel('low-energy', 'Phone')"
              >Over low-energy Bluetooth</el-button
            >
            <el-button size="large" @click="addPanel('bluetooth-serial', 'Phone')"
              >Over serial Bluetooth</el-button
            >
          </div>
          <p class="second small">
            Other links: + surface on the
            <NuxtLink :to="`/d/${designs.design.id}/sheet`">sheet</NuxtLink>.
          </p>
        </div>
      </div>
      <!-- Always there, so that nothing moves under the finger when something is chosen. -->
      <div v-if="mode === 'layout' && current" class="ticket">
        <PanelTicket
          v-if="!itemsOn(current).length"
          :key="current.id"
          :design="designs.design"
          :panel="current"
          :page="pageOf(current)"
          :panels="list"
          @page="page => (pages[current!.id] = page)"
        />
        <ItemTicket
          v-else-if="itemsOn(current).length === 1"
          :design="designs.design"
          :panel="current"
          :item="itemsOn(current)[0]!"
          :taps="tapping ? (taps[current.id] ?? null) : null"
          @duplicate="canvasOf(current)?.duplicate()"
          @remove="canvasOf(current)?.remove()"
        />
        <GroupTicket
          v-else
          :items="itemsOn(current)"
          @move="boxes => canvasOf(current!)?.moveAll(boxes)"
          @duplicate="canvasOf(current)?.duplicate()"
          @remove="canvasOf(current)?.remove()"
        />
      </div>
    </div>
    <svg class="sights" aria-hidden="true">
      <filter
        v-for="s in SIGHTS"
        :id="`sight-${s}`"
        :key="s"
        color-interpolation-filters="linearRGB"
      >
        <feColorMatrix
          type="matrix"
          :values="
            [0, 3, 6].map(r => `${SIGHT_MATRICES[s].slice(r, r + 3).join(' ')} 0 0`).join(' ')
            + ' 0 0 0 1 0'
          "
        />
      </filter>
    </svg>
  </div>
</template>

<style scoped>
.panels-view {
  height: 100%;
  display: flex;
  flex-direction: column;
}
.body {
  flex: 1;
  display: flex;
  min-height: 0;
}
.ground {
  flex: 1;
  overflow: auto;
  display: flex;
  gap: 22px;
  padding: 14px 24px;
  align-items: flex-start;
}
.wraps {
  flex-wrap: wrap;
  align-content: flex-start;
}
figure {
  margin: 0;
  flex: none;
}
figcaption {
  display: flex;
  align-items: center;
  gap: 6px;
  margin-bottom: 8px;
  flex-wrap: wrap;
}
figcaption :deep(.el-button) {
  margin: 0;
}
.name {
  flex: 1;
  text-align: left;
  color: inherit;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.row {
  flex: 0 0 100%;
  height: 0;
}
.ticket {
  width: 288px;
  flex: none;
  overflow: auto;
  border-left: 1px solid var(--rule-strong);
  background: var(--raised);
  padding: 14px 16px 20px;
}
.name[aria-pressed='true'] {
  text-decoration: underline;
  text-underline-offset: 4px;
}
.device {
  flex: 1;
  min-width: 150px;
  max-width: 250px;
}
.narrow {
  width: 126px;
}
.zoom {
  width: 116px;
}
.ruler {
  height: 26px;
  border: 2px solid var(--ink);
  border-top: 0;
  margin: 12px 0 4px;
}
.sigma {
  display: block;
}
.first {
  max-width: 46ch;
  display: grid;
  gap: 12px;
  padding-top: 6px;
}
.ways {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
}
.ways :deep(.el-button) {
  margin: 0;
}
.sights {
  position: absolute;
  width: 0;
  height: 0;
}
/* One below the other: what may be placed, the glasses, what is chosen. */
@media (max-width: 900px) {
  .panels-view {
    height: auto;
  }
  .body {
    flex-direction: column;
  }
  .body > :first-child {
    width: auto;
    max-height: 38vh;
    border-right: 0;
    border-bottom: 1px solid var(--rule-strong);
  }
  .ground {
    flex: none;
    max-width: 100vw;
  }
  .ticket {
    width: auto;
    border-left: 0;
    border-top: 1px solid var(--rule-strong);
  }
}
</style>
