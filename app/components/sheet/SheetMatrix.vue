<script setup lang="ts">
/** The matrix of loads and surfaces. Arrows move, Enter edits, + puts a load on a surface. */
import { sheet } from '../../../core/checks/sheet'
import { linesOf } from '../../../core/design/values'
import { isPeerRadio, speaksRoutes } from '../../../core/design/links/traits'
import { seatsOf, speakersOn } from '../../../core/design/seats'
import { KIND_WORDS } from '../../../core/design/outputs/kinds'
import { linkOf } from '../../../core/design/find'
import { LINK_WORDS, linkRow } from '../../../core/design/links/rows'
import { parts } from '../../../core/design/part'
import { isWired, pinLabel } from '../../../core/design/pins'
import { nextCodes } from '../../../core/messages/assign'
import type { Design, LinkKind, Load, Surface } from '../../../core/design/schema'
import { seconds } from '../../../core/units/format'
import { useDesignStore } from '../../stores/design'
import { useFindingsStore } from '../../stores/findings'
import { useSelectionStore } from '../../stores/selection'
import { isSwitched } from '../../../core/design/outputs/traits'
import { BOXES, PANELS } from '../links/added-over'

const props = defineProps<{ design: Design; outage: string }>()
const designs = useDesignStore()
const findings = useFindingsStore()
const selection = useSelectionStore()
const newLoad = ref('')
const loadField = useTemplateRef<{ focus: () => void; blur: () => void }>('loadField')
// An empty design starts with the name of what is switched.
onMounted(() => {
  if (!props.design.loads.length) loadField.value?.focus()
})
/** Where new loads and surfaces go; the board of what is selected. */
const boardId = ref('')
const controllerId = computed(
  () =>
    props.design.controllers.find(c => c.id === boardId.value)?.id
    ?? props.design.controllers[0]?.id
    ?? '',
)
watch(
  () => selection.loadId,
  id => {
    boardId.value = props.design.loads.find(l => l.id === id)?.controllerId ?? boardId.value
  },
)
const reaches = (load: Load, surface: Surface) =>
  surface.kind === 'hand' || linkOf(props.design, surface.linkId).controllerId === load.controllerId
const grid = useTemplateRef<HTMLElement>('grid')

const wired = computed(() =>
  parts(props.design).reduce(
    (n, { part }) => n + part.loads.filter(l => isWired(part, l.id)).length,
    0,
  ),
)
const rows = computed(() => sheet(props.design, findings.verdicts, props.outage))
/** From so many loads on rows are low, and are looked at room by room. */
const MANY = 10
const isMany = computed(() => props.design.loads.length >= MANY)
const rooms = computed(() => [...new Set(props.design.loads.map(l => l.room))].filter(Boolean))
const room = ref('')
const isSeen = (load: Load) =>
  !isMany.value || !rooms.value.includes(room.value) || load.room === room.value
const loads = computed({
  get: () => props.design.loads,
  set: (next: Load[]) => {
    const moved = next.findIndex((l, i) => l.id !== props.design.loads[i]?.id)
    const from = props.design.loads.findIndex((l, i) => l.id !== next[i]?.id)
    if (moved < 0) return
    // A drag moves one row; find which one by looking whether the first difference went down or
    // came up.
    const down = props.design.loads[from + 1]?.id === next[moved]?.id
    const loadId = (down ? props.design.loads[from] : next[moved])?.id ?? ''
    designs.apply({ type: 'moveLoad', loadId, to: next.findIndex(l => l.id === loadId) })
  },
})
const body = useTemplateRef('body')
// What drags is fetched when the rows are there: nobody drags what is not seen yet.
const dragging = effectScope()
onMounted(async () => {
  const { useDraggable } = await import('vue-draggable-plus')
  if (dragging.active && body.value)
    dragging.run(() => {
      const drag = useDraggable(body, loads, { handle: '.grip', animation: 0, immediate: false })
      drag.start(body.value ?? undefined)
      onScopeDispose(drag.destroy)
    })
})
onBeforeUnmount(() => dragging.stop())

function surfaceWords(surface: Surface): string {
  if (surface.kind === 'hand') return surface.inSight ? 'wired, in sight' : 'wired, out of sight'
  const link = linkOf(props.design, surface.linkId)
  const asks = surface.pollMs ? `, asks every ${seconds(surface.pollMs)}` : ''
  return `${surface.kind === 'peer' ? 'box, ' : ''}${LINK_WORDS[link.kind]}${asks}`
}
function outputWords(load: Load): string {
  const { output } = load
  const board =
    props.design.controllers.length > 1
      ? `${props.design.controllers.find(c => c.id === load.controllerId)?.name ?? ''}, `
      : ''
  const pins =
    board
    + linesOf(output)
      .map(l => pinLabel(designs.partOf(load.controllerId) ?? props.design, l.pin))
      .join(' ')
  if (!isSwitched(output)) return `${pins}${pins && ', '}${KIND_WORDS[output.kind]}`
  return `${pins}, on when ${output.activeLevel}; power-up ${output.powerUp}`
}

function put(load: Load, surface: Surface): void {
  if (surface.kind === 'hand')
    designs.apply({ type: 'addControl', surfaceId: surface.id, loadId: load.id, kind: 'push' })
  else
    designs.apply({
      type: 'addMessage',
      linkId: surface.linkId,
      loadId: load.id,
      codes: nextCodes(props.design, linkOf(props.design, surface.linkId), load),
    })
  selection.select(load.id, surface.id)
}
function addLoad(): void {
  const name = newLoad.value.trim()
  if (name && designs.apply({ type: 'addLoad', name, controllerId: controllerId.value })) {
    newLoad.value = ''
    selection.select(designs.design?.loads.at(-1)?.id ?? null, null)
  }
}
function addSurface(kind: string): void {
  const nth = (base: string) =>
    props.design.surfaces.some(s => s.name === base)
      ? `${base} ${props.design.surfaces.length + 1}`
      : base
  if (kind === 'hand') designs.apply({ type: 'addHandSurface', name: nth('Wall controls') })
  else {
    const [what, over, onLink] = kind.split(' ') as ['box' | 'panel', LinkKind, string?]
    designs.apply({
      type: what === 'box' ? 'addPeer' : 'addPanel',
      name: nth(what === 'box' ? 'Box' : linkRow({ kind: over }).start.panel),
      over,
      controllerId: controllerId.value,
      ...(onLink ? { onLink } : {}),
    })
  }
  selection.select(null, designs.design?.surfaces.at(-1)?.id ?? null)
}
function loadMenu(load: Load, row: number, command: string): void {
  if (command === 'remove') designs.apply({ type: 'removeLoad', loadId: load.id })
  else designs.apply({ type: 'moveLoad', loadId: load.id, to: row + (command === 'up' ? -1 : 1) })
}
function surfaceMenu(surface: Surface, column: number, command: string): void {
  if (command === 'remove') designs.apply({ type: 'removeSurface', surfaceId: surface.id })
  else
    designs.apply({
      type: 'moveSurface',
      surfaceId: surface.id,
      to: column + (command === 'left' ? -1 : 1),
    })
}

const ADDABLE = Object.entries({ panel: PANELS, box: BOXES }).flatMap(([what, over]) =>
  Object.entries(over).flatMap(([kind, words]) =>
    words === null ? [] : [[`${what} ${kind}`, words] as const],
  ),
)

/** Another panel or box on a link that takes one more. */
const shareable = computed(() =>
  props.design.links.flatMap(link => {
    const there = speakersOn(props.design, link.id)
    if (!there.length || there.length >= seatsOf(link)) return []
    const name = there.map(s => s.name).join(' and ')
    return [
      ...(speaksRoutes(link) || !isPeerRadio(link)
        ? [{ command: `panel ${link.kind} ${link.id}`, words: `Panel, on the link of ${name}` }]
        : []),
      { command: `box ${link.kind} ${link.id}`, words: `Box, on the link of ${name}` },
    ]
  }),
)

const STEPS: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
}
function move(event: KeyboardEvent): void {
  const step = STEPS[event.key]
  const from = (event.target as HTMLElement).closest<HTMLElement>('[data-at]')
  if (!step || !from || isTyping(event.target)) return
  event.preventDefault()
  const [row, column] = (from.dataset.at ?? '0,0').split(',').map(Number) as [number, number]
  if (event.altKey && step[0]) {
    const load = props.design.loads[row]
    if (load) designs.apply({ type: 'moveLoad', loadId: load.id, to: row + step[0] })
  }
  void nextTick(() => {
    // Rows of other rooms are passed over.
    for (let n = 1; ; n++) {
      const at = `${row + n * step[0]},${column + n * step[1]}`
      const next = grid.value?.querySelector<HTMLElement>(`[data-at="${at}"]`)
      if (!next || next.offsetParent) return next?.focus()
    }
  })
}
</script>

<template>
  <div ref="grid" class="scroller" @keydown="move">
    <table class="matrix" :class="{ compact: isMany }">
      <thead>
        <tr>
          <th scope="col" class="corner">
            Load
            <div class="second small">{{ wired }} of {{ design.loads.length }} wired</div>
            <el-select
              v-if="isMany && rooms.length > 1"
              v-model="room"
              size="small"
              class="rooms"
              aria-label="Loads of which room"
              :empty-values="[null]"
              ><el-option value="" label="all rooms" /><el-option
                v-for="r in rooms"
                :key="r"
                :value="r"
                :label="r"
            /></el-select>
          </th>
          <th
            v-for="(surface, c) in design.surfaces"
            :key="surface.id"
            scope="col"
            :class="{ chosen: selection.surfaceId === surface.id && !selection.loadId }"
          >
            <div class="head">
              <InlineText
                :value="surface.name"
                label="surface"
                @change="
                  name => designs.apply({ type: 'renameSurface', surfaceId: surface.id, name })
                "
              />
              <el-dropdown
                :persistent="false"
                trigger="click"
                @command="(x: string) => surfaceMenu(surface, c, x)"
              >
                <button
                  type="button"
                  class="plain more"
                  :aria-label="`Move or remove ${surface.name}`"
                >
                  ⋯
                </button>
                <template #dropdown>
                  <el-dropdown-menu>
                    <el-dropdown-item command="left" :disabled="c === 0"
                      >Move left</el-dropdown-item
                    >
                    <el-dropdown-item command="right" :disabled="c === design.surfaces.length - 1"
                      >Move right</el-dropdown-item
                    >
                    <el-dropdown-item command="remove" divided
                      >Remove {{ surface.name }}</el-dropdown-item
                    >
                  </el-dropdown-menu>
                </template>
              </el-dropdown>
            </div>
            <button
              type="button"
              class="plain second small"
              @click="selection.select(null, surface.id)"
            >
              {{ surfaceWords(surface) }}
            </button>
          </th>
          <th scope="col" class="add">
            <el-dropdown :persistent="false" trigger="click" @command="addSurface">
              <el-button size="small">+ surface</el-button>
              <template #dropdown>
                <el-dropdown-menu>
                  <el-dropdown-item command="hand">Hand controls, wired</el-dropdown-item>
                  <el-dropdown-item
                    v-for="[command, words] in ADDABLE"
                    :key="command"
                    :command="command"
                    :divided="command === 'box peer'"
                    >{{ words }}</el-dropdown-item
                  >
                  <el-dropdown-item
                    v-for="(s, i) in shareable"
                    :key="s.command"
                    :command="s.command"
                    :divided="i === 0"
                    >{{ s.words }}</el-dropdown-item
                  >
                </el-dropdown-menu>
              </template>
            </el-dropdown>
          </th>
        </tr>
      </thead>
      <tbody ref="body">
        <tr v-for="(row, r) in rows" v-show="isSeen(row.load)" :key="row.load.id">
          <th
            scope="row"
            :class="{ chosen: selection.loadId === row.load.id && !selection.surfaceId }"
          >
            <div class="head">
              <span
                class="grip"
                title="Drag to reorder; Alt and arrows do the same"
                aria-hidden="true"
                >⠿</span
              >
              <InlineText
                :value="row.load.name"
                label="load"
                @change="name => designs.apply({ type: 'renameLoad', loadId: row.load.id, name })"
              />
              <el-dropdown
                :persistent="false"
                trigger="click"
                @command="(x: string) => loadMenu(row.load, r, x)"
              >
                <button
                  type="button"
                  class="plain more"
                  :aria-label="`Move or remove ${row.load.name}`"
                >
                  ⋯
                </button>
                <template #dropdown>
                  <el-dropdown-menu>
                    <el-dropdown-item command="up" :disabled="r === 0">Move up</el-dropdown-item>
                    <el-dropdown-item command="down" :disabled="r === rows.length - 1"
                      >Move down</el-dropdown-item
                    >
                    <el-dropdown-item command="remove" divided
                      >Remove {{ row.load.name }}</el-dropdown-item
                    >
                  </el-dropdown-menu>
                </template>
              </el-dropdown>
            </div>
            <button
              type="button"
              class="plain second small meta"
              :data-at="`${r},-1`"
              @click="selection.select(row.load.id, null)"
            >
              {{ outputWords(row.load) }}<span v-if="row.load.note"><br />{{ row.load.note }}</span>
            </button>
          </th>
          <td
            v-for="(surface, c) in design.surfaces"
            :key="surface.id"
            :class="{
              chosen: selection.loadId === row.load.id && selection.surfaceId === surface.id,
              bad: row.cells[c]?.state === 'stale',
              out: row.cells[c] && !row.cells[c]?.works,
            }"
          >
            <SheetCell
              v-if="row.cells[c]"
              :cell="row.cells[c]!"
              :load="row.load"
              :surface="surface"
              :design="design"
              :at="`${r},${c}`"
              @select="selection.select(row.load.id, surface.id)"
            />
            <button
              v-else-if="reaches(row.load, surface)"
              type="button"
              class="plain plus"
              :data-at="`${r},${c}`"
              :aria-label="`Put ${row.load.name} on ${surface.name}`"
              @click="put(row.load, surface)"
            >
              +
            </button>
            <span v-else class="second small elsewhere" :data-at="`${r},${c}`" tabindex="-1"
              >another board</span
            >
          </td>
          <td class="add" />
        </tr>
      </tbody>
      <tbody>
        <tr class="naming">
          <td :colspan="design.surfaces.length + 2">
            <form class="new" @submit.prevent="addLoad">
              <el-input
                ref="loadField"
                v-model="newLoad"
                :placeholder="design.loads.length ? 'Name another load' : 'Name the first load'"
                aria-label="Name of a new load"
                maxlength="40"
                @keydown.escape="loadField?.blur()"
              />
              <el-select
                v-if="design.controllers.length > 1"
                :model-value="controllerId"
                class="board"
                aria-label="Board that new loads and surfaces belong to"
                @change="
                  (id: string) => {
                    boardId = id
                  }
                "
                ><el-option
                  v-for="c in design.controllers"
                  :key="c.id"
                  :value="c.id"
                  :label="`on ${c.name}`"
              /></el-select>
              <el-button native-type="submit" :disabled="!newLoad.trim()">Add it</el-button>
            </form>
          </td>
        </tr>
      </tbody>
      <OutageRows v-if="design.surfaces.length && design.loads.length" :design="design" />
    </table>
  </div>
</template>

<style scoped>
.board {
  width: 190px;
  flex: none;
}
.elsewhere {
  display: grid;
  place-items: center;
  min-height: 56px;
}
.matrix {
  border-collapse: collapse;
  width: 100%;
}
.matrix > thead th {
  text-align: left;
  padding: 10px 10px 8px;
  border-bottom: 2px solid var(--ink);
  font-size: 14px;
  vertical-align: top;
  min-width: 142px;
  overflow-wrap: anywhere;
}
.matrix > thead th.corner {
  padding-left: 0;
  min-width: 190px;
}
.corner .second,
thead .second {
  font-weight: 400;
  margin-top: 2px;
}
.head {
  display: flex;
  align-items: baseline;
  gap: 6px;
}
.head .more {
  margin-left: auto;
  color: var(--second);
  padding: 0 4px;
  font-weight: 700;
  min-width: 24px;
  text-align: center;
}
.matrix tbody th {
  text-align: left;
  font-size: 15px;
  font-weight: 700;
  padding: 9px 10px 9px 0;
  vertical-align: top;
  border-bottom: 1px solid var(--rule);
  width: 200px;
}
.meta {
  font-weight: 400;
  line-height: 1.35;
  padding-left: 20px;
}
.grip {
  cursor: grab;
  color: var(--rule-strong);
  font-size: 13px;
  width: 14px;
  flex: none;
}
.matrix tbody td {
  padding: 0;
  border-bottom: 1px solid var(--rule);
  border-left: 1px solid var(--rule);
  vertical-align: top;
  height: 76px;
}
td.bad {
  background: var(--differs-ground);
}
td.chosen,
th.chosen {
  outline: 2px solid var(--ink);
  outline-offset: -2px;
}
th.chosen {
  padding-left: 8px;
}
.plus {
  display: block;
  width: 100%;
  height: 75px;
  text-align: center;
  color: var(--second);
  font-size: 17px;
}
/* Many loads: one line each, what is chosen in full, and heads that stay. */
.compact > thead th {
  position: sticky;
  top: 0;
  z-index: 2;
  background: var(--paper);
}
.compact tbody th {
  padding: 6px 10px 6px 0;
}
.compact tbody td {
  height: 38px;
}
.compact .plus,
.compact .elsewhere {
  height: 37px;
  min-height: 0;
}
.compact td :deep(.cell) {
  min-height: 37px;
  padding: 8px 8px 6px 10px;
}
.compact td:not(.chosen) :deep(.says) {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.compact td:not(.chosen) :deep(.hears:not(.silent)),
.compact th:not(.chosen) .meta {
  display: none;
}
.rooms {
  margin-top: 6px;
  width: 150px;
}
.plus:hover {
  color: var(--ink);
  background: var(--raised);
}
td.out :deep(.says),
td.out :deep(.hears) {
  text-decoration: line-through;
  text-decoration-color: var(--differs);
  color: var(--second);
}
.add {
  width: 84px;
  border-left: 0 !important;
}
thead .add {
  min-width: 0 !important;
}
tbody .add {
  border-bottom-color: transparent !important;
}
.matrix tbody .naming td {
  border: 0;
  height: auto;
}
.new {
  display: flex;
  gap: 8px;
  margin-top: 12px;
  max-width: 340px;
}
.new:has(.board) {
  max-width: 540px;
}
</style>
