<script setup lang="ts">
/** Assigning codes by school, and what holds for the whole link. */
import { assign, schoolsOf } from '../../../core/messages/assign'
import type { Design, Link } from '../../../core/design/schema'
import { useDesignStore } from '../../stores/design'
import type { School } from '../../../core/messages/dialects/facet'
import { mediumOf } from '../../../core/design/links/media'

const props = defineProps<{ design: Design; link: Link }>()
const designs = useDesignStore()
const WORDS: Record<School, string> = {
  letters: 'letters: capital on, small off, else a letter and a counter',
  digits: 'digits: consecutive, same width',
  routes: 'routes: /load/on, /load/off, /load/value',
  parameters: 'one route with parameters: /set?load=fan&value=on',
  template: 'as the dialect makes them',
  numbers: 'numbers of loads and values',
}

function give(school: School): void {
  designs.apply({
    type: 'assignCodes',
    linkId: props.link.id,
    codes: assign(props.design, props.link, school),
  })
}
</script>

<template>
  <el-checkbox
    v-if="mediumOf(link).connects"
    :model-value="link.onConnect"
    @change="
      v => designs.apply({ type: 'reportOnConnect', linkId: link.id, onConnect: v === true })
    "
    >Whole state on connect</el-checkbox
  >
  <el-dropdown
    class="push"
    :persistent="false"
    trigger="click"
    :disabled="!link.messages.length"
    @command="give"
  >
    <el-button :disabled="!link.messages.length">Assign all codes</el-button>
    <template #dropdown>
      <el-dropdown-menu
        ><el-dropdown-item v-for="s in schoolsOf(link)" :key="s" :command="s">{{
          WORDS[s]
        }}</el-dropdown-item></el-dropdown-menu
      >
    </template>
  </el-dropdown>
</template>
