<script setup lang="ts">
/** One word for one thing: what each means. */
const open = defineModel<boolean>({ required: true })
const words = useGlossary()
const sought = ref('')
const shown = computed(() => {
  const part = sought.value.trim().toLowerCase()
  return [...words.value].filter(([word, means]) => `${word} ${means}`.toLowerCase().includes(part))
})
</script>

<template>
  <el-dialog v-model="open" title="Words" width="620px" append-to-body>
    <el-input v-model="sought" placeholder="Look for a word" aria-label="Look for a word" />
    <dl>
      <template v-for="[word, means] in shown" :key="word"
        ><dt>{{ word }}</dt>
        <dd>{{ means }}</dd></template
      >
    </dl>
    <p v-if="!shown.length" class="second">No word has that in it.</p>
  </el-dialog>
</template>

<style scoped>
dl {
  margin: 14px 0 0;
  display: grid;
  grid-template-columns: 150px 1fr;
  gap: 6px 18px;
  height: 50vh;
  overflow: auto;
  align-content: start;
}
dt {
  font-weight: 650;
}
dd {
  margin: 0;
}
</style>
