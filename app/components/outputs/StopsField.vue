<script setup lang="ts">
/** "0, 30, 60, 100": numbers in any order, told once each; 0 is always there. */
import { LIMITS } from '../../../core/design/shapes'

/** `ends`: the last one is always there, too. */
const props = defineProps<{
  stops: readonly number[]
  last: number
  ends?: boolean
  label: string
}>()
const emit = defineEmits<{ change: [stops: number[]] }>()
const text = ref('')
const wrong = ref('')
watch(
  () => props.stops.join(', '),
  words => {
    text.value = words
    wrong.value = ''
  },
  { immediate: true },
)
function keep(): void {
  const { last } = props
  const list = text.value
    .split(/[\s,;%]+/)
    .filter(Boolean)
    .map(Number)
  wrong.value = ''
  if (list.some(n => !Number.isInteger(n) || n < 0 || n > last)) {
    wrong.value = `whole numbers from 0 to ${last}, with commas between`
    return
  }
  const sorted = [...new Set([0, ...list, ...(props.ends ? [last] : [])])].toSorted((a, b) => a - b)
  if (sorted.length < 2 || sorted.length > LIMITS.values)
    wrong.value = `two to ${LIMITS.values} values, 0 among them`
  else {
    text.value = sorted.join(', ')
    emit('change', sorted)
  }
}
</script>

<template>
  <span class="stops"
    ><input
      v-model="text"
      class="wire"
      :aria-label="label"
      maxlength="90"
      spellcheck="false"
      @change="keep"
    /><span v-if="wrong" class="differs small" role="alert">{{ wrong }}</span></span
  >
</template>

<style scoped>
.stops {
  display: grid;
  justify-items: end;
}
.stops input {
  width: 100%;
  max-width: 138px;
  font-size: 11.5px;
  text-align: right;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--raised);
  color: inherit;
  padding: 3px 7px;
  min-height: 26px;
}
</style>
