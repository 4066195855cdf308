<script setup lang="ts">
import { computed } from 'vue';

/** How often each value occurs, from 0 to 1, with the levels that become black and white. */
const props = defineProps<{ bins: readonly number[]; black: number; white: number }>();

const WIDTH = 256;
const HEIGHT = 48;
/** Square roots, so that rare values are seen beside a frequent one. */
const bars = computed(() => {
  const most = Math.sqrt(Math.max(1, ...props.bins));
  const step = WIDTH / props.bins.length;
  return props.bins
    .map((count, i) => {
      const tall = (Math.sqrt(count) / most) * HEIGHT;
      return `M${i * step} ${HEIGHT}V${HEIGHT - tall}H${(i + 1) * step}V${HEIGHT}Z`;
    })
    .join('');
});
</script>

<template>
  <svg
    :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
    preserveAspectRatio="none"
    role="img"
    aria-label="Histogram of what is beneath"
  >
    <path :d="bars" class="bars" />
    <line :x1="black * WIDTH" :x2="black * WIDTH" y1="0" :y2="HEIGHT" />
    <line :x1="white * WIDTH" :x2="white * WIDTH" y1="0" :y2="HEIGHT" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  height: 48px;
  background: var(--paper-raised);
}

.bars {
  fill: var(--ink-soft);
}

line {
  stroke: var(--azurite);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}
</style>
