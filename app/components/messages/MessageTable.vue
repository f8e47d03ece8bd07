<script setup lang="ts">
/**
 * Commands and reports of one link, in the sheet's rows. Codes are edited where they stand; clashes
 * are told under them.
 */
import { clashes, clashLoads, clashWords, wishLabel } from '../../../core/messages/clashes'
import {
  namedCodesFor,
  nextCodes,
  numberCodesFor,
  relativeCode,
  saysNumbers,
} from '../../../core/messages/assign'
import { fingerprint } from '../../../core/design/fingerprint'
import { longestText } from '../../../core/messages/sealing'
import { numberCode } from '../../../core/messages/setpoints'
import { hasBareCodes, shownWire, speaksWords, wireOf } from '../../../core/design/wire'
import {
  codesSaid,
  errorText,
  helloText,
  reportText,
  streams,
  wishesShown,
} from '../../../core/messages/table'
import { loadOf, maybeMessage } from '../../../core/design/find'
import { exactWireMs, wireReason } from '../../../core/links/timing'
import type { Codes, Design, Link, Load, Message } from '../../../core/design/schema'
import { isValue, NUMBER, numbersOf, relativeOf, spokenValues } from '../../../core/design/values'
import { useDesignStore } from '../../stores/design'
import { speaksBytes, speaksRoutes, structureOn } from '../../../core/design/links/traits'
import { dialectRow } from '../../../core/design/dialects/rows'

const props = defineProps<{ design: Design; link: Link }>()
const designs = useDesignStore()
const serial = computed(() => speaksBytes(props.link))
const found = computed(() => clashes(props.design, props.link))
const rows = computed(() =>
  props.design.loads
    .filter(load => load.controllerId === props.link.controllerId)
    .map(load => ({
      load,
      message: maybeMessage(props.link, load.id),
      clashes: found.value.filter(c => clashLoads(c).includes(load.id)),
    })),
)
const longer = (load: Load, message: Message) =>
  codesSaid(props.link, load, message)
    .map(code => longestText(props.link, code))
    .reduce((longest, text) => (text.length > longest.length ? text : longest), '')
const maxLength = computed(() =>
  speaksRoutes(props.link) ? 80 : hasBareCodes(props.link) ? 8 : 64,
)
const wide = computed(
  () => speaksRoutes(props.link) || (!hasBareCodes(props.link) && !structureOn(props.link)),
)
const packed = computed(() => structureOn(props.link))
const highest = (load: Load) => String(numbersOf(load.output)?.high ?? 0)
/** The place of a number cannot be shown in reports: in a structure, and in answers over HTTP. */
const unseen = computed(() => packed.value !== null || !speaksBytes(props.link))
/** A report of a number, at its highest where its place cannot be shown. */
const heardNumber = (load: Load, message: Message) =>
  unseen.value
    ? reportText(props.link, load, message, highest(load))
    : wireOf(props.link, numberCode(message), 'report')
/** In a structure a number has no place that could be seen: its code holds 0 there. */
const saysLabel = (load: Load, which: string) =>
  which === NUMBER && packed.value ? 'number, here 0' : wishLabel(load.output, which)
const hearsLabel = (load: Load, which: string) =>
  which === NUMBER && unseen.value ? `number, here ${highest(load)}` : wishLabel(load.output, which)
const heard = (load: Load, message: Message, which: string) =>
  shownWire(
    props.link,
    which === NUMBER ? heardNumber(load, message) : reportText(props.link, load, message, which),
  )
const heardAs = (load: Load, message: Message) =>
  numberCode(message) === ''
    ? spokenValues(load.output)
    : wishesShown(load, message).filter(w => w === NUMBER || isValue(load.output, w))
const addable = (load: Load, message: Message) =>
  relativeOf(load.output).filter(
    r => !(r in message.codes) && (r !== NUMBER || saysNumbers(props.link)),
  )
const assigned = (load: Load, codes: Codes) =>
  designs.apply({ type: 'assignCodes', linkId: props.link.id, codes: { [load.id]: codes } })
function addRelative(load: Load, which: string): void {
  const message = maybeMessage(props.link, load.id)
  if (message && which === NUMBER)
    return void assigned(load, numberCodesFor(props.design, props.link, load, message.codes))
  designs.apply({
    type: 'renameCode',
    linkId: props.link.id,
    loadId: load.id,
    which,
    code: relativeCode(props.design, props.link, load, which),
  })
}
const said = (text: string) => (text === 'none' ? '' : text)
const answersWords = { text: 'one line a load', json: 'a JSON object', page: 'a page' }
const setLink = (patch: Record<string, unknown>) =>
  designs.apply({ type: 'setLink', linkId: props.link.id, patch })

function add(load: Load): void {
  designs.apply({
    type: 'addMessage',
    linkId: props.link.id,
    loadId: load.id,
    codes: nextCodes(props.design, props.link, load),
  })
}
function rename(loadId: string, which: string, event: Event): void {
  const input = event.target as HTMLInputElement
  const message = maybeMessage(props.link, loadId)
  // Without the code for numbers each value needs one again.
  if (message && which === NUMBER && input.value.trim() === '') {
    const load = loadOf(props.design, loadId)
    return void assigned(load, namedCodesFor(props.design, props.link, load, message.codes))
  }
  if (
    message
    && input.value.trim() !== message.codes[which]
    && !designs.apply({
      type: 'renameCode',
      linkId: props.link.id,
      loadId,
      which,
      code: input.value.trim(),
    })
  )
    input.value = message.codes[which] ?? ''
}
/** Arrows and Enter go up and down a column of codes. */
function move(event: KeyboardEvent): void {
  const by =
    event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' || event.key === 'Enter' ? 1 : 0
  if (!by) return
  event.preventDefault()
  const input = event.target as HTMLInputElement
  const column = [
    ...document.querySelectorAll<HTMLInputElement>(`input[data-which="${input.dataset.which}"]`),
  ]
  input.blur()
  column[column.indexOf(input) + by]?.select()
}
/** One column of words and one of codes, as soon as one load has more than fit in a line. */
const listed = computed(
  () => wide.value || rows.value.some(r => r.message && wishesShown(r.load, r.message).length > 3),
)
</script>

<template>
  <div class="table-body">
    <table class="ruled">
      <thead>
        <tr>
          <th>Load</th>
          <th>Says</th>
          <th>Hears</th>
          <th>Answered</th>
          <th>On change</th>
          <th v-if="serial" class="number">On the wire</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="row in rows" :key="row.load.id">
          <tr :class="{ clash: row.clashes.length }">
            <th scope="row">{{ row.load.name }}</th>
            <template v-if="row.message">
              <td>
                <div class="codes" :class="{ listed }">
                  <label v-for="(which, i) in wishesShown(row.load, row.message)" :key="which"
                    ><span class="second small">{{ saysLabel(row.load, which) }}</span>
                    <input
                      class="wire code"
                      :class="{ route: wide, packed, bad: row.clashes.length }"
                      :value="row.message.codes[which]"
                      :data-which="i"
                      :aria-label="`${row.load.name} ${which}`"
                      :maxlength="maxLength"
                      spellcheck="false"
                      autocomplete="off"
                      @change="rename(row.load.id, which, $event)"
                      @keydown="move"
                    />
                  </label>
                  <el-dropdown
                    v-if="addable(row.load, row.message).length"
                    :persistent="false"
                    trigger="click"
                    @command="(which: string) => addRelative(row.load, which)"
                  >
                    <button
                      type="button"
                      class="plain more second"
                      :aria-label="`Another code for ${row.load.name}`"
                    >
                      +
                    </button>
                    <template #dropdown
                      ><el-dropdown-menu
                        ><el-dropdown-item
                          v-for="r in addable(row.load, row.message)"
                          :key="r"
                          :command="r"
                          >{{ wishLabel(row.load.output, r) }}</el-dropdown-item
                        ></el-dropdown-menu
                      ></template
                    >
                  </el-dropdown>
                </div>
              </td>
              <td>
                <div class="codes heard">
                  <span v-for="which in heardAs(row.load, row.message)" :key="which"
                    ><span class="second small">{{ hearsLabel(row.load, which) }}</span>
                    {{ ' ' }}
                    <span class="wire">{{ heard(row.load, row.message, which) }}</span></span
                  >
                </div>
              </td>
              <td>
                <el-checkbox
                  :model-value="row.message.ack"
                  :aria-label="`${row.load.name}: each command is answered`"
                  @change="
                    v =>
                      designs.apply({
                        type: 'setReport',
                        linkId: link.id,
                        loadId: row.load.id,
                        ack: v === true,
                      })
                  "
                />
              </td>
              <td>
                <el-checkbox
                  :model-value="row.message.change"
                  :aria-label="`${row.load.name}: every change is reported`"
                  @change="
                    v =>
                      designs.apply({
                        type: 'setReport',
                        linkId: link.id,
                        loadId: row.load.id,
                        change: v === true,
                      })
                  "
                />
              </td>
              <td
                v-if="speaksBytes(link)"
                class="number"
                :title="wireReason(design, link, longer(row.load, row.message))"
              >
                {{ exactWireMs(design, link, longer(row.load, row.message)).toFixed(2) }} ms
              </td>
            </template>
            <td v-else :colspan="serial ? 5 : 4">
              <el-button size="small" @click="add(row.load)">Put it on this link</el-button>
            </td>
          </tr>
          <tr v-if="row.clashes.length" class="why">
            <td :colspan="serial ? 6 : 5" role="alert">
              <span v-for="(c, i) in row.clashes" :key="i" class="differs"
                >{{ clashWords(c) }}.
              </span>
            </td>
          </tr>
        </template>
        <SceneRows
          :indent="listed"
          :design="design"
          :link="link"
          :max-length="maxLength"
          :columns="serial ? 6 : 5"
        />
        <ReadingRows
          :design="design"
          :link="link"
          :max-length="maxLength"
          :columns="serial ? 6 : 5"
        />
        <template v-if="speaksBytes(link)">
          <tr class="ask">
            <th scope="row">Ask for the state</th>
            <td>
              <InlineText
                mono
                :value="link.askCode"
                :maxlength="maxLength"
                label="code that asks for the state"
                @change="askCode => setLink({ askCode })"
              />
            </td>
            <td colspan="4" class="second">
              answered with the whole state<template v-if="dialectRow(link.dialect).marked"
                >; reports carry the mark
                <InlineText
                  mono
                  :value="link.reportMark || 'none'"
                  :maxlength="4"
                  label="report mark"
                  @change="mark => setLink({ reportMark: said(mark) })"
              /></template>
            </td>
          </tr>
          <template v-if="speaksWords(link)">
            <tr class="ask">
              <th scope="row">Ask who is there</th>
              <td>
                <InlineText
                  mono
                  :value="link.helloCode || 'none'"
                  :maxlength="maxLength"
                  label="code that asks who is there"
                  @change="code => setLink({ helloCode: said(code) })"
                />
              </td>
              <td colspan="4" class="second">
                {{
                  link.helloCode
                    ? 'answered with'
                    : 'version, fingerprint and count of starts, when it has a code'
                }}
                <span v-if="link.helloCode" class="wire">{{
                  shownWire(link, helloText(link, fingerprint(design), 1))
                }}</span>
              </td>
            </tr>
            <tr class="ask">
              <th scope="row">Not understood</th>
              <td>
                <InlineText
                  mono
                  :value="link.errorText || 'none'"
                  :maxlength="20"
                  label="answer to what is not understood"
                  @change="text => setLink({ errorText: said(text) })"
                />
              </td>
              <td colspan="4" class="second">
                {{
                  link.errorText
                    ? 'answered with'
                    : 'no answer: a spoilt message vanishes without a word'
                }}
                <span v-if="link.errorText" class="wire">{{
                  shownWire(link, errorText(link))
                }}</span>
              </td>
            </tr>
          </template>
        </template>
        <template v-else>
          <tr class="ask">
            <th scope="row">Ask for the state</th>
            <td>
              <InlineText
                mono
                :value="link.askRoute"
                :maxlength="80"
                label="route that asks for the state"
                @change="askRoute => setLink({ askRoute })"
              />
            </td>
            <td colspan="3" class="second">
              {{ answersWords[link.answers]
              }}<template v-if="streams(link)"
                >; reports leave on
                <InlineText
                  mono
                  :value="link.eventsRoute"
                  :maxlength="80"
                  label="route of the event stream"
                  @change="eventsRoute => setLink({ eventsRoute })"
              /></template>
            </td>
          </tr>
          <tr class="ask">
            <th scope="row">Ask who is there</th>
            <td>
              <InlineText
                mono
                :value="link.helloRoute || 'none'"
                :maxlength="80"
                label="route that asks who is there"
                @change="route => setLink({ helloRoute: said(route) })"
              />
            </td>
            <td colspan="3" class="second">version, fingerprint and count of starts</td>
          </tr>
        </template>
      </tbody>
    </table>
    <p v-if="!found.length && link.messages.length" class="second fine">
      All codes of this link can be told apart: no two are equal{{
        hasBareCodes(link) ? ', and none is the start of another' : ''
      }}.
    </p>
  </div>
</template>

<style scoped>
.table-body {
  padding: 8px 20px 12px;
  overflow-x: auto;
  flex: none;
}
.code {
  width: 84px;
  background: var(--raised);
  color: var(--ink);
  border: 1px solid var(--rule-strong);
  border-radius: 2px;
  padding: 4px 7px;
}
.code.route {
  width: 186px;
}
.code.packed {
  width: 128px;
}
.codes.listed {
  display: grid;
  grid-template-columns: max-content;
  justify-items: start;
}
.codes.listed label {
  display: grid;
  grid-template-columns: 58px max-content;
}
.codes.listed .more {
  margin-left: 64px;
}
.codes.listed label span {
  text-align: right;
}
.more {
  min-width: 24px;
  text-align: center;
  font-weight: 700;
}
.codes {
  display: flex;
  flex-wrap: wrap;
  gap: 5px 14px;
  align-items: center;
}
.codes label {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.code.bad {
  border-color: var(--differs);
}
tr.clash > * {
  border-bottom-color: transparent !important;
}
.why td {
  padding-top: 0 !important;
}
td,
tbody th {
  vertical-align: middle !important;
}
.fine {
  margin-top: 10px;
}
.ask .plain {
  display: inline;
}
</style>
