<script setup lang="ts">
import { SHIPPED, pinOf } from '../../../../core/boards/boards'
import { troubles } from '../../../../core/boards/hazards'
import type { Assignment } from '../../../../core/boards/assign'
import {
  bestPins,
  boardOf,
  needs,
  pinLabel,
  fittingBoard,
  type Need,
} from '../../../../core/design/pins'
import { loadsInReach } from '../../../../core/design/wired'
import { SENSORS } from '../../../../core/design/sensors/rows'
import type { Expander, Lamp } from '../../../../core/design/schema'
import type { SensorKind } from '../../../../core/design/sensors/schema'
import { upperFirst } from '../../../../core/units/format'
import { sumsOf } from '../../../../core/electrical/of-design'
import { useBenchStore } from '../../../stores/bench'
import { useDesignStore } from '../../../stores/design'
import { useSelectionStore } from '../../../stores/selection'

const designs = useDesignStore()
const chosen = ref<string | null>(null)
const last = shallowRef<Assignment | null>(null)
const free = ref(false)
/** Pins of the board, or the circuit that hangs on them. */
const circuit = ref(false)
const controllerId = ref('')
/** One board at a time: the part of the design with what is wired to it. */
const design = computed(() => designs.partOf(controllerId.value) ?? designs.parts[0]?.part ?? null)
const reach = computed(() => (design.value ? loadsInReach(design.value) : []))
const controller = computed(() => design.value?.controllers[0] ?? null)
const selection = useSelectionStore()
onMounted(() => {
  controllerId.value =
    designs.design?.loads.find(l => l.id === selection.loadId)?.controllerId ?? ''
})
const all = computed(() => (design.value ? needs(design.value) : []))
const need = computed(() => all.value.find(n => n.id === chosen.value) ?? null)
const bench = useBenchStore()
/** What the bench has counted in the run that is open. */
const counted = computed(
  () => (
    void bench.tick,
    bench.bench ? { seconds: bench.bench.now / 1000, moves: bench.bench.trace.moves } : null
  ),
)
const sums = computed(() => (design.value ? sumsOf(design.value, counted.value) : []))
const boards = computed(() => [...SHIPPED, ...(design.value?.boards ?? [])])
/** Needs that the board cannot take where they are. */
const misfits = computed(() => {
  const d = design.value
  if (!d) return []
  return all.value.filter(n => {
    const pin = pinOf(boardOf(d), n.chip)
    return (
      !pin
      || troubles(pin, n.use)[0]?.severity === 'stop'
      || (!n.fixed && all.value.some(o => o !== n && o.chip === n.chip))
    )
  })
})

function select(id: string | null): void {
  chosen.value = id
  last.value = null
  free.value = false
}
/**
 * The needs that an assignment moves, with their new pins; those that the board gives do not move.
 */
function moves(found: Assignment, before: readonly Need[]): Record<string, number> {
  return Object.fromEntries(
    found.assigned
      .filter(a => before.some(n => n.id === a.needId && !n.fixed && n.chip !== a.chip))
      .map(a => [a.needId, a.chip]),
  )
}
/** Only what does not fit, or all that the maker does not keep. */
function assign(only?: ReadonlySet<string>): void {
  if (!design.value) return
  const found = bestPins(design.value, only)
  const pins = moves(found, all.value)
  if (Object.keys(pins).length) designs.apply({ type: 'setPins', pins })
  select(null)
  last.value = found
}
/** The smallest change that would meet them all. */
const larger = computed(() =>
  design.value && last.value?.unmet.length ? fittingBoard(design.value) : undefined,
)
function take(board: string): void {
  if (!design.value) return
  const moved = {
    ...design.value,
    controllers: design.value.controllers.map(c => ({ ...c, board })),
  }
  const found = bestPins(moved)
  designs.apply({
    type: 'together',
    words: 'A larger board, pins assigned anew',
    edits: [
      { type: 'setBoard', board, controllerId: controller.value?.id },
      { type: 'setPins', pins: moves(found, needs(moved)) },
    ],
  })
  last.value = found
}
function addSensor(kind: SensorKind): void {
  if (
    !designs.apply({
      type: 'addSensor',
      kind,
      name: upperFirst(SENSORS[kind].words.replace(/ \(.*/, '')),
      controllerId: controller.value?.id,
      loadId: reach.value[0]?.id,
    })
  )
    return
  const added = design.value?.sensors.at(-1)
  select(all.value.find(n => n.sensorId === added?.id)?.id ?? null)
}
/** What stands beside the board: a lamp by what it shows, or an expander by its kind. */
type Beside = Lamp['shows'] | Expander['kind']
const BESIDE: Record<Beside, string> = {
  link: 'lamp of a link',
  network: 'lamp of the network',
  waiting: 'lamp of what waits',
  shift: 'shift registers, more pins',
  'two-wire': 'port on a two-wire bus, more pins',
}
const isBeside = (what: SensorKind | Beside): what is Beside => what in BESIDE
function add(what: SensorKind | Beside): void {
  if (isBeside(what)) addBeside(what)
  else addSensor(what)
}
function addBeside(what: Beside): void {
  const at = {
    name: upperFirst(BESIDE[what].replace(/,.*/, '')),
    controllerId: controller.value?.id ?? '',
  }
  const expands = what === 'shift' || what === 'two-wire'
  if (
    !designs.apply(
      expands
        ? { type: 'addExpander', kind: what, ...at }
        : { type: 'addLamp', shows: what, ...at },
    )
  )
    return
  const added = expands ? controller.value?.expanders.at(-1) : controller.value?.lamps.at(-1)
  const id = `${expands ? 'expander' : 'lamp'}:${added?.id ?? ''}`
  select(all.value.find(n => n.id === id || n.id.startsWith(`${id} `))?.id ?? null)
}
const name = (id: string) => all.value.find(n => n.id === id)?.what ?? id
</script>

<template>
  <div v-if="design" class="view">
    <div class="work">
      <div class="strip">
        <el-radio-group
          v-if="designs.parts.length > 1"
          :model-value="controller?.id"
          aria-label="Controller"
          @change="
            (id: unknown) => {
              select(null)
              controllerId = String(id)
            }
          "
          ><el-radio-button
            v-for="p in designs.parts"
            :key="p.controller.id"
            :value="p.controller.id"
            >{{ p.controller.name }}</el-radio-button
          ></el-radio-group
        >
        <el-select
          :model-value="controller?.board"
          class="boards"
          aria-label="Board"
          @change="
            (board: string) => {
              select(null)
              designs.apply({ type: 'setBoard', board, controllerId: controller?.id })
            }
          "
        >
          <el-option v-for="b in boards" :key="b.id" :value="b.id" :label="b.name" />
        </el-select>
        <el-radio-group
          v-if="all.length"
          :model-value="circuit ? 'circuit' : 'pins'"
          aria-label="What is shown"
          @change="(what: unknown) => (circuit = what === 'circuit')"
          ><el-radio-button value="pins">Pins</el-radio-button
          ><el-radio-button value="circuit">Circuit</el-radio-button></el-radio-group
        >
        <el-button type="primary" :disabled="!all.length" @click="assign()"
          >Assign pins for me</el-button
        >
        <el-dropdown :persistent="false" trigger="click" @command="add">
          <el-button>Add a part</el-button>
          <template #dropdown
            ><el-dropdown-menu
              ><el-dropdown-item
                v-for="({ words, needsLoad }, kind) in SENSORS"
                :key="kind"
                :command="kind"
                :disabled="needsLoad && !reach.length"
                >{{ words }}</el-dropdown-item
              ><el-dropdown-item
                v-for="(words, what) in BESIDE"
                :key="what"
                :command="what"
                :divided="what === 'link' || what === 'shift'"
                :disabled="what === 'link' && !design.links.length"
                >{{ words }}</el-dropdown-item
              ></el-dropdown-menu
            ></template
          >
        </el-dropdown>
        <el-button @click="select(null)">Board</el-button>
        <el-button @click="free = true">A sum</el-button>
      </div>
      <div v-if="misfits.length" class="misfits" role="status">
        <span
          ><strong class="differs"
            >{{ misfits.length }} {{ misfits.length === 1 ? 'does' : 'do' }} not fit:</strong
          >
          {{ misfits.map(m => m.what).join('; ') }}.</span
        >
        <el-button size="small" @click="assign(new Set(misfits.map(m => m.id)))"
          >Move only these</el-button
        >
      </div>
      <CircuitSheets
        v-if="all.length && circuit"
        :design="design"
        :selected="chosen"
        @select="select"
      />
      <BoardPlan v-else-if="all.length" :design="design" :selected="chosen" @select="select" />
      <SumTable
        v-if="all.length && !circuit"
        :design="design"
        :sums="sums"
        :selected="chosen"
        @select="select"
      />
      <p v-if="!all.length" class="empty second">
        Nothing needs a pin yet. Name the first load on the
        <NuxtLink :to="`/d/${design.id}/sheet`">sheet</NuxtLink>.
      </p>
    </div>
    <aside class="ticket" aria-label="Wiring of what is chosen">
      <FreeSum v-if="free" />
      <div v-else-if="last">
        <h2>Pins, assigned</h2>
        <p class="second small">
          The whole of it costs least: no hazard that stops, as few that warn, and abilities left
          for later. Undo takes it back.
        </p>
        <p v-for="u in last.unmet" :key="u.needId" class="differs">
          <strong>{{ name(u.needId) }}</strong> has no pin: {{ u.why }}.
        </p>
        <p v-if="last.unmet.length && larger && larger.id !== controller?.board">
          <el-button size="small" @click="take(larger.id)"
            >Take the {{ larger.name }}: all find a pin there</el-button
          >
        </p>
        <p v-for="a in last.assigned" :key="a.needId">
          <strong>{{ name(a.needId) }}</strong> on <code>{{ pinLabel(design, a.chip) }}</code>
          {{ ' ' }}
          <span class="second">{{
            all.find(n => n.id === a.needId)?.fixed ? 'given by the board' : a.why
          }}</span>
        </p>
      </div>
      <NeedTicket
        v-else-if="need"
        :key="need.id"
        :design="design"
        :need="need"
        :sums="sums"
        @removed="select(null)"
      />
      <BoardTicket
        v-else
        :design="design"
        :sums="sums"
        @added="
          id => {
            controllerId = id
          }
        "
      />
    </aside>
  </div>
</template>

<style scoped>
.boards {
  width: 216px;
}
.strip {
  flex: none;
  gap: 8px 10px;
}
.misfits {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  padding: 8px 20px;
  background: var(--differs-ground);
  border-bottom: 1px solid var(--rule);
}
.empty {
  padding: 20px;
}
.ticket p {
  margin-top: 8px;
}
</style>
