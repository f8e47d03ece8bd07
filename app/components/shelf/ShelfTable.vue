<script setup lang="ts">
/** The designs on the shelf: how each stands, what is on its boards, what can be done with it. */
import type { DesignSummary } from '../../../core/design/summary'
import type { Stand } from '../../composables/shelf'

const props = defineProps<{
  list: readonly DesignSummary[]
  stands: ReadonlyMap<string, Stand>
}>()
const emit = defineEmits<{ remove: [design: DesignSummary]; duplicate: [design: DesignSummary] }>()
/** From so many on they are searched. */
const SEARCHED_FROM = 6
const sought = ref('')
const by = ref<'changed' | 'name'>('changed')
const shown = computed(() => {
  const words = sought.value.trim().toLowerCase()
  const found = props.list.filter(d => `${d.name} ${d.place}`.toLowerCase().includes(words))
  return by.value === 'name' ? found.toSorted((a, b) => a.name.localeCompare(b.name)) : found
})
function standWords(stand: Stand): string {
  if (!stand.stops && !stand.stale && !stand.warns) return 'in step'
  return [
    stand.stops && `${stand.stops} stop`,
    stand.stale && `${stand.stale} can go stale`,
    !stand.stops && stand.warns && `${stand.warns} warn`,
  ]
    .filter(Boolean)
    .join(' · ')
}
/** What was proved last, and whether of what stands there now. */
function provedWords({ proved, revision }: DesignSummary): string {
  if (!proved) return 'nothing proved yet'
  const of = `${proved.passed} of ${proved.of} proved`
  return proved.revision === revision ? of : `${of}, at revision ${proved.revision}`
}
function onBoards({ boards, fingerprint }: DesignSummary): string {
  if (!boards.length) return 'nothing written'
  const now = boards.filter(b => b.fingerprint === fingerprint).length
  return now === boards.length ? 'as designed' : `older on ${boards.length - now}`
}
</script>

<template>
  <section class="designs">
    <div class="head">
      <h2>On the shelf</h2>
      <el-input
        v-if="list.length >= SEARCHED_FROM"
        v-model="sought"
        size="small"
        clearable
        placeholder="Find a design"
        aria-label="Find a design"
        class="find"
      />
    </div>
    <table class="ruled">
      <thead>
        <tr>
          <th scope="col" :aria-sort="by === 'name' ? 'ascending' : 'none'">
            <button type="button" class="plain sort" @click="by = 'name'">
              Design<span v-if="by === 'name'" aria-hidden="true"> ↑</span>
            </button>
          </th>
          <th scope="col">State</th>
          <th scope="col">On its boards</th>
          <th scope="col" :aria-sort="by === 'changed' ? 'descending' : 'none'">
            <button type="button" class="plain sort" @click="by = 'changed'">
              Changed<span v-if="by === 'changed'" aria-hidden="true"> ↓</span>
            </button>
          </th>
          <th scope="col"><span class="visually-hidden">Actions</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="design in shown" :key="design.id">
          <template v-if="design.unreadable === null">
            <th scope="row">
              <NuxtLink :to="`/d/${design.id}/sheet`">{{ design.name }}</NuxtLink>
              <span class="second small place">{{ design.place }}</span>
            </th>
            <td>
              <span v-if="stands.get(design.id)" class="stand"
                ><StateGlyph
                  :state="
                    stands.get(design.id)!.stops
                      ? 'broken'
                      : stands.get(design.id)!.warns
                        ? 'unsure'
                        : 'holds'
                  "
                  :label="''"
                />
                {{ standWords(stands.get(design.id)!) }}</span
              ><span v-else class="second">…</span>
              <span class="second small place">{{ provedWords(design) }}</span>
            </td>
            <td>
              <span :class="{ second: !design.boards.length }">{{ onBoards(design) }}</span>
              <code v-if="design.boards[0]" class="second">{{ design.boards[0].fingerprint }}</code>
            </td>
          </template>
          <template v-else>
            <th scope="row">{{ design.name }}</th>
            <td colspan="2" class="unreadable">
              <span class="differs">Cannot be opened: {{ design.unreadable }}.</span> It stays as it
              is. <a :href="`/api/designs/${design.id}/raw`" download>Save the document</a>
            </td>
          </template>
          <td class="second">
            {{ whenWords(design.updatedAt) }}
            <span class="small place">revision {{ design.revision }}</span>
          </td>
          <td class="number">
            <el-dropdown :persistent="false" trigger="click">
              <el-button size="small" :aria-label="`More for ${design.name}`">…</el-button>
              <template #dropdown>
                <el-dropdown-menu>
                  <template v-if="design.unreadable === null">
                    <el-dropdown-item @click="emit('duplicate', design)"
                      >Duplicate</el-dropdown-item
                    >
                    <el-dropdown-item>
                      <a :href="`/api/designs/${design.id}/raw`" download>Save as a file</a>
                    </el-dropdown-item>
                  </template>
                  <el-dropdown-item @click="emit('remove', design)">Take off</el-dropdown-item>
                </el-dropdown-menu>
              </template>
            </el-dropdown>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="!shown.length" class="second">No design is called so.</p>
  </section>
</template>

<style scoped>
.designs {
  display: grid;
  gap: 8px;
}
.head {
  display: flex;
  align-items: center;
  justify-content: space-between;
  min-height: 32px;
}
.find {
  width: 190px;
}
.sort {
  font-weight: 700;
}
thead th {
  vertical-align: middle;
}
tbody th a {
  font-size: 15px;
}
.place {
  display: block;
  font-weight: 400;
}
.stand {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.unreadable {
  font-size: 13px;
}
td code {
  display: block;
  font-size: 12.5px;
}
td.second {
  white-space: nowrap;
}
/* On a phone a design is found by its name; what else there is to it stands on its sheet. */
@media (max-width: 560px) {
  :is(th, td):is(:nth-child(3), :nth-child(4)) {
    display: none;
  }
}
</style>
