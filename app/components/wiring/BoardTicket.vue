<script setup lang="ts">
/**
 * Board and supply: figures, own profiles, the ritual of uploading. Shown while nothing is chosen.
 */
import { boardSchema, migrateBoard, sourceOf, type Fact } from '../../../core/boards/schema'
import { freshId } from '../../../core/design/ids'
import { profileOf } from '../../../core/design/pins'
import { pointer } from '../../../core/design/validate'
import type { Design } from '../../../core/design/schema'
import { flashingSteps } from '../../../core/sides/wiring-sheet'
import { SHIPPED } from '../../../core/boards/boards'
import type { WiringSum } from '../../../core/electrical/wiring-sum'
import { showQuantity } from '../../../core/units/quantity'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design; sums: WiringSum[] }>()
const emit = defineEmits<{ added: [controllerId: string] }>()
const designs = useDesignStore()
const board = computed(() => profileOf(props.design))
const controller = computed(() => props.design.controllers[0]!)
const whole = computed(() => designs.design ?? props.design)
const holds = computed(
  () => [...props.design.loads, ...props.design.links, ...props.design.sensors].length > 0,
)
function addController(): void {
  if (
    designs.apply({
      type: 'addController',
      name: `Controller ${whole.value.controllers.length + 1}`,
    })
  )
    emit('added', designs.design?.controllers.at(-1)?.id ?? '')
}
const own = computed(() => props.design.boards.some(b => b.id === board.value.id))
const WIRES = {
  output: 'to drivers',
  contact: 'from contacts',
  sense: 'sensed lines',
  serial: 'serial',
} as const
/** Each figure with its source. */
const figures = computed(() => {
  const b = board.value
  const row = (words: string, value: string, fact: Fact) => ({
    words,
    value,
    from: sourceOf(b, fact),
  })
  return [
    row('Logic', showQuantity(b.logicVolts, 'V'), 'volts'),
    row('A pin takes in', showQuantity(b.inputMaxVolts, 'V'), 'volts'),
    row('A pin gives', showQuantity(b.pinMaxAmps, 'A'), 'currents'),
    row('All together', showQuantity(b.totalMaxAmps, 'A'), 'currents'),
    row('Pull-ups inside', showQuantity(b.pullUpOhms, 'Ω'), 'pull-ups'),
    row('Analog', b.analogBits ? `${b.analogBits} bits` : 'none', 'analog'),
  ]
})
const editing = ref(false)
const text = ref('')
const wrong = ref<string[]>([])
const file = useTemplateRef<HTMLInputElement>('file')

/** Takes a profile in and uses it; a text that is none is told place by place. */
function take(source: string): boolean {
  let value: unknown
  try {
    value = JSON.parse(source)
  } catch (error) {
    wrong.value = [`this is not JSON: ${(error as Error).message}`]
    return false
  }
  const checked = boardSchema.safeParse(migrateBoard(value))
  if (!checked.success) {
    wrong.value = checked.error.issues
      .slice(0, 6)
      .map(i => `${pointer(i.path) || 'whole profile'} ${i.message}`)
    return false
  }
  wrong.value = []
  const taken = SHIPPED.some(b => b.id === checked.data.id)
    ? {
        ...checked.data,
        id: freshId(checked.data.id, 'board', [...SHIPPED, ...props.design.boards]),
      }
    : checked.data
  return designs.apply({
    type: 'together',
    words: `Board profile ${taken.name} taken in and used`,
    edits: [
      { type: 'putBoard', board: taken },
      { type: 'setBoard', board: taken.id },
    ],
  })
}
async function duplicate(): Promise<void> {
  const id = freshId(board.value.id, 'board', [...SHIPPED, ...props.design.boards])
  if (!take(JSON.stringify({ ...board.value, id, name: `my ${board.value.name}`.slice(0, 160) })))
    return
  await nextTick()
  edit()
}
function edit(): void {
  text.value = JSON.stringify(board.value, null, 1)
  editing.value = true
}
function keep(): void {
  if (take(text.value)) editing.value = false
}
async function read(event: Event): Promise<void> {
  const [chosen] = (event.target as HTMLInputElement).files ?? []
  if (chosen && chosen.size < 200_000) take(await chosen.text())
  else if (chosen) wrong.value = ['a profile of at most 200 kB, please']
  if (file.value) file.value.value = ''
}
function save(): void {
  handOver(
    `${board.value.id}.json`,
    JSON.stringify(board.value, null, 2) + '\n',
    'application/json',
  )
}

function leave(): void {
  editing.value = false
  wrong.value = []
}
</script>

<template>
  <div>
    <h2>{{ board.name }}</h2>
    <section>
      <dl class="facts">
        <dt>Called</dt>
        <dd>
          <InlineText
            :value="controller.name"
            label="controller"
            @change="
              name => designs.apply({ type: 'renameController', controllerId: controller.id, name })
            "
          />
        </dd>
      </dl>
      <div class="buttons">
        <el-button size="small" @click="addController">Another controller</el-button>
        <el-button
          v-if="whole.controllers.length > 1"
          size="small"
          :disabled="holds"
          :title="holds ? 'Remove its loads, links and sensors first' : ''"
          @click="designs.apply({ type: 'removeController', controllerId: controller.id })"
          >Remove {{ controller.name }}</el-button
        >
      </div>
    </section>
    <section>
      <dl class="facts">
        <template v-for="f in figures" :key="f.words"
          ><dt :title="f.from">{{ f.words }}</dt>
          <dd class="wire">{{ f.value }}</dd></template
        >
      </dl>
      <div class="buttons">
        <el-button size="small" @click="save">Save profile</el-button>
        <el-button size="small" @click="file?.click()">Read a profile</el-button>
        <el-button v-if="own" size="small" @click="edit">Edit it</el-button>
        <el-button size="small" @click="duplicate">Duplicate</el-button>
        <input
          ref="file"
          type="file"
          accept=".json,application/json"
          class="visually-hidden"
          aria-label="Board profile file"
          tabindex="-1"
          @change="read"
        />
      </div>
      <ul v-if="wrong.length" class="differs small" role="alert">
        <li v-for="w in wrong" :key="w">{{ w }}</li>
      </ul>
      <div v-if="editing" class="editor">
        <textarea
          v-model="text"
          class="wire"
          rows="16"
          spellcheck="false"
          aria-label="Board profile as JSON"
        />
        <div class="buttons">
          <el-button size="small" type="primary" @click="keep">Keep it</el-button
          ><el-button size="small" @click="leave">Leave it</el-button>
        </div>
      </div>
    </section>
    <SupplyChain :design="design" :sums="sums" />
    <FrontBoard :design="design" :sums="sums" />
    <section>
      <h3 class="title">Wires in the drawing</h3>
      <dl class="facts">
        <template v-for="(words, key) in WIRES" :key="key">
          <dt>{{ words }}</dt>
          <dd>
            <input
              type="color"
              :value="design.wires[key]"
              :aria-label="`Colour of wires ${words}`"
              @change="
                event =>
                  designs.apply({
                    type: 'setWires',
                    patch: { [key]: (event.target as HTMLInputElement).value },
                  })
              "
            />
          </dd>
        </template>
      </dl>
    </section>
    <SumCard
      v-for="s in sums.filter(
        x => x.path === '/supply' || x.path === '/controllers/0' || x.id.startsWith('link:'),
      )"
      :key="s.id"
      :of="s"
    />
    <section class="upload">
      <h3 class="title">Uploading, step by step</h3>
      <ol>
        <li v-for="(step, i) in flashingSteps(design)" :key="i">{{ step }}</li>
      </ol>
    </section>
    <section>
      <h3 class="title">Where its facts come from</h3>
      <p v-for="s in board.sources" :key="s.words" class="second small">
        <strong>{{ s.from }}</strong> ({{ s.facts.join(', ') }}): {{ s.words }}
      </p>
    </section>
  </div>
</template>

<style scoped>
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 8px;
}
.buttons :deep(.el-button) {
  margin: 0;
}
.upload {
  margin-top: 14px;
  padding-top: 12px;
  border-top: 1px solid var(--rule);
}
ol {
  padding-left: 20px;
  margin: 6px 0;
  display: grid;
  gap: 4px;
}
ul {
  padding-left: 18px;
  margin: 8px 0 0;
  overflow-wrap: anywhere;
}
input[type='color'] {
  width: 44px;
  height: 26px;
  padding: 2px;
  border: 1px solid var(--rule-strong);
  background: var(--raised);
}
textarea {
  width: 100%;
  margin-top: 8px;
  font-size: 12px;
  border: 1px solid var(--rule-strong);
  background: var(--paper);
  color: inherit;
}
</style>
