<script setup lang="ts">
/**
 * The keys of a remote control that a receiver has learnt: address and command, and what each asks
 * for.
 */
import { asksOf } from '../../../core/design/values'
import { infraredFrame, REPEAT_MS } from '../../../core/links/infrared'
import type { Design, Sensor } from '../../../core/design/schema'
import type { Target } from '../../../core/design/targets'
import { loadsInReach } from '../../../core/design/wired'
import { asksWords, sceneWishes, targetOf, wishOf } from '../../composables/wishes'
import { useDesignStore } from '../../stores/design'
import { actsAgain } from '../../../core/design/outputs/traits'

type Receiver = Extract<Sensor, { kind: 'infrared' }>
type Key = Receiver['keys'][number]
const props = defineProps<{ design: Design; sensor: Receiver }>()
const designs = useDesignStore()
/** Of its board, and those that its board asks for over a link. */
const loads = computed(() =>
  loadsInReach(designs.partOf(props.sensor.controllerId) ?? props.design),
)
const outputOf = (key: Key) =>
  'loadId' in key ? loads.value.find(l => l.id === key.loadId)?.output : undefined
const put = (keys: Key[]) =>
  designs.apply({ type: 'setSensor', sensorId: props.sensor.id, patch: { keys } })
const hex = (n: number, digits: number) => `0x${n.toString(16).toUpperCase().padStart(digits, '0')}`
function change(i: number, patch: Partial<Pick<Key, 'address' | 'command'>>): void {
  put(props.sensor.keys.map((k, j) => (j === i ? { ...k, ...patch } : k)))
}
/** What it asks for takes the place of what it asked for. */
function ask(i: number, target: Target): void {
  put(
    props.sensor.keys.map((k, j) =>
      j === i ? { address: k.address, command: k.command, ...target } : k,
    ),
  )
}
function setNumber(i: number, which: 'address' | 'command', event: Event): void {
  const input = event.target as HTMLInputElement
  const value = Number(input.value)
  if (Number.isInteger(value) && value >= 0 && value <= 0xffff) change(i, { [which]: value })
  else input.value = hex(props.sensor.keys[i]?.[which] ?? 0, which === 'address' ? 4 : 2)
}
function setLoad(i: number, what: string): void {
  const output = loads.value.find(l => l.id === what)?.output
  if (output) ask(i, { loadId: what, asks: asksOf(output, 'push')[0] ?? '' })
  else ask(i, targetOf(what))
}
function add(): void {
  const load = loads.value[0]
  const last = props.sensor.keys.at(-1)
  if (load)
    put([
      ...props.sensor.keys,
      {
        address: last?.address ?? 0,
        command: (last?.command ?? 0) + 1,
        loadId: load.id,
        asks: asksOf(load.output, 'push')[0] ?? '',
      },
    ])
}
const acts = (key: Key) =>
  'loadId' in key && actsAgain(outputOf(key)) ? 'goes on acting' : 'acts once'
</script>

<template>
  <div class="table-body">
    <table v-if="sensor.keys.length" class="ruled">
      <thead>
        <tr>
          <th>Address</th>
          <th>Command</th>
          <th>Load or scene</th>
          <th>Asks for</th>
          <th>Held down</th>
          <th class="number">In the air</th>
          <th><span class="visually-hidden">Remove</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(key, i) in sensor.keys" :key="i">
          <td>
            <input
              class="wire code"
              :value="hex(key.address, 4)"
              :aria-label="`Address of key ${i + 1}`"
              maxlength="6"
              spellcheck="false"
              @change="setNumber(i, 'address', $event)"
            />
          </td>
          <td>
            <input
              class="wire code"
              :value="hex(key.command, 2)"
              :aria-label="`Command of key ${i + 1}`"
              maxlength="6"
              spellcheck="false"
              @change="setNumber(i, 'command', $event)"
            />
          </td>
          <td>
            <el-select
              :model-value="'loadId' in key ? key.loadId : wishOf(key)"
              size="small"
              :aria-label="`Load of key ${i + 1}`"
              @change="(id: string) => setLoad(i, id)"
              ><el-option v-for="l in loads" :key="l.id" :value="l.id" :label="l.name" /><el-option
                v-for="w in sceneWishes(design)"
                :key="w.value"
                :value="w.value"
                :label="w.label"
            /></el-select>
          </td>
          <td>
            <span v-if="'sceneId' in key" class="second">what it sets</span>
            <el-select
              v-else
              :model-value="key.asks"
              size="small"
              :aria-label="`What key ${i + 1} asks for`"
              @change="(asks: string) => ask(i, { loadId: key.loadId, asks })"
              ><el-option
                v-for="a in outputOf(key) ? asksOf(outputOf(key)!, 'push') : []"
                :key="a"
                :value="a"
                :label="asksWords({ output: outputOf(key)! }, a)"
            /></el-select>
          </td>
          <td class="second">
            {{ acts(key) }}
          </td>
          <td class="number" :title="infraredFrame(key.address, key.command).reason">
            {{ infraredFrame(key.address, key.command).ms.toFixed(1) }} ms
          </td>
          <td>
            <button
              type="button"
              class="plain"
              :aria-label="`Remove key ${i + 1}`"
              @click="put(sensor.keys.filter((_, j) => j !== i))"
            >
              ×
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="second">
      No key learnt yet. Press the key in front of a reader and write down its address and command.
    </p>
    <el-button class="add" :disabled="!loads.length" @click="add">{{
      sensor.keys.length ? 'Another key' : 'The first key'
    }}</el-button>
    <p class="second small">
      A remote control hears nothing back: whoever holds it has to see what it switches. While a key
      stays down, repeats follow every {{ REPEAT_MS }} ms; only held and level loads act on them.
    </p>
  </div>
</template>

<style scoped>
.table-body {
  padding: 8px 20px 16px;
  overflow-x: auto;
}
.code {
  width: 84px;
  background: var(--raised);
  color: var(--ink);
  border: 1px solid var(--rule-strong);
  border-radius: 2px;
  padding: 4px 7px;
}
.add {
  margin: 10px 0;
}
td :deep(.el-select) {
  width: 190px;
}
td {
  vertical-align: middle !important;
}
.plain {
  min-width: 24px;
}
</style>
