<script setup lang="ts">
import { useDark, useLocalStorage } from '@vueuse/core'
import { useDesignStore } from '../../stores/design'
import { useFindingsStore } from '../../stores/findings'
import { VIEWS } from '../../composables/views'

const route = useRoute()
const router = useRouter()
const designs = useDesignStore()
const findings = useFindingsStore()
const night = useDark()
const palette = ref(false)
const keySheet = ref(false)
const wordSheet = ref(false)
const viewId = computed(() => route.path.split('/')[3] ?? '')
/** Views whose purpose was read. */
const known = useLocalStorage<string[]>('nolvi known views', [])
const purpose = computed(() =>
  known.value.includes(viewId.value) ? '' : VIEWS.find(v => v.id === viewId.value)?.purpose,
)
const { fix } = useFixing()
const walk = useWalk()

const id = computed(() => String(route.params.id))
watch(id, value => designs.open(value), { immediate: true })
onBeforeUnmount(() => designs.flush())
useEventListener(window, 'pagehide', () => {
  void designs.flush()
})

const go = (view: string) => {
  void router.push(`/d/${id.value}/${view}`)
}
const commands = computed(() => [
  ...VIEWS.map(v => ({ words: `Go to ${v.name}`, hint: v.key.toUpperCase(), run: () => go(v.id) })),
  { words: 'Undo', hint: 'Ctrl Z', run: designs.undo },
  { words: 'Redo', hint: 'Ctrl Y', run: designs.redo },
  {
    words: 'Keys of this view',
    hint: '?',
    run: () => {
      keySheet.value = true
    },
  },
  {
    words: 'Words, and what they mean',
    hint: 'glossary',
    run: () => {
      wordSheet.value = true
    },
  },
  {
    words: 'Show findings',
    hint: 'I',
    run: () => {
      findings.open = true
    },
  },
  {
    words: 'All designs',
    hint: 'shelf',
    run: () => {
      void router.push('/')
    },
  },
  {
    words: night.value ? 'Day' : 'Night',
    hint: 'look',
    run: () => {
      night.value = !night.value
    },
  },
  ...findings.told.flatMap(f =>
    f.fixes.slice(0, 1).map(x => ({ words: x.words, hint: f.title, run: () => fix(x) })),
  ),
])
function togglePalette(): void {
  palette.value = !palette.value
}
function toggleFindings(): void {
  findings.open = !findings.open
}
useShortcuts({
  go,
  undo: designs.undo,
  redo: designs.redo,
  palette: togglePalette,
  findings: toggleFindings,
  keys: () => (keySheet.value = !keySheet.value),
})
useHead({ title: () => (designs.design ? `${designs.design.name} · Nolvi` : 'Nolvi') })
</script>

<template>
  <div class="frame">
    <HeaderLine @palette="palette = true" />
    <div class="below">
      <RailNav
        :design-id="id"
        :night="night"
        :can-undo="designs.canUndo"
        :can-redo="designs.canRedo"
        @night="night = !night"
        @keys="keySheet = true"
        @undo="designs.undo()"
        @redo="designs.redo()"
      />
      <main class="room">
        <div v-if="designs.missing" class="missing">
          <h2>{{ designs.missing.title }}</h2>
          <p class="second">{{ designs.missing.problems[0]?.message }}</p>
          <NuxtLink to="/">All designs</NuxtLink>
        </div>
        <template v-else-if="designs.design?.id === id">
          <p v-if="purpose" class="purpose">
            <ExplainedText :text="purpose" />
            <button type="button" class="plain second" @click="known = [...known, viewId]">
              Got it
            </button>
          </p>
          <NuxtPage class="page" />
        </template>
        <FindingsSheet />
      </main>
    </div>
    <LazyWalkLine
      v-if="walk.designId === id && designs.design?.id === id"
      :view="viewId"
      @go="go"
    />
    <CommandPalette v-model="palette" :commands="commands" />
    <KeySheet v-model="keySheet" :view-id="viewId" />
    <LazyWordSheet v-if="wordSheet" v-model="wordSheet" />
    <p class="visually-hidden" aria-live="polite">{{ designs.lastWords }}</p>
  </div>
</template>

<style scoped>
.frame {
  height: 100%;
  display: flex;
  flex-direction: column;
}
.below {
  flex: 1;
  display: flex;
  min-height: 0;
}
.room {
  flex: 1;
  min-width: 0;
  position: relative;
  overflow: auto;
  display: flex;
  flex-direction: column;
}
.page {
  flex: 1 0 0;
  min-height: 0;
}
.purpose {
  flex: none;
  display: flex;
  gap: 14px;
  justify-content: space-between;
  align-items: center;
  padding: 3px 20px;
  border-bottom: 1px solid var(--rule);
  background: var(--raised);
  color: var(--second);
}
.purpose button {
  text-decoration: underline;
  text-underline-offset: 3px;
  white-space: nowrap;
}
.missing {
  padding: 40px;
  display: grid;
  gap: 10px;
  justify-items: start;
}
@media (max-width: 900px) {
  .below {
    flex-direction: column;
  }
  /* One below the other, as long as they are. */
  .page {
    flex: none;
  }
}
</style>
