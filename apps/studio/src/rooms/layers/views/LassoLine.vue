<script setup lang="ts">
import { computed } from 'vue';

/** The line of a lasso over a view, as it is being drawn; it closes by itself. */
const props = defineProps<{
  /** x and y of each corner, 0 to 1, from the upper left. */
  points: readonly number[];
}>();
const path = computed(() => {
  const places: string[] = [];
  for (let i = 0; i + 1 < props.points.length; i += 2) places.push(`${props.points[i]} ${props.points[i + 1]}`);
  return `M ${places.join(' L ')} Z`;
});
</script>

<template>
  <svg class="lasso" viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
    <path :d="path" />
  </svg>
</template>

<style scoped>
.lasso {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
}

path {
  fill: color-mix(in srgb, var(--azurite) 18%, transparent);
  stroke: var(--azurite);
  stroke-width: 1.5px;
  vector-effect: non-scaling-stroke;
}
</style>
