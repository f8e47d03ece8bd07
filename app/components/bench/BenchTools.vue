<script setup lang="ts">
/** Run, step, reset; speed; faults; load and seed. */
import type { Design, Load } from '../../../core/design/schema'
import { linkOf } from '../../../core/design/find'
import { isDatagram, throughRouter } from '../../../core/design/links'
import { SPEEDS, useBenchStore } from '../../stores/bench'

const props = defineProps<{ design: Design, loads: Load[] }>()
const bench = useBenchStore()
const panels = computed(() => props.design.surfaces.flatMap(s => s.kind === 'hand' ? [] : [s]))
const datagrams = computed(() => panels.value.filter(p => isDatagram(linkOf(props.design, p.linkId))))
const hasRouter = computed(() => props.design.links.some(throughRouter))
const now = computed(() => (void bench.tick, bench.bench))
const away = (linkId: string) => (void bench.tick, now.value?.linkState(linkId).away === true)
const routerDown = computed(() => (void bench.tick, now.value?.routerIsDown === true))
const power = computed(() => (void bench.tick, now.value?.power ?? 'on'))
</script>

<template>
  <div class="strip tools">
    <div class="group">
      <el-button type="primary" @click="bench.running ? bench.pause() : bench.run()">{{ bench.running ? 'pause' : 'run' }}</el-button>
      <el-button @click="bench.step()">step</el-button>
      <el-button @click="bench.reset()">reset</el-button>
    </div>
    <el-radio-group v-model="bench.speed" aria-label="Speed"><el-radio-button v-for="s in SPEEDS" :key="s.value" :value="s.value">{{ s.name }}</el-radio-button></el-radio-group>
    <el-button title="Ten minutes of presses and lost links, made at once" @click="bench.busyTenMinutes()">10 busy minutes</el-button>
    <label class="seed second small">seed <el-input-number v-model="bench.seed" :min="0" :max="999999" :controls="false" size="small" aria-label="Seed" @change="bench.clear()" /></label>
    <el-select v-model="bench.loadId" class="load push" aria-label="Load shown"><el-option v-for="l in loads" :key="l.id" :value="l.id" :label="l.name" /></el-select>
  </div>
  <div class="strip tools faults">
    <span class="second">Faults</span>
    <el-button v-for="p in panels" :key="p.id" size="small" :aria-pressed="away(p.linkId)" :class="{ fault: away(p.linkId) }" @click="bench.act({ do: away(p.linkId) ? 'linkUp' : 'linkDown', linkId: p.linkId })">{{ p.name }} away</el-button>
    <el-button v-if="hasRouter" size="small" :aria-pressed="routerDown" :class="{ fault: routerDown }" @click="bench.act({ do: routerDown ? 'routerUp' : 'routerDown' })">router down</el-button>
    <el-dropdown trigger="click" @command="(linkId: string) => bench.act({ do: 'loseNext', linkId })">
      <el-button size="small">lose the next</el-button>
      <template #dropdown><el-dropdown-menu><el-dropdown-item v-for="p in panels" :key="p.id" :command="p.linkId">of {{ p.name }}</el-dropdown-item></el-dropdown-menu></template>
    </el-dropdown>
    <el-dropdown v-if="datagrams.length" trigger="click" @command="(linkId: string) => bench.act({ do: 'doubleNext', linkId })">
      <el-button size="small">double the next</el-button>
      <template #dropdown><el-dropdown-menu><el-dropdown-item v-for="p in datagrams" :key="p.id" :command="p.linkId">of {{ p.name }}</el-dropdown-item></el-dropdown-menu></template>
    </el-dropdown>
    <el-dropdown trigger="click" @command="(linkId: string) => bench.act({ do: 'replay', linkId })">
      <el-button size="small" title="Somebody who recorded the last command sends it again">a stranger repeats</el-button>
      <template #dropdown><el-dropdown-menu><el-dropdown-item v-for="p in panels" :key="p.id" :command="p.linkId">the last command of {{ p.name }}</el-dropdown-item></el-dropdown-menu></template>
    </el-dropdown>
    <el-button size="small" @click="bench.act({ do: 'restart' })">restart</el-button>
    <el-button size="small" :aria-pressed="power === 'off'" :class="{ fault: power === 'off' }" @click="bench.act({ do: power === 'off' ? 'powerOn' : 'powerOff' })">cut power</el-button>
  </div>
</template>

<style scoped>
.tools :deep(.el-button) { margin: 0; }
.tools { gap: 6px 10px; }
.faults { min-height: 42px; }
.group { display: flex; gap: 6px; }
.seed { display: inline-flex; gap: 6px; align-items: center; }
.seed :deep(.el-input-number) { width: 52px; }
.load { width: 158px; }
.tools :deep(.el-radio-button__inner) { padding: 7px 9px; }
.fault { background: var(--differs) !important; border-color: var(--differs) !important; color: var(--raised) !important; }
</style>
