<script setup lang="ts">
/** The page of the board itself: its route, its template, and how it looks with the state in it. */
import { readingText, restingRaw } from '../../../core/controller/readings'
import type { Design, HttpLink } from '../../../core/design/schema'
import { restOf } from '../../../core/design/values'
import {
  boardPage,
  NEW_TEMPLATE,
  PLACE_HELP,
  templateTroubles,
} from '../../../core/sides/board-page'
import { useDesignStore } from '../../stores/design'

const props = defineProps<{ design: Design; link: HttpLink }>()
const designs = useDesignStore()
const set = (page: HttpLink['page']) =>
  designs.apply({ type: 'setLink', linkId: props.link.id, patch: { page } })
/** The front page where nothing else is there. */
const freeRoute = computed(() =>
  props.design.links.some(l => 'page' in l && l.page?.route === '/') ? '/page' : '/',
)
const troubles = computed(() =>
  props.link.page ? templateTroubles(props.design, props.link, props.link.page.template) : [],
)
/** As it is served after a start. */
const preview = computed(() =>
  boardPage(props.design, props.link, {
    value: id => {
      const load = props.design.loads.find(l => l.id === id)
      return load ? restOf(load.output) : ''
    },
    reading: id => {
      const sensor = props.design.sensors.find(s => s.id === id)
      return sensor ? readingText(sensor, restingRaw(sensor)) : ''
    },
  }),
)
function edit(event: Event): void {
  const area = event.target as HTMLTextAreaElement
  if (props.link.page && !set({ ...props.link.page, template: area.value }))
    area.value = props.link.page.template
}
</script>

<template>
  <section class="first">
    <h3 class="title">Page of the board</h3>
    <p v-if="!link.page" class="second small">
      Whoever opens the address in a browser may get a page with the state filled in as it is
      served. No program runs in it; panels do more.
    </p>
    <el-button
      v-if="!link.page"
      size="small"
      @click="set({ route: freeRoute, template: NEW_TEMPLATE })"
      >Serve a page at {{ freeRoute }}</el-button
    >
    <template v-else>
      <dl class="facts">
        <dt>At</dt>
        <dd>
          <InlineText
            mono
            :value="link.page.route"
            :maxlength="40"
            label="Route of the page"
            @change="route => link.page && set({ ...link.page, route })"
          />
        </dd>
      </dl>
      <textarea
        class="wire"
        :value="link.page.template"
        rows="9"
        maxlength="8000"
        spellcheck="false"
        aria-label="Template of the page"
        @change="edit"
      />
      <p v-for="t in troubles" :key="`${t.line} ${t.place}`" class="differs small">
        <code>{{ t.place }}</code> in line {{ t.line }}: {{ t.why }}.
      </p>
      <iframe :srcdoc="preview" sandbox="" title="The page as it is served after a start" />
      <details>
        <summary>Places that are filled in</summary>
        <dl class="places">
          <template v-for="[place, words] in PLACE_HELP" :key="place">
            <dt class="wire">{{ place }}</dt>
            <dd>{{ words }}</dd>
          </template>
        </dl>
      </details>
      <el-button size="small" @click="set(null)">No page</el-button>
    </template>
  </section>
</template>

<style scoped>
.first {
  border-top: 1px solid var(--rule);
  margin-top: 14px;
  padding-top: 14px;
}
textarea {
  width: 100%;
  font-size: 12px;
  line-height: 1.4;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: var(--raised);
  color: inherit;
  padding: 6px 8px;
  margin-top: 6px;
  resize: vertical;
  font-weight: 400;
  white-space: pre;
}
iframe {
  width: 100%;
  height: 190px;
  border: 1px solid var(--rule-strong);
  border-radius: 3px;
  background: #fff;
  margin-top: 4px;
}
summary {
  cursor: pointer;
  color: var(--second);
  min-height: 24px;
}
.places {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 3px 10px;
  margin: 4px 0 8px;
  font-size: 13px;
}
.places dd {
  margin: 0;
}
</style>
