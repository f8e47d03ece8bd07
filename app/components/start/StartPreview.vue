<script setup lang="ts">
/** What it will be: the sheet, a panel, the pins and the promises of what the sentence says. */
import { linkOf, maybeMessage } from '../../../core/design/find'
import type { Design, Load, Surface } from '../../../core/design/schema'
import type { Judgement, Sketch } from '../../../core/start/outlook'
import { deviceOf } from '../../../core/panels/devices'
import { useWindowSize } from '@vueuse/core'
import { wantLabel } from '../../../core/panels/words'

const props = defineProps<{
  design: Design
  sketch: Sketch
  judgement: Judgement | null
  unmet: readonly string[]
}>()
const WIDTH_PX = 236
/** What stands above the panel: the head, and a row for each load, px. */
const ABOVE_PX = 190
const ROW_PX = 37
/** Pins that are shown before the rest is counted. */
const MOST_PINS = 9

const panel = computed(() =>
  props.design.surfaces.flatMap(s => (s.kind === 'panel' ? [s] : [])).find(s => s.keys.length),
)
const { height: windowPx } = useWindowSize()
/** As large as it is seen whole. */
const widthPx = computed(() => {
  if (!panel.value) return WIDTH_PX
  const { widthMm, heightMm } = deviceOf(panel.value)
  const heightPx = Math.max(300, windowPx.value - ABOVE_PX - ROW_PX * props.design.loads.length)
  return Math.min(widthMm > 100 ? WIDTH_PX * 1.2 : WIDTH_PX, (heightPx * widthMm) / heightMm)
})
const host = computed(() => panel.value && restingHost(props.design, panel.value.id))
/** What is pressed there, or said over its link. */
function cell(load: Load, surface: Surface): { words: string; wire: boolean } {
  if (surface.kind === 'hand') {
    const control = surface.controls.find(c => c.loadId === load.id)
    return { words: control ? wantLabel(load.output, control.asks).toLowerCase() : '', wire: false }
  }
  const link = linkOf(props.design, surface.linkId)
  if (link.auth.kind !== 'none') return { words: 'signed', wire: false }
  const codes = Object.values(maybeMessage(link, load.id)?.codes ?? {}).filter(Boolean)
  return { words: together(codes.slice(0, 2)), wire: true }
}
/** "/lamp/on | off": what both begin with is said once. */
function together([one = '', two]: readonly string[]): string {
  if (two === undefined) return one
  const same = [...one].findIndex((c, i) => c !== two[i])
  const shared = one.slice(0, same).search(/[^\w-](?=[\w-]*$)/) + 1
  return `${one} | ${two.slice(shared)}`
}
const rows = computed(() =>
  props.design.loads.map(load => ({
    load,
    cells: props.design.surfaces.map(surface => cell(load, surface)),
  })),
)
const pins = computed(() => props.sketch.pins)
</script>

<template>
  <section class="preview" aria-label="What it will be">
    <div class="head">
      <h2>What it will be</h2>
      <span class="second small" role="status"
        ><template v-if="judgement"
          ><StateGlyph
            :state="
              judgement.promises.kept.length === judgement.promises.asked.length
                ? 'holds'
                : 'broken'
            "
          />
          {{ judgement.promises.kept.length }} of {{ judgement.promises.asked.length }} promises
          kept · {{ judgement.stops }} stop · {{ judgement.warns }} warn · </template
        ><template v-else>Proving it … · </template>{{ pins.length }} of
        {{ sketch.pinsOf }} pins</span
      >
    </div>
    <div class="scrolls">
      <table class="ruled">
        <thead>
          <tr>
            <th scope="col">Load</th>
            <th v-for="s in design.surfaces" :key="s.id" scope="col">{{ s.name }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.load.id">
            <th scope="row">{{ r.load.name }}</th>
            <td v-for="(c, i) in r.cells" :key="i">
              <span :class="{ wire: c.wire }" class="cell">{{ c.words }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-for="u in unmet" :key="u" class="differs small" role="status">{{ u }}</p>
    <div class="both">
      <div v-if="panel && host" inert>
        <PanelGlass
          :design="design"
          :panel="panel"
          :page="0"
          :width-px="widthPx"
          :host="host"
          silent
          connection="connected"
        />
      </div>
      <ul v-if="pins.length" class="pins" aria-label="Pins">
        <li v-for="(p, i) in pins.slice(0, MOST_PINS)" :key="i">
          <code>{{ p.label }}</code> {{ p.what }}
        </li>
        <li v-if="pins.length > MOST_PINS" class="second more">
          and {{ pins.length - MOST_PINS }} more
        </li>
      </ul>
    </div>
  </section>
</template>

<style scoped>
.preview {
  display: grid;
  gap: 12px;
  align-content: start;
  grid-template-columns: minmax(0, 1fr);
  min-width: 0;
}
.scrolls {
  overflow-x: auto;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  justify-content: space-between;
  align-items: baseline;
}
table {
  width: 100%;
}
.cell.wire {
  font-size: 12.5px;
}
.cell {
  display: block;
  max-width: 168px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
@media (max-width: 700px) {
  .cell {
    max-width: none;
    white-space: normal;
    overflow-wrap: anywhere;
  }
}
.both {
  display: flex;
  gap: 18px;
  align-items: flex-start;
}
.pins {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
  flex: 1;
  min-width: 0;
}
.pins li {
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--raised);
  padding: 4px 10px;
  font-size: 13px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.pins .more {
  border: 0;
  background: none;
}
</style>
