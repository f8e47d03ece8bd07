<script setup lang="ts">
/**
 * A value with its unit, typed as people write it ("4k7", "120 mA"). What cannot be is told under
 * it and not taken.
 */
import { parseQuantity, showQuantity, type Unit } from '../../core/units/quantity'

const props = defineProps<{
  value: number | null
  unit: Unit
  label: string
  placeholder?: string
  min?: number
  max?: number
}>()
const emit = defineEmits<{ change: [value: number] }>()
const text = ref('')
const wrong = ref('')
watch(
  () => props.value,
  value => {
    text.value = value === null ? '' : showQuantity(value, props.unit)
    wrong.value = ''
  },
  { immediate: true },
)

function keep(): void {
  if (
    text.value.trim() === ''
    || (props.value !== null && text.value === showQuantity(props.value, props.unit))
  )
    return
  try {
    const value = parseQuantity(text.value, props.unit)
    const low = props.min ?? 0
    const high = props.max ?? Infinity
    wrong.value =
      value < low || value > high
        ? `between ${showQuantity(low, props.unit)} and ${showQuantity(high, props.unit)}, please`
        : ''
    if (wrong.value) return
    emit('change', value)
    // The same value in other words is shown as all are.
    void nextTick(() => {
      text.value = showQuantity(props.value ?? value, props.unit)
    })
  } catch (error) {
    wrong.value = (error as Error).message
  }
}
</script>

<template>
  <span class="quantity">
    <input
      v-model="text"
      class="wire"
      :aria-label="label"
      :aria-invalid="wrong !== ''"
      :placeholder="placeholder"
      maxlength="20"
      spellcheck="false"
      autocomplete="off"
      @change="keep"
      @keydown.enter="keep"
    />
    <span v-if="wrong" class="differs small wrong" role="alert">{{ wrong }}</span>
  </span>
</template>

<style scoped>
.quantity {
  display: grid;
  justify-items: end;
}
input {
  width: 104px;
  text-align: right;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--raised);
  color: inherit;
  padding: 3px 7px;
  min-height: 26px;
}
input:focus {
  border-color: var(--ink);
}
input[aria-invalid='true'] {
  border-color: var(--differs);
}
.wrong {
  text-align: right;
}
</style>
