<script setup lang="ts">
/** The built panel page itself, served by a stand-in, at real size. */
import { linkOf } from '../../../core/design/find'
import { deviceOf } from '../../../core/panels/devices'
import type { Design, PanelSurface } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design; panel: PanelSurface; pxPerMm: number }>()
const designs = useDesignStore()
const { list, start, refused } = useStandIns(() => props.design.id)
const device = computed(() => deviceOf(props.panel))
const controllerId = computed(() => linkOf(props.design, props.panel.linkId).controllerId)
const own = computed(() => list.value.filter(s => s.controllerId === controllerId.value))
const standIn = computed(
  () => own.value.find(s => s.fingerprint === designs.fingerprint) ?? own.value[0],
)

const starter = useTemplateRef<{ ref?: HTMLElement }>('starter')
onMounted(() => setTimeout(() => starter.value?.ref?.focus(), 150))

async function begin(): Promise<void> {
  await designs.flush()
  await start([controllerId.value])
}
</script>

<template>
  <div
    class="frame"
    :style="{ width: `${device.widthMm * pxPerMm}px`, height: `${device.heightMm * pxPerMm}px` }"
  >
    <iframe
      v-if="standIn"
      :src="`${standIn.address}/panel/${panel.id}`"
      :title="`${panel.name} on the stand-in`"
    />
    <div v-else class="none">
      <p>No stand-in runs. It speaks the design's real routes on a port of its own.</p>
      <el-button ref="starter" type="primary" @click="begin">Start a stand-in</el-button>
      <p v-if="refused" class="differs">{{ refused }}</p>
    </div>
  </div>
</template>

<style scoped>
.frame {
  border-radius: 16px;
  outline: 2px solid var(--ink);
  outline-offset: 4px;
  margin: 6px;
  overflow: hidden;
  background: var(--raised);
}
iframe {
  width: 100%;
  height: 100%;
  border: 0;
}
.none {
  display: grid;
  gap: 12px;
  padding: 30px 18px;
  justify-items: start;
}
</style>
