<script setup lang="ts">
/**
 * The shelf: begin with what lies on the bench, with a kit or with a file; or open what is there.
 */
import { useLocalStorage, watchDebounced } from '@vueuse/core'
import { blankDesign } from '../../core/design/blank'
import { freshId } from '../../core/design/ids'
import type { Design } from '../../core/design/schema'
import type { DesignSummary } from '../../core/design/summary'
import type { Begun } from '../../core/start/begin'
import { firstDrawer, isDrawer, type Drawer } from '../../core/start/drawer'
import { KIT_NAMES } from '../../core/start/kit-names'
import type { Judgement, Sketch } from '../../core/start/outlook'

const MOST_BYTES = 1_500_000
const router = useRouter()
const { list, stands, refused, load } = useShelf()
const drawer = useLocalStorage<Drawer>('nolvi drawer', firstDrawer())
const begun = shallowRef<(Begun & { sketch: Sketch }) | null>(null)
const judgement = shallowRef<Judgement | null>(null)
const busy = ref(false)
const dropping = ref(false)
const deleted = ref<DesignSummary | null>(null)
const walk = useWalk()
const file = useTemplateRef<HTMLInputElement>('file')
useHead({ title: 'Nolvi' })

// What was left here by an older Nolvi may name what is no more.
if (!isDrawer(drawer.value)) drawer.value = firstDrawer()

/** As it goes to a worker. */
const plain = (of: Drawer) => JSON.parse(JSON.stringify(of)) as Drawer

/** The newest preview counts; one proof runs at a time, and none for a name alone. */
let nth = 0
let shown = ''
let proved = ''
let judging = false
async function preview(): Promise<void> {
  const mine = ++nth
  const wanted = plain(drawer.value)
  const made = await coreWorker('check').begin('draft', wanted)
  if (mine !== nth) return
  begun.value = made
  shown = JSON.stringify({ ...wanted, name: '' })
  if (!judging) await judge()
}
async function judge(): Promise<void> {
  judging = true
  try {
    while (begun.value && proved !== shown) {
      const of = shown
      judgement.value = null
      const judged = await coreWorker('proof').judge(toRaw(begun.value.design))
      proved = of
      if (of === shown) judgement.value = judged
    }
  } finally {
    judging = false
  }
}
watchDebounced(drawer, preview, { debounce: 150, deep: true })

const idFor = (name: string) => freshId(name, 'design', list.value ?? [])
async function create(document: unknown): Promise<void> {
  busy.value = true
  refused.value = null
  const answer = await ask<{ design: { id: string } }>('/api/designs', {
    method: 'POST',
    body: document,
  })
  busy.value = false
  if (answer.ok) await router.push(`/d/${answer.value.design.id}/sheet`)
  else refused.value = answer.refusal
}
async function start(): Promise<void> {
  const name = drawer.value.name.trim() || 'New design'
  const made = await coreWorker('check').begin(idFor(name), plain({ ...drawer.value, name }))
  await create(made.design)
  // The name is used up; a design that was refused keeps it.
  if (!refused.value) drawer.value = { ...drawer.value, name: '' }
}
async function startKit(id: string): Promise<void> {
  const typed = drawer.value.name.trim()
  if (id === 'empty') {
    const name = typed || 'New design'
    return create(blankDesign(idFor(name), name))
  }
  const { design } = await coreWorker('check').kit(idFor(typed || id), id)
  await create(typed ? { ...design, name: typed } : design)
}
/** A copy of its own: whoever walks may try everything. */
async function walkThrough(): Promise<void> {
  const { default: glazeRoom } = await import('../../demo/glaze-room.json')
  const name = 'Walk through the glaze room'
  const id = idFor(name)
  const before = walk.value
  walk.value = { designId: id, done: 0 }
  await create({ ...glazeRoom, id, name })
  if (refused.value) walk.value = before
}
async function take(chosen: File | undefined): Promise<void> {
  dropping.value = false
  if (!chosen) return
  refused.value = null
  const { parseDesignText } = await import('../../core/design/validate')
  const text = chosen.size > MOST_BYTES ? ' '.repeat(MOST_BYTES + 1) : await chosen.text()
  const parsed = parseDesignText(text)
  if (parsed.ok) await create(parsed.design)
  else
    refused.value = {
      status: 400,
      title: `${chosen.name} was not taken`,
      problems: parsed.problems,
    }
}
async function read(event: Event): Promise<void> {
  const { files } = event.target as HTMLInputElement
  await take(files?.[0])
  if (file.value) file.value.value = ''
}
async function duplicate({ id, name }: DesignSummary): Promise<void> {
  const answer = await ask<{ design: Design }>(`/api/designs/${id}`)
  if (!answer.ok) {
    refused.value = answer.refusal
    return
  }
  const copy = `${name} copy`.slice(0, 40)
  await create({ ...answer.value.design, id: idFor(copy), name: copy })
}
async function remove(design: DesignSummary): Promise<void> {
  const answer = await ask(`/api/designs/${design.id}`, { method: 'DELETE' })
  if (answer.ok) deleted.value = design
  await load()
}
async function restore(): Promise<void> {
  if (deleted.value) await ask(`/api/designs/${deleted.value.id}/restore`, { method: 'POST' })
  deleted.value = null
  await load()
}
onMounted(async () => {
  await load()
  await preview()
})
</script>

<template>
  <main
    class="shelf"
    :class="{ dropping }"
    @dragover.prevent="dropping = true"
    @dragleave.self="dropping = false"
    @drop.prevent="take($event.dataTransfer?.files[0])"
  >
    <div class="left">
      <h1 class="mark">nolv<i>i</i></h1>
      <StartSentence v-model="drawer" :sketch="begun?.sketch ?? null" />
      <form class="start" @submit.prevent="start">
        <el-input
          v-model="drawer.name"
          size="large"
          placeholder="Name it"
          aria-label="Name of the new design"
          maxlength="40"
          class="name"
        />
        <el-button size="large" type="primary" native-type="submit" :loading="busy"
          >Begin with this</el-button
        >
        <el-dropdown :persistent="false" trigger="click" @command="startKit">
          <el-button size="large">Start from a kit</el-button>
          <template #dropdown>
            <el-dropdown-menu>
              <el-dropdown-item v-for="k in KIT_NAMES" :key="k.id" :command="k.id"
                ><span
                  ><strong>{{ k.name }}</strong
                  ><span class="second small kit">{{ k.words }}</span></span
                ></el-dropdown-item
              >
            </el-dropdown-menu>
          </template>
        </el-dropdown>
        <el-button size="large" @click="file?.click()">Read a file</el-button>
        <input
          ref="file"
          type="file"
          accept=".json,application/json"
          class="visually-hidden"
          aria-label="Design file"
          tabindex="-1"
          @change="read"
        />
        <span class="second small drop">Drop a design anywhere on this page.</span>
      </form>
      <p v-if="list" class="first second">
        New here?
        <button type="button" class="plain" :disabled="busy" @click="walkThrough">
          Walk through it in ten steps</button
        >: a fault is found, seen, repaired, proved, and gone from a running board.
      </p>

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

      <ShelfTable
        v-if="list?.length"
        :list="list"
        :stands="stands"
        @remove="remove"
        @duplicate="duplicate"
      />
      <p v-else-if="list" class="second">
        The shelf is empty. Begin with the sentence above, or start with the demo:
        <code>npm run demo</code>
      </p>
      <ShelfKeeping v-if="list" @restored="load()" />
    </div>
    <div class="right">
      <LazyStartPreview
        v-if="begun"
        :design="begun.design"
        :sketch="begun.sketch"
        :judgement="judgement"
        :unmet="begun.unmet"
      />
    </div>
  </main>
</template>

<style scoped>
.shelf {
  display: grid;
  grid-template-columns: minmax(0, 6fr) minmax(0, 5fr);
  gap: 56px;
  max-width: 1440px;
  margin: 0 auto;
  padding: 40px 56px 48px;
  min-height: 100%;
}
.shelf.dropping {
  outline: 3px dashed var(--cursor);
  outline-offset: -8px;
}
.left {
  display: grid;
  gap: 20px;
  align-content: start;
}
.right {
  position: sticky;
  top: 40px;
  align-self: start;
}
.mark {
  font-size: 30px;
  font-weight: 750;
  letter-spacing: -0.02em;
}
.mark i {
  color: var(--differs);
  font-style: normal;
}
.start {
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
  align-items: center;
}
.start .name {
  width: 170px;
}
.start :deep(.el-button) {
  margin: 0;
}
.first {
  margin: 0;
}
.first button {
  text-decoration: underline;
  text-underline-offset: 3px;
}
.kit {
  display: block;
  max-width: 330px;
  white-space: normal;
  line-height: 1.35;
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
@media (max-width: 1020px) {
  .shelf {
    grid-template-columns: minmax(0, 1fr);
    gap: 32px;
    padding: 32px 32px 48px;
  }
  .right {
    position: static;
    grid-row: 2;
  }
}
@media (max-width: 560px) {
  .shelf {
    padding: 24px 16px 40px;
  }
  .drop {
    display: none;
  }
  .start .name {
    flex: 1 0 100%;
  }
}
</style>
