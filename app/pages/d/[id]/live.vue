<script setup lang="ts">
/**
 * What is real, beside the design: what boards say, what surfaces show, what crosses and how long
 * it takes. Stand-ins and programs run here in the place of boards.
 */
import { linkOf } from '../../../../core/design/find'
import { upperFirst } from '../../../../core/units/format'
import { useDesignStore } from '../../../stores/design'

const designs = useDesignStore()
const { list, refused, start, stop } = useStandIns(() => designs.design?.id ?? '')
const live = useLive(() => designs.design?.id ?? '')
const starting = ref<'stand-in' | 'program' | null>(null)
const reading = ref(false)

async function begin(runs: 'stand-in' | 'program'): Promise<void> {
  starting.value = runs
  await designs.flush()
  // A board that only asks others hangs on their walls.
  const own = designs.parts.filter(({ part }) => part.loads.length || part.links.length)
  const wanted = (own.length ? own : designs.parts).map(p => p.controller.id)
  await start(wanted, runs)
  starting.value = null
}
const connections = computed(() => live.view.value.connections)
/** Where nothing is connected, that is what there is to do; else it was asked for. */
const more = ref(false)
const none = computed(() => live.known.value && !connections.value.length)
const choosing = computed(() => more.value || none.value)
const linkName = (id: string) => linkOf(designs.design!, id).name
async function connectAll(standIn: string, controllerId: string): Promise<void> {
  await designs.flush()
  for (const link of designs.partOf(controllerId)?.links ?? [])
    await live.connect(link.id, { by: 'here', standIn })
}
const causes = computed(() =>
  connections.value.flatMap(c => c.causes.map(cause => ({ ...cause, of: c }))),
)
/** What a port says of itself may be one already. */
const sentence = (words: string) => (/[.!?]$/.test(words) ? words : `${words}.`)
/** Panels that somebody could look at, each over its connection. */
const inUse = computed(() =>
  connections.value.flatMap(c => {
    const panel = designs.design?.surfaces.find(s => s.id === c.as && s.kind === 'panel')
    return panel?.kind === 'panel' ? [{ connection: c, panel }] : []
  }),
)
/** Messages of what runs here are overheard where nothing is connected. */
const overheard = computed(() => (connections.value.length ? undefined : list.value[0]))
</script>

<template>
  <div v-if="designs.design" class="view">
    <div class="work">
      <div class="strip">
        <span v-for="c in connections" :key="c.id" class="chip"
          ><StateGlyph
            :state="
              !c.up
                ? 'stale'
                : c.agrees === false
                  ? 'stale'
                  : c.causes.length
                    ? 'unsure'
                    : 'in step'
            "
            :label="c.up ? 'connected' : 'not connected'"
          />
          <strong>{{ linkName(c.linkId) }}</strong>
          <span>{{ c.where }}</span>
          <span v-if="c.hello" class="second"
            >table <code>{{ c.hello.fingerprint }}</code>, start {{ c.hello.starts }}</span
          >
          <span v-if="c.fingerprint !== designs.fingerprint" class="differs"
            >with revision {{ c.revision }}: connect it anew</span
          >
          <button
            type="button"
            class="plain second"
            :aria-label="`Let ${linkName(c.linkId)} go`"
            @click="live.letGo(c.id)"
          >
            let go
          </button></span
        >
        <span v-if="!connections.length" class="second">Nothing is connected.</span>
        <span class="push">
          <template v-if="!connections.length || choosing"
            ><el-button :loading="starting === 'program'" @click="begin('program')"
              >Run the program itself</el-button
            >
            <el-button :loading="starting === 'stand-in'" @click="begin('stand-in')"
              >Start a stand-in</el-button
            ></template
          >
          <el-button :aria-expanded="reading" @click="reading = !reading">Read a capture</el-button>
          <el-button
            v-if="connections.length"
            type="primary"
            :aria-expanded="more"
            @click="more = !more"
            >Connect …</el-button
          >
        </span>
      </div>
      <div v-if="choosing" class="choosing">
        <ConnectTable :design="designs.design" :live="live" :stand-ins="list" />
      </div>
      <LiveCapture v-if="reading" :design="designs.design" @away="reading = false" />
      <p v-if="refused" class="differs note" role="alert">{{ refused }}</p>
      <p v-if="live.trouble.value" class="differs note" role="alert">{{ live.trouble.value }}</p>
      <StandInRow
        v-for="s in list"
        :key="s.id"
        :stand-in="s"
        @stop="stop(s.id)"
        @connect="connectAll(s.id, s.controllerId)"
      />
      <div v-for="(c, i) in causes" :key="i" class="cause" role="status">
        <StateGlyph :state="c.kind === 'lossy' || c.kind === 'restarts' ? 'unsure' : 'stale'" />
        <span
          ><strong>{{ linkName(c.of.linkId) }}:</strong> {{ sentence(c.words) }}
          <span class="second">{{ upperFirst(c.way) }}.</span></span
        >
      </div>
      <LiveSheet :design="designs.design" :live="live" :stand-ins="list" />
      <LiveTraffic v-if="connections.length" :design="designs.design" :live="live" />
      <div v-else-if="overheard" class="overheard">
        <TrafficList :design="designs.design" :stand-in-id="overheard.id" />
      </div>
    </div>
    <aside class="ticket" aria-label="Measured and tried">
      <LivePanel
        v-for="{ connection, panel } in inUse.slice(0, 1)"
        :key="`${connection.id} ${panel.id}`"
        :design="designs.design"
        :panel="panel"
        :connection="connection"
        :live="live"
      />
      <LiveCommissioning
        :design-id="designs.design.id"
        :live="live"
        :fingerprint="designs.fingerprint"
      />
      <LiveTrials v-if="connections.length" :design="designs.design" :live="live" />
      <LiveMeasured
        v-for="c in connections"
        :key="c.id"
        :link="linkOf(designs.design, c.linkId)"
        :connection="c"
        :live="live"
      />
      <section v-if="!connections.length">
        <h2>Without a board</h2>
        <p class="second small">
          A stand-in is a simulated controller on a port of its own: real routes and bytes, panel
          pages, wall controls to press. The program itself is what Build gives away for a board
          with a network, compiled and run on this computer.
        </p>
      </section>
    </aside>
  </div>
</template>

<style scoped>
.chip {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.choosing {
  padding: 8px 20px 14px;
  border-bottom: 1px solid var(--rule-strong);
  background: var(--raised);
}
.note {
  padding: 10px 20px;
}
.cause {
  display: flex;
  gap: 8px;
  align-items: baseline;
  margin: 8px 20px 0;
  padding: 8px 12px;
  border-left: 4px solid var(--differs);
  background: var(--raised);
}
.overheard {
  padding: 0 20px 16px;
}
.small {
  margin: 6px 0;
}
@media (max-width: 700px) {
  .push {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    margin-left: 0;
  }
  .push :deep(.el-button) {
    margin: 0;
  }
}
</style>
