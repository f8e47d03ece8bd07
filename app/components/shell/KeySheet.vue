<script setup lang="ts">
/** What a view is for, and its keys. */
import { KEYS_EVERYWHERE, VIEWS } from '../../composables/views'

const props = defineProps<{ viewId: string }>()
const open = defineModel<boolean>({ required: true })
const view = computed(() => VIEWS.find(v => v.id === props.viewId))
const groups = computed(() => [
  ...(view.value?.keys.length ? [{ name: view.value.name, keys: view.value.keys }] : []),
  { name: 'Everywhere', keys: KEYS_EVERYWHERE },
  { name: 'Views', keys: VIEWS.map(v => [v.key.toUpperCase(), v.name] as const) },
])
</script>

<template>
  <el-dialog v-model="open" :title="view?.name ?? 'Keys'" width="520px" append-to-body>
    <p v-if="view" class="second"><ExplainedText :text="view.purpose" /></p>
    <section v-for="g in groups" :key="g.name">
      <h3>{{ g.name }}</h3>
      <dl :class="{ views: g.name === 'Views' }">
        <template v-for="[key, does] in g.keys" :key="key"
          ><dt>
            <kbd>{{ key }}</kbd>
          </dt>
          <dd>{{ does }}</dd></template
        >
      </dl>
    </section>
  </el-dialog>
</template>

<style scoped>
h3 {
  font-weight: 700;
  margin: 14px 0 6px;
}
dl {
  margin: 0;
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 5px 14px;
}
dl.views {
  grid-template-columns: repeat(3, max-content 1fr);
}
dd {
  margin: 0;
}
</style>
