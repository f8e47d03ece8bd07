<script setup lang="ts">
/** A note for the log: what was bought, where it sits, what it looks like. */
import { firstLine } from '../../../core/units/format'

const props = defineProps<{ designId: string; revision: number }>()
const emit = defineEmits<{ kept: []; away: [] }>()
/** As large as pictures are shown, and what one may weigh, characters. */
const SHOWN = { widthMm: 200, heightMm: 150 }
const MOST_CHARACTERS = 250_000
const MOST_PICTURES = 4

const text = ref('')
const pictures = ref<string[]>([])
const trouble = ref('')
const keeping = ref(false)

async function take(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  trouble.value = ''
  for (const file of [...(input.files ?? [])].slice(0, MOST_PICTURES - pictures.value.length)) {
    const picture = await downscaled(file, SHOWN, MOST_CHARACTERS)
    if (picture) pictures.value.push(picture)
    else trouble.value = `${file.name} is no picture that this browser reads.`
  }
  input.value = ''
}
async function keep(): Promise<void> {
  keeping.value = true
  const answer = await ask(`/api/designs/${encodeURIComponent(props.designId)}/records`, {
    method: 'POST',
    body: {
      kind: 'note',
      revision: props.revision,
      title: firstLine(text.value),
      text: text.value,
      pictures: pictures.value,
    },
  })
  keeping.value = false
  if (answer.ok) emit('kept')
  else trouble.value = refusalWords(answer.refusal)
}
</script>

<template>
  <form class="note" @submit.prevent="keep">
    <el-input
      v-model="text"
      type="textarea"
      :rows="3"
      maxlength="4000"
      aria-label="Note"
      placeholder="What was done or seen, in your words"
    />
    <div v-if="pictures.length" class="pictures">
      <button
        v-for="(p, i) in pictures"
        :key="i"
        type="button"
        class="plain"
        :aria-label="`Take picture ${i + 1} away`"
        @click="pictures.splice(i, 1)"
      >
        <img :src="p" alt="" />
      </button>
    </div>
    <p v-if="trouble" class="differs small" role="alert">{{ trouble }}</p>
    <div class="keys">
      <label v-if="pictures.length < MOST_PICTURES" class="file"
        >Add a picture
        <input type="file" accept="image/*" multiple class="visually-hidden" @change="take" />
      </label>
      <el-button @click="emit('away')">Leave it</el-button>
      <el-button type="primary" native-type="submit" :loading="keeping" :disabled="!text.trim()"
        >Keep the note</el-button
      >
    </div>
  </form>
</template>

<style scoped>
.note {
  padding: 12px 20px;
  border-bottom: 1px solid var(--rule);
  background: var(--raised);
  display: grid;
  gap: 8px;
}
.keys,
.pictures {
  display: flex;
  gap: 10px;
  align-items: center;
  justify-content: flex-end;
}
.pictures {
  justify-content: flex-start;
}
.pictures img {
  height: 64px;
  border: 1px solid var(--rule-strong);
}
.file {
  text-decoration: underline;
  cursor: pointer;
  min-height: 24px;
  margin-right: auto;
}
.file:focus-within {
  outline: 2px solid var(--cursor);
}
</style>
