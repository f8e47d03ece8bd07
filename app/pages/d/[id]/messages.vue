<script setup lang="ts">
import { panels } from '../../../../core/design/find'
import { useDesignStore } from '../../../stores/design'
import { useSelectionStore } from '../../../stores/selection'

const designs = useDesignStore()
const selection = useSelectionStore()
const shown = computed(() => designs.design ? panels(designs.design) : [])
const panelId = ref('')
const reading = ref(false)
watch(shown, (list) => {
  if (!list.some(p => p.id === panelId.value)) panelId.value = list.find(p => p.id === selection.surfaceId)?.id ?? list[0]?.id ?? ''
}, { immediate: true })
const link = computed(() => designs.design?.links.find(l => l.id === shown.value.find(p => p.id === panelId.value)?.linkId))
</script>

<template>
  <div v-if="designs.design" class="view">
    <div class="work">
      <div class="strip">
        <el-radio-group v-if="shown.length" v-model="panelId" aria-label="Link">
          <el-radio-button v-for="p in shown" :key="p.id" :value="p.id">{{ p.name }}</el-radio-button>
        </el-radio-group>
        <el-button v-if="link" @click="reading = !reading">Read what is there</el-button>
        <LinkTools v-if="link" :design="designs.design" :link="link" />
      </div>
      <MessageTable v-if="link" :key="link.id" :design="designs.design" :link="link" />
      <BudgetTable v-if="link" :key="`${link.id} budget`" :design="designs.design" :link="link" />
      <p v-if="!link" class="empty second">No panel yet, so nothing to say. Add one on the <NuxtLink :to="`/d/${designs.design.id}/sheet`">sheet</NuxtLink>: + surface.</p>
    </div>
    <aside class="ticket" aria-label="Try it">
      <ReadBox v-if="link && reading" :key="`${link.id} read`" :design="designs.design" :link="link" @done="reading = false" />
      <TryBox v-if="link && !reading" :key="link.id" :design="designs.design" :link="link" />
      <DialectTicket v-if="link && !reading" :key="`${link.id} dialect`" :design="designs.design" :link="link" />
    </aside>
  </div>
</template>

<style scoped>
.empty { padding: 30px 20px; }
</style>
