<script setup lang="ts">
/** Where the thumb of the holding hand goes: easily, by stretching, or not at all. */
import type { Device } from '../../../core/panels/devices'
import { EASY_MM, FOLD_MM, STRETCH_MM, thumbRoot, type Hand } from '../../../core/panels/reach'

const props = defineProps<{ device: Device; hand: Hand; pxPerMm: number }>()
const root = computed(() => thumbRoot(props.device, props.hand))
</script>

<template>
  <svg
    v-if="device.oneHand"
    class="reach"
    :viewBox="`0 0 ${device.widthMm} ${device.heightMm}`"
    aria-hidden="true"
  >
    <defs>
      <pattern
        id="reach-far"
        width="3"
        height="3"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <rect width=".5" height="3" />
      </pattern>
    </defs>
    <path
      :d="`M0 0H${device.widthMm}V${device.heightMm}H0Z M${root.xMm - STRETCH_MM} ${root.yMm}a${STRETCH_MM} ${STRETCH_MM} 0 1 0 ${2 * STRETCH_MM} 0a${STRETCH_MM} ${STRETCH_MM} 0 1 0 ${-2 * STRETCH_MM} 0Z`"
      fill="url(#reach-far)"
      fill-rule="evenodd"
      opacity=".5"
    />
    <circle
      v-for="r in [FOLD_MM, EASY_MM, STRETCH_MM]"
      :key="r"
      :cx="root.xMm"
      :cy="root.yMm"
      :r="r"
      :class="{ easy: r === EASY_MM }"
    />
  </svg>
  <p v-else class="both small second">Held in both hands or standing: every place is reached.</p>
</template>

<style scoped>
.reach {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
  z-index: 3;
  color: var(--cursor);
  fill: currentColor;
}
circle {
  fill: none;
  stroke: currentColor;
  stroke-width: 0.4;
  stroke-dasharray: 2 1.4;
}
circle.easy {
  stroke-dasharray: none;
  stroke-width: 0.6;
}
.both {
  position: absolute;
  right: 8px;
  bottom: 4px;
  z-index: 3;
  background: var(--raised);
  padding: 0 6px;
}
</style>
