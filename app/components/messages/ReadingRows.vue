<script setup lang="ts">
/**
 * Readings that are told on a link: what stands before the value, how far it has to move, how often
 * it is told.
 */
import { restingRaw, readingText } from '../../../core/controller/readings'
import { hasReading, unitOf } from '../../../core/design/items'
import { canTell, speaksBytes } from '../../../core/design/links/traits'
import type { Design, Link, LinkReading, Sensor } from '../../../core/design/schema'
import { readingWire } from '../../../core/messages/readings'
import { shownWire } from '../../../core/design/wire'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design; link: Link; maxLength: number; columns: number }>()
const designs = useDesignStore()
const sensors = computed(() =>
  props.design.sensors.filter(s => hasReading(s) && s.controllerId === props.link.controllerId),
)
const readingOf = (s: Sensor) =>
  (props.link.readings as LinkReading[]).find(r => r.sensorId === s.id)
const set = (
  s: Sensor,
  patch: { code?: string; route?: string; deadBand?: number; leastMs?: number; everyMs?: number },
) => designs.apply({ type: 'setReading', linkId: props.link.id, sensorId: s.id, patch })
function setCode(s: Sensor, event: Event): void {
  const input = event.target as HTMLInputElement
  const reading = readingOf(s)
  if (!set(s, { code: input.value.trim() }))
    input.value = reading && 'code' in reading ? reading.code : ''
}
function setBand(s: Sensor, text: string): void {
  const value = Number(text.replace(',', '.'))
  if (Number.isFinite(value) && value >= 0) set(s, { deadBand: value })
}
const example = (s: Sensor, r: LinkReading) =>
  shownWire(props.link, readingWire(props.link, r, readingText(s, restingRaw(s))))
</script>

<template>
  <template v-if="canTell(link)">
    <tr v-for="s in sensors" :key="s.id">
      <th scope="row">{{ s.name }}</th>
      <template v-if="readingOf(s)">
        <td>
          <input
            v-if="speaksBytes(link)"
            class="wire code"
            :value="(readingOf(s) as { code: string }).code"
            :maxlength="maxLength"
            :aria-label="`Code of ${s.name}`"
            spellcheck="false"
            autocomplete="off"
            @change="setCode(s, $event)"
          />
          <span v-else class="wire">{{ example(s, readingOf(s)!) }}</span>
        </td>
        <td :colspan="columns - 2" class="second">
          <span class="told"
            >told when moved by
            <InlineText
              :value="String(readingOf(s)!.deadBand)"
              :label="`Dead band of ${s.name}`"
              @change="t => setBand(s, t)"
            />
            {{ unitOf(s) || '(any change)' }}, at most every
            <NumberField
              :value="readingOf(s)!.leastMs"
              unit="ms"
              :label="`${s.name} at most every`"
              :max="3_600_000"
              @change="leastMs => set(s, { leastMs })"
            />
            and again after
            <NumberField
              :value="readingOf(s)!.everyMs"
              unit="ms"
              :label="`${s.name} again after`"
              :max="86_400_000"
              @change="everyMs => set(s, { everyMs })"
            />
            <template v-if="!speaksBytes(link)"
              >; alone at
              <InlineText
                mono
                :value="(readingOf(s) as { route: string }).route || 'no route'"
                :maxlength="40"
                :label="`Route of ${s.name} alone`"
                @change="route => set(s, { route: route === 'no route' ? '' : route })"
              />
            </template>
            <template v-if="speaksBytes(link)"
              >as <span class="wire">{{ example(s, readingOf(s)!) }}</span></template
            >
          </span>
          <button
            type="button"
            class="plain under"
            @click="designs.apply({ type: 'removeReading', linkId: link.id, sensorId: s.id })"
          >
            not here
          </button>
        </td>
      </template>
      <td v-else :colspan="columns - 1">
        <button type="button" class="plain under second" @click="set(s, {})">tell it here</button>
      </td>
    </tr>
  </template>
  <tr v-else-if="sensors.length">
    <td :colspan="columns" class="second">
      Readings have no field in structures: another dialect tells
      {{ sensors.map(s => s.name).join(', ') }}.
    </td>
  </tr>
</template>

<style scoped>
.code {
  width: 172px;
  background: var(--raised);
  color: var(--ink);
  border: 1px solid var(--rule-strong);
  border-radius: 2px;
  padding: 4px 7px;
}
.told {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 4px 6px;
  align-items: center;
}
.under {
  text-decoration: underline;
  min-height: 24px;
  padding: 0 4px;
}
td,
th {
  vertical-align: middle !important;
}
</style>
