<script setup lang="ts">
import {
  buildFiles,
  buildZip,
  HEX,
  PLACES,
  zipOf,
  type BuiltFile,
  type Place,
} from '../../../../core/sides/files'
import { parts } from '../../../../core/design/part'
import { beforeUpload } from '../../../../core/sides/wiring-sheet'
import type { Design } from '../../../../core/design/schema'
import type { Target } from '../../../../core/boards/classes'
import {
  isSmall,
  programmed,
  programmedFront,
  targetOf,
} from '../../../../core/sides/program/can-program'
import { imageFit } from '../../../../core/sides/program/image-fit'
import { programRoom, type ProgramRoom } from '../../../../core/sides/program/room'
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
const WHERE: Record<Place, { title: string; hint: string }> = {
  board: { title: 'To the board', hint: 'what it runs, and papers beside it' },
  screen: { title: 'To phones and browsers', hint: 'pages that work alone' },
  wall: { title: 'To the wall', hint: 'to print' },
  papers: { title: 'To your papers', hint: 'and to whoever writes another side' },
}
const places = computed(() =>
  PLACES.map(goes => ({ ...WHERE[goes], files: listed.value.filter(f => f.goes === goes) })).filter(
    p => p.files.length,
  ),
)
const chosen = computed(() => listed.value.find(f => f.name === name.value) ?? listed.value[0])
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
  const own = board && (programmed(board.part) ?? board.part)
  const part = board && ahead ? programmedFront(board.part) : own
  return board && part ? { ...board, part } : null
}
/** How much of its board a program takes. */
const rooms = computed(
  () =>
    new Map(
      listed.value.flatMap(f => {
        const board = boardOf(f)
        return board ? [[f.name, aboutProgram(f, board.part)] as const] : []
      }),
    ),
)
function aboutProgram(f: BuiltFile, part: Design): string {
  if (f.type === HEX) return 'goes onto the board as it is, without a compiler'
  const target = targetOf(part)
  if (target && target !== 'avr8') return HOW_COMPILED[target]
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
const kilobytes = (bytes: number) => (bytes / 1000).toFixed(1)
const roomWords = ({ flash, memory, has }: ProgramRoom) =>
  `about ${kilobytes(flash)} of ${kilobytes(has.flash)} kB of flash, ${kilobytes(memory)} of ${kilobytes(has.memory)} kB of memory`
/** The board whose program is looked at. */
const boardOfChosen = computed(() => (chosen.value ? boardOf(chosen.value) : null))
const uploading = ref(false)
const checklist = computed(() =>
  boardOfChosen.value ? beforeUpload(boardOfChosen.value.part) : [],
)
/** The ready-made program of the board that is looked at. */
const madeForChosen = computed(() => {
  const id = boardOfChosen.value?.controller.id
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
      <div class="list">
        <table class="ruled">
          <tbody v-for="place in places" :key="place.title">
            <tr>
              <th colspan="3" scope="colgroup">
                {{ place.title }} <span class="second plainly">{{ place.hint }}</span>
              </th>
            </tr>
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
        <p class="second small">
          Programs are made for boards of the 8-bit class (ready-made, to be written onto the board
          from here, or as a folder), for boards with Wi-Fi (a folder for the usual sketch
          environment), for Linux computers (sources with a Makefile) and for routers (a script).
          Others are played by a stand-in until theirs are made.
        </p>
        <p class="second small">
          Mains, heat, gas and motors: wiring by a qualified person, to the local code. A panel
          never replaces an emergency stop.
        </p>
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
          <el-button
            v-if="boardOfChosen && isSmall(boardOfChosen.part) && (file.type !== HEX || asText)"
            size="small"
            @click="uploading = true"
            >Write onto the board…</el-button
          >
          <el-checkbox
            v-if="['text/html', 'image/svg+xml', HEX].includes(file.type)"
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
        <div v-else-if="file.type === HEX && !asText && boardOfChosen" class="ready">
          <h2>Ready for {{ boardOfChosen.controller.name }}</h2>
          <p>
            The engine for boards of the 8-bit class was compiled beforehand; what
            {{ designs.design.name }} is stands in it as a table. Nothing has to be compiled.
          </p>
          <p>
            <el-button type="primary" @click="uploading = true">Write onto the board…</el-button>
            <NuxtLink :to="`/d/${designs.design.id}/bench?board`" class="el-button"
              >Try it on the emulated board</NuxtLink
            >
          </p>
          <p class="second small">
            Or take the HEX and write it with the tool that you know. {{ heldTrue }}
          </p>
        </div>
        <pre v-else tabindex="0">{{ file.text }}</pre>
      </div>
      <UploadBoard
        v-if="boardOfChosen"
        v-model="uploading"
        :controller-id="boardOfChosen.controller.id"
        :name="boardOfChosen.controller.name"
        :checklist="checklist"
        :made="madeForChosen"
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
.room {
  display: block;
}
.plainly {
  font-weight: 400;
}
.ready {
  display: grid;
  gap: 14px;
  align-content: start;
  flex: 1;
  overflow: auto;
  padding: 22px 24px;
  background: var(--raised);
}
.ready p {
  max-width: 62ch;
}
.ready a {
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
