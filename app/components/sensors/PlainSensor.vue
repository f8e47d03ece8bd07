<script setup lang="ts">
/** A sensor of which nothing is typed but its name and figures. */
defineOptions({ inheritAttrs: false })
</script>

<template>
  <dl class="facts"><slot /></dl>
</template>
