<script setup lang="ts">
/** Heads of the columns with their live controls for the load shown. */
import { lampsOf, linkOf, loadOf, maybeMessage, scenesOn } from '../../../core/design/find'
import { actsOn } from '../../../core/design/targets'
import { lampsOfBox } from '../../../core/design/wired'
import type { Design, PanelKey, Surface } from '../../../core/design/schema'
import { formsOf, valueWords, wantsOn } from '../../../core/design/values'
import { numbersSaid } from '../../../core/messages/setpoints'
import { differs, isDefinite } from '../../../core/bench/trace'
import { drivenShares, linesWords } from '../../../core/emulated/shows'
import { formRow } from '../../../core/panels/forms/rows'
import { isLit, shownLabel, wantLabel } from '../../../core/panels/words'
import { seconds } from '../../../core/units/format'
import { OVERVIEW_PX, TIME_SCALE_PX, type BenchColumn } from '../../composables/bench-columns'
import { useBenchStore } from '../../stores/bench'
import { useEmulatedStore } from '../../stores/emulated'

const props = defineProps<{ design: Design; columns: BenchColumn[] }>()
const bench = useBenchStore()
const emulated = useEmulatedStore()
const load = computed(() =>
  props.design.loads.some(l => l.id === bench.loadId) ? loadOf(props.design, bench.loadId) : null,
)
const now = computed(() => (void bench.tick, bench.bench))
const truth = computed(
  () => (void bench.tick, load.value && now.value ? now.value.value(load.value.id) : ''),
)
const shown = (surfaceId: string) => (
  void bench.tick,
  now.value?.shown(surfaceId, bench.loadId) ?? 'unknown'
)
const connected = (surfaceId: string) => (
  void bench.tick,
  now.value?.panelConnected(surfaceId) === true
)
const power = computed(() => (void bench.tick, now.value?.power ?? 'on'))

/** Tone of a key that shows its load: inked, hollow, waiting, unsure or wrong. */
function toneOf(surfaceId: string): string {
  const is = shown(surfaceId)
  if (!load.value || differs(is, truth.value)) return 'wrong'
  return is === 'waiting'
    ? is
    : isLit(load.value.output, is)
      ? 'lit'
      : isDefinite(is)
        ? ''
        : 'unsure'
}
function words(surface: Surface): string {
  if (surface.kind === 'hand') return surface.inSight ? 'in sight' : 'out of sight'
  const { policy, timeoutMs } = surface.belief
  const how =
    policy === 'confirm'
      ? `confirms, ${seconds(timeoutMs)}`
      : policy === 'assume'
        ? 'assumes'
        : 'reports only'
  return surface.pollMs ? `${how}; asks every ${seconds(surface.pollMs)}` : how
}
function keyOf(surface: Surface) {
  if (
    surface.kind === 'hand'
    || !load.value
    || !maybeMessage(linkOf(props.design, surface.linkId), load.value.id)
  )
    return null
  const { output } = load.value
  const form =
    surface.keys.find(k => k.loadId === load.value?.id)?.form
    ?? (formsOf(output)[0] as PanelKey['form'])
  const message = maybeMessage(linkOf(props.design, surface.linkId), load.value.id)
  const numbers = form === 'fader' || form === 'number' ? numbersSaid(output, message) : null
  return { form, output, wants: wantsOn(surface.keys, load.value), numbers }
}
/** Where a surface believes that its load stands, as a number; at rest where it knows nothing. */
const numberOn = (surfaceId: string) => Number(shown(surfaceId).replace('stale-', '')) || 0
function slide(surfaceId: string, value: number | number[]): void {
  bench.act({ do: 'slide', surfaceId, loadId: bench.loadId, want: String(value) })
  bench.run()
}
/** What hangs on a wall or is a board itself is pressed there; knobs and sensors stand above. */
const isWired = (surface: Surface) =>
  surface.kind === 'hand' || (surface.kind === 'peer' && surface.boardId !== null)
const controlsOf = (surface: Surface) =>
  surface.kind !== 'panel'
    ? surface.controls.filter(c => actsOn(props.design, c, bench.loadId ?? '').length > 0)
    : []
/** Scenes that a surface asks for and that set the load shown. */
const scenesOf = (surface: Surface) =>
  surface.kind === 'hand'
    ? []
    : props.design.scenes.filter(
        s => scenesOn(surface).includes(s.id) && s.sets.some(x => x.loadId === bench.loadId),
      )
/** What stands on the lines of the load on the emulated board. */
const boardLevels = computed(() => {
  const at = props.design.loads.findIndex(l => l.id === bench.loadId)
  return (emulated.news?.lines[at] ?? []).map(changes => changes.at(-1)?.level ?? null)
})
const boardIsOn = computed(
  () => load.value && drivenShares(load.value.output, boardLevels.value).some(share => share > 0),
)
const boardWords = computed(() => {
  const { news, started } = emulated
  if (started && !started.ok) return 'no program'
  if (!news || !load.value) return 'starting'
  if (boardLevels.value.every(l => l === null)) return news.running ? 'starting' : 'no power'
  return linesWords(load.value.output, boardLevels.value)
})
function tapScene(surfaceId: string, sceneId: string): void {
  bench.act({ do: 'scene', surfaceId, sceneId })
  bench.run()
}
function tap(surfaceId: string, want: string): void {
  bench.act({ do: 'key', surfaceId, loadId: bench.loadId, want })
  bench.run()
}
</script>

<template>
  <div
    class="heads"
    :style="{
      paddingRight: `${OVERVIEW_PX}px`,
      gridTemplateColumns: `${TIME_SCALE_PX}px repeat(${columns.length}, minmax(0, 1fr))`,
    }"
  >
    <div />
    <div v-for="(column, i) in columns" :key="i" class="head">
      <template v-if="column.kind === 'controller'">
        <strong>Controller</strong><span class="second small">the truth</span>
        <div class="truth" :class="{ on: load && isLit(load.output, truth) }">
          {{
            power === 'off'
              ? 'no power'
              : power === 'booting'
                ? 'starting'
                : load
                  ? valueWords(load.output, truth)
                  : ''
          }}
        </div>
        <BenchLamps :lamps="lampsOf(design)" />
      </template>
      <template v-else-if="column.kind === 'board'">
        <strong>Emulated board</strong><span class="second small">machine code</span>
        <div class="truth" :class="{ on: boardIsOn }">{{ boardWords }}</div>
      </template>
      <template v-else>
        <strong>{{ column.surface.name }}</strong><span class="second small">{{
          words(column.surface)
        }}</span>
        <div v-if="isWired(column.surface)" class="keys">
          <template v-if="load"
            ><WallControl
              v-for="c in controlsOf(column.surface)"
              :key="c.id"
              class="key"
              :load="load"
              :control="c"
          /></template>
          <span v-if="column.surface.kind !== 'hand' && keyOf(column.surface)" class="small">{{
            shownLabel(load!.output, shown(column.surface.id), null, connected(column.surface.id))
          }}</span>
          <span v-else-if="!controlsOf(column.surface).length" class="second">no control</span>
        </div>
        <div
          v-for="key in [keyOf(column.surface)].filter(k => k !== null)"
          v-else-if="keyOf(column.surface)"
          :key="key.form"
          class="keys"
        >
          <template v-if="formRow(key.form).row">
            <button
              v-for="want in key.numbers ? [] : key.wants"
              :key="want"
              type="button"
              class="key narrow"
              :class="[
                shown(column.surface.id) === want ? 'lit' : '',
                {
                  wrong:
                    shown(column.surface.id) === want && differs(shown(column.surface.id), truth),
                },
              ]"
              :disabled="!connected(column.surface.id)"
              :aria-label="want"
              @click="tap(column.surface.id, want)"
            >
              {{ wantLabel(key.output, want).toLowerCase() }}
            </button>
            <el-slider
              v-if="key.numbers"
              class="numbers"
              :model-value="numberOn(column.surface.id)"
              :max="key.numbers.high"
              :step="key.numbers.step ?? 1"
              :disabled="!connected(column.surface.id)"
              :aria-label="`${load?.name}, any number, on ${column.surface.name}`"
              :format-tooltip="(n: number) => valueWords(key.output, String(n))"
              @input="(n: number | number[]) => slide(column.surface.id, n)"
            />
            <span v-if="key.form === 'stepper' || key.numbers" class="small">{{
              shownLabel(key.output, shown(column.surface.id), null, connected(column.surface.id))
            }}</span>
          </template>
          <HoldKey
            v-else-if="key.form === 'hold'"
            class="key wide"
            :class="toneOf(column.surface.id)"
            :disabled="!connected(column.surface.id)"
            @down="tap(column.surface.id, 'on')"
            @up="tap(column.surface.id, 'off')"
            >{{
              shownLabel(key.output, shown(column.surface.id), null, connected(column.surface.id))
            }}</HoldKey
          >
          <button
            v-else
            type="button"
            class="key wide"
            :class="toneOf(column.surface.id)"
            :disabled="!connected(column.surface.id)"
            @click="tap(column.surface.id, key.wants[0]!)"
          >
            {{
              shownLabel(key.output, shown(column.surface.id), null, connected(column.surface.id))
            }}
          </button>
        </div>
        <span v-else-if="!scenesOf(column.surface).length" class="second keys">no key</span>
        <div v-if="!isWired(column.surface) && scenesOf(column.surface).length" class="keys">
          <button
            v-for="s in scenesOf(column.surface)"
            :key="s.id"
            type="button"
            class="key wide"
            :disabled="!connected(column.surface.id)"
            @click="tapScene(column.surface.id, s.id)"
          >
            scene {{ s.name }}
          </button>
        </div>
        <BenchLamps :lamps="lampsOfBox(design, column.surface)" />
      </template>
    </div>
  </div>
</template>

<style scoped>
.heads {
  display: grid;
  border-bottom: 2px solid var(--ink);
  flex: none;
}
.head {
  border-left: 1px solid var(--rule);
  padding: 7px 10px 8px;
  display: grid;
  align-content: start;
  min-width: 0;
}
.head strong,
.head .second {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.keys {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 5px;
  min-height: 44px;
  align-items: center;
}
.key {
  min-height: 44px;
  min-width: 58px;
  padding: 0 12px;
  border: 2px solid var(--ink);
  border-radius: 4px;
  background: var(--raised);
  color: var(--ink);
  font-weight: 700;
  cursor: pointer;
}
.key.wide {
  min-width: 112px;
}
.numbers {
  flex: 1 0 100%;
  padding: 0 8px;
}
.key:active {
  translate: 0 1px;
}
.key.lit {
  background: var(--ink);
  color: var(--raised);
}
.key.waiting {
  background: var(--wait-ground);
  border-color: var(--wait);
  color: var(--ink);
}
.key.narrow {
  min-width: 40px;
  padding: 0 9px;
}
.key.unsure {
  border-style: dashed;
  border-color: var(--second);
}
.key.wrong {
  background: repeating-linear-gradient(
    135deg,
    var(--differs-ground) 0 7px,
    var(--raised) 7px 11px
  );
  border-color: var(--differs);
  border-style: dashed;
  color: var(--differs);
}
.key:disabled {
  cursor: default;
  border-style: dotted;
}
.key.lever {
  border-left-width: 9px;
}
.key.lever.closed {
  border-left-width: 2px;
  border-right-width: 9px;
}
.truth {
  margin-top: 5px;
  min-height: 44px;
  display: flex;
  align-items: center;
  font-weight: 700;
  font-size: 15px;
}
.truth::before {
  content: '';
  width: 18px;
  height: 18px;
  border: 2px solid var(--ink);
  border-radius: 50%;
  margin-right: 8px;
}
.truth.on::before {
  background: var(--ink);
}
/* Columns are as narrow as the glass: keys are as wide as theirs. */
@media (max-width: 900px) {
  .head {
    padding: 7px 5px 8px;
  }
  .key,
  .key.wide {
    min-width: min(44px, 100%);
    max-width: 100%;
    padding: 0 4px;
  }
  .key.wide {
    width: 100%;
  }
}
</style>
