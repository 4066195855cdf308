<script setup lang="ts">
import Column from 'primevue/column';
import DataTable from 'primevue/datatable';
import { computed } from 'vue';
import type { MapRevision } from '@zographos/contracts';
import BarsChart from '../controls/BarsChart.vue';
import { measure } from '../controls/format.ts';

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
const figures = computed(() =>
  props.revision.histograms.slice(0, 3).map(({ min, mean, max }, channel) => ({
    channel: props.revision.channels === 1 ? 'value' : NAMES[channel],
    ...{ min: measure(min), mean: measure(mean), max: measure(max) },
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
    <DataTable :value="figures" size="small" aria-label="Range of each channel">
      <Column field="channel" header="Channel" />
      <Column field="min" header="Min." class="number" />
      <Column field="mean" header="Mean" class="number" />
      <Column field="max" header="Max." class="number" />
    </DataTable>
  </section>
</template>
