<script setup lang="ts">
/**
 * Type or paste what a surface would send: every byte explained, what the board would do, what it
 * would answer.
 */
import { respond } from '../../../core/controller/respond'
import { explain, typed } from '../../../core/messages/explain'
import { practiceSecret, sealedText } from '../../../core/messages/sealing'
import { endOf, shownWire } from '../../../core/design/wire'
import { visible } from '../../../core/bytes/template'
import { maybeFarSurfaceOn } from '../../../core/design/find'
import type { Design, Link } from '../../../core/design/schema'
import { speaksBytes, speaksRoutes, structureOn } from '../../../core/design/links/traits'

const props = defineProps<{ design: Design; link: Link }>()
const serial = computed(() => speaksBytes(props.link))
const text = ref('')
const on = ref<string[]>([])
const bytes = computed(() => (text.value ? typed(props.link, text.value) : null))
const explained = computed(() =>
  bytes.value?.ok
    ? explain(props.design, props.link, serial.value ? bytes.value.text : text.value)
    : null,
)
const response = computed(() =>
  bytes.value?.ok ? respond(props.design, props.link.id, bytes.value.text, on.value) : null,
)
const hint = computed(() => {
  if (speaksRoutes(props.link)) return 'a route, such as /fan/on'
  if (structureOn(props.link)) return 'type bytes, such as 05 02 01 C0'
  const code = Object.values(props.link.messages[0]?.codes ?? {})[0] ?? ''
  if (props.link.auth.kind !== 'none' && code)
    return `type ${shownWire(props.link, sealedText(props.link, code, { secret: practiceSecret(props.link), counter: 1 }))}`
  const end = visible(endOf(props.link))
  return `type bytes, such as ${Object.values(props.link.messages[0]?.codes ?? {})[0] || 'E10'}${end}`
})
const shown = (linkId: string, answer: string) => {
  const link = props.design.links.find(l => l.id === linkId)
  return (link ? shownWire(link, answer) : answer).replaceAll('\n', ' ⏎ ')
}
const loads = computed(() =>
  props.design.loads.filter(l => props.link.messages.some(m => m.loadId === l.id)),
)
</script>

<template>
  <h2>Try it</h2>
  <el-input
    v-model="text"
    class="mono"
    :placeholder="hint"
    aria-label="What arrives at the board"
    maxlength="200"
    spellcheck="false"
  />
  <p v-if="bytes && !bytes.ok" class="differs small" role="alert">{{ bytes.message }}</p>
  <div v-if="loads.length" class="before">
    <span class="second small">On beforehand:</span>
    <el-checkbox-group v-model="on" size="small"
      ><el-checkbox v-for="l in loads" :key="l.id" :value="l.id" :label="l.name"
    /></el-checkbox-group>
  </div>
  <template v-if="explained && response">
    <section>
      <h3 class="title">{{ serial ? 'Byte by byte' : 'The route' }}</h3>
      <table class="ruled bytes">
        <tbody>
          <tr v-for="(b, i) in explained.bytes" :key="i">
            <th scope="row" class="wire">{{ b.char === ' ' ? '␣' : b.char }}</th>
            <td v-if="serial" class="wire second">{{ b.hex }}</td>
            <td>{{ b.says }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="explained.leftover" class="differs small">
        "{{ explained.leftover }}" waits for more bytes.
      </p>
    </section>
    <section>
      <h3 class="title">The board</h3>
      <p v-for="(d, i) in response.does" :key="i">{{ d }}</p>
      <p v-if="!response.does.length" class="second">changes nothing</p>
    </section>
    <section>
      <h3 class="title">Answers</h3>
      <p v-for="(a, i) in response.answers" :key="i">
        <code>{{ shown(a.linkId, a.text) }}</code>
        {{ ' ' }}
        <span v-if="a.status" class="second small">status {{ a.status }}</span
        ><span v-if="a.linkId !== link.id" class="second small">
          to {{ maybeFarSurfaceOn(design, a.linkId)?.name }}</span
        >
      </p>
      <p v-if="!response.answers.length" class="second">nothing</p>
    </section>
  </template>
  <p v-else class="second small hint">
    Nothing leaves this page: the same step that the controller runs is asked what it would do.
  </p>
</template>

<style scoped>
.before {
  margin: 10px 0 14px;
}
.before :deep(.el-checkbox) {
  display: flex;
}
.bytes th {
  width: 26px;
}
.hint {
  margin-top: 12px;
}
h3 {
  margin-bottom: 4px;
}
p {
  overflow-wrap: anywhere;
}
</style>
