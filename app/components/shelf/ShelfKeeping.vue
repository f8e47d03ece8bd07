<script setup lang="ts">
/**
 * What belongs to all designs together: one file with everything, back from such a file, and
 * devices that may come in over the network.
 */
import { count } from '../../../core/units/format'

interface Device {
  id: number
  name: string
  pairedAt: string
  me: boolean
}
interface Restored {
  at: string
  counts: { designs: number; revisions: number }
  locked: number
}

const emit = defineEmits<{ restored: [] }>()
const file = useTemplateRef<HTMLInputElement>('file')
const says = ref('')
const wrong = ref(false)
const busy = ref(false)
const network = ref<{ code: string; devices: Device[] } | null>(null)

async function look(): Promise<void> {
  const answer = await ask<{ guarded: false } | { guarded: true; code: string; devices: Device[] }>(
    '/api/devices',
  )
  network.value = answer.ok && answer.value.guarded ? answer.value : null
}
async function take(event: Event): Promise<void> {
  const [chosen] = (event.target as HTMLInputElement).files ?? []
  if (file.value) file.value.value = ''
  if (!chosen) return
  const yes = await ElMessageBox.confirm(
    `Every design, its changes and records are replaced by those in ${chosen.name}. What is here now is backed up before.`,
    'Restore this backup?',
    { confirmButtonText: 'Restore it', cancelButtonText: 'Leave all as it is' },
  ).catch(() => null)
  if (!yes) return
  busy.value = true
  const answer = await sendFile<Restored>('/api/restore', chosen, 'application/gzip')
  busy.value = false
  wrong.value = !answer.ok
  says.value = !answer.ok
    ? refusalWords(answer.refusal)
    : `Restored as it was on ${whenWords(answer.value.at)}: ${count(answer.value.counts.designs)} designs, ${count(answer.value.counts.revisions)} changes.${answer.value.locked ? ` ${count(answer.value.locked)} secrets of links were sealed with another key: set them again.` : ''}`
  if (answer.ok) emit('restored')
}
async function withdraw(device: Device): Promise<void> {
  await ask(`/api/devices/${device.id}`, { method: 'DELETE' })
  if (device.me) location.reload()
  else await look()
}
onMounted(look)
</script>

<template>
  <footer class="keeping">
    <section>
      <h2>Backup</h2>
      <p class="second">One is made every day in the data folder and read back whole.</p>
      <div class="does">
        <a class="el-button el-button--default" href="/api/backup" download>Save one now</a>
        <el-button :loading="busy" @click="file?.click()">Restore one</el-button>
        <input
          ref="file"
          type="file"
          accept=".gz,application/gzip"
          class="visually-hidden"
          aria-label="Backup file"
          tabindex="-1"
          @change="take"
        />
      </div>
      <p v-if="says" :class="{ differs: wrong }" role="status">{{ says }}</p>
    </section>
    <section v-if="network">
      <h2>Devices</h2>
      <p class="second">
        Nolvi listens on the network. A device needs this code, once:
        <strong class="code">{{ network.code.slice(0, 3) }} {{ network.code.slice(3) }}</strong>
      </p>
      <ul>
        <li v-for="d in network.devices" :key="d.id">
          <span>{{ d.name }}<template v-if="d.me"> (this one)</template></span>
          <span class="second">since {{ dayWords(d.pairedAt) }}</span>
          <el-button size="small" :aria-label="`Withdraw the key of ${d.name}`" @click="withdraw(d)"
            >Withdraw</el-button
          >
        </li>
      </ul>
      <p class="second small">
        What goes over the network is not encrypted: who can listen in on it can take a key. Use it
        in a network you trust.
      </p>
    </section>
  </footer>
</template>

<style scoped>
.keeping {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(280px, 1fr));
  gap: 28px;
  border-top: 1px solid var(--rule);
  padding-top: 18px;
}
section {
  display: grid;
  gap: 8px;
  align-content: start;
}
h2 {
  font-size: 15px;
  margin: 0;
}
p {
  margin: 0;
}
.does {
  display: flex;
  gap: 8px;
}
.does :deep(.el-button),
.does .el-button {
  margin: 0;
  text-decoration: none;
}
.code {
  font-size: 18px;
  font-variant-numeric: tabular-nums;
  color: var(--ink);
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 12px;
  align-items: center;
  padding: 4px 0;
}
</style>
