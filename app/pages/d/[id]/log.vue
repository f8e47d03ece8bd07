<script setup lang="ts">
/** What was changed and what was tried, the newest first; a story that was kept plays again. */
import type { KeptRecord } from '../../../../core/bench/record'
import { count } from '../../../../core/units/format'
import { useDesignStore } from '../../../stores/design'

type Kind = 'change' | 'drills' | 'proof' | 'boards' | 'note'
interface Revision {
  number: number
  words: string
  createdAt: string
}
type Entry = { key: string; at: string; revision: number; words: string } & (
  { kind: 'change'; record: null } | { kind: Exclude<Kind, 'change'>; record: KeptRecord }
)
const KINDS = [
  { id: 'all', name: 'All' },
  { id: 'change', name: 'Changes' },
  { id: 'proof', name: 'Proofs' },
  { id: 'drills', name: 'Drills' },
  { id: 'boards', name: 'Boards' },
  { id: 'note', name: 'Notes' },
] as const
/** What a record is listed under; drills are those of before that say nothing. */
const LISTED_AS: Record<string, Exclude<Kind, 'change'>> = {
  proof: 'proof',
  upload: 'boards',
  measured: 'boards',
  commissioning: 'boards',
  tried: 'boards',
  note: 'note',
}
function sumWords({ kind: of, passed, of: all }: KeptRecord): string {
  switch (of) {
    case 'upload':
      return 'written, read back'
    case 'measured':
      return `${count(all)} asked`
    case 'commissioning':
    case 'tried':
      return `${passed} of ${all}`
    case 'note':
      return ''
    default:
      return `${passed} of ${all} hold`
  }
}
const EMPTY: Partial<Record<string, string>> = {
  proof: 'Nothing proved yet: Proof keeps what it finds here.',
  drills: 'No drills run yet: those of the bench are kept here.',
  boards: 'Nothing written, commissioned or measured yet: Build and Live keep it here.',
  note: 'No notes yet: what was bought, where it sits, what it looked like.',
}
const noting = ref(false)
const AT_ONCE = 200
/** What the server lists at most, of each. */
const LISTED = 1000

const designs = useDesignStore()
const revisions = shallowRef<Revision[]>([])
const records = shallowRef<KeptRecord[]>([])
const trouble = ref('')
const loaded = ref(false)
const kind = ref<(typeof KINDS)[number]['id']>('all')
const shown = ref(AT_ONCE)
const chosen = ref('')
const list = useTemplateRef<HTMLElement>('list')

/** What waits to be saved is saved first, so that it is in the list. */
async function load(): Promise<void> {
  const id = designs.design?.id
  if (!id) return
  await designs.flush()
  const [changes, tried] = await Promise.all([
    ask<Revision[]>(`/api/designs/${id}/revisions`),
    ask<KeptRecord[]>(`/api/designs/${id}/records`),
  ])
  trouble.value = !changes.ok
    ? refusalWords(changes.refusal)
    : !tried.ok
      ? refusalWords(tried.refusal)
      : ''
  if (changes.ok) revisions.value = changes.value
  if (tried.ok) records.value = tried.value
  loaded.value = true
}
watch(() => [designs.design?.id, designs.revision], load, { immediate: true })

/** Of the same moment, the change comes before what was tried with it. */
const entries = computed((): Entry[] =>
  [
    ...records.value.map((r): Entry => ({
      key: `r${r.id}`,
      at: r.createdAt,
      revision: r.revision,
      words: r.title,
      kind: LISTED_AS[r.kind] ?? 'drills',
      record: r,
    })),
    ...revisions.value.map((r): Entry => ({
      key: `c${r.number}`,
      at: r.createdAt,
      revision: r.number,
      words: r.words,
      kind: 'change',
      record: null,
    })),
  ].sort((a, b) => (a.at < b.at ? 1 : a.at > b.at ? -1 : b.revision - a.revision)),
)
const wanted = computed(() =>
  entries.value.filter(e => kind.value === 'all' || e.kind === kind.value),
)
const rows = computed(() =>
  wanted.value.slice(0, shown.value).map((e, i, all) => ({
    ...e,
    day: i === 0 || dayWords(all[i - 1]!.at) !== dayWords(e.at) ? dayWords(e.at) : '',
  })),
)
const entry = computed(
  () => wanted.value.find(e => e.key === chosen.value) ?? wanted.value[0] ?? null,
)
function move(event: KeyboardEvent, by: number): void {
  event.preventDefault()
  const buttons = [...(list.value?.querySelectorAll<HTMLElement>('button.entry') ?? [])]
  buttons[buttons.indexOf(event.currentTarget as HTMLElement) + by]?.focus()
}
watch(kind, () => {
  shown.value = AT_ONCE
})
</script>

<template>
  <div v-if="designs.design" class="view">
    <div class="work">
      <div class="strip">
        <el-radio-group v-model="kind" aria-label="What is listed"
          ><el-radio-button v-for="k in KINDS" :key="k.id" :value="k.id">{{
            k.name
          }}</el-radio-button></el-radio-group
        >
        <span class="second"
          >{{ count(wanted.length) }} {{ wanted.length === 1 ? 'entry' : 'entries' }}</span
        >
        <span class="push keys">
          <el-button @click="noting = !noting">Write a note</el-button>
          <a
            :href="`/api/designs/${designs.design.id}/as-built`"
            target="_blank"
            rel="noopener"
            class="built"
            >As built, to print</a
          >
        </span>
        <span v-if="Math.max(revisions.length, records.length) >= LISTED" class="second small"
          >The newest {{ count(LISTED) }} changes and as many records are listed.</span
        >
      </div>
      <NoteForm
        v-if="noting"
        :design-id="designs.design.id"
        :revision="designs.revision"
        @kept="((noting = false), load())"
        @away="noting = false"
      />
      <div ref="list" class="body">
        <p v-if="trouble" class="differs" role="alert">
          {{ trouble }} <el-button size="small" @click="load()">Read again</el-button>
        </p>
        <p v-else-if="loaded && !wanted.length" class="second">
          {{ EMPTY[kind] ?? 'Nothing yet.' }}
        </p>
        <table v-else class="ruled">
          <tbody>
            <template v-for="r in rows" :key="r.key">
              <tr v-if="r.day">
                <th colspan="4" scope="rowgroup" class="day">{{ r.day }}</th>
              </tr>
              <tr :class="{ chosen: r.key === entry?.key }">
                <td class="number second at">{{ timeWords(r.at) }}</td>
                <td class="what">
                  <button
                    type="button"
                    class="plain entry"
                    @click="chosen = r.key"
                    @focus="chosen = r.key"
                    @keydown.down="move($event, 1)"
                    @keydown.up="move($event, -1)"
                  >
                    {{ r.words }}
                  </button>
                </td>
                <td class="kind">
                  <template v-if="r.record"
                    ><StateGlyph :state="r.record.passed === r.record.of ? 'holds' : 'broken'" />
                    {{ ' ' }}
                    <span :class="{ differs: r.record.passed < r.record.of }">{{
                      sumWords(r.record)
                    }}</span></template
                  >
                </td>
                <td class="number second">revision {{ r.revision }}</td>
              </tr>
            </template>
          </tbody>
        </table>
        <el-button v-if="wanted.length > shown" class="older" @click="shown += AT_ONCE"
          >Show {{ Math.min(AT_ONCE, wanted.length - shown) }} older</el-button
        >
      </div>
    </div>
    <aside class="ticket" aria-label="Entry">
      <LogRecord
        v-if="entry?.record"
        :key="entry.key"
        :design="designs.design"
        :record="entry.record"
      />
      <LogChange
        v-else-if="entry"
        :key="entry.key"
        :design="designs.design"
        :number="entry.revision"
        :words="entry.words"
        :at="entry.at"
        :current="entry.revision === designs.revision"
      />
    </aside>
  </div>
</template>

<style scoped>
.view {
  --ticket: 348px;
}
.body {
  padding: 8px 20px 20px;
  overflow: auto;
}
table {
  width: 100%;
}
.day {
  padding-top: 16px;
  font-weight: 700;
  text-align: left;
}
td.at {
  width: 78px;
  padding-left: 10px;
  white-space: nowrap;
}
td.what {
  padding: 0;
  width: 100%;
}
.entry {
  width: 100%;
  min-height: 34px;
  text-align: left;
  padding: 4px 8px;
}
.entry::first-letter {
  text-transform: uppercase;
}
.kind {
  white-space: nowrap;
}
.kind :deep(svg) {
  vertical-align: -2px;
  margin-right: 4px;
}
td.number {
  white-space: nowrap;
}
tr.chosen > * {
  background: var(--raised);
}
tr.chosen > :first-child {
  box-shadow: inset 3px 0 var(--ink);
}
.keys {
  display: inline-flex;
  gap: 14px;
  align-items: center;
}
.built {
  min-height: 24px;
}
.older {
  margin-top: 12px;
}
</style>
