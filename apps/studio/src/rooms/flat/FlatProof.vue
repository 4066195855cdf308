<script setup lang="ts">
import { computed } from 'vue';
import { meanOf } from '@zographos/core/image';
import type { Repetition } from '@zographos/core/measure';
import type { Axis } from '@zographos/core/seamless';
import { percent } from '../../controls/format.ts';

/** How good a tile is: what its borders show, and how much it shows that it repeats. */
const props = defineProps<{ borders: Record<Axis, Float32Array>; repetition: Repetition | null }>();
const seams = computed(() => ({ across: meanOf(props.borders.across), up: meanOf(props.borders.up) }));

const figure = (value: number): string => (value > 99 ? 'over 99' : value.toFixed(2));
</script>

<template>
  <section class="panel proof">
    <h2>Proof</h2>
    <dl>
      <dt>Left–right border</dt>
      <dd :class="{ warn: seams.across > 1.6 }">{{ figure(seams.across) }}</dd>
      <dt>Top–bottom border</dt>
      <dd :class="{ warn: seams.up > 1.6 }">{{ figure(seams.up) }}</dd>
      <template v-if="repetition">
        <dt v-tooltip="'Highest autocorrelation of the shifted tile; below 35 % is inconspicuous'">Self-similarity</dt>
        <dd :class="{ warn: repetition.likeness > 0.35 }">{{ percent(repetition.likeness) }}</dd>
        <dt>Noticeable features</dt>
        <dd>{{ repetition.telltales.length }}</dd>
      </template>
    </dl>
    <p class="soft">Contrast across the border relative to the inside; 1.00 means invisible.</p>
  </section>
</template>

<style scoped>
.proof dl {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 12px;
}

.proof dd {
  margin: 0;
  font-weight: 650;
}

.proof dd.warn::before {
  content: '▲ ';
  color: var(--ochre);
}
</style>
