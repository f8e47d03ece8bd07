<script setup lang="ts">
/**
 * Commissioning, in the hand: one thing at a time, in large words. What is heard ticks itself; two
 * or three keys under the thumb say the rest.
 */
import { CHAPTER_WORDS } from '../../../core/live/commissioning/steps'
import { isOpposed } from '../../../core/design/outputs/traits'
import type { HeardState } from '../../../core/live/commissioning/results'
import { useDesignStore } from '../../stores/design'

const route = useRoute()
const designs = useDesignStore()
const id = computed(() => String(route.params.id))
watch(id, value => designs.open(value), { immediate: true })
const live = useLive(() => (designs.design?.id === id.value ? id.value : ''))
const run = useCommissioning(() => id.value)
onMounted(run.refresh)
useHead({ title: () => `Commissioning of ${designs.design?.name ?? ''} · Nolvi` })

const view = computed(() => live.view.value.commissioning)
const step = computed(() => view.value?.current ?? null)
const at = computed(() => {
  const of = step.value?.id ?? view.value?.last?.stepId
  return view.value ? view.value.steps.findIndex(s => s.id === of) : -1
})
const about = computed(() => (at.value >= 0 ? view.value!.steps[at.value]! : null))
const done = computed(
  () => view.value?.steps.filter(s => s.state && s.state !== 'later').length ?? 0,
)
const choosing = ref(false)
const listing = ref(false)
watch(step, () => {
  choosing.value = false
})
const loads = computed(() =>
  (designs.design?.loads ?? []).filter(l => l.id !== step.value?.watch?.loadId),
)
const canInvert = computed(() => {
  const load = designs.design?.loads.find(l => l.id === step.value?.watch?.loadId)
  return load !== undefined && !isOpposed(load.output)
})
const GLYPHS: Record<HeardState, 'in step' | 'unsure' | 'stale' | 'not examined'> = {
  held: 'in step',
  waiting: 'unsure',
  late: 'stale',
  'not heard': 'not examined',
}
const HEARD_WORDS: Record<HeardState, string> = {
  held: '',
  waiting: 'waiting',
  late: 'not heard in time',
  'not heard': 'nothing is connected that would tell it',
}
const STATES = {
  passed: 'in step',
  differs: 'stale',
  later: 'shows nothing',
  'left out': 'not examined',
} as const
const does = (wish: object) => void run.does(wish)

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.ctrlKey || event.metaKey || event.altKey || listing.value) return
  const of = (event.target as HTMLElement).tagName
  if (of === 'INPUT' || of === 'SELECT' || (of === 'BUTTON' && event.key === 'Enter')) return
  const key = keys.value[event.key.toLowerCase()]
  if (!key) return
  event.preventDefault()
  key()
})
const keys = computed((): Record<string, () => void> => {
  const v = view.value
  if (!v) return {}
  if (!v.current) return { enter: () => does({ do: 'next' }), a: () => does({ do: 'again' }) }
  return {
    l: () => does({ do: 'later' }),
    ...(v.waitsForReady ? { enter: () => does({ do: 'ready' }) } : {}),
    ...(v.question === ''
      ? {}
      : {
          y: () => does({ do: 'answer', answer: 'yes' }),
          enter: () => does({ do: 'answer', answer: 'yes' }),
          n: () => does({ do: 'answer', answer: 'no' }),
        }),
  }
})
</script>

<template>
  <main v-if="designs.design?.id === id" class="hand">
    <header>
      <NuxtLink :to="`/d/${id}/live`" class="name">{{ designs.design.name }}</NuxtLink>
      <button v-if="view" type="button" class="plain second" @click="listing = !listing">
        {{ done }} of {{ view.steps.length }}
      </button>
    </header>
    <progress
      v-if="view"
      class="bar"
      :value="done"
      :max="view.steps.length"
      :aria-label="`${done} of ${view.steps.length} steps`"
    />

    <section v-if="listing && view" class="list">
      <ol>
        <li v-for="s in view.steps" :key="s.id">
          <button
            type="button"
            class="plain"
            @click="((listing = false), does({ do: 'begin', stepId: s.id }))"
          >
            <StateGlyph
              :state="s.state ? STATES[s.state] : 'shows nothing'"
              :label="s.state ?? 'open'"
            />
            {{ s.about }} <span class="second small">{{ CHAPTER_WORDS[s.chapter] }}</span>
          </button>
        </li>
      </ol>
    </section>

    <template v-else-if="!view">
      <div class="middle">
        <h1>Go through everything once, before it is given to those who live with it.</h1>
        <p class="second">
          What links tell ticks itself, with its time. You press what has to be pressed, and look at
          what moves.
        </p>
        <p v-if="!live.view.value.connections.length" class="caution">
          Nothing is connected yet: connect its links in Live first, or everything has to be seen by
          you.
        </p>
        <p v-if="run.last.value" class="second">
          Last time, {{ whenWords(run.last.value.startedAt) }}: {{ run.last.value.passed }} of
          {{ run.last.value.of }} as designed<template v-if="run.last.value.differs"
            >, {{ run.last.value.differs }} differ</template
          ><template v-if="run.last.value.fingerprint !== designs.fingerprint"
            >; the table was another then</template
          >.
        </p>
      </div>
      <footer>
        <button
          v-if="run.last.value?.open && run.last.value.fingerprint === designs.fingerprint"
          type="button"
          class="key first"
          @click="does({ do: 'start', anew: false })"
        >
          Go on
        </button>
        <button
          type="button"
          class="key"
          :class="{ first: !run.last.value?.open }"
          @click="does({ do: 'start', anew: true })"
        >
          {{ run.last.value ? 'Begin anew' : 'Begin' }}
        </button>
      </footer>
    </template>

    <template v-else-if="step">
      <div class="middle" aria-live="polite">
        <p class="second about">{{ about?.about }}</p>
        <h1>{{ view.headline }}</h1>
        <p v-if="step.caution" class="caution">{{ step.caution }}</p>
        <ul v-if="view.heard.length" class="heard">
          <li v-for="(h, i) in view.heard" :key="i" :class="{ late: h.state === 'late' }">
            <StateGlyph :state="GLYPHS[h.state]" />
            <span
              >{{ h.words
              }}<template v-if="h.ms !== null"
                >, <b class="wire">{{ h.ms }} ms</b></template
              ><span v-if="HEARD_WORDS[h.state]" class="second small">
                {{ HEARD_WORDS[h.state] }}</span
              ></span
            >
          </li>
        </ul>
        <p v-if="view.question" class="asks">{{ view.question }}</p>
      </div>
      <footer>
        <template v-if="choosing">
          <p class="second">Which one moved?</p>
          <div class="others">
            <button
              v-for="l in loads"
              :key="l.id"
              type="button"
              class="key small"
              @click="does({ do: 'answer', answer: 'another', otherId: l.id })"
            >
              {{ l.name }}
            </button>
            <button type="button" class="key small" @click="choosing = false">None of them</button>
          </div>
        </template>
        <template v-else>
          <button
            v-if="view.waitsForReady"
            type="button"
            class="key first"
            @click="does({ do: 'ready' })"
          >
            Switch it now
          </button>
          <template v-else-if="view.question">
            <button type="button" class="key first" @click="does({ do: 'answer', answer: 'yes' })">
              Yes
            </button>
            <button type="button" class="key" @click="does({ do: 'answer', answer: 'no' })">
              No
            </button>
          </template>
          <div class="pair">
            <button
              v-if="step.watch && view.question"
              type="button"
              class="key small"
              @click="choosing = true"
            >
              Another one did
            </button>
            <button
              v-if="step.watch && view.question && canInvert"
              type="button"
              class="key small"
              @click="does({ do: 'answer', answer: 'opposite' })"
            >
              The opposite
            </button>
            <button type="button" class="key small" @click="does({ do: 'later' })">Later</button>
            <button type="button" class="key small" @click="does({ do: 'left out' })">
              Leave out
            </button>
          </div>
        </template>
        <p class="second small">Mains stays in its closed box: look, do not touch.</p>
      </footer>
    </template>

    <template v-else-if="view.last">
      <div class="middle" aria-live="polite">
        <p class="second about">{{ about?.about }}</p>
        <h1 :class="{ differs: view.last.state === 'differs' }">
          {{ view.last.state === 'differs' ? 'It differs' : 'As designed' }}
        </h1>
        <p v-if="view.last.cause" class="cause">{{ view.last.cause }}</p>
        <ul class="heard">
          <li v-for="(h, i) in view.last.heard" :key="i" :class="{ late: h.state === 'late' }">
            <StateGlyph :state="GLYPHS[h.state]" />
            <span
              >{{ h.words
              }}<template v-if="h.ms !== null"
                >, <b class="wire">{{ h.ms }} ms</b></template
              ></span
            >
          </li>
        </ul>
      </div>
      <footer>
        <template v-if="view.last.state === 'differs'">
          <button type="button" class="key first" @click="does({ do: 'again' })">
            Try it again
          </button>
          <button type="button" class="key" @click="does({ do: 'next' })">
            Go on, it stays noted
          </button>
        </template>
      </footer>
    </template>

    <template v-else>
      <div class="middle">
        <h1>Everything was gone through.</h1>
        <p>
          {{ view.steps.filter(s => s.state === 'passed').length }} of {{ view.steps.length }} steps
          as designed<template v-if="view.steps.some(s => s.state === 'differs')"
            >, {{ view.steps.filter(s => s.state === 'differs').length }} differ</template
          >. The record is in the log, with its date and table <code>{{ view.fingerprint }}</code>.
        </p>
      </div>
      <footer>
        <NuxtLink :to="`/d/${id}/log`" class="key first">To the log, to print it</NuxtLink>
        <button type="button" class="key" @click="(does({ do: 'stop' }), run.refresh())">
          Done
        </button>
      </footer>
    </template>
    <p v-if="run.trouble.value || view?.trouble" class="differs" role="alert">
      {{ run.trouble.value || view?.trouble }}
    </p>
    <p v-if="live.status.value === 'CLOSED'" class="differs" role="alert">
      Nolvi's server does not answer: what was gone through so far is kept there.
    </p>
  </main>
  <main v-else-if="designs.missing" class="hand">
    <h1>{{ designs.missing.title }}</h1>
    <NuxtLink to="/">All designs</NuxtLink>
  </main>
</template>

<style scoped>
.hand {
  max-width: 560px;
  min-height: 100dvh;
  margin: 0 auto;
  padding: 14px 18px max(14px, env(safe-area-inset-bottom));
  display: flex;
  flex-direction: column;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
  min-height: 32px;
}
.name {
  font-weight: 700;
  text-decoration: none;
}
header button {
  min-height: 32px;
  min-width: 64px;
  text-align: right;
}
.bar {
  appearance: none;
  width: 100%;
  height: 6px;
  border: 0;
  background: var(--rule);
}
.bar::-webkit-progress-bar {
  background: var(--rule);
}
.bar::-webkit-progress-value {
  background: var(--step);
}
.bar::-moz-progress-bar {
  background: var(--step);
}
.middle {
  flex: 1;
  padding-top: 14px;
}
.about {
  font-size: 15px;
}
.heard b {
  white-space: nowrap;
}
h1 {
  font-size: 27px;
  line-height: 1.22;
  font-weight: 700;
  margin: 6px 0 12px;
  text-wrap: balance;
}
.heard {
  list-style: none;
  margin: 0 0 14px;
  padding: 8px 14px;
  border-left: 4px solid var(--step);
  background: var(--raised);
  font-size: 15px;
}
.heard li {
  display: flex;
  gap: 8px;
  align-items: baseline;
  padding: 4px 0;
}
.heard .late {
  color: var(--differs);
}
.asks {
  font-size: 19px;
  font-weight: 600;
}
.caution,
.cause {
  border-left: 4px solid var(--wait);
  background: var(--raised);
  padding: 10px 14px;
  margin: 0 0 12px;
  font-size: 15px;
}
.cause {
  border-color: var(--differs);
}
footer {
  display: grid;
  gap: 10px;
  padding-top: 12px;
}
.key {
  font: inherit;
  font-size: 17px;
  font-weight: 700;
  min-height: 60px;
  border: 1px solid var(--rule-strong);
  border-radius: 4px;
  background: var(--raised);
  color: var(--ink);
  cursor: pointer;
  display: grid;
  place-items: center;
  text-decoration: none;
  padding: 4px 10px;
}
.key.first {
  background: var(--ink);
  color: var(--paper);
  border-color: var(--ink);
}
.key.small {
  font-size: 15px;
  min-height: 48px;
}
.pair,
.others {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
.list {
  flex: 1;
}
.list ol {
  list-style: none;
  margin: 8px 0;
  padding: 0;
}
.list button {
  display: flex;
  gap: 8px;
  align-items: baseline;
  width: 100%;
  min-height: 44px;
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
}
</style>
