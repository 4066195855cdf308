<script setup lang="ts">
/** A circle about the pointer, as large as a dab is on screen. */
defineProps<{ x: number; y: number; radius: number }>();
</script>

<template>
  <svg class="ring" aria-hidden="true">
    <circle :cx="x" :cy="y" :r="radius" class="dark" />
    <circle :cx="x" :cy="y" :r="radius" class="light" />
  </svg>
</template>

<style scoped>
.ring {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  overflow: hidden;
  pointer-events: none;
}

/* Seen over whatever is beneath: light on dark. */
circle {
  fill: none;
}

.dark {
  stroke: rgb(0 0 0 / 60%);
  stroke-width: 3px;
}

.light {
  stroke: rgb(255 255 255 / 90%);
  stroke-width: 1px;
}
</style>
