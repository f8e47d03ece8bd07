<script setup lang="ts">
/** What lies on the bench, as a sentence that is filled in: underlined words are choices. */
import {
  drawerLoad,
  loadNames,
  withBoard,
  type Drawer,
  type DrawerLoad,
} from '../../../core/start/drawer'
import { LOAD_IDS, LOADS, type LoadId } from '../../../core/start/loads'
import { HAND_IDS, HANDS, startBoards, WAYS, waysOn, type WayId } from '../../../core/start/ways'
import { listed, withArticle, within } from '../../../core/start/words'
import type { Sketch } from '../../../core/start/outlook'

const props = defineProps<{ sketch: Sketch | null }>()
const drawer = defineModel<Drawer>({ required: true })
const patch = (some: Partial<Drawer>) => {
  drawer.value = { ...drawer.value, ...some }
}

const boards = startBoards()
const board = computed(() => boards.find(b => b.id === drawer.value.board) ?? boards[0]!)
const boardWords = (name: string) => name.split(',')[0] ?? name
const boardOptions = computed(() =>
  boards.map(b => ({
    value: b.id,
    words: boardWords(b.name),
    detail: b.name.split(',').slice(1).join(',').trim(),
    chosen: b.id === drawer.value.board,
  })),
)

const names = computed(() => loadNames(drawer.value))
const loadOptions = LOAD_IDS.map(id => ({ value: id, words: LOADS[id].words }))
/** More than a board has pins for are named on the sheet. */
const MOST_LOADS = 16
function change(at: number, load: DrawerLoad): void {
  patch({ loads: drawer.value.loads.with(at, load) })
}
function add(what: string): void {
  patch({ loads: [...drawer.value.loads, drawerLoad(what as LoadId)] })
}

const handOptions = computed(() =>
  HAND_IDS.map(id => ({ value: id, words: HANDS[id].words, chosen: id === drawer.value.hand })),
)
const offered = computed(() => waysOn(drawer.value.board))
const wayOptions = computed(() =>
  offered.value.map(id => ({
    value: id,
    words: drawer.value.ways.includes(id) ? `not ${WAYS[id].words}` : WAYS[id].words,
  })),
)
const waysLeft = computed(() => offered.value.filter(id => !drawer.value.ways.includes(id)))
function turnWay(id: WayId): void {
  const ways = drawer.value.ways.includes(id)
    ? drawer.value.ways.filter(w => w !== id)
    : offered.value.filter(w => w === id || drawer.value.ways.includes(w))
  patch({ ways })
}
const worked = computed(() => drawer.value.ways.length)

const CUT_OPTIONS = [
  { value: 'last', words: 'come back as they were' },
  { value: 'off', words: 'stay off' },
]
const cutWords = computed(() => CUT_OPTIONS.find(o => o.value === drawer.value.afterCut)!.words)
const dangerous = computed(() =>
  names.value.filter((_, i) => drawer.value.loads[i]?.dangers.length).map(n => `the ${within(n)}`),
)
const without = computed(() => {
  if (!props.sketch) return null
  const { works } = props.sketch
  const said = (list: string[]) => listed(list.map(within))
  return {
    internet: works.internet.length ? 'everything' : 'nothing',
    router: said(works.router),
    all: works.router.length === works.internet.length,
  }
})
</script>

<template>
  <p class="sentence">
    On my bench lies {{ withArticle(boardWords(board.name)).split(' ')[0] }}
    <WordChoice
      :words="boardWords(board.name)"
      label="Board"
      :options="boardOptions"
      @choose="id => (drawer = withBoard(drawer, id))"
    />. It switches
    <template v-for="(load, i) in drawer.loads" :key="i"
      ><LoadWord
        :load="load"
        :name="names[i] ?? ''"
        :alone="drawer.loads.length === 1"
        @change="l => change(i, l)"
        @remove="patch({ loads: drawer.loads.toSpliced(i, 1) })"
      />{{ i < drawer.loads.length - 1 ? ', ' : ' ' }}</template
    ><WordChoice
      v-if="drawer.loads.length < MOST_LOADS"
      words="and …"
      label="One more load"
      :options="loadOptions"
      open
      @choose="add"
    />. They are worked from
    <WordChoice
      :words="HANDS[drawer.hand].words"
      label="Hand controls"
      :options="handOptions"
      @choose="id => patch({ hand: id as Drawer['hand'] })"
    /><template v-for="(id, i) in drawer.ways" :key="id"
      >{{ i === worked - 1 ? ' and ' : ', '
      }}<WordChoice
        :words="WAYS[id].words"
        label="Surface"
        :options="wayOptions"
        @choose="w => turnWay(w as WayId)" /></template
    >{{ ' '
    }}<WordChoice
      v-if="waysLeft.length"
      words="or …"
      label="One more surface"
      :options="waysLeft.map(id => ({ value: id, words: WAYS[id].words }))"
      open
      @choose="w => turnWay(w as WayId)"
    />. After a power cut they
    <WordChoice
      :words="cutWords"
      label="After a power cut"
      :options="CUT_OPTIONS.map(o => ({ ...o, chosen: o.value === drawer.afterCut }))"
      @choose="v => patch({ afterCut: v as Drawer['afterCut'] })"
    /><template v-if="dangerous.length && drawer.afterCut === 'last'"
      >, but
      <strong
        >{{ listed(dangerous) }} {{ dangerous.length > 1 ? 'stay' : 'stays' }} off</strong
      ></template
    >.
    <template v-if="without">
      Without internet <strong class="works">{{ without.internet }}</strong> still works<template
        v-if="!without.all"
        >; without the router <strong class="works">{{ without.router }}</strong>
        {{ sketch!.works.router.length === 1 ? 'does' : 'do' }}</template
      >.
    </template>
  </p>
  <p class="second small">
    Underlined words are choices: press one. Nothing is final; all of it can be changed later.
  </p>
</template>

<style scoped>
.sentence {
  font-size: 23px;
  line-height: 1.66;
  text-wrap: pretty;
}
.works {
  color: var(--step);
}
@media (max-width: 560px) {
  .sentence {
    font-size: 19px;
  }
}
</style>
