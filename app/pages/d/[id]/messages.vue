<script setup lang="ts">
import { linkTitle } from '../../../../core/design/find'
import { useDesignStore } from '../../../stores/design'
import { useSelectionStore } from '../../../stores/selection'
import { isReceiver } from '../../../../core/design/sensors/traits'

const designs = useDesignStore()
const selection = useSelectionStore()
const links = computed(() =>
  (designs.design?.links ?? []).map(l => ({ id: l.id, name: linkTitle(designs.design!, l) })),
)
const keyed = computed(() => (designs.design?.sensors ?? []).filter(isReceiver))
const chosen = ref('')
const reading = ref(false)
watch(
  () => [...links.value, ...keyed.value],
  list => {
    if (list.some(l => l.id === chosen.value)) return
    const surface = designs.design?.surfaces.find(s => s.id === selection.surfaceId)
    chosen.value =
      (surface && surface.kind !== 'hand' ? surface.linkId : undefined) ?? list[0]?.id ?? ''
  },
  { immediate: true },
)
const link = computed(() => designs.design?.links.find(l => l.id === chosen.value))
const receiver = computed(() => keyed.value.find(s => s.id === chosen.value))
/** The part of the design that the link belongs to. */
const part = computed(() => (link.value ? designs.partOf(link.value.controllerId) : designs.design))
</script>

<template>
  <div v-if="designs.design" class="view">
    <div class="work">
      <div class="strip">
        <el-radio-group v-if="links.length || keyed.length" v-model="chosen" aria-label="Link">
          <el-radio-button v-for="l in links" :key="l.id" :value="l.id">{{
            l.name
          }}</el-radio-button>
          <el-radio-button v-for="s in keyed" :key="s.id" :value="s.id">{{
            s.name
          }}</el-radio-button>
        </el-radio-group>
        <el-button v-if="link" @click="reading = !reading">Read what is there</el-button>
        <LinkTools v-if="link" :design="designs.design" :link="link" />
      </div>
      <MessageTable v-if="link" :key="link.id" :design="designs.design" :link="link" />
      <BudgetTable
        v-if="link"
        :key="`${link.id} budget`"
        :design="part ?? designs.design"
        :link="link"
      />
      <ChainTable
        v-if="link"
        :key="`${link.id} chain`"
        :design="part ?? designs.design"
        :link="link"
      />
      <InfraredTable
        v-if="receiver"
        :key="receiver.id"
        :design="designs.design"
        :sensor="receiver"
      />
      <p v-if="!link && !receiver" class="empty second">
        No panel or box yet, so nothing to say. Add one on the
        <NuxtLink :to="`/d/${designs.design.id}/sheet`">sheet</NuxtLink>: + surface.
      </p>
    </div>
    <aside class="ticket" aria-label="Try it">
      <ReadBox
        v-if="link && reading"
        :key="`${link.id} read`"
        :design="designs.design"
        :link="link"
        @done="reading = false"
      />
      <TryBox
        v-if="link && !reading"
        :key="link.id"
        :design="part ?? designs.design"
        :link="link"
      />
      <AuthTicket
        v-if="link && !reading"
        :key="`${link.id} who`"
        :design="part ?? designs.design"
        :link="link"
      />
      <DialectTicket
        v-if="link && !reading"
        :key="`${link.id} dialect`"
        :design="part ?? designs.design"
        :link="link"
      />
    </aside>
  </div>
</template>

<style scoped>
.empty {
  padding: 30px 20px;
}
</style>
