<script setup lang="ts">
import { BarController, BarElement, CategoryScale, Chart, LinearScale, LogarithmicScale, Tooltip } from 'chart.js';
import { onMounted, onUnmounted, ref, watch } from 'vue';
import { useLight } from '../stores/light.ts';

Chart.register(BarController, BarElement, CategoryScale, LinearScale, LogarithmicScale, Tooltip);

/** One set of bars over the same places. */
export interface Bars {
  label: string;
  values: readonly number[];
  /** A CSS custom property, or a colour. */
  color: string;
}

const props = defineProps<{
  /** What the chart shows, for those who cannot see it. */
  description: string;
  labels: readonly string[];
  series: readonly Bars[];
  logarithmic?: boolean;
}>();

const canvas = ref<HTMLCanvasElement | null>(null);
const light = useLight();
let chart: Chart | null = null;

/** A token as the colour it stands for: a canvas knows no custom properties. */
function resolve(color: string): string {
  return color.startsWith('--') ? getComputedStyle(document.documentElement).getPropertyValue(color).trim() : color;
}

function draw(): void {
  chart?.destroy();
  if (!canvas.value) return;
  const ink = resolve('--ink-soft');
  chart = new Chart(canvas.value, {
    type: 'bar',
    data: {
      labels: [...props.labels],
      datasets: props.series.map(({ label, values, color }) => ({
        label,
        data: [...values],
        backgroundColor: resolve(color),
        barPercentage: 1,
        categoryPercentage: 1,
        grouped: false,
      })),
    },
    options: {
      animation: false,
      responsive: true,
      maintainAspectRatio: false,
      scales: {
        x: {
          grid: { display: false },
          border: { color: ink },
          ticks: { color: ink, font: { size: 10 }, maxRotation: 0, autoSkip: true, maxTicksLimit: 5 },
        },
        y: { type: props.logarithmic ? 'logarithmic' : 'linear', display: false, beginAtZero: !props.logarithmic },
      },
      plugins: { tooltip: { displayColors: props.series.length > 1 } },
    },
  });
}

onMounted(draw);
watch(() => [props.labels, props.series], draw);
watch(() => light.light, draw, { flush: 'post' });
onUnmounted(() => chart?.destroy());
</script>

<template>
  <div class="chart"><canvas ref="canvas" role="img" :aria-label="description" /></div>
</template>

<style scoped>
.chart {
  position: relative;
  height: 92px;
}
</style>
