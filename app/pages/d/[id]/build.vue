<script setup lang="ts">
import { buildFiles, buildZip, type BuiltFile } from '../../../../core/sides/files'
import { useDesignStore } from '../../../stores/design'
import { useFindingsStore } from '../../../stores/findings'

const designs = useDesignStore()
const findings = useFindingsStore()
const { dates, refused, reveal } = useSecrets(() => designs.design?.id ?? '')
/** Secrets are in what is built only while this is ticked. */
const ticked = ref(false)
const secrets = ref<Record<string, string>>({})
watch(ticked, async yes => {
  secrets.value = {}
  if (!yes) return
  const guard = await ask<{ guarded: boolean }>('/api/devices')
  const code = guard.ok && guard.value.guarded ? await askCode() : await sure()
  if (code !== null) secrets.value = await reveal(code)
  if (code === null || refused.value) ticked.value = false
})
async function sure(): Promise<undefined | null> {
  const yes = await ElMessageBox.confirm(
    'Whoever gets these files can switch what the links switch. Only the files hold the secrets, and only until you leave this view.',
    'Secrets of the links into the files?',
    { confirmButtonText: 'Put them in', cancelButtonText: 'Leave them out' },
  ).catch(() => null)
  return yes === null ? null : undefined
}
/** Over the network somebody else may sit at a paired device: the code is asked for again. */
async function askCode(): Promise<string | null> {
  const given = await ElMessageBox.prompt(
    'The pairing code of the moment: it stands in the terminal where Nolvi was started.',
    'Secrets of the links',
    {
      inputPattern: /^\d{3} ?\d{3}$/,
      inputErrorMessage: 'six digits',
      confirmButtonText: 'Show them in the build',
    },
  ).catch(() => null)
  return given === null ? null : String((given as { value: string }).value)
}
const files = computed(() => (designs.design ? buildFiles(designs.design, secrets.value) : []))
const name = ref('')
const file = computed(() => files.value.find(f => f.name === name.value) ?? files.value[0])
const asText = ref(false)
/** The page itself, told that it is only looked at. */
const previewed = (text: string) =>
  text.replace('<link rel="icon"', '<meta name="nolvi-preview" content=""><link rel="icon"')
/** The page that shows it has no origin and reaches nothing; it gets the text and becomes it. */
function preview(event: Event, text: string): void {
  ;(event.target as HTMLIFrameElement).contentWindow?.postMessage(previewed(text), '*')
}

function saveFile(f: BuiltFile): void {
  handOver(f.name, f.text, f.type)
}
function saveAll(): void {
  if (designs.design)
    handOver(`${designs.design.id}.zip`, buildZip(designs.design, secrets.value), 'application/zip')
}
const size = (text: string) => {
  const bytes = new TextEncoder().encode(text).length
  return bytes < 100 ? `${bytes} B` : `${(bytes / 1000).toFixed(1)} kB`
}
</script>

<template>
  <div v-if="designs.design" class="build">
    <div class="strip">
      <el-button type="primary" @click="saveAll">Take all away as ZIP</el-button>
      <span class="second"
        >Every file carries the fingerprint <code>{{ designs.fingerprint }}</code>; sides with
        different fingerprints do not understand each other.</span
      >
      <el-checkbox v-if="Object.keys(dates).length" v-model="ticked">with secrets</el-checkbox>
      <span v-if="refused" class="differs" role="alert">{{ refused }}</span>
      <span v-if="findings.stops" class="differs push"
        >{{ findings.stops }} stop {{ findings.stops === 1 ? 'finding' : 'findings' }} open</span
      >
    </div>
    <div class="body">
      <div class="list">
        <table class="ruled">
          <thead>
            <tr>
              <th>Side</th>
              <th class="number">Size</th>
              <th />
            </tr>
          </thead>
          <tbody>
            <tr v-for="f in files" :key="f.name" :class="{ chosen: f.name === file?.name }">
              <td>
                <button type="button" class="plain" @click="name = f.name">
                  <strong>{{ f.side }}</strong><br /><span class="wire second">{{ f.name }}</span>
                </button>
              </td>
              <td class="number">{{ size(f.text) }}</td>
              <td class="number">
                <el-button size="small" :aria-label="`Take away ${f.name}`" @click="saveFile(f)"
                  >Take</el-button
                >
              </td>
            </tr>
          </tbody>
        </table>
        <p class="second small">
          The sketch is for boards of the 8-bit class with a serial Bluetooth module. HTTP links are
          served by a stand-in; a program for a network board is not made yet.
        </p>
        <p class="second small">
          Mains, heat, gas and motors: wiring by a qualified person, to the local code. A panel
          never replaces an emergency stop.
        </p>
      </div>
      <div v-if="file" class="preview">
        <div class="preview-head">
          <code>{{ file.name }}</code>
          <el-checkbox
            v-if="file.type === 'text/html' || file.type === 'image/svg+xml'"
            v-model="asText"
            >as text</el-checkbox
          >
        </div>
        <iframe
          v-if="file.type === 'text/html' && !asText"
          :key="file.text"
          src="/preview.html"
          sandbox="allow-scripts"
          :title="file.side"
          @load="preview($event, file.text)"
        />
        <div v-else-if="file.type === 'image/svg+xml' && !asText" class="drawing" tabindex="0">
          <img :src="`data:image/svg+xml;utf8,${encodeURIComponent(file.text)}`" :alt="file.side" />
        </div>
        <pre v-else tabindex="0">{{ file.text }}</pre>
      </div>
    </div>
  </div>
</template>

<style scoped>
.build {
  height: 100%;
  display: flex;
  flex-direction: column;
}
.body {
  flex: 1;
  display: grid;
  grid-template-columns: 400px minmax(0, 1fr);
  min-height: 0;
}
.list {
  padding: 8px 20px;
  overflow: auto;
  border-right: 1px solid var(--rule-strong);
  display: grid;
  gap: 12px;
  align-content: start;
}
tr.chosen > * {
  background: var(--raised);
  box-shadow: inset 3px 0 var(--ink);
}
tr.chosen > * + * {
  box-shadow: none;
}
td:first-child {
  padding-left: 10px !important;
}
.preview {
  display: flex;
  flex-direction: column;
  min-width: 0;
}
.preview-head {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 8px 16px;
  border-bottom: 1px solid var(--rule);
  min-height: 43px;
}
iframe {
  flex: 1;
  border: 0;
  background: #fff;
}
pre {
  flex: 1;
  margin: 0;
  padding: 14px 16px;
  overflow: auto;
  font: 13px/1.5 var(--mono);
  background: var(--raised);
}
@media (max-width: 900px) {
  .body {
    grid-template-columns: 1fr;
  }
  .preview {
    min-height: 500px;
  }
}
.drawing {
  overflow: auto;
  background: #fff;
  flex: 1;
}
</style>
