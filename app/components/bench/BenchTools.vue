<script setup lang="ts">
/** Run, step, reset; speed; faults; load and seed. */
import type { Design, Load } from '../../../core/design/schema'
import { linkOf } from '../../../core/design/find'
import { isDatagram, servesOne, throughRouter } from '../../../core/design/links/traits'
import type { Action } from '../../../core/bench/script'
import { SPEEDS, useBenchStore } from '../../stores/bench'
import { useEmulatedStore } from '../../stores/emulated'

const props = defineProps<{ design: Design; loads: Load[] }>()
const emit = defineEmits<{ board: [on: boolean] }>()
const bench = useBenchStore()
const emulated = useEmulatedStore()
const panels = computed(() => props.design.surfaces.flatMap(s => (s.kind === 'hand' ? [] : [s])))
const datagrams = computed(() =>
  panels.value.filter(p => isDatagram(linkOf(props.design, p.linkId))),
)
const hasRouter = computed(() => props.design.links.some(throughRouter))
const now = computed(() => (void bench.tick, bench.bench))
const away = (linkId: string) => (void bench.tick, now.value?.linkState(linkId).away === true)
const routerDown = computed(() => (void bench.tick, now.value?.routerIsDown === true))
const frontDown = computed(() => (void bench.tick, now.value?.frontDown === true))
const bounce = computed(() => (void bench.tick, now.value?.contactsBounce === true))
const taken = (linkId: string) => (void bench.tick, now.value?.linkState(linkId).taken === true)
const singles = computed(() => panels.value.filter(p => servesOne(linkOf(props.design, p.linkId))))
const anyTaken = computed(() => singles.value.some(p => taken(p.linkId)))
const power = computed(() => (void bench.tick, now.value?.power ?? 'on'))
</script>

<template>
  <div class="strip tools">
    <div class="group">
      <el-button type="primary" @click="bench.running ? bench.pause() : bench.run()">{{
        bench.running ? 'pause' : 'run'
      }}</el-button>
      <el-button @click="bench.step()">step</el-button>
      <el-button @click="bench.reset()">reset</el-button>
    </div>
    <el-radio-group v-model="bench.speed" aria-label="Speed"
      ><el-radio-button v-for="s in SPEEDS" :key="s.value" :value="s.value">{{
        s.name
      }}</el-radio-button></el-radio-group
    >
    <el-button
      aria-label="10 busy minutes"
      title="Ten minutes of presses and lost links, made at once"
      @click="bench.busyTenMinutes()"
      >10 busy min</el-button
    >
    <label class="seed second small"
      >seed
      <el-input-number
        v-model="bench.seed"
        :min="0"
        :max="999999"
        :controls="false"
        size="small"
        aria-label="Seed"
        @change="bench.clear()"
    /></label>
    <el-button
      :aria-pressed="emulated.on"
      :class="{ beside: emulated.on }"
      title="Machine code of the ready-made program, beside the controller of the bench"
      @click="emit('board', !emulated.on)"
      >emulated board</el-button
    >
    <el-select v-model="bench.loadId" class="load push" aria-label="Load shown"
      ><el-option v-for="l in loads" :key="l.id" :value="l.id" :label="l.name"
    /></el-select>
  </div>
  <div class="strip tools faults">
    <span class="second">Faults</span>
    <el-button
      v-for="p in panels"
      :key="p.id"
      size="small"
      :aria-pressed="away(p.linkId)"
      :class="{ fault: away(p.linkId) }"
      @click="bench.act({ do: away(p.linkId) ? 'linkUp' : 'linkDown', linkId: p.linkId })"
      >{{ p.name }} away</el-button
    >
    <el-button
      v-if="hasRouter"
      size="small"
      :aria-pressed="routerDown"
      :class="{ fault: routerDown }"
      @click="bench.act({ do: routerDown ? 'routerUp' : 'routerDown' })"
      >router down</el-button
    >
    <el-button
      v-if="design.front"
      size="small"
      :aria-pressed="frontDown"
      :class="{ fault: frontDown }"
      @click="bench.act({ do: frontDown ? 'frontUp' : 'frontDown' })"
      >{{ design.front.name }} stops</el-button
    >
    <el-button size="small" @click="bench.act({ do: 'restart' })">restart</el-button>
    <el-button
      size="small"
      :aria-pressed="power === 'off'"
      :class="{ fault: power === 'off' }"
      @click="bench.act({ do: power === 'off' ? 'powerOn' : 'powerOff' })"
      >cut power</el-button
    >
    <el-dropdown
      :persistent="false"
      trigger="click"
      max-height="420"
      @command="(action: Action) => bench.act(action)"
    >
      <el-button size="small" :class="{ fault: bounce || anyTaken }">more faults</el-button>
      <template #dropdown>
        <el-dropdown-menu>
          <el-dropdown-item :command="{ do: 'contacts', bounce: !bounce }">{{
            bounce ? 'clean contacts again' : 'bouncing contacts'
          }}</el-dropdown-item>
          <template v-for="p in panels" :key="p.id">
            <el-dropdown-item divided :command="{ do: 'loseNext', linkId: p.linkId }"
              >lose the next of {{ p.name }}</el-dropdown-item
            >
            <el-dropdown-item
              v-if="datagrams.includes(p)"
              :command="{ do: 'doubleNext', linkId: p.linkId }"
              >double the next of {{ p.name }}</el-dropdown-item
            >
            <el-dropdown-item :command="{ do: 'restartBox', surfaceId: p.id }"
              >{{ p.name }} starts anew</el-dropdown-item
            >
            <el-dropdown-item
              v-if="singles.includes(p)"
              :command="{ do: taken(p.linkId) ? 'strangerOff' : 'strangerOn', linkId: p.linkId }"
              >{{
                taken(p.linkId)
                  ? `the other phone leaves ${p.name}'s place`
                  : `another phone takes ${p.name}'s place`
              }}</el-dropdown-item
            >
            <el-dropdown-item :command="{ do: 'replay', linkId: p.linkId }"
              >a stranger repeats the last command of {{ p.name }}</el-dropdown-item
            >
          </template>
        </el-dropdown-menu>
      </template>
    </el-dropdown>
  </div>
</template>

<style scoped>
.tools :deep(.el-button) {
  margin: 0;
}
.tools:not(.faults) :deep(.el-button) {
  padding: 8px 11px;
}
.tools {
  gap: 6px 8px;
  padding: 7px 14px 7px 20px;
}
.faults {
  min-height: 40px;
  padding-top: 5px;
  padding-bottom: 5px;
}
.group {
  display: flex;
  gap: 6px;
}
.seed {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.seed :deep(.el-input-number) {
  width: 46px;
}
.load {
  width: 122px;
}
.tools :deep(.el-radio-button__inner) {
  padding: 7px;
}
.beside {
  background: var(--ink) !important;
  border-color: var(--ink) !important;
  color: var(--raised) !important;
}
.fault {
  background: var(--differs) !important;
  border-color: var(--differs) !important;
  color: var(--raised) !important;
}
</style>
