<script setup lang="ts">
/** All findings of the design, from every view. */
import { useFindingsStore } from '../../stores/findings'

const findings = useFindingsStore()
</script>

<template>
  <aside
    v-if="findings.open"
    class="sheet"
    aria-label="Findings"
    @keydown.escape="findings.open = false"
  >
    <div class="top">
      <h2>Findings</h2>
      <span class="second" role="status">{{
        findings.known
          ? `${findings.stops} stop · ${findings.warns} warn · ${findings.notes} note`
          : findings.trouble
            ? 'not checked'
            : 'checking'
      }}</span>
      <el-button size="small" @click="findings.open = false">Close</el-button>
    </div>
    <p
      v-if="findings.known && !findings.stops && !findings.warns && !findings.checking"
      class="second"
    >
      Nothing to mend: every check passed.
    </p>
    <FindingItem
      v-for="(f, i) in findings.told"
      :key="`${f.code} ${f.path} ${f.loadId} ${i}`"
      :finding="f"
    />
  </aside>
</template>

<style scoped>
.sheet {
  position: absolute;
  right: 0;
  top: 0;
  bottom: 0;
  width: min(420px, 100%);
  background: var(--raised);
  border-left: 2px solid var(--ink);
  padding: 16px 20px;
  overflow: auto;
  z-index: 20;
}
.top {
  display: flex;
  align-items: center;
  gap: 12px;
}
.top .second {
  flex: 1;
}
.sheet :deep(.finding + .finding) {
  border-top: 1px solid var(--rule);
}
</style>
