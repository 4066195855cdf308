<script setup lang="ts">
import { computed } from 'vue';
import type { MapRevision } from '@zographos/contracts';
import { measure } from '../controls/format.ts';
import BarsChart from '../controls/BarsChart.vue';

const props = defineProps<{ revision: MapRevision }>();

const COLORS = ['oklch(0.55 0.17 28 / 0.6)', 'oklch(0.58 0.13 150 / 0.6)', 'oklch(0.5 0.15 262 / 0.6)'];
const NAMES = ['red', 'green', 'blue'];
/** Four of the 256 stored bins to a bar: as fine as the panel is wide. */
const GROUP = 4;

const labels = computed(() => {
  const [low, high] = props.revision.range;
  return Array.from({ length: 256 / GROUP }, (_, i) => measure(low + (i + 0.5) * (GROUP / 256) * (high - low)));
});
const series = computed(() =>
  props.revision.histograms.slice(0, 3).map(({ bins }, channel) => ({
    label: NAMES[channel]!,
    color: props.revision.channels === 1 ? '--ink' : COLORS[channel]!,
    values: labels.value.map((_, i) => bins.slice(i * GROUP, (i + 1) * GROUP).reduce((sum, n) => sum + n, 0)),
  })),
);
</script>

<template>
  <section class="panel">
    <h2>Histogram</h2>
    <BarsChart
      description="Distribution of the stored values of each channel"
      :labels="labels"
      :series="series"
      logarithmic
    />
    <table>
      <thead>
        <tr>
          <th scope="col"><span class="unseen">channel</span></th>
          <th scope="col">Min.</th>
          <th scope="col">Mean</th>
          <th scope="col">Max.</th>
        </tr>
      </thead>
      <tbody class="figure">
        <tr v-for="(histogram, channel) in revision.histograms.slice(0, 3)" :key="channel">
          <th scope="row">{{ revision.channels === 1 ? 'value' : NAMES[channel] }}</th>
          <td>{{ measure(histogram.min) }}</td>
          <td>{{ measure(histogram.mean) }}</td>
          <td>{{ measure(histogram.max) }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
table {
  width: 100%;
  margin-top: 4px;
  border-collapse: collapse;
}

th {
  color: var(--ink-soft);
  font-weight: 400;
  text-align: right;
}

th[scope='row'] {
  font-family: var(--face);
  text-align: left;
}

td {
  text-align: right;
}
</style>
