<script setup lang="ts">
/**
 * A story step by step: what happens, how the load is then, and what the surface shows; hatched
 * where the two differ.
 */
import { differs } from '../../../core/bench/trace'
import { loadOf, surfaceOf } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import { valueWords } from '../../../core/design/values'
import type { Story } from '../../../core/proof/story/story'
import { shownWords } from '../../../core/proof/story/words'

const props = defineProps<{ design: Design; story: Story; loadId: string }>()
const load = computed(() => loadOf(props.design, props.loadId))
const surface = computed(() =>
  props.story.surfaceId !== null && props.design.surfaces.some(s => s.id === props.story.surfaceId)
    ? surfaceOf(props.design, props.story.surfaceId)
    : null,
)
const followed = computed(() => props.story.steps.some(s => s.is !== null))
const shows = computed(() => props.story.steps.some(s => s.shows !== null))
const nobody = 'no power'
/** "on at 5 s" is told by the table beside it. */
const bare = (words: string) => words.replace(/: [^:]* goes [^:]*$/, '')
</script>

<template>
  <table class="story">
    <thead v-if="followed">
      <tr>
        <th />
        <th>What happens</th>
        <th>{{ load.name }} is</th>
        <th v-if="shows">{{ surface?.name }} shows</th>
      </tr>
    </thead>
    <tbody>
      <tr v-if="!story.steps.length">
        <td class="n" />
        <td :colspan="3">From the first connection on, without anything else.</td>
      </tr>
      <tr
        v-for="(step, i) in story.steps"
        :key="i"
        :class="{ wrong: step.shows !== null && step.is !== null && differs(step.shows, step.is) }"
      >
        <td class="n">{{ i + 1 }}</td>
        <td class="what">{{ followed ? bare(step.words) : step.words }}</td>
        <td
          v-if="followed"
          class="value"
          :class="{ moved: i > 0 && story.steps[i - 1]!.is !== step.is }"
        >
          {{ step.is === null ? nobody : valueWords(load.output, step.is) }}
        </td>
        <td v-if="shows" class="value shown">
          {{ step.shows === null ? '' : shownWords(load.output, step.shows) }}
        </td>
      </tr>
    </tbody>
  </table>
  <p class="ending">
    <strong>{{ story.ending }}.</strong>
  </p>
</template>

<style scoped>
.story {
  border-collapse: collapse;
  width: 100%;
  font-size: 13.5px;
  margin: 6px 0 4px;
}
th {
  text-align: left;
  font-weight: 400;
  font-size: 12.5px;
  color: var(--second);
  padding: 2px 8px 4px 0;
  vertical-align: bottom;
  line-height: 1.2;
}
td {
  padding: 4px 8px 4px 0;
  border-top: 1px solid var(--rule);
  vertical-align: top;
  line-height: 1.3;
  overflow-wrap: anywhere;
}
.what::first-letter {
  text-transform: uppercase;
}
.n {
  color: var(--second);
  width: 18px;
}
.value {
  width: 64px;
  overflow-wrap: normal;
}
.value.moved {
  font-weight: 700;
}
tr.wrong .shown {
  color: var(--differs);
  font-weight: 700;
  background: repeating-linear-gradient(45deg, transparent 0 4px, var(--differs-ground) 4px 7px);
}
.ending {
  margin: 4px 0;
}
</style>
