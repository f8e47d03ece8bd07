<script setup lang="ts">
/** The last messages of a stand-in, decoded. */
import { useIntervalFn } from '@vueuse/core'
import { hasBareCodes, shownWire } from '../../../core/design/wire'
import { explain, meansOf } from '../../../core/messages/explain'
import type { Design } from '../../../core/design/schema'
import { seconds } from '../../../core/units/format'
import { speaksRoutes } from '../../../core/design/links/traits'

interface Line {
  atMs: number
  linkId: string
  dir: 'up' | 'down'
  text: string
}

const props = defineProps<{ design: Design; standInId: string }>()
const lines = ref<Line[]>([])
const SHOWN = 14

useIntervalFn(
  async () => {
    const answer = await ask<{ traffic: Line[] }>(
      `/api/designs/${props.design.id}/stand-ins/${props.standInId}`,
    )
    if (answer.ok) lines.value = answer.value.traffic.slice(-SHOWN).reverse()
  },
  1000,
  { immediate: true, immediateCallback: true },
)

function says(line: Line): string {
  const link = props.design.links.find(l => l.id === line.linkId)
  if (!link || line.dir !== 'up') return ''
  if (link.auth.kind !== 'none') return meansOf(props.design, link, line.text)
  const { bytes } = explain(props.design, link, line.text)
  // Of messages with an end only the last byte says something.
  return bytes
    .map(b => b.says)
    .filter(
      s => speaksRoutes(link) || hasBareCodes(link) || s.includes('" = ') || s.includes('no code'),
    )
    .join('; ')
}
function shown(line: Line): string {
  const link = props.design.links.find(l => l.id === line.linkId)
  return (link ? shownWire(link, line.text) : line.text).replaceAll('\n', ' ')
}
</script>

<template>
  <section>
    <h3 class="title">Traffic, newest first</h3>
    <p v-if="!lines.length" class="second">Nothing yet.</p>
    <ul>
      <li v-for="(line, i) in lines" :key="i">
        <span class="second small time">{{ seconds(line.atMs) }}</span>
        {{ ' ' }}
        <span :aria-label="line.dir === 'up' ? 'to the board' : 'from the board'">{{
          line.dir === 'up' ? '→' : '←'
        }}</span>
        {{ ' ' }}
        <code>{{ shown(line) }}</code> <span class="second small">{{ says(line) }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 4px 0;
  padding: 0;
}
li {
  padding: 2px 0;
  overflow-wrap: anywhere;
}
.time {
  display: inline-block;
  min-width: 62px;
}
</style>
