<script setup lang="ts">
/** A load in the sentence: what it is, how it is called, and what it can do to somebody. */
import type { Danger } from '../../../core/design/schema'
import { drawerLoad, type DrawerLoad } from '../../../core/start/drawer'
import { DANGER_WORDS } from '../../../core/design/words'
import { guardedDangers } from '../../../core/panels/danger'
import { LOAD_IDS, LOADS, type LoadId } from '../../../core/start/loads'
import { withArticle, within } from '../../../core/start/words'

const props = defineProps<{ load: DrawerLoad; name: string; alone: boolean }>()
const emit = defineEmits<{ change: [load: DrawerLoad]; remove: [] }>()
const open = ref(false)
const typed = ref('')
watch(open, () => {
  typed.value = props.load.name
})
const words = computed(() => withArticle(within(props.name)))
/** Water does harm too, but slowly. */
const isGuarded = computed(
  () => guardedDangers({ wiring: { dangers: props.load.dangers } as never }).length > 0,
)
function become(what: LoadId): void {
  emit('change', { ...drawerLoad(what), name: props.load.name })
}
function mark(danger: Danger, is: boolean): void {
  const dangers = props.load.dangers.filter(d => d !== danger)
  emit('change', { ...props.load, dangers: is ? [...dangers, danger] : dangers })
}
function call(): void {
  if (typed.value.trim() !== props.load.name)
    emit('change', { ...props.load, name: typed.value.trim() })
}
function done(): void {
  call()
  open.value = false
}
</script>

<template>
  <span class="of"
    ><el-popover v-model:visible="open" trigger="click" :width="296" placement="bottom-start">
      <template #reference
        ><button
          type="button"
          class="choice-word"
          :aria-label="`Load: ${words}`"
          aria-haspopup="dialog"
        >
          {{ words }}
        </button></template
      >
      <form class="ticket" :aria-label="words" @submit.prevent="done" @keydown.esc="open = false">
        <label class="row"
          >It is
          <el-select
            :model-value="load.what"
            :teleported="false"
            aria-label="What it is"
            @change="become"
            ><el-option
              v-for="id in LOAD_IDS"
              :key="id"
              :value="id"
              :label="LOADS[id].words" /></el-select
        ></label>
        <label class="row"
          >called
          <el-input
            v-model="typed"
            :placeholder="LOADS[load.what].name"
            maxlength="40"
            aria-label="How it is called"
            @change="call"
        /></label>
        <fieldset>
          <legend>What of it can hurt somebody</legend>
          <el-checkbox
            v-for="(said, danger) in DANGER_WORDS"
            :key="danger"
            :model-value="load.dangers.includes(danger)"
            :label="said"
            @change="(is: unknown) => mark(danger, is === true)"
          />
        </fieldset>
        <p v-if="load.dangers.length" class="second small">
          It stays off after a power cut{{
            isGuarded ? ', has a guard on panels, and commands are proved' : ''
          }}. Local codes and licensed people have the last word.
        </p>
        <p class="does">
          <el-button size="small" type="primary" native-type="submit">Done</el-button>
          <el-button v-if="!alone" size="small" @click="emit('remove')">Leave it out</el-button>
        </p>
      </form> </el-popover
    ><sup v-if="load.dangers.length" class="danger">{{ load.dangers.join(', ') }}</sup></span
  >
</template>

<style scoped>
.of {
  white-space: normal;
}
.danger {
  font-size: 13px;
  font-weight: 700;
  color: var(--differs);
  margin-left: 4px;
  line-height: 1;
}
.ticket {
  display: grid;
  gap: 10px;
}
.row {
  display: grid;
  grid-template-columns: 56px 1fr;
  align-items: center;
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
}
fieldset .el-checkbox {
  margin-right: 14px;
}
.does {
  display: flex;
}
</style>
