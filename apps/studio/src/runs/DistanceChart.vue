<script setup lang="ts">
import { computed } from 'vue';
import type { BakeReport } from '@zographos/operations';
import { measure } from '../controls/format.ts';
import BarsChart from '../controls/BarsChart.vue';

const props = defineProps<{ report: BakeReport; unit: string }>();

const labels = computed(() => {
  const { reach, hitDistances } = props.report;
  const step = (reach.out + reach.in) / hitDistances.length;
  return hitDistances.map((_, i) => measure(-reach.in + (i + 0.5) * step));
});
const series = computed(() => [{ label: 'rays', values: props.report.hitDistances, color: '--azurite' }]);
/** Hits in the outermost bins mean that the reach may cut something off. */
const close = computed(() => {
  const { hitDistances, rays, reach } = props.report;
  const sides = [
    { side: 'outer', hits: hitDistances.at(-1)!, at: reach.out },
    { side: 'inner', hits: hitDistances[0]!, at: reach.in },
  ]
    .filter(({ hits }) => hits > rays * 0.0005)
    .map(({ side, at }) => ({ side, limit: `the ${side} limit (${measure(at)} ${props.unit})` }));
  return sides.length > 0
    ? `Hits at ${sides.map(({ limit }) => limit).join(' and ')}: detail may be cut off. Increase the ${sides.map(({ side }) => side).join(' and ')} reach.`
    : null;
});
</script>

<template>
  <section class="panel">
    <h2>Hit distance from the receiver, {{ unit }}</h2>
    <BarsChart
      :description="`Distribution of hits from ${measure(report.reach.in)} ${unit} below the receiver to ${measure(report.reach.out)} ${unit} above it`"
      :labels="labels"
      :series="series"
    />
    <p class="soft ends">
      <span>−{{ measure(report.reach.in) }} in</span><span>{{ measure(report.reach.out) }} out</span>
    </p>
    <p v-if="close">{{ close }}</p>
  </section>
</template>

<style scoped>
.ends {
  display: flex;
  justify-content: space-between;
  font-size: var(--text-small);
}
</style>
