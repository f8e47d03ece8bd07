<script setup lang="ts">
/** One revision: what was changed, and the design as it was then. */
import type { Design } from '../../../core/design/schema'
import { designText } from '../../../core/design/validate'

const props = defineProps<{
  design: Design
  number: number
  words: string
  at: string
  current: boolean
}>()
const router = useRouter()
const trouble = ref('')

async function then(): Promise<Design | null> {
  const answer = await ask<{ design: Design }>(
    `/api/designs/${props.design.id}/revisions/${props.number}`,
  )
  trouble.value = answer.ok ? '' : refusalWords(answer.refusal)
  return answer.ok ? answer.value.design : null
}
async function take(): Promise<void> {
  const design = await then()
  if (design)
    handOver(`${design.id}-revision-${props.number}.json`, designText(design), 'application/json')
}
async function open(): Promise<void> {
  const design = await then()
  if (!design) return
  const answer = await ask<{ design: Design }>('/api/designs', {
    method: 'POST',
    body: { ...design, name: `${design.name.slice(0, 24)} (revision ${props.number})` },
  })
  trouble.value = answer.ok ? '' : refusalWords(answer.refusal)
  if (answer.ok) await router.push(`/d/${answer.value.design.id}/sheet`)
}
</script>

<template>
  <div>
    <h2 class="words">{{ words }}</h2>
    <p class="second">
      Revision {{ number }}, {{ whenWords(at) }}{{ current ? '; the design as it is now' : '' }}.
    </p>
    <div class="acts">
      <el-button size="small" @click="take()">Take as JSON</el-button>
      <el-button
        v-if="!current"
        size="small"
        title="The design as it was then, beside the one of now"
        @click="open()"
        >Open as a design of its own</el-button
      >
    </div>
    <p v-if="trouble" class="differs small" role="alert">{{ trouble }}</p>
  </div>
</template>

<style scoped>
.words::first-letter {
  text-transform: uppercase;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 10px;
}
.acts :deep(.el-button) {
  margin: 0;
}
</style>
