<script setup lang="ts">
/** The board against the design: how far the trials are, and what differed. */
import type { Design } from '../../../core/design/schema'
import { plural, upperFirst } from '../../../core/units/format'
import type { LiveState } from '../../composables/live'

const props = defineProps<{ design: Design; live: LiveState }>()
const trials = computed(() => props.live.view.value.trials)
const isUp = computed(() => props.live.view.value.connections.some(c => c.up))
const dangers = computed(() => props.design.loads.filter(l => l.wiring.dangers.length))
const trouble = ref('')
const all = computed(() => (trials.value ? trials.value.messages.of + trials.value.drills.of : 0))

async function does(what: 'start' | 'stop'): Promise<void> {
  const answer = await ask(`${props.live.base()}/trials`, { method: 'POST', body: { do: what } })
  trouble.value = answer.ok ? '' : refusalWords(answer.refusal)
}
</script>

<template>
  <section>
    <h2>Board against the design</h2>
    <template v-if="trials">
      <p v-if="!trials.isOver" role="status">
        {{ trials.done }} of {{ all }}: <span class="second">{{ trials.current }}</span>
      </p>
      <p v-else>
        <StateGlyph :state="trials.failed.length ? 'broken' : 'holds'" />
        {{ trials.messages.passed }} of {{ plural(trials.messages.of, 'message') }},
        {{ trials.drills.passed }} of {{ plural(trials.drills.of, 'drill') }} as the design has
        them<template v-if="trials.again.length"
          >, {{ trials.again.length }} not the first time</template
        >.
      </p>
      <details v-for="f in trials.failed" :key="f.trialId">
        <summary class="differs">{{ upperFirst(f.words) }}</summary>
        <p class="small">{{ upperFirst(f.found) }}.</p>
      </details>
      <details v-for="a in trials.again" :key="a.trialId">
        <summary>{{ upperFirst(a.words) }}, tried again</summary>
        <p class="small">
          The first time {{ a.before }}. This computer may have been busy; if it comes again, look
          at the line.
        </p>
      </details>
    </template>
    <p v-else class="second small">
      Says all that the table can say over what is connected, and compares each answer with the
      controller of the design; drills that need no hands are played.
    </p>
    <p v-if="trouble" class="differs small" role="alert">{{ trouble }}</p>
    <p>
      <el-button v-if="trials && !trials.isOver" size="small" @click="does('stop')">Stop</el-button>
      <el-popconfirm
        v-else
        :title="`It switches every load, several times${dangers.length ? `. Stand clear of ${dangers.map(l => l.name).join(', ')}` : ''}.`"
        confirm-button-text="Try it"
        cancel-button-text="Leave it"
        width="280"
        hide-icon
        @confirm="does('start')"
        ><template #reference
          ><el-button size="small" :disabled="!isUp">{{
            trials ? 'Try it again' : 'Try it'
          }}</el-button></template
        ></el-popconfirm
      >
    </p>
  </section>
</template>

<style scoped>
p {
  margin: 4px 0;
}
summary {
  cursor: pointer;
  min-height: 24px;
}
</style>
