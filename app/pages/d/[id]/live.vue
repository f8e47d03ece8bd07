<script setup lang="ts">
import { panels } from '../../../../core/design/find'
import type { Design } from '../../../../core/design/schema'
import { shownWire, wireOf } from '../../../../core/design/wire'
import type { StandInView } from '../../../composables/stand-ins'
import { valueWords } from '../../../../core/design/values'
import { isLit } from '../../../../core/panels/words'
import { useDesignStore } from '../../../stores/design'
import { isShell, isUdp, speaksRoutes, structureOn } from '../../../../core/design/links/traits'

const designs = useDesignStore()
const { list, refused, start, stop } = useStandIns(() => designs.design?.id ?? '')
const starting = ref<StandInView['runs'] | null>(null)

async function begin(runs: StandInView['runs']): Promise<void> {
  starting.value = runs
  await designs.flush()
  // A board that only asks others hangs on their walls.
  const own = designs.parts.filter(({ part }) => part.loads.length || part.links.length)
  const wanted = (own.length ? own : designs.parts).map(p => p.controller.id)
  await start(wanted, runs)
  starting.value = null
}
const hostOf = ({ address }: Pick<StandInView, 'address'>) =>
  address.replace(/^http:\/\//, '').replace(/:\d+$/, '')
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
  const host = hostOf({ address })
  const udp = design.links.flatMap(l =>
    isUdp(l) && !structureOn(l) && datagramPorts[l.id]
      ? [
          `printf '${shownWire(l, wireOf(l, l.askCode, 'command'))}' | nc -u -w1 ${host} ${datagramPorts[l.id]}`,
        ]
      : [],
  )
  return [...http, ...udp]
}
/** Why nobody knows what a load is. */
function unknownWords({ runs, phase }: StandInView): string {
  if (runs === 'stand-in') return 'not on this stand-in'
  return phase === 'making' ? 'not running yet' : 'without power'
}
/** A person types there; other ports are for programs. */
const isConsole = (s: StandInView, linkId: string) =>
  partOn(s).links.some(l => l.id === linkId && isShell(l))
const partOn = (s: StandInView) => designs.partOf(s.controllerId) ?? designs.design!
</script>

<template>
  <div v-if="designs.design" class="live">
    <div class="strip">
      <el-button type="primary" :loading="starting === 'stand-in'" @click="begin('stand-in')"
        >Start a stand-in</el-button
      >
      <el-button :loading="starting === 'program'" @click="begin('program')"
        >Run the program itself</el-button
      >
      <span class="second"
        >A stand-in is a simulated controller on a port of its own: real routes and bytes, panel
        pages, wall controls to press. The program itself is what Build gives away for a board with
        a network, compiled and run on this computer.</span
      >
    </div>
    <p v-if="refused" class="differs note" role="alert">{{ refused }}</p>
    <p v-if="!list.length" class="second note">
      Nothing runs for this design. Start a stand-in and press its wall controls.
    </p>
    <article v-for="s in list" :key="s.id">
      <header>
        <h2 class="wire">{{ s.address }}</h2>
        <span v-if="designs.parts.length > 1">{{ partOn(s).controllers[0]?.name }}</span>
        <span v-if="s.runs === 'program'" class="runs" role="status"
          >the program itself<template v-if="s.phase === 'making'">, being compiled</template
          ><template v-else-if="s.phase === 'ended'">, ended</template></span
        >
        <span v-if="s.fingerprint === designs.fingerprint" class="agrees"
          ><StateGlyph state="in step" /> table {{ s.fingerprint }}, as designed</span
        >
        <span v-else class="differs agrees"
          ><StateGlyph state="stale" /> table {{ s.fingerprint }}, the design is at
          {{ designs.fingerprint }}: start a new one</span
        >
        <el-button size="small" class="push" @click="stop(s.id)">{{
          s.phase === 'making' ? 'Call it off' : 'Stop'
        }}</el-button>
      </header>
      <pre v-if="s.phase === 'ended'" class="differs words" role="alert">{{ s.words }}</pre>
      <p v-else-if="s.words" class="second small words">{{ s.words }}</p>
      <div class="columns">
        <section>
          <h3 class="title">Open</h3>
          <p>
            <a :href="`${s.address}/_wall`" target="_blank" rel="noopener"
              >Wall controls and lamps</a
            >
          </p>
          <p v-for="p in panels(partOn(s))" :key="p.id">
            <a :href="`${s.address}/panel/${p.id}`" target="_blank" rel="noopener">{{ p.name }}</a>
          </p>
          <h3 v-if="Object.keys(s.serialPorts).length" class="title type">
            Serial ports, consoles
          </h3>
          <p v-for="({ port, path }, linkId) in s.serialPorts" :key="linkId" class="port">
            {{ partOn(s).links.find(l => l.id === linkId)?.name }}
            <code v-if="path">{{ path }}</code>
            <code>{{
              isConsole(s, linkId) ? `nc ${hostOf(s)} ${port}` : `${hostOf(s)}:${port}`
            }}</code>
          </p>
          <h3 v-if="curls(partOn(s), s).length" class="title type">Type in a shell</h3>
          <p v-for="line in curls(partOn(s), s)" :key="line">
            <code>{{ line }}</code>
          </p>
        </section>
        <section>
          <h3 class="title">Loads</h3>
          <p v-for="load in partOn(s).loads" :key="load.id" :data-load="load.id">
            {{ isLit(load.output, s.values[load.id] ?? '') ? '●' : '○' }} {{ load.name }}
            <strong>{{
              s.values[load.id] === undefined
                ? unknownWords(s)
                : valueWords(load.output, s.values[load.id]!)
            }}</strong>
          </p>
          <p class="second small">revision {{ s.revision }}; {{ s.clients }} connected</p>
        </section>
        <TrafficList :design="designs.design" :stand-in-id="s.id" />
      </div>
    </article>
  </div>
</template>

<style scoped>
.port {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
}
.note {
  padding: 16px 20px;
}
article {
  padding: 16px 20px;
  border-bottom: 1px solid var(--rule-strong);
}
article header {
  display: flex;
  gap: 16px;
  align-items: center;
  margin-bottom: 12px;
  flex-wrap: wrap;
}
article header h2 {
  font-size: 16px;
}
.push {
  margin-left: auto;
}
.words {
  margin: 0 0 12px;
  white-space: pre-wrap;
}
.agrees {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.columns {
  display: grid;
  grid-template-columns: minmax(240px, 1fr) minmax(200px, 1fr) minmax(280px, 1.3fr);
  gap: 24px;
}
.columns p {
  margin: 4px 0;
}
.type {
  margin-top: 12px;
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: 1fr;
  }
}
</style>
