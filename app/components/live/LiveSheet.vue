<script setup lang="ts">
/** The sheet, alive: what is so of each load, what surfaces show, and a key for each command. */
import { farSurfaces, maybeMessage } from '../../../core/design/find'
import { isHeld } from '../../../core/design/outputs/traits'
import type { Design, Load } from '../../../core/design/schema'
import { spokenValues, valueWords } from '../../../core/design/values'
import type { LiveCell } from '../../../core/live/sheet'
import type { ConnectionView } from '../../../core/live/view'
import { isLit } from '../../../core/panels/words'
import type { LiveState } from '../../composables/live'
import type { StandInView } from '../../composables/stand-ins'

const props = defineProps<{ design: Design; live: LiveState; standIns: readonly StandInView[] }>()

/** More values than this go into a list. */
const MOST_KEYS = 3

const surfaces = computed(() =>
  farSurfaces(props.design).map(s => ({
    ...s,
    connection: props.live.view.value.connections.find(c => c.linkId === s.linkId),
  })),
)
const upFor = (load: Load): ConnectionView | undefined =>
  props.live.view.value.connections.find(c => {
    const link = props.design.links.find(l => l.id === c.linkId)
    return c.up && link && maybeMessage(link, load.id)
  })
const rows = computed(() =>
  props.design.loads.map(load => {
    const told = props.live.view.value.rows.find(r => r.loadId === load.id)
    const standIn = props.standIns.find(s => s.values[load.id] !== undefined)
    // What runs here needs nobody to say it: its pins are known.
    const value = standIn?.values[load.id] || told?.truth?.value || null
    return {
      load,
      value,
      by: standIn?.values[load.id] ? 'on its pin' : '',
      toldMs: told?.truth ? props.live.now.value - told.truth.atMs : null,
      cells: surfaces.value.map(s => told?.cells.find(c => c.surfaceId === s.id) ?? null),
      connection: upFor(load),
      values: spokenValues(load.output),
    }
  }),
)
const readings = computed(() =>
  props.design.sensors.flatMap((sensor, i) => {
    const told = props.live.view.value.connections.flatMap(c => c.readings[i] ?? [])
    const last = told.toSorted((a, b) => b.atMs - a.atMs)[0]
    return last ? [{ sensor, value: last.value, agoMs: props.live.now.value - last.atMs }] : []
  }),
)
const wrong = computed(() =>
  rows.value.flatMap(r =>
    r.cells.flatMap(c =>
      c && c.wrongMs !== null
        ? [{ cell: c, load: r.load, name: surfaces.value.find(s => s.id === c.surfaceId)!.name }]
        : [],
    ),
  ),
)
function ago(ms: number): string {
  if (ms < 10_000) return `${(ms / 1000).toFixed(1)} s ago`
  if (ms < 120_000) return `${Math.round(ms / 1000)} s ago`
  return ms < 7_200_000
    ? `${Math.round(ms / 60_000)} min ago`
    : `${Math.round(ms / 3_600_000)} h ago`
}
function glyph(cell: LiveCell): 'in step' | 'stale' | 'unsure' | 'shows nothing' | 'not examined' {
  if (cell.wrongMs !== null) return 'stale'
  if (cell.shown === 'waiting') return 'unsure'
  if (cell.shown === 'unknown') return 'shows nothing'
  return cell.shown.startsWith('stale-') ? 'not examined' : 'in step'
}
function words(load: Load, cell: LiveCell): string {
  if (cell.shown === 'waiting')
    return `asked for ${cell.asked === null ? '' : valueWords(load.output, cell.asked)}`
  if (cell.shown === 'unknown') return 'not known'
  const value = cell.shown.replace(/^stale-/, '')
  const said = valueWords(load.output, value)
  if (cell.wrongMs !== null) return `${said} for ${Math.round(cell.wrongMs / 1000)} s`
  return cell.shown.startsWith('stale-') ? `${said}, as it was` : said
}
const press = (connection: ConnectionView, load: Load, want: string) =>
  props.live.does(connection.id, { do: 'press', loadId: load.id, want })
</script>

<template>
  <div class="sheet">
    <table class="ruled">
      <caption class="visually-hidden">
        Loads, what is said of them, and what surfaces show
      </caption>
      <thead>
        <tr>
          <th scope="col">Load</th>
          <th scope="col">Board says</th>
          <th v-for="s in surfaces" :key="s.id" scope="col" :class="{ off: !s.connection }">
            {{ s.name }}
            <span v-if="!s.connection" class="second small head">not connected</span>
          </th>
          <th scope="col"><span class="visually-hidden">Ask for</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.load.id" :data-load="r.load.id">
          <th scope="row">{{ r.load.name }}</th>
          <td class="says">
            <template v-if="r.value"
              ><svg class="lamp" viewBox="0 0 14 14" width="14" height="14" aria-hidden="true">
                <circle
                  cx="7"
                  cy="7"
                  r="5.6"
                  stroke="currentColor"
                  stroke-width="1.8"
                  :fill="isLit(r.load.output, r.value) ? 'currentColor' : 'none'"
                />
              </svg>
              {{ valueWords(r.load.output, r.value) }}
              <span class="second small">{{
                r.toldMs === null ? r.by : ago(r.toldMs)
              }}</span></template
            ><span v-else class="second">nothing heard yet</span>
          </td>
          <td
            v-for="(c, i) in r.cells"
            :key="i"
            class="shows"
            :data-surface="surfaces[i]!.name"
            :class="{ differs: c && c.wrongMs !== null, none: !c }"
          >
            <span v-if="c" class="cell"
              ><StateGlyph :state="glyph(c)" /> {{ words(r.load, c) }}</span
            >
          </td>
          <td class="keys">
            <template v-if="r.connection && !isHeld(r.load.output)">
              <template v-if="r.values.length <= MOST_KEYS"
                ><el-button
                  v-for="v in r.values"
                  :key="v"
                  size="small"
                  :aria-label="`Ask for ${r.load.name} ${valueWords(r.load.output, v)}`"
                  @click="press(r.connection, r.load, v)"
                  >{{ valueWords(r.load.output, v) }}</el-button
                ></template
              ><el-select
                v-else
                size="small"
                :model-value="''"
                placeholder="ask for"
                :aria-label="`Ask ${r.load.name} for`"
                class="list"
                @change="(v: string) => press(r.connection!, r.load, v)"
                ><el-option
                  v-for="v in r.values"
                  :key="v"
                  :value="v"
                  :label="valueWords(r.load.output, v)"
              /></el-select>
            </template>
            <span v-else-if="r.connection" class="second small">held on its panel only</span>
          </td>
        </tr>
      </tbody>
    </table>
    <ul v-if="readings.length" class="readings">
      <li v-for="r in readings" :key="r.sensor.id">
        {{ r.sensor.name }} <strong class="wire">{{ r.value }}</strong>
        <span class="second small"> {{ ago(r.agoMs) }}</span>
      </li>
    </ul>
    <div v-for="w in wrong" :key="`${w.cell.surfaceId} ${w.load.id}`" class="wrong" role="status">
      <StateGlyph state="stale" />
      <span
        ><strong class="differs">{{ w.name }} is wrong about {{ w.load.name }}:</strong>
        {{ w.cell.why }}.</span
      >
    </div>
  </div>
</template>

<style scoped>
.sheet {
  padding: 4px 20px 12px;
}
.off {
  color: var(--second);
}
.head {
  display: block;
  font-weight: 400;
}
.says {
  white-space: nowrap;
}
.lamp {
  vertical-align: -2px;
  margin-right: 4px;
}
.cell {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
td.keys {
  text-align: right;
  white-space: nowrap;
  padding: 5px 0;
}
.list {
  width: 110px;
}
.readings {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 24px;
}
.wrong {
  display: flex;
  gap: 8px;
  align-items: baseline;
  margin-top: 10px;
  padding: 10px 12px;
  border-left: 4px solid var(--differs);
  background: var(--raised);
}
/* In the hand: a load stands over what is said of it, its keys under it. */
@media (max-width: 600px) {
  thead {
    display: none;
  }
  tbody tr {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 2px 16px;
    padding: 10px 0;
    border-bottom: 1px solid var(--rule);
  }
  table.ruled tbody th,
  table.ruled tbody td {
    border: 0;
    padding: 0;
  }
  tbody th {
    flex: 1;
  }
  .shows {
    flex: 0 0 100%;
  }
  .shows.none {
    display: none;
  }
  .shows::before {
    content: attr(data-surface) ' ';
    color: var(--second);
  }
  table.ruled td.keys {
    flex: 0 0 100%;
    padding-top: 6px;
  }
  .keys .el-button {
    min-height: 44px;
    min-width: 72px;
  }
}
</style>
