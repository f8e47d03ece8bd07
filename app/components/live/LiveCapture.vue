<script setup lang="ts">
/** A capture that something else made, read against the design: what is wrong with it, by name. */
import { askedFor, type Beside } from '../../../core/captures/beside'
import type { Blame, Judged } from '../../../core/captures/blame'
import { linkOf } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import { count, plural, seconds, upperFirst } from '../../../core/units/format'

const props = defineProps<{ design: Design }>()
const emit = defineEmits<{ away: [] }>()
const MOST_BYTES = 30_000_000
const SHOWN = 300
const WORDS: Record<Blame, string> = {
  'unknown code': 'unknown codes',
  'answer of another table': 'of another table',
  'missing answer': 'without an answer',
  late: 'late',
  doubled: 'doubled',
  'toggled twice': 'toggled twice',
  'other value': 'answered otherwise',
  refused: 'refused',
  'half a message': 'broken off',
  'wrong speed': 'at a wrong speed',
}

const linkId = ref(props.design.links[0]?.id ?? '')
const name = ref('')
const bytes = shallowRef<Uint8Array | null>(null)
const found = shallowRef<Judged | null>(null)
const aside = shallowRef<Beside | null>(null)
const { playScript } = useFixing()
/** Each message with what is wrong, or beside what the design says to the same. */
const laid = ref<'judged' | 'beside'>('judged')
const kind = ref('')
const trouble = ref('')
const reading = ref(false)
const only = ref<Blame | 'all'>('all')
const input = useTemplateRef<HTMLInputElement>('input')

async function take(event: Event): Promise<void> {
  const [file] = (event.target as HTMLInputElement).files ?? []
  if (input.value) input.value.value = ''
  if (!file) return
  name.value = file.name
  trouble.value =
    file.size > MOST_BYTES ? `${file.name} is larger than 30 MB: cut out what matters.` : ''
  bytes.value = trouble.value ? null : new Uint8Array(await file.arrayBuffer())
}
watch([bytes, linkId, () => props.design], async () => {
  found.value = aside.value = null
  trouble.value = ''
  if (!bytes.value) return
  reading.value = true
  const answer = await coreWorker('check')
    .capture(toRaw(props.design), linkId.value, name.value, bytes.value)
    .catch((error: Error) => ({ trouble: error.message.replace(/\.$/, '') }))
  reading.value = false
  if ('trouble' in answer) trouble.value = upperFirst(`${answer.trouble}.`)
  else {
    ;[found.value, aside.value] = [answer.judged, answer.beside]
    ;[kind.value, only.value] = [answer.kind, 'all']
  }
})
const blames = computed(() => Object.entries(found.value?.counts ?? {}) as [Blame, number][])
const steps = computed(() =>
  found.value ? askedFor(props.design, linkOf(props.design, linkId.value), found.value.lines) : [],
)
/** What was asked for, at the same times, as a run of its own. */
async function playOnBench(): Promise<void> {
  const [first] = steps.value
  if (!first) return
  const last = steps.value.at(-1)!.atMs
  await playScript(
    { seed: 1, steps: steps.value, untilMs: last + 5000 },
    `${name.value}, as the design answers it`,
    (first.action as { loadId: string }).loadId,
  )
}
const lines = computed(() =>
  (found.value?.lines ?? []).filter(l => only.value === 'all' || l.blame === only.value),
)
const all = computed(() =>
  laid.value === 'beside' ? (aside.value?.rows.length ?? 0) : lines.value.length,
)
</script>

<template>
  <section class="capture">
    <div class="bar">
      <h2>A capture</h2>
      <el-select v-model="linkId" size="small" aria-label="Link of the capture" class="of"
        ><el-option v-for="l in design.links" :key="l.id" :value="l.id" :label="l.name"
      /></el-select>
      <el-button size="small" @click="input?.click()">Open a file</el-button>
      <input
        ref="input"
        type="file"
        class="visually-hidden"
        aria-label="Capture to read"
        tabindex="-1"
        @change="take"
      />
      <span class="second small">{{
        name ? `${name}${kind && found ? `, ${kind}` : ''}` : 'logs, CSV, VCD, pcap, pcapng'
      }}</span>
      <el-button size="small" class="push" @click="emit('away')">Close</el-button>
    </div>
    <p v-if="reading" class="second" role="status">Reading …</p>
    <p v-if="trouble" class="differs" role="alert">{{ trouble }}</p>
    <template v-if="found">
      <p v-for="w in found.words" :key="w" class="differs">{{ upperFirst(w) }}.</p>
      <div class="bar">
        <el-radio-group v-model="laid" size="small" aria-label="How it is laid out"
          ><el-radio-button value="judged">blamed</el-radio-button
          ><el-radio-button value="beside">beside the design</el-radio-button></el-radio-group
        >
        <el-radio-group
          v-if="laid === 'judged'"
          v-model="only"
          size="small"
          aria-label="Which messages"
          ><el-radio-button value="all">all {{ count(found.lines.length) }}</el-radio-button
          ><el-radio-button v-for="[blame, n] in blames" :key="blame" :value="blame"
            >{{ WORDS[blame] }} {{ count(n) }}</el-radio-button
          ></el-radio-group
        >
        <span v-if="!blames.length && found.lines.length && laid === 'judged'" class="clean"
          ><StateGlyph state="in step" /> nothing in it is against the design</span
        >
        <span v-if="aside && !aside.why && laid === 'beside'" class="second"
          >{{ plural(aside.both, 'answer') }} on both sides, {{ aside.board }} of the board only,
          {{ aside.missing }} of the design only</span
        >
        <el-button v-if="steps.length" size="small" class="push" @click="playOnBench"
          >Play it on the bench</el-button
        >
      </div>
      <template v-if="laid === 'beside'">
        <p v-if="aside?.why" class="second">It cannot be laid beside: {{ aside.why }}.</p>
        <table v-else-if="aside" class="beside">
          <thead>
            <tr>
              <th scope="col">At</th>
              <th scope="col">The capture</th>
              <th scope="col">The design, told the same</th>
              <th scope="col">Apart</th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="(r, i) in aside.rows.slice(0, SHOWN)"
              :key="i"
              :class="{ lost: r.line?.way !== 'up' && !(r.line && r.design) }"
            >
              <td class="number at second">{{ seconds(Math.round(r.atMs)) }}</td>
              <td>
                <template v-if="r.line">
                  <span
                    class="way"
                    :aria-label="r.line.way === 'up' ? 'to the board' : 'from the board'"
                    >{{ r.line.way === 'up' ? '→' : '←' }}</span
                  >
                  <code>{{ r.line.text }}</code> {{ r.line.words }}</template
                ><span v-else class="differs">nothing came</span>
              </td>
              <td>
                <template v-if="r.design">{{ r.design.words }}</template><span
                  v-else-if="r.line?.way === 'down'"
                  class="second"
                  >{{
                    r.line.kind === 'report'
                      ? 'says nothing: somebody else was at it'
                      : 'says nothing like it'
                  }}</span
                >
              </td>
              <td class="number second">
                {{ r.line && r.design ? `${Math.round(r.atMs - r.design.atMs)} ms` : '' }}
              </td>
            </tr>
          </tbody>
        </table>
      </template>
      <table v-else-if="lines.length">
        <tbody>
          <tr v-for="l in lines.slice(0, SHOWN)" :key="l.n" :class="{ lost: l.blame }">
            <td class="number at second">
              {{ l.atMs === null ? '' : seconds(Math.round(l.atMs)) }}
            </td>
            <td class="way">
              <span :aria-label="l.way === 'up' ? 'to the board' : 'from the board'">{{
                l.way === 'up' ? '→' : '←'
              }}</span>
            </td>
            <td class="wire text">{{ l.text }}</td>
            <td>{{ upperFirst(l.words) }}</td>
            <td>
              <template v-if="l.blame"
                ><strong class="differs">{{ upperFirst(l.blame) }}</strong
                >: {{ l.why }}</template
              ><span v-else-if="l.afterMs !== null" class="second">after {{ l.afterMs }} ms</span>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-else class="second">Nothing of this link is in it.</p>
      <p v-if="all > SHOWN" class="second small">
        The first {{ SHOWN }} of {{ count(all) }} are shown.
      </p>
    </template>
    <p v-else-if="!trouble && !reading" class="second small">
      What a serial monitor kept, what a logic probe saw of the lines or decoded, packets of your
      own boards: every message is told in words, and what is unknown, late, lost or doubled by its
      name.
    </p>
  </section>
</template>

<style scoped>
.capture {
  padding: 10px 20px 16px;
  border-bottom: 1px solid var(--rule-strong);
  background: var(--raised);
}
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  margin-bottom: 6px;
}
.push {
  margin-left: auto;
}
.of {
  width: 190px;
}
.clean {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
table {
  width: 100%;
  border-collapse: collapse;
}
td {
  padding: 5px 12px 5px 0;
  border-bottom: 1px solid var(--rule);
  vertical-align: top;
}
.beside th {
  text-align: left;
  padding: 4px 12px 4px 0;
  border-bottom: 1px solid var(--rule-strong);
}
.beside .way {
  margin-right: 8px;
}
.at {
  width: 80px;
  white-space: nowrap;
}
.way {
  width: 24px;
}
.text {
  overflow-wrap: anywhere;
  max-width: 240px;
}
.lost {
  background: var(--differs-ground);
}
</style>
