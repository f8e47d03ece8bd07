<script setup lang="ts">
import { destinations } from '../../../../core/sides/destinations'
import { buildFiles, buildZip, HEX, zipOf, type BuiltFile } from '../../../../core/sides/files'
import { parts } from '../../../../core/design/part'
import { beforeUpload } from '../../../../core/sides/wiring-sheet'
import type { Design } from '../../../../core/design/schema'
import type { Target } from '../../../../core/boards/classes'
import {
  enginesOf,
  isSmall,
  programmedFront,
  targetOf,
} from '../../../../core/sides/program/can-program'
import { imageFit } from '../../../../core/sides/program/image-fit'
import { programRoom, type ProgramRoom } from '../../../../core/sides/program/room'
import { wifiRoom, type WifiRoom } from '../../../../core/sides/program/wifi-room'
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
/** Files of a program lie within one that stands for them. */
const listed = computed(() => files.value.filter(f => !f.within))
const places = computed(() => (designs.design ? destinations(designs.design, files.value) : []))
const placeId = ref('')
const place = computed(() => places.value.find(p => p.id === placeId.value) ?? places.value[0])
/** null: what has to be done there, which comes first where something has. */
const chosen = computed(() => {
  const { files: there = [], steps = [] } = place.value ?? {}
  return there.find(f => f.name === name.value) ?? (steps.length ? null : (there[0] ?? null))
})
function goTo(id: string): void {
  placeId.value = id
  name.value = ''
}
const written = useWritten(() => designs.design?.id ?? '')
/** What was written onto a board last, where it was from here. */
const lastOn = (id: string | undefined) => (id === undefined ? null : written.last.value.get(id))
const folderOf = (f: BuiltFile) => files.value.filter(x => x === f || x.within === f.name)
const folder = computed(() => (chosen.value ? folderOf(chosen.value) : []))
const inFolder = ref('')
watch(chosen, () => {
  inFolder.value = ''
})
const file = computed(() => folder.value.find(f => f.name === inFolder.value) ?? chosen.value)
/** The board that a program is for. */
const boards = computed(() => (designs.design ? parts(designs.design) : []))
function boardOf({ controllerId, ahead }: BuiltFile) {
  const board = boards.value.find(({ controller }) => controller.id === controllerId)
  const engines = board ? enginesOf(board.part) : []
  const part = board && ahead ? programmedFront(board.part) : (engines[0] ?? board?.part)
  return board && part ? { ...board, part, engines: ahead ? [part] : engines } : null
}
/** How much of its board a program takes. */
const rooms = computed(
  () =>
    new Map(
      listed.value.flatMap(f => {
        const board = boardOf(f)
        return board ? [[f.name, aboutProgram(f, board)] as const] : []
      }),
    ),
)
function aboutProgram(
  f: BuiltFile,
  { part, engines }: { part: Design; engines: Design[] },
): string {
  if (f.type === HEX) return 'goes onto the board as it is, without a compiler'
  const target = targetOf(part)
  if (target && target !== 'avr8') {
    const room = wifiRoom(engines)
    return room ? wifiWords(room) : HOW_COMPILED[target]
  }
  const room = programRoom(part)
  const words = room ? roomWords(room) : ''
  if (listed.value.some(x => x.type === HEX && x.controllerId === f.controllerId)) return words
  const { lacks } = imageFit(part)
  const why = lacks.length
    ? `no ready-made one has room for ${lacks.join('; ')}`
    : 'the ready-made one is made with secrets in it: tick them in'
  return [words, why].filter(Boolean).join('; ')
}
const BY_ENVIRONMENT = "compiled by the usual sketch environment; with the vendor's tools never yet"
/** Who compiles what is not ready-made. */
const HOW_COMPILED: Record<Exclude<Target, 'avr8'>, string> = {
  linux: 'compiled on the computer itself by "make"; its lines were files so far',
  router: 'a script, nothing is compiled; its lines were files so far',
  'wifi-small': BY_ENVIRONMENT,
  'wifi-sockets': BY_ENVIRONMENT,
}
const roomOf = (f: BuiltFile) => rooms.value.get(f.name)
const whole = (bytes: number) => Math.round(bytes / 1000)
const kilobytes = (bytes: number) => (bytes / 1000).toFixed(1)
const roomWords = ({ flash, memory, has }: ProgramRoom) =>
  `about ${kilobytes(flash)} of ${kilobytes(has.flash)} kB of flash, ${kilobytes(memory)} of ${kilobytes(has.memory)} kB of memory`
/** Beside the environment, of which nothing is known here. */
const wifiWords = ({ code, table, pages, memory }: WifiRoom) =>
  `about ${whole(code + table + pages)} kB of flash${pages ? `, ${whole(pages)} of them pages` : ''}, ${whole(memory)} kB of memory, beside what its environment takes`
/** The first program of a place, and the board that it is for. */
const programHere = computed(() => place.value?.files.find(f => f.controllerId !== undefined))
const boardHere = computed(() => (programHere.value ? boardOf(programHere.value) : null))
/** How full it becomes, where its program is one of the 8-bit class. */
const room = computed(() => (boardHere.value ? programRoom(boardHere.value.part) : null))
const bars = computed(() =>
  room.value
    ? [
        { name: 'flash', of: room.value.flash, has: room.value.has.flash },
        { name: 'memory', of: room.value.memory, has: room.value.has.memory },
      ]
    : [],
)
/** How a program that is not ready-made comes onto it. */
const howMade = computed(() => {
  if (!programHere.value || madeHere.value) return ''
  const target = boardHere.value && targetOf(boardHere.value.part)
  const how = target && target !== 'avr8' ? HOW_COMPILED[target] : ''
  // Where nothing is known of its room, how it is made stands in its place.
  return [...new Set([roomOf(programHere.value), how])].filter(Boolean).join('; ')
})
const isWritten = computed(() => boardHere.value !== null && isSmall(boardHere.value.part))
const uploading = ref(false)
watch(uploading, isOpen => isOpen || written.refresh())
const checklist = computed(() => (boardHere.value ? beforeUpload(boardHere.value.part) : []))
/** Its ready-made program. */
const madeHere = computed(() => {
  const id = boardHere.value?.controller.id
  return files.value.find(f => f.type === HEX && f.controllerId === id) ?? null
})
const heldTrue =
  'It was held against the controller of the bench as machine code, on an emulated board; your wiring it has never seen.'
const pathOf = (f: BuiltFile) => (f.inZip ?? f.name).replace(/^[^/]*\//, '')
const asText = ref(false)
/** The page itself, told that it is only looked at. */
const previewed = (text: string) =>
  text.replace('<link rel="icon"', '<meta name="nolvi-preview" content=""><link rel="icon"')
/** The page that shows it has no origin and reaches nothing; it gets the text and becomes it. */
function preview(event: Event, text: string): void {
  ;(event.target as HTMLIFrameElement).contentWindow?.postMessage(previewed(text), '*')
}

/** A folder is taken away whole: its files do not work alone. */
function saveFile(f: BuiltFile): void {
  const all = folderOf(f)
  const secret = files.value.filter(x => x.inZip === `${(f.inZip ?? '').split('/')[0]}/secrets.h`)
  if (all.length === 1) handOver(f.name, f.text, f.type)
  else
    handOver(`${f.name.replace(/\.ino$/, '')}.zip`, zipOf([...all, ...secret]), 'application/zip')
}
function saveAll(): void {
  if (designs.design)
    handOver(`${designs.design.id}.zip`, buildZip(designs.design, secrets.value), 'application/zip')
}
const size = (of: readonly BuiltFile[]) => {
  const bytes = of.reduce((sum, f) => sum + new TextEncoder().encode(f.text).length, 0)
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
      <nav class="places" aria-label="Where the sides go">
        <button
          v-for="p in places"
          :key="p.id"
          type="button"
          class="plain"
          :aria-current="p.id === place?.id ? 'true' : undefined"
          @click="goTo(p.id)"
        >
          <strong>{{ p.name }}</strong>
          <span class="second small">{{ p.what }}</span>
          <span v-if="lastOn(p.ahead ? undefined : p.controllerId)" class="small state"
            ><template v-if="lastOn(p.controllerId) === designs.fingerprint"
              ><StateGlyph state="in step" /> as designed</template
            ><template v-else
              ><StateGlyph state="stale" /> older: {{ lastOn(p.controllerId) }}</template
            ></span
          >
        </button>
        <p class="second small">
          Mains, heat, gas and motors: wiring by a qualified person, to the local code. A panel
          never replaces an emergency stop.
        </p>
      </nav>
      <div v-if="place" class="list">
        <button
          v-if="place.steps.length"
          type="button"
          class="plain todo"
          :class="{ chosen: !chosen }"
          @click="name = ''"
        >
          <strong>What to do</strong>
          <span class="second small">{{ place.steps.length }} steps, in order</span>
        </button>
        <table class="ruled">
          <thead>
            <tr>
              <th>Files for it</th>
              <th class="number">size</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="f in place.files" :key="f.name" :class="{ chosen: f.name === chosen?.name }">
              <td>
                <button type="button" class="plain" @click="name = f.name">
                  <strong>{{ f.side }}</strong><br /><span class="wire second"
                    >{{ f.name
                    }}<template v-if="folderOf(f).length > 1">
                      and {{ folderOf(f).length - 1 }} more</template
                    ></span
                  ><span v-if="roomOf(f)" class="room second">{{ roomOf(f) }}</span>
                </button>
              </td>
              <td class="number">{{ size(folderOf(f)) }}</td>
              <td class="number">
                <el-button size="small" :aria-label="`Take away ${f.name}`" @click="saveFile(f)"
                  >Take</el-button
                >
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <div v-if="file" class="preview">
        <div class="preview-head">
          <el-select
            v-if="folder.length > 1"
            v-model="inFolder"
            :placeholder="pathOf(file)"
            size="small"
            aria-label="File of the program"
            class="in-folder"
          >
            <el-option v-for="f in folder" :key="f.name" :label="pathOf(f)" :value="f.name" />
          </el-select>
          <code v-else>{{ file.name }}</code>
          <el-checkbox v-if="['text/html', 'image/svg+xml'].includes(file.type)" v-model="asText"
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
      <div v-else-if="place" class="guide">
        <h2>{{ boardHere ? `Put it onto ${place.name}` : place.name }}</h2>
        <p v-if="madeHere">
          The engine for boards of the 8-bit class was compiled beforehand; what
          {{ designs.design.name }} is stands in it as a table. Nothing has to be compiled.
        </p>
        <dl v-if="bars.length" class="bars">
          <template v-for="bar in bars" :key="bar.name">
            <dt>{{ bar.name }}</dt>
            <dd>
              <div
                class="bar"
                role="meter"
                :aria-label="bar.name"
                aria-valuemin="0"
                :aria-valuemax="bar.has"
                :aria-valuenow="bar.of"
              >
                <i :style="{ width: `${Math.min(100, (100 * bar.of) / bar.has)}%` }" />
              </div>
              <span class="wire">about {{ kilobytes(bar.of) }} of {{ kilobytes(bar.has) }} kB</span>
            </dd>
          </template>
        </dl>
        <p v-if="isWritten" class="does">
          <el-button type="primary" @click="uploading = true">Write onto the board…</el-button>
          <NuxtLink v-if="madeHere" :to="`/d/${designs.design.id}/bench?board`" class="el-button"
            >Try it on the emulated board</NuxtLink
          >
        </p>
        <ol class="steps">
          <li v-for="step in place.steps" :key="step">{{ step }}</li>
        </ol>
        <template v-if="place.reach.length">
          <h3 class="title">From where it works</h3>
          <ul class="steps">
            <li v-for="from in place.reach" :key="from">{{ from }}</li>
          </ul>
        </template>
        <p v-if="howMade" class="second small">Its program: {{ howMade }}.</p>
        <p v-if="madeHere" class="second small">
          Or take the HEX and write it with the tool that you know. {{ heldTrue }}
        </p>
      </div>
      <UploadBoard
        v-if="boardHere"
        v-model="uploading"
        :controller-id="boardHere.controller.id"
        :name="boardHere.controller.name"
        :checklist="checklist"
        :made="madeHere"
      />
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
  grid-template-columns: 216px 360px minmax(0, 1fr);
  min-height: 0;
}
.list {
  padding: 14px 20px;
  overflow: auto;
  grid-auto-rows: max-content;
  border-right: 1px solid var(--rule-strong);
  display: grid;
  gap: 12px;
  align-content: start;
}
.todo {
  display: grid;
  gap: 2px;
  justify-items: start;
  text-align: left;
  padding: 8px 10px;
}
.todo.chosen {
  background: var(--raised);
  box-shadow: inset 3px 0 var(--ink);
}
.places {
  overflow: auto;
  border-right: 1px solid var(--rule-strong);
  display: grid;
  grid-auto-rows: max-content;
  align-content: start;
}
.places button {
  display: grid;
  gap: 2px;
  justify-items: start;
  text-align: left;
  padding: 10px 12px 10px 20px;
  border-bottom: 1px solid var(--rule);
}
.places button[aria-current] {
  background: var(--raised);
  box-shadow: inset 3px 0 var(--ink);
}
.places p {
  padding: 14px 12px 14px 20px;
}
.state {
  display: inline-flex;
  gap: 5px;
  align-items: center;
}
.bars {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 4px 10px;
  margin: 0;
  align-items: center;
}
.bars dd {
  margin: 0;
  display: flex;
  gap: 10px;
  align-items: center;
}
.bar {
  width: 220px;
  height: 12px;
  border: 1px solid var(--ink);
}
.bar i {
  display: block;
  height: 100%;
  background: var(--ink);
}
.steps {
  margin: 0;
  padding-left: 22px;
  display: grid;
  gap: 5px;
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
.room {
  display: block;
}
.guide {
  display: grid;
  gap: 14px;
  align-content: start;
  overflow: auto;
  padding: 18px 24px;
}
.guide > * {
  max-width: 68ch;
}
.guide h2 {
  font-size: 18px;
}
.guide p {
  margin: 0;
}
.guide a {
  text-decoration: none;
}
.in-folder {
  width: 220px;
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
  .build {
    height: auto;
  }
  .body {
    grid-template-columns: minmax(0, 1fr);
  }
  .places,
  .list {
    border-right: 0;
    border-bottom: 1px solid var(--rule-strong);
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
