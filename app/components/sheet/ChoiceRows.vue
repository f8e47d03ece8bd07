<script setup lang="ts">
/** The values of a choice, rest first: what pages show for each, with a picture where wished. */
import type { OutputOf } from '../../../core/design/schema'
import { LIMITS } from '../../../core/design/shapes'

type Choice = OutputOf<'choice'>['choices'][number]
const props = defineProps<{ choices: readonly Choice[] }>()
const emit = defineEmits<{ change: [choices: Choice[]] }>()
const file = useTemplateRef<HTMLInputElement>('file')
const picturing = ref(-1)
const refused = ref('')
/** Room for a picture beside its words, mm. */
const PLACE = { widthMm: 40, heightMm: 40 }

function put(at: number, patch: Partial<Choice>): void {
  emit(
    'change',
    props.choices.map((c, i) => (i === at ? { ...c, ...patch } : c)),
  )
}
function add(): void {
  const taken = new Set(props.choices.map(c => c.id))
  const id = [...'abcdefghijklmnopqrstuvwxyz'].find(letter => !taken.has(letter)) ?? ''
  emit('change', [...props.choices, { id, words: `value ${id}`, picture: null }])
}
function remove(at: number): void {
  emit(
    'change',
    props.choices.filter((_, i) => i !== at),
  )
}
function pick(at: number): void {
  picturing.value = at
  file.value?.click()
}
async function take(): Promise<void> {
  const [chosen] = file.value?.files ?? []
  if (file.value) file.value.value = ''
  if (!chosen) return
  refused.value = ''
  const picture = await downscaled(chosen, PLACE, LIMITS.pictureLength)
  if (picture === null) refused.value = `${chosen.name} is no picture that this browser can read.`
  else put(picturing.value, { picture })
}
</script>

<template>
  <dt>Values</dt>
  <dd class="choices">
    <div v-for="(c, i) in choices" :key="c.id" class="choice">
      <code :title="i === 0 ? 'At rest' : ''">{{ c.id }}</code>
      <InlineText :value="c.words" :label="`value ${c.id}`" @change="words => put(i, { words })" />
      <img v-if="c.picture" :src="c.picture" alt="" />
      <el-button
        size="small"
        text
        :aria-label="`${c.picture ? 'Take the picture of' : 'Picture for'} ${c.words}${c.picture ? ' away' : ''}`"
        @click="c.picture ? put(i, { picture: null }) : pick(i)"
        >{{ c.picture ? 'no picture' : 'picture' }}</el-button
      >
      <el-button
        v-if="choices.length > 2"
        size="small"
        text
        :aria-label="`Remove ${c.words}`"
        @click="remove(i)"
        >remove</el-button
      >
    </div>
    <el-button v-if="choices.length < LIMITS.values" size="small" @click="add"
      >Add a value</el-button
    >
    <span v-if="refused" class="differs small" role="alert">{{ refused }}</span>
    <input
      ref="file"
      type="file"
      accept="image/*"
      class="visually-hidden"
      aria-label="Picture of a value"
      tabindex="-1"
      @change="take"
    />
  </dd>
</template>

<style scoped>
.choices {
  display: grid;
  gap: 4px;
  justify-items: start;
}
.choice {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}
img {
  height: 28px;
}
</style>
