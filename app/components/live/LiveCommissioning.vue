<script setup lang="ts">
/** How far the commissioning is, and where it goes on. */
import type { LiveState } from '../../composables/live'

const props = defineProps<{ designId: string; live: LiveState; fingerprint: string }>()
const { last, refresh } = useCommissioning(() => props.designId)
watch(
  () => [props.designId, props.live.view.value.commissioning?.steps.filter(s => s.state).length],
  () => refresh(),
  { immediate: true },
)
const isNow = computed(() => last.value?.fingerprint === props.fingerprint)
</script>

<template>
  <section>
    <h2>Commissioning</h2>
    <p v-if="last">
      {{ last.passed }} of {{ last.of }} as designed<template v-if="last.differs"
        >, <strong class="differs">{{ last.differs }} differ</strong></template
      ><template v-if="last.open">, {{ last.open }} open</template>.
      <span class="second">{{ whenWords(last.startedAt) }}, revision {{ last.revision }}</span
      ><span v-if="!isNow" class="differs">; the table was another then</span>
    </p>
    <p v-else class="second small">
      A run through everything, in the order of a careful person. What links tell ticks itself; it
      ends as a dated record to print.
    </p>
    <p class="keys">
      <NuxtLink :to="`/commissioning/${designId}`" class="go">{{
        last && isNow && last.open ? 'Go on' : 'Go through it'
      }}</NuxtLink>
      <a
        v-if="last"
        :href="`/api/designs/${designId}/records/${last.id}/sheet`"
        target="_blank"
        rel="noopener"
        >Its record</a
      >
    </p>
    <p class="second small">
      On a phone in the hand: open this address there, where Nolvi listens in the network.
    </p>
  </section>
</template>

<style scoped>
.keys {
  display: flex;
  gap: 14px;
  align-items: center;
  margin: 8px 0;
}
.go {
  background: var(--ink);
  color: var(--paper);
  font-weight: 700;
  text-decoration: none;
  border-radius: 2px;
  padding: 7px 15px;
  font-size: 14px;
}
@media (max-width: 700px) {
  .go {
    padding-block: 12px;
  }
}
</style>
