<script setup lang="ts">
import { computed } from 'vue';
import type { RunReport } from '@zographos/operations';
import { bytes, measure, seconds, whole } from './format.ts';

const props = defineProps<{ report: RunReport; unit: string }>();
defineEmits<{ missed: [] }>();

const STAGES = [
  ['load', 'reading'],
  ['build', 'sorting'],
  ['trace', 'tracing'],
  ['pad', 'padding'],
  ['encode', 'storing'],
] as const;
const longest = computed(() => Math.max(...STAGES.map(([stage]) => props.report.seconds[stage])));
</script>

<template>
  <section class="panel">
    <h2>What came out</h2>
    <ul class="findings">
      <li v-for="finding in report.findings" :key="finding.sentence" :class="finding.severity">
        {{ finding.sentence }}
        <button
          v-if="finding.sentence.includes('met nothing')"
          type="button"
          class="plain-button"
          @click="$emit('missed')"
        >
          Show
        </button>
      </li>
      <li v-if="!report.findings.length" class="mark mark-fresh"><span>Every texel found the source.</span></li>
    </ul>
    <dl>
      <dt>rays</dt>
      <dd class="figure">{{ whole(report.rays) }}</dd>
      <dt>missed rays</dt>
      <dd class="figure">{{ whole(report.misses) }}</dd>
      <dt>texels</dt>
      <dd class="figure">{{ whole(report.texels.covered) }}</dd>
      <dt>missed texels</dt>
      <dd class="figure">{{ whole(report.texels.missed) }}</dd>
      <dt>reach used</dt>
      <dd class="figure">{{ measure(report.reach.out) }} / {{ measure(report.reach.in) }} {{ unit }}</dd>
      <dt>memory</dt>
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
dl {
  display: grid;
  grid-template-columns: auto auto;
  gap: 2px 8px;
  margin-top: 8px;
}

dt {
  color: var(--ink-soft);
}

dd {
  text-align: right;
}

.findings .warning {
  padding-left: 8px;
  border-left: 3px solid var(--ochre);
}

.stages li {
  display: grid;
  grid-template-columns: 54px 1fr 48px;
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
