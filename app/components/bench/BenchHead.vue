<script setup lang="ts">
/** Heads of the columns with their live controls for the load shown. */
import { linkOf, loadOf, maybeMessage } from '../../../core/design/find'
import type { Design, Surface } from '../../../core/design/schema'
import { differs } from '../../../core/bench/trace'
import { shownLabel } from '../../../core/panels/words'
import { seconds } from '../../../core/units/format'
import { TIME_SCALE_PX, type BenchColumn } from '../../composables/bench-columns'
import { useBenchStore } from '../../stores/bench'

const props = defineProps<{ design: Design, columns: BenchColumn[] }>()
const bench = useBenchStore()
const load = computed(() => props.design.loads.some(l => l.id === bench.loadId) ? loadOf(props.design, bench.loadId) : null)
const now = computed(() => (void bench.tick, bench.bench))
const isOn = computed(() => (void bench.tick, now.value?.isOn(bench.loadId) === true))
const shown = (surfaceId: string) => (void bench.tick, now.value?.shown(surfaceId, bench.loadId) ?? 'unknown')
const connected = (surfaceId: string) => (void bench.tick, now.value?.panelConnected(surfaceId) === true)
const power = computed(() => (void bench.tick, now.value?.power ?? 'on'))
const closed = (controlId: string) => (void bench.tick, now.value?.leverClosed(controlId) === true)

function words(surface: Surface): string {
  if (surface.kind === 'hand') return surface.inSight ? 'in sight' : 'out of sight'
  const { policy, timeoutMs } = surface.belief
  const how = policy === 'confirm' ? `confirms, ${seconds(timeoutMs)}` : policy === 'assume' ? 'assumes' : 'reports only'
  return surface.pollMs ? `${how}; asks every ${seconds(surface.pollMs)}` : how
}
function keyOf(surface: Surface) {
  if (surface.kind !== 'panel' || !load.value || !maybeMessage(linkOf(props.design, surface.linkId), load.value.id)) return null
  return surface.keys.find(k => k.loadId === load.value?.id) ?? { form: 'state' as const }
}
const controlsOf = (surface: Surface) => surface.kind === 'hand' ? surface.controls.filter(c => c.loadId === bench.loadId) : []
function press(controlId: string): void {
  bench.act({ do: 'press', controlId })
  bench.run()
}
function tap(surfaceId: string, want: 'on' | 'off' | 'flip'): void {
  bench.act({ do: 'key', surfaceId, loadId: bench.loadId, want })
  bench.run()
}
</script>

<template>
  <div class="heads" :style="{ gridTemplateColumns: `${TIME_SCALE_PX}px repeat(${columns.length}, minmax(0, 1fr))` }">
    <div />
    <div v-for="(column, i) in columns" :key="i" class="head">
      <template v-if="column.kind === 'controller'">
        <strong>Controller</strong><span class="second small">the truth</span>
        <div class="truth" :class="{ on: isOn }">{{ power === 'off' ? 'no power' : power === 'booting' ? 'starting' : isOn ? 'on' : 'off' }}</div>
      </template>
      <template v-else>
        <strong>{{ column.surface.name }}</strong><span class="second small">{{ words(column.surface) }}</span>
        <div v-if="column.surface.kind === 'hand'" class="keys">
          <button v-for="c in controlsOf(column.surface)" :key="c.id" type="button" class="key" :class="{ lever: c.kind === 'latching', closed: closed(c.id) }" @click="press(c.id)">{{ c.kind === 'push' ? 'press' : closed(c.id) ? 'flip to off' : 'flip to on' }}</button>
          <span v-if="!controlsOf(column.surface).length" class="second">no control</span>
        </div>
        <div v-else-if="keyOf(column.surface)" class="keys">
          <template v-if="keyOf(column.surface)!.form === 'pair'">
            <button v-for="want in (['on', 'off'] as const)" :key="want" type="button" class="key" :class="[shown(column.surface.id) === want ? 'on' : '', { wrong: shown(column.surface.id) === want && differs(shown(column.surface.id), isOn) }]" :disabled="!connected(column.surface.id)" @click="tap(column.surface.id, want)">{{ want }}</button>
          </template>
          <button v-else type="button" class="key wide" :class="[shown(column.surface.id), { wrong: differs(shown(column.surface.id), isOn) }]" :disabled="!connected(column.surface.id)" @click="tap(column.surface.id, 'flip')">{{ shownLabel(shown(column.surface.id), null, connected(column.surface.id)) }}</button>
        </div>
        <span v-else class="second keys">no key</span>
      </template>
    </div>
  </div>
</template>

<style scoped>
.heads { display: grid; border-bottom: 2px solid var(--ink); flex: none; }
.head { border-left: 1px solid var(--rule); padding: 9px 10px 11px; display: grid; align-content: start; min-width: 0; }
.head strong, .head .second { white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.keys { display: flex; gap: 6px; margin-top: 7px; min-height: 44px; align-items: center; }
.key { min-height: 44px; min-width: 58px; padding: 0 12px; border: 2px solid var(--ink); border-radius: 4px; background: var(--raised); color: var(--ink); font-weight: 700; cursor: pointer; }
.key.wide { min-width: 112px; }
.key:active { translate: 0 1px; }
.key.on { background: var(--ink); color: var(--raised); }
.key.waiting { background: var(--wait-ground); border-color: var(--wait); color: var(--ink); }
.key.unknown, .key.stale-on, .key.stale-off { border-style: dashed; border-color: var(--second); }
.key.wrong { background: repeating-linear-gradient(135deg, var(--differs-ground) 0 7px, var(--raised) 7px 11px); border-color: var(--differs); border-style: dashed; color: var(--differs); }
.key:disabled { cursor: default; border-style: dotted; }
.key.lever { border-left-width: 9px; }
.key.lever.closed { border-left-width: 2px; border-right-width: 9px; }
.truth { margin-top: 7px; min-height: 44px; display: flex; align-items: center; font-weight: 700; font-size: 15px; }
.truth::before { content: ""; width: 18px; height: 18px; border: 2px solid var(--ink); border-radius: 50%; margin-right: 8px; }
.truth.on::before { background: var(--ink); }
</style>
