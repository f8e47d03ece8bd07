<script setup lang="ts">
/**
 * A recording made with a logic probe on the real thing: laid beside the lanes of the bench, and
 * looked through for what is odd.
 */
import {
  BadRecording,
  expectedWires,
  guessRoles,
  readRecording,
  study,
  type Role,
} from '../../../core/bench/recording'
import { handSurfaces } from '../../../core/design/find'
import type { Design } from '../../../core/design/schema'
import { linesOf } from '../../../core/design/values'
import { useBenchStore } from '../../stores/bench'
import { useBenchViewStore } from '../../stores/bench-view'
import { speaksBytes } from '../../../core/design/links/traits'

const props = defineProps<{ design: Design }>()
const bench = useBenchStore()
const look = useBenchViewStore()
const trouble = ref('')
const ROLE_END = ':'
/** Everything that a wire can stand for, as one value of a list. */
const choices = computed(() => [
  { value: 'nothing', label: 'nothing' },
  ...handSurfaces(props.design).flatMap(s =>
    s.controls.map(c => ({ value: `contact${ROLE_END}${c.id}`, label: `contact ${c.id}` })),
  ),
  ...props.design.loads.flatMap(l =>
    linesOf(l.output).map((line, i) => ({
      value: `line${ROLE_END}${l.id}${ROLE_END}${i}`,
      label: `${l.name}${line.name ? `, ${line.name}` : ''}`,
    })),
  ),
  ...props.design.links.filter(speaksBytes).flatMap(l => [
    { value: `toBoard${ROLE_END}${l.id}`, label: `${l.name} to the board` },
    { value: `fromBoard${ROLE_END}${l.id}`, label: `${l.name} from the board` },
  ]),
])
const valueOf = (role: Role | undefined) =>
  !role || role.is === 'nothing'
    ? 'nothing'
    : role.is === 'contact'
      ? `contact${ROLE_END}${role.controlId}`
      : role.is === 'line'
        ? `line${ROLE_END}${role.loadId}${ROLE_END}${role.line}`
        : `${role.is}${ROLE_END}${role.linkId}`
function roleOf(value: string): Role {
  const [is = '', id = '', n = '0'] = value.split(ROLE_END)
  return is === 'contact'
    ? { is, controlId: id }
    : is === 'line'
      ? { is, loadId: id, line: Number(n) }
      : is === 'toBoard' || is === 'fromBoard'
        ? { is, linkId: id }
        : { is: 'nothing' }
}
const studied = computed(() =>
  bench.probe ? study(props.design, bench.probe.recording, bench.probe.roles) : null,
)
async function open(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  try {
    const recording = readRecording(file.name, await file.text())
    trouble.value = ''
    bench.probe = { recording, roles: guessRoles(props.design, recording.wires), atMs: 0 }
  } catch (error) {
    if (!(error instanceof BadRecording)) throw error
    trouble.value = `${file.name}: ${error.message}`
  }
}
function setRole(i: number, value: string): void {
  if (bench.probe) bench.probe = { ...bench.probe, roles: bench.probe.roles.with(i, roleOf(value)) }
}
function shift(atMs: number): void {
  if (bench.probe) bench.probe = { ...bench.probe, atMs }
}
function show(seconds: number): void {
  look.show((bench.probe?.atMs ?? 0) + seconds * 1000)
}
</script>

<template>
  <div>
    <h2>Beside a recording</h2>
    <p class="second">
      Take a recording with a logic probe at the real thing, as VCD or as a table (time in seconds,
      one column a wire). It is drawn in the colour of the cursor beside the lanes of the bench.
    </p>
    <label class="el-button file"
      >Open a recording<input
        type="file"
        accept=".vcd,.csv,.txt"
        class="visually-hidden"
        @change="open"
    /></label>
    <p v-if="trouble" class="differs small" role="alert">{{ trouble }}</p>
    <p v-if="!bench.probe" class="second small">
      Wires with these names are known by themselves:
      <span class="wire">{{ expectedWires(design).join(', ') }}</span>
    </p>
    <template v-if="bench.probe && studied">
      <section>
        <h3 class="title">
          {{ bench.probe.recording.name }}, {{ bench.probe.recording.endSeconds.toFixed(3) }} s
        </h3>
        <dl class="facts">
          <template v-for="(w, i) in bench.probe.recording.wires" :key="w.name">
            <dt>{{ w.name }}</dt>
            <dd>
              <el-select
                :model-value="valueOf(bench.probe.roles[i])"
                size="small"
                :aria-label="`What ${w.name} stands for`"
                @change="setRole(i, $event)"
                ><el-option v-for="c in choices" :key="c.value" :value="c.value" :label="c.label"
              /></el-select>
            </dd>
          </template>
          <dt>begins at</dt>
          <dd>
            <NumberField
              :value="bench.probe.atMs"
              unit="ms"
              label="The recording begins at"
              :max="86400000"
              @change="shift"
            />
          </dd>
        </dl>
      </section>
      <section v-if="studied.contacts.length">
        <h3 class="title">How contacts bounce</h3>
        <p v-for="c in studied.contacts" :key="c.wire" class="small">
          <strong>{{ c.wire }}</strong>: {{ c.presses }} presses, longest bounce
          {{ Number(c.longestBounceMs.toFixed(2)) }} ms;
          <span :class="{ differs: !c.covers }"
            >the debounce of {{ c.debounceMs }} ms
            {{ c.covers ? 'covers it' : 'is too short' }}</span
          >
        </p>
      </section>
      <section>
        <h3 class="title">{{ studied.found.length ? 'Odd' : 'Nothing odd' }}</h3>
        <ul class="list">
          <li v-for="(f, i) in studied.found" :key="i">
            <button type="button" class="plain" @click="show(f.atSeconds)">
              <strong>{{ f.what }}</strong> at {{ f.atSeconds.toFixed(3) }} s on {{ f.wire }}:
              <span class="second">{{ f.words }}</span>
            </button>
          </li>
        </ul>
      </section>
      <el-button size="small" @click="bench.probe = null">Take it away</el-button>
    </template>
  </div>
</template>

<style scoped>
.file {
  margin: 10px 0;
  cursor: pointer;
}
.file:focus-within {
  outline: 2px solid var(--cursor);
  outline-offset: 2px;
}
.list {
  list-style: none;
  padding: 0;
  margin: 0;
  display: grid;
  gap: 4px;
}
h3 {
  margin-bottom: 6px;
}
</style>
