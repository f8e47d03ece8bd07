<script setup lang="ts">
/**
 * Onto the board: the ready-made program, or one that was compiled by the sketch environment, is
 * written through a serial port of this browser or of the computer that Nolvi runs on, read back,
 * and kept in the log.
 */
import { upload, UploadFailed, USUAL_CHIP, type UploadProgress } from '../../../core/boards/upload'
import { fingerprintIn, type UploadRun } from '../../../core/boards/upload-record'
import { readHex } from '../../../core/bytes/intel-hex'
import { count } from '../../../core/units/format'
import type { ServerPort } from '../../composables/server-upload'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{
  controllerId: string
  name: string
  /** What is to be done by hand before, step by step. */
  checklist: readonly string[]
  /** The ready-made program as Intel HEX, and what it is called. */
  made: { name: string; text: string } | null
}>()
const open = defineModel<boolean>({ required: true })
const designs = useDesignStore()

/** Older boards of the class have a loader that speaks more slowly. */
const BAUDS = [115_200, 57_600]
const baud = ref(BAUDS[0]!)
const file = ref('')
const image = shallowRef<Uint8Array | null>(null)
const trouble = ref('')
const progress = ref<UploadProgress | null>(null)
const running = ref(false)
const done = ref('')
let giveUp = new AbortController()
/** Ports of the computer that Nolvi runs on, beside those of this browser. */
const ports = ref<ServerPort[]>([])
const BROWSER = 'browser'
const through = ref(BROWSER)
const isThere = computed(() => through.value !== BROWSER)

const of = computed(() => (image.value ? fingerprintIn(image.value) : null))
const differs = computed(() => {
  if (!image.value) return ''
  if (of.value === null)
    return 'This file carries no fingerprint: it is no program that was made here.'
  return of.value === designs.fingerprint
    ? ''
    : `This program was made of ${of.value}; the design is ${designs.fingerprint} now. Compile it anew, or the panels will not understand the board.`
})
const blocked = ref('')
watch(open, yes => {
  if (!yes) return
  blocked.value = noSerialPorts()
  ticked.value = []
  void serverPorts().then(list => {
    ports.value = list
    if (!list.some(p => p.path === through.value)) through.value = BROWSER
    if (blocked.value && !isThere.value) through.value = list[0]?.path ?? BROWSER
  })
  if (props.made) takeText(props.made.name, props.made.text)
  trouble.value = ''
  done.value = ''
  progress.value = null
})

/** Steps of the checklist that are done. */
const ticked = ref<number[]>([])

function takeText(name: string, text: string): void {
  done.value = ''
  trouble.value = ''
  image.value = null
  file.value = name
  const read = readHex(text)
  if (read.ok) image.value = read.image.bytes
  else trouble.value = `${name}, line ${read.line}: ${read.why}.`
}
async function take(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const [chosen] = input.files ?? []
  if (!chosen) return
  takeText(chosen.name, await chosen.text())
  input.value = ''
}

async function write(): Promise<void> {
  const bytes = image.value
  if (!bytes) return
  trouble.value = ''
  done.value = ''
  running.value = true
  giveUp = new AbortController()
  try {
    if (isThere.value) {
      const failed = await uploadThere(
        through.value,
        baud.value,
        bytes,
        p => {
          progress.value = p
        },
        giveUp.signal,
      )
      if (failed !== null) {
        trouble.value = failed
        return
      }
    } else await throughBrowser(bytes)
    done.value = `${count(bytes.length)} bytes are on the board, read back and equal.`
    if (await keepRecord(bytes)) done.value += ' It is in the log.'
  } catch (error) {
    trouble.value = wordsOf(error)
  } finally {
    running.value = false
    progress.value = null
  }
}
async function throughBrowser(bytes: Uint8Array): Promise<void> {
  const port = await openBoard(baud.value)
  try {
    await upload(
      port,
      bytes,
      USUAL_CHIP,
      p => {
        progress.value = p
      },
      () => giveUp.signal.aborted,
    )
  } finally {
    await port.done()
  }
}
function wordsOf(error: unknown): string {
  if (error instanceof UploadFailed) return error.message
  const { name, message } = error as { name?: string; message?: string }
  if (name === 'NotFoundError') return 'No port was chosen.'
  return `The port could not be opened or was lost: another program may have it. (${message ?? name ?? ''})`
}
/** Whether the log took it. */
async function keepRecord(bytes: Uint8Array): Promise<boolean> {
  const { design } = designs
  if (!design) return false
  const run: UploadRun = {
    kind: 'upload',
    revision: designs.revision,
    title: `Onto ${props.name}: ${file.value}`,
    controllerId: props.controllerId,
    chip: USUAL_CHIP.name,
    bytes: bytes.length,
    fingerprint: of.value,
  }
  const answer = await ask(`/api/designs/${design.id}/records`, { method: 'POST', body: run })
  if (!answer.ok) trouble.value = `The log did not take it: ${refusalWords(answer.refusal)}`
  return answer.ok
}
const STEPS = { connecting: 'Connecting', writing: 'Writing', 'reading back': 'Reading back' }
const share = computed(() => {
  const p = progress.value
  if (!p) return 0
  const half = p.step === 'writing' ? p.done : p.step === 'reading back' ? p.of + p.done : 0
  return Math.round((50 * half) / Math.max(1, p.of))
})
</script>

<template>
  <el-dialog
    v-model="open"
    :title="`Onto ${name}`"
    width="560"
    :close-on-click-modal="false"
    :show-close="!running"
    :close-on-press-escape="!running"
  >
    <ol class="steps">
      <li v-if="!made">
        Take the folder, open it in the sketch environment, and export the compiled program as HEX.
      </li>
      <li>
        <span v-if="image">
          {{ file }}, {{ count(image.length) }} bytes{{ of ? `, of ${of}` : '' }}
        </span>
        <label class="file">
          <input type="file" accept=".hex" :disabled="running" @change="take" />
          <span class="el-button el-button--small">{{
            image ? 'Take another HEX' : 'Choose the HEX'
          }}</span>
        </label>
        <p v-if="differs" class="differs small">{{ differs }}</p>
      </li>
      <li>
        Before it is plugged in:
        <el-checkbox-group v-model="ticked" class="ticks" aria-label="Before it is plugged in">
          <el-checkbox v-for="(step, i) in checklist" :key="step" :value="i">{{
            step
          }}</el-checkbox>
        </el-checkbox-group>
      </li>
      <li>
        <el-select
          v-if="ports.length"
          v-model="through"
          :disabled="running"
          aria-label="Port"
          class="port"
        >
          <el-option v-if="!blocked" :value="BROWSER" label="A port of this browser" />
          <el-option
            v-for="p in ports"
            :key="p.path"
            :value="p.path"
            :label="p.name ? `${p.path} (${p.name})` : p.path"
          />
        </el-select>
        <el-select v-model="baud" :disabled="running" aria-label="Speed of the loader" class="baud">
          <el-option v-for="b in BAUDS" :key="b" :label="`${count(b)} baud`" :value="b" />
        </el-select>
        <el-button
          type="primary"
          :disabled="!image || running || (blocked !== '' && !isThere)"
          :loading="running"
          @click="write"
          >{{ isThere ? 'Write' : 'Choose the port and write' }}</el-button
        >
        <el-button v-if="running" @click="giveUp.abort()">Give up</el-button>
        <p v-if="blocked && !isThere" class="differs small">{{ blocked }}</p>
        <p v-else-if="ticked.length < checklist.length" class="second small">
          {{ checklist.length - ticked.length }} of {{ checklist.length }} steps before it are not
          ticked.
        </p>
      </li>
    </ol>
    <div v-if="progress" role="status">
      <el-progress :percentage="share" :stroke-width="10" />
      <p class="second small">
        {{ STEPS[progress.step] }}, page {{ progress.done }} of {{ progress.of }}
      </p>
    </div>
    <p v-if="trouble" class="differs" role="alert">{{ trouble }}</p>
    <p v-if="done" class="agrees" role="status">{{ done }}</p>
  </el-dialog>
</template>

<style scoped>
.steps {
  margin: 0;
  padding-left: 20px;
  display: grid;
  gap: 12px;
}
.steps p {
  margin: 4px 0 0;
}
.file input {
  position: absolute;
  opacity: 0;
  width: 1px;
}
.file input:focus-visible + span {
  outline: 2px solid var(--ink);
  outline-offset: 2px;
}
.file {
  margin-left: 10px;
}
.ticks {
  display: grid;
  gap: 2px;
}
.ticks :deep(.el-checkbox) {
  height: auto;
  align-items: flex-start;
  white-space: normal;
  padding: 3px 0;
}
.port {
  width: 230px;
  margin-right: 10px;
}
.baud {
  width: 150px;
  margin-right: 10px;
}
.steps > li > .el-button {
  margin: 8px 10px 0 0;
}
</style>
