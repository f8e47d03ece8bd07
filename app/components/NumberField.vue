<script setup lang="ts">
/** A whole number with its unit; kept on Enter or when left, refused outside its range. */
const props = defineProps<{
  value: number
  unit: string
  label: string
  min?: number
  max: number
}>()
const emit = defineEmits<{ change: [value: number] }>()
function keep(value: number | undefined | null): void {
  if (typeof value === 'number' && value !== props.value) emit('change', Math.round(value))
}
</script>

<template>
  <span class="number-field">
    <el-input-number
      :model-value="value"
      :min="min ?? 0"
      :max="max"
      :precision="0"
      :controls="false"
      size="small"
      :aria-label="`${label}, ${unit}`"
      @change="keep"
    />
    <span class="second">{{ unit }}</span>
  </span>
</template>

<style scoped>
.number-field {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  white-space: nowrap;
}
.number-field :deep(.el-input-number) {
  width: 84px;
}
</style>
