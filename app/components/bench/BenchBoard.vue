<script setup lang="ts">
/**
 * The emulated board: which program runs on it, how far and how fast it is, what it said, and where
 * it did something else than the controller of the bench.
 */
import { carriedLinks } from '../../../core/sides/program/carried'
import { programLacks } from '../../../core/sides/program/lacks'
import type { Difference } from '../../../core/emulated/compare'
import type { Design } from '../../../core/design/schema'
import { count, seconds } from '../../../core/units/format'
import { useBenchStore } from '../../stores/bench'
import { useBenchViewStore } from '../../stores/bench-view'
import { useEmulatedStore } from '../../stores/emulated'

const props = defineProps<{ design: Design }>()
const emit = defineEmits<{ board: [on: boolean] }>()
const bench = useBenchStore()
const look = useBenchViewStore()
const emulated = useEmulatedStore()
const started = computed(() => emulated.started)
const news = computed(() => emulated.news)
const lacks = computed(() => (bench.plainPart ? programLacks(bench.plainPart) : []))
/** The links that the program carries. */
const linkNames = computed(
  () =>
    new Map(
      bench.plainPart ? carriedLinks(bench.plainPart).map(({ link }) => [link.id, link.name]) : [],
    ),
)
const unplayed = computed(() =>
  (news.value?.unplayed ?? []).map(id => props.design.links.find(l => l.id === id)?.name ?? id),
)
const behind = computed(() =>
  news.value && bench.bench ? (void bench.tick, bench.bench.now - news.value.now) : 0,
)
const SHOWN = 100
function show({ t, load }: Difference): void {
  const id = props.design.loads[load]?.id
  if (id) bench.loadId = id
  look.show(t)
}
</script>

<template>
  <div class="board">
    <h2>Emulated board</h2>
    <p class="second">
      The ready-made program runs as machine code on an emulated 8-bit board. The same presses,
      bytes and cuts come to it; its pins and what it says stand beside the controller of the bench.
    </p>
    <p v-if="emulated.trouble" class="differs" role="alert">{{ emulated.trouble }}</p>
    <el-button v-if="!emulated.on" type="primary" @click="emit('board', true)"
      >Start the emulated board</el-button
    >
    <template v-else-if="started && !started.ok">
      <p class="differs" role="alert">
        {{
          started.lacks.length
            ? `No ready-made program has room for ${started.lacks.join('; ')}.`
            : 'Programs of 8-bit boards alone are emulated; this board has another, or none.'
        }}
      </p>
      <p class="second small">What is missing stands among the findings.</p>
    </template>
    <template v-else-if="started && news">
      <dl class="figures">
        <dt>Program</dt>
        <dd>
          {{ started.ok ? started.image.replaceAll('-', ' ') : '' }},
          {{ started.ok ? count(started.bytes) : '' }} bytes
        </dd>
        <dt>It is at</dt>
        <dd>
          {{ seconds(Math.round(news.now))
          }}<template v-if="behind > 1000"
            >, {{ seconds(Math.round(behind / 100) * 100) }} behind the bench</template
          >
        </dd>
        <dt>Speed</dt>
        <dd>
          {{
            news.speed
              ? `${news.speed.toFixed(news.speed < 10 ? 1 : 0)} times as fast as a board`
              : ''
          }}
        </dd>
        <dt>Furthest behind</dt>
        <dd>{{ Math.round(news.behindMs) }} ms, at a line</dd>
      </dl>
      <p v-if="lacks.length" class="differs small">
        The program does not do {{ lacks.map(l => l.words).join('; ') }}: there it differs.
      </p>
      <p v-if="unplayed.length" class="differs small">
        What comes over {{ unplayed.join(', ') }} is not played on it.
      </p>
      <h3>Differences from the bench</h3>
      <p v-if="!news.differences.length" class="agrees" role="status">None so far.</p>
      <ul v-else class="plain-list">
        <li v-for="(d, i) in news.differences.slice(0, SHOWN)" :key="i">
          <button type="button" class="plain" @click="show(d)">
            <span class="wire">{{ seconds(Math.round(d.t)) }}</span> {{ d.words }}
          </button>
        </li>
      </ul>
      <p v-if="news.differences.length > SHOWN" class="second small">
        and {{ news.differences.length - SHOWN }} more
      </p>
      <h3>What it said last</h3>
      <p v-if="!news.texts.length" class="second">Nothing yet.</p>
      <ol v-else class="plain-list wire">
        <li v-for="(x, i) in news.texts.slice(-12).toReversed()" :key="i">
          <span class="second">{{ seconds(Math.round(x.t)) }}</span> {{ JSON.stringify(x.text) }}
          <span v-if="linkNames.size > 1" class="second small">{{ linkNames.get(x.linkId) }}</span>
        </li>
      </ol>
      <p class="second small">
        Both may lie 0.4 s apart, more where sensors are read: a board reads its pins each
        millisecond, and waits while memory is written. What comes within that may come in another
        order. Not emulated: contact resistance, supply, the waves of what dims and steps.
      </p>
      <el-button size="small" @click="emit('board', false)">Take it away</el-button>
    </template>
    <p v-else class="second" role="status">Starting…</p>
  </div>
</template>

<style scoped>
.board {
  display: grid;
  gap: 10px;
  align-content: start;
}
.board > .el-button {
  justify-self: start;
}
.figures {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 3px 12px;
  margin: 0;
}
.figures dt {
  color: var(--second);
}
.figures dd {
  margin: 0;
}
.plain-list {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 4px;
}
.plain-list button {
  text-align: left;
}
h3 {
  margin: 6px 0 0;
  font-size: 14px;
}
</style>
