<script setup lang="ts">
/**
 * What is there already: a sketch or page, a code table, a log of traffic. Pasted or opened; taken
 * over on request.
 */
import { candidates, compare, proposals, takeOver, type Match } from '../../../core/read/source'
import { readCodeTable, takeTable } from '../../../core/read/code-table'
import { readLog } from '../../../core/read/log'
import type { Design, Link } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'
import { speaksRoutes } from '../../../core/design/links/traits'

const props = defineProps<{ design: Design; link: Link }>()
const emit = defineEmits<{ done: [] }>()
const designs = useDesignStore()
type Kind = 'source' | 'table' | 'log'
const KINDS: Record<Kind, string> = { source: 'sketch or page', table: 'code table', log: 'log' }
const PLACEHOLDER: Record<Kind, string> = {
  source: 'Paste a hand-written sketch, a page or a list of codes',
  table: 'Load;On;Off\nFan;F;f',
  log: '12:00:01.250 > E\n12:00:01.310 < +E',
}
const kind = ref<Kind>('source')
const text = ref('')
const wrong = ref('')
const file = useTemplateRef<HTMLInputElement>('file')
const MAX_BYTES = 1_000_000

const found = computed(() => (kind.value === 'source' && text.value ? candidates(text.value) : []))
const compared = computed(() => compare(props.design, props.link, found.value))
const pairs = computed(() => proposals(props.design, props.link, found.value))
const table = computed(() =>
  kind.value === 'table' && text.value
    ? takeTable(props.design, props.link, readCodeTable(text.value))
    : null,
)
const log = computed(() =>
  kind.value === 'log' && text.value
    ? readLog(props.design, props.link, text.value).slice(0, 500)
    : [],
)
const STATES: Record<Match['state'], 'in step' | 'unsure' | 'stale'> = {
  same: 'in step',
  different: 'unsure',
  extra: 'stale',
}

async function open(event: Event): Promise<void> {
  const [chosen] = (event.target as HTMLInputElement).files ?? []
  wrong.value = chosen && chosen.size > MAX_BYTES ? `${chosen.name} is larger than 1 MB` : ''
  if (chosen && !wrong.value) {
    text.value = await chosen.text()
    if (/\.csv$/i.test(chosen.name)) kind.value = 'table'
  }
  if (file.value) file.value.value = ''
}
function take(): void {
  const edit =
    kind.value === 'table'
      ? table.value?.edit
      : pairs.value.length
        ? takeOver(props.design, props.link, pairs.value)
        : null
  if (edit && designs.apply(edit)) emit('done')
}
</script>

<template>
  <h2>Read what is there</h2>
  <el-radio-group v-model="kind" size="small" aria-label="What it is"
    ><el-radio-button v-for="(words, k) in KINDS" :key="k" :value="k">{{
      words
    }}</el-radio-button></el-radio-group
  >
  <textarea
    v-model="text"
    class="wire"
    rows="7"
    :placeholder="PLACEHOLDER[kind]"
    spellcheck="false"
    :aria-label="KINDS[kind]"
  />
  <div class="row">
    <el-button size="small" @click="file?.click()">Open a file</el-button>
    <input
      ref="file"
      type="file"
      class="visually-hidden"
      aria-label="File to read"
      tabindex="-1"
      @change="open"
    />
    <el-button size="small" @click="emit('done')">Close</el-button>
  </div>
  <p v-if="wrong" class="differs small" role="alert">{{ wrong }}</p>

  <template v-if="kind === 'source' && text">
    <p v-if="!compared.matches.length" class="second">
      Nothing in it looks like a {{ speaksRoutes(link) ? 'route' : 'code' }} of this link.
    </p>
    <table v-else class="ruled found">
      <thead>
        <tr>
          <th>{{ speaksRoutes(link) ? 'Route' : 'Code' }}</th>
          <th>In the table</th>
          <th class="number">Line</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="m in compared.matches"
          :key="`${m.candidate.line} ${m.candidate.code}`"
          :title="m.candidate.text"
        >
          <th scope="row" class="wire">{{ m.candidate.code }}</th>
          <td>
            <StateGlyph :state="STATES[m.state]" />
            {{
              m.state === 'same'
                ? m.means
                : m.state === 'different'
                  ? `nearly: ${m.means}`
                  : 'not there'
            }}
          </td>
          <td class="number">{{ m.candidate.line }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="compared.matches.length && compared.missing.length" class="small">
      Missing in it:
      <template v-for="(m, i) in compared.missing" :key="m.code"
        ><code>{{ m.code }}</code> {{ m.means
        }}{{ i < compared.missing.length - 1 ? ', ' : '' }}</template
      >.
    </p>
    <el-button v-if="pairs.length" size="small" type="primary" @click="take"
      >Take over {{ pairs.map(p => p.name).join(', ') }}</el-button
    >
  </template>
  <template v-if="table">
    <ul v-if="table.problems.length" class="differs small" role="alert">
      <li v-for="p in table.problems.slice(0, 8)" :key="`${p.line} ${p.message}`">
        Line {{ p.line }}: {{ p.message }}
      </li>
    </ul>
    <p>
      {{ table.changed }} codes change{{
        table.added.length ? `; new loads: ${table.added.join(', ')}` : ''
      }}.
    </p>
    <el-button v-if="table.edit" size="small" type="primary" @click="take"
      >Take them over</el-button
    >
  </template>
  <table v-if="log.length" class="ruled found">
    <thead>
      <tr>
        <th class="number">ms</th>
        <th>Text</th>
        <th>Means</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="l in log" :key="l.line">
        <td class="number">{{ l.atMs ?? '' }}</td>
        <th scope="row" class="wire">
          {{ l.direction === 'to the board' ? '→ ' : l.direction ? '← ' : '' }}{{ l.text }}
        </th>
        <td :class="{ differs: l.means[0] === 'not in the table' }">
          {{ l.means.join(', ')
          }}<span v-if="l.afterMs !== null" class="second small"> after {{ l.afterMs }} ms</span>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
textarea {
  width: 100%;
  margin: 8px 0;
  font-size: 12.5px;
  border: 1px solid var(--rule-strong);
  background: var(--paper);
  color: inherit;
  padding: 6px;
}
.row {
  display: flex;
  gap: 6px;
  margin-bottom: 8px;
}
.row :deep(.el-button) {
  margin: 0;
}
.found {
  margin: 8px 0;
}
.found th,
.found td {
  padding: 4px 6px 4px 0 !important;
  overflow-wrap: anywhere;
}
ul {
  padding-left: 18px;
}
p {
  margin: 6px 0;
}
</style>
