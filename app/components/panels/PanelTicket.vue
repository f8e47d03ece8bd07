<script setup lang="ts">
/**
 * A panel as a whole: its look, pages, picture, weight, wall cards, and its layout for another
 * glass.
 */
import { linkOf } from '../../../core/design/find'
import { wallCards } from '../../../core/sides/wall-cards'
import { LIMITS, type Design, type PanelSurface, type Theme } from '../../../core/design/schema'
import { copied } from '../../../core/panels/auto'
import { deviceOf, HEAD_MM } from '../../../core/panels/devices'
import type { Size } from '../../../core/panels/forms/facet'
import { contrast, mixed, SECOND_SHARE, TEXT_CONTRAST } from '../../../core/panels/colour'
import { LOOKS, lookOf } from '../../../core/panels/looks'
import { coreWorker } from '../../composables/core-worker'
import { useDesignStore } from '../../stores/design'
import { useFindingsStore } from '../../stores/findings'
import { kilobytes } from '../../../core/units/format'

const props = defineProps<{
  design: Design
  panel: PanelSurface
  page: number
  panels: readonly PanelSurface[]
}>()
const emit = defineEmits<{ page: [page: number] }>()
const designs = useDesignStore()
const findings = useFindingsStore()
const part = computed(
  () => designs.partOf(linkOf(props.design, props.panel.linkId).controllerId) ?? props.design,
)
const set = (theme: Partial<Theme>) =>
  designs.apply({ type: 'setPanel', surfaceId: props.panel.id, patch: { theme } })

const COLOURS = [
  ['paper', 'ground by day'],
  ['ink', 'ink by day'],
  ['nightPaper', 'ground by night'],
  ['nightInk', 'ink by night'],
] as const
const second = computed(() =>
  contrast(
    mixed(props.panel.theme.ink, props.panel.theme.paper, SECOND_SHARE),
    props.panel.theme.paper,
  ),
)
const here = computed(() =>
  findings.findings.filter(
    f => f.surfaceId === props.panel.id && (f.code === 'theme-contrast' || f.code === 'page-heavy'),
  ),
)

const weight = ref<{ raw: number; gzipped: number } | null>(null)
watchDebounced(
  () => props.design,
  async () => {
    weight.value = await coreWorker('proof').weigh(part.value, props.panel.id)
  },
  { debounce: 400, immediate: true },
)

/** What of the glass lies under the head of a page. */
function behindKeys(panel: PanelSurface): Size {
  const { widthMm, heightMm } = deviceOf(panel)
  return { widthMm, heightMm: heightMm - HEAD_MM }
}
const file = useTemplateRef<HTMLInputElement>('file')
const refused = ref('')
async function takePicture(): Promise<void> {
  const [chosen] = file.value?.files ?? []
  if (file.value) file.value.value = ''
  if (!chosen) return
  refused.value = ''
  const picture = await downscaled(chosen, behindKeys(props.panel), LIMITS.pictureLength)
  if (picture === null) refused.value = `${chosen.name} is no picture that this browser can read.`
  else
    designs.apply({
      type: 'setPage',
      surfaceId: props.panel.id,
      page: props.page,
      patch: { picture },
    })
}
function addPage(): void {
  if (
    designs.apply({
      type: 'addPage',
      surfaceId: props.panel.id,
      name: `Page ${props.panel.pages.length + 1}`,
    })
  )
    emit('page', props.panel.pages.length)
}
function removePage(page: number): void {
  if (designs.apply({ type: 'removePage', surfaceId: props.panel.id, page }))
    emit('page', Math.min(props.page, props.panel.pages.length - 2))
}
function copyTo(other: PanelSurface): void {
  designs.apply({
    type: 'setLayout',
    surfaceId: other.id,
    ...copied(
      designs.partOf(linkOf(props.design, other.linkId).controllerId) ?? props.design,
      props.panel,
      other,
    ),
  })
}
/** Printed from a frame of its own: the sheet and nothing around it. */
function printCards(): void {
  const frame = document.createElement('iframe')
  Object.assign(frame.style, { position: 'fixed', width: '0', height: '0', border: '0' })
  frame.title = `Wall cards of ${props.panel.name}`
  frame.srcdoc = wallCards(part.value, props.panel.id)
  frame.onload = () => {
    frame.contentWindow?.addEventListener('afterprint', () => frame.remove())
    frame.contentWindow?.print()
  }
  document.body.append(frame)
}
</script>

<template>
  <aside class="panel-ticket" :aria-label="`Look and pages of ${panel.name}`">
    <p v-if="!panel.keys.length && !panel.parts.length" class="second">
      Nothing stands on it yet. Let Nolvi lay it out, or drag loads onto the glass.
    </p>
    <section>
      <h3 class="second">Look</h3>
      <div class="does">
        <el-button
          v-for="l in LOOKS"
          :key="l.name"
          size="small"
          :aria-pressed="lookOf(panel.theme)?.name === l.name"
          @click="set(l.colours)"
          ><i class="swatch" :style="{ background: l.colours.paper, borderColor: l.lit.day }" />{{
            l.name
          }}</el-button
        >
      </div>
      <dl class="facts">
        <dt>By</dt>
        <dd>
          <el-select
            :model-value="panel.theme.look"
            size="small"
            aria-label="Day and night"
            @change="(look: Theme['look']) => set({ look })"
            ><el-option value="auto" label="the device" /><el-option
              value="day"
              label="always day" /><el-option value="night" label="always night"
          /></el-select>
        </dd>
        <template v-for="[key, words] in COLOURS" :key="key"
          ><dt>{{ words }}</dt>
          <dd>
            <el-color-picker
              :model-value="panel.theme[key]"
              size="small"
              :aria-label="words"
              @change="(c: string | null) => c && set({ [key]: c.toLowerCase() })"
            /></dd
        ></template>
        <dt>roundness</dt>
        <dd>
          <el-slider
            :model-value="panel.theme.roundMm"
            :min="0"
            :max="8"
            :step="0.2"
            size="small"
            aria-label="Roundness of keys, mm"
            @change="(v: number | number[]) => set({ roundMm: Number(v) })"
          />
        </dd>
        <dt>type, {{ panel.theme.textMm }} mm</dt>
        <dd>
          <el-slider
            :model-value="panel.theme.textMm"
            :min="2.2"
            :max="6"
            :step="0.1"
            size="small"
            aria-label="Size of names, mm"
            @change="(v: number | number[]) => set({ textMm: Number(v) })"
          />
        </dd>
        <dt :title="`WCAG 2.2 asks for ${TEXT_CONTRAST} : 1`">contrast by day</dt>
        <dd :class="{ differs: second < TEXT_CONTRAST }">
          {{ contrast(panel.theme.ink, panel.theme.paper).toFixed(1) }} : 1, states
          {{ second.toFixed(1) }} : 1
        </dd>
      </dl>
      <FindingItem v-for="(f, i) in here" :key="f.code + i" :finding="f" />
    </section>
    <section>
      <h3 class="second">Pages</h3>
      <ul>
        <li v-for="(p, i) in panel.pages" :key="i" :class="{ front: i === page }">
          <InlineText
            :value="p.name"
            :label="`Name of page ${i + 1}`"
            @change="
              name =>
                designs.apply({ type: 'setPage', surfaceId: panel.id, page: i, patch: { name } })
            "
          />
          <button v-if="i !== page" type="button" class="plain second" @click="emit('page', i)">
            show
          </button>
          <button
            v-if="panel.pages.length > 1"
            type="button"
            class="plain second"
            :aria-label="`Remove page ${p.name}`"
            @click="removePage(i)"
          >
            ×
          </button>
        </li>
      </ul>
      <div class="does">
        <el-button v-if="panel.pages.length < LIMITS.pages" size="small" @click="addPage"
          >Another page</el-button
        >
        <el-button size="small" @click="file?.click()">{{
          panel.pages[page]?.picture ? 'Another picture behind' : 'Picture behind'
        }}</el-button>
        <el-button
          v-if="panel.pages[page]?.picture"
          size="small"
          @click="
            designs.apply({ type: 'setPage', surfaceId: panel.id, page, patch: { picture: null } })
          "
          >No picture</el-button
        >
      </div>
      <input
        ref="file"
        type="file"
        accept="image/*"
        class="visually-hidden"
        tabindex="-1"
        aria-label="Picture behind the keys"
        @change="takePicture"
      />
      <p v-if="refused" class="differs small">{{ refused }}</p>
      <p v-else-if="panel.pages[page]?.picture" class="second small">
        {{ kilobytes(panel.pages[page]!.picture!.length * 0.75) }}, made small enough to travel with
        the page.
      </p>
    </section>
    <section>
      <h3 class="second">To give away</h3>
      <dl class="facts">
        <dt>One file</dt>
        <dd>
          {{ weight ? `${kilobytes(weight.raw)}, gzipped ${kilobytes(weight.gzipped)}` : '…' }}
        </dd>
        <dt>Opened at</dt>
        <dd>
          <InlineText
            :value="panel.pageAddress"
            label="Where the page is opened"
            mono
            :maxlength="120"
            @change="
              pageAddress =>
                designs.apply({ type: 'setPanel', surfaceId: panel.id, patch: { pageAddress } })
            "
            >{{ panel.pageAddress || 'the controller' }}</InlineText
          >
        </dd>
      </dl>
      <div class="does">
        <el-button size="small" :disabled="!panel.keys.length" @click="printCards"
          >Print wall cards</el-button
        >
      </div>
      <template v-if="panels.length > 1">
        <h3 class="second">The same layout on</h3>
        <div class="does">
          <el-button
            v-for="other in panels.filter(p => p.id !== panel.id)"
            :key="other.id"
            size="small"
            :disabled="!panel.keys.length && !panel.parts.length"
            @click="copyTo(other)"
            >{{ other.name }}</el-button
          >
        </div>
      </template>
    </section>
  </aside>
</template>

<style scoped>
.panel-ticket {
  display: grid;
  gap: 14px;
  align-content: start;
}
section {
  display: grid;
  gap: 8px;
}
section + section {
  border-top: 1px solid var(--rule);
  padding-top: 12px;
}
h3 {
  font-size: 13px;
}
.does {
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
}
.does :deep(.el-button) {
  margin: 0;
}
.does :deep(.el-button[aria-pressed='true']) {
  border-color: var(--ink);
}
.swatch {
  width: 13px;
  height: 13px;
  border: 3px solid;
  border-radius: 2px;
  margin-right: 6px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 28px;
}
li.front {
  font-weight: 700;
}
li :first-child {
  flex: 1;
}
</style>
