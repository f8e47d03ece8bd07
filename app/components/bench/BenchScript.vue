<script setup lang="ts">
/**
 * What was done on the bench, as text: to be kept, changed, given to others and played again; with
 * what is expected of it.
 */
import { refThrottled } from '@vueuse/core'
import { judged, type Held } from '../../../core/bench/drills'
import { readScript, scriptText } from '../../../core/bench/script-text'
import {
  judgedAt,
  looksAt,
  MAX_SCRIPT,
  scriptSchema,
  type BenchScript,
} from '../../../core/bench/script'
import type { Design } from '../../../core/design/schema'
import { handOver } from '../../composables/save-file'
import { useBenchStore } from '../../stores/bench'
import { useBenchViewStore } from '../../stores/bench-view'

const props = defineProps<{ design: Design }>()
const bench = useBenchStore()
const look = useBenchViewStore()
const slow = refThrottled(
  toRef(() => bench.tick),
  500,
)
/** What has been done so far; a script that is played keeps its expectations. */
const recorded = computed<BenchScript>(
  () => (
    void slow.value,
    {
      seed: bench.script?.seed ?? bench.seed,
      steps: bench.bench?.recorded.slice(0, MAX_SCRIPT) ?? [],
      ...(bench.script?.expects ? { expects: bench.script.expects } : {}),
      ...(bench.script?.fates ? { fates: bench.script.fates } : {}),
      untilMs: Math.ceil(bench.bench?.now ?? 0),
    }
  ),
)
const own = ref<string | null>(null)
const text = computed({
  get: () => own.value ?? scriptText(recorded.value, bench.title),
  set: value => {
    own.value = value
  },
})
const trouble = ref('')
const held = computed<Held[]>(
  () => (
    void slow.value,
    bench.bench
      ? (bench.script?.expects ?? [])
          .filter(e => judgedAt(e) <= (bench.bench?.now ?? 0))
          .map(e => judged(props.design, (bench.bench as NonNullable<typeof bench.bench>).trace, e))
      : []
  ),
)

async function play(atOnce: boolean): Promise<void> {
  try {
    const script = readScript(text.value)
    trouble.value = ''
    const story = { script, title: 'a script', loadId: bench.loadId }
    if (atOnce) await bench.playAtOnce(story)
    else bench.play(story)
    own.value = null
  } catch (error) {
    trouble.value = (error as Error).message
  }
}
async function open(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  const content = await file.text()
  if (!content.trimStart().startsWith('{')) {
    own.value = content
    return
  }
  try {
    const parsed = scriptSchema.safeParse(JSON.parse(content))
    if (parsed.success) own.value = scriptText(parsed.data)
    else
      trouble.value = `${file.name}: /${parsed.error.issues[0]?.path.join('/') ?? ''} ${parsed.error.issues[0]?.message ?? ''}`
  } catch (error) {
    trouble.value = `${file.name} is no script: ${(error as Error).message}`
  }
}
function saveJson(): void {
  try {
    handOver(
      `${props.design.id}-script.json`,
      JSON.stringify(readScript(text.value), null, 2),
      'application/json',
    )
  } catch (error) {
    trouble.value = (error as Error).message
  }
}

function back(): void {
  own.value = null
  trouble.value = ''
}
</script>

<template>
  <div>
    <h2>Script</h2>
    <p class="second">
      All that was done, line by line. Change it, add what is expected, and play it again: the same
      seed goes the same way.
    </p>
    <el-input
      v-model="text"
      type="textarea"
      :rows="16"
      class="mono script"
      spellcheck="false"
      aria-label="Script"
    />
    <p v-if="own === null && (bench.bench?.recorded.length ?? 0) > MAX_SCRIPT" class="second small">
      A script holds {{ MAX_SCRIPT }} steps; the first of them are here.
    </p>
    <p v-if="trouble" class="differs small" role="alert">{{ trouble }}</p>
    <div class="row">
      <el-button type="primary" @click="play(false)">Play</el-button>
      <el-button @click="play(true)">Play at once</el-button>
      <el-button v-if="own !== null" @click="back">Back to what was done</el-button>
    </div>
    <div class="row">
      <label class="el-button el-button--small file"
        >Open<input type="file" accept=".txt,.json" class="visually-hidden" @change="open"
      /></label>
      <el-button size="small" @click="handOver(`${design.id}-script.txt`, text, 'text/plain')"
        >Save as text</el-button
      >
      <el-button size="small" @click="saveJson()">Save as JSON</el-button>
    </div>
    <section v-if="held.length">
      <h3 class="title">Expected</h3>
      <ul class="list">
        <li v-for="(h, i) in held" :key="i">
          <button type="button" class="plain" @click="look.show(looksAt(h.expectation))">
            <StateGlyph
              :state="h.held ? 'in step' : h.unsure ? 'unsure' : 'stale'"
              :label="h.held ? 'held' : h.unsure ? 'somebody is unsure' : 'did not hold'"
            />
            {{ h.words }}
          </button>
          <p v-if="!h.held" class="differs small">{{ h.found }}</p>
        </li>
      </ul>
    </section>
    <section class="small second">
      <p>Such lines can be added:</p>
      <p class="wire">at 3 s within 300 ms everybody shows {{ bench.loadId }} on</p>
      <p class="wire">at 3 s within 1000 ms {{ bench.loadId }} is off</p>
      <p class="wire">from 3 s to 9 s {{ bench.loadId }} stays</p>
    </section>
  </div>
</template>

<style scoped>
.script {
  margin: 10px 0;
}
.script :deep(textarea) {
  font-size: 12.5px;
  line-height: 1.5;
  white-space: pre;
  overflow-x: auto;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-bottom: 8px;
}
.row :deep(.el-button) {
  margin: 0;
}
.file {
  cursor: pointer;
}
.file:focus-within {
  outline: 2px solid var(--cursor);
  outline-offset: 2px;
}
.list {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  gap: 6px;
}
.list .plain {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
section .wire {
  font-size: 12.5px;
}
</style>
