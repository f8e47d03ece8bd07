<script setup lang="ts">
import { useHead } from '#imports'
import { PANEL_STYLE } from '../../../../core/build/panel-style'
import { panels } from '../../../../core/design/find'
import { devices } from '../../../../core/panels/devices'
import type { PanelSurface } from '../../../../core/design/schema'
import { useBenchStore } from '../../../stores/bench'
import { useDesignStore } from '../../../stores/design'
import { usePanelPlacing } from '../../../composables/panel-placing'
import { useScreenScale } from '../../../composables/screen-scale'

const designs = useDesignStore()
const { pxPerMm, zoom, ruler } = useScreenScale()
const mode = ref<'layout' | 'bench' | 'stand-in'>('layout')
const night = ref(false)
const selected = ref<{ surfaceId: string, loadId: string } | null>(null)
const bench = useBenchStore()
/** The bench plays one board at a time. */
const list = computed(() => panels((mode.value === 'bench' ? bench.part : null) ?? designs.design ?? { surfaces: [] }))
const { place } = usePanelPlacing()
useHead({ style: [{ key: 'panel-style', innerHTML: PANEL_STYLE }] })

function selectedOn(panel: PanelSurface): string | null {
  return selected.value?.surfaceId === panel.id && panel.keys.some(k => k.loadId === selected.value?.loadId) ? selected.value.loadId : null
}
function drop(panel: PanelSurface, loadId: string, at: { xMm: number, yMm: number } | null): void {
  if (place(panel, loadId, at)) selected.value = { surfaceId: panel.id, loadId }
}
</script>

<template>
  <div v-if="designs.design" class="panels-view">
    <div class="strip">
      <el-radio-group v-model="mode" aria-label="What the panels do">
        <el-radio-button value="layout">Lay out</el-radio-button>
        <el-radio-button value="bench">Try on the bench</el-radio-button>
        <el-radio-button value="stand-in">Try on a stand-in</el-radio-button>
      </el-radio-group>
      <el-radio-group v-if="mode === 'bench' && designs.parts.length > 1" :model-value="bench.part?.controllers[0]?.id" aria-label="Board" @change="(id: unknown) => { bench.loadId = designs.design?.loads.find(l => l.controllerId === id)?.id ?? bench.loadId }"><el-radio-button v-for="p in designs.parts.filter(x => x.part.loads.length)" :key="p.controller.id" :value="p.controller.id">{{ p.controller.name }}</el-radio-button></el-radio-group>
      <el-radio-group v-model="night" aria-label="Look"><el-radio-button :value="false">day</el-radio-button><el-radio-button :value="true">night</el-radio-button></el-radio-group>
      <el-radio-group v-model="zoom" class="push" aria-label="Size on screen"><el-radio-button :value="1">real size</el-radio-button><el-radio-button :value="1.5">1.5 ×</el-radio-button></el-radio-group>
      <el-popover trigger="click" :width="380" placement="bottom-end">
        <template #reference><el-button>Measure the screen</el-button></template>
        <p>Hold a bank card (85.6 mm wide) to the bar and move the slider until they match. One millimetre is then one millimetre.</p>
        <div class="ruler" :style="{ width: `${85.6 * ruler}px` }" />
        <el-slider v-model="ruler" :min="2.5" :max="8" :step="0.02" aria-label="Pixels per millimetre" />
      </el-popover>
    </div>
    <div class="body">
      <LoadSource :design="designs.design" :panels="list" :can-place="mode === 'layout'" :selected="selected" @place="drop" @select="s => selected = s" />
      <div class="ground">
        <template v-for="panel in list" :key="panel.id">
          <figure>
            <figcaption>
              <strong>{{ panel.name }}</strong>
              <el-select v-if="mode === 'layout'" :model-value="panel.device" size="small" :aria-label="`Size of ${panel.name}`" @change="(device: PanelSurface['device']) => designs.apply({ type: 'setDevice', surfaceId: panel.id, device })">
                <el-option v-for="d in devices()" :key="d.id" :value="d.id" :label="`${d.name}, ${d.widthMm} × ${d.heightMm} mm`" />
              </el-select>
            </figcaption>
            <StandInFrame v-if="mode === 'stand-in'" :design="designs.design" :panel="panel" :px-per-mm="pxPerMm" />
            <PanelCanvas
              v-else :design="designs.design" :panel="panel" :px-per-mm="pxPerMm" :live="mode === 'bench'" :night="night" :selected="selectedOn(panel)"
              @select="loadId => selected = loadId ? { surfaceId: panel.id, loadId } : null"
            />
          </figure>
          <KeyTicket v-if="mode === 'layout' && selectedOn(panel)" :design="designs.design" :panel="panel" :load-id="selectedOn(panel)!" />
          <BenchKeys v-if="mode === 'bench' && panel === list.at(-1)" :design="bench.part ?? designs.design" />
        </template>
        <p v-if="!list.length" class="second">No panel yet. Add one on the <NuxtLink :to="`/d/${designs.design.id}/sheet`">sheet</NuxtLink>: + surface.</p>
      </div>
    </div>
  </div>
</template>

<style scoped>
.panels-view { height: 100%; display: flex; flex-direction: column; }
.body { flex: 1; display: flex; min-height: 0; }
.ground { flex: 1; overflow: auto; display: flex; gap: 22px; padding: 16px 24px; align-items: flex-start; }
figure { margin: 0; flex: none; }
figcaption { display: flex; align-items: center; gap: 10px; margin-bottom: 8px; min-height: 28px; justify-content: space-between; }
figcaption .el-select { width: 210px; }
.ruler { height: 26px; border: 2px solid var(--ink); border-top: 0; margin: 12px 0 4px; }
</style>
