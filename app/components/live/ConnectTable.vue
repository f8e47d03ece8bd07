<script setup lang="ts">
/** By which way each link of the design is reached; nothing is opened before it is pressed. */
import { farSurfaces } from '../../../core/design/find'
import {
  hasSpeed,
  isBluetooth,
  isLowEnergy,
  isUdp,
  speaksRoutes,
} from '../../../core/design/links/traits'
import { linkRow } from '../../../core/design/links/rows'
import type { Design, Link } from '../../../core/design/schema'
import type { LiveState, Reached } from '../../composables/live'
import { onChip, openChip } from '../../composables/chip-port'
import { closePagePort, openPagePort } from '../../composables/page-port'
import type { ServerPort } from '../../composables/server-upload'
import { useDesignStore } from '../../stores/design'
import type { StandInView } from '../../composables/stand-ins'

const props = defineProps<{ design: Design; live: LiveState; standIns: readonly StandInView[] }>()
const designs = useDesignStore()
const emit = defineEmits<{ connected: [] }>()

interface Choice {
  value: string
  label: string
  reached: Reached
}
const ports = ref<ServerPort[]>([])
const chosen = ref<Record<string, string>>({})
const said = ref<Record<string, string>>({})
onMounted(async () => {
  ports.value = await serverPorts()
})

function choices(link: Link): Choice[] {
  const here = props.standIns
    .filter(s => s.phase === 'running' && hasPort(s, link))
    .map(s => ({
      value: `here ${s.id}`,
      label: s.runs === 'program' ? 'the program itself' : `stand-in ${new URL(s.address).port}`,
      reached: { by: 'here' as const, standIn: s.id },
    }))
  const serial = hasSpeed(link) || isBluetooth(link)
  return [
    ...here,
    ...(speaksRoutes(link) || isUdp(link)
      ? [{ value: 'address', label: addressOf(link), reached: { by: 'address' as const } }]
      : []),
    ...(serial
      ? ports.value.map(({ path, name }) => ({
          value: `port ${path}`,
          label: name ? `${path}, ${name}` : path,
          reached: { by: 'port' as const, path },
        }))
      : []),
    ...(serial || isLowEnergy(link)
      ? [
          {
            value: 'page',
            label: isLowEnergy(link) ? 'Bluetooth of this browser' : 'a port of this browser',
            reached: { by: 'page' as const },
          },
        ]
      : []),
    ...(partFor(link) && onChip(partFor(link)!, link.id)
      ? [{ value: 'chip', label: 'the emulated board', reached: { by: 'page' as const } }]
      : []),
  ]
}
const partFor = (link: Link) => designs.partOf(link.controllerId)
const addressOf = (link: Link) =>
  speaksRoutes(link) ? link.address : isUdp(link) ? `${link.address}:${link.port}` : ''
function hasPort(s: StandInView, link: Link): boolean {
  if (link.controllerId !== s.controllerId) return false
  return speaksRoutes(link) || link.id in s.serialPorts || link.id in s.datagramPorts
}
const rows = computed(() =>
  props.design.links.map(link => {
    const of = choices(link)
    const value = of.some(c => c.value === chosen.value[link.id])
      ? chosen.value[link.id]!
      : (of[0]?.value ?? '')
    return {
      link,
      choices: of,
      value,
      // In whose place it speaks.
      as: farSurfaces(props.design).find(s => s.linkId === link.id && s.kind === 'panel')?.name,
      connection: props.live.view.value.connections.find(c => c.linkId === link.id),
    }
  }),
)

async function connect(link: Link, value: string): Promise<void> {
  const choice = choices(link).find(c => c.value === value)
  if (!choice) return
  // One at a time has a port of the browser.
  await closePagePort(link.id)
  const opened = await props.live.connect(link.id, choice.reached)
  if (!opened) return
  if (choice.reached.by !== 'page') return emit('connected')
  const part = partFor(link)
  openPagePort(
    link,
    `${props.live.base()}/${opened.id}`,
    words => {
      said.value = { ...said.value, [link.id]: words }
    },
    choice.value === 'chip' && part ? wire => openChip(part, link.id, wire) : undefined,
  )
}
</script>

<template>
  <table class="ruled">
    <caption class="visually-hidden">
      Links of the design and how they are reached
    </caption>
    <thead>
      <tr>
        <th scope="col">Link</th>
        <th scope="col">Reached through</th>
        <th scope="col">In the place of</th>
        <th scope="col"></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="r in rows" :key="r.link.id">
        <th scope="row">
          {{ r.link.name }}
          <span class="second small kind">{{ linkRow(r.link).words }}</span>
        </th>
        <td class="way">
          <el-select
            v-if="r.choices.length"
            :model-value="r.value"
            size="small"
            :aria-label="`How ${r.link.name} is reached`"
            @change="(v: string) => (chosen[r.link.id] = v)"
            ><el-option v-for="c in r.choices" :key="c.value" :value="c.value" :label="c.label"
          /></el-select>
          <span v-else class="second small"
            >Only through something that runs here: start a stand-in or the program.</span
          >
          <span v-if="said[r.link.id]" class="second small block">{{ said[r.link.id] }}</span>
        </td>
        <td class="as">{{ r.as ?? 'nobody: it listens' }}</td>
        <td class="act">
          <el-button
            v-if="r.connection"
            size="small"
            :aria-label="`Let ${r.link.name} go`"
            @click="live.letGo(r.connection.id)"
            >Let go</el-button
          >
          <el-button
            v-if="r.choices.length"
            size="small"
            :type="r.connection ? 'default' : 'primary'"
            :aria-label="`Connect ${r.link.name}`"
            @click="connect(r.link, r.value)"
            >{{ r.connection ? 'Connect anew' : 'Connect' }}</el-button
          >
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.kind {
  display: block;
  font-weight: 400;
}
.block {
  display: block;
}
.way {
  min-width: 220px;
}
.act {
  text-align: right;
  white-space: nowrap;
}
/* In the hand: each link with its way below it. */
@media (max-width: 700px) {
  table,
  tbody {
    display: block;
  }
  thead {
    display: none;
  }
  tr {
    display: grid;
    grid-template-columns: 1fr auto;
    gap: 6px 12px;
    padding: 8px 0;
    border-bottom: 1px solid var(--rule);
  }
  table tr > :is(th, td) {
    border: 0;
    padding: 0;
  }
  .way {
    grid-column: 1;
    min-width: 0;
  }
  .as {
    grid-area: 1 / 2;
    text-align: right;
    color: var(--second);
  }
}
</style>
