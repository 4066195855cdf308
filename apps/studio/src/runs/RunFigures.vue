<script setup lang="ts">
import { computed } from 'vue';
import { describeKind, type MapKind } from '@zographos/core/image';
import type { BakeReport } from '@zographos/operations';
import { bytes, measure, seconds, whole } from '../controls/format.ts';

const props = defineProps<{ report: BakeReport; unit: string }>();

const STAGES = [
  ['load', 'reading'],
  ['build', 'building the BVH'],
  ['trace', 'tracing'],
  ['pad', 'padding'],
  ['encode', 'saving'],
] as const;
const longest = computed(() => Math.max(...STAGES.map(([stage]) => props.report.seconds[stage])));
/** The map whose seams differ most. */
const worstSeam = computed(() => Object.entries(props.report.seams).sort(([, a], [, b]) => b.mean - a.mean)[0] ?? null);
const likeness = computed(
  () => props.report.likeness.reduce((sum, { ssim }) => sum + ssim, 0) / (props.report.likeness.length || 1),
);
const fine = (share: number): string => `${(share * 100).toFixed(1)}\u2009%`;
</script>

<template>
  <section class="panel">
    <h2>Result</h2>
    <slot name="findings" />
    <dl class="numbers">
      <dt>Rays</dt>
      <dd class="figure">{{ whole(report.rays) }}</dd>
      <dt>Missed rays</dt>
      <dd class="figure">{{ whole(report.misses) }}</dd>
      <dt>Texels</dt>
      <dd class="figure">{{ whole(report.texels.covered) }}</dd>
      <dt>Missed texels</dt>
      <dd class="figure">{{ whole(report.texels.missed) }}</dd>
      <template v-if="worstSeam">
        <dt>Seams, {{ describeKind(worstSeam[0] as MapKind).phrase }}</dt>
        <dd class="figure">{{ fine(worstSeam[1].mean) }}</dd>
      </template>
      <template v-if="report.noise !== null">
        <dt>Noise</dt>
        <dd class="figure">{{ fine(report.noise) }}</dd>
      </template>
      <template v-if="report.likeness.length">
        <dt v-tooltip="'structural similarity of source and receiver, seen from six sides'">Similarity (SSIM)</dt>
        <dd class="figure">{{ likeness.toFixed(3) }}</dd>
      </template>
      <template v-if="report.aim !== 'shared'">
        <dt>Reach used</dt>
        <dd class="figure">{{ measure(report.reach.out) }} / {{ measure(report.reach.in) }} {{ unit }}</dd>
      </template>
      <dt>Memory</dt>
      <dd class="figure">{{ bytes(report.peakMemoryBytes) }}</dd>
    </dl>
  </section>
  <section class="panel">
    <h2>Time, {{ seconds(report.seconds.total) }} in all</h2>
    <ul class="stages">
      <li v-for="[stage, word] in STAGES" :key="stage">
        <span>{{ word }}</span>
        <span class="bar"><span :style="{ width: `${(report.seconds[stage] / longest) * 100}%` }" /></span>
        <span class="figure">{{ seconds(report.seconds[stage]) }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.stages li {
  display: grid;
  grid-template-columns: 104px 1fr 48px;
  gap: 8px;
  align-items: center;
}

.stages .figure {
  text-align: right;
}

.bar span {
  display: block;
  min-width: 1px;
  height: 7px;
  background: var(--azurite);
}
</style>
