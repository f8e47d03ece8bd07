<script setup lang="ts">
/** One finding: severity, title, story or reason, and its fixes. */
import type { Finding } from '../../core/checks/finding'
import { useFindingsStore } from '../stores/findings'

const props = defineProps<{ finding: Finding }>()
const findings = useFindingsStore()
const { fix, play } = useFixing()
const story = computed(() => {
  const { loadId, surfaceId, story } = props.finding
  return story.length && loadId
    ? (findings.verdicts[loadId]?.surfaces.find(s => s.surfaceId === surfaceId)?.story ?? null)
    : null
})
</script>

<template>
  <section class="finding">
    <h3>
      <span class="severity" :class="finding.severity">{{ finding.severity }}</span>
      {{ finding.title }}
    </h3>
    <ol v-if="finding.story.length" class="story">
      <li
        v-for="(line, i) in finding.story"
        :key="i"
        :class="{ ending: i === finding.story.length - 1 }"
      >
        {{ line }}
      </li>
    </ol>
    <p class="second">{{ finding.reason }}</p>
    <div class="fixes">
      <el-button
        v-for="(f, i) in finding.fixes"
        :key="f.words"
        size="small"
        :type="i === 0 ? 'primary' : 'default'"
        @click="fix(f)"
        >{{ f.words }}</el-button
      >
      <el-button v-if="story && finding.loadId" size="small" @click="play(story, finding.loadId)"
        >Play on bench</el-button
      >
    </div>
  </section>
</template>

<style scoped>
.finding {
  padding: 12px 0;
}
h3 {
  font-weight: 700;
  line-height: 1.3;
}
.severity {
  text-transform: capitalize;
  margin-right: 3px;
}
.severity.stop {
  color: var(--differs);
}
.severity.warn {
  color: var(--wait);
}
.severity.note {
  color: var(--second);
}
.story {
  margin: 6px 0;
  padding-left: 20px;
}
.story .ending {
  list-style: none;
  margin-left: -20px;
  font-weight: 600;
}
p {
  margin: 4px 0 0;
  font-size: 13.5px;
}
.fixes {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin-top: 8px;
}
.fixes :deep(.el-button) {
  margin: 0;
}
</style>
