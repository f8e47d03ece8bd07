<script setup lang="ts">
/** What belongs to a link: what is its kind's own, its times, how it reports. */
import { hasRoomBehind, speaksBytes } from '../../../core/design/links/traits'
import { LINK_WORDS } from '../../../core/design/links/rows'
import type { Design, Link } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'
import { mediumOf } from '../../../core/design/links/media'
import { LINK_FIELDS } from '../links/link-rows'

const props = defineProps<{ design: Design; link: Link }>()
const designs = useDesignStore()
const part = computed(() => designs.partOf(props.link.controllerId) ?? props.design)
const setLink = (patch: Record<string, unknown>) =>
  designs.apply({ type: 'setLink', linkId: props.link.id, patch })
const TIMES = [
  ['minMs', 'Fastest'],
  ['typicalMs', 'Typical'],
  ['p99Ms', '99 of 100 within'],
  ['dropDetectMs', 'Loss noticed after'],
  ['reconnectMs', 'Connects in'],
] as const
/** Short codes and structures have no room for a number. */
const canNumber = computed(() => hasRoomBehind(props.link))
const title = computed(() => LINK_WORDS[props.link.kind].replace(/^./, c => c.toUpperCase()))
</script>

<template>
  <section>
    <h3 class="title">{{ title }}</h3>
    <el-checkbox
      v-if="mediumOf(link).connects"
      :model-value="link.onConnect"
      @change="
        v => designs.apply({ type: 'reportOnConnect', linkId: link.id, onConnect: v === true })
      "
      >Whole state is sent on connect</el-checkbox
    >
    <p v-else class="second small">
      Nobody connects here, so nothing can be sent on connect: a side that starts has to ask.
    </p>
    <dl class="facts">
      <component
        :is="LINK_FIELDS[link.kind]"
        :design="design"
        :part="part"
        :link="link"
        @change="setLink"
      />
      <template v-for="[key, words] in TIMES" :key="key">
        <dt>{{ words }}</dt>
        <dd>
          <NumberField
            :value="link.timing[key]"
            :max="120000"
            unit="ms"
            :label="words"
            @change="v => setLink({ timing: { [key]: v } })"
          />
        </dd>
      </template>
      <dt>Lost while up</dt>
      <dd>
        <NumberField
          :value="link.timing.lossPerMille"
          :max="500"
          unit="‰"
          label="Lost while up, per thousand"
          @change="lossPerMille => setLink({ timing: { lossPerMille } })"
        />
      </dd>
    </dl>
  </section>
  <section>
    <h3 class="title">How it reports</h3>
    <dl class="facts">
      <dt>A value at most every</dt>
      <dd>
        <NumberField
          :value="link.leastMs"
          :max="60000"
          unit="ms"
          label="A value at most every, 0 = no limit"
          @change="leastMs => setLink({ leastMs })"
        />
      </dd>
      <dt>Whole state every</dt>
      <dd>
        <NumberField
          :value="link.everyMs"
          :max="3600000"
          unit="ms"
          label="Whole state every, 0 = never"
          @change="everyMs => setLink({ everyMs })"
        />
      </dd>
      <dt title="Reports that wait while one is on its way; 0: none waits">Reports that wait</dt>
      <dd>
        <NumberField
          :value="link.queue"
          :max="64"
          unit=""
          label="Reports that wait"
          @change="queue => setLink({ queue })"
        />
      </dd>
      <template v-if="canNumber"
        ><dt title="A repeat that carries the number of a command seen lately acts no more">
          Commands carry numbers
        </dt>
        <dd>
          <el-checkbox
            :model-value="link.numbered !== null"
            aria-label="Commands carry numbers"
            @change="v => setLink({ numbered: v === true ? { windowMs: 10_000 } : null })"
          /></dd
      ></template>
      <template v-if="link.numbered"
        ><dt>known again for</dt>
        <dd>
          <NumberField
            :value="link.numbered.windowMs"
            :min="100"
            :max="600000"
            unit="ms"
            label="A number is known again for"
            @change="windowMs => setLink({ numbered: { windowMs } })"
          /></dd
      ></template>
      <template v-if="speaksBytes(link)"
        ><dt title="What a box sends first after it started: its next values then move nothing">
          "I have just started"
        </dt>
        <dd>
          <InlineText
            mono
            :value="link.restartMark || 'no such mark'"
            :maxlength="20"
            label="mark of a start"
            @change="t => setLink({ restartMark: t === 'no such mark' ? '' : t })"
          /></dd
      ></template>
    </dl>
  </section>
</template>

<style scoped>
dl :deep(dd) {
  overflow-wrap: anywhere;
}
h3 {
  margin-bottom: 6px;
}
p {
  margin: 0 0 6px;
}
</style>
