<script setup lang="ts">
/**
 * One sum: what it was given, its figures with their formulas, what each is held against, the
 * source.
 */
import type { WiringSum } from '../../../core/electrical/wiring-sum'
import { showQuantity } from '../../../core/units/quantity'

defineProps<{ of: WiringSum }>()
const { fix } = useFixing()
const percent = (used: number) => (used > 99 ? '> 9900 %' : `${Math.round(used * 100)} %`)
</script>

<template>
  <section class="sum">
    <h3 class="title"><StateGlyph :state="of.sum?.ok ? 'in step' : 'stale'" /> {{ of.title }}</h3>
    <p class="second small">{{ of.given.join('; ') }}</p>
    <p v-if="!of.sum" class="differs">{{ of.refused }}</p>
    <template v-else>
      <dl class="facts limits">
        <template v-for="l in of.sum.limits" :key="l.words">
          <dt>{{ l.words }}</dt>
          <dd :class="{ differs: !l.ok }">
            <span class="bar" aria-hidden="true"
              ><i :style="{ width: `${Math.min(100, l.used * 100)}%` }" :class="{ over: !l.ok }"
            /></span>
            {{ ' ' }}
            <span class="wire">{{ percent(l.used) }}</span>
          </dd>
        </template>
      </dl>
      <p v-for="l in of.sum.limits.filter(x => !x.ok)" :key="l.words" class="differs small">
        Way out: {{ l.wayOut }}.
      </p>
      <el-button v-for="f in of.fixes" :key="f.words" size="small" type="primary" @click="fix(f)">{{
        f.words
      }}</el-button>
      <details>
        <summary>Figures and source</summary>
        <table class="figures">
          <tbody>
            <tr v-for="f in of.sum.figures" :key="f.symbol">
              <th scope="row">
                {{ f.words }}
                <div class="second small wire">{{ f.symbol }} = {{ f.formula }}</div>
              </th>
              <td class="number wire">{{ showQuantity(f.value, f.unit) }}</td>
            </tr>
          </tbody>
        </table>
        <p class="second small">{{ of.sum.source }}.</p>
      </details>
      <p v-for="c in of.sum.cautions" :key="c" class="small caution">{{ c }}</p>
    </template>
  </section>
</template>

<style scoped>
.sum {
  margin-top: 14px;
  padding-top: 12px;
  border-top: 1px solid var(--rule);
}
.title {
  display: flex;
  align-items: center;
  gap: 6px;
}
.limits {
  margin: 6px 0;
  grid-template-columns: minmax(0, 1fr) auto;
}
.limits dd {
  display: flex;
  align-items: center;
  justify-content: flex-end;
  gap: 8px;
  white-space: nowrap;
}
.bar {
  width: 54px;
  height: 8px;
  border: 1px solid var(--ink);
  display: inline-block;
}
.bar i {
  display: block;
  height: 100%;
  background: var(--ink);
}
.bar i.over {
  background: repeating-linear-gradient(135deg, var(--differs) 0 3px, transparent 3px 6px);
}
summary {
  cursor: pointer;
  color: var(--second);
  min-height: 24px;
}
.figures {
  width: 100%;
  border-collapse: collapse;
}
.figures th {
  text-align: left;
  font-weight: 400;
  padding: 4px 6px 4px 0;
}
.figures td {
  vertical-align: top;
  padding: 4px 0;
}
.figures .wire {
  font-weight: 500;
  font-size: 12.5px;
}
.caution {
  border-left: 3px solid var(--wait);
  padding-left: 8px;
  margin-top: 6px;
}
</style>
