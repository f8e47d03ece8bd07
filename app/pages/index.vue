<script setup lang="ts">
/** The shelf of designs: open one, name a new one, or read one from a file. */
import { blankDesign } from '../../core/design/blank'
import { freshId } from '../../core/design/ids'
import { parseDesignText, type Problem } from '../../core/design/validate'

interface Summary {
  id: string
  name: string
  place: string
  revision: number
  updatedAt: string
  loads: number
  fingerprint: string
  unreadable: string | null
}

const router = useRouter()
const list = ref<Summary[] | null>(null)
const name = ref('')
const refused = ref<{ title: string; problems: Problem[] } | null>(null)
const deleted = ref<Summary | null>(null)
const file = useTemplateRef<HTMLInputElement>('file')
useHead({ title: 'Nolvi' })

async function load(): Promise<void> {
  const answer = await ask<Summary[]>('/api/designs')
  if (answer.ok) list.value = answer.value
  else refused.value = answer.refusal
}
async function create(document: unknown): Promise<void> {
  const answer = await ask<{ design: { id: string } }>('/api/designs', {
    method: 'POST',
    body: document,
  })
  if (answer.ok) await router.push(`/d/${answer.value.design.id}/sheet`)
  else refused.value = answer.refusal
}
async function start(): Promise<void> {
  const wanted = name.value.trim()
  if (wanted) await create(blankDesign(freshId(wanted, 'design', list.value ?? []), wanted))
}
async function read(event: Event): Promise<void> {
  const [chosen] = (event.target as HTMLInputElement).files ?? []
  if (!chosen) return
  refused.value = null
  const parsed = parseDesignText(
    chosen.size > 1_500_000 ? ' '.repeat(1_500_001) : await chosen.text(),
  )
  if (parsed.ok) await create(parsed.design)
  else refused.value = { title: `${chosen.name} was not taken`, problems: parsed.problems }
  if (file.value) file.value.value = ''
}
async function remove(design: Summary): Promise<void> {
  const answer = await ask(`/api/designs/${design.id}`, { method: 'DELETE' })
  if (answer.ok) deleted.value = design
  await load()
}
async function restore(): Promise<void> {
  if (deleted.value) await ask(`/api/designs/${deleted.value.id}/restore`, { method: 'POST' })
  deleted.value = null
  await load()
}
onMounted(load)
</script>

<template>
  <main class="shelf">
    <h1 class="mark">nolv<i>i</i></h1>
    <p class="lead">
      Relay controllers that answer to wall, phone and browser, without any cloud. One design; every
      side is made from it, and every surface shows the truth, or you are told the shortest story in
      which it does not.
    </p>

    <form class="start" @submit.prevent="start">
      <el-input
        v-model="name"
        size="large"
        placeholder="Name a new design"
        aria-label="Name of the new design"
        maxlength="40"
      />
      <el-button size="large" type="primary" native-type="submit" :disabled="!name.trim()"
        >Start it</el-button
      >
      <el-button size="large" @click="file?.click()">Read one from a file</el-button>
      <input
        ref="file"
        type="file"
        accept=".json,application/json"
        class="visually-hidden"
        aria-label="Design file"
        tabindex="-1"
        @change="read"
      />
    </form>

    <div v-if="refused" class="refused" role="alert">
      <strong>{{ refused.title }}. Nothing was stored.</strong>
      <ul>
        <li v-for="(p, i) in refused.problems.slice(0, 8)" :key="i">
          <code>{{ p.path || 'whole document' }}</code> {{ p.message }}
        </li>
      </ul>
    </div>
    <div v-if="deleted" class="refused" role="status">
      {{ deleted.name }} is off the shelf; it is kept for 30 days.
      <el-button size="small" @click="restore">Put it back</el-button>
    </div>

    <table v-if="list?.length" class="ruled">
      <thead>
        <tr>
          <th>Design</th>
          <th>Place</th>
          <th class="number">Loads</th>
          <th>Table</th>
          <th>Changed</th>
          <th><span class="visually-hidden">Actions</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="design in list" :key="design.id">
          <template v-if="design.unreadable === null">
            <th scope="row">
              <NuxtLink :to="`/d/${design.id}/sheet`">{{ design.name }}</NuxtLink>
            </th>
            <td>{{ design.place }}</td>
            <td class="number">{{ design.loads }}</td>
            <td>
              <code>{{ design.fingerprint }}</code>
            </td>
          </template>
          <template v-else>
            <th scope="row">{{ design.name }}</th>
            <td colspan="3" class="unreadable">
              <span class="differs">Cannot be opened: {{ design.unreadable }}.</span> It stays as it
              is. <a :href="`/api/designs/${design.id}/raw`" download>Save the document</a>
            </td>
          </template>
          <td class="second">
            revision {{ design.revision }},
            {{ whenWords(design.updatedAt) }}
          </td>
          <td class="number">
            <el-button
              size="small"
              :aria-label="`Take ${design.name} off the shelf`"
              @click="remove(design)"
              >Take off</el-button
            >
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="list" class="second">
      The shelf is empty. Name the first design above, or start with the demo:
      <code>npm run demo</code>
    </p>
    <ShelfKeeping v-if="list" @restored="load()" />
  </main>
</template>

<style scoped>
.shelf {
  max-width: 880px;
  margin: 0 auto;
  padding: 48px 24px;
  display: grid;
  gap: 22px;
}
.mark {
  font-size: 34px;
  font-weight: 750;
  letter-spacing: -0.02em;
}
.mark i {
  color: var(--differs);
  font-style: normal;
}
.lead {
  font-size: 16px;
  max-width: 62ch;
  color: var(--second);
}
.start {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
}
.start .el-input {
  flex: 1;
  min-width: 220px;
}
.start :deep(.el-button) {
  margin: 0;
}
.refused {
  border-left: 4px solid var(--differs);
  background: var(--raised);
  padding: 10px 14px;
}
.refused ul {
  margin: 6px 0 0;
  padding-left: 18px;
}
tbody th a {
  font-size: 15px;
}
.unreadable {
  font-size: 13px;
}
/* A long reason takes its room from nobody else. */
@media (min-width: 561px) {
  .ruled tbody th {
    min-width: 128px;
  }
  .ruled tbody td.second {
    white-space: nowrap;
  }
}
/* On a phone a design is found by its name; what else there is to it stands on its sheet. */
@media (max-width: 560px) {
  .shelf {
    padding: 28px 16px;
  }
  .ruled :is(th, td):is(:nth-child(2), :nth-child(4)):not(.unreadable) {
    display: none;
  }
}
</style>
