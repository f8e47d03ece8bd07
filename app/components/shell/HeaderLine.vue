<script setup lang="ts">
/** Design, revision, saved state, fingerprint of the table, counts of findings. */
import { useDesignStore } from '../../stores/design'
import { useFindingsStore } from '../../stores/findings'

const emit = defineEmits<{ palette: [] }>()
const designs = useDesignStore()
const findings = useFindingsStore()
const router = useRouter()
const SAVED: Record<string, string> = {
  saved: 'saved',
  waiting: 'saving soon',
  saving: 'saving',
  offline: 'not saved: the server does not answer',
  refused: 'not saved',
  conflict: 'not saved',
}

async function keepMine(): Promise<void> {
  const id = await designs.keepMineAsCopy()
  if (id) await router.push(`/d/${id}/sheet`)
}
</script>

<template>
  <header class="line">
    <NuxtLink to="/" class="mark" aria-label="Nolvi: all designs">nolv<i>i</i></NuxtLink>
    <template v-if="designs.design">
      <h1 class="name">
        <InlineText
          :value="designs.design.name"
          label="name of the design"
          @change="name => designs.apply({ type: 'renameDesign', name })"
        />
      </h1>
      <span class="second state" role="status"
        >{{ designs.design.place ? `${designs.design.place} · ` : '' }}revision
        {{ designs.revision }} · {{ SAVED[designs.save.kind] }}</span
      >
      <div class="counts">
        <span
          class="tag wire"
          title="Fingerprint: a short hash over all codes, routes and reports that two sides must agree on"
          >table {{ designs.fingerprint.slice(0, 4) }}·{{ designs.fingerprint.slice(4) }}</span
        >
        <button
          v-if="!findings.known"
          type="button"
          class="tag stop none"
          @click="findings.open = !findings.open"
        >
          {{ findings.trouble ? 'not checked' : 'checking' }}
        </button>
        <template v-else>
          <button
            type="button"
            class="tag stop"
            :class="{ none: !findings.stops }"
            @click="findings.open = !findings.open"
          >
            {{ findings.stops }} stop
          </button>
          <button type="button" class="tag" @click="findings.open = !findings.open">
            {{ findings.warns }} warn
          </button>
        </template>
        <button type="button" class="tag wire" @click="emit('palette')">Ctrl K</button>
      </div>
    </template>
  </header>
  <div v-if="designs.save.kind === 'conflict'" class="notice" role="alert">
    <span
      >Revision {{ designs.save.theirs }} was stored from another window while you worked on
      {{ designs.revision }}. Your changes are still here, not stored.</span
    >
    <el-button size="small" type="primary" @click="keepMine">Keep mine as a copy</el-button>
    <el-button size="small" @click="designs.takeTheirs()">Take theirs</el-button>
  </div>
  <div v-else-if="designs.save.kind === 'refused'" class="notice" role="alert">
    <span>Not stored. {{ refusalWords(designs.save.refusal) }}</span>
    <el-button size="small" @click="designs.undo()">Undo the last change</el-button>
  </div>
  <div v-else-if="designs.problems.length" class="notice" role="alert">
    <span
      >Not done: {{ designs.problems[0]?.message
      }}<code v-if="designs.problems[0]?.path"> {{ designs.problems[0].path }}</code></span
    >
    <el-button size="small" @click="designs.problems = []">All right</el-button>
  </div>
  <div v-else-if="findings.trouble" class="notice" role="alert">
    <span>Not checked. {{ findings.trouble }}</span>
    <el-button size="small" @click="findings.look()">Check again</el-button>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  align-items: center;
  gap: 18px;
  height: 52px;
  padding-right: 20px;
  border-bottom: 1px solid var(--rule-strong);
}
.mark {
  width: 112px;
  text-align: center;
  font-size: 20px;
  font-weight: 750;
  letter-spacing: -0.02em;
  text-decoration: none;
}
.mark i {
  color: var(--differs);
  font-style: normal;
}
.name {
  font-size: 17px;
  font-weight: 700;
  white-space: nowrap;
}
.state {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  min-width: 0;
}
.counts {
  margin-left: auto;
  display: flex;
  gap: 12px;
  flex: none;
}
.tag {
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--raised);
  padding: 3px 10px;
  font-size: 14px;
  line-height: 19px;
  white-space: nowrap;
}
button.tag {
  cursor: pointer;
}
.tag.stop {
  border-color: var(--differs);
  color: var(--differs);
  font-weight: 700;
}
.tag.stop.none {
  border-color: var(--rule-strong);
  color: inherit;
  font-weight: 400;
}
.notice {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 8px 20px;
  background: var(--wait-ground);
  border-bottom: 1px solid var(--wait);
  flex-wrap: wrap;
}
.notice :deep(.el-button) {
  margin: 0;
}
@media (max-width: 900px) {
  .line {
    gap: 10px;
    padding-right: 10px;
    overflow-x: auto;
  }
  .mark {
    width: auto;
    flex: none;
    padding-left: 14px;
  }
  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    min-width: 60px;
  }
  .state {
    display: none;
  }
  .tag {
    min-height: 44px;
    align-content: center;
  }
}
/* In the hand what is wrong is worth its room; the rest stands on a larger screen. */
@media (max-width: 560px) {
  .tag.wire {
    display: none;
  }
}
</style>
