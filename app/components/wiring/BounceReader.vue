<script setup lang="ts">
/** A recorded bounce, as CSV or VCD, gives a measured debounce. */
import { debounceFromRecording, edgesFromCsv, edgesFromVcd } from '../../../core/electrical/bounce'
import { valueOf, type Sum } from '../../../core/electrical/sum'
import type { Control } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ control: Control }>()
const designs = useDesignStore()
const file = useTemplateRef<HTMLInputElement>('file')
const measured = shallowRef<Sum | null>(null)
const wrong = ref('')
const name = ref('')
watch(
  () => props.control.id,
  () => {
    measured.value = null
    wrong.value = ''
  },
)
const MAX_BYTES = 5_000_000

async function read(event: Event): Promise<void> {
  const [chosen] = (event.target as HTMLInputElement).files ?? []
  if (!chosen) return
  name.value = chosen.name
  measured.value = null
  try {
    if (chosen.size > MAX_BYTES) throw new Error('a recording of at most 5 MB, please')
    const text = await chosen.text()
    measured.value = debounceFromRecording(
      text.includes('$enddefinitions') ? edgesFromVcd(text) : edgesFromCsv(text),
      props.control.debounceMs,
    )
    wrong.value = ''
  } catch (error) {
    wrong.value = (error as Error).message
  }
  if (file.value) file.value.value = ''
}
const ms = computed(() => (measured.value ? Math.round(valueOf(measured.value, 'td') * 1000) : 0))
</script>

<template>
  <div class="reader">
    <el-button size="small" @click="file?.click()">Read a recorded bounce</el-button>
    <input
      ref="file"
      type="file"
      accept=".csv,.vcd,text/csv"
      class="visually-hidden"
      aria-label="Recording of the bounce, CSV or VCD"
      tabindex="-1"
      @change="read"
    />
    <p v-if="wrong" class="differs small" role="alert">{{ name }}: {{ wrong }}</p>
    <p v-if="measured">
      {{ name }}: longest bounce {{ (valueOf(measured, 'tb') * 1000).toFixed(1) }} ms in
      {{ valueOf(measured, 'n') }} movements.
      <el-button
        v-if="ms !== control.debounceMs"
        size="small"
        type="primary"
        @click="
          designs.apply({ type: 'setControl', controlId: control.id, patch: { debounceMs: ms } })
        "
        >Debounce {{ ms }} ms</el-button
      >
    </p>
  </div>
</template>

<style scoped>
.reader {
  margin-top: 8px;
}
p {
  margin-top: 6px;
}
</style>
