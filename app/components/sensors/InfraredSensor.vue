<script setup lang="ts">
/** A receiver: the keys that were taught to it, and what each asks for. */
import type { Design, SensorOf } from '../../../core/design/schema'
import { asksOf } from '../../../core/design/values'
import { loadsInReach } from '../../../core/design/wired'
import { targetOf, wishesWithin, wishOf } from '../../composables/wishes'

const props = defineProps<{ design: Design; sensor: SensorOf<'infrared'> }>()
const emit = defineEmits<{ change: [patch: Record<string, unknown>] }>()
const loads = computed(() => loadsInReach(props.design))
const wishes = computed(() => wishesWithin(props.design))
const wrong = ref('')

type Key = SensorOf<'infrared'>['keys'][number]
function change(i: number, to: (key: Key) => Key): void {
  emit('change', { keys: props.sensor.keys.map((k, j) => (j === i ? to(k) : k)) })
}
function ask(i: number, wish: string): void {
  change(i, ({ address, command }) => ({ address, command, ...targetOf(wish) }))
}
/** Codes of remotes are written in hexadecimal, with or without 0x. */
function hex(i: number, which: 'address' | 'command', event: Event): void {
  const text = (event.target as HTMLInputElement).value.trim().replace(/^0x/i, '')
  const value = /^[0-9a-f]{1,4}$/i.test(text) ? parseInt(text, 16) : -1
  wrong.value = value < 0 ? 'one to four hexadecimal digits, such as 1F' : ''
  if (value >= 0) change(i, key => ({ ...key, [which]: value }))
}
function add(): void {
  const { keys } = props.sensor
  const [load] = loads.value
  if (!load) return
  const [asks = 'toggle'] = asksOf(load.output, 'push')
  const last = keys.at(-1)
  const command = ((last?.command ?? -1) + 1) & 0xffff
  emit('change', {
    keys: [...keys, { address: last?.address ?? 0, command, loadId: load.id, asks }],
  })
}
</script>

<template>
  <dl class="facts">
    <slot />
  </dl>
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
            @change="event => hex(i, 'address', event)"
          />
        </td>
        <td>
          <input
            class="box code wire"
            :value="k.command.toString(16).toUpperCase()"
            :aria-label="`Code of key ${i + 1}, hexadecimal`"
            maxlength="6"
            @change="event => hex(i, 'command', event)"
          />
        </td>
        <td>
          <el-select
            :model-value="wishOf(k)"
            size="small"
            :aria-label="`What key ${i + 1} asks for`"
            @change="(wish: string) => ask(i, wish)"
            ><el-option v-for="w in wishes" :key="w.value" :value="w.value" :label="w.label"
          /></el-select>
        </td>
        <td>
          <button
            type="button"
            class="plain"
            :aria-label="`Remove key ${i + 1}`"
            @click="emit('change', { keys: sensor.keys.filter((_, j) => j !== i) })"
          >
            ×
          </button>
        </td>
      </tr>
    </tbody>
  </table>
  <el-button v-if="loads.length && sensor.keys.length < 60" size="small" @click="add()"
    >Another key</el-button
  >
  <p class="second small">
    Address and key are what a receiver prints when the key is pressed, in hexadecimal.
  </p>
  <p v-if="wrong" class="differs small" role="alert">{{ wrong }}</p>
</template>

<style scoped>
p {
  margin: 6px 0;
}
</style>
