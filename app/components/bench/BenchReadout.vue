<script setup lang="ts">
/**
 * What is so where the pointer or the cursor is, or now: truth, beliefs, what is under way, and
 * why; distances between markers; messages, byte by byte.
 */
import { refThrottled } from '@vueuse/core'
import { momentOf } from '../../../core/bench/why'
import { firstSentAt, type TracedMessage } from '../../../core/bench/trace'
import { loadOf, linkOf, surfaceOf } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import { valueWords } from '../../../core/design/values'
import { hexText } from '../../../core/bytes/text'
import { explain, meansOf } from '../../../core/messages/explain'
import { shownWords } from '../../../core/proof/story/words'
import { count, seconds } from '../../../core/units/format'
import { markerName } from '../../drawing/timeline/lines'
import { useBenchStore } from '../../stores/bench'
import { useBenchViewStore } from '../../stores/bench-view'
import { useFindingsStore } from '../../stores/findings'
import { speaksRoutes } from '../../../core/design/links/traits'

const props = defineProps<{ design: Design }>()
const bench = useBenchStore()
const look = useBenchViewStore()
const findings = useFindingsStore()
const { fix } = useFixing()
// Four times a second is enough for reading, and keeps long runs smooth.
const slow = refThrottled(
  toRef(() => bench.tick),
  250,
)
const at = refThrottled(
  toRef(() => look.readMs),
  60,
)
const now = computed(() => (void slow.value, bench.bench?.now ?? 0))
const t = computed(() => Math.min(at.value ?? Infinity, now.value))
const moment = computed(
  () => (
    void slow.value,
    bench.bench ? momentOf(props.design, bench.bench.trace, bench.loadId, t.value) : null
  ),
)
const output = computed(() => loadOf(props.design, bench.loadId).output)
const name = (surfaceId: string) => surfaceOf(props.design, surfaceId).name
const run = computed(() => {
  void slow.value
  const current = bench.bench
  if (!current) return null
  const load = props.design.loads.findIndex(l => l.id === bench.loadId)
  const remote = props.design.surfaces.filter(s => s.kind !== 'hand')
  const traffic = current.figures.traffic.reduce(
    (sum, x) => ({
      messages: sum.messages + x.up.messages + x.down.messages,
      lost: sum.lost + x.up.lost + x.down.lost,
    }),
    { messages: 0, lost: 0 },
  )
  return {
    wrong: remote.map((p, i) => ({
      name: p.name,
      ms: current.figures.wrongMs(i, load, current.now),
    })),
    ...traffic,
    moves: current.figures.moves[load] ?? 0,
    events: current.figures.events,
  }
})
/** The first way out of each finding about a surface that is wrong here. */
const waysOut = computed(() =>
  (moment.value?.surfaces ?? [])
    .filter(s => s.wrongForMs !== null)
    .flatMap(s => {
      const found = findings.findings.find(
        f => f.surfaceId === s.surfaceId && f.loadId === bench.loadId && f.fixes.length,
      )
      return found?.fixes[0] ? [{ surfaceId: s.surfaceId, fix: found.fixes[0] }] : []
    }),
)
const measured = computed(() =>
  look.markers.map((m, i) => ({
    name: markerName(i),
    t: m,
    since: i ? m - (look.markers[i - 1] ?? 0) : null,
  })),
)
/** The last messages up to the moment, newest first. */
const messages = computed<TracedMessage[]>(() => {
  void slow.value
  const trace = bench.bench?.trace
  if (!trace) return []
  const out: TracedMessage[] = []
  for (
    let i = firstSentAt(trace.messages, t.value + 1e-6) - 1;
    i >= 0 && out.length < 8 && trace.messages.length - i < 100_000;
    i--
  ) {
    const m = trace.messages[i] as TracedMessage
    if (look.allMessages || m.loadIds.includes(bench.loadId)) out.push(m)
  }
  return out
})
const opened = shallowRef<TracedMessage | null>(null)
const bytes = computed(() => {
  const m = opened.value
  if (!m) return null
  const link = linkOf(props.design, m.linkId)
  const explained = m.dir === 'up' ? explain(props.design, link, m.text) : null
  return {
    hex: speaksRoutes(link) ? '' : hexText(m.text),
    length: m.text.length,
    says: m.dir === 'up' ? meansOf(props.design, link, m.text) : '',
    rows: explained?.bytes ?? [],
  }
})
</script>

<template>
  <div v-if="moment && run">
    <section v-if="bench.title" class="playing">
      <p>
        Playing: <strong>{{ bench.title }}</strong>
      </p>
      <el-button size="small" @click="bench.clear()">Back to my own run</el-button>
    </section>
    <h2>
      {{ at === null ? 'Now' : 'At' }}
      {{ at !== null && look.pxPerMs > 5 ? `${(t / 1000).toFixed(5)} s` : seconds(t) }}
    </h2>
    <section>
      <dl class="facts">
        <dt>Truth</dt>
        <dd class="wire">
          {{ moment.powered ? valueWords(output, moment.value ?? '') : 'no power' }}
        </dd>
        <template v-for="s in moment.surfaces" :key="s.surfaceId">
          <dt>{{ name(s.surfaceId) }}</dt>
          <dd class="wire" :class="{ differs: s.wrongForMs !== null }">
            {{ shownWords(output, s.shown)
            }}<template v-if="s.wrongForMs !== null"> · {{ seconds(s.wrongForMs) }} wrong</template>
          </dd>
        </template>
        <dt>Under way</dt>
        <dd class="wire">{{ moment.inFlight.join(', ').replaceAll('\n', ' ') || 'nothing' }}</dd>
      </dl>
      <p v-for="s in moment.surfaces.filter(x => x.why)" :key="s.surfaceId" class="why">
        {{ s.why }}
      </p>
      <div class="ways">
        <el-button v-for="w in waysOut" :key="w.surfaceId" size="small" @click="fix(w.fix)"
          >{{ name(w.surfaceId) }}: {{ w.fix.words }}</el-button
        >
      </div>
    </section>
    <section v-if="measured.length">
      <h3 class="title">Markers</h3>
      <dl class="facts">
        <template v-for="m in measured" :key="m.name">
          <dt>
            <button type="button" class="plain" @click="look.show(m.t)">
              {{ m.name }} at {{ (m.t / 1000).toFixed(3) }} s
            </button>
          </dt>
          <dd class="wire">
            {{
              m.since === null
                ? ''
                : `+ ${m.since < 10 ? `${m.since.toFixed(2)} ms` : seconds(m.since)}`
            }}
          </dd>
        </template>
        <template v-if="look.readMs !== null"
          ><dt>last to here</dt>
          <dd class="wire">{{ seconds(Math.abs(t - (look.markers.at(-1) ?? 0))) }}</dd></template
        >
      </dl>
      <el-button size="small" @click="look.markers = []">remove all</el-button>
    </section>
    <section>
      <h3 class="title">Messages up to here</h3>
      <ul class="list">
        <li v-for="(m, i) in messages" :key="`${m.sentMs} ${i}`">
          <button
            type="button"
            class="plain message"
            :class="{ differs: m.lost }"
            :aria-expanded="opened === m"
            @click="opened = opened === m ? null : m"
          >
            <span class="second small when">{{ (m.sentMs / 1000).toFixed(3) }}</span>
            <span class="wire text"
              >{{ m.dir === 'up' ? '→' : '←' }} {{ m.shown.replaceAll('\n', ' ') }}</span
            >
            <span class="second small">{{
              m.lost ? 'lost' : m.endMs > t ? 'under way' : seconds(m.endMs - m.sentMs)
            }}</span>
          </button>
          <div v-if="opened === m && bytes" class="bytes small">
            <p class="second">
              {{ name(m.surfaceId) }}, {{ m.dir === 'up' ? 'to the board' : 'from the board' }},
              {{ bytes.length }} bytes<template v-if="m.status"> · status {{ m.status }}</template
              ><template v-if="bytes.says"> · {{ bytes.says }}</template>
            </p>
            <p v-if="bytes.hex" class="wire hex">{{ bytes.hex }}</p>
            <p v-for="(b, n) in bytes.rows" :key="n">
              <span class="wire">{{ b.char }}</span> {{ b.says }}
            </p>
          </div>
        </li>
        <li v-if="!messages.length" class="second small">none yet</li>
      </ul>
    </section>
    <section>
      <h3 class="title">This run</h3>
      <dl class="facts">
        <template v-for="w in run.wrong" :key="w.name"
          ><dt>{{ w.name }} wrong</dt>
          <dd class="wire">{{ seconds(w.ms) }}</dd></template
        >
        <dt>Messages</dt>
        <dd class="wire">{{ count(run.messages) }}, {{ count(run.lost) }} lost</dd>
        <dt>Relay moves</dt>
        <dd class="wire">{{ count(run.moves) }}</dd>
        <dt>Events</dt>
        <dd class="wire">{{ count(run.events) }}</dd>
      </dl>
    </section>
  </div>
</template>

<style scoped>
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.ways :deep(.el-button) {
  margin: 0;
  height: auto;
  white-space: normal;
  text-align: left;
  padding: 5px 10px;
}
.why {
  margin: 10px 0;
  color: var(--second);
}
h2 {
  margin-top: 0;
}
.playing + h2 {
  margin-top: 14px;
  border-top: 1px solid var(--rule);
  padding-top: 14px;
}
.playing p {
  margin-bottom: 6px;
}
h3 {
  margin-bottom: 6px;
}
dd.wire {
  font-size: 13px;
}
.list {
  list-style: none;
  margin: 0;
  padding: 0;
}
.message {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 8px;
  width: 100%;
  align-items: baseline;
}
.when {
  font-variant-numeric: tabular-nums;
}
.text {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  font-size: 13px;
}
.bytes {
  border-left: 2px solid var(--rule-strong);
  padding: 2px 0 4px 9px;
  margin: 2px 0 6px;
}
.hex {
  font-size: 12.5px;
  overflow-wrap: anywhere;
}
</style>
