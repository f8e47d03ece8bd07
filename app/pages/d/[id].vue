<script setup lang="ts">
import { useDark } from '@vueuse/core'
import { useDesignStore } from '../../stores/design'
import { useFindingsStore } from '../../stores/findings'
import { VIEWS } from '../../composables/views'

const route = useRoute()
const router = useRouter()
const designs = useDesignStore()
const findings = useFindingsStore()
const night = useDark()
const palette = ref(false)
const { fix } = useFixing()

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
        @undo="designs.undo()"
        @redo="designs.redo()"
      />
      <main class="room">
        <div v-if="designs.missing" class="missing">
          <h2>{{ designs.missing.title }}</h2>
          <p class="second">{{ designs.missing.problems[0]?.message }}</p>
          <NuxtLink to="/">All designs</NuxtLink>
        </div>
        <NuxtPage v-else-if="designs.design?.id === id" />
        <FindingsSheet />
      </main>
    </div>
    <CommandPalette v-model="palette" :commands="commands" />
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
}
</style>
