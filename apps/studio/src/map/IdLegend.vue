<script setup lang="ts">
import { linearToSrgb } from '@zographos/core/color';
import type { BakeReport } from '@zographos/operations';

/** What the colours of an ID map stand for. */
defineProps<{ legend: BakeReport['legend'] }>();

const shown = (color: number[]): string =>
  `rgb(${color.map((value) => Math.round(linearToSrgb(value) * 255)).join(' ')})`;
</script>

<template>
  <section class="panel">
    <h2>What the colours stand for</h2>
    <ul tabindex="0" aria-label="Legend">
      <li v-for="{ name, color } in legend" :key="name">
        <span class="swatch" :style="{ background: shown(color) }" />{{ name }}
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  overflow: auto;
  max-height: 240px;
}

li {
  display: flex;
  gap: 8px;
  align-items: center;
}

.swatch {
  flex: none;
  width: 14px;
  height: 14px;
  border: 1px solid var(--ink);
}
</style>
