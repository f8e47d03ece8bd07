<script setup lang="ts">
const route = useRoute()
await navigateTo(`/d/${String(route.params.id)}/sheet`, { replace: true })
</script>

<template>
  <div />
</template>
