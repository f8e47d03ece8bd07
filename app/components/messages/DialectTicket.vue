<script setup lang="ts">
/**
 * How the link speaks: its dialect, ends, marks, the fields of a structure; what it costs in bytes
 * and time.
 */
import { CRCS } from '../../../core/bytes/crc'
import { FIELD_TYPES, layout } from '../../../core/bytes/structure'
import type { Design, Link, Dialect } from '../../../core/design/schema'
import { structureOf, type PackedDialect } from '../../../core/design/dialects/packed'
import { isDatagram, speaksRoutes, structureOn } from '../../../core/design/links/traits'
import { compareDialects } from '../../../core/links/budget'
import { wireReason } from '../../../core/links/timing'
import { dialectEdit } from '../../../core/messages/assign'
import { DIALECTS } from '../../../core/design/dialects/rows'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design; link: Link }>()
const designs = useDesignStore()
const serial = computed(() => (speaksRoutes(props.link) ? null : props.link))
const http = computed(() => (speaksRoutes(props.link) ? props.link : null))
const TERMINATORS = { lf: '\\n', crlf: '\\r\\n', cr: '\\r', semicolon: ';' }
const speak = (dialect: Dialect) => designs.apply(dialectEdit(props.design, props.link.id, dialect))
const packed = computed(() => serial.value && structureOn(serial.value))
const placed = computed(() => (packed.value ? layout(structureOf(packed.value), true) : null))
const compared = computed(() => (serial.value ? compareDialects(props.design, serial.value) : []))
const DialectChart = defineAsyncComponent(() => import('./DialectChart.client.vue'))
const FRAMINGS = computed(
  () =>
    [
      ['cobs', 'overhead stuffing, end 00'],
      ['slip', 'escapes, end C0 (RFC 1055)'],
      ['length', 'one byte of length first'],
      ...(isDatagram(props.link) ? [['none', 'none: a datagram each']] : []),
    ] as const,
)
function field(
  dialect: PackedDialect,
  i: number,
  patch: Partial<PackedDialect['fields'][number]>,
): void {
  speak({ ...dialect, fields: dialect.fields.map((f, j) => (j === i ? { ...f, ...patch } : f)) })
}
const INTEGERS = ['u8', 'i8', 'u16', 'i16', 'u32', 'i32'] as const
const MATCHING = {
  exact: 'whole routes',
  prefix: 'how a request begins',
  contains: 'what a request contains',
}
</script>

<template>
  <section v-if="serial" class="first">
    <h3 class="title">Dialect</h3>
    <dl class="facts">
      <dt>Speaks</dt>
      <dd>
        <el-select
          :model-value="serial.dialect.kind"
          size="small"
          aria-label="Dialect"
          @change="(kind: Dialect['kind']) => speak(DIALECTS[kind].fresh)"
          ><el-option v-for="(row, kind) in DIALECTS" :key="kind" :value="kind" :label="row.name"
        /></el-select>
      </dd>
      <template v-if="'template' in serial.dialect">
        <dt>A line is</dt>
        <dd>
          <InlineText
            mono
            :value="serial.dialect.template"
            :maxlength="60"
            label="template of a line"
            @change="
              template =>
                serial && 'template' in serial.dialect && speak({ ...serial.dialect, template })
            "
          />
        </dd>
      </template>
      <template v-if="'terminator' in serial.dialect">
        <dt>It ends with</dt>
        <dd>
          <el-select
            :model-value="serial.dialect.terminator"
            size="small"
            aria-label="End of a message"
            @change="
              (terminator: keyof typeof TERMINATORS) =>
                serial && 'terminator' in serial.dialect && speak({ ...serial.dialect, terminator })
            "
            ><el-option v-for="(words, t) in TERMINATORS" :key="t" :value="t" :label="words"
          /></el-select>
        </dd>
      </template>
      <template v-if="packed">
        <dt>Frames</dt>
        <dd>
          <el-select
            :model-value="packed.framing"
            size="small"
            aria-label="Framing"
            @change="(framing: PackedDialect['framing']) => packed && speak({ ...packed, framing })"
            ><el-option
              v-for="[value, words] in FRAMINGS"
              :key="value"
              :value="value"
              :label="words"
          /></el-select>
        </dd>
        <dt>Check</dt>
        <dd>
          <el-select
            :model-value="packed.crc"
            :empty-values="[null]"
            size="small"
            aria-label="CRC"
            @change="(crc: string) => packed && speak({ ...packed, crc })"
            ><el-option value="" label="none" /><el-option
              v-for="c in CRCS"
              :key="c.name"
              :value="c.name"
              :label="c.name"
          /></el-select>
        </dd>
        <dt>Byte order</dt>
        <dd>
          <el-select
            :model-value="packed.endian"
            size="small"
            aria-label="Byte order"
            @change="(endian: 'little' | 'big') => packed && speak({ ...packed, endian })"
            ><el-option value="little" label="least byte first" /><el-option
              value="big"
              label="most byte first"
          /></el-select>
        </dd>
      </template>
    </dl>
    <template v-if="packed && placed">
      <table class="ruled fields">
        <thead>
          <tr>
            <th>Field</th>
            <th>Type</th>
            <th>Holds</th>
            <th class="number">At</th>
            <th><span class="visually-hidden">Remove</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(f, i) in packed.fields" :key="i">
            <td>
              <InlineText
                mono
                :value="f.name"
                :maxlength="16"
                :label="`name of field ${i + 1}`"
                @change="name => packed && field(packed, i, { name })"
              />
            </td>
            <td>
              <el-select
                :model-value="f.type"
                size="small"
                :aria-label="`Type of field ${i + 1}`"
                @change="
                  (type: PackedDialect['fields'][number]['type']) =>
                    packed && field(packed, i, { type })
                "
                ><el-option
                  v-for="t in INTEGERS"
                  :key="t"
                  :value="t"
                  :label="FIELD_TYPES[t].c.replace('_t', '')"
              /></el-select>
            </td>
            <td>
              <el-select
                :model-value="f.is"
                size="small"
                :aria-label="`What field ${i + 1} holds`"
                @change="
                  (is: PackedDialect['fields'][number]['is']) => packed && field(packed, i, { is })
                "
                ><el-option
                  v-for="is in ['kind', 'load', 'value', 'started', 'spare'] as const"
                  :key="is"
                  :value="is"
                  :label="is"
              /></el-select>
            </td>
            <td class="number wire">{{ placed.placed[i]?.offset }}</td>
            <td>
              <button
                v-if="packed.fields.length > 2"
                type="button"
                class="plain"
                :aria-label="`Remove field ${f.name}`"
                @click="
                  packed && speak({ ...packed, fields: packed.fields.filter((_, j) => j !== i) })
                "
              >
                ×
              </button>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="second small">
        {{ placed.size }} bytes{{ placed.padding ? `, ${placed.padding} of them padding` : '' }},
        and the frame.
      </p>
      <div class="row">
        <el-button
          v-if="packed.fields.length < 8"
          size="small"
          @click="
            packed
            && speak({
              ...packed,
              fields: [
                ...packed.fields,
                { name: `spare${packed.fields.length + 1}`, type: 'u8', is: 'spare' },
              ],
            })
          "
          >Another field</el-button
        >
        <el-checkbox
          :model-value="packed.packed"
          @change="v => packed && speak({ ...packed, packed: v === true })"
          >packed</el-checkbox
        >
      </div>
    </template>
    <el-checkbox
      :model-value="serial.echoes"
      @change="
        v => designs.apply({ type: 'setLink', linkId: link.id, patch: { echoes: v === true } })
      "
      >What is sent comes back (echo)</el-checkbox
    >
  </section>
  <section v-if="compared.length && link.messages.length">
    <h3 class="title">The same table in other dialects</h3>
    <DialectChart :compared="compared" :now="serial?.dialect.kind ?? ''" />
    <div class="visually-hidden">
      <table>
        <caption>
          Longest command of the same table in each dialect
        </caption>
        <tbody>
          <tr v-for="c in compared" :key="c.kind">
            <th scope="row">{{ DIALECTS[c.kind].name }}</th>
            <td>{{ c.bytes }} bytes</td>
            <td>{{ c.commandMs.toFixed(2) }} ms</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="second small">
      The longest command:
      {{
        serial
          ? wireReason(
              design,
              serial,
              ' '.repeat(compared.find(c => c.kind === serial?.dialect.kind)?.bytes ?? 0),
            )
          : ''
      }}.
    </p>
  </section>
  <section v-if="http" class="first">
    <h3 class="title">Routes</h3>
    <dl class="facts">
      <dt>The board looks at</dt>
      <dd>
        <el-select
          :model-value="http.matching"
          size="small"
          aria-label="How the board finds a route"
          @change="
            (matching: keyof typeof MATCHING) =>
              designs.apply({ type: 'setLink', linkId: link.id, patch: { matching } })
          "
          ><el-option v-for="(words, m) in MATCHING" :key="m" :value="m" :label="words"
        /></el-select>
      </dd>
      <dt>Commands come by</dt>
      <dd>
        <el-select
          :model-value="http.method"
          size="small"
          aria-label="Method of commands"
          @change="
            (method: 'get' | 'post') =>
              designs.apply({
                type: 'setLink',
                linkId: link.id,
                patch: method === 'get' ? { method, bodies: 'none' } : { method },
              })
          "
          ><el-option value="get" label="GET" /><el-option value="post" label="POST"
        /></el-select>
      </dd>
      <template v-if="http.method === 'post'">
        <dt>Parameters stand in</dt>
        <dd>
          <el-select
            :model-value="http.bodies"
            size="small"
            aria-label="Where parameters stand"
            @change="
              (bodies: 'none' | 'form' | 'json') =>
                designs.apply({ type: 'setLink', linkId: link.id, patch: { bodies } })
            "
            ><el-option value="none" label="the address" /><el-option
              value="form"
              label="a form body" /><el-option value="json" label="a JSON body"
          /></el-select>
        </dd>
      </template>
      <dt>Answers are</dt>
      <dd>
        <el-select
          :model-value="http.answers"
          size="small"
          aria-label="What answers hold"
          @change="
            (answers: 'text' | 'json' | 'page') =>
              designs.apply({ type: 'setLink', linkId: link.id, patch: { answers } })
          "
          ><el-option value="text" label="text, one line a load" /><el-option
            value="json"
            label="a JSON object" /><el-option value="page" label="a page for people"
        /></el-select>
      </dd>
    </dl>
  </section>
  <BoardPageTicket v-if="http" :design="design" :link="http" />
</template>

<style scoped>
.first {
  border-top: 1px solid var(--rule);
  margin-top: 14px;
  padding-top: 14px;
}
.fields {
  margin: 8px 0 6px;
}
.fields th,
.fields td {
  padding: 3px 5px 3px 0 !important;
  vertical-align: middle !important;
}
.fields :deep(.el-select) {
  width: 74px;
}
.row {
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
}
p {
  margin: 4px 0;
}
.plain {
  min-width: 24px;
  text-align: center;
}
</style>
