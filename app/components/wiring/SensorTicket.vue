<script setup lang="ts">
/**
 * A sensor or remote input: its lines, what is typed of it, its table of keys, floats or
 * calibration.
 */
import { sensorFields } from '../../../core/design/fields'
import { hasReading } from '../../../core/design/items'
import { SENSORS } from '../../../core/design/sensors/rows'
import { ladderReadings } from '../../../core/design/sensors/ladder'
import { asksOf } from '../../../core/design/values'
import { loadsInReach, scenesInReach } from '../../../core/design/wired'
import { freePin } from '../../../core/design/pins'
import type { Design, Sensor } from '../../../core/design/schema'
import { targetOf, wishesFor, wishOf } from '../../composables/wishes'
import { useDesignStore } from '../../stores/design'
import {
  isAnalog,
  isContact,
  isKnob,
  isLadder,
  isReceiver,
  isStick,
} from '../../../core/design/sensors/traits'

const props = defineProps<{ design: Design; sensor: Sensor }>()
const emit = defineEmits<{ removed: [] }>()
const designs = useDesignStore()
const set = (patch: Record<string, unknown>) =>
  designs.apply({ type: 'setSensor', sensorId: props.sensor.id, patch })

type Key = Extract<Sensor, { kind: 'infrared' }>['keys'][number]
type Calibration = NonNullable<Extract<Sensor, { kind: 'analog' }>['calibration']>
type Divider = NonNullable<Extract<Sensor, { kind: 'analog' }>['divider']>
/** Its own loads, and those that a box asks for over its link. */
const loads = computed(() => loadsInReach(props.design))
const wishes = computed(() => wishesFor({ scenes: scenesInReach(props.design) }, loads.value))
const asksFor = (loadId: string) => {
  const load = loads.value.find(l => l.id === loadId)
  return load ? asksOf(load.output, 'push') : []
}
type Ways = Extract<Sensor, { kind: 'two-axis' }>['ways']
const SIDES: Record<Ways[number]['on'], string> = {
  up: 'Pushed up',
  down: 'Pushed down',
  left: 'Pushed left',
  right: 'Pushed right',
  rest: 'Let go',
}
function askBySide(ways: Ways, on: Ways[number]['on'], wish: string): void {
  const others = ways.filter(w => w.on !== on)
  const order = Object.keys(SIDES)
  set({
    ways: wish
      ? [...others, { on, ...targetOf(wish) }].toSorted(
          (a, b) => order.indexOf(a.on) - order.indexOf(b.on),
        )
      : others,
  })
}
const askedBySide = (ways: Ways, on: Ways[number]['on']) => {
  const way = ways.find(w => w.on === on)
  return way ? wishOf(way) : ''
}
const wrong = ref('')

/** Codes of remotes are written in hexadecimal, with or without 0x. */
function setKey(
  keys: readonly Key[],
  i: number,
  patch: Partial<Pick<Key, 'address' | 'command'>>,
): void {
  set({ keys: keys.map((k, j) => (j === i ? { ...k, ...patch } : k)) })
}
function ask(keys: readonly Key[], i: number, wish: string): void {
  set({
    keys: keys.map((k, j) =>
      j === i ? { address: k.address, command: k.command, ...targetOf(wish) } : k,
    ),
  })
}
function hex(keys: readonly Key[], i: number, which: 'address' | 'command', event: Event): void {
  const text = (event.target as HTMLInputElement).value.trim().replace(/^0x/i, '')
  const value = /^[0-9a-f]{1,4}$/i.test(text) ? parseInt(text, 16) : -1
  wrong.value = value < 0 ? 'one to four hexadecimal digits, such as 1F' : ''
  if (value >= 0) setKey(keys, i, { [which]: value })
}
function addKey(keys: readonly Key[]): void {
  const [load] = loads.value
  if (load)
    set({
      keys: [
        ...keys,
        {
          address: keys.at(-1)?.address ?? 0,
          command: ((keys.at(-1)?.command ?? -1) + 1) & 0xffff,
          loadId: load.id,
          asks: asksFor(load.id)[0] ?? 'toggle',
        },
      ],
    })
}
function addFloat(floats: readonly { pin: number; level: number }[]): void {
  const pin = freePin(props.design, { as: 'contact', rests: 'either' })
  wrong.value = pin === undefined ? 'no pin is free for another float' : ''
  if (pin !== undefined)
    set({ floats: [...floats, { pin, level: (floats.at(-1)?.level ?? 0) + 10 }] })
}
const calibrate = (calibration: Calibration | null, patch: Partial<Calibration>) =>
  set({ calibration: { raw1: 0, value1: 0, raw2: 1023, value2: 100, ...calibration, ...patch } })
const divide = (divider: Divider | null, patch: Partial<Divider>) =>
  set({ divider: { upperOhms: 10_000, lowerOhms: 10_000, ...divider, ...patch } })
const numberIn = (event: Event) =>
  Number((event.target as HTMLInputElement).value.replace(',', '.'))
function read(event: Event, take: (value: number) => void): void {
  const value = numberIn(event)
  wrong.value = Number.isFinite(value) ? '' : 'a number, please'
  if (Number.isFinite(value)) take(value)
}
function rename(event: Event): void {
  const name = (event.target as HTMLInputElement).value.trim()
  if (name && name !== props.sensor.name) set({ name })
}
function remove(): void {
  if (designs.apply({ type: 'removeSensor', sensorId: props.sensor.id })) emit('removed')
}
const broken = computed(() =>
  isLadder(props.sensor)
    ? ladderReadings(props.sensor.floats.length).filter(r => r.broken).length
    : 0,
)
</script>

<template>
  <div>
    <p class="second small">
      Kind: {{ SENSORS[sensor.kind].words }}. Bench, stand-in and panels read it; the program for
      the board does not yet.
    </p>
    <dl class="facts">
      <dt>Name</dt>
      <dd>
        <input
          class="box wide"
          :value="sensor.name"
          aria-label="Name of the sensor"
          maxlength="40"
          @change="rename"
        />
      </dd>
      <PartFields :fields="sensorFields(sensor.kind)" :values="sensor" @change="set" />
      <template v-if="isContact(sensor)">
        <dt>Debounce</dt>
        <dd>
          <NumberField
            :value="sensor.debounceMs"
            :max="1000"
            unit="ms"
            label="Debounce"
            @change="debounceMs => set({ debounceMs })"
          />
        </dd>
        <dt>Pull-up</dt>
        <dd>
          <QuantityField
            :value="sensor.pullOhms"
            unit="Ω"
            label="Pull-up"
            placeholder="in the board"
            :min="100"
            :max="1000000"
            @change="pullOhms => set({ pullOhms })"
          />
        </dd>
      </template>
      <template v-if="isKnob(sensor)">
        <dt>Debounce</dt>
        <dd>
          <NumberField
            :value="sensor.debounceMs"
            :max="1000"
            unit="ms"
            label="Debounce"
            @change="debounceMs => set({ debounceMs })"
          />
        </dd>
        <dt>Changes a detent</dt>
        <dd>
          <el-select
            :model-value="sensor.countsPerDetent"
            size="small"
            aria-label="Changes of its lines from detent to detent"
            @change="(countsPerDetent: number) => set({ countsPerDetent })"
            ><el-option v-for="n in [1, 2, 4]" :key="n" :value="n" :label="String(n)"
          /></el-select>
        </dd>
        <dt>Turned fast</dt>
        <dd>
          <el-select
            :model-value="sensor.accelerated"
            size="small"
            aria-label="Turned fast"
            @change="(accelerated: boolean) => set({ accelerated })"
            ><el-option :value="false" label="a detent is a detent" /><el-option
              :value="true"
              label="a detent counts twice"
          /></el-select>
        </dd>
        <dt>Turns</dt>
        <dd>
          <el-select
            :model-value="sensor.loadId"
            size="small"
            aria-label="Load that it turns"
            @change="(loadId: string) => set({ loadId })"
            ><el-option v-for="l in loads" :key="l.id" :value="l.id" :label="l.name"
          /></el-select>
        </dd>
      </template>
      <template v-if="isAnalog(sensor)">
        <dt>Divider, above</dt>
        <dd>
          <QuantityField
            :value="sensor.divider?.upperOhms ?? null"
            unit="Ω"
            label="Divider, above"
            placeholder="none"
            :min="10"
            :max="1e8"
            @change="upperOhms => divide(isAnalog(sensor) ? sensor.divider : null, { upperOhms })"
          />
        </dd>
        <dt>Divider, below</dt>
        <dd>
          <QuantityField
            :value="sensor.divider?.lowerOhms ?? null"
            unit="Ω"
            label="Divider, below"
            placeholder="none"
            :min="10"
            :max="1e8"
            @change="lowerOhms => divide(isAnalog(sensor) ? sensor.divider : null, { lowerOhms })"
          />
        </dd>
        <dt>Unit</dt>
        <dd>
          <input
            class="box"
            :value="sensor.unit"
            aria-label="Unit of the value"
            maxlength="8"
            @change="event => set({ unit: (event.target as HTMLInputElement).value })"
          />
        </dd>
        <template v-for="n in [1, 2] as const" :key="n">
          <dt>Known point {{ n }}</dt>
          <dd class="point">
            <input
              class="box narrow"
              :value="sensor.calibration?.[`raw${n}`] ?? ''"
              placeholder="reading"
              :aria-label="`Reading ${n}`"
              inputmode="numeric"
              @change="
                event =>
                  read(event, v =>
                    calibrate(isAnalog(sensor) ? sensor.calibration : null, {
                      [`raw${n}`]: Math.round(v),
                    }),
                  )
              "
            />
            <span>is</span>
            <input
              class="box narrow"
              :value="sensor.calibration?.[`value${n}`] ?? ''"
              placeholder="value"
              :aria-label="`True value ${n}`"
              inputmode="decimal"
              @change="
                event =>
                  read(event, v =>
                    calibrate(isAnalog(sensor) ? sensor.calibration : null, {
                      [`value${n}`]: v,
                    }),
                  )
              "
            />
          </dd>
        </template>
      </template>
      <template v-if="isStick(sensor)">
        <dt>Mounted at</dt>
        <dd>
          <NumberField
            :value="sensor.degrees"
            :min="-180"
            :max="180"
            unit="°"
            label="Mounted at"
            @change="degrees => set({ degrees })"
          />
        </dd>
        <template v-if="loads.length">
          <WishSelect
            v-for="(words, on) in SIDES"
            :key="on"
            :words="words"
            :value="askedBySide(sensor.ways, on)"
            :wishes="wishes"
            @change="wish => isStick(sensor) && askBySide(sensor.ways, on, wish)"
          />
        </template>
        <template v-if="sensor.ways.length">
          <dt>At rest below</dt>
          <dd>
            <NumberField
              :value="sensor.deadZone"
              :min="1"
              :max="90"
              unit="%"
              label="At rest below"
              @change="deadZone => set({ deadZone })"
            />
          </dd>
          <dt>Steps again every</dt>
          <dd>
            <NumberField
              :value="sensor.repeatMs"
              :max="10000"
              unit="ms"
              label="Steps again every, 0 is never"
              @change="repeatMs => set({ repeatMs })"
            />
          </dd>
        </template>
      </template>
      <template v-if="isLadder(sensor)">
        <dt>Unit</dt>
        <dd>
          <input
            class="box"
            :value="sensor.unit"
            aria-label="Unit of the level"
            maxlength="8"
            @change="event => set({ unit: (event.target as HTMLInputElement).value })"
          />
        </dd>
      </template>
    </dl>
    <div class="buttons">
      <template v-if="isAnalog(sensor)">
        <el-button v-if="sensor.divider" size="small" @click="set({ divider: null })"
          >No divider</el-button
        >
        <el-button v-if="sensor.calibration" size="small" @click="set({ calibration: null })"
          >No calibration</el-button
        >
      </template>
      <el-button
        v-if="isContact(sensor) && sensor.pullOhms !== null"
        size="small"
        @click="set({ pullOhms: null })"
        >Use the board's own pull-up</el-button
      >
    </div>

    <table v-if="isLadder(sensor)" class="ruled rows">
      <thead>
        <tr>
          <th>Float, from below</th>
          <th>Closes at</th>
          <th><span class="visually-hidden">Remove</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(f, i) in sensor.floats" :key="i">
          <td>{{ i + 1 }}</td>
          <td>
            <input
              class="box narrow"
              :value="f.level"
              :aria-label="`Level of float ${i + 1}`"
              inputmode="decimal"
              @change="
                event =>
                  read(
                    event,
                    level =>
                      isLadder(sensor)
                      && set({
                        floats: sensor.floats.map((x, j) => (j === i ? { ...x, level } : x)),
                      }),
                  )
              "
            />
            {{ sensor.unit }}
          </td>
          <td>
            <button
              v-if="sensor.floats.length > 1"
              type="button"
              class="plain"
              :aria-label="`Remove float ${i + 1}`"
              @click="isLadder(sensor) && set({ floats: sensor.floats.filter((_, j) => j !== i) })"
            >
              ×
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <template v-if="isLadder(sensor)">
      <el-button v-if="sensor.floats.length < 8" size="small" @click="addFloat(sensor.floats)"
        >Another float</el-button
      >
      <p class="second small">
        {{ sensor.floats.length + 1 }} levels can be read. The other {{ broken }} of
        {{ 2 ** sensor.floats.length }} readings have a dry float under a wet one: a float is stuck
        or its lead is broken.
      </p>
    </template>

    <template v-if="isReceiver(sensor)">
      <table v-if="sensor.keys.length" class="ruled rows">
        <thead>
          <tr>
            <th>Address</th>
            <th>Key</th>
            <th>Asks for</th>
            <th><span class="visually-hidden">Remove</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(k, i) in sensor.keys" :key="i">
            <td>
              <input
                class="box code wire"
                :value="k.address.toString(16).toUpperCase()"
                :aria-label="`Address of key ${i + 1}, hexadecimal`"
                maxlength="6"
                @change="event => isReceiver(sensor) && hex(sensor.keys, i, 'address', event)"
              />
            </td>
            <td>
              <input
                class="box code wire"
                :value="k.command.toString(16).toUpperCase()"
                :aria-label="`Code of key ${i + 1}, hexadecimal`"
                maxlength="6"
                @change="event => isReceiver(sensor) && hex(sensor.keys, i, 'command', event)"
              />
            </td>
            <td>
              <el-select
                :model-value="wishOf(k)"
                size="small"
                :aria-label="`What key ${i + 1} asks for`"
                @change="(wish: string) => isReceiver(sensor) && ask(sensor.keys, i, wish)"
                ><el-option v-for="w in wishes" :key="w.value" :value="w.value" :label="w.label"
              /></el-select>
            </td>
            <td>
              <button
                type="button"
                class="plain"
                :aria-label="`Remove key ${i + 1}`"
                @click="isReceiver(sensor) && set({ keys: sensor.keys.filter((_, j) => j !== i) })"
              >
                ×
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <el-button
        v-if="loads.length && sensor.keys.length < 60"
        size="small"
        @click="addKey(sensor.keys)"
        >Another key</el-button
      >
      <p class="second small">
        Address and key are what a receiver prints when the key is pressed, in hexadecimal.
      </p>
    </template>

    <RuleRows v-if="hasReading(sensor)" :design="design" :sensor="sensor" />
    <p v-if="wrong" class="differs small" role="alert">{{ wrong }}</p>
    <el-button size="small" class="remove" @click="remove">Remove {{ sensor.name }}</el-button>
  </div>
</template>

<style scoped>
.box {
  width: 104px;
  text-align: right;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--raised);
  color: inherit;
  padding: 3px 7px;
  min-height: 26px;
}
.box.wide {
  width: 100%;
}
.box.narrow {
  width: 74px;
}
.box.code {
  width: 46px;
  padding: 3px 4px;
}
.point {
  display: flex;
  gap: 6px;
  justify-content: flex-end;
  align-items: center;
}
.rows {
  margin: 10px 0 8px;
}
.rows th,
.rows td {
  padding: 4px 4px 4px 0 !important;
  vertical-align: middle !important;
}
.rows :deep(.el-select) {
  width: 100%;
}
.rows td:has(.code) {
  width: 52px;
}
.rows td:last-child {
  width: 24px;
  padding-right: 0 !important;
}
.buttons {
  display: flex;
  gap: 6px;
  margin-top: 6px;
}
.buttons :deep(.el-button) {
  margin: 0;
}
.remove {
  margin-top: 12px;
}
p {
  margin: 6px 0;
}
.plain {
  min-width: 24px;
  text-align: center;
}
</style>
