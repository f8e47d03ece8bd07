<script setup lang="ts">
/**
 * What is broken, one cause with all the loads it concerns; and the cheapest set of changes that
 * repairs everything.
 */
import { loadOf } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import { PROMISES } from '../../../core/proof/promises'
import type { Group } from '../../../core/proof/groups'
import { useDesignStore } from '../../stores/design'
import { useProofStore } from '../../stores/proof'

defineProps<{ design: Design }>()
const emit = defineEmits<{ choose: [group: Group] }>()
const designs = useDesignStore()
const proofs = useProofStore()
function doAll(): void {
  const plan = proofs.plan
  const edits = plan?.edits ?? []
  if (designs.applyAll(edits, `Repairs: ${plan?.words.join('; ') ?? ''}`.slice(0, 400)))
    setTimeout(() => proofs.prove(designs.design?.loads.map(l => l.id) ?? []))
}
</script>

<template>
  <div>
    <template v-if="proofs.verdicts.length">
      <div class="row">
        <h2>
          {{
            proofs.groups.length
              ? `${proofs.groups.length} ${proofs.groups.length === 1 ? 'cause' : 'causes'} break promises`
              : 'No promise is broken'
          }}
        </h2>
        <el-button
          v-if="proofs.broken.length && !proofs.plan && !proofs.planning"
          type="primary"
          @click="proofs.planAll()"
          >Repair all</el-button
        >
        <span v-if="proofs.planning" class="second" role="status"
          >{{ proofs.tries }} proofs tried
          <el-button size="small" @click="proofs.stopRepairs()">stop</el-button></span
        >
      </div>
      <section v-if="proofs.plan" class="plan">
        <h3 class="title">
          {{
            proofs.plan.edits.length
              ? 'The cheapest changes that repair it, each proved'
              : 'Nothing found that repairs it'
          }}
        </h3>
        <table v-if="proofs.plan.edits.length" class="ruled">
          <tbody>
            <tr v-for="(words, i) in proofs.plan.words" :key="words">
              <td>{{ words }}</td>
              <td class="second">{{ proofs.plan.costs[i] }}</td>
            </tr>
          </tbody>
        </table>
        <p v-if="proofs.plan.left" class="small">
          {{ proofs.plan.left }} {{ proofs.plan.left === 1 ? 'break is' : 'breaks are' }} left: no
          small change repairs {{ proofs.plan.left === 1 ? 'it' : 'them' }}.
        </p>
        <div class="row">
          <el-button v-if="proofs.plan.edits.length" type="primary" @click="doAll()"
            >Do all</el-button
          ><el-button @click="proofs.plan = null">Leave it</el-button>
        </div>
      </section>
      <div class="causes">
        <article v-for="g in proofs.groups" :key="g.key" class="cause">
          <h3 class="title">
            <span class="tag">{{ g.promise }}</span> {{ g.part.reason }}
          </h3>
          <p class="second small">
            {{ PROMISES[g.promise].words }}.
            {{ g.loadIds.map(id => loadOf(design, id).name).join(', ') }}.
          </p>
          <StoryTable :design="design" :story="g.story" :load-id="g.loadIds[0] ?? ''" />
          <el-button size="small" @click="emit('choose', g)">Look at it and repair it</el-button>
        </article>
      </div>
    </template>
    <p v-else class="second">
      Prove the promises first: what breaks them is gathered here, one cause with all the loads it
      concerns.
    </p>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 16px;
  align-items: center;
  margin: 0 0 8px;
}
.row :deep(.el-button) {
  margin: 0;
}
.causes {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(480px, 1fr));
  gap: 0 40px;
}
.cause {
  padding: 14px 0;
  border-top: 1px solid var(--rule);
}
.plan {
  max-width: 760px;
  background: var(--raised);
  border: 1px solid var(--rule-strong);
  padding: 12px 14px;
  margin-bottom: 12px;
}
.plan .row {
  margin: 10px 0 0;
}
.tag {
  display: inline-block;
  min-width: 26px;
  color: var(--differs);
  font-weight: 700;
}
p {
  margin: 3px 0;
}
</style>
