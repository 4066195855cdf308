<script setup lang="ts">
import { computed } from 'vue';
import type { LayoutFinding, LayoutRemedy } from '@zographos/operations';
import BarsChart from '../../../controls/BarsChart.vue';
import { measure, percent, whole } from '../../../controls/format.ts';
import type { CheckedLayout } from '../layout/layoutWorker.ts';
import PlaceButtons from '../../../runs/PlaceButtons.vue';

/** What is good and bad about a layout; every finding leads to its place, and offers what mends it. */
const props = defineProps<{ checked: CheckedLayout | null; unit: string }>();
defineEmits<{
  show: [LayoutFinding['places'][number], LayoutFinding];
  mend: [LayoutRemedy, LayoutFinding];
}>();

const BARS = 24;

const figures = computed(() => {
  if (!props.checked) return [];
  const { islands, coverage, density, stretch, seams } = props.checked.check;
  const bounded = (value: number): string =>
    Number.isFinite(value) ? value.toFixed(3) : 'Infinite (collapsed triangles)';
  return [
    ['Islands', whole(islands)],
    ...[...coverage].map(([tile, share]) => [coverage.size > 1 ? `Coverage of ${tile}` : 'Coverage', percent(share)]),
    [
      `Texel density, px/${props.unit}`,
      `${measure(density.mean)} (${measure(density.min)} to ${measure(density.max)})`,
    ],
    ['Stretch, mean (L2)', bounded(stretch.l2)],
    ['Stretch, worst (L∞)', bounded(stretch.linf)],
    ['Seams', `${whole(seams.edges)} edges, ${measure(seams.length)} ${props.unit}`],
  ];
});

/** Triangles by their texel density, from a quarter of the mean to four times of it. */
const histogram = computed(() => {
  if (!props.checked) return null;
  const { mean, ofTriangle } = props.checked.check.density;
  const bars = new Array<number>(BARS).fill(0);
  for (const value of ofTriangle) {
    if (value <= 0) continue;
    const at = (Math.log2(value / mean) / 4 + 0.5) * BARS;
    bars[Math.max(0, Math.min(BARS - 1, Math.floor(at)))]! += 1;
  }
  const labels = bars.map((_, i) => measure(mean * 2 ** (((i + 0.5) / BARS - 0.5) * 4)));
  return { labels, series: [{ label: 'triangles', values: bars, color: '--ink-soft' }] };
});
</script>

<template>
  <section class="panel">
    <h2>Findings</h2>
    <p v-if="!checked" class="soft">Measuring …</p>
    <ul v-else-if="checked.findings.length" class="findings">
      <li v-for="finding in checked.findings" :key="finding.kind" :class="finding.severity">
        <p>{{ finding.sentence }}</p>
        <p class="ways">
          <PlaceButtons :places="finding.places" @show="$emit('show', $event, finding)" />
          <button
            v-for="remedy in finding.remedies"
            :key="remedy.how"
            v-tooltip="'Can be undone'"
            type="button"
            class="plain-button remedy"
            @click="$emit('mend', remedy.how, finding)"
          >
            {{ remedy.label }}
          </button>
        </p>
      </li>
    </ul>
    <p v-else class="mark mark-fresh"><span>No problems found</span></p>
  </section>
  <section v-if="checked" class="panel">
    <h2>Figures</h2>
    <dl>
      <template v-for="[name, value] in figures" :key="name">
        <dt>{{ name }}</dt>
        <dd>{{ value }}</dd>
      </template>
    </dl>
  </section>
  <section v-if="histogram" class="panel">
    <h2>Texel density</h2>
    <BarsChart description="Triangles by their texel density" v-bind="histogram" />
    <p class="soft">px/{{ unit }}, from 1/4 to 4 times the mean</p>
  </section>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 10px;
}

dt {
  color: var(--ink-soft);
}

dd {
  text-align: right;
}
</style>
