<script setup lang="ts">
import type { LightReport } from '@zographos/operations';
import { bytes, measure, seconds, whole } from '../../controls/format.ts';

/** What a bake of light has measured. */
defineProps<{ report: LightReport }>();
const fine = (share: number): string => `${(share * 100).toFixed(1)}\u2009%`;
</script>

<template>
  <section class="panel">
    <h2>Result, {{ seconds(report.seconds.total) }}</h2>
    <slot name="findings" />
    <dl class="numbers">
      <dt>Samples</dt>
      <dd class="figure">{{ whole(report.samples) }}</dd>
      <dt v-tooltip="'Standard error of a texel, as a share of the mean light'">Noise</dt>
      <dd class="figure">{{ fine(report.noise) }}</dd>
      <template v-if="report.denoised !== null">
        <dt v-tooltip="'What denoising has changed, as a share of the mean light'">Taken out</dt>
        <dd class="figure">{{ fine(report.denoised) }}</dd>
      </template>
      <dt>Mean light</dt>
      <dd class="figure">{{ report.mean.map(measure).join('  ') }}</dd>
      <dt>Texels</dt>
      <dd class="figure">{{ whole(report.texels) }}</dd>
      <dt>Rays</dt>
      <dd class="figure">{{ whole(report.rays) }}</dd>
      <dt>Memory</dt>
      <dd class="figure">{{ bytes(report.peakMemoryBytes) }}</dd>
    </dl>
  </section>
</template>
