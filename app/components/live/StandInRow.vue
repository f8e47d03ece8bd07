<script setup lang="ts">
/** One that runs on this computer: where it is, what can be opened, and how a shell reaches it. */
import { panels } from '../../../core/design/find'
import { isShell, isUdp, speaksRoutes, structureOn } from '../../../core/design/links/traits'
import type { Design } from '../../../core/design/schema'
import { shownWire, wireOf } from '../../../core/design/wire'
import type { StandInView } from '../../composables/stand-ins'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ standIn: StandInView }>()
const emit = defineEmits<{ stop: []; connect: [] }>()
const designs = useDesignStore()
const part = computed(() => designs.partOf(props.standIn.controllerId) ?? designs.design!)
const host = computed(() => props.standIn.address.replace(/^http:\/\//, '').replace(/:\d+$/, ''))
const shell = ref(false)

/** Lines to type in a shell: the real routes of the design. */
function curls(design: Design, { address, datagramPorts }: StandInView): string[] {
  const link = design.links.find(speaksRoutes)
  const [first] = link?.messages ?? []
  const post = speaksRoutes(link) && link.method === 'post' ? '-X POST ' : ''
  const http = speaksRoutes(link)
    ? [
        ...(first ? [`curl ${post}${address}${Object.values(first.codes)[0]}`] : []),
        `curl ${address}${link.askRoute}`,
      ]
    : []
  const udp = design.links.flatMap(l =>
    isUdp(l) && !structureOn(l) && datagramPorts[l.id]
      ? [
          `printf '${shownWire(l, wireOf(l, l.askCode, 'command'))}' | nc -u -w1 ${host.value} ${datagramPorts[l.id]}`,
        ]
      : [],
  )
  return [...http, ...udp]
}
/** A person types there; other ports are for programs. */
const isConsole = (linkId: string) => part.value.links.some(l => l.id === linkId && isShell(l))
const lines = computed(() => curls(part.value, props.standIn))
</script>

<template>
  <article>
    <header>
      <h2 class="wire">{{ standIn.address }}</h2>
      <span v-if="designs.parts.length > 1">{{ part.controllers[0]?.name }}</span>
      <span v-if="standIn.runs === 'program'" class="runs" role="status"
        >the program itself<template v-if="standIn.phase === 'making'">, being compiled</template
        ><template v-else-if="standIn.phase === 'ended'">, ended</template></span
      >
      <span v-if="standIn.fingerprint === designs.fingerprint" class="agrees"
        ><StateGlyph state="in step" /> table {{ standIn.fingerprint }}, as designed</span
      >
      <span v-else class="differs agrees"
        ><StateGlyph state="stale" /> table {{ standIn.fingerprint }}, the design is at
        {{ designs.fingerprint }}: start a new one</span
      >
      <span class="push">
        <el-button
          v-if="standIn.phase === 'running'"
          size="small"
          title="Speak over its links in the place of the panels"
          @click="emit('connect')"
          >Connect its links</el-button
        >
        <el-button size="small" @click="emit('stop')">{{
          standIn.phase === 'making' ? 'Call it off' : 'Stop'
        }}</el-button>
      </span>
    </header>
    <pre v-if="standIn.phase === 'ended'" class="differs words" role="alert">{{
      standIn.words
    }}</pre>
    <p v-else-if="standIn.words" class="second small words">{{ standIn.words }}</p>
    <p class="open">
      <a :href="`${standIn.address}/_wall`" target="_blank" rel="noopener"
        >Wall controls and lamps</a
      >
      <a
        v-for="p in panels(part)"
        :key="p.id"
        :href="`${standIn.address}/panel/${p.id}`"
        target="_blank"
        rel="noopener"
        >{{ p.name }}</a
      >
      <button
        v-if="lines.length || Object.keys(standIn.serialPorts).length"
        type="button"
        class="plain second"
        :aria-expanded="shell"
        @click="shell = !shell"
      >
        {{ shell ? 'Hide its ports' : 'Its ports, for programs and shells' }}
      </button>
      <span class="second small push">{{ standIn.clients }} on its event stream</span>
    </p>
    <div v-if="shell" class="shell">
      <p v-for="({ port, path }, linkId) in standIn.serialPorts" :key="linkId" class="port">
        {{ part.links.find(l => l.id === linkId)?.name }}
        <code v-if="path">{{ path }}</code>
        <code>{{ isConsole(linkId) ? `nc ${host} ${port}` : `${host}:${port}` }}</code>
      </p>
      <p v-for="line in lines" :key="line">
        <code>{{ line }}</code>
      </p>
    </div>
  </article>
</template>

<style scoped>
article {
  padding: 8px 20px;
  border-bottom: 1px solid var(--rule);
}
header,
.open,
.port {
  display: flex;
  gap: 4px 16px;
  align-items: center;
  flex-wrap: wrap;
}
header h2 {
  font-size: 15px;
}
.push {
  margin-left: auto;
}
.words {
  margin: 4px 0;
  white-space: pre-wrap;
}
.agrees {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.shell p {
  margin: 3px 0;
}
</style>
