<script setup lang="ts">
/** The panel in use: what a connected surface shows now, and its keys ask the real thing. */
import { isHeld } from '../../../core/design/outputs/traits'
import type { Design, PanelSurface } from '../../../core/design/schema'
import type { ConnectionView } from '../../../core/live/view'
import type { LiveState } from '../../composables/live'

const props = defineProps<{
  design: Design
  panel: PanelSurface
  connection: ConnectionView
  live: LiveState
}>()

/** As wide as the column beside the sheet. */
const WIDTH_PX = 262
const page = ref(0)
const held = computed(() =>
  props.design.loads.some(l => isHeld(l.output) && props.panel.keys.some(k => k.loadId === l.id)),
)
const cells = computed(() =>
  props.design.loads.map(l =>
    props.live.view.value.rows
      .find(r => r.loadId === l.id)
      ?.cells.find(c => c.surfaceId === props.panel.id),
  ),
)
const host = computed(() =>
  liveHost(
    props.design,
    props.panel.id,
    () => props.connection,
    () => cells.value,
    deed => void props.live.does(props.connection.id, deed),
  ),
)
/** Held on its own page only: see the host. */
function shutHeld(glass: HTMLElement): void {
  glass.querySelectorAll<HTMLElement>('.np-box[data-load-id]').forEach(box => {
    const load = props.design.loads.find(l => l.id === box.dataset.loadId)
    if (load && isHeld(load.output))
      box.querySelectorAll('button').forEach(b => (b.disabled = true))
  })
}
</script>

<template>
  <section>
    <h2>{{ panel.name }} in use</h2>
    <nav v-if="panel.pages.length > 1" class="pages" aria-label="Pages of the panel">
      <button
        v-for="(p, i) in panel.pages"
        :key="i"
        type="button"
        class="plain"
        :aria-current="i === page ? 'page' : undefined"
        @click="page = i"
      >
        {{ p.name }}
      </button>
    </nav>
    <PanelGlass
      class="glass"
      :design="design"
      :panel="panel"
      :page="page"
      :width-px="WIDTH_PX"
      :host="host"
      :tick="[connection, cells]"
      :connection="connection.up ? 'connected' : 'not connected'"
      @drawn="shutHeld"
    />
    <p class="second small">
      What this surface shows now, by what was said to it; its keys ask the board.
      <template v-if="held">What must be held is held on its own page only.</template>
    </p>
  </section>
</template>

<style scoped>
.glass {
  margin: 10px 2px;
}
.pages {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
}
.pages [aria-current] {
  font-weight: 700;
}
</style>
